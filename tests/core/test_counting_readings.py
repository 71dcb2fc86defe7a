"""Which readings count: below zero, without a reference, after a fail, by a tester, with an old calibration.

Values lie at, just above and just below each edge. By hand: 120 m of OS2 lose at least 0.036 dB at 1310 nm (0.30
dB/km) and at most 0.048 dB (0.4 dB/km); with two ends of 0.75 dB 1.548 dB are planned, and with two ends of 0.5 dB
1.048 dB are the limit of a reading with reference-grade cords.
"""

from __future__ import annotations

from datetime import date, time
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.acceptance.loss_rows import NOT_CLEANED, ProofRow
from passerelle.core.acceptance.proof import Proof, acceptance_of, proof_of
from passerelle.core.acceptance.twisted import judged_copper
from passerelle.core.accepted import Certified, CopperValue
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Measure, apply_edits
from passerelle.core.link.readings import Reading
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link
from tests.core.test_readings import WHOLE

HOUSE = HouseRules(margin_db=0.0)
NEAR = plain_link("1000BASE-LX10", "OS2", 120.0)
JOINTS = {"one cord": (True, True), "two cords": (True, False), "three cords": (False, False)}


def taken(link: Link, *values: float, **more: Any) -> Link:
    """The link with readings of strand 1 towards the right at 1310 nm, a minute after each other."""
    for minute, value in enumerate(values, len(link.readings)):
        near, far = JOINTS[more.get("reference", "one cord")]
        told = {**WHOLE, "wavelength_nm": 1310, "direction": "right", "strand": 1, "far_strand": 2}
        told |= {"uncertainty_db": 0.12, "reference_grade": True, "at_time": time(9, minute), "value_db": value}
        told |= {"near_joint": near, "far_joint": far, **more}
        link = apply_edits(link, (Measure(reading=Reading.model_validate(told)),))
    return link


def proof(link: Link, **rules: Any) -> Proof:
    house = HouseRules(**rules)
    return proof_of(link, (), house_catalog(CATALOG, house), house)


def row(link: Link, **rules: Any) -> ProofRow:
    """The row of strand 1 towards the right at 1310 nm."""
    return next(
        one
        for one in proof(link, **rules).rows
        if (one.strand, one.wavelength_nm, one.direction) == (1, 1310, "right")
    )


def judge(link: Link, **rules: Any) -> Review:
    return review(link, CATALOG, HouseRules(margin_db=0.0, **rules), with_fixes=False)


def worst_db(link: Link, direction: str = "right", **rules: Any) -> float:
    return next(one.loss.worst_db for one in judge(link, **rules).directions if one.direction == direction)


@pytest.mark.parametrize("reference", ["one cord", "two cords", "three cords"])
@pytest.mark.parametrize(
    ("value", "believed"), [(-0.11, False), (-0.09, False), (-0.001, False), (0.0, True), (0.001, True)]
)
def test_below_zero_is_suspect_by_any_reference_and_out_of_the_budget(
    reference: str, value: float, believed: bool
) -> None:
    link = taken(NEAR, value, reference=reference)
    assert (row(link).judgement != "suspect") is believed
    assert judge(link).as_measured is believed
    if not believed:
        assert worst_db(link) == worst_db(NEAR)


@pytest.mark.parametrize(("grade", "spread"), [(True, 0.1), (False, 0.2)])
@pytest.mark.parametrize("past", [-0.001, 0.001])
def test_less_than_the_glass_loses_is_suspect_beyond_what_the_method_repeats(
    grade: bool, spread: float, past: float
) -> None:
    """2 km of OS2 lose at least 0.60 dB; two readings may differ by 0.1 dB, with ordinary cords by 0.2 dB."""
    link = plain_link("1000BASE-LX10", "OS2", 2000.0)
    found = taken(link, 0.60 - spread + past, reference_grade=grade)
    assert (row(found).judgement == "suspect") is (past < 0)
    assert judge(found).as_measured is (past > 0)


@pytest.mark.parametrize(("reference", "hidden"), [("one cord", 0), ("two cords", 1), ("three cords", 2)])
def test_a_pair_in_the_reference_lowers_the_least_only_by_what_was_read_of_it(reference: str, hidden: int) -> None:
    link = plain_link("1000BASE-LX10", "OS2", 4000.0)
    least = 1.2 - 0.1
    for joined, lower in ((None, 0.0), (0.08, 0.08 * hidden)):
        more = {"reference": reference, "joined_db": joined}
        assert row(taken(link, least - lower - 0.002, **more)).judgement == "suspect"
        assert row(taken(link, least - lower + 0.002, **more)).judgement != "suspect"


