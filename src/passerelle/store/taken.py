"""What links take of shared parts, each position once: the database itself refuses a second."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Iterator, Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from passerelle.core.errors import PlantError
from passerelle.core.link.port_use import port_uses
from passerelle.store.port_uses import put_port_uses
from passerelle.store.records import Body, driver
from passerelle.store.tables import LinkRow, TakenRow

Spot = tuple[str, int]


def spots(body: Body) -> Iterator[Spot]:
    """The positions of shared parts that the body of a link names."""
    for piece in body["elements"]:
        if piece.get("part"):
            for number in piece["positions"]:
                yield piece["part"], number


def take(session: Session, project_id: int, wanted: Iterable[tuple[int, Body]]) -> None:
    """Write down what links take now, by their numbers and bodies, in place of what they took; their ports too.

    Raises:
        PlantError: another link has taken one of the positions.
    """
    links = list(wanted)
    put_port_uses(session, project_id, [(number, port_uses(body["elements"])) for number, body in links])
    connection = driver(session)
    connection.executemany("DELETE FROM taken WHERE link_id = ?", [(number,) for number, _ in links])
    for number, body in links:
        for part, path in spots(body):
            try:
                connection.execute("INSERT INTO taken VALUES (?, ?, ?, '', ?)", (project_id, part, path, number))
            except sqlite3.IntegrityError as error:
                raise PlantError(
                    f"parts[{part}]",
                    f"'{body['name']}' wants position {path} of '{part}', which another link has "
                    "taken: choose a free one",
                ) from error


def rows_on(session: Session, project_id: int, parts: Sequence[str], since: int = 0) -> list[LinkRow]:
    """The links that take something of some parts, changed after a revision, in their order."""
    named = select(func.json_each(json.dumps(list(parts))).table_valued("value").c.value)
    on = select(TakenRow.link_id).where(TakenRow.project_id == project_id, TakenRow.part.in_(named))
    query = select(LinkRow).where(LinkRow.id.in_(on), LinkRow.revision > since)
    return list(session.scalars(query.order_by(LinkRow.position, LinkRow.id)))


def all_rows_on(session: Session, project_id: int) -> list[LinkRow]:
    """The links that take something of any part, in their order."""
    on = select(TakenRow.link_id).where(TakenRow.project_id == project_id)
    query = select(LinkRow).where(LinkRow.id.in_(on)).order_by(LinkRow.position, LinkRow.id)
    return list(session.scalars(query))
