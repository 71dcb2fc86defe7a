"""Tables out: CSV for everything, XLSX for spreadsheet programs, formula characters made harmless."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

from passerelle.exchange.holdable import held

Cell = str | float | None
_RISKY = ("=", "+", "-", "@", "\t", "\r", "\n")


def neutral(text: str) -> str:
    """A text that no spreadsheet program takes for a formula: a leading formula character gets an apostrophe."""
    return f"'{text}" if text.startswith(_RISKY) else text


def restored(text: str) -> str:
    """The text as it was before ``neutral``."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_RISKY) else text


def write_csv(head: Sequence[str], rows: Sequence[Sequence[Cell]]) -> str:
    """The table as CSV (RFC 4180)."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(head)
    writer.writerows([_held(cell) for cell in row] for row in rows)
    return out.getvalue()


def write_xlsx(title: str, head: Sequence[str], rows: Sequence[Sequence[Cell]]) -> bytes:
    """The table as a workbook with one sheet; a control character, which a sheet cannot hold, shows as U+FFFD."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = title
    for row in (head, *rows):
        sheet.append([_held(cell) for cell in row])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "A2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _held(cell: Cell) -> Cell:
    return held(cell) if isinstance(cell, str) else cell
