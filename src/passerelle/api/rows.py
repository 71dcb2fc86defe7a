"""The rows of the list of links as JSON: where they are kept, and for how long they are good."""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Iterable, Sequence
from contextlib import suppress
from functools import cache
from pathlib import Path

from cachetools import LRUCache
from fastapi import Request

import passerelle
from passerelle.api.schemas.links import LinkRowOut, PieceMark
from passerelle.core.acceptance.proof import acceptance_of
from passerelle.core.batch import Figures
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, ports
from passerelle.core.rules.shared_port import PORT_IN_TWO_LINKS
from passerelle.store.database import Database
from passerelle.store.listed import Row, keep_rows, kept_rows
from passerelle.store.trouble import DatabaseTroubleError

BOUND_BYTES = 8 * 1024 * 1024
FRAME_BYTES = 300
"""What a row takes beside its JSON."""

MANY = 100
"""Rows that are worth a transaction of their own; fewer are kept in memory until the program ends."""


@cache
def judged_by() -> str:
    """The program and catalog that judge and word a row, as a hash of all their files: another one judges anew."""
    folder = Path(passerelle.__file__).parent
    files = sorted(path for path in folder.rglob("*") if path.suffix in (".py", ".toml", ".csv"))
    found = hashlib.blake2b(digest_size=16)
    for path in files:
        found.update(str(path.relative_to(folder)).encode() + b"\0" + path.read_bytes())
    return found.hexdigest()


class RowShelf:
    """Rows by link, good for one revision of it under one revision of the house rules.

    Many are kept in the database, few in memory within a bound of bytes.
    """

    def __init__(self, database: Database) -> None:
        self._database = database
        self._lock = threading.Lock()
        self._rows: LRUCache[int, tuple[int, int, bytes]] = LRUCache(
            BOUND_BYTES, getsizeof=lambda kept: len(kept[2]) + FRAME_BYTES
        )

    def put(self, house_revision: int, rows: Sequence[Row]) -> None:
        """Keep rows, as ``row_json`` makes them. A database that cannot take them now is left in peace."""
        if len(rows) >= MANY:
            with suppress(DatabaseTroubleError), self._database.write() as session:
                keep_rows(session, rows, house_revision, judged_by())
                return
        with self._lock:
            for number, revision, row in rows:
                self._rows[number] = revision, house_revision, row

    def known(self, heads: Iterable[tuple[int, int]], house_revision: int) -> dict[int, bytes]:
        """The rows that are still good, of links given by number and revision."""
        found, rest = {}, {}
        with self._lock:
            for number, revision in heads:
                kept = self._rows.get(number)
                if kept is not None and kept[:2] == (revision, house_revision):
                    found[number] = kept[2]
                else:
                    rest[number] = revision
        if rest:
            with self._database.read() as session:
                stored = kept_rows(session, list(rest), house_revision, judged_by())
            found |= {number: row for number, revision, row in stored if rest[number] == revision}
        return found


def shelf_of(request: Request) -> RowShelf:
    """The rows that this application knows."""
    shelf: RowShelf = request.app.state.rows
    return shelf


def row_out(number: int, link: Link, figures: Figures, house: HouseRules) -> LinkRowOut:
    """A link in the list."""
    catalog = house_catalog(load_catalog(), house)
    ends = ports(link)
    return LinkRowOut(
        id=number,
        name=link.name,
        from_place=ends[0].place if ends else "",
        to_place=ends[-1].place if ends else "",
        applications=figures.applications,
        length_m=figures.length_m,
        verdict=figures.verdict,
        verdict_text=figures.verdict_text,
        margin_db=figures.margin_db,
        house_margin_db=figures.house_margin_db,
        stage=figures.stage,
        acceptance=acceptance_of(link, catalog, house),
        pieces=tuple(
            PieceMark(kind=element.kind, severity=severity, fiber=getattr(element, "fiber", ()))
            for element, severity in zip(link.elements, figures.marks, strict=True)
        ),
    )


def row_json(link: Link, figures: Figures, house: HouseRules) -> bytes:
    """A link in the list, as JSON, its number left at 0."""
    return row_out(0, link, figures, house).model_dump_json().encode()


def failed(row: bytes) -> bytes:
    """A row of a link that fails beside the others of its project, whatever it is by itself."""
    found = LinkRowOut.model_validate_json(row)
    if found.verdict.broken:
        return row
    worse = {"verdict": Verdict.FAIL, "verdict_text": Verdict.FAIL.value, "stage": PORT_IN_TWO_LINKS.stage}
    return found.model_copy(update=worse).model_dump_json().encode()


def numbered(row: bytes, number: int) -> bytes:
    """A row with its number."""
    return b'{"id":%d' % number + row.removeprefix(b'{"id":0')
