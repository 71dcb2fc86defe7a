"""The strip plan: ways as strips in rows, drawn by rules from their order and lengths."""

from __future__ import annotations

import math
from collections import defaultdict

from passerelle.core.plant.records import Way
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen


class Strip(Frozen):
    """One way in the plan: where its strip starts, how wide it is, in which row; lengths in drawing units.

    ``meets`` is set when its far place is drawn elsewhere already; ``branches_from`` is the row from which it
    branches off, None where it goes straight on.
    """

    way: str
    start: str
    end: str
    x: float
    width: float
    row: int
    meets: bool
    branches_from: int | None
    last: bool


class StripRoot(Frozen):
    """A place from which rows start."""

    place: str
    row: int


class StripPlan(Frozen):
    """All strips, the places from which they start, and the size of the plan in rows and drawing units."""

    strips: tuple[Strip, ...]
    roots: tuple[StripRoot, ...]
    rows: int
    width: float


def strip_width(length_m: float) -> float:
    """Width of a strip: it grows with the logarithm of the length, so that 60 m and 34 km fit one sheet."""
    return 46 + 24 * math.log2(1 + length_m / 20)


def strip_plan(plant: Plant) -> StripPlan:
    """The ways of a plant in rows: from the place with the most ways outwards, the longest branch straight on."""
    at: dict[str, list[Way]] = defaultdict(list)
    for way in plant.ways:
        at[way.start].append(way)
        at[way.end].append(way)
    strips: list[Strip] = []
    roots: list[StripRoot] = []
    drawn: set[str] = set()
    reached: set[str] = set()
    rows = 0
    sizes = _branch_sizes(at)
    for place in sorted(at, key=lambda p: -len(at[p])):
        if place in reached:
            continue
        reached.add(place)
        roots.append(StripRoot(place=place, row=rows))
        waiting = [(place, 0.0, rows)]
        rows += 1
        while waiting:
            here, x, row = waiting.pop()
            first = True
            onward = []
            for way in sorted((w for w in at[here] if w.id not in drawn), key=lambda w: -sizes[_far(w, here)]):
                drawn.add(way.id)
                end, width = _far(way, here), strip_width(way.length_m)
                own = row if first else rows
                rows += 0 if first else 1
                meets = end in reached
                strips.append(
                    Strip(
                        way=way.id,
                        start=here,
                        end=end,
                        x=x,
                        width=width,
                        row=own,
                        meets=meets,
                        branches_from=None if first else row,
                        last=True,
                    )
                )
                first = False
                if not meets:
                    reached.add(end)
                    onward.append((end, x + width, own))
            waiting += reversed(onward)
    ends: dict[int, float] = {}
    for strip in strips:
        ends[strip.row] = max(ends.get(strip.row, 0.0), strip.x)
    return StripPlan(
        strips=tuple(s if s.x == ends[s.row] else s.model_copy(update={"last": False}) for s in strips),
        roots=tuple(roots),
        rows=rows,
        width=max((s.x + s.width for s in strips), default=0.0),
    )


def _far(way: Way, place: str) -> str:
    return way.end if way.start == place else way.start


def _branch_sizes(at: dict[str, list[Way]]) -> dict[str, int]:
    """How many ways lie behind each place, seen from the place with the most ways of its component."""
    sizes: dict[str, int] = {}
    for root in sorted(at, key=lambda p: -len(at[p])):
        if root in sizes:
            continue
        sizes[root] = 0
        order, parent = [root], {root: root}
        for place in order:
            for way in at[place]:
                end = _far(way, place)
                if end not in sizes:
                    sizes[end], parent[end] = 0, place
                    order.append(end)
        for place in reversed(order):
            if parent[place] != place:
                sizes[parent[place]] += sizes[place] + 1
    return sizes
