"""Numbers as people type them: one reading where it is sure, two where a comma may group or mark a decimal."""

from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.errors import DoubtfulNumberError, UnitError
from passerelle.core.units import parse_length, parse_number, parse_power, plain_number


@pytest.mark.parametrize(
    ("text", "readings"),
    [
        ("1,005", ("1005", "1.005")),
        ("-1,005", ("-1005", "-1.005")),
        ("999,999", ("999999", "999.999")),
        ("1,000", ("1000", "1")),
        ("10,500", ("10500", "10.5")),
        ("1,00", ("1.00",)),
        ("1,0055", ("1.0055",)),
        ("0,350", ("0.350",)),
        ("1000,500", ("1000.500",)),
        ("1,000,500", ("1000500",)),
        ("1,000.5", ("1000.5",)),
        ("1.000,5", ("1000.5",)),
        ("1.005", ("1.005",)),
        ("1 500 000", ("1500000",)),
        ("−6,2", ("-6.2",)),
        ("+3", ("3",)),
        ("2e-4", ("2e-4",)),
        ("", ()),
        ("-", ()),
        ("six", ()),
        ("1,5,5", ()),
        ("1.5.5", ()),
        ("5 m", ()),
        ("inf", ()),
        ("nan", ()),
    ],
)
def test_a_comma_is_sure_or_has_both_readings(text: str, readings: tuple[str, ...]) -> None:
    assert plain_number(text) == readings


@pytest.mark.parametrize(
    ("text", "typed"),
    [("1,200 ft", ("1200 ft", "1.2 ft")), ("2 mi 1,200 ft", ("2 mi 1200 ft", "2 mi 1.2 ft"))],
)
def test_a_doubtful_length_gives_two_texts_that_are_sure(text: str, typed: tuple[str, str]) -> None:
    with pytest.raises(DoubtfulNumberError) as caught:
        parse_length(text)
    grouped, decimal = caught.value.readings
    assert parse_length(grouped) == pytest.approx(parse_length(typed[0]))
    assert parse_length(decimal) == pytest.approx(parse_length(typed[1]))
    assert grouped in str(caught.value)
    assert decimal in str(caught.value)


@pytest.mark.parametrize(
    ("text", "dbm"),
    [
        ("−6.2", -6.2),
        ("-6,2 dBm", -6.2),
        ("0.24 mW", -6.2),
        ("240 µW", -6.2),
        ("240 uW", -6.2),
        ("1 mW", 0.0),
        ("2 mW", 3.01),
    ],
)
def test_a_power_is_read_as_the_device_shows_it(text: str, dbm: float) -> None:
    assert parse_power(text) == dbm


@pytest.mark.parametrize("text", ["0 mW", "weak", "-6.2 dB", "", "mW", "-1 mW"])
def test_what_is_no_power_says_how_it_is_typed(text: str) -> None:
    with pytest.raises(UnitError, match=r"power|light"):
        parse_power(text)


@given(st.integers(min_value=1, max_value=999), st.integers(min_value=0, max_value=999))
def test_both_readings_of_a_doubt_are_a_thousand_apart(left: int, right: int) -> None:
    grouped, decimal = plain_number(f"{left},{right:03}")
    assert float(grouped) == pytest.approx(1000 * float(decimal))
    with pytest.raises(DoubtfulNumberError):
        parse_number(f"{left},{right:03}")


@given(st.decimals(min_value=-9999, max_value=9999, places=2), st.sampled_from([",", "."]), st.sampled_from("-−–"))
def test_two_decimals_are_never_in_doubt(value: object, sign: str, minus: str) -> None:
    typed = str(value).replace(".", sign).replace("-", minus)
    assert parse_number(typed) == pytest.approx(float(str(value)))


@given(st.text(max_size=16))
def test_any_text_is_a_number_or_a_clear_error(text: str) -> None:
    with contextlib.suppress(UnitError):
        float(parse_number(text))
