"""Which run is cut from which reel: the least bought length first, then the fewest reels opened. Exactly.

The patterns of a reel are found one after the other (Gilmore and Gomory, Operations Research 9, 1961): a linear
program over those known tells what each run is worth, and a knapsack finds a pattern that is worth more than its
reel. Its value bounds what must be bought from below; a whole-number program over the patterns, and where that does
not meet the bound one over runs and reels, gives the plan. All programs are solved by HiGHS through SciPy.
"""

from __future__ import annotations

from collections.abc import Sequence

from passerelle.core.errors import MaterialError
from passerelle.core.materials.packing import Packed, packed
from passerelle.core.materials.stock import PER_M, Pattern, Stock, stock_of
from passerelle.core.sources import Frozen

MOST_RUNS = 1000
MOST_SIZES = 40


class ReelCuts(Frozen):
    """A reel of a plan: its length in m, whether it is bought or on hand, and the runs that are cut from it."""

    reel_m: float
    source: str
    runs: tuple[int, ...]
    left_m: float


class CuttingPlan(Frozen):
    """Which run is cut from which reel. ``proven``: no plan buys less, and none of those opens fewer reels.

    ``bought_m`` is what is bought, ``remainder_m`` what is left on the opened reels, ``least_bought_m`` the
    proven least. Where nothing holds a run, it is not ``feasible`` and ``too_long`` names those by their place.
    """

    feasible: bool
    bought_m: float
    reels_opened: int
    remainder_m: float
    proven: bool
    least_bought_m: float
    plan: tuple[ReelCuts, ...]
    too_long: tuple[int, ...] = ()

    @property
    def gap_m(self) -> float:
        """How much less might be enough, in m, where that is not proven."""
        return round(self.bought_m - self.least_bought_m, 4)


def cutting_plan(
    runs_m: Sequence[float],
    *,
    waste_per_run_m: float = 0.0,
    sold_reels_m: Sequence[float] = (),
    on_hand_m: Sequence[float] = (),
    nodes: int = 4_000,
) -> CuttingPlan:
    """The plan that buys least, and of those the one that opens the fewest reels.

    Args:
        runs_m: lengths of the runs in m, shape (n,); no run has a joint.
        waste_per_run_m: what is lost with each run, in m.
        sold_reels_m: lengths in m that are sold, as many as are needed of each.
        on_hand_m: reels and remainders that are there, in m, each once.
        nodes: where each whole-number program stops; what is proven by then is told.

    Raises:
        MaterialError: a length is not more than zero, or there are too many runs or sizes.

    >>> found = cutting_plan([60, 40, 50], sold_reels_m=[100, 150])
    >>> found.bought_m, found.reels_opened, found.proven
    (150.0, 1, True)
    """
    _check(runs_m, waste_per_run_m, sold_reels_m, on_hand_m)
    stock = stock_of(runs_m, waste_per_run_m, sold_reels_m, on_hand_m)
    if not runs_m:
        return _nothing(feasible=True)
    if stock.too_long:
        worst = max(stock.reels, default=0)
        too_long = tuple(i for i, run in enumerate(runs_m) if (run + waste_per_run_m) * PER_M > worst + 0.5)
        return _nothing(feasible=False, too_long=too_long)
    found = packed(stock, nodes)
    if not found.patterns:
        return _nothing(feasible=False, proven=found.proven)
    return _told(stock, found, runs_m, waste_per_run_m)


def _nothing(*, feasible: bool, proven: bool = True, too_long: tuple[int, ...] = ()) -> CuttingPlan:
    zeros = {"bought_m": 0.0, "reels_opened": 0, "remainder_m": 0.0, "least_bought_m": 0.0}
    return CuttingPlan(feasible=feasible, proven=proven, plan=(), too_long=too_long, **zeros)


def _check(runs_m: Sequence[float], waste_m: float, sold_m: Sequence[float], on_hand_m: Sequence[float]) -> None:
    for name, lengths in (("runs_m", runs_m), ("sold_reels_m", sold_m), ("on_hand_m", on_hand_m)):
        for place, length in enumerate(lengths):
            if not 0 < length <= 1e6:
                raise MaterialError(f"{name}[{place}]", f"{length:g} m is no length: give more than 0, at most 1e6")
    if not 0 <= waste_m <= 1e6:
        raise MaterialError("waste_per_run_m", f"{waste_m:g} m is no waste: give 0 or more")
    if len(runs_m) > MOST_RUNS:
        raise MaterialError("runs_m", f"{len(runs_m)} runs, at most {MOST_RUNS}: plan them in parts")
    if len(set(sold_m)) > MOST_SIZES:
        raise MaterialError("sold_reels_m", f"{len(set(sold_m))} sizes, at most {MOST_SIZES}")


def _told(stock: Stock, found: Packed, runs_m: Sequence[float], waste_m: float) -> CuttingPlan:
    """The plan with the runs by their places; equal runs are taken in their order."""
    waiting: dict[int, list[int]] = {}
    for place, run in reversed(list(enumerate(runs_m))):
        waiting.setdefault(stock_of([run], waste_m, [], []).lengths[0], []).append(place)
    plan = tuple(_reel(stock, pattern, waiting) for pattern in _longest_first(stock, found.patterns))
    return CuttingPlan(
        feasible=True,
        bought_m=stock.bought(found.patterns) / PER_M,
        reels_opened=len(plan),
        remainder_m=round(sum(reel.left_m for reel in plan), 4),
        proven=found.proven,
        least_bought_m=found.least_bought / PER_M,
        plan=plan,
    )


def _longest_first(stock: Stock, patterns: Sequence[Pattern]) -> list[Pattern]:
    return sorted(patterns, key=lambda p: (stock.costs[p[0]] == 0, -stock.reels[p[0]], -stock.used(p), p[1]))


def _reel(stock: Stock, pattern: Pattern, waiting: dict[int, list[int]]) -> ReelCuts:
    kind, counts = pattern
    runs = [
        waiting[length].pop() for length, count in zip(stock.lengths, counts, strict=True) for _ in range(count)
    ]
    return ReelCuts(
        reel_m=stock.reels[kind] / PER_M,
        source="bought" if stock.most[kind] is None else "on hand",
        runs=tuple(runs),
        left_m=(stock.reels[kind] - stock.used(pattern)) / PER_M,
    )
