"""The history of a project: every change is one entry; undo and redo walk along the entries."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from passerelle.store.tables import EntryRow, LinkRow, ProjectRow

Body = dict[str, Any]


@dataclass(frozen=True)
class LinkChange:
    """A link's content before and after; None where the link did not exist."""

    link_id: int
    position: int
    before: Body | None
    after: Body | None
    entity: str = "link"


@dataclass(frozen=True)
class ProjectChange:
    """A project's house rules before and after."""

    before: Body
    after: Body
    entity: str = "project"


@dataclass(frozen=True)
class NameChange:
    """A project's name before and after, each as ``{"name": …}``."""

    before: Body
    after: Body
    entity: str = "name"


@dataclass(frozen=True)
class PlantChange:
    """A project's plant before and after."""

    before: Body
    after: Body
    entity: str = "plant"


@dataclass(frozen=True)
class Entry:
    """One line of the log."""

    id: int
    at: datetime
    label: str
    link_id: int | None
    state: str


@dataclass(frozen=True)
class WholeEntry:
    """An entry with what it did, as it leaves and enters in a plan file."""

    at: datetime
    label: str
    link_id: int | None
    state: str
    changes: list[Body]


class NothingToDoError(RuntimeError):
    """There is no change to undo or redo."""


def next_revision(session: Session, project_id: int) -> int:
    """A number that no state of the project or of its links has had."""
    row = session.get_one(ProjectRow, project_id)
    row.revision += 1
    return row.revision


def record(
    session: Session,
    project_id: int,
    label: str,
    link_id: int | None,
    changes: Sequence[LinkChange | ProjectChange | NameChange | PlantChange | Body],
) -> None:
    """Write one entry. Undone entries can no longer be redone: the new change took their place."""
    undone = EntryRow.project_id == project_id, EntryRow.state == "undone"
    session.execute(update(EntryRow).where(*undone).values(state="dropped"))
    session.add(
        EntryRow(
            project_id=project_id,
            at=datetime.now(UTC).replace(tzinfo=None),
            label=label[:300],
            link_id=link_id,
            state="done",
            changes=[change if isinstance(change, dict) else dict(vars(change)) for change in changes],
        )
    )
    session.flush()


def entries(session: Session, project_id: int, limit: int = 200) -> list[Entry]:
    """The newest entries first."""
    query = select(EntryRow).where(EntryRow.project_id == project_id).order_by(EntryRow.id.desc()).limit(limit)
    return [_as_entry(row) for row in session.scalars(query)]


def whole(session: Session, project_id: int) -> list[WholeEntry]:
    """All entries with what they did, oldest first."""
    query = select(EntryRow).where(EntryRow.project_id == project_id).order_by(EntryRow.id)
    return [
        WholeEntry(row.at.replace(tzinfo=UTC), row.label, row.link_id, row.state, row.changes)
        for row in session.scalars(query)
    ]


def restore(session: Session, project_id: int, entries: Sequence[WholeEntry], numbers: dict[int, int]) -> None:
    """Give a new project the history of another one.

    ``numbers`` maps the numbers of links in the entries to those of this project's links; links that are gone
    get numbers that nobody has, so that undo can bring them back.
    """
    for entry in entries:
        changes = [dict(change) for change in entry.changes]
        for change in changes:
            if change["entity"] == "link":
                old = change["link_id"]
                if old not in numbers:
                    numbers[old] = _free_number(session, project_id)
                change["link_id"] = numbers[old]
        session.add(
            EntryRow(
                project_id=project_id,
                at=entry.at.astimezone(UTC).replace(tzinfo=None),
                label=entry.label[:300],
                link_id=None if entry.link_id is None else numbers.get(entry.link_id),
                state=entry.state,
                changes=changes,
            )
        )
    session.flush()


def _free_number(session: Session, project_id: int) -> int:
    row = LinkRow(project_id=project_id, position=0, revision=1, body={})
    session.add(row)
    session.flush()
    number = row.id
    session.delete(row)
    session.flush()
    return number


def next_undo(session: Session, project_id: int) -> Entry | None:
    """The entry that undo would take back."""
    return _entry(_undo_row(session, project_id))


def next_redo(session: Session, project_id: int) -> Entry | None:
    """The entry that redo would make again."""
    return _entry(_redo_row(session, project_id))


