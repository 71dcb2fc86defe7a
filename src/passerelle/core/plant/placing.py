"""A link between two places of the plan lies on it: on a cable that is there, or on one that is planned for it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice

import networkx as nx

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.link.chain import Link, ports
from passerelle.core.parts.piece import NEW_STATES, Glass
from passerelle.core.plant.lying import lies, own_strands, strands_needed
from passerelle.core.plant.outages import Rider
from passerelle.core.plant.records import Cable
from passerelle.core.plant.riders import CableUse, cable_uses, free_strands, laid
from passerelle.core.plant.site import Plant, free_id
from passerelle.core.sources import Frozen

MOST_WAYS = 6
LONGEST_WALK = 12
SHORTER_THAN_THE_WAY = 0.9


class WayChoice(Frozen):
    """Where a link could lie: a cable with free strands, or ways in which one would be planned; its length in m."""

    key: str
    words: str
    length_m: float
    cable: str = ""
    ways: tuple[str, ...] = ()


@dataclass(frozen=True)
class Placement:
    """A link and the plan after it was laid; ``open`` has the choices where a person must say which."""

    link: Link
    plant: Plant
    open: tuple[WayChoice, ...] = ()

    @property
    def on_plan(self) -> bool:
        """Whether the link rides on a cable now."""
        return any(lies(e) and e.part for e in self.link.elements)


def can_be_laid(link: Link, plant: Plant) -> bool:
    """Whether a link has one run, which lies nowhere yet, between two different places of the plan."""
    run = _one_run(link)
    return run is not None and not run.part and _ends(link, plant) is not None


def choices(link: Link, plant: Plant, links: Sequence[Link | Rider]) -> tuple[WayChoice, ...]:
    """Where a link could lie, what is there before what would be pulled; empty where it cannot, or lies already.

    Only a link of one run between two different places of the plan can be laid whole.
    """
    run, ends = _one_run(link), _ends(link, plant)
    if run is None or ends is None or not can_be_laid(link, plant):
        return ()
    return (*_cables(link, run, ends, plant, links), *_walks(ends, plant))


def lay_on_plan(
    link: Link,
    plant: Plant,
    links: Sequence[Link | Rider],
    *,
    key: str = "",
    new_cable: bool = False,
    strands: int = 0,
) -> Placement:
    """Lay a link where only one way leads, or on the one that was chosen; else leave it and tell the choices.

    A cable with free strands of its glass comes before one to pull, unless ``new_cable``. What was typed stays: a
    length beyond the way's becomes the slack of the planned cable, one that is much shorter asks.

    Args:
        link: the link to lay; the others of the project are ``links``.
        plant: the plan.
        key: the choice that a person made.
        new_cable: its cable is bought and pulled; only one that is planned already may take it.
        strands: how many a cable that is planned for it should have at least, for others of its kind and spares.
    """
    found = choices(link, plant, links)
    if key:
        chosen = next((one for one in found if one.key == key), None)
    else:
        there = [one for one in found if one.cable and (not new_cable or _is_planned(one, plant))]
        walks = [one for one in found if one.ways]
        only = there if there else walks
        chosen = only[0] if len(only) == 1 else None
        run = _one_run(link)
        if chosen and run and run.length_m is not None and run.length_m < chosen.length_m * SHORTER_THAN_THE_WAY:
            chosen = None
    if chosen is None:
        return Placement(link, plant, found)
    if chosen.cable:
        return Placement(_ride(link, chosen.cable, plant, links), plant)
    after, cable = _with_cable(plant, link, chosen, strands)
    return Placement(_ride(link, cable, after, links), after)


def _is_planned(choice: WayChoice, plant: Plant) -> bool:
    return plant.cable_of[choice.cable].state in NEW_STATES


def _one_run(link: Link) -> Glass | None:
    runs = [e for e in link.elements if lies(e)]
    return runs[0] if len(runs) == 1 else None


def _ends(link: Link, plant: Plant) -> tuple[str, str] | None:
    """The ids of the two places at a link's ends, where the plan has both and they differ."""
    ends = [plant.place_called.get(port.place) for port in ports(link)]
    known = [place.id for place in ends if place is not None]
    return (known[0], known[-1]) if len(known) >= 2 and known[0] != known[-1] else None


def _cables(
    link: Link, run: Glass, ends: tuple[str, str], plant: Plant, links: Sequence[Link | Rider]
) -> list[WayChoice]:
    uses, own = cable_uses(plant, links), set(own_strands(link, run))
    found = []
    for cable in plant.cables:
        path = plant.path_of[cable.id]
        leads = {path[0], path[-1]} == set(ends) and not plant.taps_of.get(cable.id)
        same = not run.fiber or not cable.fiber or bool(set(run.fiber) & set(cable.fiber))
        if leads and same and cable.state != "dead" and _room(cable, uses[cable.id], run.width, own):
            free = uses[cable.id].free
            length_m = _walk_m(plant, cable.ways) + cable.slack_m
            words = f"{cable.name}, {free} strands free"
            found.append(WayChoice(key=f"cable {cable.id}", words=words, length_m=length_m, cable=cable.id))
    return found


