"""Lengths as people type them."""

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.errors import UnitError
from passerelle.core.units import format_db, format_length, parse_length


@pytest.mark.parametrize(
    ("text", "metres"),
    [
        ("1250 ft", 381.0),
        ("2.9 km", 2900.0),
        ("0,4 km", 400.0),
        ("1/2 mi", 804.672),
        ("½ mi", 804.672),
        ("3 1/2 ft", 1.0668),
        ("12'6\"", 3.81),
        ("12 ft 6 in", 3.81),
        ("1 500 m", 1500.0),
        ("1,500.5 ft", 457.3524),
        ("1.500,5 m", 1500.5),
        ("50 Meters", 50.0),
        ("320", 320.0),
        (".5 km", 500.0),
        ("300m", 300.0),
    ],
)
def test_what_people_type_is_understood(text: str, metres: float) -> None:
    assert parse_length(text) == pytest.approx(metres, abs=1e-6)


@pytest.mark.parametrize(
    ("text", "hint"),
    [
        ("1,500", "can mean 1500 or 1.5:"),
        ("1,500 ft", "can mean"),
        ("", "no length"),
        ("about far", "not a length"),
        ("-3 m", "not a length"),
        ("5 furlongs", "not a unit"),
        ("1/0 mi", "divides by zero"),
        ("5 m 5 m", "repeats a unit"),
        ("999999999 km", "check the unit"),
        ("nan", "not a length"),
    ],
)
def test_what_cannot_be_read_says_what_to_type(text: str, hint: str) -> None:
    with pytest.raises(UnitError, match=hint):
        parse_length(text)


def test_a_bare_number_takes_the_persons_unit() -> None:
    assert parse_length("100", "ft") == pytest.approx(30.48)


@given(st.floats(min_value=0, max_value=6e4, allow_nan=False), st.sampled_from(["m", "ft", "km", "in", "yd", "mi"]))
def test_length_round_trip(value: float, unit: str) -> None:
    metres = parse_length(f"{value:.6f} {unit}")
    assert parse_length(f"{metres:.6f} m") == pytest.approx(metres, abs=1e-5)


@given(st.text(max_size=20))
def test_any_text_is_a_length_or_a_clear_error(text: str) -> None:
    with contextlib.suppress(UnitError):
        assert parse_length(text) >= 0


@pytest.mark.parametrize(
    ("value", "shown"),
    [(16.4, "+16.40 dB"), (0.29, "+0.29 dB"), (-1.1, "−1.10 dB"), (4.35, "+4.35 dB"), (0.0, "+0.00 dB")],
)
def test_what_was_typed_with_two_digits_is_shown_with_them(value: float, shown: str) -> None:
    assert format_db(value, 2) == shown


@given(st.floats(min_value=-50, max_value=50))
def test_a_margin_is_never_shown_better_than_it_is(value_db: float) -> None:
    shown = float(format_db(value_db).removesuffix(" dB").replace("−", "-"))
    assert shown <= value_db + 1e-9
    assert value_db - shown < 0.1 + 1e-9


def test_lengths_are_written_for_reading() -> None:
    assert [format_length(m) for m in (2900, 320, 2, 0.5)] == ["2.90 km", "320 m", "2 m", "0.5 m"]
    assert format_length(320, "ft") == "1050 ft"
