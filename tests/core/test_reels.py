"""Cutting reels: known optima by trying everything, what a plan must keep, what is told where nothing fits."""

from __future__ import annotations

from collections.abc import Sequence

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.errors import MaterialError
from passerelle.core.materials.packing import packed
from passerelle.core.materials.reels import CuttingPlan, cutting_plan
from passerelle.core.materials.stock import PER_M, first_fit_decreasing, stock_of
from tests.depth import examples

LENGTHS = st.integers(20, 980).map(lambda tenths: tenths / 10)


def by_trying_all(
    runs: Sequence[float], waste: float, sold: Sequence[float], hand: Sequence[float]
) -> tuple[float, int] | None:
    """The least bought length, then the fewest reels, by putting each run everywhere; None where nothing fits."""
    best: tuple[float, int] | None = None
    ordered = sorted((round((run + waste) * 10) for run in runs), reverse=True)
    sold_at, there = sorted({round(m * 10) for m in sold}), [round(m * 10) for m in hand]

    def put(at: int, left: tuple[int, ...], free: tuple[int, ...], bought: int) -> None:
        nonlocal best
        if best is not None and (bought, len(left)) >= best:
            return
        if at == len(ordered):
            best = bought, len(left)
            return
        run = ordered[at]
        for place, room in enumerate(left):
            if room >= run:
                put(at + 1, (*left[:place], room - run, *left[place + 1 :]), free, bought)
        for place, room in enumerate(free):
            if room >= run:
                put(at + 1, (*left, room - run), (*free[:place], *free[place + 1 :]), bought)
        for size in sold_at:
            if size >= run:
                put(at + 1, (*left, size - run), free, bought + size)

    put(0, (), tuple(there), 0)
    return None if best is None else (best[0] / 10, best[1])


def keeps(found: CuttingPlan, runs: Sequence[float], waste: float, hand: Sequence[float]) -> None:
    """Every run once, no reel over its length, nothing on hand used twice, the sums as they are told."""
    assert sorted(run for reel in found.plan for run in reel.runs) == list(range(len(runs)))
    for reel in found.plan:
        used = sum(runs[run] + waste for run in reel.runs)
        assert used <= reel.reel_m + 1e-6
        assert reel.left_m == pytest.approx(reel.reel_m - used, abs=1e-3)
    used_up = list(hand)
    for reel in found.plan:
        if reel.source == "on hand":
            used_up.remove(next(m for m in used_up if m == pytest.approx(reel.reel_m)))
    assert found.bought_m == pytest.approx(sum(reel.reel_m for reel in found.plan if reel.source == "bought"))
    assert found.reels_opened == len(found.plan)
    assert found.least_bought_m <= found.bought_m


@settings(max_examples=examples(150))
@given(
    runs=st.lists(LENGTHS, max_size=7),
    waste=st.sampled_from([0.0, 1.5, 3.0]),
    sold=st.lists(st.sampled_from([40.0, 60.0, 75.0, 100.0, 150.0]), max_size=3),
    hand=st.lists(st.sampled_from([25.0, 42.5, 60.0, 99.0]), max_size=3),
)
def test_the_plan_is_the_best_of_all(runs: list[float], waste: float, sold: list[float], hand: list[float]) -> None:
    found = cutting_plan(runs, waste_per_run_m=waste, sold_reels_m=sold, on_hand_m=hand)
    best = by_trying_all(runs, waste, sold, hand)
    assert found.feasible == (best is not None)
    if best is not None:
        assert (found.bought_m, found.reels_opened) == (pytest.approx(best[0]), best[1])
        assert found.proven
        keeps(found, runs, waste, hand)


def test_many_runs_are_proven_and_never_worse_than_the_longest_first() -> None:
    runs = [100 + (i * 37) % 251 + i / 10 for i in range(60)]
    found = cutting_plan(runs, waste_per_run_m=3, sold_reels_m=[500, 1000, 2000], on_hand_m=[130, 220])
    keeps(found, runs, 3, [130, 220])
    stock = stock_of(runs, 3, [500, 1000, 2000], [130, 220])
    plain = first_fit_decreasing(stock)
    assert plain is not None
    assert found.proven
    assert found.bought_m <= stock.bought(plain) / PER_M


def test_where_programs_decide_a_bound_is_proven_or_the_gap_is_told() -> None:
    """Six runs of 34 m and reels of 100 m: two go on each, though 204 m would be enough were they one."""
    found = cutting_plan([34.0] * 6, sold_reels_m=[100])
    assert (found.bought_m, found.reels_opened, found.proven) == (300, 3, True)
    stock = stock_of([33.4, 33.5, 50.2, 24.9, 41.8, 74.9], 0.1, [75, 110], [])
    stopped = packed(stock, nodes=0)
    assert stopped.least_bought <= stock.bought(stopped.patterns)


def test_very_many_runs_are_cut_in_bounds() -> None:
    """Five hundred runs: a plan that holds, with its gap told where nobody proved it."""
    runs = [20 + (i * 37) % 400 + i % 10 / 10 for i in range(500)]
    found = cutting_plan(runs, sold_reels_m=[500, 1000], nodes=1)
    keeps(found, runs, 0, [])
    assert found.bought_m <= 2 * sum(runs), "half of what is bought is used at least"


@pytest.mark.parametrize(
    ("given_to", "too_long"),
    [({"sold_reels_m": [100]}, (1,)), ({"on_hand_m": [150.0], "waste_per_run_m": 60}, (1,)), ({}, (0, 1))],
)
def test_a_run_that_no_reel_holds_is_named(given_to: dict[str, object], too_long: tuple[int, ...]) -> None:
    found = cutting_plan([60, 120], **given_to)  # type: ignore[arg-type]
    assert (found.feasible, found.too_long, found.plan) == (False, too_long, ())


@pytest.mark.parametrize(
    ("field", "values"),
    [
        ("runs_m[1]", {"runs_m": [10, -1]}),
        ("runs_m[0]", {"runs_m": [float("nan")]}),
        ("sold_reels_m[0]", {"runs_m": [1], "sold_reels_m": [0]}),
        ("waste_per_run_m", {"runs_m": [1], "waste_per_run_m": -2}),
        ("runs_m", {"runs_m": [1.0] * 1001}),
    ],
)
def test_lengths_that_are_none_are_refused_by_name(field: str, values: dict[str, object]) -> None:
    with pytest.raises(MaterialError) as caught:
        cutting_plan(**values)  # type: ignore[arg-type]
    assert caught.value.field == field