@pytest.mark.parametrize(
    ("first", "second", "zeros", "counts"),
    [
        (-0.05, -0.08, ("z1", "z2"), True),
        (-0.10, -0.10, ("z1", "z2"), True),
        (-0.05, -0.08, ("z1", "z1"), False),
        (-0.05, -0.08, ("z1", ""), False),
        (-0.101, -0.10, ("z1", "z2"), True),
        (-0.05, -0.101, ("z1", "z2"), False),
        (0.06, -0.05, ("z1", "z2"), False),
    ],
)
def test_two_references_that_agree_make_a_reading_below_zero_nothing_lost(
    first: float, second: float, zeros: tuple[str, str], counts: bool
) -> None:
    link = taken(taken(NEAR, first, zero=zeros[0]), second, zero=zeros[1])
    # the second is judged; of the first it only matters that it is there and no lower than the repeatability
    agreed = counts and first >= -0.1
    found = row(link)
    assert (found.judgement == "pass") is agreed
    assert (worst_db(link) == pytest.approx(0.12 + 2 * 2 * 0.4e-3, abs=2e-3)) is agreed
    if agreed:
        assert "counted as 0.00 ± 0.10 dB" in found.marks[0]


@pytest.mark.parametrize(
    ("value", "informs", "judgement"),
    [(0.5, True, "pass"), (1.047, True, "marginal"), (1.049, False, "fail"), (40.0, False, "dark")],
)
def test_without_a_reference_on_record_it_proves_nothing_and_fails_all_the_same(
    value: float, informs: bool, judgement: str
) -> None:
    found = row(taken(NEAR, value, tester_zero=""))
    assert (found.judgement, bool(found.informs)) == (judgement, informs)
    for on_record in ({"tester_zero": "one cord, 09:00"}, {"tester_zero": "", "zero": "z"}):
        assert row(taken(NEAR, value, **on_record)).informs == ""
    old = row(taken(NEAR, value, tester_zero="", recorded_before=True))
    assert old.informs == ""
    assert "recorded before" in old.marks[0]


@pytest.mark.parametrize(
    "lacking", [{"tester_zero": ""}, {"uncertainty_db": None}, {"operator": ""}, {"place": ""}]
)
def test_worse_than_planned_counts_against_the_link_whatever_it_lacks(lacking: dict[str, Any]) -> None:
    """1.548 dB are planned at the worst of the permanent link; 17.1 dB leave no light."""
    planned = worst_db(NEAR)
    good, bad = taken(NEAR, 1.547, **lacking), taken(NEAR, 17.1, **lacking)
    assert (worst_db(good), judge(good).verdict) == (planned, judge(NEAR).verdict)
    assert judge(bad).verdict is Verdict.FAIL
    assert worst_db(bad) == pytest.approx(17.1 + 0.12 + 2 * 2 * 0.4e-3, abs=1e-3)
    assert not judge(bad).as_measured


def test_what_lacks_something_never_helps_against_too_much_light() -> None:
    """The least that is planned stands, whatever was read: a reading without a reference attenuates nothing."""
    link = plain_link("10GBASE-ER", "OS2", 12_000.0)
    least = {d.direction: d.loss.least_db for d in judge(link).directions}
    found = {d.direction: d.loss.least_db for d in judge(taken(link, 9.0, tester_zero="")).directions}
    assert found == pytest.approx(least)


def test_a_length_that_is_not_known_is_not_replaced_by_a_reading_that_lacks_something() -> None:
    link = plain_link("1000BASE-LX10", "OS2", None)
    assert judge(taken(link, 3.0, tester_zero="")).verdict is judge(link).verdict is Verdict.UNKNOWN


@pytest.mark.parametrize("strand", [1, 2])
@pytest.mark.parametrize("read", ["right", "left", "both"])
def test_one_bad_strand_counts_for_its_direction_however_it_was_read(strand: int, read: str) -> None:
    link = taken(NEAR, 9.0, strand=strand, far_strand=3 - strand, direction=read)
    found = {d.direction: d.loss.worst_db > 9 for d in judge(link).directions}
    assert found == {"right": strand == 1, "left": strand == 2}


@pytest.mark.parametrize(("cleaned", "judgement"), [(False, "fail"), (True, "pass")])
def test_a_fail_is_followed_by_a_reading_after_cleaning_only(cleaned: bool, judgement: str) -> None:
    link = taken(taken(NEAR, 2.4), 0.4, cleaned=cleaned)
    found = row(link)
    assert found.judgement == judgement
    assert [one.judgement for one in found.earlier] == ["fail" if cleaned else "pass"]
    assert found.earlier[0].why == ("cleaned, read again" if cleaned else NOT_CLEANED)
    assert (worst_db(link) > 2.4) is not cleaned


