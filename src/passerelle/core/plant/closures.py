"""What is done with each strand at one place: joined to another, let out, passed through, or left dark."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

from passerelle.core.link.chain import Link
from passerelle.core.link.elements import Run
from passerelle.core.plant.riders import Strand, taken_strands
from passerelle.core.plant.site import Cable, Plant, PlantError
from passerelle.core.sources import Frozen


class ClosureRow(Frozen):
    """One strand of one cable at a place, by tube and color (TIA-598): what it carries, what is done with it."""

    cable: str
    cable_name: str
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


def closure_sheet(plant: Plant, links: Iterable[Link], place: str, colors: tuple[str, ...]) -> ClosureSheet:
    """The sheet for the lid of a closure, panel or tray at a place.

    Joints follow from the links that pass from one cable to another there; taps from the plant.

    Args:
        plant: places, ways, cables, taps.
        links: all links of the project.
        place: id of the place.
        colors: the color order of strands and tubes, shape (12,).

    Raises:
        PlantError: there is no such place.
    """
    if place not in plant.place_of:
        raise PlantError("place", f"there is no place '{place}'")
    links = list(links)
    joined = _joined(plant, links, place)
    taken = taken_strands(links)
    here = [cable for cable in plant.cables if place in plant.path_of[cable.id] and cable.state != "dead"]
    rows = []
    for cable in here:
        for number in range(1, cable.strands + 1):
            tube, position = divmod(number - 1, len(colors))
            rows.append(
                ClosureRow(
                    cable=cable.id,
                    cable_name=cable.name,
                    number=number,
                    tube=tube + 1,
                    tube_color=colors[tube % len(colors)],
                    position=position + 1,
                    color=colors[position],
                    carries=", ".join(taken.get((cable.id, number), ())),
                    does=_does(plant, cable, number, place, joined, colors),
                )
            )
    name = plant.place_of[place].name
    return ClosureSheet(place=place, name=name, cables=tuple(c.id for c in here), rows=tuple(rows))


def _joined(plant: Plant, links: list[Link], place: str) -> dict[Strand, Strand]:
    """Which strand of one cable goes on as which of another at this place, both ways."""
    found: dict[Strand, Strand] = {}
    for link in links:
        runs = [e for e in link.elements if isinstance(e, Run) and e.cable in plant.cable_of]
        for one, other in pairwise(runs):
            if place in plant.path_of[one.cable] and place in plant.path_of[other.cable]:
                for a, b in zip(one.strand_numbers, other.strand_numbers, strict=False):
                    found[one.cable, a], found[other.cable, b] = (other.cable, b), (one.cable, a)
    return found


def _does(
    plant: Plant, cable: Cable, number: int, place: str, joined: dict[Strand, Strand], colors: tuple[str, ...]
) -> str:
    if number in cable.dead:
        return f"dead: {cable.dead_why}" if cable.dead_why else "dead"
    to = joined.get((cable.id, number))
    if to:
        tube, position = divmod(to[1] - 1, len(colors))
        name = plant.cable_of[to[0]].name
        return f"joined to strand {to[1]} of {name} (tube {colors[tube % len(colors)]}, {colors[position]})"
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
