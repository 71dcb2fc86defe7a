"""Links on the plant: which cable and strands a run takes, and what follows from it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping

from passerelle.core.catalog.shelves import StrandColors
from passerelle.core.errors import PlantError
from passerelle.core.link.chain import Link
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.registry import Element
from passerelle.core.plant.colors import spot_of
from passerelle.core.plant.passes import spaces_of
from passerelle.core.plant.site import Cable, Plant, Tap, stretch
from passerelle.core.sources import Frozen

Strand = tuple[str, int]


class CableUse(Frozen):
    """Strands of one cable: taken by links, dead, kept for growth, free. ``taken`` maps a strand to its link."""

    cable: str
    strands: int
    taken: dict[int, str]
    dead: tuple[int, ...]
    reserved: int
    free: int


def cables_of(link: Link) -> tuple[str, ...]:
    """Ids of the cables that a link rides on, in its order."""
    return tuple(dict.fromkeys(e.cable for e in link.elements if isinstance(e, Run) and e.cable))


def laid(link: Link, plant: Plant, before: Plant | None = None) -> Link:
    """The link with its runs, and the temperatures at its ends, as the plant has them.

    A temperature that was set by hand stays: only one that is not known, or was the place's ``before``, follows.

    Raises:
        PlantError: a run names a cable that the plant does not have.
    """
    elements: list[Element] = []
    for element in link.elements:
        if isinstance(element, Run) and element.cable:
            cable = plant.cable_of.get(element.cable)
            if cable is None:
                raise PlantError(
                    f"cables[{element.cable}]",
                    f"'{link.name}' rides on the cable '{element.cable}': take its run off the cable first",
                )
            element = element.model_copy(
                update={
                    "length_m": stretch(cable, element.strand_numbers, plant).length_m,
                    "fiber": cable.fiber,
                    "construction": cable.construction,
                    "jacket": cable.jacket,
                    "spaces": spaces_of(plant.way_of[name] for name in cable.ways if name in plant.way_of),
                }
            )
        elements.append(element)
    if cables_of(link):
        elements = [_warmed(e, plant, before) if isinstance(e, Port) else e for e in elements]
    return link.model_copy(update={"elements": tuple(elements)})


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
    """The link after a change by hand: a run whose length, glass or strand count was set leaves its cable.

    What the plant says and what a hand wrote cannot both hold; the hand wins, and the strands become free.
    """
    old = {e.id: e for e in before.elements if isinstance(e, Run)}
    elements: list[Element] = []
    for element in after.elements:
        known = old.get(element.id)
        if isinstance(element, Run) and known and known.cable and _hand_set(known, element):
            element = element.model_copy(update={"cable": "", "strand_numbers": ()})
        elements.append(element)
    return after.model_copy(update={"elements": tuple(elements)})


def _hand_set(before: Run, after: Run) -> bool:
    """Whether what follows the plant was changed while the cable and the strands stayed."""
    rides = ((run.cable, run.strand_numbers) for run in (before, after))
    followed = (
        (run.length_m, run.fiber, run.construction, run.jacket, run.strands, run.spaces) for run in (before, after)
    )
    return len(set(rides)) == 1 and len(set(followed)) == 2


def off_plant(link: Link) -> Link:
    """The link with its runs taken off their cables; what they took from the plant stays as it was."""
    elements = tuple(
        e.model_copy(update={"cable": "", "strand_numbers": ()}) if isinstance(e, Run) and e.cable else e
        for e in link.elements
    )
    return link.model_copy(update={"elements": elements})


def taken_strands(links: Iterable[Link]) -> dict[Strand, list[str]]:
    """The names of the links on each strand."""
    taken: dict[Strand, list[str]] = defaultdict(list)
    for link in links:
        for element in link.elements:
            if isinstance(element, Run) and element.cable:
                for number in element.strand_numbers:
                    taken[element.cable, number].append(link.name)
    return taken


def check_strands(links: Iterable[Link], plant: Plant) -> None:
    """Check that no strand carries two links, that each exists and is alive, and that a run has all that it needs.

    Raises:
        PlantError: one is taken twice, dead, or beyond the cable's count; a run has more or fewer than its strands.
    """
    links = list(links)
    for link in links:
        for element in link.elements:
            if isinstance(element, Run) and element.cable and len(element.strand_numbers) != element.strands:
                raise PlantError(
                    f"cables[{element.cable}].strands",
                    f"a run of '{link.name}' needs {element.strands} of the strands of '{element.cable}' and names "
                    f"{len(element.strand_numbers)}: lay it again",
                )
    for (cable_id, number), names in taken_strands(links).items():
        cable = plant.cable_of.get(cable_id)
        if cable is None:
            continue
        where = f"strand {number} of {cable.name}"
        if len(names) > 1:
            raise PlantError(f"cables[{cable_id}].strands", f"{where} would carry both {names[0]} and {names[1]}")
        if not 1 <= number <= cable.strands:
            raise PlantError(f"cables[{cable_id}].strands", f"{where}: the cable has 1 to {cable.strands}")
        if number in cable.dead:
            raise PlantError(f"cables[{cable_id}].strands", f"{where} is dead: choose another for {names[0]}")


def free_strands(
    plant: Plant, links: Iterable[Link], cable_id: str, count: int, tap: Tap | None = None
) -> tuple[int, ...]:
    """The lowest strands that are free for another link, those kept for growth left alone.

    With a ``tap`` they are those that leave there, without one those that go through to the far end.

    Raises:
        PlantError: there is no such cable, or it has not that many.
    """
    cable = plant.cable_of.get(cable_id)
    if cable is None:
        raise PlantError("cable", f"there is no cable '{cable_id}'")
    taken = {number for (of, number) in taken_strands(links) if of == cable_id}
    leaving = {number for one in plant.taps_of.get(cable_id, ()) for number in one.strands}
    wanted = tap.strands if tap else [n for n in range(1, cable.strands + 1) if n not in leaving]
    free = [n for n in wanted if n not in taken and n not in cable.dead]
    room = len(free) - (0 if tap else cable.reserved)
    if room < count and tap:
        raise PlantError(
            f"taps[{tap.id}].strands", f"{room} of the strands that leave {cable.name} at {tap.name} are free"
        )
    if room < count:
        raise PlantError(
            f"cables[{cable_id}].strands",
            f"{cable.name} has {max(room, 0)} strands free of {cable.strands} ({len(taken)} taken, "
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


def cable_uses(plant: Plant, links: Iterable[Link]) -> dict[str, CableUse]:
    """How the strands of each cable are used."""
    by_cable: Mapping[str, dict[int, str]] = {cable.id: {} for cable in plant.cables}
    for (cable_id, number), names in taken_strands(links).items():
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
