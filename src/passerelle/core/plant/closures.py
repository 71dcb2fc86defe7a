"""What is done with each strand at one place: joined to another, let out, passed through, or left dark."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

from passerelle.core.catalog.shelves import StrandColors
from passerelle.core.errors import PlantError
from passerelle.core.link.chain import Link
from passerelle.core.plant.colors import spot_of
from passerelle.core.plant.lying import lies
from passerelle.core.plant.records import Cable
from passerelle.core.plant.riders import Taken, taken
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen


class ClosureRow(Frozen):
    """One strand of one cable at a place, by the tube, number and color of its own code (TIA-598): what it carries,
    and what is done with it.
    """

    cable: str
    cable_name: str
    grouped_in: str
    number: int
    tube: int
    tube_color: str
    position: int
    color: str
    carries: str
    does: str


class ClosureSheet(Frozen):
    """All strands of all cables at one place."""

    place: str
    name: str
    cables: tuple[str, ...]
    rows: tuple[ClosureRow, ...]


def closure_sheet(plant: Plant, links: Iterable[Link], place: str, colors: StrandColors) -> ClosureSheet:
    """The sheet for the lid of a closure, panel or tray at a place.

    Joints follow from the links that pass from one cable to another there; taps from the plant.

    Args:
        plant: places, ways, cables, taps.
        links: all links of the project.
        place: id of the place.
        colors: the codes of colors that the catalog has.

    Raises:
        PlantError: there is no such place.
    """
    if place not in plant.place_of:
        raise PlantError("place", f"there is no place '{place}'")
    links = list(links)
    joined = _joined(plant, links, place)
    carried = taken(links)
    here = [cable for cable in plant.cables if place in plant.path_of[cable.id] and cable.state != "dead"]
    rows = []
    for cable in here:
        for number in range(1, cable.strands + 1):
            spot = spot_of(cable, number, colors)
            rows.append(
                ClosureRow(
                    cable=cable.id,
                    cable_name=cable.name,
                    grouped_in=cable.grouped_in,
                    number=number,
                    **spot._asdict(),
                    carries=", ".join(carried.get((cable.id, number), ())),
                    does=_does(plant, cable, number, place, joined, colors),
                )
            )
    name = plant.place_of[place].name
    return ClosureSheet(place=place, name=name, cables=tuple(c.id for c in here), rows=tuple(rows))


def _joined(plant: Plant, links: list[Link], place: str) -> dict[Taken, Taken]:
    """Which strand of one cable goes on as which of another at this place, both ways."""
    found: dict[Taken, Taken] = {}
    for link in links:
        runs = [e for e in link.elements if lies(e) and e.part in plant.cable_of]
        for one, other in pairwise(runs):
            if place in plant.path_of[one.part] and place in plant.path_of[other.part]:
                for a, b in zip(one.positions, other.positions, strict=False):
                    found[one.part, a], found[other.part, b] = (other.part, b), (one.part, a)
    return found


def _does(
    plant: Plant, cable: Cable, number: int, place: str, joined: dict[Taken, Taken], colors: StrandColors
) -> str:
    if number in cable.dead:
        return f"dead: {cable.dead_why}" if cable.dead_why else "dead"
    to = joined.get((cable.id, number))
    if to:
        other = plant.cable_of[to[0]]
        by_number = "" if other.color_code == cable.color_code else "; another color code, splice by number"
        spot = spot_of(other, to[1], colors)
        return f"joined to strand {to[1]} of {other.name} ({other.grouped_in[:-1]} {spot.words}{by_number})"
    path = plant.path_of[cable.id]
    tap = next((t for t in plant.taps_of.get(cable.id, ()) if number in t.strands), None)
    if tap and tap.place == place:
        return f"leaves here, at {tap.name}"
    if tap and path.index(place) > path.index(tap.place):
        return f"not lit from here: it left at {tap.name}"
    if place in (path[0], path[-1]):
        end = cable.near_end if place == path[0] else cable.far_end
        return "ends here" if end == "unknown" else f"ends here, on {end}"
    return "passes through uncut"
