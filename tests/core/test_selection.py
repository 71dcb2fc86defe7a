"""From a question to a chain, and what if."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.catalog.own import OwnFigure
from passerelle.core.errors import EditError, NoAnswerError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import glass, length_m, modules
from passerelle.core.link.edits import apply_edits
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.review import review
from passerelle.core.selection.question import answer, best_links
from passerelle.core.selection.whatif import WhatIf, try_out
from passerelle.core.selection.wish import Question
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples


def ask(
    length_m: float | None, rate_mbps: int = 10_000, house: HouseRules | None = None, **more: object
) -> Question:
    return Question.model_validate(
        {
            "from_place": "Harbor office",
            "to_place": "Cold store",
            "length_m": length_m,
            "rate_mbps": rate_mbps,
            **more,
        }
    )


@settings(max_examples=examples(25))
@given(
    length=st.one_of(st.none(), st.floats(0.5, 60_000)),
    rate=st.sampled_from(sorted({a.rate_mbps for a in CATALOG.applications.values()})),
    fiber=st.lists(st.sampled_from(list(CATALOG.fibers)), max_size=2, unique=True),
    strands=st.sampled_from([1, 2]),
    school=st.sampled_from(["pre-terminated", "spliced"]),
)
def test_nothing_is_offered_that_its_own_review_breaks(
    length: float | None, rate: int, fiber: list[str], strands: int, school: str
) -> None:
    house = HouseRules.model_validate({"joint_school": school})
    found = answer(ask(length, rate, fiber=fiber, strands=strands), CATALOG, house)
    for option in found.options:
        judged = review(option.link, CATALOG, house, with_fixes=False)
        assert not judged.verdict.broken
        assert judged.verdict_text == option.verdict_text
        assert all(lane.lights for lane in judged.lanes)
        codes = {f.code for f in judged.findings if f.best is Verdict.UNKNOWN}
        assert codes <= ({"length.unknown"} if length is None else set())
    assert all(out.reason for out in found.ruled_out)


@pytest.mark.parametrize(
    ("length", "school", "first"),
    [
        (60, "multimode where it reaches", "10GBASE-SR"),
        (120, "multimode where it reaches", "10GBASE-LR"),  # the sum says that multimode is dearer here
        (120, "single-mode everywhere", "10GBASE-LR"),
        (185, "multimode where it reaches", "10GBASE-LR"),
        (2900, "multimode where it reaches", "10GBASE-LR"),
    ],
)
def test_the_house_school_orders_the_answers(length: float, school: str, first: str) -> None:
    house = HouseRules.model_validate({"fiber_school": school})
    found = answer(ask(length), CATALOG, house)
    assert found.options[0].application == first
    assert first in found.why
    if length == 185:
        assert "10GBASE-SR on OM4 also works" in found.why


def test_glass_that_is_there_is_used_for_every_grade_that_it_may_be() -> None:
    found = answer(ask(60, fiber=["OM1", "OM2"], media=["multimode", "single-mode"]), CATALOG, HouseRules())
    assert {option.fiber for option in found.options if not option.new_cable} <= {("OM1", "OM2")}
    out = {item.application: item.reason for item in found.ruled_out}
    assert "reaches 33 m on OM1" in out["10GBASE-SR"]


def test_a_few_metres_are_one_cord_and_a_spliced_house_splices_the_rest() -> None:
    near = best_links(ask(5), CATALOG, HouseRules())[0]
    assert [type(piece) for piece in glass(near)] == [Cord]
    far = best_links(ask(300), CATALOG, HouseRules(joint_school="spliced"))[0]
    assert (
        sum(isinstance(e, Pigtail) for e in far.elements) == sum(isinstance(e, Splice) for e in far.elements) == 2
    )


def test_one_strand_gets_a_matched_pair() -> None:
    link = best_links(ask(5400, 1000, strands=1), CATALOG, HouseRules())[0]
    assert {m.application for m in modules(link)} == {"1000BASE-BX10-D", "1000BASE-BX10-U"}
    longer = best_links(ask(7400, 1000, strands=1), CATALOG, HouseRules())[0]
    sold = {m.application for m in modules(longer)}
    assert sold == {"1G-single-20km-D", "1G-single-20km-U"}, "spliced at both ends and on its way"


def test_the_form_follows_the_cage() -> None:
    link = best_links(ask(300, near={"cage": "XFP"}), CATALOG, HouseRules())[0]
    assert modules(link)[0].form == "XFP"
    assert review(link, CATALOG, HouseRules(), with_fixes=False).verdict is Verdict.PASS


@pytest.mark.parametrize(
    ("question", "hint"),
    [
        (ask(90_000), "90.01 km"),
        (ask(100, 12_345), "no application in the catalog runs"),
        (ask(100, 100_000, near={"cage": "SFP"}), "With another port at Harbor office: 100GBASE-DR on OS2"),
    ],
)
def test_no_answer_says_what_came_closest(question: Question, hint: str) -> None:
    with pytest.raises(NoAnswerError, match=hint):
        best_links(question, CATALOG, HouseRules())


def test_what_if_is_what_the_edits_make() -> None:
    link = plain_link("10GBASE-SR", "OM4", 100.0)
    found = try_out(link, WhatIf(length_m=300.0, application="25GBASE-SR"), CATALOG, HouseRules())
    made = apply_edits(link, found.edits)
    assert made == found.link
    assert length_m(made) == 300.0
    assert found.review.verdict is Verdict.FAIL
    assert try_out(link, WhatIf(), CATALOG, HouseRules()).link == link


@pytest.mark.parametrize(
    ("application", "grade"), [("10GBASE-SR", "OM3"), ("1000BASE-LX10", "OS2"), ("10GBASE-LR", "OS2")]
)
def test_the_farthest_pass_is_where_the_verdict_turns(application: str, grade: str) -> None:
    link, house = plain_link(application, grade, 30.0), HouseRules()
    farthest = try_out(link, WhatIf(), CATALOG, house).passes_to_m
    assert farthest is not None
    step = max(row.reach_m for row in CATALOG.application(application).reaches) / 200 / 200
    for length, passes in ((farthest, True), (farthest + 2 * step, False)):
        tried = try_out(link, WhatIf(length_m=length), CATALOG, house).review
        assert (tried.verdict is Verdict.PASS) == passes


def test_less_length_than_the_cords_need_is_refused() -> None:
    with pytest.raises(EditError, match="4 m already"):
        try_out(plain_link(), WhatIf(length_m=3.0), CATALOG, HouseRules())


def test_glass_without_a_row_is_no_answer() -> None:
    found = answer(ask(100, 400_000, fiber=["OM1"]), CATALOG, HouseRules())
    assert all(option.new_cable for option in found.options)
    assert all("not made for OM1" in out.reason for out in found.ruled_out if out.fiber == ("OM1",))


def test_an_own_reach_is_counted_in_what_if_and_in_the_answer() -> None:
    figures = [
        OwnFigure(
            shelf="application", name="10GBASE-LR", figure=f"reaches.OS2.{figure}", value=value, source="sheet"
        )
        for figure, value in (("reach_m", 20_000), ("max_insertion_loss_db", 12), ("power_budget_db", 16))
    ]
    house = HouseRules(own_figures=tuple(figures))
    found = try_out(plain_link("10GBASE-LR", "OS2", 15_000.0), WhatIf(), CATALOG, house)
    assert found.review.verdict is Verdict.PASS
    assert found.passes_to_m == pytest.approx(20_000, rel=0.01)
    assert "it reaches 20.00 km on OS2" in answer(ask(15_000), CATALOG, house).why
