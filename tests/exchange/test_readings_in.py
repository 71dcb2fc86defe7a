"""Tables of readings: whatever a meter calls its columns, and what is not sure is refused with its line."""

from __future__ import annotations

import hashlib
import io
import zipfile
from datetime import date, time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.exchange.package_in import PackageError, read_package
from passerelle.exchange.readings_in import read_readings

HEAD = "link,strand,wavelength,loss,direction,date,time\n"


def one(loss: str = "0.8", direction: str = "", day: str = "", clock: str = "", strand: str = "1") -> object:
    cells = f"A,{strand},1310,{loss},{direction},{day},{clock}\n".replace("0,8", '"0,8"')
    found = read_readings(HEAD + cells)
    return found.readings[0] if found.readings else found.problems[0].message


@given(st.decimals(-5, 100, places=3))
def test_a_loss_is_what_was_typed_with_point_or_unit(value: object) -> None:
    for text in (f"{value}", f"{value} dB", f" {value}"):
        found = read_readings(HEAD + f"A,1,1310,{text},,,\n")
        assert [reading.value_db for reading in found.readings] == [float(str(value))]


@pytest.mark.parametrize("text", ["-21", "101", "loud", "", '"1,234"', "NaN", "1e9"])
def test_what_is_no_loss_is_refused(text: str) -> None:
    found = read_readings(HEAD + f"A,1,1310,{text},,,\n")
    assert found.readings == ()
    assert (found.problems[0].line, found.problems[0].column) == (2, "loss")


@pytest.mark.parametrize(
    ("said", "understood"),
    [("", "right"), ("A-B", "right"), ("b to a", "left"), ("both", "both"), ("reverse", "left")],
)
def test_directions_by_their_usual_names(said: str, understood: str) -> None:
    assert one(direction=said).direction == understood  # type: ignore[attr-defined]
    assert "no direction" in str(one(direction="up"))


def test_days_and_times_that_are_sure() -> None:
    for text in ("2026-11-26", "26.11.2026", "2026/11/26", "2026-11-26 00:00:00"):
        assert one(day=text).taken_on == date(2026, 11, 26)  # type: ignore[attr-defined]
    assert one(clock="9:05").at_time == time(9, 5)  # type: ignore[attr-defined]
    assert "no day that is sure" in str(one(day="11/26/2026"))
    assert "no time of day" in str(one(clock="25:99"))
    assert "whole number" in str(one(strand="1.5"))


def packed(files: dict[str, bytes]) -> bytes:
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, body in files.items():
            archive.writestr(name, body)
    return kept.getvalue()


def test_a_package_is_bounded_and_checked_before_it_is_taken() -> None:
    assert read_package(packed({"plan.json": b"{}"})) == ("{}", [])
    text = b"no picture"
    name = hashlib.sha256(text).hexdigest()
    for files, words in (
        ({"other.json": b"{}"}, "no plan.json"),
        ({"plan.json": b"\xff"}, "UTF-8"),
        ({"plan.json": b"{}", "attachments/00.png": b"x"}, "changed or damaged"),
        ({"plan.json": b"{}", f"attachments/{name}.png": text}, "no trace record"),
        ({"plan.json": bytes(200 * 1024 * 1024)}, "larger than"),
        ({f"f{n}": b"" for n in range(5001)}, "files are in it"),
    ):
        with pytest.raises(PackageError, match=words):
            read_package(packed(files))
    with pytest.raises(PackageError, match="cannot be unpacked"):
        read_package(b"PK\x03\x04 cut")
