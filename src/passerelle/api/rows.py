"""The rows of the list of links, kept as JSON. Only links that changed since the last look are judged again."""

from __future__ import annotations

import threading
from collections.abc import Iterable

from cachetools import LRUCache

from passerelle.api.schemas.links import LinkRowOut, PieceMark
from passerelle.core.batch import Figures
from passerelle.core.link.chain import Link, ports

BOUND_BYTES = 64 * 1024 * 1024
FRAME_BYTES = 300
"""What a row takes beside its JSON."""


class RowShelf:
    """Rows by link, good for one revision of it under one revision of the house rules, within a bound of bytes."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._rows: LRUCache[int, tuple[int, int, bytes]] = LRUCache(
            BOUND_BYTES, getsizeof=lambda kept: len(kept[2]) + FRAME_BYTES
        )

    def put(self, house_revision: int, rows: Iterable[tuple[int, int, bytes]]) -> None:
        """Keep rows: number of the link, its revision, and its JSON as ``row_json`` makes it."""
        with self._lock:
            for number, revision, row in rows:
                self._rows[number] = revision, house_revision, row

    def known(self, heads: Iterable[tuple[int, int]], house_revision: int) -> dict[int, bytes]:
        """The rows that are still good, of links given by number and revision."""
        found = {}
        with self._lock:
            for number, revision in heads:
                kept = self._rows.get(number)
                if kept is not None and kept[:2] == (revision, house_revision):
                    found[number] = kept[2]
        return found


def row_json(link: Link, figures: Figures) -> bytes:
    """A link in the list, as JSON, its number left at 0."""
    ends = ports(link)
    row = LinkRowOut(
        id=0,
        name=link.name,
        from_place=ends[0].place if ends else "",
        to_place=ends[-1].place if ends else "",
        applications=figures.applications,
        length_m=figures.length_m,
        verdict=figures.verdict,
        verdict_text=figures.verdict_text,
        margin_db=figures.margin_db,
        stage=figures.stage,
        pieces=tuple(
            PieceMark(kind=element.kind, severity=severity, fiber=getattr(element, "fiber", ()))
            for element, severity in zip(link.elements, figures.marks, strict=True)
        ),
    )
    return row.model_dump_json().encode()


def numbered(row: bytes, number: int) -> bytes:
    """A row with its number."""
    return b'{"id":%d' % number + row.removeprefix(b'{"id":0')
