"""The house margin by kind of link: plugs alone in multimode indoors, and everything else."""

from __future__ import annotations

import pytest

from passerelle.core.batch import figures_of
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.review import review
from tests.core.plain import CATALOG, plain_link


def verdict(link: Link, house: HouseRules) -> Verdict:
    (row,) = figures_of([link], CATALOG, house)
    found = review(link, CATALOG, house, with_fixes=False)
    assert (row.verdict, row.house_margin_db) == (found.verdict, found.house_margin_db), "list and link agree"
    return found.verdict


def plugged(spaces: tuple[str, ...] = ("indoors",)) -> Link:
    """OM3 at 200 m: 2.6 dB allowed, 0.7 for the fiber and 1.5 for two pairs leave 0.4 (802.3 table 52-10)."""
    link = plain_link("10GBASE-SR", "OM3", 200, cord_m=0.0)
    run = next(piece for piece in link.elements if piece.kind == "run")
    return apply_edits(link, (SetFields(element=run.id, values={"spaces": spaces}),))


def test_plugs_indoors_keep_three_tenths() -> None:
    margin = review(plugged(), CATALOG, HouseRules(), with_fixes=False).margin_db
    assert margin is not None
    assert 0.3 < margin < 1.0
    assert verdict(plugged(), HouseRules()) is Verdict.PASS


@pytest.mark.parametrize("spaces", [(), ("duct",), ("indoors", "duct"), ("aerial",)])
def test_what_may_leave_the_building_keeps_the_whole_margin(spaces: tuple[str, ...]) -> None:
    assert verdict(plugged(spaces), HouseRules()) is Verdict.MARGINAL


def test_both_sides_of_the_plugged_margin() -> None:
    margin = review(plugged(), CATALOG, HouseRules(), with_fixes=False).margin_db
    assert margin is not None
    assert verdict(plugged(), HouseRules(plugged_margin_db=margin)) is Verdict.PASS
    assert verdict(plugged(), HouseRules(plugged_margin_db=margin + 0.001)) is Verdict.MARGINAL


def test_a_splice_asks_for_the_whole_margin() -> None:
    spliced = plain_link("10GBASE-SR", "OM3", 200, cord_m=0.0, splices=1)
    found = review(spliced, CATALOG, HouseRules(), with_fixes=False)
    assert found.house_margin_db == 1.0
    assert found.verdict is not Verdict.PASS


def test_single_mode_asks_for_the_whole_margin() -> None:
    assert review(plain_link(), CATALOG, HouseRules(), with_fixes=False).house_margin_db == 1.0


def test_never_more_than_the_house_margin_and_never_less_than_a_wider_one() -> None:
    assert review(plugged(), CATALOG, HouseRules(margin_db=0.1), with_fixes=False).house_margin_db == 0.1
    assert HouseRules(margin_db=2.5).plugged_margin_db == 2.5, "older plans that asked for more keep it for all"
    assert HouseRules(margin_db=2.5, plugged_margin_db=0.3).plugged_margin_db == 0.3
    assert HouseRules(margin_db=1.0).plugged_margin_db == HouseRules().plugged_margin_db == 0.3