def _room(cable: Cable, use: CableUse, width: int, own: set[int]) -> bool:
    """Whether strands are free: any of a cable, of a trunk of arrays those that the link lights."""
    if own:
        return cable.strands == width and not own & set(use.taken)
    return use.free >= width


def _walks(ends: tuple[str, str], plant: Plant) -> list[WayChoice]:
    """The walks over live ways between two places, the shortest first; each of parallel ways is a walk."""
    graph = nx.MultiGraph()
    for way in plant.ways:
        if way.state != "dead" and way.kind != "rented":
            graph.add_edge(way.start, way.end, key=way.id)
    if not all(end in graph for end in ends):
        return []
    walks = islice(nx.all_simple_edge_paths(graph, *ends, cutoff=LONGEST_WALK), MOST_WAYS)
    found = []
    for walk in walks:
        ways = tuple(way for _, _, way in walk)
        names = ", ".join(plant.way_of[way].name for way in ways)
        found.append(
            WayChoice(
                key=f"ways {'; '.join(ways)}",
                words=f"a cable to plan through {names}",
                length_m=_walk_m(plant, ways),
                ways=ways,
            )
        )
    return sorted(found, key=lambda one: one.length_m)


def _walk_m(plant: Plant, ways: Sequence[str]) -> float:
    return sum(plant.way_of[way].length_m + abs(plant.way_of[way].rise_m) for way in ways)


def _with_cable(plant: Plant, link: Link, chosen: WayChoice, strands: int) -> tuple[Plant, str]:
    """The plan with a planned cable for a link: the next count that is sold, and what was typed beyond the ways."""
    run = _one_run(link)
    assert run is not None
    own = free_id(link.name, {cable.id for cable in plant.cables})
    sizes = plant_figures().sold_strands
    slack_m = max(0.0, (run.length_m or 0.0) - chosen.length_m)
    sold = next((size for size in sizes if size >= max(strands, run.width)), strands)
    row = Cable(
        id=own,
        name=link.name,
        ways=chosen.ways,
        fiber=run.fiber,
        construction=run.__dict__["construction"],
        jacket=run.__dict__["jacket"],
        strands=run.width if own_strands(link, run) else sold,
        slack_m=round(slack_m, 6),
        state="planned",
    )
    return plant.changed(cables=(*plant.cables, row)), own


def _ride(link: Link, cable: str, plant: Plant, links: Sequence[Link | Rider]) -> Link:
    run = _one_run(link)
    assert run is not None
    numbers = own_strands(link, run) or free_strands(plant, links, cable, run.width)
    riding = run.model_copy(update={"part": cable, "positions": numbers})
    elements = tuple(riding if e is run else e for e in link.elements)
    return laid(link.model_copy(update={"elements": elements}), plant)


@dataclass(frozen=True)
class LaidLinks:
    """New links with the plan that they lie on; ``undecided`` are the positions of those left for a person."""

    links: tuple[Link, ...]
    plant: Plant
    undecided: tuple[int, ...]


def lay_all(
    new: Sequence[Link],
    plant: Plant,
    links: Sequence[Link | Rider],
    *,
    new_cable: bool = False,
    spare_percent: float = 0.0,
) -> LaidLinks:
    """Lay new links one after the other; those between the same places share a cable that is planned for them.

    Args:
        new: the new links, in their order.
        plant: the plan before them.
        links: the links that the project has already.
        new_cable: see ``lay_on_plan``.
        spare_percent: spare strands in % of those that the new links of one cable need.
    """
    needed: dict[tuple[str, str], int] = {}
    for link in new:
        run, ends = _one_run(link), _ends(link, plant)
        if run is not None and ends is not None:
            between = (min(ends), max(ends))
            needed[between] = needed.get(between, 0) + strands_needed(link, run)
    made: list[Link] = []
    undecided: list[int] = []
    for number, link in enumerate(new):
        ends = _ends(link, plant)
        strands = needed.get((min(ends), max(ends)), 0) if ends else 0
        wanted = math.ceil(strands * (1 + spare_percent / 100))
        placed = lay_on_plan(link, plant, [*links, *made], new_cable=new_cable, strands=wanted)
        made.append(placed.link)
        plant = placed.plant
        if placed.open:
            undecided.append(number)
    return LaidLinks(tuple(made), plant, tuple(undecided))
