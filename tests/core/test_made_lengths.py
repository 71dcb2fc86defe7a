"""What comes at its length must reach."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import apply_edits
from passerelle.core.materials.arrival import Arrival, arrived, arrived_cable
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.port import Port
from passerelle.core.plant.riders import laid
from passerelle.core.plant.site import Plant
from passerelle.core.review import Review, review
from passerelle.core.rules.made_length import dressing_m
from passerelle.core.selection.question import answer
from passerelle.core.selection.wish import Question
from passerelle.demo.network import demo_project
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

HOUSE = HouseRules(margin_db=0.0)


def judge(link: Link, *, fixes: bool = False) -> Review:
    found = review(link, CATALOG, HOUSE, with_fixes=fixes)
    (row,) = figures_of([link], CATALOG, HOUSE)
    assert row.verdict is found.verdict
    return found


def attached(length_m: float | None, way_m: float | None, **more: object) -> Link:
    port = Port(place="row", label="1", cage="SFP28", rates_mbps=(10_000,))
    line = Assembly.model_validate(
        {"id": "a", "length_m": length_m, "way_m": way_m, "made": "active optical", "reach_m": 100, **more}
    )
    pieces = (port.model_copy(update={"id": "p"}), line, port.model_copy(update={"id": "q", "label": "2"}))
    return Link(name="attached", elements=pieces)


@pytest.mark.parametrize(
    ("length_m", "way_m", "code"),
    [
        (30.0, 30.1, "made.too_short"),
        (30.0, 30.0, "made.no_dressing"),  # today's false OK: nothing to lead it round
        (32.9, 30.0, "made.no_dressing"),
        (33.0, 30.0, None),  # 5 % at each end
        (2.5, 2.0, "made.no_dressing"),
        (2.6, 2.0, None),  # 0.3 m at each end
        (30.0, None, None),  # nobody said how far it goes
    ],
)
def test_an_assembly_must_reach(length_m: float, way_m: float | None, code: str | None) -> None:
    found = judge(attached(length_m, way_m))
    told = [f for f in found.findings if f.code.startswith("made.")]
    assert [f.code for f in told] == ([code] if code else [])
    if code == "made.too_short":
        assert found.verdict is Verdict.FAIL
        assert not found.on_estimate
        assert "does not reach: its way is 30.1 m" in told[0].what
    if code == "made.no_dressing":
        assert told[0].best is Verdict.MARGINAL


def test_a_way_that_is_a_guess_is_measured_first() -> None:
    guessed = judge(attached(50.0, 30.0, way_guessed=True))
    assert "made.on_a_guess" in {f.code for f in guessed.findings}
    assert guessed.verdict.rank <= Verdict.MARGINAL.rank
    there = judge(attached(50.0, 30.0, way_guessed=True, state="installed"))
    assert "made.on_a_guess" not in {f.code for f in there.findings}, "it lies there, it reached"


@settings(max_examples=examples(40))
@given(st.floats(0.4, 60))
def test_an_assembly_that_is_offered_reaches_with_its_dressing(way_m: float) -> None:
    question = Question(from_place="A", to_place="B", length_m=way_m, rate_mbps=10_000, media=("direct attach",))
    for option in answer(question, CATALOG, HOUSE).options:
        line = next(piece for piece in option.link.elements if isinstance(piece, Assembly))
        assert line.length_m is not None
        assert line.length_m >= way_m + dressing_m(way_m) - 1e-9
        assert not {f.code for f in judge(option.link).findings} & {"made.too_short", "made.no_dressing"}


@pytest.mark.parametrize(
    ("came_m", "verdict"),
    [(580.0, Verdict.FAIL), (599.9, Verdict.FAIL), (605.0, Verdict.MARGINAL), (610.0, Verdict.PASS)],
)
def test_plugged_cable_that_came_short_does_not_shorten_its_way(came_m: float, verdict: Verdict) -> None:
    """600 m of way and 5 m of slack at each end."""
    link = plain_link("10GBASE-LR", "OS2", 600.0)
    run = link.element("run-1")
    came = arrived(run, Arrival(line="the cable", quantity=1, length_m=came_m), CATALOG)
    assert came.way_m == 600.0
    got = link.model_copy(update={"elements": tuple(came if e.id == "run-1" else e for e in link.elements)})
    found = judge(got, fixes=True)
    assert found.verdict is verdict
    back = next(
        fix for f in found.findings if f.code == "delivery.otherwise" for fix in f.fixes if "back" in fix.label
    )
    again = apply_edits(got, back.edits)
    assert judge(again).verdict is Verdict.PASS
    assert (again.element("run-1").length_m, again.element("run-1").way_m) == (600.0, None)


def test_bare_cable_of_another_length_reaches_by_what_is_cut() -> None:
    link = plain_link("10GBASE-LR", "OS2", 250.0, pigtails=True)
    came = arrived(link.element("run-1"), Arrival(line="the cable", quantity=1, length_m=400.0), CATALOG)
    assert came.way_m is None


def _factory_made(links: list[Link], plant: Plant) -> tuple[Link, str]:
    link = next(one for one in links if one.name == "Rows 40G")
    return link, next(e.part for e in link.elements if e.kind == "trunk")


def test_a_delivery_changes_the_cable_of_the_plan_and_never_its_way() -> None:
    links, plant = demo_project()
    link, cable_id = _factory_made(links, plant)
    cable = plant.cable_of[cable_id]
    way_m = next(e.length_m for e in link.elements if e.kind == "trunk")
    short = arrived_cable(cable, Arrival(line="x", quantity=1, length_m=way_m - 1), CATALOG)
    after = plant.model_copy(update={"cables": tuple(short if c.id == cable_id else c for c in plant.cables)})
    assert after.way_of == plant.way_of
    found = judge(laid(link, Plant.model_validate(after.model_dump())))
    assert found.verdict is Verdict.FAIL
    assert "does not reach" in found.headline
    enough = cable.model_copy(update={"sold_length_m": way_m + 10})
    after = plant.model_copy(update={"cables": tuple(enough if c.id == cable_id else c for c in plant.cables)})
    assert judge(laid(link, Plant.model_validate(after.model_dump()))).verdict is Verdict.PASS
