"""What must hold between the rows of a plant. Each check raises PlantError with the row and the column."""

from __future__ import annotations

from collections import Counter

from passerelle.core.errors import PlantError
from passerelle.core.parts.registry import spec_of
from passerelle.core.plant.lookup import PlantRows
from passerelle.core.plant.records import SHELVES, Frame, cable_path


def check_whole(plant: PlantRows) -> None:
    """Check all rows of a plant against each other.

    Raises:
        PlantError: an id stands twice, a name is that of no row, or a row contradicts another one.
    """
    for shelf in SHELVES:
        ids = [row.id for row in getattr(plant, shelf)]
        doubled = next((one for one, count in Counter(ids).items() if count > 1), None)
        if doubled:
            raise PlantError(f"{shelf}[{doubled}].id", f"two rows of {shelf} have the id '{doubled}'")
    for check in (
        _check_places,
        _check_ways,
        _check_cables,
        _check_taps,
        _check_devices,
        _check_shared,
        _check_boxes,
    ):
        check(plant)


def _check_places(plant: PlantRows) -> None:
    for place in plant.places:
        for one, other in (("east_m", "north_m"), ("latitude", "longitude")):
            if (getattr(place, one) is None) != (getattr(place, other) is None):
                raise PlantError(
                    f"places[{place.id}].{one}",
                    f"{place.name}: give both {_words(one)} and {_words(other)}, or neither",
                )
    known = {place.id: place.within for place in plant.places}
    for place in plant.places:
        seen, at = {place.id}, place.within
        while at:
            if at not in known:
                raise PlantError(f"places[{place.id}].within", f"there is no place '{at}' around {place.name}")
            if at in seen:
                raise PlantError(f"places[{place.id}].within", f"{place.name} would stand inside itself")
            seen.add(at)
            at = known[at]


def _check_ways(plant: PlantRows) -> None:
    known = {place.id for place in plant.places}
    for way in plant.ways:
        for field in ("start", "end"):
            if getattr(way, field) not in known:
                raise PlantError(
                    f"ways[{way.id}].{field}",
                    f"{way.name}: there is no place '{getattr(way, field)}': add it first, or choose another",
                )
        beyond = next((at for at in way.pull_points_m if at > way.length_m), None)
        if beyond is not None:
            raise PlantError(
                f"ways[{way.id}].pull_points_m",
                f"{way.name} is {way.length_m:g} m long: there is no pull point at {beyond:g} m",
            )
        if way.start == way.end:
            raise PlantError(f"ways[{way.id}].end", f"{way.name} leads back to where it starts")


def _way_names(plant: PlantRows) -> str:
    names = [way.name for way in plant.ways[:12]]
    more = f" and {len(plant.ways) - 12} more" if len(plant.ways) > 12 else ""
    return f"there are {', '.join(names)}{more}" if names else "add one first"


def _check_cables(plant: PlantRows) -> None:
    ways = {way.id: way for way in plant.ways}
    for cable in plant.cables:
        for number, way_id in enumerate(cable.ways):
            if way_id not in ways:
                raise PlantError(
                    f"cables[{cable.id}].ways", f"{cable.name}: there is no way '{way_id}': {_way_names(plant)}"
                )
            if cable.ways.index(way_id) != number:
                raise PlantError(f"cables[{cable.id}].ways", f"{cable.name} passes '{ways[way_id].name}' twice")
        if cable_path(cable, ways) is None:
            named = ", ".join(ways[way].name for way in cable.ways)
            raise PlantError(
                f"cables[{cable.id}].ways",
                f"{cable.name}: the ways {named} do not follow each other: each must start where "
                "the one before it ends",
            )
        wrong = [n for n in cable.dead if not 1 <= n <= cable.strands]
        if wrong:
            raise PlantError(
                f"cables[{cable.id}].dead", f"{cable.name} has strands 1 to {cable.strands}: there is no {wrong[0]}"
            )


