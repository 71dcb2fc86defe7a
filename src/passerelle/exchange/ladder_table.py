"""The list of links as a table."""

from __future__ import annotations

from collections.abc import Iterable

from passerelle.core.batch import Figures
from passerelle.core.link.chain import Link, ports
from passerelle.exchange.table_out import Cell, neutral

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
    "acceptance",
    "notes",
)


def table(links: Iterable[tuple[Link, Figures, str]]) -> list[tuple[Cell, ...]]:
    """One row a link, under the columns of ``HEAD``: its figures, and how its readings stand.

    Lengths in m, losses in dB, None where not known.
    """
    rows: list[tuple[Cell, ...]] = []
    for link, figures, acceptance in links:
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
                _rounded(None if figures.verdict == "damage" else figures.margin_db),
                figures.verdict_text,
                acceptance,
                neutral(link.notes),
            )
        )
    return rows


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 3)
