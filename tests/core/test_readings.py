"""A reading takes the place of exactly the terms between its test points, while the pieces stay as they were."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Measure, Reverse, SetFields, Withdraw, apply_edits
from passerelle.core.link.readings import Reading
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)
WHOLE: dict[str, Any] = {
    "value_db": 8.0,
    "start": "run-1",
    "end": "run-1",
    "near_joint": True,
    "far_joint": True,
    "wavelength_nm": 1550,
    "direction": "both",
    "method": "light source and power meter",
    "reference": "one cord",
    "taken_on": date(2026, 9, 14),
    "uncertainty_db": 0.3,
    "instrument": "LM-0417",
    "calibrated_on": "2026-03-02",
    "operator": "night crew",
    "at_time": "09:30:00",
    "place": "Harbor office",
    "tester_zero": "one cord, 09:00",
}


def rented() -> Link:
    return plain_link("10GBASE-ER", "OS2", 34_000)


def measured(link: Link, **more: Any) -> Link:
    return apply_edits(link, (Measure(reading=Reading.model_validate({**WHOLE, **more})),))


def judge(link: Link) -> Review:
    return review(link, CATALOG, HOUSE, with_fixes=False)


def test_a_rented_pair_passes_as_measured() -> None:
    """On paper 34 km lose 13.6 + 1.5 dB of the 10.9 that are allowed; measured 8 ± 0.3 dB, with both end joints."""
    assert judge(rented()).verdict is Verdict.FAIL
    found = judge(measured(rented()))
    assert found.verdict_text == "pass as measured"
    for direction in found.directions:
        cords = 2 * 2 / 1000 * 0.4
        assert direction.loss.worst_db == pytest.approx(8.3 + cords)
        assert direction.loss.expected_db == pytest.approx(8.0 + 2 * 2 / 1000 * 0.22)
        assert direction.loss.least_db == pytest.approx(7.7 + 2 * 2 / 1000 * 0.17)
    assert judge(measured(rented(), value_db=12.0)).verdict_text == "fail as measured"


@pytest.mark.parametrize(("near", "far", "reference"), [(True, False, "two cords"), (False, False, "three cords")])
def test_end_joints_that_are_not_in_the_value_stay_in_the_sum(near: bool, far: bool, reference: str) -> None:
    found = judge(measured(rented(), near_joint=near, far_joint=far, reference=reference, value_db=7.0))
    joints = 0.75 * (2 - near - far)
    assert found.directions[0].loss.worst_db == pytest.approx(7.3 + joints + 0.0016)


@pytest.mark.parametrize(
    ("more", "why"),
    [
        ({"uncertainty_db": None, "taken_on": None}, "not said: date, uncertainty"),
        ({"wavelength_nm": None}, "wavelength"),
        ({"method": "trace, one direction"}, "the other direction is needed"),
        ({"reference": "three cords"}, "includes neither end joint"),
    ],
)
def test_a_field_that_is_missing_leaves_it_to_inform(more: dict[str, Any], why: str) -> None:
    found = judge(measured(rented(), **more))
    assert found.verdict_text == "fail"
    note = next(f for f in found.findings if f.code == "reading.informs")
    assert why in note.what


def test_it_counts_in_its_own_wavelength_and_direction_only() -> None:
    assert judge(measured(rented(), wavelength_nm=1310)).as_measured is False
    one_way = judge(measured(rented(), direction="right"))
    by_way = {d.direction: d.loss.worst_db for d in one_way.directions}
    assert by_way["right"] < 9 < by_way["left"]
    assert one_way.verdict is Verdict.FAIL


@pytest.mark.parametrize(
    ("element", "values", "stale"),
    [
        ("run-1", {"length_m": 33_000}, True),
        ("panel-1", {"keys": "opposed"}, True),  # its end joint is in the value
        ("run-1", {"label": "upstream", "construction": "loose tube, duct", "spaces": ["duct"]}, False),
        ("cord-1", {"length_m": 3}, False),
    ],
)
def test_a_piece_between_its_points_that_changes_makes_it_stale(
    element: str, values: dict[str, Any], stale: bool
) -> None:
    found = judge(apply_edits(measured(rented()), (SetFields(element=element, values=values),)))
    assert found.as_measured is not stale
    assert any(f.code == "reading.stale" for f in found.findings) is stale


def test_the_newest_valid_one_counts_and_overlapping_ones_never_add() -> None:
    link = measured(measured(rented()), value_db=9.0, taken_on=date(2026, 10, 1))
    assert judge(link).directions[0].loss.worst_db == pytest.approx(9.3 + 0.0016)
    assert [reading.id for reading in link.readings] == ["reading-1", "reading-2"]
    withdrawn = apply_edits(link, (Withdraw(reading="reading-2", why="meter past its calibration"),))
    assert judge(withdrawn).directions[0].loss.worst_db == pytest.approx(8.3 + 0.0016)
    assert len(withdrawn.readings) == 2
    with pytest.raises(EditError, match="no reading 'reading-9'"):
        apply_edits(link, (Withdraw(reading="reading-9", why="x"),))
    with pytest.raises(EditError, match="choose both again"):
        measured(rented(), start="cord-2", end="cord-1")


@given(st.sampled_from(["right", "left", "both"]), st.booleans(), st.booleans())
def test_a_link_drawn_from_its_other_end_keeps_its_readings(direction: str, near: bool, far: bool) -> None:
    reference = {0: "three cords", 1: "two cords", 2: "one cord"}[near + far]
    link = measured(rented(), direction=direction, near_joint=near, far_joint=far, reference=reference)
    turned = apply_edits(link, (Reverse(),))
    sums = [{d.direction: d.loss.worst_db for d in judge(one).directions} for one in (link, turned)]
    assert sums[0]["right"] == pytest.approx(sums[1]["left"])
    assert sums[0]["left"] == pytest.approx(sums[1]["right"])
    assert apply_edits(turned, (Reverse(),)) == link


def test_a_grade_that_is_not_decided_makes_no_reading_stale() -> None:
    link = plain_link("10GBASE-ER", ("OS2", "OS1"), 34_000)
    found = judge(measured(link))
    assert found.as_measured
    assert {c.verdict for c in found.candidates} == {Verdict.PASS}


def test_the_list_says_the_same() -> None:
    for link in (measured(rented()), measured(rented(), uncertainty_db=None)):
        figures, single = figures_of([link], CATALOG, HOUSE)[0], judge(link)
        assert (figures.verdict_text, figures.margin_db) == (single.verdict_text, single.margin_db)
