"""Limits by reference, judgement of readings, causes of each fault alone, inspection, references."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from passerelle.core.acceptance.arrays import array_ways
from passerelle.core.acceptance.causes import Read, causes
from passerelle.core.acceptance.inspection import graded, next_step
from passerelle.core.acceptance.judgement import FAIL, MARGINAL, PASS, SUSPECT, judge_one, judged
from passerelle.core.acceptance.limits import plain_limit
from passerelle.core.acceptance.methods import Setup, check_joined, launch_of, refuse_one_cord
from passerelle.core.acceptance.proof import proof_of
from passerelle.core.acceptance.references import ReadingSetup, ReferenceSeen, references, why_not_with
from passerelle.core.acceptance.stretch import Taken, channel, permanent_link, should_read
from passerelle.core.acceptance.twisted import class_of, insertion_loss_db, judged_copper, next_db
from passerelle.core.accepted import (
    Certified,
    CopperValue,
    Defect,
    Inspected,
    ReferenceTaken,
    ReferenceVoid,
    StrandsTraced,
)
from passerelle.core.catalog import testing_figures as shelf
from passerelle.core.errors import AcceptanceError
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Measure, SetFields, apply_edits
from passerelle.core.link.readings import Reading, ReferenceMethod, is_stale
from passerelle.core.parts.face import Face
from passerelle.core.review import review
from passerelle.demo.port_aubier import demo_links
from tests.core.any_link import any_link, is_named
from tests.core.plain import CATALOG, plain_link
from tests.core.test_readings import WHOLE

METHODS: tuple[ReferenceMethod, ...] = ("one cord", "two cords", "three cords")
FAR = plain_link("1000BASE-LX10", "OS2", 4000)


def stretch_of(link: Link) -> Any:
    found = permanent_link(compose(link, CATALOG))
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("method", "short", "long"), [("one cord", 2, 4), ("two cords", 1, 3), ("three cords", 0, 2)]
)
def test_a_plain_limit_counts_what_its_reference_leaves_in(method: ReferenceMethod, short: int, long: int) -> None:
    """Pairs counted of two and of four; the limits themselves are worked out by hand in ``test_edges_match``."""
    found = plain_limit(CATALOG, "OM3", 850, 100, pairs=2, splices=0, method=method, school="TIA-568.3-D")
    more = plain_limit(CATALOG, "OM1", 1300, 1000, pairs=4, splices=2, method=method, school="TIA-568.3-D")
    assert (found.pairs_counted, more.pairs_counted) == (short, long)


def test_single_mode_by_school_and_by_use_of_the_cable() -> None:
    def limit(school: Any, cable: Any, fiber: str = "OS2") -> float:
        one = {"wavelength_nm": 1310, "length_m": 1000, "pairs": 2, "splices": 0, "method": "three cords"}
        return plain_limit(CATALOG, fiber, school=school, cable=cable, **one).limit_db  # type: ignore[arg-type]

    assert [limit("TIA-568.3-D", use) for use in ("indoor", "indoor-outdoor", "outside")] == [1.0, 0.5, 0.5]
    assert (limit("ISO/IEC 11801-1", ""), limit("ISO/IEC 11801-1", "indoor", "OS1")) == (0.4, 1.0)
    with pytest.raises(AcceptanceError, match="where single-mode cable is used"):
        limit("TIA-568.3-D", "")
    with pytest.raises(AcceptanceError, match="at least 2"):
        plain_limit(CATALOG, "OM3", 850, 1, pairs=1, splices=0, method="one cord", school="TIA-568.3-D")


@given(
    st.sampled_from(["OM3", "OM4"]),
    st.floats(2, 500),
    st.sampled_from(["mated pair", "mated pair, low-loss", "mated pair, standard"]),
    st.booleans(),
    st.sampled_from([850, 1300]),
)
def test_three_references_differ_by_exactly_the_joints_that_they_leave_out(
    fiber: str, length_m: float, loss_class: str, reference_grade: bool, nm: int
) -> None:
    link = plain_link("1000BASE-SX", fiber, length_m)
    link = apply_edits(link, (SetFields(element="panel-2", values={"loss_class": loss_class}),))
    stretch = stretch_of(link)
    one, two, three = (should_read(stretch, Taken(m, nm, "right", reference_grade), CATALOG) for m in METHODS)
    ends = sorted(term.term.worst_db for term in one.terms if term.end)
    assert [m.pairs_counted for m in (one, two, three)] == [2, 1, 0]
    assert one.limit_db - two.limit_db == pytest.approx(ends[1], abs=2e-6)
    assert two.limit_db - three.limit_db == pytest.approx(ends[0], abs=2e-6)
    inside = [sum(t.term.worst_db for t in found.terms if not t.end) for found in (one, two, three)]
    assert inside == pytest.approx([three.limit_db] * 3, abs=2e-6)
    assert one.uncertainty_db < two.uncertainty_db < three.uncertainty_db


@given(st.floats(10, 900), st.sampled_from(METHODS))
def test_what_a_reading_leaves_out_is_added_before_the_application_is_asked(
    length_m: float, method: ReferenceMethod
) -> None:
    """The reading's own part at its worst and all that lies outside make the whole channel of the budget."""
    link = plain_link("1000BASE-LX10", "OS2", length_m)
    found = should_read(stretch_of(link), Taken(method, 1310), CATALOG)
    loss = review(link, CATALOG, HouseRules(), with_fixes=False).directions[0].loss.worst_db
    assert found.allowed_db is not None
    assert found.outside_db is not None
    assert found.limit_db + found.outside_db == pytest.approx(loss, abs=2e-6)
    assert found.application_db == pytest.approx(found.allowed_db - found.outside_db, abs=2e-6)


