"""What surrounds the review is as careful as the review: suggestions, reach, causes, estimates that refuse."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.budget.carries import carries
from passerelle.core.catalog.records import SPACES
from passerelle.core.findings import Severity, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.plant.records import Place
from passerelle.core.plant.site import Plant
from passerelle.core.review import Review, review
from passerelle.core.selection.identify import Evidence, identify
from passerelle.core.selection.placed import placed
from passerelle.core.selection.question import Answer, answer
from passerelle.core.selection.wish import Question
from passerelle.core.units import format_db
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules()


def ask(**more: Any) -> Question:
    return Question.model_validate(
        {"from_place": "A", "to_place": "B", "length_m": 15, "rate_mbps": 10_000, **more}
    )


def told(**more: Any) -> Answer:
    return answer(ask(**more), CATALOG, HOUSE)


def judge(link: Link, house: HouseRules = HOUSE) -> Review:
    return review(link, CATALOG, house, with_fixes=False)


def is_bare_cord(link: Link) -> bool:
    middle = [e for e in link.elements if e.kind not in ("port", "module", "jack")]
    return len(middle) == 1 and (isinstance(middle[0], Cord) or middle[0] == Twisted(length_m=15))


# Bare cords


@given(st.lists(st.sampled_from(SPACES), max_size=3, unique=True), st.floats(0.5, 20))
def test_a_bare_cord_answers_only_in_one_room(spaces: list[str], length_m: float) -> None:
    found = told(spaces=spaces, length_m=length_m)
    cords = [o.key for o in found.options if is_bare_cord(o.link)]
    assert bool(cords) == (set(spaces) <= {"indoors"})


@pytest.mark.parametrize("space", ["aerial", "wet", "sunlight", "buried", "duct", "between buildings", "plenum"])
def test_a_cord_that_leaves_the_room_is_judged_by_what_it_passes(space: str) -> None:
    cord = plain_link(cord_only=True, length_m=15)
    found = judge(apply_edits(cord, (SetFields(element="cord-1", values={"spaces": (space,)}),)))
    assert (found.verdict, found.findings[0].code) == (Verdict.FAIL, "jacket.not_rated")
    assert judge(apply_edits(cord, (SetFields(element="cord-1", values={"spaces": ("indoors",)}),))).verdict is OK


OK = Verdict.PASS


def test_two_buildings_of_the_plan_are_never_one_room() -> None:
    plant = Plant(
        places=(
            Place(id="port", name="Port", kind="site"),
            Place(id="a", name="A", within="port"),
            Place(id="b", name="B", within="port"),
            Place(id="r", name="A, room", kind="room", within="a"),
        )
    )
    apart = answer(placed(ask(), plant), CATALOG, HOUSE)
    assert not any(is_bare_cord(o.link) for o in apart.options)
    assert {o.medium for o in apart.options} <= {"multimode", "single-mode"}
    inside = answer(placed(ask(to_place="A, room"), plant), CATALOG, HOUSE)
    assert any(is_bare_cord(o.link) for o in inside.options)


# How far a cable carries


def test_a_cable_carries_no_farther_than_its_own_loss_allows() -> None:
    """10GBASE-LR on OS1: (6.2 − 2 · 0.75) dB over 1 dB/km are 4.7 km of the 10 km in the table."""
    found = carries(CATALOG.application("10GBASE-LR"), "OS1", CATALOG)
    assert found is not None
    assert (round(found.reach_m), found.limited_by) == (4700, "loss")
    by_table = carries(CATALOG.application("10GBASE-LR"), "OS2", CATALOG)
    assert by_table is not None
    assert (by_table.reach_m, by_table.limited_by) == (10_000, "table")
    fast = carries(CATALOG.application("400GBASE-LR8"), "OS1", CATALOG)
    assert fast is not None
    assert fast.reach_m < 5000
    each = identify(Evidence(jacket="yellow"), CATALOG).each
    assert {line.limited_by for line in each if line.grade == "OS1" and line.rate_mbps == 400_000} == {"loss"}


@given(st.sampled_from(list(CATALOG.applications)), st.sampled_from(list(CATALOG.fibers)))
def test_what_carries_is_what_the_review_passes(name: str, grade: str) -> None:
    """Just inside, a chain with two pairs breaks neither reach nor loss; just outside it breaks one of them."""
    application = CATALOG.application(name)
    found = carries(application, grade, CATALOG)
    if found is None or found.reach_m < 5:
        return
    dark = {"reach.exceeded", "loss.over_limit"}
    inside, outside = (
        {f.code for f in judge(plain_link(name, grade, found.reach_m * factor, cord_m=0.0)).findings}
        for factor in (0.999, 1.002)
    )
    assert not inside & dark
    assert outside & {*dark, "light.undecided"}


# The list and the link


@pytest.mark.parametrize("length_m", [20.0, 500.0])
def test_a_grade_that_is_missing_does_not_hide_a_length_that_cannot_be(length_m: float) -> None:
    """500 m of OM1 at 10 Gb/s fail whatever the cord is; 20 m are not known."""
    link = apply_edits(
        plain_link("10GBASE-SR", "OM1", length_m), (SetFields(element="cord-1", values={"fiber": ()}),)
    )
    single, listed = judge(link), figures_of([link], CATALOG, HOUSE)[0]
    assert single.verdict is listed.verdict is (Verdict.FAIL if length_m > 33 else Verdict.UNKNOWN)


# Causes


@pytest.mark.parametrize(
    ("application", "length_m", "reach"), [("1000BASE-SX", 316, "275 m"), ("10GBASE-SR", 320, "33 m")]
)
def test_the_headline_names_the_reach_and_not_the_loss_that_follows(
    application: str, length_m: float, reach: str
) -> None:
    found = judge(plain_link(application, "OM1", length_m))
    assert reach in found.headline
    assert {f.code for f in found.findings} >= {"reach.exceeded", "loss.over_limit"}


def test_margins_have_two_digits_where_a_person_checks_by_hand() -> None:
    assert (format_db(-0.081, 2), format_db(0.0, 2), format_db(-0.081)) == ("−0.09 dB", "+0.00 dB", "−0.1 dB")
    found = judge(plain_link("10GBASE-SR", "OM3", 200, pairs=4))
    assert "= −1.03 dB" in next(f for f in found.findings if f.code == "loss.over_limit").why


def test_an_offset_launch_on_laser_optimized_glass_is_a_caution() -> None:
    for grade, verdict in (("OM3", Verdict.MARGINAL), ("OM4", Verdict.MARGINAL), ("OM2", Verdict.FAIL)):
        assert judge(plain_link("1000BASE-LX", grade, 300), HouseRules(margin_db=0)).verdict is verdict
    link = plain_link("10GBASE-LRM", "OM3", 100)
    odd = apply_edits(link, (SetFields(element="cord-1", values={"offset_launch": "left"}),))
    assert next(f for f in judge(odd).findings if f.code == "launch.not_said").severity is Severity.CAUTION


def test_the_cord_of_the_wrong_core_names_the_piece_that_it_does_not_match() -> None:
    link = plain_link("1000BASE-LX", "OM1", 300)
    cords = [SetFields(element=f"cord-{n}", values={"offset_launch": s}) for n, s in ((1, "left"), (2, "right"))]
    odd = apply_edits(link, (*cords, SetFields(element="cord-1", values={"fiber": ("OM2",)})))
    words = [f.what for f in judge(odd).findings if f.code == "launch.core"]
    assert "made for 50 µm, the run at far is 62.5 µm." in words[0].replace("at near", "at far")


# Working together


@pytest.mark.parametrize(
    ("near", "far", "length_m"),
    [
        ("100GBASE-DR", "100GBASE-FR1", 480),
        ("100GBASE-DR", "100GBASE-LR1", 480),
        ("100GBASE-FR1", "100GBASE-LR1", 1900),
        ("50GBASE-FR", "50GBASE-LR", 1900),
        ("400GBASE-FR8", "400GBASE-LR8", 1900),
    ],
)
def test_two_classes_work_together_within_the_shorter_channel(near: str, far: str, length_m: float) -> None:
    def facing(metres: float) -> Review:
        link = plain_link(near, "OS2", metres)
        return judge(apply_edits(link, (SetFields(element="module-2", values={"application": far}),)))

    found = facing(length_m)
    assert not any(f.code == "application.differs" for f in found.findings)
    assert any(f.code == "application.mixed" for f in found.findings)
    for direction in found.directions:
        receiver = CATALOG.application(far if direction.application == near else near)
        bright = next(limit for limit in direction.limits if limit.name == "receiver overload")
        assert bright.figures[0].value == receiver.rx_power_dbm.overload
    assert facing(length_m * 1.2).findings[0].code == "reach.exceeded"


def test_a_stronger_transmitter_can_blind_the_other_class() -> None:
    """100GBASE-LR1 sends 4.8 dBm, 100GBASE-DR takes 4.0: a short pair is not kept by either clause alone."""
    other = SetFields(element="module-2", values={"application": "100GBASE-LR1"})
    found = judge(apply_edits(plain_link("100GBASE-DR", "OS2", 10), (other,)))
    assert found.findings[0].code == "light.too_bright"
    assert found.verdict_text == "fail on estimate"


# What refuses on an estimate says so


def assembly(length_m: float, **more: Any) -> Link:
    port = Port(cage="SFP28", rates_mbps=(10_000, 25_000))
    line = Assembly.model_validate(
        {"length_m": length_m, "made": "active optical", "left_form": "SFP28", "right_form": "SFP28",
         "rate_mbps": 25_000, **more}
    )  # fmt: skip
    return with_ids(Link(name="a", elements=(port, line, port)))


@pytest.mark.parametrize(
    ("length_m", "more", "words"),
    [
        (20, {}, "pass on estimate"),
        (50, {}, "unknown"),
        (50, {"reach_m": 70}, "pass"),
        (150, {}, "fail on estimate"),
        (5, {"left_form": "SFP+", "right_form": "SFP+"}, "unknown"),
        (5, {"left_form": "SFP+", "right_form": "SFP+", "reach_m": 5}, "pass"),
    ],
)
def test_optical_assemblies_are_unknown_until_their_datasheet_is_noted(
    length_m: float, more: dict[str, Any], words: str
) -> None:
    assert judge(assembly(length_m, **more)).verdict_text == words


def test_five_gigabit_over_category_5e_works_under_a_condition() -> None:
    port = Port(cage="RJ45", rates_mbps=(5000,))
    link = with_ids(Link(name="t", elements=(port, Twisted(length_m=40, category="Category 5e"), port)))
    assert (judge(link).verdict, judge(link).findings[0].code) == (Verdict.MARGINAL, "copper.conditional")


def test_a_refusal_is_an_estimate_only_while_no_figure_of_a_clause_refuses() -> None:
    assert judge(plain_link("10GBASE-LR", "OS2", 12_000)).verdict_text == "fail"
    assert judge(plain_link("10GBASE-BR20-D", "OS2", 25_000)).verdict_text == "fail on estimate"
    doubled = SetFields(element="run-1", values={"crossed": True, "strands": 2})
    mixed = apply_edits(plain_link("10GBASE-BR20-D", "OS2", 25_000), (doubled,))
    assert judge(mixed).verdict_text == "fail"
    for name in ("10GBASE-LR", "10GBASE-BR20-D", "10GBASE-BR40-D", "10GBASE-ER"):
        for metres in (50, 3000, 18_000, 41_000):
            link = plain_link(name, "OS2", metres)
            assert figures_of([link], CATALOG, HOUSE)[0].verdict_text == judge(link).verdict_text, (name, metres)


# Nothing is nothing for want of an input or of a row


def test_a_make_that_was_not_said_is_asked_for_and_no_radio_is_advised() -> None:
    found = told(near={"cage": "SFP+", "coding_policy": "own only"})
    assert [(a.field, "which make" in a.words) for a in found.asks] == [("near.make", True)]
    assert found.options
    assert found.fallbacks == ()
    assert told(length_m=500_000).fallbacks == ()
    assert told(near={"cage": "SFP+", "coding_policy": "own only", "make": "make A"}).asks == ()


@pytest.mark.parametrize("km", [11, 15, 20, 25, 30, 35, 40])
def test_ten_gigabit_over_many_kilometres_has_an_answer(km: int) -> None:
    found = told(length_m=km * 1000)
    assert found.options, [out.reason for out in found.ruled_out]


@pytest.mark.parametrize(
    ("rate", "strands", "length_m", "application"),
    [
        (10_000, 1, 8_000, "10GBASE-BR10-D"),
        (10_000, 1, 15_000, "10GBASE-BR20-D"),
        (10_000, 1, 30_000, "10GBASE-BR40-D"),
        (25_000, 1, 8_000, "25GBASE-BR10-D"),
        (50_000, 1, 8_000, "50GBASE-BR10-D"),
        (1_000, 1, 18_000, "1G-single-20km-D"),
        (1_000, 2, 35_000, "1G-40km"),
        (25_000, 2, 30_000, "25GBASE-ER"),
        (200_000, 2, 30_000, "200GBASE-ER4"),
        (400_000, 2, 5_000, "400GBASE-LR4-6"),
        (40_000, 2, 100, "40G-SWDM4"),
        (100_000, 2, 60, "100G-SWDM4"),
    ],
)
def test_what_is_sold_is_offered_on_estimate(rate: int, strands: int, length_m: float, application: str) -> None:
    found = told(rate_mbps=rate, strands=strands, length_m=length_m)
    option = next(o for o in found.options if o.application == application)
    assert option.verdict_text.endswith("on estimate")


def test_the_colors_of_a_grid_are_one_answer_unless_one_is_asked_for() -> None:
    shown = {o.application for o in told(rate_mbps=1000, length_m=40_000).options if "grid" in o.application}
    assert len(shown) <= 1
    asked = told(rate_mbps=1000, length_m=30_000, application="1G-grid-80km-1610").options
    assert {o.application for o in asked} == {"1G-grid-80km-1610"}


# What cable


@pytest.mark.parametrize(
    ("seen", "likely"),
    [
        ({"jacket": "aqua"}, {"OM3", "OM4"}),
        ({"connector": "lime"}, {"OM5"}),
        ({"jacket": "violet"}, {"OM4"}),
        ({"connector": "beige"}, {"62.5/125-160", "OM1"}),
    ],
)
def test_a_candidate_is_likely_against_the_best_one(seen: dict[str, str], likely: set[str]) -> None:
    found = identify(Evidence.model_validate(seen), CATALOG)
    assert {c.grade for c in found.candidates if c.likely} == likely
    assert not any("print" in words for words in found.contradictions)


# The sum and the school


def test_the_sum_orders_where_the_school_says_cheaper_and_the_prices_say_dearer() -> None:
    near, far = told(length_m=60, media=["multimode", "single-mode"]), told(length_m=120)
    assert near.options[0].medium == "multimode"
    assert "otherwise" not in near.why
    assert far.options[0].medium == "single-mode"
    assert "the sum says otherwise: 10GBASE-SR on OM4" in far.why
    glass = [o.cost.total for o in far.options if o.verdict_text.startswith("pass")]
    assert glass == sorted(glass)


def test_a_margin_wider_than_the_house_margin_is_not_called_inside_it() -> None:
    everywhere = HouseRules(fiber_school="single-mode everywhere")
    for length_m in (100, 185, 300, 2000):
        for house in (HOUSE, everywhere):
            why = answer(ask(length_m=length_m, later_mbps=None), CATALOG, house).why
            if "inside the house margin" in why:
                margin = float(why.split(" dB inside")[0].rsplit("+", 1)[-1])
                assert margin < house.margin_db
