"""What is worth testing of a link, when and why; what its proof comes to in words."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.acceptance.methods import uncertainty_db
from passerelle.core.acceptance.plan import MOMENTS, Task
from passerelle.core.acceptance.plan import test_plan as planned
from passerelle.core.acceptance.proof import Proof, proof_of
from passerelle.core.accepted import Certified, CopperValue, Inspected, StrandsTraced
from passerelle.core.events import Event
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Measure, SetFields, apply_edits
from passerelle.core.link.readings import Reading, ReferenceMethod
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link
from tests.core.test_readings import WHOLE

NEAR = plain_link("1000BASE-LX10", "OS2", 120)


def tasks(link: Link, **rules: Any) -> tuple[Task, ...]:
    return planned(compose(link, CATALOG), CATALOG, HouseRules(**rules))


def count(found: tuple[Task, ...], kind: str, moment: str = "after termination") -> int:
    return sum(1 for task in found if (task.kind, task.moment) == (kind, moment))


def test_polarity_comes_before_loss_and_moments_follow_each_other() -> None:
    found = tasks(plain_link("1000BASE-LX10", "OS2", 900))
    assert [MOMENTS.index(task.moment) for task in found] == sorted(MOMENTS.index(task.moment) for task in found)
    kinds = [task.kind for task in found if task.moment == "after termination"]
    assert list(dict.fromkeys(kinds)) == ["inspect", "polarity", "loss", "trace"]
    assert all(task.minutes > 0 and task.tools and task.why for task in found)


@pytest.mark.parametrize(
    ("link", "rules", "loss", "traces"),
    [
        (NEAR, {}, 4, 0),
        (NEAR, {"test_directions": "always both"}, 8, 0),
        (NEAR, {"test_traces": "always"}, 4, 8),
        (plain_link("1000BASE-LX10", "OS2", 900), {}, 4, 8),
        (plain_link("1000BASE-LX10", "OS2", 900), {"test_traces": "never"}, 4, 0),
        (plain_link("1000BASE-LX10", "OS2", 900), {"trace_from_m": 1000}, 4, 0),
        (plain_link("1000BASE-LX10", "OS2", 120, pigtails=True), {}, 8, 8),
        (plain_link("1000BASE-LX10", "OS2", 120, pigtails=True), {"test_directions": "one"}, 4, 8),
        (plain_link("1000BASE-LX10", "OS2", 3000), {}, 8, 8),
        (plain_link("1000BASE-BX10-D", "OS2", 120), {}, 2, 0),
        (plain_link("10GBASE-SR", "OM3", None), {}, 4, 0),
        (plain_link("1000BASE-SX", "OM2", 20.0, cord_only=True), {}, 0, 0),
    ],
)
def test_what_pays_is_tested_and_the_house_has_the_last_word(
    link: Link, rules: dict[str, Any], loss: int, traces: int
) -> None:
    found = tasks(link, **rules)
    assert (count(found, "loss"), count(found, "trace")) == (loss, traces)


def test_splices_that_nobody_counted_are_looked_for_by_trace() -> None:
    def told(length_m: float, **said: Any) -> tuple[set[str], int]:
        link = plain_link("10GBASE-ER", "OS2", length_m)
        if said:
            link = apply_edits(link, (SetFields(element="run-1", values=said),))
        traces = [t for t in tasks(link, test_directions="where it pays") if t.moment == "after termination"]
        return {t.why for t in traces if t.kind == "trace"}, sum(1 for t in traces if t.kind == "loss")

    at_a_reel, beyond = told(6000.0), told(6001.0)
    assert at_a_reel[0] == {"Tier 2: on this length a trace shows where a fault is, today and in ten years."}
    assert beyond[0] == {"Tier 2: splices are assumed on its way, 1 at least: a trace counts them and judges each."}
    assert "5 at least" in told(34_000.0)[0].pop()
    assert told(34_000.0, splices=7)[0] == {"Tier 2: a splice can only be judged by a trace."}
    assert told(34_000.0, splices=0)[0] == at_a_reel[0]


def test_only_new_cable_of_some_length_is_traced_on_its_reel() -> None:
    new = plain_link("1000BASE-LX10", "OS2", 900)
    there = apply_edits(new, (SetFields(element="run-1", values={"state": "existing"}),))
    assert [count(tasks(link), "trace", "on the reel") for link in (new, there, NEAR)] == [2, 0, 0]
    assert count(tasks(new), "trace", "after the pull") == 2


def test_twisted_pair_has_one_task_of_its_own() -> None:
    copper = next(link for link in demo_links() if link.name.startswith("Twisted pair"))
    assert [task.kind for task in tasks(copper)] == ["twisted pair"]


@given(
    st.sampled_from(["light source and power meter", "trace, both directions averaged", "trace, one direction"]),
    st.sampled_from(["multimode", "single-mode"]),
)
def test_better_cords_and_fewer_pairs_in_the_reference_make_a_reading_surer(method: Any, family: Any) -> None:
    def off(reference: ReferenceMethod, *, grade: bool) -> float:
        return uncertainty_db(method, reference, family, reference_grade=grade)[0]

    for reference in ("one cord", "two cords", "three cords"):
        assert off(reference, grade=True) <= off(reference, grade=False)
    assert off("one cord", grade=True) < off("two cords", grade=True) < off("three cords", grade=True)


def read(link: Link, values: dict[tuple[int, int], float], **more: Any) -> Link:
    for (strand, nm), value in values.items():
        told = {**WHOLE, "value_db": value, "strand": strand, "far_strand": 3 - strand, "wavelength_nm": nm, **more}
        told |= {"direction": "right", "reference_grade": True, "uncertainty_db": 0.1}
        link = apply_edits(link, (Measure(reading=Reading.model_validate(told)),))
    return link


GOOD = {(strand, nm): 0.4 for strand in (1, 2) for nm in (1310, 1550)}
SEEN = StrandsTraced(key="s", link="", start="run-1", end="run-1", pairs=((1, 2), (2, 1)))


def looked_at(proof: Proof) -> list[Event]:
    """Every face of a link looked at and found clean."""
    return [
        Inspected(
            key=f"{face.piece}{face.face}{position}",
            link="",
            piece=face.piece,
            face=face.face,
            position=position,
            step="inspect",
            passes=True,
        )
        for face in proof.faces
        for position in face.positions
    ]


def state(link: Link, *happened: Event) -> str:
    return proof_of(link, list(happened), CATALOG, HouseRules()).state


def test_a_link_is_accepted_only_when_all_of_it_is_proven() -> None:
    """Faces are told apart by the keys of their pieces, so the link gets some."""
    keys = tuple(e.model_copy(update={"key": f"k{n}"}) for n, e in enumerate(NEAR.elements))
    link = NEAR.model_copy(update={"elements": keys})
    clean = looked_at(proof_of(link, [], CATALOG, HouseRules()))
    assert state(link, SEEN, *clean) == "open: 4 readings are missing, or inform only"
    assert state(read(link, GOOD), *clean).startswith("open: where the strands come out")
    assert state(read(link, GOOD), SEEN).startswith("readings good, ")
    assert state(read(link, GOOD), SEEN, *clean) == "accepted"
    assert state(read(link, {**GOOD, (1, 1310): 2.0}), SEEN, *clean).startswith("not accepted")
    limit = proof_of(link, [], CATALOG, HouseRules()).rows[0].should.decides_db
    thin = read(link, {**GOOD, (1, 1310): round(limit - 0.05, 3)})
    assert state(thin, SEEN, *clean) == "accepted, marginal within the uncertainty"
    nobody = read(link, GOOD, operator="")
    assert state(nobody, SEEN, *clean).startswith("open: 4 readings")
    crossed = SEEN.model_copy(update={"pairs": ((1, 1), (2, 2))})
    assert state(read(link, GOOD), crossed, *clean).startswith("open: where the strands")


def test_a_tester_accepts_twisted_pair_or_names_what_fails() -> None:
    copper = next(link for link in demo_links() if link.name.startswith("Twisted pair"))
    assert "No result of a tester" in state(copper)
    told = {"key": "c", "link": "", "category": "Cat 6A"}
    good = Certified(values=(CopperValue(parameter="NEXT", value=60, at_mhz=100),), **told)
    bad = Certified(values=(CopperValue(parameter="NEXT", value=20, at_mhz=100),), **told)
    assert state(copper, good) == "accepted by its tester"
    assert state(copper, good, bad) == "not accepted: NEXT"