def test_a_channel_test_counts_the_connections_at_its_ends_as_well() -> None:
    whole = channel(compose(FAR, CATALOG))
    assert whole is not None
    read = [should_read(whole, Taken(method, 1310), CATALOG) for method in METHODS]
    assert [found.pairs_counted for found in read] == [4, 3, 2]


@given(st.floats(-5, 20), st.floats(0, 20), st.floats(0, 2), st.floats(-1, 5))
def test_nothing_above_its_limit_passes_and_nothing_below_its_least_is_good(
    value: float, limit: float, unsure: float, least: float
) -> None:
    found = judge_one(value, limit, unsure, least)
    if round(limit - value, 6) < 0:
        assert found == "fail"
    elif round(value, 6) < 0 or round(value - least, 6) < 0:
        assert found == "suspect"
    elif round(limit - value, 6) == 0 or round(limit - value, 6) < round(unsure, 6):
        assert found == "marginal"
    else:
        assert found == "pass"


def test_many_readings_are_judged_as_one_is() -> None:
    values, limits = np.array([1.9, 1.8, 1.7, 0.1, 1.0, np.nan]), np.full(6, 1.8)
    found = judged(values, limits, np.full(6, 0.15), np.full(6, 0.2))
    assert found.tolist() == [FAIL, MARGINAL, MARGINAL, SUSPECT, PASS, FAIL]


def read(strand: int, nm: int, value: float | None, **more: Any) -> Read:
    glass = {850: 2.4, 1300: 0.6, 1310: 1.05, 1550: 0.66}[nm]
    plan = {"limit_db": glass * 1.2 + 1.5, "expected_db": glass + 0.6, "least_db": glass * 0.85, "glass_db": glass}
    judgement = "fail" if value is None else judge_one(value, plan["limit_db"], 0.1, plan["least_db"])
    told = {"direction": "right", "judgement": judgement, "single_mode": nm in (1310, 1550), **plan, **more}
    return Read(strand=strand, wavelength_nm=nm, value_db=value, **told)


