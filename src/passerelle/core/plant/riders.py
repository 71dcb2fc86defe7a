"""Links on the plant: which shared parts and positions its pieces take, and what follows from it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence

from passerelle.core.catalog.shelves import StrandColors
from passerelle.core.errors import PlantError
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import turned_round
from passerelle.core.parts.array_cable import ArrayCable
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.piece import Glass, Paired
from passerelle.core.parts.registry import Element
from passerelle.core.plant.colors import spot_of
from passerelle.core.plant.lying import lies, own_strands, strands_needed
from passerelle.core.plant.outages import Rider
from passerelle.core.plant.passes import spaces_of
from passerelle.core.plant.records import Cable, Tap
from passerelle.core.plant.shared import as_shared, check_position, own_record
from passerelle.core.plant.site import Plant, stretch
from passerelle.core.sources import Frozen

Taken = tuple[str, int]
"""A shared part, and one of its positions: of a cable a strand, of a frame a hole."""


class CableUse(Frozen):
    """Strands of one cable: taken by links, dead, kept for growth, free. ``taken`` maps a strand to its link."""

    cable: str
    strands: int
    taken: dict[int, str]
    dead: tuple[int, ...]
    reserved: int
    free: int


def parts_in(link: Link) -> tuple[str, ...]:
    """Ids of the shared parts that stand in a link, cables among them, in its order."""
    return tuple(dict.fromkeys(e.part for e in link.elements if e.part))


def runs_of(link: Link) -> tuple[Glass, ...]:
    """The runs that are cables of the plan."""
    return tuple(e for e in link.elements if lies(e) and e.part)


def cables_of(link: Link) -> tuple[str, ...]:
    """Ids of the cables that a link rides on, in its order."""
    return tuple(dict.fromkeys(run.part for run in runs_of(link)))


def laid(link: Link, plant: Plant, before: Plant | None = None) -> Link:
    """The link with its shared pieces, and the temperatures at its ends, as the plant has them.

    A temperature that was set by hand stays: only one that is not known, or was the place's ``before``, follows.

    Raises:
        PlantError: a piece names a part that the plant does not have.
    """
    elements = [_as_part(e, plant, link) if e.part else e for e in link.elements]
    if cables_of(link):
        elements = [_warmed(e, plant, before) if isinstance(e, Port) else e for e in elements]
    return link.model_copy(update={"elements": tuple(elements)})


def _as_part(element: Element, plant: Plant, link: Link) -> Element:
    """A piece as the plant has the part that it is, or lies on."""
    if not lies(element):
        return as_shared(element, plant, link.name)
    cable = plant.cable_of.get(element.part)
    if cable is None:
        raise PlantError(
            f"cables[{element.part}]",
            f"'{link.name}' rides on the cable '{element.part}': take its run off the cable first",
        )
    taken = own_strands(link, element) or element.positions
    length_m = stretch(cable, taken, plant).length_m
    bought_m = cable.sold_length_m if _comes_with_plugs(cable, element) else None
    return element.model_copy(
        update={
            "positions": taken,
            "length_m": length_m if bought_m is None else bought_m,
            "way_m": None if bought_m is None else length_m,
            "fiber": cable.fiber,
            "construction": cable.construction,
            "jacket": cable.jacket,
            "state": "dead" if any(plant.way_of[way].state == "dead" for way in cable.ways) else cable.state,
            "ordered": cable.ordered,
            "spaces": spaces_of(plant.way_of[name] for name in cable.ways if name in plant.way_of),
        }
    )


def _comes_with_plugs(cable: Cable, element: Element) -> bool:
    """Whether a cable comes from a factory with its plugs, at the length at which it was bought."""
    plugs = isinstance(element, Paired) and bool(element.left or element.right)
    return (
        cable.factory_made or isinstance(element, ArrayCable) or (plugs and not getattr(element, "mounted", False))
    )


def _warmed(port: Port, plant: Plant, before: Plant | None) -> Port:
    """A port with the temperatures of the place that it stands at."""
    here = plant.place_called.get(port.place)
    was = before.place_called.get(port.place) if before else None
    if here is None:
        return port
    update = {
        name: getattr(here, name)
        for name in ("coldest_c", "hottest_c")
        if getattr(port, name) in (None, getattr(was, name, None)) and getattr(port, name) != getattr(here, name)
    }
    return port.model_copy(update=update) if update else port


def released(before: Link, after: Link) -> Link:
    """The link after a change by hand: a piece whose own fields were set leaves the part that it stood for.

    What the plant says and what a hand wrote cannot both hold; the hand wins, and the positions become free.
    """
    old = {e.id: e for e in before.elements if e.part}
    elements = tuple(_off(e) if e.id in old and _hand_set(old[e.id], e) else e for e in after.elements)
    return after.model_copy(update={"elements": elements})


_FOLLOWS = ("length_m", "fiber", "construction", "jacket", "strands", "spaces")
"""What of a run is its cable's; of any other piece on a part everything is."""
OFF: dict[str, object] = {"part": "", "enter": "", "leave": "", "positions": ()}


def _hand_set(before: Element, after: Element) -> bool:
    """Whether what follows the plant was changed while the part and the positions stayed."""
    if (before.part, before.positions) != (after.part, after.positions):
        return False
    if lies(after):
        return any(getattr(before, name, None) != getattr(after, name, None) for name in _FOLLOWS)
    before, after = _stateless(before), _stateless(after)
    return own_record(before) not in (own_record(after), own_record(turned_round((after,))[0]))


def _stateless(element: Element) -> Element:
    """What has become of a shared part is the plan's to say: a hand that sets it on a piece takes nothing off."""
    return element.model_copy(update={"state": "planned", "ordered": ()})


