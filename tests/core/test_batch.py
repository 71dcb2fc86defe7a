"""The batch says of each link what the review says of it."""

import subprocess
import sys

import pytest
from cachetools import RRCache
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from passerelle.core import batch
from passerelle.core.batch import Figures, figures_of
from passerelle.core.catalog.own import OwnFigure
from passerelle.core.errors import EditError
from passerelle.core.findings import Severity, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Remove, SetFields, apply_edits
from passerelle.core.link.names import check_names
from passerelle.core.review import review
from passerelle.demo.port_aubier import demo_links
from tests.core.any_link import any_link, is_named
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples


def expected(link: Link, house: HouseRules) -> Figures:
    found = review(link, CATALOG, house, with_fixes=False)
    marks: list[Severity | None] = []
    for element in link.elements:
        here = [f.severity for f in found.findings if element.id in f.marked and f.severity is not Severity.NOTE]
        marks.append(min(here, key=list(Severity).index, default=None))
    loss = found.loss
    return Figures(
        verdict=found.verdict,
        on_estimate=found.on_estimate,
        margin_db=found.margin_db,
        worst_db=loss.worst_db if loss else None,
        expected_db=loss.expected_db if loss else None,
        least_db=loss.least_db if loss else None,
        length_m=found.length_m,
        applications=found.applications,
        marks=tuple(marks),
        stage=found.stage,
        as_measured=found.as_measured,
    )


def same(batch: Figures, single: Figures, link: Link) -> None:
    for name in ("margin_db", "worst_db", "expected_db", "least_db", "length_m"):
        a, b = getattr(batch, name), getattr(single, name)
        assert (a is None) == (b is None), (link.name, name)
        assert a is None or abs(a - b) < 2e-6, (link.name, name)
    for name in ("verdict", "on_estimate", "applications", "marks", "stage", "as_measured"):
        assert getattr(batch, name) == getattr(single, name), (link.name, name)


def test_the_demo_in_one_batch() -> None:
    house = HouseRules()
    links = demo_links()
    for link, figures in zip(links, figures_of(links, CATALOG, house), strict=True):
        same(figures, expected(link, house), link)


def reviewable(link: Link) -> bool:
    try:
        check_names(link, CATALOG)
    except EditError:
        return False
    return True


HOUSES = st.builds(
    HouseRules,
    margin_db=st.sampled_from([0.0, 1.0]),
    offset_launch_from_m=st.sampled_from([0.0, 300.0]),
    profile=st.sampled_from(["standard maximum", "typical field", "low-loss guaranteed"]),
)


@settings(max_examples=examples(80))
@given(st.lists(any_link().filter(reviewable), min_size=1, max_size=5), HOUSES)
def test_any_links_in_one_batch_are_as_each_by_itself(links: list[Link], house: HouseRules) -> None:
    for link, figures in zip(links, figures_of(links, CATALOG, house), strict=True):
        same(figures, expected(link, house), link)


@settings(max_examples=examples(30))
@given(any_link().filter(reviewable), HOUSES)
def test_what_a_fix_promises_is_what_the_link_is_after_it(link: Link, house: HouseRules) -> None:
    found = review(link, CATALOG, house, detail=False)
    for finding in found.findings:
        for fix in finding.fixes[:2]:
            [after] = figures_of([apply_edits(link, fix.edits)], CATALOG, house)
            assert fix.effect is not None
            assert (fix.effect.verdict, fix.effect.on_estimate) == (after.verdict, after.on_estimate), fix.label
            assert fix.effect.margin_db == after.margin_db, fix.label
            assert not after.verdict.broken or found.verdict.broken, "a fix breaks nothing that was whole"


@settings(max_examples=examples(60))
@given(any_link().filter(reviewable), HOUSES)
def test_no_finding_is_milder_than_the_verdict_and_one_carries_it(link: Link, house: HouseRules) -> None:
    """The verdict is that of the worst finding; a link that nothing objects to passes or cannot be judged."""
    found = review(link, CATALOG, house, with_fixes=False, detail=False)
    worst = min((f.best.rank for f in found.findings if f.best), default=None)
    if found.verdict is Verdict.UNKNOWN:
        assert worst is None or worst >= Verdict.UNKNOWN.rank
    else:
        assert worst == (found.verdict.rank if found.verdict is not Verdict.PASS else None)
    assert found.verdict is not Verdict.PASS or found.complete, "nothing passes while an input is missing"


MARKED = [
    (plain_link("10GBASE-SR", "OM4", 900.0), {"run-1": Severity.FAIL, "module-1": Severity.FAIL}),
    (plain_link("10GBASE-SR", "OM4", 390.0, pairs=4), {"run-1": None, "module-2": Severity.FAIL, "cord-1": None}),
    (plain_link("10GBASE-ER", "OS2", 3000.0), {"module-1": Severity.FAIL, "run-1": None}),
    (plain_link("1000BASE-LX", "OM2", 200.0), {"module-1": Severity.FAIL, "cord-1": None}),
    (plain_link("10GBASE-LR", "OS2", None), {"run-1": Severity.CAUTION, "module-1": None}),
]


