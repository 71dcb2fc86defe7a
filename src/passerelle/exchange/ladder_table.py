"""The list of links as a table: CSV for everything, XLSX for spreadsheet programs."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from openpyxl import Workbook
from openpyxl.styles import Font

from passerelle.core.batch import Figures
from passerelle.core.link.chain import Link, ports

Cell = str | float | None
HEAD = (
    "name",
    "from",
    "to",
    "application",
    "length m",
    "worst loss dB",
    "expected loss dB",
    "margin dB",
    "verdict",
    "notes",
)
_RISKY = ("=", "+", "-", "@", "\t", "\r", "\n")


def table(links: Iterable[tuple[Link, Figures]]) -> list[tuple[Cell, ...]]:
    """One row a link, under the columns of ``HEAD``; lengths in m, losses in dB, None where not known."""
    rows: list[tuple[Cell, ...]] = []
    for link, figures in links:
        ends = ports(link)
        rows.append(
            (
                neutral(link.name),
                neutral(ends[0].place if ends else ""),
                neutral(ends[-1].place if ends else ""),
                " | ".join(figures.applications),
                figures.length_m,
                _rounded(figures.worst_db),
                _rounded(figures.expected_db),
                _rounded(figures.margin_db),
                figures.verdict_text,
                neutral(link.notes),
            )
        )
    return rows


def neutral(text: str) -> str:
    """A text that no spreadsheet program takes for a formula: a leading formula character gets an apostrophe."""
    return f"'{text}" if text.startswith(_RISKY) else text


def restored(text: str) -> str:
    """The text as it was before ``neutral``."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_RISKY) else text


def write_csv(rows: list[tuple[Cell, ...]]) -> str:
    """The table as CSV (RFC 4180)."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEAD)
    writer.writerows(rows)
    return out.getvalue()


def write_xlsx(rows: list[tuple[Cell, ...]]) -> bytes:
    """The table as a workbook with one sheet."""
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "links"
    for row in (HEAD, *rows):
        sheet.append(list(row))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "A2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 3)
