"""Tables in: a CSV text or a workbook as lines of cells, and its columns matched to fields."""

from __future__ import annotations

import base64
import csv
import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from itertools import islice

from passerelle.core.sources import Frozen
from passerelle.exchange.holdable import held, overlong_number, unheld
from passerelle.exchange.table_out import restored

MAX_LINES = 20_000
MAX_COLUMNS = 200
MAX_PARTS = 1_000
MAX_UNPACKED_MIB = 64
MIB = 1024 * 1024
AGAIN = "save it again as XLSX, or as CSV"
_ROW = re.compile(rb'<(?:\w+:)?row\b[^>]*?\sr="(\d+)"')
_COLUMN = re.compile(rb'\sr="([A-Z]+)\d+"')


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
        reader = csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=delimiter, strict=True)
        lines = list(islice(reader, MAX_LINES + 2))
    except csv.Error as error:
        raise TableError(f"this is not a CSV table: {error}") from error
    return _table(lines, example)


def read_workbook(content_base64: str, example: str) -> Table:
    """The first sheet of an XLSX workbook, sent as base64. It is bounded before it is unpacked and parsed.

    Raises:
        TableError: it is no workbook, is damaged, encrypted or too large, or is no table.
    """
    from openpyxl import load_workbook

    try:
        content = base64.b64decode(content_base64, validate=True)
        _check_archive(content)
        sheet = load_workbook(io.BytesIO(content), read_only=True, data_only=True).worksheets[0]
        rows = sheet.iter_rows(max_row=MAX_LINES + 2, max_col=MAX_COLUMNS, values_only=True)
        cells = [[_text(value) for value in row] for row in rows]
    except TableError:
        raise
    except Exception as error:  # whatever a damaged archive, or a sheet that is no XML, makes the readers say
        raise TableError(f"this is not an XLSX workbook ({error}): {AGAIN}") from error
    return _table(cells, example)


def unpacked_bytes(content_base64: str) -> int:
    """How large a workbook is by its own directory once it is unpacked; 0 where it is none."""
    try:
        with zipfile.ZipFile(io.BytesIO(base64.b64decode(content_base64, validate=True))) as archive:
            return sum(part.file_size for part in archive.infolist())
    except (ValueError, zipfile.BadZipFile):
        return 0


def _check_archive(content: bytes) -> None:
    """Refuse what is too large or closed by what its directory says, and sheets that reach too far."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        parts = archive.infolist()
        if len(parts) > MAX_PARTS:
            raise TableError(f"the workbook has {len(parts)} parts, at most {MAX_PARTS} are read: {AGAIN}")
        if any(part.flag_bits & 0x1 for part in parts):
            raise TableError("the workbook is encrypted: save it again without a password")
        size = sum(part.file_size for part in parts)
        if size > MAX_UNPACKED_MIB * MIB:
            raise TableError(
                f"the workbook unpacks to {size // MIB} MiB, at most {MAX_UNPACKED_MIB} are read: split it"
            )
        for part in parts:
            if part.filename.startswith("xl/worksheets/") and part.filename.endswith(".xml"):
                _check_reach(archive.read(part))


def _check_reach(sheet: bytes) -> None:
    from openpyxl.utils import column_index_from_string

    for row in _ROW.findall(sheet):
        if len(row) > 9 or int(row) > MAX_LINES + 1:
            raise TableError(f"the sheet says row {row.decode()[:20]}, at most {MAX_LINES} are read: split it")
    for column in _COLUMN.findall(sheet):
        if len(column) > 3 or column_index_from_string(column.decode()) > MAX_COLUMNS:
            raise TableError(
                f"a cell stands in column {column.decode()[:9]}, at most {MAX_COLUMNS} columns are read"
            )


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
    if len(lines[0]) > MAX_COLUMNS:
        raise TableError(f"{len(lines[0])} columns, at most {MAX_COLUMNS} are read: leave some out")
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


def unmatched(columns: Sequence[str], mapping: Mapping[str, str]) -> tuple[str, ...]:
    """The columns that no field was matched to, in their order; their cells are not used."""
    used = set(mapping.values())
    return tuple(column for column in columns if column and column not in used)


def values_of(cells: Sequence[str], columns: Sequence[str], mapping: Mapping[str, str]) -> dict[str, str]:
    """The cells of one line by field, with what was neutralized restored.

    Raises:
        CellError: there are more cells than columns.
    """
    if any(cell.strip() for cell in cells[len(columns) :]):
        raise CellError("", f"{len(cells)} cells under {len(columns)} columns: is a comma not quoted?")
    at = {field: columns.index(column) for field, column in mapping.items() if column in columns}
    return {field: _held(field, restored(cells[i].strip())) if i < len(cells) else "" for field, i in at.items()}


def _held(field: str, text: str) -> str:
    if unheld(text):
        raise CellError(field, f"'{held(text)[:40]}' has a control character: remove it")
    if overlong_number(text):
        raise CellError(field, f"'{text[:20]}…' has more digits than any measure")
    return text