@pytest.mark.parametrize(("link", "marks"), MARKED)
def test_the_mark_stands_where_the_trouble_is(link: Link, marks: dict[str, Severity | None]) -> None:
    [figures] = figures_of([link], CATALOG, HouseRules(margin_db=0.0))
    there = dict(zip((e.id for e in link.elements), figures.marks, strict=True))
    assert {name: there[name] for name in marks} == marks


def facts_of(link: Link, code: str) -> dict[str, float | str]:
    found = review(link, CATALOG, HouseRules(), with_fixes=False).findings
    return next(finding.facts for finding in found if finding.code == code)


def test_a_finding_over_lengths_carries_the_figures_of_its_sentence() -> None:
    long = plain_link("10GBASE-SR", "OM4", 900.0)
    assert facts_of(long, "reach.exceeded") == {"length_m": 904.0, "reach_m": 400.0, "fiber": "OM4"}
    dark = facts_of(long, "loss.over_limit")
    assert (dark["limit"], dark["application"]) == ("channel insertion loss", "10GBASE-SR")
    assert dark["margin_db"] == figures_of([long], CATALOG, HouseRules())[0].margin_db
    assert facts_of(plain_link("1000BASE-LX", "OM2", 200.0), "launch.offset_missing") == {"fiber": "OM2"}


STAGES = {
    "survey": plain_link("10GBASE-LR", "OS2", None),
    "layout": apply_edits(plain_link(), (Remove(element="panel-1"),)),
    "match": apply_edits(plain_link(), (SetFields(element="run-1", values={"crossed": False}),)),
    "budget": plain_link("10GBASE-SR", "OM4", 900.0),
    "order": plain_link(),
}


@pytest.mark.parametrize("stage", STAGES)
def test_the_stage_is_the_first_with_open_work(stage: str) -> None:
    [figures] = figures_of([STAGES[stage]], CATALOG, HouseRules())
    assert figures.stage == stage


CHANGED = [
    ("application", "10GBASE-SR", "reaches.OM4.reach_m", 250.0, plain_link("10GBASE-SR", "OM4", 300.0), "fail"),
    (
        "application",
        "10GBASE-SR",
        "reaches.OM4.max_insertion_loss_db",
        1.6,
        plain_link("10GBASE-SR", "OM4", 100.0),
        "fail",
    ),
    ("application", "10GBASE-LR", "tx_power_dbm.max", 3.0, plain_link("10GBASE-LR", "OS2", 1000.0), "fail"),
    ("application", "10GBASE-LR", "rx_power_dbm.overload", -6.0, plain_link("10GBASE-LR", "OS2", 1000.0), "fail"),
    ("fiber", "OS2", "attenuation_db_per_km.1310", 2.0, plain_link("10GBASE-LR", "OS2", 2900.0), "fail"),
    ("allowance", "mated pair", "worst_db", 3.0, plain_link("10GBASE-LR", "OS2", 2900.0), "fail"),
]


@pytest.mark.parametrize(("shelf", "name", "figure", "value", "link", "after"), CHANGED)
def test_a_figure_of_the_catalog_that_changes_moves_the_verdict(
    shelf: str, name: str, figure: str, value: float, link: Link, after: str
) -> None:
    own = OwnFigure.model_validate(
        {"shelf": shelf, "name": name, "figure": figure, "value": value, "source": "a datasheet"}
    )
    before, moved = HouseRules(margin_db=0.0), HouseRules(margin_db=0.0, own_figures=(own,))
    assert [f.verdict.value for f in figures_of([link], CATALOG, before)] == ["pass"]
    assert [f.verdict.value for f in figures_of([link], CATALOG, moved)] == [after]
    assert review(link, CATALOG, moved, with_fixes=False).verdict.value == after


@settings(max_examples=examples(60))
@given(any_link())
def test_a_sentence_with_a_figure_of_the_link_comes_with_its_facts(link: Link) -> None:
    """What a finding says of this link in figures is there to be read by a program too."""
    assume(is_named(link))
    for finding in review(link, CATALOG, HouseRules(), with_fixes=False).findings:
        if any(character.isdigit() for character in finding.what):
            assert finding.facts, (finding.code, finding.what)


SIDE_BY_SIDE = """
from passerelle.core import side_by_side
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.demo.port_aubier import demo_links
side_by_side.MANY, side_by_side.os.cpu_count = 1, lambda: 3
given = [link for link in demo_links() for _ in range(3)], load_catalog(), HouseRules()
assert side_by_side.figures_side_by_side(*given) == figures_of(*given)
"""


def test_side_by_side_says_the_same_as_one_after_the_other() -> None:
    """In a process of its own: one that has threads, as this may, must not be forked."""
    subprocess.run([sys.executable, "-c", SIDE_BY_SIDE], check=True, timeout=120)


def test_a_kind_that_had_to_go_is_judged_again_the_same(monkeypatch: pytest.MonkeyPatch) -> None:
    """More kinds than may be kept: some go at random, and no answer changes."""
    links = [plain_link(length_m=50.0 + n, splices=n % 5, pairs=2 + n % 7) for n in range(60)]
    first = figures_of(links, CATALOG, HouseRules())
    monkeypatch.setattr(batch, "_KINDS", RRCache(3 * batch.KIND_BYTES, getsizeof=lambda _one: batch.KIND_BYTES))
    assert figures_of(links, CATALOG, HouseRules()) == first
    assert figures_of(links[::-1], CATALOG, HouseRules()) == first[::-1]