HEALTHY = [read(strand, nm, {1310: 1.7, 1550: 1.3}[nm]) for strand in (1, 2, 3, 4) for nm in (1310, 1550)]


def faulty(**changed: float | None) -> list[Read]:
    """Healthy strands with other values for some: ``s1_1310=2.9``."""
    found = []
    for one in HEALTHY:
        name = f"s{one.strand}_{one.wavelength_nm}"
        found.append(read(one.strand, one.wavelength_nm, changed[name]) if name in changed else one)
    return found


ALL_HIGH = {f"s{s}_{nm}": value for s in (1, 2, 3, 4) for nm, value in ((1310, 3.3), (1550, 2.9))}


@pytest.mark.parametrize(
    ("changed", "code", "where"),
    [
        ({"s1_1310": 2.8, "s1_1550": 2.4}, "dirty face", {1}),
        ({"s2_1310": 2.0, "s2_1550": 3.1}, "bend", {2}),
        ({"s3_1310": None, "s3_1550": None}, "no light", {3}),
        ({"s4_1310": 0.4}, "wrong reference", {4}),
        ({"s1_1310": -0.2}, "gain", {1}),
        (ALL_HIGH, "every strand alike", {1, 2, 3, 4}),
    ],
)
def test_each_fault_alone_is_named(changed: dict[str, float | None], code: str, where: set[int]) -> None:
    reads = faulty(**changed)
    found = causes(reads)
    assert {cause.code for cause in found.values()} == {code}
    assert {reads[number].strand for number in found} == where


def test_a_longer_way_and_unlike_cores_are_named_by_how_their_loss_changes() -> None:
    longer = [read(1, 850, 3.0 + 0.9), read(1, 1300, 1.2 + 0.225)]
    assert {cause.code for cause in causes(longer).values()} == {"longer way"}
    both = [read(1, 1310, 1.7), read(1, 1310, 2.6, direction="left")]
    assert {cause.code for cause in causes(both).values()} == {"core mismatch"}
    assert causes(HEALTHY) == {}


def test_launches_and_cords_that_make_wrong_passes_are_refused() -> None:
    multimode = [
        (Setup("multimode", "encircled flux"), True),
        (Setup("multimode", "encircled flux", mandrel=True), False),
        (Setup("multimode", "LED", mandrel=True), True),
        (Setup("multimode", "LED", mandrel=True, bend_insensitive=True), False),
        (Setup("multimode", "LED"), False),
        (Setup("multimode", "VCSEL"), False),
        (Setup("multimode", "laser"), False),
    ]
    assert [launch_of(setup).certifies for setup, _ in multimode] == [good for _, good in multimode]
    assert launch_of(Setup("single-mode", "laser", loop_mm=30)).certifies
    assert "30 mm" in launch_of(Setup("single-mode", "laser")).words
    assert "three cords" in refuse_one_cord(Setup("single-mode", "laser", meter_port="SC", link_plug="LC"))
    for value, family in ((-0.05, "single-mode"), (0.15, "multimode"), (0.25, "single-mode")):
        with pytest.raises(AcceptanceError, match=r"joined|gain"):
            check_joined(value, family, reference_grade=True)  # type: ignore[arg-type]
    check_joined(0.1, "multimode", reference_grade=True)


NOW = datetime(2026, 11, 26, 12, tzinfo=UTC)


def reference(**more: Any) -> ReferenceTaken:
    told: dict[str, Any] = {
        "key": "r1",
        "at": NOW - timedelta(hours=2),
        "method": "one cord",
        "wavelength_nm": 1310,
    }
    told |= {"family": "single-mode", "loop_mm": 30, "power_dbm": -7.0, "joined_db": 0.1, "instrument": "PM-1"}
    return ReferenceTaken(**{**told, **more})


