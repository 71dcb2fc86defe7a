"""What one cut takes down: outages of ways, cables and places, and what two links share."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import zip_longest
from typing import Literal

from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.site import Plant, stretch
from passerelle.core.sources import Frozen

ElementKind = Literal["way", "cable", "place"]
Part = tuple[ElementKind, str]


@dataclass(frozen=True)
class Rider:
    """A link as the plant sees it: its ends, its rate in Mb/s (0 while unknown) and the cables it rides on.

    ``strands`` are the numbers that it has of each cable; without them it rides on whole cables. ``takes`` are the
    positions of all shared parts that it has.
    """

    id: int
    name: str
    near: str
    far: str
    rate_mbps: int
    cables: tuple[str, ...]
    strands: tuple[tuple[int, ...], ...] = ()
    takes: tuple[tuple[str, int], ...] = ()


class DarkPlace(Frozen):
    """An end that loses links: all of them (dark), or some, with the fastest rate in Mb/s that is left."""

    place: str
    dark: bool
    left_mbps: int


class Outage(Frozen):
    """What goes when one element goes: the links that are cut and the ends that feel it.

    Of the two ends of a link the one with fewer links is told, both where they have as many: that a core keeps
    running without one of its many links is no news.
    """

    kind: ElementKind
    id: str
    name: str
    links: tuple[int, ...]
    ends: tuple[DarkPlace, ...]

    @property
    def dark(self) -> tuple[str, ...]:
        """The ends that have no link left."""
        return tuple(end.place for end in self.ends if end.dark)


class Shared(Frozen):
    """What two links have in common between their ends; diverse only when all three are empty."""

    ways: tuple[str, ...]
    cables: tuple[str, ...]
    places: tuple[str, ...]

    @property
    def diverse(self) -> bool:
        """Whether no single cut between the ends takes both."""
        return not (self.ways or self.cables or self.places)


def parts_of(rider: Rider, plant: Plant) -> dict[Part, None]:
    """All that a link rides on, in order: its cables, their ways, and the places between its ends.

    Found once for all links on the same cables; which strands of a cable they have matters where it has taps.
    """
    each = zip_longest(rider.cables, rider.strands, fillvalue=())
    used = tuple((str(cable), tuple(map(int, on)) if cable in plant.taps_of else ()) for cable, on in each)
    known = plant.parts_on.get(used)
    if known is None:
        known = plant.parts_on[used] = _parts_on(used, plant)
    return known


def _parts_on(used_cables: tuple[tuple[str, tuple[int, ...]], ...], plant: Plant) -> dict[Part, None]:
    parts: dict[Part, None] = {}
    passed: list[str] = []
    tips: Counter[str] = Counter()
    for cable_id, numbers in used_cables:
        cable = plant.cable_of.get(cable_id)
        if cable is None:
            continue
        used = stretch(cable, numbers, plant)
        parts["cable", cable.id] = None
        for way_id in used.ways:
            parts["way", way_id] = None
        path = used.places
        passed += path
        tips.update((path[0], path[-1]) if path else ())
    inner = Counter(passed)
    for place in passed:
        # Where one cable ends and the next begins counts twice: it lies between, however they are drawn.
        is_end = inner[place] == tips[place] and tips[place] % 2 == 1
        if not is_end:
            parts["place", place] = None
    return parts


def outages(plant: Plant, riders: Sequence[Rider]) -> list[Outage]:
    """The outage of every element that some link rides on, the worst first.

    One pass collects the links of each element; an end is dark when all links that end there, at whichever
    side they are drawn, are among them. Links
    without a cable on the plant cannot be cut by it and keep their ends alight.
    """
    cut: dict[Part, list[Rider]] = defaultdict(list)
    at_end = _at_ends(riders)
    for rider in riders:
        for part in parts_of(rider, plant):
            cut[part].append(rider)
    told = {rider.id: _told(rider, at_end) for rider in riders}
    found = [_outage(part, lost, at_end, told, plant) for part, lost in cut.items()]
    return sorted(found, key=lambda o: (-len(o.dark), -len(o.links), o.kind, o.id))


def outage_of(part: Part, plant: Plant, riders: Sequence[Rider]) -> Outage:
    """The outage of one element, found by cutting it: the plain definition that ``outages`` must agree with."""
    lost = [rider for rider in riders if part in parts_of(rider, plant)]
    at_end = _at_ends(riders)
    return _outage(part, lost, at_end, {rider.id: _told(rider, at_end) for rider in lost}, plant)


def _at_ends(riders: Sequence[Rider]) -> dict[str, list[Rider]]:
    """The links that end at each place, at either side."""
    at_end: dict[str, list[Rider]] = defaultdict(list)
    for rider in riders:
        for place in {rider.near, rider.far}:
            at_end[place].append(rider)
    return at_end


def _told(rider: Rider, at_end: dict[str, list[Rider]]) -> list[str]:
    """The ends of a link to speak of: those with the fewer links."""
    ends = list(dict.fromkeys((rider.near, rider.far)))
    fewest = min(len(at_end[place]) for place in ends)
    return [place for place in ends if len(at_end[place]) == fewest]


def _outage(
    part: Part, lost: list[Rider], at_end: dict[str, list[Rider]], told: dict[int, list[str]], plant: Plant
) -> Outage:
    kind, element = part
    gone = {rider.id for rider in lost}
    ends = []
    for place in dict.fromkeys(place for rider in lost for place in told[rider.id]):
        left = [rider.rate_mbps for rider in at_end[place] if rider.id not in gone]
        ends.append(_end(place, not left, max(left, default=0)))
    name = name_of(part, plant)
    return Outage(kind=kind, id=element, name=name, links=tuple(r.id for r in lost), ends=tuple(ends))


@lru_cache(maxsize=4096)
def _end(place: str, dark: bool, left_mbps: int) -> DarkPlace:
    return DarkPlace(place=place, dark=dark, left_mbps=left_mbps)


def name_of(part: Part, plant: Plant) -> str:
    """The name of a way, cable or place; its id where the plant does not have it."""
    kind, element = part
    shelves: dict[ElementKind, Mapping[str, Way | Cable | Place]] = {
        "way": plant.way_of,
        "cable": plant.cable_of,
        "place": plant.place_of,
    }
    row = shelves[kind].get(element)
    return row.name if row else element


def shared(first: Rider, second: Rider, plant: Plant) -> Shared:
    """What two links share between their ends."""
    others = parts_of(second, plant)
    both = [part for part in parts_of(first, plant) if part in others]

    def of(kind: ElementKind) -> tuple[str, ...]:
        return tuple(element for k, element in both if k == kind)

    return Shared(ways=of("way"), cables=of("cable"), places=of("place"))
