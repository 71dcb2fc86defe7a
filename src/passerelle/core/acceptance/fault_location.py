"""Where light ends, on the route: from meters of fiber to meters of sheath, between two spaces of the plan.

A trace measures fiber. The strand is 0 to 3 % longer than its sheath, the group index is off by a thousandth, slack
lies at either end: so a place is a range, and it is the range that is dug or opened.
"""

from __future__ import annotations

from collections.abc import Sequence

from passerelle.core.acceptance.stretch import Stretch
from passerelle.core.budget.loss import Direction
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.link.chain import Link, ports
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.records import Cable
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen, Source


class RouteSpan(Frozen):
    """A part of a pathway in which the fault may lie, between two spaces: from and to in m from the first."""

    pathway: str
    start: str
    end: str
    from_m: float
    to_m: float
    length_m: float


class DigRange(Frozen):
    """Where the light ends on a cable: in m of fiber and of sheath from its ``near`` space, and along the route.

    ``spans`` is empty where the cable is not in the plan, or where it is not known at which end the trace began.
    """

    cable: str
    near: str
    fiber_m: tuple[float, float]
    sheath_m: tuple[float, float]
    slack_m: float
    spans: tuple[RouteSpan, ...]
    source: Source


def sheath_range_m(fiber_m: tuple[float, float]) -> tuple[float, float]:
    """The sheath that a range of fiber lies on, in m: a strand is as long as its sheath, or 3 % longer (estimate).

    >>> sheath_range_m((1030.0, 1040.0))
    (1000.0, 1040.0)
    """
    most = testing_figures().trace.overlength_most
    return round(fiber_m[0] / (1 + most), 1), round(fiber_m[1], 1)


def dig_range(
    link: Link, stretch: Stretch, ends_m: tuple[float, float], direction: Direction, plant: Plant
) -> DigRange | None:
    """Where on its cable the light of a trace ends; None where it is not in a run.

    Args:
        link: the link that was traced.
        stretch: what was traced.
        ends_m: between what places in m of fiber from the end at which the trace began.
        direction: where its light went.
        plant: the site plan, where the cable and its pathways are.
    """
    lines = [part for part in stretch.chain.glass if stretch.inside(part.position)]
    if direction == "left":
        lines = lines[::-1]
    before = 0.0
    for part in lines:
        length = part.traits.length_m or 0.0
        last = part is lines[-1]
        if isinstance(part.piece, Run) and (ends_m[0] < before + length or last) and ends_m[1] > before:
            fiber = max(0.0, ends_m[0] - before), max(0.0, ends_m[1] - before)
            return _on_cable(link, part.piece, fiber, direction, plant)
        before += length
    return None


def _on_cable(link: Link, run: Run, fiber_m: tuple[float, float], direction: Direction, plant: Plant) -> DigRange:
    cable = next((one for one in plant.cables if one.id == run.part), None)
    ends = [port.place for port in ports(link)]
    near = (ends[0] if direction == "right" else ends[-1]) if ends else ""
    sheath = sheath_range_m(fiber_m)
    slack = cable.slack_m if cable else 0.0
    return DigRange(
        cable=cable.name if cable else run.label or run.id or "",
        near=near,
        fiber_m=(round(fiber_m[0], 1), round(fiber_m[1], 1)),
        sheath_m=sheath,
        slack_m=slack,
        spans=_spans(cable, near, (max(0.0, sheath[0] - slack), sheath[1]), plant) if cable else (),
        source=testing_figures().trace.overlength_source,
    )


def _spans(cable: Cable, near: str, route_m: tuple[float, float], plant: Plant) -> tuple[RouteSpan, ...]:
    """The parts of pathways that a range in m of route from a space touches; nothing where that is no end of it."""
    path: Sequence[str] = plant.path_of[cable.id]
    names = [plant.place_of[place].name for place in path]
    ways: Sequence[str] = cable.ways
    if near == names[-1] and near != names[0]:
        names, ways = names[::-1], ways[::-1]
    elif near != names[0]:
        return ()
    found: list[RouteSpan] = []
    at = 0.0
    for number, key in enumerate(ways):
        way = plant.way_of[key]
        length = way.length_m + abs(way.rise_m)
        low, high = max(route_m[0], at), min(route_m[1], at + length)
        last = number == len(ways) - 1
        if low < high or (last and not found):
            inside = (min(low, at + length) - at, min(max(high, low), at + length) - at)
            found.append(
                RouteSpan(
                    pathway=way.name or way.id,
                    start=names[number],
                    end=names[number + 1],
                    from_m=round(inside[0], 1),
                    to_m=round(inside[1], 1),
                    length_m=round(length, 1),
                )
            )
        at += length
    return tuple(found)


def dig_words(found: DigRange) -> tuple[str, ...]:
    """Where to open the route, in sentences with metric lengths."""
    near, far = found.sheath_m
    slack = f", up to {found.slack_m:g} m of slack at either end left out" if found.slack_m else ""
    whole = f"On {found.cable}, {near:g} to {far:g} m of sheath from {found.near or 'the end of the trace'}{slack}."
    spans = tuple(
        f"In {one.pathway}: {one.from_m:g} to {one.to_m:g} m from {one.start}, of {one.length_m:g} m to {one.end}."
        for one in found.spans
    )
    return (whole, *spans)