def test_a_better_reading_follows_a_good_one_and_a_worse_one_follows_any() -> None:
    assert row(taken(NEAR, 0.4, 0.3)).reading.value_db == 0.3  # type: ignore[union-attr]
    assert row(taken(NEAR, 0.4, 2.4)).judgement == "fail"
    assert row(taken(NEAR, 2.4, 2.6)).reading.value_db == 2.6  # type: ignore[union-attr]


def test_a_reading_that_informs_only_does_not_displace_one_that_decides() -> None:
    found = row(taken(taken(NEAR, 0.4), 0.3, tester_zero=""))
    assert (found.reading.value_db, found.informs) == (0.4, "")  # type: ignore[union-attr]
    assert "no reference is on record" in found.earlier[0].why


@pytest.mark.parametrize(("days", "holds"), [(365, True), (366, False)])
def test_a_calibration_that_ran_out_ends_proof_and_budget_on_the_same_day(days: int, holds: bool) -> None:
    on = date.fromordinal(date(2026, 9, 14).toordinal() - days)
    link = taken(NEAR, 0.4, calibrated_on=on)
    assert (row(link).informs == "") is holds
    assert judge(link).as_measured is holds
    assert judge(link, calibration_days=400).as_measured
    assert row(link, calibration_days=400).informs == ""


@pytest.mark.parametrize(
    ("said", "value", "judgement", "told"),
    [
        ("fail", 0.4, "fail", "its tester says fail by its own limit; by the limit here it would be pass"),
        ("marginal", 0.4, "marginal", "its tester says that the limit is within its accuracy"),
        ("pass", 0.4, "pass", ""),
        ("pass", 2.4, "fail", "its tester says pass by its own limit"),
        ("", 2.4, "fail", ""),
    ],
)
def test_a_testers_fail_stays_a_fail_and_a_difference_is_said(
    said: str, value: float, judgement: str, told: str
) -> None:
    found = row(taken(NEAR, value, tester_result=said))
    assert found.judgement == judgement
    assert (told in found.marks) is bool(told)


@pytest.mark.parametrize(
    ("said", "value", "passes"), [(False, 12.0, False), (True, 12.0, True), (None, 12.0, True), (True, 40.0, False)]
)
def test_twisted_pair_fails_where_tester_or_limit_says_so(said: bool | None, value: float, passes: bool) -> None:
    """Insertion loss of category 6A at 100 MHz is at most 20.9 dB."""
    one = CopperValue(parameter="insertion loss", value=value, at_mhz=100.0, passes=said)
    (found,) = judged_copper(Certified(key="c", link="l", category="Cat 6A", values=(one,)))
    assert found.passes is passes
    assert bool(found.differs) is (said is not None and said != (value < 20))


def test_a_method_that_cannot_tell_is_refused_for_its_row() -> None:
    """Three cords leave 0.06 dB of glass to be proven by a method that may be 0.27 dB off."""
    short = row(NEAR, test_reference="three cords")
    assert "set the reference with one cord" in short.refused
    assert row(NEAR, test_reference="one cord").refused == ""


@pytest.mark.parametrize(
    ("values", "words"),
    [({}, ""), ({1: 2.4}, "1 of 4 readings fails"), ({1: 0.4}, "3 of 4 readings are missing")],
)
def test_the_readings_of_a_link_in_a_few_words(values: dict[int, float], words: str) -> None:
    link = NEAR
    for strand, value in values.items():
        link = taken(link, value, strand=strand)
    assert acceptance_of(link, CATALOG, HOUSE) == words


@given(
    st.lists(
        st.tuples(
            st.floats(-0.5, 4.0).map(lambda value: round(value, 3)),
            st.booleans(),
            st.sampled_from(["", "one cord, 09:00"]),
            st.sampled_from([None, 0.12]),
        ),
        max_size=4,
    )
)
def test_readings_never_make_a_link_better_than_what_was_read_of_it(
    read: list[tuple[float, bool, str, float | None]],
) -> None:
    """The loss is no less than what was planned, or than the least that was read and believed."""
    link = NEAR
    for value, cleaned, zero, off in read:
        link = taken(link, value, cleaned=cleaned, tester_zero=zero, uncertainty_db=off)
    found = judge(link)
    loss = next(one.loss for one in found.directions if one.direction == "right")
    assert loss.worst_db >= min([worst_db(NEAR), *(max(0.0, value) for value, *_ in read)]) - 1e-6
    if read and read[-1][0] > 1.6:
        assert loss.worst_db > read[-1][0], "the last one was bad, and it counts whatever it lacks"
    if found.as_measured:
        assert any(value >= 0 and zero and off is not None for value, _, zero, off in read)
