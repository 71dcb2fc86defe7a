"""A grade is judged by its own row, or by the row of a grade that it meets: each row whole."""

from __future__ import annotations

import pytest

from passerelle.core.batch import figures_of
from passerelle.core.budget.carries import carries
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)


def judge(link: Link, house: HouseRules = HOUSE) -> Review:
    found = review(link, CATALOG, house, with_fixes=False)
    (row,) = figures_of([link], CATALOG, house)
    assert (row.verdict, row.margin_db, row.on_estimate) == (found.verdict, found.margin_db, found.on_estimate)
    return found


@pytest.mark.parametrize("application", ["40GBASE-SR4", "100GBASE-SR10"])
@pytest.mark.parametrize("grade", ["OM3", "OM4", "OM5"])
def test_two_standard_pairs_at_thirty_metres(application: str, grade: str) -> None:
    """1.5 dB for two pairs and 0.1 dB of fiber: within 1.9 dB for OM3, beyond the 1.5 dB that OM4 has for 150 m."""
    found = judge(plain_link(application, grade, 30.0, cord_m=0.0))
    assert found.verdict is Verdict.PASS
    assert found.margin_db == pytest.approx(1.9 - 1.5 - 0.030 * 3.0)


@pytest.mark.parametrize(("length_m", "verdict"), [(100.0, Verdict.PASS), (100.1, Verdict.FAIL)])
def test_a_borrowed_row_keeps_its_length(length_m: float, verdict: Verdict) -> None:
    assert judge(plain_link("40GBASE-SR4", "OM4", length_m, cord_m=0.0)).verdict is verdict


def test_its_own_row_stands_where_it_holds() -> None:
    found = judge(plain_link("10GBASE-SR", "OM4", 350.0, cord_m=0.0))
    assert found.verdict is Verdict.PASS, "350 m are beyond OM3's 300 m, within OM4's 400 m"
    assert {f.what for f in found.findings if f.code == "reach.exceeded"} == set()


def test_a_poorer_cord_lends_nothing() -> None:
    """OM3 does not meet OM4: with an OM3 cord in it the whole link is OM3's."""
    link = plain_link("40GBASE-SR4", "OM4", 120.0)
    cords = [e.id for e in link.elements if e.kind == "array-cord"]
    mixed = apply_edits(link, (SetFields(element=cords[0], values={"fiber": ("OM3",)}),))
    found = judge(mixed)
    assert found.verdict is Verdict.FAIL
    assert "reaches 100 m on OM3" in next(f.what for f in found.findings if f.code == "reach.exceeded")


@pytest.mark.parametrize("grade", ["OM1", "OM2"])
def test_glass_of_other_bandwidth_borrows_nothing(grade: str) -> None:
    found = judge(plain_link("40GBASE-SR4", grade, 30.0))
    assert "fiber.not_for_application" in {f.code for f in found.findings}


def test_a_figure_of_the_project_is_not_gone_around() -> None:
    own = {"shelf": "application", "name": "40GBASE-SR4", "figure": "reaches.OM4.max_insertion_loss_db"}
    figures = [own | {"value": 1.4, "source": "the datasheet"}]
    house = HouseRules.model_validate({"margin_db": 0.0, "own_figures": figures})
    assert judge(plain_link("40GBASE-SR4", "OM4", 30.0), house).verdict is Verdict.FAIL


def test_how_far_glass_carries_what_has_no_row_of_its_own() -> None:
    on_om5 = carries(CATALOG.application("40GBASE-SR4"), "OM5", CATALOG)
    assert on_om5 is not None
    assert on_om5.reach_m == pytest.approx(100.0), "two pairs use up OM4's 1.5 dB, OM3's row is longer"
    assert carries(CATALOG.application("40GBASE-SR4"), "OM1", CATALOG) is None