def _check_taps(plant: PlantRows) -> None:
    left: dict[tuple[str, int], str] = {}
    for tap in plant.taps:
        field, cable = f"taps[{tap.id}]", plant.cable_of.get(tap.cable)
        if cable is None:
            raise PlantError(f"{field}.cable", f"{tap.name}: there is no cable '{tap.cable}'")
        if tap.place not in plant.path_of[tap.cable]:
            raise PlantError(f"{field}.place", f"{tap.name}: {cable.name} does not pass '{tap.place}'")
        for number in tap.strands:
            if not 1 <= number <= cable.strands:
                raise PlantError(
                    f"{field}.strands", f"{tap.name}: {cable.name} has strands 1 to {cable.strands}, not {number}"
                )
            if left.setdefault((cable.id, number), tap.name) != tap.name:
                raise PlantError(
                    f"{field}.strands",
                    f"strand {number} of {cable.name} leaves at {left[cable.id, number]} and at {tap.name}",
                )


def _check_devices(plant: PlantRows) -> None:
    for device in plant.devices:
        for field in ("place", "fed_from"):
            at = getattr(device, field)
            if at not in plant.place_of and (at or field == "place"):
                raise PlantError(f"devices[{device.id}].{field}", f"{device.name}: there is no place '{at}'")
        if device.peak_w < device.typical_w:
            raise PlantError(
                f"devices[{device.id}].peak_w",
                f"{device.name} draws {device.typical_w:g} W usually: its peak cannot be {device.peak_w:g} W",
            )


def _check_shared(plant: PlantRows) -> None:
    """Shared parts and frames stand at places, share no id with each other or a cable, and fill each hole once."""
    seen = dict.fromkeys(plant.cable_of, "cables")
    for shelf in ("parts", "frames"):
        for row in getattr(plant, shelf):
            if seen.setdefault(row.id, shelf) != shelf:
                raise PlantError(
                    f"{shelf}[{row.id}].id", f"'{row.id}' is the id of one of the {seen[row.id]} already"
                )
            if row.place and row.place not in plant.place_of:
                raise PlantError(f"{shelf}[{row.id}].place", f"{row.name}: there is no place '{row.place}'")
    for frame in plant.frames:
        _check_holes(plant, frame)
    for part in plant.parts:
        if part.holds.part:
            raise PlantError(f"parts[{part.id}].holds", f"{part.name} cannot stand on another shared part")
        if spec_of(part.holds).any_position:
            raise PlantError(
                f"parts[{part.id}].holds",
                f"{part.name}: a {spec_of(part.holds).word} is shared as a cable of the plan: lay it on one",
            )


def _check_boxes(plant: PlantRows) -> None:
    """Boxes are told apart by their names; a port is one end of one link, and an end is one port."""
    names, ends = set[str](), set[str]()
    for box in plant.boxes:
        field, ports = f"boxes[{box.id}]", set[str]()
        if box.name in names:
            raise PlantError(f"{field}.name", f"two boxes are called '{box.name}': give one another name")
        if box.place and box.place not in plant.place_of:
            raise PlantError(f"{field}.place", f"{box.name}: there is no place '{box.place}'")
        for port in box.ports:
            where = f"port {port.name} of {box.name}"
            if port.name in ports:
                raise PlantError(f"{field}.ports", f"{where} stands twice: one of them is another port")
            if port.of in ends:
                raise PlantError(f"{field}.ports", f"{where}: this end of a link is another port already")
            ports.add(port.name)
            ends |= {port.of} - {""}
        names.add(box.name)


def _check_holes(plant: PlantRows, frame: Frame) -> None:
    field, filled = f"frames[{frame.id}].held", set[int]()
    for hole in frame.held:
        where = f"{frame.name}, hole {hole.number}"
        if hole.number > frame.holes:
            raise PlantError(field, f"{where}: it has {frame.holes} holes: empty those beyond first")
        if hole.number in filled:
            raise PlantError(field, f"{where} holds two things: keep one of them")
        if hole.adapter and hole.part:
            raise PlantError(field, f"{where}: an adapter or the front of a shared part, not both")
        if hole.part and hole.part not in plant.shared_of:
            raise PlantError(field, f"{where}: there is no shared part '{hole.part}'")
        if hole.adapter and not spec_of(hole.adapter).in_frames:
            raise PlantError(field, f"{where}: a {spec_of(hole.adapter).word} is no adapter")
        filled.add(hole.number)


def _words(field: str) -> str:
    return field.replace("_m", "").replace("_", " ")
