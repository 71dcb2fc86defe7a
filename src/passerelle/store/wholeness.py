"""Looks over a database: the pages, and every record as the program reads it."""

from __future__ import annotations

import hashlib
import sqlite3
import zlib
from collections.abc import Sequence
from contextlib import closing
from pathlib import Path

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.store.accepted import FILE_FIELDS
from passerelle.store.database import is_current, reading
from passerelle.store.events import of_project
from passerelle.store.files import damage
from passerelle.store.plants import plant_of
from passerelle.store.records import named, packed, unpacked
from passerelle.store.tables import (
    AttachmentRow,
    AttachmentUseRow,
    EntryRow,
    EventRow,
    LinkRow,
    ProjectRow,
    RecordRow,
    TakenRow,
)
from passerelle.store.taken import spots


def look_over(path: Path) -> tuple[list[str], list[str]]:
    """What a database holds, and what is damaged in it, each as lines.

    Raises:
        DatabaseTroubleError: it cannot be opened at all.
    """
    if found := damage(path):
        return [], found
    with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=2)) as connection:
        if not is_current(connection):
            return [
                "made by an older program: its records are read once it has been served and brought up to date"
            ], []
    with reading(path) as session:
        owners = session.scalars(select(ProjectRow).order_by(ProjectRow.id)).all()
        rows = session.scalars(select(LinkRow).order_by(LinkRow.id)).all()
        entries = session.scalars(select(EntryRow).order_by(EntryRow.id)).all()
        damaged = _records(session, entries) + _files(session)
        for owner in owners:
            damaged += _unread(f"project {owner.id} '{owner.name}', house rules", HouseRules, owner.house_rules)
            damaged += _unplanned(session, owner)
            damaged += _unread_events(session, owner)
            damaged += _cut_log(session, owner, [one for one in entries if one.project_id == owner.id])
        for row in rows:
            damaged += _unread(f"link {row.id}", Link, row.body)
        damaged += _untaken(session, rows)
    return [f"{len(owners)} projects, {len(rows)} links, {len(entries)} entries of the log"], damaged


def _untaken(session: Session, rows: Sequence[LinkRow]) -> list[str]:
    """Links whose positions on shared parts are not those that the table of what is taken has."""
    known: dict[int, set[tuple[str, int]]] = {row.id: set() for row in rows}
    for one in session.scalars(select(TakenRow)):
        known.setdefault(one.link_id, set()).add((one.part, one.path))
    return [
        f"link {row.id} '{row.body.get('name', '')}': what it takes of shared parts is not what was kept"
        for row in rows
        if isinstance(row.body.get("elements"), list) and set(spots(row.body)) != known[row.id]
    ]


def _records(session: Session, entries: Sequence[EntryRow]) -> list[str]:
    """Records of the log that are not what their hash says, and entries that name one that is not there."""
    damaged, there = [], set()
    for record in session.scalars(select(RecordRow)):
        there.add(record.hash)
        try:
            sound = packed(unpacked(record.body))[0] == record.hash
        except (ValueError, zlib.error):
            sound = False
        if not sound:
            damaged.append(f"record {record.hash} of the log: its content is not what was kept")
    for entry in entries:
        if set(named(entry.changes)) - there:
            damaged.append(f"entry {entry.id} of the log, '{entry.label}': a record that it names is not there")
    return damaged


def _cut_log(session: Session, owner: ProjectRow, entries: Sequence[EntryRow]) -> list[str]:
    """A log that ends before its end, and events that an entry names and that are not there."""
    where, found = f"project {owner.id} '{owner.name}'", []
    newest = max((entry.id for entry in entries), default=0)
    if newest < owner.log_end:
        found.append(f"{where}: its log ends with entry {newest}, not {owner.log_end}: its end was cut off")
    there = set(session.scalars(select(EventRow.key).where(EventRow.project_id == owner.id)))
    for entry in entries:
        named = {change["event"] for change in entry.changes if change.get("entity") == "event"}
        if named - there:
            found.append(f"entry {entry.id} of the log, '{entry.label}': what it says happened is not there")
    return found


def _files(session: Session) -> list[str]:
    """Files that are not what their hash says, and records that name a handover's package that is not here."""
    found, there = [], set()
    for name in session.scalars(select(AttachmentRow.hash)).all():
        there.add(name)
        body = session.scalar(select(AttachmentRow.body).where(AttachmentRow.hash == name)) or b""
        if hashlib.sha256(body).hexdigest() != name:
            found.append(f"file {name[:12]}: its content is not what was kept")
    kept = {(row.project_id, row.hash) for row in session.scalars(select(AttachmentUseRow))}
    for row in session.scalars(select(EventRow).order_by(EventRow.id)):
        for field in FILE_FIELDS:
            file = str(row.body.get(field) or "")
            gone = file and file not in there
            if gone and (field == "package" or (row.project_id, file) in kept):
                found.append(f"event {row.key} of project {row.project_id}: its {field} {file[:12]} is not there")
    return found


def _unplanned(session: Session, owner: ProjectRow) -> list[str]:
    try:
        plant_of(session, owner.id)
    except ValidationError as error:
        return [_said(f"project {owner.id} '{owner.name}', plan", error)]
    return []


def _unread_events(session: Session, owner: ProjectRow) -> list[str]:
    try:
        of_project(session, owner.id)
    except ValidationError as error:
        return [_said(f"project {owner.id} '{owner.name}', what happened", error)]
    return []


def _said(where: str, error: ValidationError) -> str:
    first = error.errors(include_url=False, include_context=False)[0]
    return f"{where}: {'.'.join(map(str, first['loc']))}: {first['msg']}"


def _unread(where: str, model: type[HouseRules | Link], content: object) -> list[str]:
    try:
        model.model_validate(content)
    except ValidationError as error:
        return [_said(where, error)]
    return []
