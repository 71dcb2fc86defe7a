"""A module from its datasheet takes part in everything; what the sheet leaves open makes verdicts on estimate."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from passerelle.core.batch import figures_of
from passerelle.core.catalog.datasheet import dispersion_ps_per_nm_km
from passerelle.core.errors import CatalogError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, modules
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.review import Review, review
from passerelle.core.selection.question import answer
from passerelle.core.selection.whatif import WhatIf, try_out
from passerelle.core.selection.wish import Question
from tests.core.plain import CATALOG, plain_link

SHEET: dict[str, Any] = {
    "name": "long 10G of the store",
    "like": "10GBASE-ER",
    "rate_mbps": 10_000,
    "wavelengths_nm": (1550,),
    "forms": ("SFP+",),
    "launch_min_dbm": 0.0,
    "launch_max_dbm": 4.0,
    "sensitivity_dbm": -24.0,
    "overload_dbm": -7.0,
    "damage_dbm": 3.0,
    "penalty_db": 2.0,
    "dispersion_ps_per_nm": 1600.0,
    "source": "Long-reach module, revision 3, 2026-02-01",
}


def house(*sheets: dict[str, Any]) -> HouseRules:
    return HouseRules.model_validate({"own_modules": [{**SHEET, **sheet} for sheet in sheets or ({},)]})


def with_modules(length_m: float, near: str, far: str) -> Link:
    unspliced = SetFields(element="run-1", values={"splices": 0})
    link = apply_edits(plain_link("10GBASE-ER", "OS2", length_m), (unspliced,))
    ends = zip(modules(link), (near, far), strict=True)
    return apply_edits(link, tuple(SetFields(element=m.id, values={"application": n}) for m, n in ends))


def judge(length_m: float, rules: HouseRules, near: str = SHEET["name"], far: str = SHEET["name"]) -> Review:
    return review(with_modules(length_m, near, far), CATALOG, rules, with_fixes=False)


def test_all_deciding_figures_given_is_no_estimate() -> None:
    """45 km of OS2 at 0.4 dB/km and two pairs: 19.5 of 0 − (−24) − 2 = 22 dB; the least, 7.7 dB, is too bright."""
    found = judge(45_000, house())
    assert found.directions[0].limits[0].margin_db == pytest.approx(22 - 18 - 1.5 - 0.0016)
    assert found.verdict is Verdict.UNKNOWN, "11 dB are asked, 7.7 to 19.5 dB may be there, 22 dB are allowed"
    bright = {limit.name: limit.margin_db for limit in found.directions[0].limits}
    assert bright["receiver overload"] == pytest.approx(-7 - 4 + 45 * 0.17, abs=0.01)
    sure = judge(45_000, house({"overload_dbm": 4.0, "damage_dbm": 5.0}))
    assert sure.verdict_text == "pass"


@pytest.mark.parametrize("left_out", ["launch_min_dbm", "sensitivity_dbm", "penalty_db"])
def test_a_figure_that_the_sheet_does_not_give_makes_it_an_estimate(left_out: str) -> None:
    found = judge(20_000, house({"overload_dbm": 4.0, "damage_dbm": 5.0, "penalty_db": 0.5, left_out: None}))
    assert found.verdict_text.endswith("on estimate")


def test_the_dispersion_that_it_stands_ends_its_reach() -> None:
    """1600 ps/nm over at most 18.0 ps/nm·km (ITU-T G.652) are 89 km; a reach that is said shortens it."""
    assert dispersion_ps_per_nm_km(1550) == pytest.approx(17.96, abs=0.05)
    assert dispersion_ps_per_nm_km(1310) < 1.5
    made = house_catalog(CATALOG, house()).application(SHEET["name"])
    row = made.row("OS2")
    assert row is not None
    assert row.reach_m == pytest.approx(1600 / dispersion_ps_per_nm_km(1550) * 1000, rel=1e-3)
    assert row.source.derived
    assert made.row("OM4") is None
    said = house({"reaches": [{"grade": "OS2", "reach_m": 60_000}]})
    shorter = house_catalog(CATALOG, said).application(SHEET["name"]).row("OS2")
    assert shorter is not None
    assert shorter.reach_m == 60_000


def test_it_answers_questions_with_its_price_and_its_what_if() -> None:
    question = Question(from_place="A", to_place="B", length_m=45_000, rate_mbps=10_000)
    rules = house({"overload_dbm": 4.0, "damage_dbm": 5.0})
    found = next(o for o in answer(question, CATALOG, rules).options if o.application == SHEET["name"])
    assert found.verdict_text == "pass on estimate", "splices are assumed on 45 km"
    assert any(line.item.startswith(f"module, {SHEET['name']},") and line.price > 0 for line in found.cost.lines)
    tried = try_out(found.link, WhatIf(length_m=50_000), CATALOG, rules)
    assert tried.passes_to_m is not None
    assert figures_of([found.link], CATALOG, rules)[0].verdict_text == found.verdict_text


def test_it_may_face_what_its_sheet_names() -> None:
    """Each direction by its own ends: 10GBASE-ER launches −4.7 dBm at the least into a receiver that needs −24."""
    alone = judge(20_000, house(), far="10GBASE-ER")
    assert alone.findings[0].code == "application.differs"
    rules = house({"works_with": ["10GBASE-ER"]})
    found = judge(20_000, rules, far="10GBASE-ER")
    assert any(f.code == "application.mixed" for f in found.findings)
    to_right = {limit.name: limit for limit in found.directions[0].limits}
    assert to_right["receiver overload"].figures[0].value == -1.0  # that of 10GBASE-ER, which receives
    to_left = {limit.name: limit for limit in found.directions[1].limits}
    assert to_left["receiver overload"].figures[0].value == -7.0


@pytest.mark.parametrize(
    ("sheet", "words"),
    [
        ({"name": "10GBASE-LR"}, "stands in the catalog already"),
        ({"like": "1000BASE-SX"}, "another rate"),
        ({"like": "nothing"}, "no application is called"),
        ({"works_with": ["nothing"]}, "no 'nothing' that it could face"),
        ({"families": ["multimode"]}, "say how far it goes"),
        ({"overload_dbm": None, "sensitivity_dbm": 5.0, "damage_dbm": None}, "do not follow each other"),
    ],
)
def test_a_sheet_that_cannot_be_says_why(sheet: dict[str, Any], words: str) -> None:
    with pytest.raises(CatalogError, match=words):
        house_catalog(CATALOG, house(sheet))


def test_swapped_figures_and_half_a_pair_are_refused_where_they_are_typed() -> None:
    with pytest.raises(ValidationError, match="they are swapped"):
        house({"launch_min_dbm": 5.0})
    with pytest.raises(ValidationError, match="other side of its pair"):
        house({"fibers": 1})


def test_two_sides_over_one_strand() -> None:
    sides = (
        {"name": "side A", "fibers": 1, "partner": "side B", "like": "10GBASE-BR40-D", "wavelengths_nm": (1330,)},
        {"name": "side B", "fibers": 1, "partner": "side A", "like": "10GBASE-BR40-U", "wavelengths_nm": (1270,)},
    )
    rules = house(*sides)
    question = Question(from_place="A", to_place="B", length_m=20_000, rate_mbps=10_000, strands=1)
    found = next(o for o in answer(question, CATALOG, rules).options if o.application == "side A")
    assert {m.application for m in modules(found.link)} == {"side A", "side B"}
