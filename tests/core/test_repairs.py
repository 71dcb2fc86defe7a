"""Fixes: the smallest first, tried before they are offered, and none that only moves the trouble."""

from __future__ import annotations

import pytest

from passerelle.core.findings import Finding, Fix, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Insert, SetFields, apply_edits
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.piece import Plug
from passerelle.core.repairs.effort import Effort, caution_for
from passerelle.core.review import MAX_FIXES, Review, review
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)
UPC = Plug(shape="LC", polish="UPC")


def judge(link: Link) -> Review:
    return review(link, CATALOG, HOUSE)


def changed(link: Link, element: str, **values: object) -> Link:
    return apply_edits(link, (SetFields(element=element, values=values),))


def finding(link: Link, code: str) -> Finding:
    return next(f for f in judge(link).findings if f.code == code)


def taken(link: Link, fix: Fix) -> Review:
    return judge(apply_edits(link, fix.edits))


@pytest.mark.parametrize(
    ("link", "code", "first"),
    [
        (changed(plain_link(), "run-1", crossed=False), "polarity.dark", "Flip one duplex clip on the cord at near"),
        (changed(plain_link(), "cord-1", right={"shape": "LC", "polish": "APC"}), "mating.angled_flat", "Exchange the cord at near: LC/UPC to LC/UPC"),
        (changed(plain_link(), "cord-2", left={"shape": "SC", "polish": "UPC"}), "mating.shape", "Exchange the cord at far: LC/UPC to LC/UPC"),
        (changed(plain_link("10GBASE-SR", "OM4", 50), "cord-1", fiber=("OS2",)), "core.mode", "Exchange the cord at near for OM4"),
        (changed(plain_link(), "module-2", application="10GBASE-ER"), "application.differs", "Exchange the module at far for 10GBASE-LR"),
        (plain_link("1000BASE-LX", "OM2", 200), "launch.offset_missing", "Use a mode-conditioning cord at each end, its single-mode leg on the transmitter"),
        (changed(plain_link("1000BASE-BX10-D"), "module-2", application="1000BASE-BX10-D"), "pair.same_side", "Exchange the module at near for 1000BASE-BX10-U"),
        (changed(changed(plain_link(), "port-2", coding_policy="own only", make="make A"), "module-2", coding="make B"), "coding.refused", "Exchange the module at far for one coded make A"),
        (changed(changed(plain_link(), "port-2", coldest_c=-15), "module-2", temperature_class="commercial"), "temperature.outside", "Exchange the module at far for one of the extended class"),
        (changed(plain_link(), "run-1", strands=1), "mating.strands", "Make it up with two strands"),
    ],
)  # fmt: skip
def test_the_smallest_fix_comes_first_and_cures(link: Link, code: str, first: str) -> None:
    fixes = finding(link, code).fixes
    assert fixes[0].label == first
    assert not taken(link, fixes[0]).verdict.broken
    assert [fix.effort for fix in fixes] == sorted(fix.effort for fix in fixes)
    assert len(fixes) <= MAX_FIXES


def test_a_fix_that_only_moves_the_trouble_is_not_offered() -> None:
    """Making the flat cord angled at a flat module would press angled on flat there."""
    link = changed(plain_link(pairs=0), "run-1", left={"shape": "LC", "polish": "APC"})
    labels = [fix.label for fix in finding(link, "mating.angled_flat").fixes]
    assert labels == ["Re-terminate the run at near: LC/UPC to LC/UPC"]
    for trap in demo_links():
        for found in judge(trap).findings:
            for fix in found.fixes:
                assert taken(trap, fix).verdict.rank >= judge(trap).verdict.rank


def test_an_attenuator_is_sized_by_both_limits() -> None:
    """840 m: 5 dB leaves 4.5 + 0.14 at the least, too bright; 6 dB is the first that keeps 5 dB and 10.9 dB."""
    link = plain_link("10GBASE-ER", "OS2", 840)
    offered = [fix for fix in finding(link, "light.too_bright").fixes if "attenuators" in fix.label]
    assert [fix.label for fix in offered] == [
        "Put 6 dB attenuators on both fibers at far",
        "Put 7 dB attenuators on both fibers at far",
    ]
    assert all(limit.margin_db >= 0 for d in taken(link, offered[0]).directions for limit in d.limits)