def test_a_reference_is_void_by_age_by_hand_and_for_another_wavelength() -> None:
    house = HouseRules()

    def why_not(method: ReferenceMethod | None, nm: int, meter: str, seen: ReferenceSeen) -> str:
        return why_not_with(seen, ReadingSetup("light source and power meter", method, nm, meter), house)

    (held,) = references([reference()], house, NOW)
    assert not held.why_void
    assert not why_not("one cord", 1310, "PM-1", held)
    assert "1310" in why_not(None, 1550, "", held)
    assert "one cord" in why_not("two cords", 1310, "", held)
    assert "PM-1" in why_not(None, 1310, "PM-2", held)
    (old,) = references([reference(at=NOW - timedelta(hours=9))], house, NOW)
    assert "9 h old" in old.why_void
    void = ReferenceVoid(key="v", of="r1", why="cord left the source")
    (gone,) = references([reference(), void], house, NOW)
    assert gone.why_void == "cord left the source"
    (bad,) = references([reference(loop_mm=0)], house, NOW)
    assert "30 mm" in why_not("one cord", 1310, "PM-1", bad)


FACE = Face(kind="plug", shape="LC", rows=1, columns=1, polish="UPC")


def step(what: str, passes: bool | None = None) -> Inspected:
    return Inspected(key="k", link="l", piece="p", step=what, passes=passes)  # type: ignore[arg-type]


THRICE = [("inspect", False), *[("clean dry", None), ("inspect", False)] * 3]


@pytest.mark.parametrize(
    ("steps", "fixed", "expected"),
    [
        ([], False, "inspect"),
        ([("inspect", False)], False, "clean dry"),
        ([("inspect", False), ("clean dry", None)], False, "inspect"),
        ([("inspect", False), ("clean dry", None), ("inspect", False)], False, "clean wet to dry"),
        (THRICE, False, "exchange"),
        (THRICE, True, "terminate again"),
        ([("damaged", None)], False, "exchange"),
        (
            [*THRICE, ("exchange", None)],
            False,
            "inspect",
        ),
        ([("inspect", True)], False, "none"),
    ],
)
def test_what_comes_next_at_a_face(steps: list[tuple[str, bool | None]], fixed: bool, expected: str) -> None:
    found = next_step(FACE, [step(*one) for one in steps], fixed=fixed, in_module=False)
    assert found.step == expected
    assert next_step(FACE, [], fixed=False, in_module=True).step == "leave the module"


@given(st.lists(st.tuples(st.floats(0, 130), st.floats(0.1, 20)), max_size=12), st.integers(0, 11))
def test_one_mark_less_never_makes_a_face_worse(marks: list[tuple[float, float]], gone: int) -> None:
    for face in ("single-mode, flat", "single-mode, angled", "multimode", "array"):
        every = [Defect(kind="defect", from_middle_um=r, size_um=size) for r, size in marks]
        fewer = [one for number, one in enumerate(every) if number != gone]
        assert graded(face, every).passes <= graded(face, fewer).passes  # type: ignore[arg-type]


def test_the_core_of_a_single_mode_face_holds_nothing_and_its_cladding_five_small_ones() -> None:
    spot = Defect(kind="defect", from_middle_um=3, size_um=0.5)
    assert not graded("single-mode, flat", [spot]).passes
    ring = Defect(kind="defect", from_middle_um=40, size_um=4)
    assert graded("single-mode, flat", [ring] * 5).passes
    assert not graded("single-mode, flat", [ring] * 6).passes
    touching = Defect(kind="defect", from_middle_um=14, size_um=4)
    assert "core" in graded("single-mode, flat", [touching]).beyond[0]


def measured(link: Link, strand: int, value: float, **more: Any) -> Link:
    far = {1: 2, 2: 1}[strand]
    told = {
        **WHOLE,
        "strand": strand,
        "far_strand": far,
        "value_db": value,
        "wavelength_nm": 1310,
        "direction": "right",
    }
    return apply_edits(link, (Measure(reading=Reading.model_validate({**told, **more})),))