def _off(element: Element) -> Element:
    return element.model_copy(update=OFF)


def off_plant(link: Link) -> Link:
    """The link with its pieces taken off the plant; what they took from there stays as it was."""
    return link.model_copy(update={"elements": tuple(_off(e) if e.part else e for e in link.elements)})


def takes_of(link: Link) -> tuple[Taken, ...]:
    """The positions of shared parts that a link has, in its order."""
    return tuple((e.part, number) for e in link.elements if e.part for number in e.positions)


def taken(links: Iterable[Link | Rider]) -> dict[Taken, list[str]]:
    """The names of the links on each position of each shared part."""
    found: dict[Taken, list[str]] = defaultdict(list)
    for link in links:
        for spot in link.takes if isinstance(link, Rider) else takes_of(link):
            found[spot].append(link.name)
    return found


def check_taken(links: Iterable[Link], plant: Plant) -> None:
    """Check that nothing is taken twice, that each strand, hole and position exists, and that a run has all it
    needs.

    Raises:
        PlantError: one is taken twice, dead, or beyond the count; a run has more or fewer than its strands.
    """
    links = list(links)
    for link in links:
        if loose := next((e for e in link.elements if e.part and not e.positions), None):
            raise PlantError(
                f"parts[{loose.part}].count",
                f"'{link.name}' stands on '{loose.part}' and takes no position of it: choose which",
            )
        for run in runs_of(link):
            if len(run.positions) != (needed := strands_needed(link, run)):
                raise PlantError(
                    f"cables[{run.part}].strands",
                    f"a run of '{link.name}' needs {needed} of the strands of '{run.part}' and names "
                    f"{len(run.positions)}: lay it again",
                )
    for (part, number), names in taken(links).items():
        cable = plant.cable_of.get(part)
        if cable is None:
            check_position(plant, part, number, names)
            continue
        cable_id = part
        where = f"strand {number} of {cable.name}"
        if len(names) > 1:
            raise PlantError(f"cables[{cable_id}].strands", f"{where} would carry both {names[0]} and {names[1]}")
        if not 1 <= number <= cable.strands:
            raise PlantError(f"cables[{cable_id}].strands", f"{where}: the cable has 1 to {cable.strands}")
        if number in cable.dead:
            raise PlantError(f"cables[{cable_id}].strands", f"{where} is dead: choose another for {names[0]}")


def free_strands(
    plant: Plant, links: Iterable[Link | Rider], cable_id: str, count: int, tap: Tap | None = None
) -> tuple[int, ...]:
    """The lowest strands that are free for another link, those kept for growth left alone.

    With a ``tap`` they are those that leave there, without one those that go through to the far end.

    Raises:
        PlantError: there is no such cable, or it has not that many.
    """
    cable = plant.cable_of.get(cable_id)
    if cable is None:
        raise PlantError("cable", f"there is no cable '{cable_id}'")
    used = {number for (of, number) in taken(links) if of == cable_id}
    leaving = {number for one in plant.taps_of.get(cable_id, ()) for number in one.strands}
    wanted = tap.strands if tap else [n for n in range(1, cable.strands + 1) if n not in leaving]
    free = [n for n in wanted if n not in used and n not in cable.dead]
    room = len(free) - (0 if tap else cable.reserved)
    if room < count and tap:
        raise PlantError(
            f"taps[{tap.id}].strands", f"{room} of the strands that leave {cable.name} at {tap.name} are free"
        )
    if room < count:
        raise PlantError(
            f"cables[{cable_id}].strands",
            f"{cable.name} has {max(room, 0)} strands free of {cable.strands} ({len(used)} taken, "
            f"{len(cable.dead)} dead, {cable.reserved} kept for growth): {count} are wanted",
        )
    return tuple(free[:count])


class StrandRow(Frozen):
    """One strand of a cable: its number, tube and position in it, their colors, and what it carries.

    ``use`` is the name of a link, ``dead``, or empty for a free strand.
    """

    number: int
    tube: int
    tube_color: str
    position: int
    color: str
    use: str


def strand_map(cable: Cable, use: CableUse, colors: StrandColors) -> tuple[StrandRow, ...]:
    """All strands of a cable by tube and color, as a closure shows them (TIA-598-D).

    Args:
        cable: the cable; its strands are numbered from 1.
        use: how its strands are used.
        colors: the codes of colors that the catalog has.
    """
    rows = []
    for number in range(1, cable.strands + 1):
        dead = "dead" if number in cable.dead else ""
        spot = spot_of(cable, number, colors)
        rows.append(StrandRow(number=number, **spot._asdict(), use=use.taken.get(number, dead)))
    return tuple(rows)


def cable_uses(plant: Plant, links: Iterable[Link | Rider]) -> dict[str, CableUse]:
    """How the strands of each cable are used."""
    return uses_of(plant, taken(links))


def uses_of(plant: Plant, found: Mapping[Taken, Sequence[str]]) -> dict[str, CableUse]:
    """How the strands of each cable are used, by the links on each position."""
    by_cable: Mapping[str, dict[int, str]] = {cable.id: {} for cable in plant.cables}
    for (cable_id, number), names in found.items():
        if cable_id in by_cable:
            by_cable[cable_id][number] = names[0]
    return {
        cable.id: CableUse(
            cable=cable.id,
            strands=cable.strands,
            taken=by_cable[cable.id],
            dead=cable.dead,
            reserved=cable.reserved,
            free=max(0, cable.strands - len(set(by_cable[cable.id]) | set(cable.dead)) - cable.reserved),
        )
        for cable in plant.cables
    }