def undo(session: Session, project_id: int) -> Entry:
    """Take back the newest change; raises NothingToDoError."""
    return _walk(session, project_id, _undo_row(session, project_id), forwards=False)


def redo(session: Session, project_id: int) -> Entry:
    """Make the oldest undone change again; raises NothingToDoError."""
    return _walk(session, project_id, _redo_row(session, project_id), forwards=True)


def return_to(session: Session, project_id: int, entry_id: int) -> Entry:
    """Bring back the state after an earlier entry, as a new entry that can itself be undone.

    Raises:
        NothingToDoError: there is no such entry in force, or nothing was changed since.
    """
    target = session.get(EntryRow, entry_id)
    if target is None or target.project_id != project_id or target.state != "done":
        raise NothingToDoError("this entry is not in force: only a change that was not undone can be returned to")
    later = EntryRow.project_id == project_id, EntryRow.state == "done", EntryRow.id > entry_id
    since = session.scalars(select(EntryRow).where(*later).order_by(EntryRow.id)).all()
    if not since:
        raise NothingToDoError("nothing was changed since that entry")
    changes = _merged([change for row in since for change in row.changes])
    revision = next_revision(session, project_id)
    for change in changes:
        _put(session, project_id, change, change["after"], revision)
    record(session, project_id, f"return to: {target.label}", None, changes)
    newest = session.scalars(select(EntryRow).order_by(EntryRow.id.desc()).limit(1)).one()
    return _as_entry(newest)


def _merged(changes: list[Body]) -> list[Body]:
    """The way back over several changes: for each link and the project, from how it is now to how it was."""
    back: dict[tuple[str, int], Body] = {}
    for change in changes:
        key = (change["entity"], change.get("link_id", 0))
        if key in back:
            back[key]["before"] = change["after"]
        else:
            back[key] = {**change, "before": change["after"], "after": change["before"]}
    return list(back.values())


def _undo_row(session: Session, project_id: int) -> EntryRow | None:
    found = EntryRow.project_id == project_id, EntryRow.state == "done"
    return session.scalar(select(EntryRow).where(*found).order_by(EntryRow.id.desc()).limit(1))


def _redo_row(session: Session, project_id: int) -> EntryRow | None:
    found = EntryRow.project_id == project_id, EntryRow.state == "undone"
    return session.scalar(select(EntryRow).where(*found).order_by(EntryRow.id).limit(1))


def _entry(row: EntryRow | None) -> Entry | None:
    return _as_entry(row) if row else None


def _as_entry(row: EntryRow) -> Entry:
    return Entry(row.id, row.at.replace(tzinfo=UTC), row.label, row.link_id, row.state)


def _walk(session: Session, project_id: int, row: EntryRow | None, *, forwards: bool) -> Entry:
    if row is None:
        raise NothingToDoError("there is nothing to redo" if forwards else "there is nothing to undo")
    revision = next_revision(session, project_id)
    changes = row.changes if forwards else list(reversed(row.changes))
    for change in changes:
        _put(session, project_id, change, change["after"] if forwards else change["before"], revision)
    row.state = "done" if forwards else "undone"
    session.flush()
    return _as_entry(row)


def _put(session: Session, project_id: int, change: Body, content: Body | None, revision: int) -> None:
    if change["entity"] == "project":
        _set_house_rules(session, project_id, content or {})
    elif change["entity"] == "plant":
        row = session.get_one(ProjectRow, project_id)
        row.plant, row.plant_revision = content or {}, revision
    elif change["entity"] == "name":
        session.get_one(ProjectRow, project_id).name = (content or {})["name"]
    else:
        _set_link(session, project_id, change, content, revision)


def _set_house_rules(session: Session, project_id: int, content: Body) -> None:
    session.get_one(ProjectRow, project_id).house_rules = content


def _set_link(session: Session, project_id: int, change: Body, content: Body | None, revision: int) -> None:
    row = session.get(LinkRow, change["link_id"])
    if content is None:
        if row is not None:
            session.delete(row)
    elif row is None:
        place = {"id": change["link_id"], "project_id": project_id, "position": change["position"]}
        session.add(LinkRow(**place, revision=revision, body=content))
    else:
        row.body, row.revision = content, revision
