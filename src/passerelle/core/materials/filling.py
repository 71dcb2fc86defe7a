"""Plans for reels that are given: each is filled as full as it goes, with the longest run that is left.

Sums of runs are the bits of a whole number, in tenths of a metre and rounded up: what fits so fits.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from itertools import islice

from passerelle.core.materials.stock import PER_M, Pattern, Stock

STEP = PER_M // 10
WORK = 3_000_000
"""Runs times reels of all tries: of very many few are made."""
TRIES = 60
MOST_REELS = 40
"""How often the reels are filled in another order, and how many sets of reels are tried."""


def filled(stock: Stock, bought: int, fewest: int) -> list[Pattern] | None:
    """A plan that buys just so much and opens few reels; None where none is found. The same task, the same plan."""
    left = WORK
    for kinds in islice(_sets(stock, bought, fewest), MOST_REELS):
        draws = random.Random(len(kinds))
        for _ in range(TRIES):
            left -= sum(stock.wanted) * len(kinds)
            if left < 0:
                return None
            found = _fill(stock, kinds, draws)
            if found is not None:
                return found
    return None


def fewest_reels(stock: Stock, bought: int) -> int:
    """The least number of reels that are long enough together, with just so much bought: no plan opens fewer."""
    return next((len(kinds) for kinds in _sets(stock, bought, 1)), 1)


def _sets(stock: Stock, bought: int, fewest: int) -> Iterator[tuple[int, ...]]:
    """Sets of reels that could hold all, those of few reels first; of what is on hand the longest."""
    wanted = sum(length * count for length, count in zip(stock.lengths, stock.wanted, strict=True))
    there = sorted(
        (kind for kind, most in enumerate(stock.most) for _ in range(most or 0)), key=lambda k: -stock.reels[k]
    )
    sold = sorted((k for k, most in enumerate(stock.most) if most is None), key=lambda k: -stock.reels[k])
    for total in range(max(fewest, 1), sum(stock.wanted) + 1):
        for on_hand in range(min(len(there), total) + 1):
            for chosen in _of_size(stock, sold, bought, total - on_hand):
                kinds = (*chosen, *there[:on_hand])
                if sum(stock.reels[kind] for kind in kinds) >= wanted:
                    yield kinds


def _of_size(stock: Stock, sold: list[int], bought: int, count: int) -> Iterator[tuple[int, ...]]:
    """So many reels that are sold, together just so long."""
    if count == 0 or not sold:
        if count == 0 and bought == 0:
            yield ()
        return
    size = stock.reels[sold[0]]
    if bought > count * size:  # this is the longest
        return
    for n in range(min(count, bought // size), -1, -1):
        for rest in _of_size(stock, sold[1:], bought - n * size, count - n):
            yield (*[sold[0]] * n, *rest)


def _fill(stock: Stock, kinds: tuple[int, ...], draws: random.Random) -> list[Pattern] | None:
    """All runs on these reels, filled in an order that is drawn; None where some are left."""
    left = list(stock.wanted)
    order = list(kinds)
    draws.shuffle(order)
    made: list[Pattern] = []
    for kind in order:
        counts = _fullest(stock, kind, left, draws)
        left = [there - taken for there, taken in zip(left, counts, strict=True)]
        made.append((kind, counts))
    return None if any(left) else [pattern for pattern in made if any(pattern[1])]


def _fullest(stock: Stock, kind: int, left: list[int], draws: random.Random) -> tuple[int, ...]:
    """What fills a reel best, with the longest run that goes on it."""
    counts = [0] * len(left)
    first = next((i for i, length in enumerate(stock.lengths) if left[i] and length <= stock.reels[kind]), None)
    if first is None:
        return tuple(counts)
    counts[first] = 1
    room = (stock.reels[kind] - stock.lengths[first]) // STEP
    items = [i for i, there in enumerate(left) for _ in range(there - (i == first))]
    draws.shuffle(items)
    reached, within = [1], (1 << (room + 1)) - 1
    steps = [-(-stock.lengths[i] // STEP) for i in items]
    for step in steps:
        reached.append((reached[-1] | reached[-1] << step) & within)
    full = reached[-1].bit_length() - 1
    for place in range(len(items) - 1, -1, -1):
        if not reached[place] >> full & 1:
            counts[items[place]] += 1
            full -= steps[place]
    return tuple(counts)
