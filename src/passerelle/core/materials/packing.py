"""The best patterns for a task of cutting, by linear and whole-number programs, and how far that is proven.

SciPy is imported when a task is solved: nothing else of the program needs it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from passerelle.core.materials.filling import fewest_reels, filled
from passerelle.core.materials.knapsack import best_pattern
from passerelle.core.materials.stock import Pattern, Stock, first_fit_decreasing

ROUND = 1e-6
"""Programs are solved to this much."""
ROUNDS, MOST_LENGTHS = 2_000, 400
"""How often patterns are priced at most; of more different lengths none is, and the bound is by length."""
MOST_CELLS = 20_000
"""Runs times reels of the last program; of more nothing is tried."""


@dataclass(frozen=True)
class Packed:
    """Patterns that cover all runs, whether they are proven best, and the proven least that must be bought.

    Without patterns no plan was found; ``proven`` says whether there is none.
    """

    patterns: tuple[Pattern, ...]
    proven: bool
    least_bought: int


@dataclass
class _Task:
    """A task with the patterns that are known, and what a plan may buy at most (None: anything)."""

    stock: Stock
    nodes: int
    most_bought: int | None = None
    pool: dict[Pattern, None] = field(default_factory=dict)

    def costs(self) -> list[int]:
        """What each kind of reel counts: what is bought first, then one for each reel."""
        return list(self.stock.costs) if self.most_bought is None else [1] * len(self.stock.reels)

    @property
    def unit(self) -> int:
        """What the programs count in, so that their numbers stay near one."""
        return max(self.costs()) or 1

    def value(self, patterns: Sequence[Pattern]) -> int:
        """What a plan counts."""
        costs = self.costs()
        return sum(costs[kind] for kind, _ in patterns)


def packed(stock: Stock, nodes: int) -> Packed:
    """The patterns that buy least, and of those the fewest; none where what is on hand is too little.

    Args:
        stock: the task, each run of which some reel holds.
        nodes: where each whole-number program stops.
    """
    first = first_fit_decreasing(stock)
    task = _Task(stock, nodes, pool=dict.fromkeys([*_alone(stock), *(first or ())]))
    least = _attainable(stock, _by_length(task))
    best = _better(task, first, filled(stock, least, 1))
    if best is None or stock.bought(best) > least:
        lower = _relaxed(task)
        if lower is None and best is None:
            return Packed((), True, 0)
        best, least, closed = _bought_least(task, best, max(least, _attainable(stock, _safe(lower or 0.0))))
        if best is None:
            return Packed((), closed, 0)
    bought = stock.bought(best)
    fewest, proven = _fewest(_Task(stock, nodes, bought, task.pool), best)
    return Packed(tuple(fewest), proven and bought <= least, min(least, bought))


def _safe(bound: float) -> float:
    return bound - ROUND * max(1.0, abs(bound))


def _bought_least(task: _Task, best: list[Pattern] | None, least: int) -> tuple[list[Pattern] | None, int, bool]:
    """The plan that buys least, the length that no plan buys less than, and whether all plans were looked at."""
    proven = False
    if best is None or task.value(best) > least:
        best = _better(task, best, filled(task.stock, least, 1))
    if best is None or task.value(best) > least:
        best = _better(task, best, _over_patterns(task))
    if best is None or task.value(best) > least:
        found, proven = _over_reels(task, best)
        best = _better(task, best, found)
        if best is not None and proven:
            least = task.value(best)
    return best, least, proven


def _fewest(task: _Task, best: list[Pattern]) -> tuple[list[Pattern], bool]:
    """The plan of the fewest reels that buys no more, and whether that is proven."""
    bought = task.most_bought or 0
    least = fewest_reels(task.stock, bought)
    if len(best) > least:
        best = _better(task, best, filled(task.stock, bought, least)) or best
    if len(best) > least:
        least = max(least, math.ceil(_safe(_relaxed(task) or 0.0)))
    if len(best) > least:
        best = _better(task, best, _over_patterns(task)) or best
    if len(best) <= least:
        return best, True
    other, proven = _over_reels(task, best)
    return _better(task, best, other) or best, proven


def _alone(stock: Stock) -> list[Pattern]:
    """Each run alone on each kind of reel that holds it."""
    n = len(stock.lengths)
    return [
        (kind, tuple(int(i == j) for j in range(n)))
        for i, length in enumerate(stock.lengths)
        for kind, reel in enumerate(stock.reels)
        if reel >= length
    ]


def _better(task: _Task, one: list[Pattern] | None, other: list[Pattern] | None) -> list[Pattern] | None:
    if one is None or other is None:
        return one or other
    return min(one, other, key=task.value)


def _attainable(stock: Stock, bound: float) -> int:
    """The least sum of lengths that are sold, of at least so much."""
    wanted = max(0, math.ceil(bound))
    sold = [cost for cost in stock.costs if cost]
    if not wanted or not sold:
        return wanted
    unit = math.gcd(*sold)
    units = [cost // unit for cost in sold]
    first = -(-wanted // unit)
    reached, total = 1, (1 << (first + max(units) + 1)) - 1
    if first + max(units) > 200_000:  # so finely sold that every sum is as good
        return wanted
    for size in units:
        while (more := (reached | reached << size) & total) != reached:
            reached = more
    above = reached >> first
    return (first + (above & -above).bit_length() - 1) * unit


def _relaxed(task: _Task) -> float | None:
    """The value of the linear program over all patterns; it fills the pool. None where no plan is possible.

    A bound that is not proven by its last knapsack falls back on the length of all runs.
    """
    from scipy.optimize import linprog

    stock, costs = task.stock, task.costs()
    lack = 2.0 * sum(stock.wanted)
    if len(stock.lengths) > MOST_LENGTHS:
        return _by_length(task)
    for _ in range(ROUNDS):
        patterns = list(task.pool)
        a_ub, b_ub = _rows(task, patterns, lacking=True)
        c = [costs[kind] / task.unit for kind, _ in patterns] + [lack] * len(stock.lengths)
        told = linprog(c, A_ub=a_ub, b_ub=b_ub, method="highs")
        prices = -told.ineqlin.marginals
        new, proven = _priced(task, prices)
        if not new:
            if told.x[len(patterns) :].max(initial=0.0) > ROUND:
                return None if proven else 0.0
            return float(told.fun) * task.unit if proven else _by_length(task)
        task.pool.update(dict.fromkeys(new))
    return _by_length(task)


def _by_length(task: _Task) -> float:
    """What all runs must take of what is bought, or of reels, were they one."""
    stock = task.stock
    runs = sum(length * count for length, count in zip(stock.lengths, stock.wanted, strict=True))
    if task.most_bought is not None:
        return runs / max(stock.reels)
    return max(0, runs - sum(reel * most for reel, most in zip(stock.reels, stock.most, strict=True) if most))


def _rows(task: _Task, patterns: Sequence[Pattern], *, lacking: bool) -> tuple[Any, list[float]]:
    """The rows of the program, each at most: every run is cut, no more is taken than there is or may be bought."""
    stock, n = task.stock, len(task.stock.lengths)
    cut = np.array([counts for _, counts in patterns], dtype=float).reshape(len(patterns), n).T
    rows, most = [-cut], [-float(count) for count in stock.wanted]
    for kind, there in enumerate(stock.most):
        if there is not None:
            rows.append(np.array([[float(one == kind) for one, _ in patterns]]))
            most.append(float(there))
    if task.most_bought is not None:
        per = max(stock.costs) or 1
        rows.append(np.array([[stock.costs[kind] / per for kind, _ in patterns]]))
        most.append(task.most_bought / per)
    table = np.vstack([row.reshape(-1, len(patterns)) for row in rows])
    if lacking:
        none = np.zeros((len(table), n))
        none[:n, :n] = -np.eye(n)
        table = np.hstack([table, none])
    return table, most


def _priced(task: _Task, prices: Any) -> tuple[list[Pattern], bool]:
    """Patterns worth more than their reel at the prices of the rows, and whether those are proven to be all."""
    stock, costs, n = task.stock, task.costs(), len(task.stock.lengths)
    row, found, proven = n, list[Pattern](), True
    per_bought = float(prices[-1]) if task.most_bought is not None else 0.0
    for kind, there in enumerate(stock.most):
        worth = costs[kind] / task.unit + per_bought * stock.costs[kind] / (max(stock.costs) or 1)
        if there is not None:
            worth += float(prices[row])
            row += 1
        counts, sure = best_pattern(stock, kind, [float(p) for p in prices[:n]], worth + ROUND * max(1.0, worth))
        proven &= sure
        if counts is not None and (kind, counts) not in task.pool:
            found.append((kind, counts))
    return found, proven


def _over_patterns(task: _Task) -> list[Pattern] | None:
    """The best plan of the patterns that are known."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    if len(task.stock.lengths) > MOST_LENGTHS:
        return None  # the pool holds no pattern that was priced
    patterns, costs = list(task.pool), task.costs()
    a_ub, b_ub = _rows(task, patterns, lacking=False)
    unit = math.gcd(*costs) or 1
    told = milp(
        [costs[kind] / unit for kind, _ in patterns],
        constraints=LinearConstraint(a_ub, -np.inf, b_ub),
        integrality=np.ones(len(patterns)),
        bounds=Bounds(0, np.inf),
        options={"node_limit": task.nodes, "mip_rel_gap": 0},
    )
    if told.x is None:
        return None
    chosen = [one for one, count in zip(patterns, told.x, strict=True) for _ in range(round(count))]
    return _trimmed(task.stock, chosen)


