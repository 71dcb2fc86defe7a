"""A project's own figures, its allowance profile, and the catalog that checks itself."""

from __future__ import annotations

from typing import get_args

import pytest
from pydantic import TypeAdapter

from passerelle.core.batch import figures_of
from passerelle.core.budget.power import Limit
from passerelle.core.catalog.consistency import check_catalog
from passerelle.core.catalog.own import OwnFigure, figure_lines, with_own
from passerelle.core.errors import CatalogError
from passerelle.core.findings import Verdict
from passerelle.core.house import FiberSchool, HouseRules, JointSchool, LengthUnit, Profile
from passerelle.core.link.edits import Edit, SetFields, apply_edits
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link

_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)
SHEET = "datasheet of make A, revision 3"


def own(shelf: str, name: str, figure: str, value: float) -> HouseRules:
    return HouseRules(own_figures=(OwnFigure.model_validate(locals() | {"source": SHEET}),))


def limit(found: Review, name: str) -> Limit:
    return next(m for d in found.directions for m in d.limits if m.name == name)


def test_an_own_figure_decides_and_carries_its_source() -> None:
    link = plain_link("10GBASE-SR", "OM4", 300.0)
    house = own("application", "10GBASE-SR", "reaches.OM4.max_insertion_loss_db", 4.0)
    before = review(link, CATALOG, HouseRules(), with_fixes=False)
    after = review(link, CATALOG, house, with_fixes=False)
    assert limit(after, "channel insertion loss").margin_db - limit(
        before, "channel insertion loss"
    ).margin_db == pytest.approx(1.1)
    assert SHEET in limit(after, "channel insertion loss").figures[0].source.text
    assert figures_of([link], CATALOG, house)[0].margin_db == pytest.approx(after.margin_db)
    assert CATALOG.application("10GBASE-SR").row("OM4").max_insertion_loss_db == 2.9  # type: ignore[union-attr]


def test_a_datasheet_for_one_figure_does_not_lend_its_name_to_the_others() -> None:
    house = own("application", "100GBASE-LR4", "rx_power_dbm.overload", 5.0)
    source = with_own(CATALOG, house.own_figures).application("100GBASE-LR4").rx_power_dbm.source
    assert source.estimate
    assert "receiver maximum" in source.text
    assert "the rest estimate" in source.text


def test_a_guarantee_takes_the_estimate_out_of_the_verdict() -> None:
    link = plain_link("10GBASE-SR", "OM4", 100.0)
    lossy = {"profile": "low-loss guaranteed"}
    assert review(link, CATALOG, HouseRules(**lossy), with_fixes=False).verdict_text == "pass on estimate"
    guaranteed = own("allowance", "mated pair, low-loss", "worst_db", 0.3).model_copy(update=lossy)
    found = review(link, CATALOG, guaranteed, with_fixes=False)
    assert found.verdict_text == "pass"
    assert sum(t.worst_db for t in found.directions[0].terms if t.part == "mated pair") == pytest.approx(0.6)


@pytest.mark.parametrize(
    ("shelf", "name", "figure", "value", "hint"),
    [
        ("application", "10GBASE-XX", "rx_power_dbm.overload", 1, "10GBASE-LR"),
        ("application", "10GBASE-LR", "colour", 1, "rx_power_dbm.overload"),
        ("allowance", "splice", "worst_db", 0.01, "least ≤ typical ≤ worst"),
        ("fiber", "OM9", "attenuation_db_per_km.850", 3, "OM4"),
        ("fiber", "OM4", "attenuation_db_per_km.850", 0.1, "least ≤ typical ≤ worst"),
        ("application", "10GBASE-LR", "reaches.OS2.penalties_db", -3, "greater than or equal to 0"),
        ("application", "10GBASE-LR", "reaches.OS2.reach_m", -3, "greater than or equal to 0"),
        ("attenuator", "attenuator", "tolerance_db", -1, "greater than or equal to 0"),
    ],
)
def test_a_wrong_own_figure_names_what_is_wrong(
    shelf: str, name: str, figure: str, value: float, hint: str
) -> None:
    with pytest.raises(CatalogError, match=hint):
        review(plain_link(), CATALOG, own(shelf, name, figure, value))


def test_every_figure_that_is_listed_can_be_replaced_by_itself() -> None:
    lines = figure_lines(CATALOG, ())
    for start in range(20):
        own_ones = [
            OwnFigure(shelf=line.shelf, name=line.name, figure=line.figure, value=line.value, source=SHEET)
            for line in lines[start::20]
        ]
        after = {(x.shelf, x.name, x.figure): x for x in figure_lines(CATALOG, tuple(own_ones))}
        for figure in own_ones:
            assert after[figure.key].value == figure.value
            assert after[figure.key].own


def test_the_same_figure_twice_is_refused() -> None:
    figure = OwnFigure(shelf="allowance", name="splice", figure="worst_db", value=0.4, source=SHEET)
    with pytest.raises(CatalogError, match="twice"):
        with_own(CATALOG, (figure, figure))


