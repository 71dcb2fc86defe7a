"""Which readings are recorded at all: strand, day, length and method, each limit on both sides."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.acceptance.admission import check_day, check_reading, cleaned_since, length_slack_m
from passerelle.core.acceptance.references import (
    ReadingSetup,
    ReferenceSeen,
    lost_before,
    lost_by,
    read_after,
    references,
    why_not_with,
)
from passerelle.core.acceptance.stretch import Stretch, permanent_link
from passerelle.core.accepted import FaceStep, Inspected, ReferenceTaken, ReferenceVoid
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, ReadingTaken, Withdrawal
from passerelle.core.house import HouseRules
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.link.readings import Reading
from tests.core.plain import CATALOG, plain_link
from tests.core.test_acceptance import NOW, reference
from tests.core.test_readings import WHOLE

TODAY = date(2026, 9, 14)


def stretch(length_m: float = 1000.0, **said: Any) -> Stretch:
    link = plain_link("1000BASE-LX10", "OS2", length_m)
    if said:
        link = apply_edits(link, (SetFields(element="run-1", values=said),))
    found = permanent_link(compose(link, CATALOG))
    assert found is not None
    return found


def read(**more: Any) -> Reading:
    told = {**WHOLE, "wavelength_nm": 1310, "direction": "right", "strand": 1, "far_strand": 2, "value_db": 0.9}
    return Reading.model_validate({**told, **more})


def refused(of: Stretch, one: Reading, *, length_checked: bool = False) -> str:
    """The field that is refused; empty where it is recorded."""
    try:
        check_reading(of, one, CATALOG, TODAY, length_checked=length_checked)
    except AcceptanceError as error:
        return error.field
    return ""


@given(st.integers(-4000, 4000))
def test_a_day_is_recorded_up_to_a_time_zone_ahead(days: int) -> None:
    on = TODAY + timedelta(days=days)
    if days <= 1:
        check_day(on, TODAY)
        return
    with pytest.raises(AcceptanceError, match=str(on)) as caught:
        check_day(on, TODAY)
    assert caught.value.field == "taken_on"


@pytest.mark.parametrize(
    ("strand", "far", "field"),
    [
        (1, 2, ""),
        (2, 1, ""),
        (None, None, ""),
        (1, None, ""),
        (3, None, "strand"),
        (1, 1, "far_strand"),
        (2, 3, "far_strand"),
    ],
)
def test_a_strand_is_one_of_the_link_and_comes_out_where_it_is_planned(
    strand: int | None, far: int | None, field: str
) -> None:
    assert refused(stretch(), read(strand=strand, far_strand=far)) == field


@pytest.mark.parametrize(
    ("known_by", "measured"), [("guess", False), ("drawing", False), ("wheel", True), ("light", True)]
)
@pytest.mark.parametrize("sign", [-1, 1])
def test_a_length_by_light_is_near_the_plan_or_asked_about(known_by: str, measured: bool, sign: int) -> None:
    """1000 m: 3 % and 1 % of it, and 10 m where nobody measured, 2 m where somebody did."""
    slack = 42.0 if measured else 50.0
    assert length_slack_m(1000.0, measured=measured) == slack
    of = stretch(length_by=known_by)
    assert refused(of, read(length_m=1000 + sign * (slack - 0.01))) == ""
    assert refused(of, read(length_m=1000 + sign * (slack + 0.01))) == "length_m"
    assert refused(of, read(length_m=1000 + sign * (slack + 0.01)), length_checked=True) == ""


def test_without_a_planned_length_light_has_nothing_to_differ_from() -> None:
    link = plain_link("1000BASE-LX10", "OS2", None)
    found = permanent_link(compose(link, CATALOG))
    assert found is not None
    assert refused(found, read(length_m=5000.0)) == ""


@pytest.mark.parametrize("direction", ["right", "left"])
@pytest.mark.parametrize(
    ("reference", "length_m", "value", "field"),
    [
        ("three cords", 120.0, 0.0, "reference"),
        ("three cords", 120.0, 0.9, ""),
        ("three cords", 4000.0, 1.3, ""),
        ("two cords", 120.0, 0.3, ""),
        ("one cord", 120.0, 0.6, ""),
    ],
)
def test_a_method_that_cannot_prove_a_row_is_refused_unless_it_shows_a_fail(
    reference: str, length_m: float, value: float, field: str, direction: str
) -> None:
    """120 m of OS2 leave 0.05 dB to be proven with three cords, which may be 0.27 dB off; 4 km leave 1.6 dB."""
    one = read(reference=reference, value_db=value, direction=direction, reference_grade=True)
    assert refused(stretch(length_m), one) == field


def happened(*told: str) -> list[Event]:
    """Readings (a strand's number) and steps at a face, in order."""
    found: list[Event] = []
    for number, one in enumerate(told):
        key = f"k{number}"
        if one.isdigit():
            found.append(ReadingTaken(key=key, link="l", reading=read(strand=int(one))))
        elif one == "undone":
            found.append(Withdrawal(key=key, of=f"k{number - 1}", why="undone"))
        else:
            step: FaceStep = one  # type: ignore[assignment]
            found.append(Inspected(key=key, link="l", piece="p", step=step))
    return found


@pytest.mark.parametrize(
    ("told", "cleaned"),
    [
        ((), False),
        (("1",), False),
        (("1", "inspect"), False),
        (("1", "clean dry"), True),
        (("1", "clean wet to dry", "inspect"), True),
        (("1", "exchange"), True),
        (("1", "terminate again"), True),
        (("1", "damaged"), False),
        (("clean dry", "1"), False),
        (("1", "clean dry", "1"), False),
        (("1", "clean dry", "2"), True),
        (("1", "clean dry", "undone"), False),
    ],
)
def test_a_cleaning_on_record_since_the_row_was_read_counts(told: tuple[str, ...], cleaned: bool) -> None:
    assert cleaned_since(read(strand=1), happened(*told)) is cleaned


def taken_at(key: str, hour: int, **more: Any) -> ReferenceTaken:
    on = {"taken_on": TODAY, "at_time": time(hour, 0), "at": None}
    return reference(key=key, **{**on, **more})


def seen(*events: Event) -> dict[str, ReferenceSeen]:
    now = datetime.combine(TODAY, time(12, 0), tzinfo=NOW.tzinfo)
    return {one.taken.key: one for one in references(events, HouseRules(), now)}


@given(st.integers(6, 11), st.integers(0, 59), st.integers(6, 11), st.integers(0, 59))
def test_what_was_read_before_a_loss_may_name_its_reference_and_nothing_later(
    lost_h: int, lost_m: int, read_h: int, read_m: int
) -> None:
    zero = taken_at("a", 5)
    void = ReferenceVoid(key="v", of="a", why="power cycle", lost_on=TODAY, lost_at=time(lost_h, lost_m))
    later = (read_h, read_m) >= (lost_h, lost_m)
    assert read_after(void, TODAY, time(read_h, read_m)) is later
    setup = ReadingSetup("light source and power meter", "one cord", 1310, "PM-1", TODAY, time(read_h, read_m))
    assert bool(why_not_with(seen(zero, void)["a"], setup, HouseRules())) is later


@pytest.mark.parametrize(
    ("why", "lost"),
    [
        ("cord left the source", {"a", "b", "c"}),
        ("power cycle", {"b"}),
        ("another cord", {"b"}),
        ("meter moved", {"b"}),
    ],
)
def test_a_loss_takes_what_stood_on_the_same_source_before_it(why: str, lost: set[str]) -> None:
    zeros = [
        taken_at("a", 6),
        taken_at("b", 7),
        taken_at("c", 8, wavelength_nm=1550),
        taken_at("later", 11),
        taken_at("meter", 7, instrument="PM-2"),
        taken_at("glass", 7, family="multimode", wavelength_nm=850),
    ]
    void = ReferenceVoid.model_validate(
        {"key": "v", "of": "b", "why": why, "lost_on": TODAY, "lost_at": time(10, 0)}
    )
    assert {one.key for one in lost_by(void, zeros)} == lost
    assert {key for key, one in seen(*zeros, void).items() if one.voided} == lost
    assert lost_before(void, taken_at("x", 11))
    assert not lost_before(void, taken_at("x", 10))


@pytest.mark.parametrize(
    ("hours", "held"), [(-0.1, False), (0.0, True), (7.9, True), (8.0, True), (8.1, False), (30.0, False)]
)
def test_a_reference_holds_for_what_was_read_within_its_hours(hours: float, held: bool) -> None:
    """Set at 00:00, and the house lets one hold 8 h: the time of the reading counts, not that of typing."""
    zero = taken_at("a", 0)
    at = datetime.combine(TODAY, time(0, 0)) + timedelta(hours=hours)
    setup = ReadingSetup("light source and power meter", "one cord", 1310, "PM-1", at.date(), at.time())
    assert (why_not_with(seen(zero)["a"], setup, HouseRules()) == "") is held


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"family": "multimode"}, "multimode"),
        ({"core_um": 50.0}, "50 µm"),
        ({"wavelength_nm": 1550}, "1550 nm"),
        ({"reference": "three cords"}, "three cords"),
        ({"instrument": "PM-9"}, "PM-9"),
        ({"method": "trace, both directions averaged"}, "trace"),
        ({}, ""),
        ({"core_um": 8.2}, ""),
    ],
)
def test_a_reference_is_held_against_all_that_it_is_used_for(change: dict[str, Any], word: str) -> None:
    usual: dict[str, Any] = {
        "method": "light source and power meter",
        "reference": "one cord",
        "wavelength_nm": 1310,
        "instrument": "PM-1",
        "taken_on": TODAY,
        "at_time": time(9, 0),
        "family": "single-mode",
        "core_um": 9.0,
    }
    why = why_not_with(seen(taken_at("a", 8, core_um=9.0))["a"], ReadingSetup(**{**usual, **change}), HouseRules())
    assert bool(why) is bool(word)
    assert word in why
