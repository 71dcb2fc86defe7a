"""Tables in: a CSV text or a workbook as lines of cells, and its columns matched to fields."""

from __future__ import annotations

import base64
import binascii
import csv
import io
import zipfile
from collections.abc import Mapping, Sequence

from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from passerelle.core.sources import Frozen
from passerelle.exchange.table_out import restored

MAX_LINES = 20_000
MAX_COLUMNS = 200


class BadLine(Frozen):
    """A line that cannot be read: its number in the file, the column, and what was expected."""

    line: int
    column: str
    message: str


class TableError(ValueError):
    """A text that is no table at all; the message says what to do."""


class CellError(ValueError):
    """One cell that cannot be read, with the field that it was meant for."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


class Table(Frozen):
    """A table as it was read: its columns and its lines below the head, each with its number in the file."""

    columns: tuple[str, ...]
    lines: tuple[tuple[int, tuple[str, ...]], ...]


def read_table(text: str, example: str) -> Table:
    """A CSV text with a head line; comma, semicolon or tab between the cells.

    Raises:
        TableError: it is not UTF-8 text, no table, has no head line, or too many lines.
    """
    if "\ufffd" in text or "\x00" in text:
        raise TableError("the file is not UTF-8 text: save it again as CSV, UTF-8")
    head = text.partition("\n")[0]
    delimiter = max(",;\t", key=head.count)
    try:
        lines = list(csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=delimiter, strict=True))
    except csv.Error as error:
        raise TableError(f"this is not a CSV table: {error}") from error
    return _table(lines, example)


def read_workbook(content_base64: str, example: str) -> Table:
    """The first sheet of an XLSX workbook, sent as base64.

    Raises:
        TableError: it is no workbook, or no table.
    """
    try:
        content = base64.b64decode(content_base64, validate=True)
        sheet = load_workbook(io.BytesIO(content), read_only=True, data_only=True).worksheets[0]
        cells = [[_text(value) for value in row[:MAX_COLUMNS]] for row in sheet.iter_rows(values_only=True)]
    except (binascii.Error, InvalidFileException, zipfile.BadZipFile, KeyError, IndexError, ValueError) as error:
        raise TableError("this is not an XLSX workbook: save it again as XLSX, or as CSV") from error
    return _table(cells, example)


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value)


def _table(lines: Sequence[Sequence[str]], example: str) -> Table:
    if not lines or not any(cell.strip() for cell in lines[0]):
        raise TableError(f"the first line must name the columns, for example: {example}")
    if len(lines) - 1 > MAX_LINES:
        raise TableError(f"more than {MAX_LINES} lines: split the file")
    columns = tuple(cell.strip() for cell in lines[0])
    while columns and not columns[-1]:
        columns = columns[:-1]
    numbered = ((number, tuple(cells)) for number, cells in enumerate(lines[1:], start=2))
    return Table(columns=columns, lines=tuple(line for line in numbered if any(cell.strip() for cell in line[1])))


def matched(columns: Sequence[str], aliases: Mapping[str, Sequence[str]]) -> dict[str, str]:
    """Which column holds which field, by the names that each field goes by."""
    names = {column.lower(): column for column in columns}
    found = {field: next((names[a] for a in known if a in names), None) for field, known in aliases.items()}
    return {field: column for field, column in found.items() if column is not None}


def values_of(cells: Sequence[str], columns: Sequence[str], mapping: Mapping[str, str]) -> dict[str, str]:
    """The cells of one line by field, with what was neutralized restored.

    Raises:
        CellError: there are more cells than columns.
    """
    if any(cell.strip() for cell in cells[len(columns) :]):
        raise CellError("", f"{len(cells)} cells under {len(columns)} columns: is a comma not quoted?")
    at = {field: columns.index(column) for field, column in mapping.items() if column in columns}
    return {field: restored(cells[i].strip()) if i < len(cells) else "" for field, i in at.items()}
