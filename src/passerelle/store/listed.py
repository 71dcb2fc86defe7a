"""Rows of the list of links, kept with what they rest on: link, house rules, and the program that judged."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from passerelle.store.records import driver
from passerelle.store.tables import ListedRow

Row = tuple[int, int, bytes]
"""Number of a link, its revision, and its row as JSON."""


def kept_rows(session: Session, numbers: Sequence[int], house_revision: int, judged_by: str) -> list[Row]:
    """The rows of some links under one revision of the house rules; whoever asks compares the links' revisions."""
    wanted = select(func.json_each(json.dumps(list(numbers))).table_valued("value").c.value)
    query = select(ListedRow.link_id, ListedRow.revision, ListedRow.body).where(
        ListedRow.link_id.in_(wanted),
        ListedRow.house_revision == house_revision,
        ListedRow.judged_by == judged_by,
    )
    return [(number, revision, body) for number, revision, body in session.execute(query)]


def keep_rows(session: Session, rows: Iterable[Row], house_revision: int, judged_by: str) -> None:
    """Keep rows in place of those that were there; of links that are gone none is kept."""
    driver(session).executemany(
        "INSERT OR REPLACE INTO listed (link_id, revision, house_revision, judged_by, body)"
        " SELECT ?, ?, ?, ?, ? WHERE EXISTS (SELECT 1 FROM link WHERE id = ?)",
        ((number, revision, house_revision, judged_by, row, number) for number, revision, row in rows),
    )