def test_the_proof_of_a_link_names_what_is_missing_and_what_a_difference_is() -> None:
    house = HouseRules(test_directions="one")
    empty = proof_of(FAR, [], CATALOG, house)
    assert [row.wavelength_nm for row in empty.rows] == [1310, 1550] * 2
    assert (empty.to_read, empty.failing) == (4, 0)
    link = measured(measured(FAR, 1, 3.9), 2, 2.0)
    found = proof_of(link, [], CATALOG, house)
    told = {(row.strand, row.wavelength_nm): row for row in found.rows}
    assert told[1, 1310].judgement == "fail"
    assert told[1, 1310].cause is not None
    assert told[1, 1310].cause.code == "dirty face"
    assert told[2, 1310].judgement == "pass"
    assert (found.to_read, found.failing) == (2, 1)
    dark = proof_of(measured(FAR, 1, 62.0), [], CATALOG, house).rows[0]
    assert (dark.judgement, dark.cause.code if dark.cause else "") == ("dark", "no light")
    old = proof_of(measured(FAR, 1, 2.0, calibrated_on=date(2024, 1, 1)), [], CATALOG, house)
    assert "calibrated" in old.rows[0].informs


def test_a_swapped_pair_is_seen_where_strands_come_out() -> None:
    seen = StrandsTraced(key="s", link=FAR.key, start="run-1", end="run-1", pairs=((1, 1), (2, 2)))
    found = proof_of(FAR, [seen], CATALOG, HouseRules())
    assert [(one.planned, one.seen) for one in found.strands] == [(2, 1), (1, 2)]


def test_readings_of_single_strands_take_the_place_of_allowances_only_for_what_they_carry() -> None:
    """Strand 1 carries the light to the right: read alone it moves that direction and leaves the other on paper."""
    one = measured(FAR, 1, 2.0, direction="both")
    found = {d.direction: d.loss.worst_db for d in review(one, CATALOG, HouseRules(), with_fixes=False).directions}
    assert found["right"] < found["left"]
    both = measured(one, 2, 2.2, direction="both")
    found = {d.direction: d.loss.worst_db for d in review(both, CATALOG, HouseRules(), with_fixes=False).directions}
    assert found["left"] == pytest.approx(found["right"] + 0.2)


def test_a_length_that_light_told_leaves_readings_as_they_are_and_another_length_does_not() -> None:
    link = measured(FAR, 1, 2.0)
    light = apply_edits(link, (SetFields(element="run-1", values={"length_m": 4012.0, "length_by": "light"}),))
    assert not is_stale(light.elements, light.readings[0])
    other = apply_edits(link, (SetFields(element="run-1", values={"length_m": 4012.0}),))
    assert is_stale(other.elements, other.readings[0])
    exchanged = apply_edits(light, (SetFields(element="run-1", values={"fiber": ["OS1"]}),))
    assert is_stale(exchanged.elements, exchanged.readings[0])


def test_limits_by_a_school_are_its_own() -> None:
    by = {
        school: proof_of(FAR, [], CATALOG, HouseRules(limit_school=school, test_cords="ordinary")).rows[0].should
        for school in ("as budgeted", "TIA-568.3-D", "ISO/IEC 11801-1")
    }
    assert by["as budgeted"].limit_db == pytest.approx(4 * 0.4 + 1.5)
    assert by["TIA-568.3-D"].limit_db == pytest.approx(4 * 1.0 + 1.5)
    assert by["ISO/IEC 11801-1"].limit_db == pytest.approx(4 * 0.4 + 1.5)


def test_ways_to_test_arrays_cost_less_per_trunk_and_say_what_they_include() -> None:
    stretch = stretch_of(plain_link("40GBASE-LR4", "OS2", 100))
    few, many = (array_ways(stretch, trunks, 1310, CATALOG) for trunks in (1, 40))
    assert {way.name for way in few} == {method.name for method in shelf.testing_figures().array_method}
    assert few[0].cheapest
    assert sum(way.cheapest for way in many) == 1
    worst = max(many, key=lambda way: way.minutes)
    assert worst.name == "one reference each"
    assert all(a.minutes / 1 >= b.minutes / 40 for a in few for b in many if a.name == b.name)