def test_where_no_attenuator_keeps_both_limits_that_is_said() -> None:
    """20 km and 1 dB: 0.5 + 3.4 dB at the least of the 5 asked; 8 + 3 · 0.75 + 1.5 dB at the worst of the 10.9, and
    three splices of 0.3 dB that are assumed.
    """
    found = finding(plain_link("10GBASE-ER", "OS2", 20_000, cord_m=0.0), "light.undecided")
    assert not any("attenuator" in fix.label for fix in found.fixes)
    assert "The nearest, 1 dB, leaves −1.75 dB against too little light and −1.10 dB against too much" in found.why
    assert found.why.endswith("measure the loss, then choose.")


def test_too_big_a_pad_can_be_taken_out() -> None:
    pad = Attenuator(value_db=15, shape="LC", polish="UPC", plug_side="right")
    link = apply_edits(plain_link(length_m=9000), (Insert(after="cord-2", piece=pad),))
    fix = finding(link, "loss.over_limit").fixes[0]
    assert fix.label == "Take out the 15 dB attenuator"
    assert taken(link, fix).verdict is Verdict.PASS


@pytest.mark.parametrize("first", [True, False])
@pytest.mark.parametrize("second", [True, False])
def test_one_cord_for_two_keeps_the_polarity(first: bool, second: bool) -> None:
    patched = apply_edits(
        plain_link("10GBASE-SR", "OM3", 260, pairs=3),
        (
            SetFields(element="cord-1", values={"crossed": first}),
            SetFields(element="cord-2", values={"crossed": second}),
        ),
    )
    lights = all(lane.lights for lane in judge(patched).lanes)
    assert lights == (first == second)
    fix = finding(patched, "loss.over_limit").fixes[0]
    assert fix.label == "Replace two cords and the adapter P1 by one cord"
    assert all(lane.lights for lane in taken(patched, fix).lanes) == lights
    cord = apply_edits(patched, fix.edits).element("cord-1")
    assert isinstance(cord, Cord)
    assert cord.length_m == 4.0


def test_a_missing_adapter_is_one_click() -> None:
    cord = Cord(length_m=1, fiber=("OS2",), left=UPC, right=UPC, crossed=True)
    link = apply_edits(plain_link(), (Insert(after="panel-1", piece=cord),))
    [fix] = finding(link, "chain.open").fixes
    assert fix.label == "Insert an LC adapter"
    assert taken(link, fix).verdict is Verdict.PASS
    assert sum(isinstance(e, Panel) for e in apply_edits(link, fix.edits).elements) == 3


def test_the_habit_of_leaving_out_offset_cords_is_a_named_departure() -> None:
    link = plain_link("1000BASE-LX", "OM2", 200)
    habit = HouseRules(margin_db=0.0, offset_launch_from_m=300)
    found = review(link, CATALOG, habit)
    assert found.verdict is Verdict.MARGINAL
    assert {f.code for f in found.findings if f.best} == {"launch.omitted"}
    assert "departure from the clause" in found.findings[0].what
    long = plain_link("1000BASE-LX", "OM2", 320)
    assert review(long, CATALOG, habit).verdict is Verdict.FAIL


def test_pulling_again_comes_last_and_carries_its_caution() -> None:
    link = plain_link("10GBASE-SR", "OM2", 185)
    fixes = finding(link, "reach.exceeded").fixes
    assert all("Pull it again" in fix.label for fix in fixes)
    assert all("local codes" in fix.caution for fix in fixes)
    assert "Glass shards" in caution_for(Effort.RETERMINATE)
    assert caution_for(Effort.CORD) == ""


def test_nothing_is_offered_where_only_a_look_can_help() -> None:
    link = changed(plain_link(), "run-1", fiber=())
    assert finding(link, "fiber.unknown").fixes == ()
