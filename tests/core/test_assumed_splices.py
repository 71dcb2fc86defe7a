"""A run longer than a reel has splices, drawn or not."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.registry import needs_of
from passerelle.core.review import Review, review
from passerelle.core.rules.splices import splices_assumed
from passerelle.core.selection.question import answer
from passerelle.core.selection.wish import Question
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

HOUSE = HouseRules(margin_db=0.0)


def judge(link: Link, house: HouseRules = HOUSE, *, fixes: bool = False) -> Review:
    found = review(link, CATALOG, house, with_fixes=fixes)
    (row,) = figures_of([link], CATALOG, house)
    assert (row.verdict, row.on_estimate) == (found.verdict, found.on_estimate)
    assert row.margin_db == pytest.approx(found.margin_db)
    return found


def long_run(km: float, application: str = "10GBASE-LR", **run: object) -> Link:
    link = plain_link(application, "OS2", km * 1000, cord_m=0.0)
    return apply_edits(link, (SetFields(element="run-1", values=run),)) if run else link


def spliced_db(found: Review) -> float:
    return sum(term.worst_db for term in found.directions[0].terms if term.part == "splice")


@pytest.mark.parametrize(("km", "count"), [(6.0, 0), (6.001, 1), (9.9, 1)])
def test_one_for_each_reel_that_ends_on_the_way(km: float, count: int) -> None:
    found = judge(long_run(km))
    assert spliced_db(found) == pytest.approx(0.3 * count)  # TIA-568.3-D: 0.3 dB a splice
    assert [f.facts["splices"] for f in found.findings if f.code == "splices.assumed"] == [count] * bool(count)
    assert found.on_estimate is bool(count), "what rests on a guess says so"


def test_thirty_four_kilometres_have_five() -> None:
    assert splices_assumed(34_000, 6000) == 5
    found = judge(long_run(34.0, "10GBASE-ER"))
    assert spliced_db(found) == pytest.approx(1.5)
    least = next(term for term in found.directions[0].terms if term.part == "splice").least_db
    assert least == 0, "they are not counted on against too much light"


def test_a_number_that_was_entered_counts_and_is_no_estimate() -> None:
    none, three = judge(long_run(9.0, splices=0)), judge(long_run(9.0, splices=3))
    assert spliced_db(none) == 0
    assert spliced_db(three) == pytest.approx(0.9)
    assert not none.on_estimate
    assert "splices.assumed" not in {f.code for f in (*none.findings, *three.findings)}


@pytest.mark.parametrize(("reel_m", "count"), [(0, 0), (2000, 4), (4000, 2), (9000, 0)])
def test_the_project_says_how_long_a_reel_is(reel_m: float, count: int) -> None:
    assert spliced_db(judge(long_run(9.0), HouseRules(margin_db=0.0, reel_m=reel_m))) == pytest.approx(0.3 * count)


def test_where_they_alone_decide_there_is_cable_it_is_unknown() -> None:
    """6.2 dB of 10GBASE-LR less 9.9 km of 0.4 dB/km and two pairs leave 0.74 dB: three splices break it."""
    house = HouseRules(margin_db=0.0, reel_m=2500)
    there = judge(long_run(9.9, state="existing"), house)
    assert there.verdict is Verdict.UNKNOWN
    assert "Only splices that nobody drew break this budget" in there.headline
    assert "Enter how many splices the run has, or measure its loss" in there.findings[0].why
    assert judge(long_run(9.9, state="existing", splices=1), house).verdict is Verdict.PASS
    assert judge(long_run(9.9, state="existing", splices=3), house).verdict is Verdict.FAIL


def test_of_new_cable_the_contract_says_what_a_splice_may_lose() -> None:
    house = HouseRules(margin_db=0.0, reel_m=2500)
    link = long_run(9.9)
    new = judge(link, house, fixes=True)
    assert (new.verdict, new.on_estimate) == (Verdict.FAIL, True)
    over = next(f for f in new.findings if f.code == "loss.over_limit")
    fix = next(f for f in over.fixes if "into the contract" in f.label)
    assert fix.label.startswith("Write at most 0.15 dB a splice")
    assert judge(apply_edits(link, fix.edits), house).verdict is Verdict.PASS


@settings(max_examples=examples(80))
@given(st.floats(1, 200_000), st.floats(100, 12_000))
def test_reels_reach_and_one_fewer_does_not(length_m: float, reel_m: float) -> None:
    count = splices_assumed(length_m, reel_m)
    assert (count + 1) * reel_m >= length_m * (1 - 1e-8)
    assert count == 0 or count * reel_m < length_m


@settings(max_examples=examples(40))
@given(st.lists(st.floats(100, 40_000), min_size=2, max_size=6))
def test_many_links_are_judged_as_each_alone(lengths: list[float]) -> None:
    links = [long_run(length / 1000, "10GBASE-ER", state="existing") for length in lengths]
    together = figures_of(links, CATALOG, HOUSE)
    for link, row in zip(links, together, strict=True):
        found = review(link, CATALOG, HOUSE, with_fixes=False)
        assert row.verdict is found.verdict
        assert row.worst_db == pytest.approx(max(d.loss.worst_db for d in found.directions))


@pytest.mark.parametrize(("length_m", "spliced"), [(300, False), (301, True)])
def test_plugged_cable_ends_where_the_house_says(length_m: float, spliced: bool) -> None:
    question = Question(from_place="A", to_place="B", length_m=length_m, rate_mbps=10_000, media=("single-mode",))
    best = answer(question, CATALOG, HouseRules()).options[0]
    kinds = [piece.kind for piece in best.link.elements]
    assert ("pigtail" in kinds) is spliced
    run = next(piece for piece in best.link.elements if piece.kind == "run")
    assert bool(run.left or run.right) is not spliced
    longer = answer(question, CATALOG, HouseRules(plugged_most_m=2000)).options[0]
    assert "pigtail" not in [piece.kind for piece in longer.link.elements]


def test_new_cable_of_several_reels_is_bought_with_its_contract() -> None:
    question = Question(from_place="A", to_place="B", length_m=9000, rate_mbps=1000, media=("single-mode",))
    best = answer(question, CATALOG, HouseRules()).options[0]
    run = next(piece for piece in best.link.elements if piece.kind == "run")
    assert run.splice_class == "splice, low-loss"
    assert any("at most 0.15 dB a splice by contract" in need.words for need in needs_of(run, CATALOG))