def _trimmed(stock: Stock, patterns: list[Pattern]) -> list[Pattern]:
    """The patterns without what is cut more often than it is wanted, and without reels that hold nothing."""
    left = list(stock.wanted)
    made: list[Pattern] = []
    for kind, counts in sorted(patterns, key=lambda p: (stock.costs[p[0]] == 0, -stock.used(p))):
        taken = tuple(min(count, there) for count, there in zip(counts, left, strict=True))
        left = [there - count for there, count in zip(left, taken, strict=True)]
        if any(taken):
            made.append((kind, taken))
    return made


def _over_reels(task: _Task, best: list[Pattern] | None) -> tuple[list[Pattern] | None, bool]:
    """The best plan by a program over runs and single reels, and whether that is proven.

    A plan that is known limits how many reels of each kind can be in a better one.
    """
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import coo_array

    stock, costs = task.stock, task.costs()
    bins = _bins(task, best)
    n, b = len(stock.lengths), len(bins)
    if n * b > MOST_CELLS:
        return None, False
    unit = math.gcd(*costs) or 1
    objective = np.concatenate([np.zeros(n * b), [costs[kind] / unit for kind in bins]])
    rows: list[tuple[int, int, float]] = []
    low: list[float] = []
    high: list[float] = []

    def row(cells: list[tuple[int, float]], least: float, most: float) -> None:
        rows.extend((len(low), column, value) for column, value in cells)
        low.append(least)
        high.append(most)

    for i in range(n):
        row([(i * b + j, 1.0) for j in range(b)], stock.wanted[i], stock.wanted[i])
    for j, kind in enumerate(bins):
        cells = [(i * b + j, float(stock.lengths[i])) for i in range(n)]
        row([*cells, (n * b + j, -float(stock.reels[kind]))], -np.inf, 0.0)
        if j and bins[j - 1] == kind:
            row([(n * b + j - 1, 1.0), (n * b + j, -1.0)], 0.0, np.inf)
    if task.most_bought is not None:
        row([(n * b + j, float(stock.costs[kind])) for j, kind in enumerate(bins)], -np.inf, task.most_bought)
    where, columns, values = zip(*rows, strict=True)
    told = milp(
        objective,
        constraints=LinearConstraint(coo_array((values, (where, columns))).tocsr(), low, high),
        integrality=np.ones(n * b + b),
        bounds=Bounds(
            0,
            np.array(
                [min(stock.wanted[i], stock.reels[k] // stock.lengths[i]) for i in range(n) for k in bins] + [1] * b
            ),
        ),
        options={"node_limit": max(20, task.nodes * 20 // (n * b)), "mip_rel_gap": 0},
    )
    if told.x is None:
        return None, told.status == 2
    cut = np.rint(told.x[: n * b]).astype(int).reshape(n, b)
    found = [(kind, tuple(int(c) for c in cut[:, j])) for j, kind in enumerate(bins) if cut[:, j].any()]
    return found, told.status == 0


def _bins(task: _Task, best: list[Pattern] | None) -> list[int]:
    """The reels that a plan at least as good can hold, kind by kind."""
    stock, runs = task.stock, sum(task.stock.wanted)
    limit = task.most_bought if task.most_bought is not None else stock.bought(best) if best is not None else None
    found: list[int] = []
    for kind, there in enumerate(stock.most):
        count = runs if there is None else min(there, runs)
        if there is None and limit is not None:
            count = min(count, limit // stock.costs[kind])
        found += [kind] * count
    return found
