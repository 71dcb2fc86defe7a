"""Readings as a table: columns of any name matched to fields, every bad line named, nothing half-taken."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime, time
from typing import Literal

from passerelle.core.errors import DoubtfulNumberError, UnitError
from passerelle.core.sources import Frozen
from passerelle.core.units import parse_length, parse_number
from passerelle.exchange.table_in import BadLine, CellError, matched, read_table, read_workbook, values_of

EXAMPLE = "link,strand,wavelength,direction,loss,date,time,instrument,calibrated,operator,place"
FIELDS = (
    "link",
    "strand",
    "wavelength",
    "loss",
    "direction",
    "reference",
    "date",
    "time",
    "instrument",
    "calibrated",
    "operator",
    "place",
    "note",
    "zero",
    "length",
    "result",
)
NEEDED = ("link", "strand", "wavelength", "loss")
_ALIASES = {
    "link": ("link", "cable", "name", "link name", "cable id", "label"),
    "strand": ("strand", "fiber", "fibre", "fiber id", "core", "position", "fiber no"),
    "wavelength": ("wavelength", "wavelength nm", "wavelength (nm)", "nm", "lambda"),
    "loss": ("loss", "loss db", "loss (db)", "il", "insertion loss", "db", "attenuation", "value"),
    "direction": ("direction", "dir", "way"),
    "reference": ("reference", "method", "reference method"),
    "date": ("date", "day", "taken on", "test date"),
    "time": ("time", "at", "clock"),
    "instrument": ("instrument", "serial", "meter", "meter serial", "serial number"),
    "calibrated": ("calibrated", "calibration", "calibration date", "calibrated on"),
    "operator": ("operator", "by", "technician", "who"),
    "place": ("place", "site", "location"),
    "note": ("note", "remark", "comment", "comments"),
    "zero": (
        "zero",
        "reference set",
        "reference set at",
        "set reference",
        "ref date",
        "ref time",
    ),
    "length": ("length", "length m", "length (m)", "fiber length", "fibre length", "optical length"),
    "result": ("result", "pass/fail", "pass fail", "status", "verdict"),
}
_TEXTS = ("instrument", "operator", "place", "note", "zero")
Direction = Literal["right", "left", "both"]
_WAYS: dict[str, Direction] = {
    "": "right",
    "right": "right",
    "a-b": "right",
    "ab": "right",
    "a to b": "right",
    "forward": "right",
    "left": "left",
    "b-a": "left",
    "ba": "left",
    "b to a": "left",
    "reverse": "left",
    "backward": "left",
    "both": "both",
    "bi": "both",
    "bidirectional": "both",
}
Result = Literal["", "pass", "marginal", "fail"]
_RESULTS: dict[str, Result] = {
    "": "",
    "pass": "pass",
    "passed": "pass",
    "ok": "pass",
    "pass*": "marginal",
    "*pass": "marginal",
    "marginal": "marginal",
    "marginal pass": "marginal",
    "fail": "fail",
    "failed": "fail",
    "fail*": "fail",
    "*fail": "fail",
    "marginal fail": "fail",
}
Reference = Literal["one cord", "two cords", "three cords"]
_REFERENCES: dict[str, Reference] = {
    "one": "one cord",
    "one cord": "one cord",
    "1": "one cord",
    "1 cord": "one cord",
    "1-cord": "one cord",
    "one-cord": "one cord",
    "two": "two cords",
    "two cords": "two cords",
    "2": "two cords",
    "2 cords": "two cords",
    "2-cord": "two cords",
    "two-cord": "two cords",
    "three": "three cords",
    "three cords": "three cords",
    "3": "three cords",
    "3 cords": "three cords",
    "3-cord": "three cords",
    "three-cord": "three cords",
}


class TableReading(Frozen):
    """A reading as a line of a table has it: the link by its name, loss in dB, wavelength in nm.

    ``zero`` is what its tester states of its reference, ``length_m`` what light says of the length, ``result`` what
    the tester says of the reading.
    """

    line: int
    link: str
    strand: int
    wavelength_nm: int
    value_db: float
    direction: Direction = "right"
    reference: Reference | None = None
    taken_on: date | None = None
    at_time: time | None = None
    instrument: str = ""
    calibrated_on: date | None = None
    operator: str = ""
    place: str = ""
    note: str = ""
    zero: str = ""
    length_m: float | None = None
    result: Result = ""


class ReadingsRead(Frozen):
    """A table of readings as it was read: its columns, how they were matched, its readings, and every bad line."""

    columns: tuple[str, ...]
    mapping: dict[str, str]
    readings: tuple[TableReading, ...]
    problems: tuple[BadLine, ...]


def read_readings(text: str = "", workbook: str = "", mapping: Mapping[str, str] | None = None) -> ReadingsRead:
    """Readings from a CSV text, or a workbook as base64.

    Raises:
        TableError: it is no table.
    """
    table = read_workbook(workbook, EXAMPLE) if workbook else read_table(text, EXAMPLE)
    known = {field: column for field, column in (mapping or {}).items() if column in table.columns}
    chosen = known if known else matched(table.columns, _ALIASES)
    lacking = [field for field in NEEDED if chosen.get(field) not in table.columns]
    if lacking:
        told = f"no column is matched to '{lacking[0]}': choose one, or name the columns as in {EXAMPLE}"
        bad = BadLine(line=1, column=lacking[0], message=told)
        return ReadingsRead(columns=table.columns, mapping=chosen, readings=(), problems=(bad,))
    found: list[TableReading] = []
    problems: list[BadLine] = []
    for number, cells in table.lines:
        try:
            found.append(_reading(number, values_of(cells, table.columns, chosen)))
        except CellError as error:
            problems.append(BadLine(line=number, column=chosen.get(error.field, error.field), message=str(error)))
    return ReadingsRead(columns=table.columns, mapping=chosen, readings=tuple(found), problems=tuple(problems))


def _reading(line: int, values: Mapping[str, str]) -> TableReading:
    direction = _WAYS.get(values.get("direction", "").strip().lower())
    if direction is None:
        raise CellError("direction", f"'{values['direction']}' is no direction: right, left or both")
    said = values.get("reference", "").strip().lower()
    if said and said not in _REFERENCES:
        raise CellError("reference", f"'{values['reference']}' is no reference: one, two or three cords")
    result = values.get("result", "").strip().lower()
    if result not in _RESULTS:
        raise CellError("result", f"'{values['result']}' is no result of a tester: pass, marginal or fail")
    return TableReading(
        line=line,
        link=values["link"].strip(),
        strand=_whole(values["strand"], "strand"),
        wavelength_nm=_whole(values["wavelength"].lower().removesuffix("nm"), "wavelength"),
        value_db=_decibels(values["loss"]),
        direction=direction,
        reference=_REFERENCES[said] if said else None,
        taken_on=_day(values.get("date", ""), "date"),
        at_time=_clock(values.get("time", "")),
        calibrated_on=_day(values.get("calibrated", ""), "calibrated"),
        length_m=_length(values.get("length", "")),
        result=_RESULTS[result],
        **{name: values.get(name, "").strip()[:120] for name in _TEXTS},
    )


def _length(text: str) -> float | None:
    if not text.strip():
        return None
    try:
        return parse_length(text)
    except UnitError as error:
        raise CellError("length", str(error)) from error


def _whole(text: str, field: str) -> int:
    said = text.strip()
    try:
        value = float(said)
    except ValueError:
        raise CellError(field, f"'{text}' is no whole number") from None
    if value != int(value) or not 1 <= value <= 10_000:
        raise CellError(field, f"'{text}' is no whole number between 1 and 10000")
    return int(value)


def _decibels(text: str) -> float:
    try:
        value = parse_number(text.strip().lower().removesuffix("db"))
    except DoubtfulNumberError as error:
        raise CellError("loss", str(error)) from error
    except UnitError:
        raise CellError("loss", f"'{text}' is no loss in dB") from None
    if not -5 <= value <= 100:
        raise CellError("loss", f"'{text}' is no loss in dB: between -5 and 100. Is it a power in dBm?")
    return value


def _day(text: str, field: str) -> date | None:
    said = text.strip()
    if not said:
        return None
    for form in ("%Y-%m-%d", "%Y-%m-%d %H:%M:%S", "%Y-%m-%dT%H:%M:%S", "%d.%m.%Y", "%Y/%m/%d"):
        try:
            return datetime.strptime(said, form).date()
        except ValueError:
            continue
    raise CellError(field, f"'{text}' is no day that is sure: write it as 2026-11-26")


def _clock(text: str) -> time | None:
    said = text.strip()
    if not said:
        return None
    try:
        return time.fromisoformat(said.zfill(5) if len(said) < 5 else said)
    except ValueError:
        raise CellError("time", f"'{text}' is no time of day: write it as 09:30") from None