def test_twisted_pair_is_held_against_its_class() -> None:
    assert insertion_loss_db(class_of("Cat 5e"), 100) == pytest.approx(24.0, abs=0.05)
    assert next_db(class_of("Cat 6"), 250) == pytest.approx(33.1, abs=0.1)
    values = (
        CopperValue(parameter="insertion loss", value=25.0, at_mhz=100),
        CopperValue(parameter="NEXT", value=41.0, at_mhz=100),
        CopperValue(parameter="delay", value=520),
        CopperValue(parameter="wire map", passes=True),
    )
    taken = Certified(key="c", link="l", category="Cat 5e", values=values, at_time=time(9))
    assert [one.passes for one in judged_copper(taken)] == [False, True, True, True]
    with pytest.raises(AcceptanceError, match="channel limits for"):
        class_of("Cat 8")


def test_a_reading_that_is_too_good_decides_nothing() -> None:
    far = plain_link("10GBASE-ER", "OS2", 60_000)
    told = {**WHOLE, "value_db": 2.0}
    link = apply_edits(far, (Measure(reading=Reading.model_validate(told)),))
    found = review(link, CATALOG, HouseRules(), with_fixes=False)
    assert (found.verdict.value, found.as_measured) == ("fail", False)
    assert "reading.too_good" in {finding.code for finding in found.findings}


@given(any_link())
def test_any_link_has_a_proof_or_a_word_why_not(link: Link) -> None:
    assume(is_named(link))
    found = proof_of(link, [], CATALOG, HouseRules())
    assert found.failing <= len(found.rows) - found.to_read
    assert found.rows or found.why_not or not found.strands
    for row in found.rows:
        assert row.should.least_db <= row.should.expected_db <= row.should.limit_db


def test_glass_of_two_grades_is_held_against_the_tighter_one() -> None:
    either = proof_of(plain_link("1000BASE-LX10", ("OS1", "OS2"), 4000), [], CATALOG, HouseRules())
    tight = proof_of(FAR, [], CATALOG, HouseRules())
    assert "not decided" in either.why_not
    assert [row.should.decides_db for row in either.rows] == [row.should.decides_db for row in tight.rows]


def test_a_reference_on_paper_from_another_day_is_as_old_as_it_says() -> None:
    late = reference(at=NOW, taken_on=date(2026, 11, 24), at_time=time(9))
    (seen,) = references([late], HouseRules(), NOW)
    assert "h old" in seen.why_void


def test_the_fronts_of_cassettes_stay_in_the_sum_where_a_reading_leaves_them_out() -> None:
    link = next(one for one in demo_links() if one.name == "Rows 10G, front 1")
    told = {**WHOLE, "start": "cassette-1", "end": "cassette-2", "wavelength_nm": 850, "value_db": 0.9}
    found = {}
    for method, ends in (("one cord", True), ("three cords", False)):
        more = {"reference": method, "near_joint": ends, "far_joint": ends}
        read_link = apply_edits(link, (Measure(reading=Reading.model_validate({**told, **more})),))
        found[method] = review(read_link, CATALOG, HouseRules(), with_fixes=False).directions[0].loss.worst_db
    assert found["three cords"] == pytest.approx(found["one cord"] + 2 * 0.35)


def test_a_strand_that_comes_out_nowhere_stands_for_no_other() -> None:
    told = {**WHOLE, "strand": 1, "far_strand": None, "value_db": 2.0, "wavelength_nm": 1310, "direction": "both"}
    link = apply_edits(FAR, (Measure(reading=Reading.model_validate(told)),))
    found = {d.direction: d.loss.worst_db for d in review(link, CATALOG, HouseRules(), with_fixes=False).directions}
    assert found["left"] > found["right"]