@pytest.mark.parametrize(
    ("profile", "pairs_db"), [("standard maximum", 1.5), ("typical field", 1.5), ("low-loss guaranteed", 0.7)]
)
def test_a_profile_counts_joints_without_a_class_of_their_own(profile: str, pairs_db: float) -> None:
    house = HouseRules.model_validate({"profile": profile})
    link = plain_link()
    found = review(link, CATALOG, house, with_fixes=False)
    assert sum(t.worst_db for t in found.directions[0].terms if t.part == "mated pair") == pytest.approx(pairs_db)
    fixed = SetFields(element="panel-1", values={"loss_class": "mated pair, standard"})
    other = review(apply_edits(link, (fixed,)), CATALOG, house, with_fixes=False)
    assert next(t for t in other.directions[0].terms if t.at == "panel-1").worst_db == 0.75
    typical = [f for f in found.findings if f.code == "margin.typical"]
    assert len(typical) == (profile == "typical field")


def test_custom_counts_the_projects_own_joints() -> None:
    house = own("allowance", "splice, own", "worst_db", 0.1).model_copy(update={"profile": "custom"})
    found = review(plain_link(splices=2), CATALOG, house, with_fixes=False)
    assert sum(t.worst_db for t in found.directions[0].terms if t.part == "splice") == pytest.approx(0.2)


def test_each_choice_of_a_rule_is_explained() -> None:
    for name, kind in (
        ("profile", Profile),
        ("fiber_school", FiberSchool),
        ("joint_school", JointSchool),
        ("unit", LengthUnit),
    ):
        assert tuple(CATALOG.house_rules[name].choices) == get_args(kind)


def test_the_catalog_is_consistent_or_says_why_not() -> None:
    lines = check_catalog(CATALOG)
    assert [line for line in lines if line.outcome == "broken"] == []
    assert all(line.why for line in lines if line.outcome == "explained")
    rows = sum(len(a.reaches) for a in CATALOG.applications.values())
    assert sum(line.check.startswith("channel loss") for line in lines) == rows


@pytest.mark.parametrize(
    "slip", ["reaches.OM4.max_insertion_loss_db", "rx_power_dbm.overload", "reaches.OM4.reach_m"]
)
def test_the_self_check_finds_a_slip_of_the_pen(slip: str) -> None:
    house = own("application", "10GBASE-SR", slip, {"rx_power_dbm.overload": -12.0}.get(slip, 520.0))
    broken = [x for x in check_catalog(with_own(CATALOG, house.own_figures)) if x.outcome == "broken"]
    assert {line.application for line in broken} == {"10GBASE-SR"}


def test_what_exists_and_is_not_offered_says_why() -> None:
    with pytest.raises(CatalogError, match="beyond 400 Gb/s"):
        CATALOG.application("800GBASE-SR8")
    assert not {name for group in CATALOG.absent for name in group.names} & set(CATALOG.applications)


@pytest.mark.parametrize(
    ("values", "verdict", "code"),
    [
        ({"water": "dry"}, Verdict.PASS, None),
        ({"water": "splashed", "ingress": "IP54"}, Verdict.PASS, None),
        ({"water": "hosed", "ingress": "IP54"}, Verdict.FAIL, "ingress.too_low"),
        ({"dusty": True, "ingress": "IP30"}, Verdict.FAIL, "ingress.too_low"),
        ({"dusty": True, "ingress": "IP65"}, Verdict.PASS, None),
        ({"water": "flooded"}, Verdict.UNKNOWN, "ingress.unknown"),
        ({"water": "flooded", "ingress": "IP67"}, Verdict.PASS, None),
        ({"water": "hosed", "ingress": "IP67"}, Verdict.FAIL, "ingress.too_low"),
        ({"water": "hosed", "ingress": "IP66/IP67"}, Verdict.PASS, None),
    ],
)
def test_a_box_stands_its_place_or_not(values: dict[str, object], verdict: Verdict, code: str | None) -> None:
    link = apply_edits(plain_link(), (SetFields(element="port-2", values=values),))
    found = review(link, CATALOG, HouseRules())
    assert found.verdict is verdict
    mine = [f for f in found.findings if f.code.startswith("ingress.")]
    assert [f.code for f in mine] == ([code] if code else [])
    assert all(f.fixes and f.fixes[0].effect and f.fixes[0].effect.verdict is Verdict.PASS for f in mine)


def test_a_grade_of_single_mode_connections_says_nothing_of_multimode() -> None:
    graded = SetFields(element="panel-1", values={"loss_class": "grade B"})
    single = review(apply_edits(plain_link(), (graded,)), CATALOG, HouseRules())
    assert next(t.worst_db for t in single.directions[0].terms if t.at == "panel-1") == 0.25
    multi = review(apply_edits(plain_link("10GBASE-SR", "OM4", 100.0), (graded,)), CATALOG, HouseRules())
    assert multi.verdict is Verdict.UNKNOWN
    assert [f.code for f in multi.findings if f.fixes] == ["panel.class_not_for_glass"]


def test_a_variable_attenuator_is_counted_as_loosely_as_it_is_set() -> None:
    pad = {"kind": "attenuator", "value_db": 5, "shape": "LC", "polish": "UPC", "plug_side": "left"}
    found = []
    for variable in (False, True):
        link = plain_link("10GBASE-ER", "OS2", 20_000.0)
        edit = {"op": "insert", "after": link.elements[-3].id, "piece": {**pad, "variable": variable}}
        changed = apply_edits(link, (_EDIT.validate_python(edit),))
        found.append(review(changed, CATALOG, HouseRules(), with_fixes=False))
    fixed, loose = (next(t for t in r.directions[0].terms if t.part == "attenuator") for r in found)
    assert (fixed.worst_db, loose.worst_db, loose.least_db) == (5.5, 6.0, 4.0)
    assert [f.code for f in found[1].findings if f.code == "attenuator.variable"]
