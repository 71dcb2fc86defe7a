"""Ways for a link or a new cable: over free strands first, then free room, then new work; alone or diverse.

Shortest paths are NetworkX's. Every step is an existing cable with free strands, a way in which another cable can
be pulled, or new work; what each costs stands in the project's price list.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import chain, pairwise
from typing import Literal

import networkx as nx

from passerelle.core.catalog.prices import WorkPrices, came_with, work_prices
from passerelle.core.catalog.records import Space
from passerelle.core.errors import PlantError
from passerelle.core.plant.cautions import GROUND, cautions
from passerelle.core.plant.distances import NEAREST, distance_m, neighbors
from passerelle.core.plant.outages import Part, Rider, name_of, parts_of
from passerelle.core.plant.passes import side_by_side, spaces_of
from passerelle.core.plant.pulling import duct_fill
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.riders import CableUse
from passerelle.core.plant.site import Plant, free_id, stretch
from passerelle.core.sources import Frozen, Source, estimated

Aim = Literal["least work", "shortest", "cheapest"]
StepKind = Literal["strands", "pull", "new duct", "new way"]
NEW_WAY_SLACK = 1.25
NEW_WAY = estimated("a new way is taken a quarter longer than the straight line between its places")
USUAL_DIAMETER_MM = 8.0
ROOM = estimated("room is judged for a cable of 8 mm, where nothing else is known of it")
_SHARED = 1e12
_NEW_M, _PULLED_M = 1e6, 1e3


class RouteStep(Frozen):
    """One step of a route: what is used or made, between which places, its length in m, its price, and why so."""

    kind: StepKind
    cable: str
    ways: tuple[str, ...]
    name: str
    start: str
    end: str
    length_m: float
    cost: float
    why: str


class Route(Frozen):
    """A route between two places: its steps, length and new work in m, price, what it shares, passes, and why."""

    aim: Aim
    start: str
    end: str
    places: tuple[str, ...]
    steps: tuple[RouteStep, ...]
    length_m: float
    pulled_m: float
    new_m: float
    cost: float
    shared: tuple[str, ...]
    diverse: bool | None
    why: str
    cautions: tuple[str, ...]
    spaces: tuple[Space, ...]
    sources: tuple[Source, ...]


@dataclass(frozen=True)
class Ground:
    """What routes are searched in: the plant, the use of its strands, and what must not be used or shared.

    ``grades`` are those that free strands may be of; a cable with another candidate, or with none, is passed over.
    ``new_ways`` allows trenches where there is no way yet, between places with positions.
    """

    plant: Plant
    uses: dict[str, CableUse]
    strands: int = 2
    banned: frozenset[Part] = frozenset()
    shunned: frozenset[Part] = frozenset()
    new_ways: bool = False
    grades: frozenset[str] | None = None
    prices: WorkPrices = field(default_factory=lambda: work_prices(came_with()))

    @cached_property
    def steps(self) -> tuple[RouteStep, ...]:
        """All steps that can be taken, whatever the ends; new ways only between neighbors."""
        return tuple(_steps(self))


def find_place(plant: Plant, text: str) -> str:
    """The id of a place named by its id or its name, whatever the case.

    Raises:
        PlantError: there is none.
    """
    if text in plant.place_of:
        return text
    wanted = text.strip().lower()
    found = next((place.id for place in plant.places if place.name.lower() == wanted), None)
    if found is None:
        raise PlantError("place", f"there is no place '{text}' on the plant: add it, or choose another")
    return found


def route(ground: Ground, start: str, end: str, aim: Aim = "least work") -> Route | None:
    """The best route between two places for one aim; None when the ground has none.

    ``least work`` takes free strands before pulls and pulls before new work; ``shortest`` the fewest metres,
    ``cheapest`` the least price. What is ``shunned`` is used only where nothing else leads there, and is then told.

    Raises:
        PlantError: a place does not exist, or both are the same.
    """
    start, end = find_place(ground.plant, start), find_place(ground.plant, end)
    if start == end:
        raise PlantError("end", f"{ground.plant.place_of[start].name} needs no way to itself")
    graph = _graph(ground, (start, end), _weights(aim))
    try:
        places = nx.dijkstra_path(graph, start, end, weight="weight")
    except (nx.NetworkXNoPath, nx.NodeNotFound):
        return None
    steps = [graph.edges[a, b]["step"] for a, b in pairwise(places)]
    turned = [step if step.start == at else _turned(step) for step, at in zip(steps, places, strict=False)]
    return _route(ground, aim, turned)


def routes(ground: Ground, start: str, end: str) -> list[Route]:
    """The routes for all aims, those that are the same once; the least work first."""
    found: list[Route] = []
    aims: tuple[Aim, ...] = ("least work", "shortest", "cheapest")
    for aim in aims:
        one = route(ground, start, end, aim)
        if one is not None and all(one.steps != known.steps for known in found):
            found.append(one)
    return found


def diverse_ground(ground: Ground, riders: Iterable[Rider]) -> Ground:
    """The ground on which what these links ride on, between their ends, is shunned."""
    shunned = {part for rider in riders for part in parts_of(rider, ground.plant)}
    return replace(ground, shunned=frozenset(shunned))


def _weights(aim: Aim) -> Callable[[RouteStep], float]:
    def least_work(step: RouteStep) -> float:
        by_metre = {"strands": 1.0, "pull": _PULLED_M, "new duct": _NEW_M, "new way": _NEW_M}
        return max(step.length_m, 1.0) * by_metre[step.kind]

    return {
        "least work": least_work,
        "shortest": lambda step: step.length_m + least_work(step) * 1e-9,
        "cheapest": lambda step: step.cost + step.length_m * 1e-6,
    }[aim]


def _graph(ground: Ground, ends: tuple[str, str], weigh: Callable[[RouteStep], float]) -> nx.Graph:
    graph = nx.Graph()
    direct = _new_ways(ground.plant, [tuple(sorted(ends))], ground.prices) if ground.new_ways else ()
    for step in chain(ground.steps, direct):
        if any(part in ground.banned for part in _parts(step, ground.plant, ends)):
            continue
        shared = sum(part in ground.shunned for part in _parts(step, ground.plant, ends))
        weight = weigh(step) + _SHARED * shared
        known = graph.get_edge_data(step.start, step.end)
        if known is None or weight < known["weight"]:
            graph.add_edge(step.start, step.end, weight=weight, step=step)
    return graph


def _parts(step: RouteStep, plant: Plant, ends: tuple[str, str]) -> set[Part]:
    """What a step rides on, the places it touches included, but for the ends of the route."""
    parts: set[Part] = {("way", way) for way in step.ways}
    places = {step.start, step.end}
    if step.cable:
        parts.add(("cable", step.cable))
        places |= set(plant.path_of[step.cable])
    return parts | {("place", place) for place in places - set(ends)}


def _steps(ground: Ground) -> Iterable[RouteStep]:
    plant = ground.plant
    for cable in plant.cables:
        use = ground.uses.get(cable.id)
        through = use is not None and use.free >= ground.strands and cable.state != "dead"
        fits = ground.grades is None or (cable.fiber and ground.grades.issuperset(cable.fiber))
        if through and fits and not plant.taps_of.get(cable.id):
            used = stretch(cable, (), plant)
            yield RouteStep(
                kind="strands",
                cable=cable.id,
                ways=used.ways,
                name=cable.name,
                start=used.places[0],
                end=used.places[-1],
                length_m=used.length_m,
                cost=2 * ground.prices.splice_each * ground.strands,
                why=f"{use.free if use else 0} strands of {' or '.join(cable.fiber) or 'unknown glass'} are free",
            )
    for way in plant.ways:
        step = _along(way, plant, ground.prices)
        if step:
            yield step
    if ground.new_ways:
        pairs = {tuple(sorted(pair)) for pair in neighbors(plant, NEAREST)}
        yield from _new_ways(plant, pairs, ground.prices)


def _along(way: Way, plant: Plant, prices: WorkPrices) -> RouteStep | None:
    """A cable pulled through a way, or a new duct beside a full one; rented and dead ways take none."""
    if way.kind == "rented" or way.state == "dead":
        return None
    inside = [c.diameter_mm for c in plant.cables_in[way.id] if c.diameter_mm and c.state != "dead"]
    full = bool(way.bore_mm) and not duct_fill([*inside, USUAL_DIAMETER_MM], way.bore_mm or 1.0).kept
    length_m = way.length_m + abs(way.rise_m)
    kind: StepKind = "new duct" if full or way.state == "planned" else "pull"
    per_m = prices.pull_per_m + prices.cable_per_m
    new = {"duct": prices.duct_per_m, "trench": prices.trench_per_m, "aerial": prices.pole_per_m}
    if kind == "new duct":
        per_m += new.get(way.kind, prices.tray_per_m)
    why = "there is room for another cable"
    blind = [c.name for c in plant.cables_in[way.id] if not c.diameter_mm and c.state != "dead"]
    if way.bore_mm and blind:
        why = f"its room is not known: {', '.join(blind)} without a diameter"
    if full:
        why = "it is full: another duct beside it"
    elif way.state == "planned":
        why = "it is planned and must be built"
    elif not way.bore_mm:
        why = (
            "nothing limits how many cables it takes"
            if way.kind not in ("duct", "conduit")
            else "its bore is not known"
        )
    return RouteStep(
        kind=kind,
        cable="",
        ways=(way.id,),
        name=way.name,
        start=way.start,
        end=way.end,
        length_m=length_m,
        cost=per_m * length_m,
        why=why,
    )


def _new_ways(plant: Plant, pairs: Iterable[tuple[str, ...]], prices: WorkPrices) -> Iterable[RouteStep]:
    """New trenches between places with positions."""
    for one, other in sorted(pairs):
        straight = distance_m(plant.place_of[one], plant.place_of[other])
        if straight is None or straight == 0:
            continue
        length_m = round(straight * NEW_WAY_SLACK, 1)
        yield RouteStep(
            kind="new way",
            cable="",
            ways=(),
            name=f"new way from {plant.place_of[one].name} to {plant.place_of[other].name}",
            start=one,
            end=other,
            length_m=length_m,
            cost=length_m * (prices.trench_per_m + prices.pull_per_m + prices.cable_per_m),
            why=f"{straight:.0f} m in a straight line, and a quarter more",
        )


def _turned(step: RouteStep) -> RouteStep:
    return step.model_copy(update={"start": step.end, "end": step.start, "ways": step.ways[::-1]})


def _route(ground: Ground, aim: Aim, steps: list[RouteStep]) -> Route:
    plant, ends = ground.plant, (steps[0].start, steps[-1].end)
    shared = [part for step in steps for part in sorted(_parts(step, plant, ends)) if part in ground.shunned]
    metres = {
        kind: sum(s.length_m for s in steps if s.kind in kind) for kind in (("pull",), ("new duct", "new way"))
    }
    pulled_m, new_m = metres[("pull",)], metres[("new duct", "new way")]
    length_m = sum(step.length_m for step in steps)
    free_m = length_m - pulled_m - new_m
    words = [
        f"{metre:.0f} m {what}"
        for metre, what in ((free_m, "over free strands"), (pulled_m, "to pull"), (new_m, "of new work"))
        if metre
    ]
    names = tuple(dict.fromkeys(name_of(part, plant) for part in shared))
    why = f"{aim[0].upper()}{aim[1:]}: {', '.join(words)}."
    if ground.shunned:
        told = f"it shares {', '.join(names)}: nothing else leads there" if names else "nothing is shared"
        why = f"{why[:-1]}; {told}."
    return Route(
        aim=aim,
        start=ends[0],
        end=ends[1],
        places=(steps[0].start, *(step.end for step in steps)),
        steps=tuple(steps),
        length_m=length_m,
        pulled_m=pulled_m,
        new_m=new_m,
        cost=sum(step.cost for step in steps),
        shared=names,
        diverse=not names if ground.shunned else None,
        why=why,
        cautions=(*_beside(steps, ground), *_care(steps, plant)),
        spaces=spaces_of(plant.way_of[way] for step in steps for way in step.ways if way in plant.way_of),
        sources=(NEW_WAY, ROOM) if ground.new_ways else (ROOM,),
    )


def _beside(steps: list[RouteStep], ground: Ground) -> tuple[str, ...]:
    """Doubts where a way of the route runs beside one that it must stay apart from."""
    ways = ground.plant.way_of
    shunned = [ways[name] for kind, name in sorted(ground.shunned) if kind == "way" and name in ways]
    return side_by_side(shunned, [ways[name] for step in steps for name in step.ways if name in ways])


def _care(steps: list[RouteStep], plant: Plant) -> tuple[str, ...]:
    """What to mind at the work of a route; nothing where it only takes strands that are there."""
    work = [step for step in steps if step.kind != "strands"]
    if not work:
        return ()
    ways = [plant.way_of[way] for step in work for way in step.ways]
    touched = [plant.place_of[place] for step in work for place in (step.start, step.end)]
    digs = any(step.kind in ("new duct", "new way") for step in work)
    return tuple(dict.fromkeys((*((GROUND,) if digs else ()), *cautions(ways, touched))))


def built(plant: Plant, chosen: Route, name: str, strands: int, grade: str) -> Plant:
    """The plant with what a route asks for, all planned: new ways, and a cable for each stretch to pull.

    Steps over free strands need nothing. Names that are taken get a number.
    """
    ways, cables = list(plant.ways), list(plant.cables)
    stretch_ways: list[str] = []

    def lay() -> None:
        if stretch_ways:
            taken = {cable.id for cable in cables}
            own = free_id(name, taken)
            fiber = (grade,) if grade else ()
            row = Cable(id=own, name=own, ways=tuple(stretch_ways), fiber=fiber, strands=strands, state="planned")
            cables.append(row)
            stretch_ways.clear()

    for step in chosen.steps:
        if step.kind == "strands":
            lay()
        elif step.ways:  # a new duct lies in the ground of the full one: one cut takes both, so it is the same way
            stretch_ways.extend(step.ways)
        else:
            own = free_id(step.name, {way.id for way in ways})
            values = {"kind": "trench", "length_m": step.length_m, "start": step.start, "end": step.end}
            ways.append(Way.model_validate({**values, "id": own, "name": own, "state": "planned"}))
            stretch_ways.append(own)
    lay()
    return plant.changed(ways=tuple(ways), cables=tuple(cables))
