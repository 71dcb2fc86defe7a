"""One-dimensional cutting stock as numbers: runs, reels, patterns, and first-fit-decreasing.

Lengths are whole tenths of a millimetre here, so that sums are exact.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

PER_M = 10_000
Pattern = tuple[int, tuple[int, ...]]
"""A kind of reel, and how many runs of each length are cut from one of it."""


@dataclass(frozen=True)
class Stock:
    """A task of cutting: ``lengths`` of runs with how many are wanted of each, and kinds of reel.

    ``reels`` are the lengths of the kinds, ``costs`` what is bought with one of each (0 for what is on hand), and
    ``most`` how many there are (None: as many as are bought).
    """

    lengths: tuple[int, ...]
    wanted: tuple[int, ...]
    reels: tuple[int, ...]
    costs: tuple[int, ...]
    most: tuple[int | None, ...]

    @cached_property
    def too_long(self) -> tuple[int, ...]:
        """The lengths that no reel has."""
        longest = max(self.reels, default=0)
        return tuple(length for length in self.lengths if length > longest)

    def bought(self, patterns: Sequence[Pattern]) -> int:
        """What is bought for these patterns."""
        return sum(self.costs[kind] for kind, _ in patterns)

    def used(self, pattern: Pattern) -> int:
        """How much of a reel a pattern takes."""
        return sum(length * count for length, count in zip(self.lengths, pattern[1], strict=True))


def stock_of(runs_m: Sequence[float], waste_m: float, sold_m: Sequence[float], on_hand_m: Sequence[float]) -> Stock:
    """A task of cutting in whole numbers; ``waste_m`` is lost with each run."""
    lengths = Counter(-_floor(-(run + waste_m)) for run in runs_m)
    sold, there = sorted({_floor(m) for m in sold_m}), Counter(_floor(m) for m in on_hand_m)
    ordered = sorted(lengths, reverse=True)
    return Stock(
        lengths=tuple(ordered),
        wanted=tuple(lengths[length] for length in ordered),
        reels=(*sold, *there),
        costs=(*sold, *(0 for _ in there)),
        most=(*(None for _ in sold), *there.values()),
    )


def _floor(m: float) -> int:
    return int(round(m * PER_M, 3) // 1)


def first_fit_decreasing(stock: Stock) -> list[Pattern] | None:
    """The longest run first, each on the first reel with room; a new reel is one on hand, else the least bought.

    Of the reels that could be opened each size is tried as the one to open first; the least bought result stands.
    None where something on hand is too little and nothing is sold.
    """
    tried = [_first_fit(stock, first) for first in range(len(stock.reels))]
    found = [patterns for patterns in tried if patterns is not None]
    return min(found, key=lambda patterns: (stock.bought(patterns), len(patterns)), default=None)


def _first_fit(stock: Stock, first: int) -> list[Pattern] | None:
    free = list(stock.most)
    order = sorted(range(len(stock.reels)), key=lambda kind: (kind != first, stock.costs[kind]))
    on_hand = sorted((kind for kind in order if stock.most[kind] is not None), key=lambda kind: stock.reels[kind])
    opened: list[tuple[int, list[int]]] = []
    room: list[int] = []
    for i, length in enumerate(stock.lengths):
        for _ in range(stock.wanted[i]):
            place = next((n for n, left in enumerate(room) if left >= length), None)
            if place is None:
                kind = next((k for k in (*on_hand, *order) if stock.reels[k] >= length and free[k] != 0), None)
                if kind is None:
                    return None
                left = free[kind]
                free[kind] = None if left is None else left - 1
                opened.append((kind, [0] * len(stock.lengths)))
                room.append(stock.reels[kind])
                place = len(room) - 1
            opened[place][1][i] += 1
            room[place] -= length
    return [_smaller(stock, (kind, tuple(counts)), Counter(k for k, _ in opened)) for kind, counts in opened]


def _smaller(stock: Stock, pattern: Pattern, opened: Counter[int]) -> Pattern:
    """The pattern on the shortest reel that is sold and holds it; what is on hand stays."""
    kind, counts = pattern
    if stock.most[kind] is not None:
        return pattern
    used = stock.used(pattern)
    sold = [k for k, most in enumerate(stock.most) if most is None and stock.reels[k] >= used]
    return min(sold, key=lambda k: stock.costs[k]), counts
