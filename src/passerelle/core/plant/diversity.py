"""Two paths that nothing takes together: the shortest pair of them, and the cheapest cure where there is none."""

from __future__ import annotations

from dataclasses import replace

import networkx as nx

from passerelle.core.plant.outages import Outage, Part, Rider
from passerelle.core.plant.passes import side_by_side
from passerelle.core.plant.routing import Ground, Route, find_place, route
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen


class DiversePair(Frozen):
    """Two ways between two places that share no way and no place between; their lengths in m, the shorter first.

    ``doubts`` says what the plan alone cannot decide, and which ways are only planned.
    """

    places: tuple[tuple[str, ...], tuple[str, ...]]
    ways: tuple[tuple[str, ...], tuple[str, ...]]
    lengths_m: tuple[float, float]
    doubts: tuple[str, ...] = ()


class Cure(Frozen):
    """The cheapest way to keep an end alight when one element fails; ``route`` is None where none was found."""

    place: str
    name: str
    route: Route | None
    why: str


def diverse_pair(plant: Plant, start: str, end: str) -> DiversePair | None:
    """The two ways between two places, sharing no way and no place between, with the least length together.

    A flow of two units of least cost in the graph whose places are split in two (Suurballe 1974); None where there
    are no two such ways. Dead ways do not count.

    Raises:
        PlantError: a place does not exist.
    """
    start, end = find_place(plant, start), find_place(plant, end)
    graph = nx.DiGraph()
    graph.add_node((start, "out"), demand=-2)
    graph.add_node((end, "in"), demand=2)
    for place in plant.places:
        if place.id not in (start, end):
            graph.add_edge((place.id, "in"), (place.id, "out"), capacity=1, weight=0)
    for way in plant.ways:
        if way.state != "dead":
            weight = round((way.length_m + abs(way.rise_m)) * 1000)
            for a, b in ((way.start, way.end), (way.end, way.start)):
                graph.add_edge((a, "out"), (way.id, "way", a), capacity=1, weight=weight)
                graph.add_edge((way.id, "way", a), (b, "in"), capacity=1, weight=0)
    try:
        flow = nx.min_cost_flow(graph)
    except nx.NetworkXUnfeasible:
        return None
    first, second = (_walk(flow, start, end) for _ in range(2))
    lengths = [sum(_length(plant, way) for way in walk[1]) for walk in (first, second)]
    if lengths[1] < lengths[0]:
        first, second, lengths = second, first, lengths[::-1]
    return DiversePair(
        places=(tuple(first[0]), tuple(second[0])),
        ways=(tuple(first[1]), tuple(second[1])),
        lengths_m=(lengths[0], lengths[1]),
        doubts=_doubts(plant, first[1], second[1]),
    )


def _doubts(plant: Plant, first: list[str], second: list[str]) -> tuple[str, ...]:
    ways = [[plant.way_of[name] for name in path] for path in (first, second)]
    planned = [way.name for path in ways for way in path if way.state == "planned"]
    told = (f"Only planned: {', '.join(planned)}.",) if planned else ()
    return (*told, *side_by_side(*ways))


def _walk(
    flow: dict[tuple[str, ...], dict[tuple[str, ...], int]], start: str, end: str
) -> tuple[list[str], list[str]]:
    """One unit of the flow from start to end, taken out of it."""
    places, ways = [start], []
    node: tuple[str, ...] = (start, "out")
    while node != (end, "in"):
        onward = next(to for to, units in flow[node].items() if units > 0)
        flow[node][onward] -= 1
        if len(onward) == 3:
            ways.append(onward[0])
        elif onward[1] == "in":
            places.append(onward[0])
        node = onward
    return places, ways


def _length(plant: Plant, way_id: str) -> float:
    way = plant.way_of[way_id]
    return way.length_m + abs(way.rise_m)


def cures(ground: Ground, outage: Outage, riders: list[Rider]) -> tuple[Cure, ...]:
    """For each end that one element leaves dark: the cheapest route to what it spoke to that spares the element."""
    part: Part = (outage.kind, outage.id)
    ground = replace(ground, banned=frozenset({part}), new_ways=True)  # its steps are gathered once for all ends
    cut = set(outage.links)
    lost = {rider.id: rider for rider in riders if rider.id in cut}
    found: list[Cure] = []
    for place in outage.dark:
        partners = [r.far if r.near == place else r.near for r in lost.values() if place in (r.near, r.far)]
        best = _cheapest(ground, place, partners)
        why = f"{best.why} It spares {outage.name}." if best else _hopeless(place, outage)
        found.append(Cure(place=place, name=outage.name, route=best, why=why))
    return tuple(found)


def _cheapest(ground: Ground, place: str, partners: list[str]) -> Route | None:
    known = {text.lower() for p in ground.plant.places for text in (p.id, p.name)}
    if place.lower() not in known:
        return None
    found = [
        one
        for partner in dict.fromkeys(partners)
        if partner.lower() in known and find_place(ground.plant, partner) != find_place(ground.plant, place)
        if (one := route(ground, place, partner, "cheapest")) is not None
    ]
    return min(found, key=lambda one: one.cost, default=None)


def _hopeless(place: str, outage: Outage) -> str:
    return (
        f"No way leads to {place} without {outage.name}, and no new one can be drawn: give both places a position, "
        "or add a way between them."
    )
