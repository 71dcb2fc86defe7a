"""A delivery note as a table: its columns matched to fields, every bad line named, nothing half-taken."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from passerelle.core.errors import DoubtfulNumberError, UnitError
from passerelle.core.materials.arrival import Arrival
from passerelle.core.sources import Frozen
from passerelle.core.units import parse_length, parse_number
from passerelle.exchange.table_in import (
    BadLine,
    CellError,
    matched,
    read_table,
    read_workbook,
    values_of,
)

EXAMPLE = "line,quantity,grade,length,polish,coding"
FIELDS = ("line", "quantity", "grade", "length", "polish", "coding")
NEEDED = ("line", "quantity")
_ALIASES = {
    "line": ("line", "words", "item", "part", "description", "article", "article text"),
    "quantity": ("quantity", "count", "delivered", "qty", "pieces", "amount"),
    "grade": ("grade", "fiber", "fibre", "delivered grade"),
    "length": ("length", "length m", "length (m)", "delivered length"),
    "polish": ("polish", "delivered polish"),
    "coding": ("coding", "coded", "delivered coding"),
}


class DeliveryRead(Frozen):
    """A delivery note as it was read: its columns, how they were matched, its lines, and every bad one."""

    columns: tuple[str, ...]
    mapping: dict[str, str]
    arrivals: tuple[Arrival, ...]
    problems: tuple[BadLine, ...]


def read_delivery(
    text: str = "", workbook: str = "", mapping: Mapping[str, str] | None = None, unit: str = "m"
) -> DeliveryRead:
    """A delivery note from a CSV text, or a workbook as base64.

    Raises:
        TableError: it is no table.
    """
    table = read_workbook(workbook, EXAMPLE) if workbook else read_table(text, EXAMPLE)
    chosen = dict(mapping) if mapping is not None else matched(table.columns, _ALIASES)
    lacking = [field for field in NEEDED if chosen.get(field) not in table.columns]
    if lacking:
        told = f"no column is matched to '{lacking[0]}': choose one, or name the columns as in {EXAMPLE}"
        bad = BadLine(line=1, column=lacking[0], message=told)
        return DeliveryRead(columns=table.columns, mapping=chosen, arrivals=(), problems=(bad,))
    found: list[Arrival] = []
    problems: list[BadLine] = []
    for number, cells in table.lines:
        try:
            found.append(_arrival(values_of(cells, table.columns, chosen), unit))
        except CellError as error:
            problems.append(BadLine(line=number, column=chosen.get(error.field, error.field), message=str(error)))
    return DeliveryRead(columns=table.columns, mapping=chosen, arrivals=tuple(found), problems=tuple(problems))


def _arrival(values: Mapping[str, str], unit: str) -> Arrival:
    made: dict[str, Any] = {name: values.get(name, "") for name in ("line", "grade", "polish", "coding")}
    made["quantity"] = _number(values["quantity"])
    if values.get("length"):
        try:
            made["length_m"] = parse_length(values["length"], "ft" if unit == "ft" else "m")
        except UnitError as error:
            raise CellError("length", str(error)) from error
    try:
        return Arrival.model_validate(made)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise CellError(str(first["loc"][0]), first["msg"]) from error


def _number(text: str) -> float:
    """A number of pieces, or metres; a length with its unit. What could be a thousand or a fraction is refused."""
    said = text.strip().lower().removesuffix("pcs").strip()
    try:
        return parse_length(said) if re.search("[a-z]", said) else parse_number(said)
    except DoubtfulNumberError as error:
        raise CellError("quantity", str(error)) from error
    except UnitError:
        raise CellError("quantity", f"'{text}' is no quantity: give a number of pieces or metres") from None
