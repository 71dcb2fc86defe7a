"""Events: what happened in the world, added and never changed; undo and redo add what withdraws."""

from __future__ import annotations

import secrets
from collections.abc import Iterable, Sequence
from datetime import datetime

from pydantic import TypeAdapter
from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from passerelle.core.events import UNDONE, Event, OfLink, Stamp, Withdrawal, withdrawals
from passerelle.core.upgrade import with_before, with_zero
from passerelle.store.tables import EventRow

_EVENT: TypeAdapter[Event] = TypeAdapter(Event)
_EVENTS: TypeAdapter[list[Event]] = TypeAdapter(list[Event])


INSTRUMENTS = 9
"""The schema since which readings say their instrument."""
ZEROS = 12
"""The schema since which readings name their reference."""
OF_PROJECT = ""
"""The link of an event that concerns none."""


def new_key() -> str:
    """A key that nothing has had."""
    return secrets.token_hex(8)


def now(session: Session) -> datetime:
    """The present moment by the clock of the database."""
    moment: datetime = session.info["clock"]()
    return moment


def stamp(session: Session) -> Stamp:
    """Now, by whoever makes the changes of this session."""
    return Stamp(now(session).replace(microsecond=0), session.info.get("who", ""), new_key)


def append(session: Session, project_id: int, events: Iterable[Event]) -> None:
    """Write events down behind the others; a withdrawal concerns the link of what it withdraws."""
    links: dict[str, str] = {}
    for event in events:
        if isinstance(event, OfLink):
            links[event.key] = event.link
        elif not isinstance(event, Withdrawal):
            links[event.key] = OF_PROJECT
        else:
            links[event.key] = links[event.of] if event.of in links else _link_of(session, event.of)
        body = event.model_dump(mode="json")
        session.add(
            EventRow(project_id=project_id, key=event.key, kind=event.kind, link=links[event.key], body=body)
        )
    session.flush()


def _link_of(session: Session, key: str) -> str:
    return session.scalars(select(EventRow.link).where(EventRow.key == key)).one()


def of_project(session: Session, project_id: int) -> list[Event]:
    """All events of a project, oldest first."""
    return _read(session, EventRow.project_id == project_id)


def of_links(session: Session, project_id: int, links: Sequence[str]) -> list[Event]:
    """The events of some links of a project by their keys, oldest first."""
    return _read(session, EventRow.project_id == project_id, EventRow.link.in_(links))


def _read(session: Session, *wanted: ColumnElement[bool]) -> list[Event]:
    """Events oldest first; a row is never rewritten, so one of an older schema is brought up to date here."""
    rows = session.execute(select(EventRow.body, EventRow.schema).where(*wanted).order_by(EventRow.id))
    return _EVENTS.validate_python([_brought_up(body, schema) for body, schema in rows])


def _brought_up(body: object, schema: int) -> object:
    if schema < INSTRUMENTS:
        body = with_before(body)
    return with_zero(body) if schema < ZEROS else body


def set_standing(session: Session, project_id: int, key: str, *, stands: bool) -> str:
    """Make an event stand or not by adding what withdraws; answers with the key of its link.

    What stands by itself is left as it is: a second withdrawal would say nothing.
    """
    link = _link_of(session, key)
    said = stamp(session)
    for _ in range(1000):
        gone = withdrawals(of_links(session, project_id, [link]))
        if (key not in gone) == stands:
            break
        of = gone[key].key if stands else key
        append(session, project_id, [Withdrawal(key=new_key(), at=said.at, who=said.who, of=of, why=UNDONE)])
    return link


def by_key(session: Session, key: str) -> Event | None:
    """An event by its key, None without one."""
    found = _read(session, EventRow.key == key)
    return found[0] if found else None
