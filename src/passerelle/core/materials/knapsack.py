"""The pattern of one reel that is worth most: a knapsack by branch and bound, and by HiGHS where that is long."""

from __future__ import annotations

from collections.abc import Sequence

from passerelle.core.materials.stock import Stock

STEPS, IMPROVED = 20_000, 1_000
"""Steps of the search, and how many of them improve on the first that is worth enough."""


def best_pattern(
    stock: Stock, kind: int, prices: Sequence[float], above: float
) -> tuple[tuple[int, ...] | None, bool]:
    """The counts of runs on one reel of a kind that are worth most, where they are worth more than ``above``.

    Answers with None where nothing is, and whether what is told is proven.
    """
    order = [i for i in range(len(prices)) if prices[i] > 0 and stock.lengths[i] <= stock.reels[kind]]
    order.sort(key=lambda i: -prices[i] / stock.lengths[i])
    counts, proven = _branch(stock, stock.reels[kind], prices, order, above)
    if counts is None and not proven:
        counts, proven = _by_program(stock, stock.reels[kind], prices, order, above)
    if counts is None:
        return None, proven
    whole = [0] * len(prices)
    for i, count in zip(order, counts, strict=True):
        whole[i] = count
    return tuple(whole), True


def _branch(
    stock: Stock, room: int, prices: Sequence[float], order: Sequence[int], above: float
) -> tuple[list[int] | None, bool]:
    """Depth first, the best price for its length first; a branch ends where a part of the next run is too little.

    The first that is worth more is improved until the steps are spent.
    """
    lengths, worth = [stock.lengths[i] for i in order], [prices[i] for i in order]
    wanted = [stock.wanted[i] for i in order]
    n = len(order)
    counts, best, least = [0] * n, None, above
    at, left, value, steps = 0, room, 0.0, 0
    while steps < STEPS:
        steps += 1
        while at < n:  # as many as go in of each, in order
            counts[at] = min(wanted[at], left // lengths[at])
            left -= counts[at] * lengths[at]
            value += counts[at] * worth[at]
            at += 1
            if at < n and value + left * worth[at] / lengths[at] <= least:
                break
        if value > least:
            best, least = counts[:at] + [0] * (n - at), value
            steps = max(steps, STEPS - IMPROVED)
        while True:  # back to the last that has one to give
            at -= 1
            while at >= 0 and not counts[at]:
                at -= 1
            if at < 0:
                return best, True
            counts[at] -= 1
            left += lengths[at]
            value -= worth[at]
            if at + 1 < n and value + left * worth[at + 1] / lengths[at + 1] > least:
                at += 1
                break
            if at + 1 >= n:
                continue
            left += counts[at] * lengths[at]
            value -= counts[at] * worth[at]
            counts[at] = 0
    return best, False


def _by_program(
    stock: Stock, room: int, prices: Sequence[float], order: Sequence[int], above: float
) -> tuple[list[int] | None, bool]:
    """The same as a whole-number program."""
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp

    told = milp(
        [-prices[i] for i in order],
        constraints=LinearConstraint(np.array([[float(stock.lengths[i]) for i in order]]), 0.0, float(room)),
        integrality=np.ones(len(order)),
        bounds=Bounds(0, [stock.wanted[i] for i in order]),
        options={"node_limit": STEPS},
    )
    if told.x is None:
        return None, False
    counts = [round(count) for count in told.x]
    value = sum(prices[i] * count for i, count in zip(order, counts, strict=True))
    return (counts if value > above else None), told.status == 0
