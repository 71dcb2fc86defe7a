"""The history of a project: every change is one entry; undo and redo walk along the entries."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select, update
from sqlalchemy.orm import Session, defer

from passerelle.store import events
from passerelle.store.plants import RowChange, put_row
from passerelle.store.records import Body, fetched, keep, keep_packed, named
from passerelle.store.tables import EntryRow, LinkRow, ProjectRow
from passerelle.store.taken import take

LATER = defer(EntryRow.changes)
"""What an entry did is read when it is asked for: one entry may hold ten thousand links."""


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
class EventChange:
    """An event was written down; ``stands`` is False where it was withdrawn instead. Of a link, or of none."""

    link_id: int | None
    event: str
    stands: bool = True
    before: None = None
    after: None = None
    entity: str = "event"


Change = LinkChange | ProjectChange | NameChange | RowChange | EventChange


@dataclass(frozen=True)
class Entry:
    """One line of the log."""

    id: int
    at: datetime
    label: str
    link_id: int | None
    state: str
    who: str = ""


@dataclass(frozen=True)
class WholeEntry:
    """An entry with what it did, its records by name, as it leaves and enters in a plan file."""

    at: datetime
    label: str
    link_id: int | None
    state: str
    changes: list[Body]
    who: str = ""


class NothingToDoError(RuntimeError):
    """There is no change to undo or redo."""


class OtherChangeError(RuntimeError):
    """What would be undone or redone is not what the person saw: somebody changed something since."""

    def __init__(self, entry: Entry | None, what: str) -> None:
        said = "nothing" if entry is None else f"'{entry.label}'" + (f" by {entry.who}" if entry.who else "")
        super().__init__(f"{what} is {said} now: something was changed meanwhile. Look at it, then decide again")


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
    changes: Sequence[Change | Body],
) -> None:
    """Write one entry. Undone entries can no longer be redone: the new change took their place."""
    told = [change if isinstance(change, dict) else dict(vars(change)) for change in changes]
    record_kept(session, project_id, label, link_id, told, [])


def record_kept(
    session: Session, project_id: int, label: str, link_id: int | None, whole: Sequence[Body], kept: Sequence[Body]
) -> None:
    """Write one entry of changes with their records in them, and of changes whose records are kept already."""
    undone = EntryRow.project_id == project_id, EntryRow.state == "undone"
    session.execute(update(EntryRow).where(*undone).values(state="dropped"))
    entry = EntryRow(
        project_id=project_id,
        at=events.now(session).replace(tzinfo=None),
        label=label[:300],
        link_id=link_id,
        state="done",
        changes=[*_by_hash(session, whole), *kept],
        who=session.info.get("who", ""),
    )
    session.add(entry)
    session.flush()
    session.get_one(ProjectRow, project_id).log_end = entry.id


def _by_hash(session: Session, changes: Sequence[Body]) -> list[Body]:
    """Changes with their records kept apart, named by hash."""
    before = keep(session, (change["before"] for change in changes))
    after = keep(session, (change["after"] for change in changes))
    return [{**change, "before": b, "after": a} for change, b, a in zip(changes, before, after, strict=True)]


def _in_full(changes: Sequence[Body], kept: Mapping[str, Body]) -> list[Body]:
    """Changes with their records in them again."""

    def body(name: str | None) -> Body | None:
        return None if name is None else kept[name]

    return [{**change, "before": body(change["before"]), "after": body(change["after"])} for change in changes]


def entries(session: Session, project_id: int, limit: int = 200) -> list[Entry]:
    """The newest entries first."""
    of_project = EntryRow.project_id == project_id
    query = select(EntryRow).options(LATER).where(of_project).order_by(EntryRow.id.desc()).limit(limit)
    return [_as_entry(row) for row in session.scalars(query)]


def whole(session: Session, project_id: int) -> tuple[list[WholeEntry], dict[str, Body]]:
    """All entries with what they did, oldest first, and the records that they name."""
    query = select(EntryRow).where(EntryRow.project_id == project_id).order_by(EntryRow.id)
    rows = session.scalars(query).all()
    entries = [
        WholeEntry(row.at.replace(tzinfo=UTC), row.label, row.link_id, row.state, row.changes, row.who)
        for row in rows
    ]
    return entries, fetched(session, (name for row in rows for name in named(row.changes)))


def restore(
    session: Session,
    project_id: int,
    entries: Sequence[WholeEntry],
    records: Mapping[str, bytes],
    numbers: dict[int, int],
) -> None:
    """Give a new project the history of another one, with the packed records that its entries name.

    ``numbers`` maps the numbers of links in the entries to those of this project's links; links that are gone
    get numbers that nobody has, so that undo can bring them back.
    """
    keep_packed(session, records)
    for entry in entries:
        changes = [dict(change) for change in entry.changes]
        for change in changes:
            if change["entity"] in ("link", "event"):
                old = change["link_id"]
                if old is None:
                    continue
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
                who=entry.who[:60],
            )
        )
    session.flush()


def _free_number(session: Session, project_id: int) -> int:
    row = LinkRow(project_id=project_id, position=0, revision=1, key=events.new_key(), body={})
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


def undo(session: Session, project_id: int, seen: int | None = None) -> Entry:
    """Take back the newest change.

    Raises:
        NothingToDoError: there is none.
        OtherChangeError: it is not the one that was ``seen``.
    """
    return _walk(session, project_id, _undo_row(session, project_id), seen, forwards=False)


def redo(session: Session, project_id: int, seen: int | None = None) -> Entry:
    """Make the oldest undone change again; raises as ``undo``."""
    return _walk(session, project_id, _redo_row(session, project_id), seen, forwards=True)


def return_to(session: Session, project_id: int, entry_id: int, seen: int | None = None) -> Entry:
    """Bring back the state after an earlier entry, as a new entry that can itself be undone.

    Raises:
        NothingToDoError: there is no such entry in force, or nothing was changed since.
        OtherChangeError: the newest change is not the one that was ``seen``.
    """
    in_force = next_undo(session, project_id)
    if seen is not None and (in_force is None or in_force.id != seen):
        raise OtherChangeError(in_force, "the newest change")
    target = session.get(EntryRow, entry_id)
    if target is None or target.project_id != project_id or target.state != "done":
        raise NothingToDoError("this entry is not in force: only a change that was not undone can be returned to")
    later = EntryRow.project_id == project_id, EntryRow.state == "done", EntryRow.id > entry_id
    since = session.scalars(select(EntryRow).where(*later).order_by(EntryRow.id)).all()
    if not since:
        raise NothingToDoError("nothing was changed since that entry")
    merged = _merged([change for row in since for change in row.changes])
    changes = _in_full(merged, fetched(session, named(merged)))
    _put_all(session, project_id, changes, forwards=True)
    record(session, project_id, f"return to: {target.label}", None, changes)
    newest = session.scalars(select(EntryRow).order_by(EntryRow.id.desc()).limit(1)).one()
    return _as_entry(newest)


def _merged(changes: list[Body]) -> list[Body]:
    """The way back over several changes: for each link and the project, from how it is now to how it was."""
    back: dict[tuple[object, ...], Body] = {}
    for change in changes:
        key = (change["entity"], *(change.get(name) for name in ("link_id", "shelf", "row", "event")))
        if key in back:
            back[key]["before"] = change["after"]
            if "position" in change:
                back[key]["was"] = change["position"]
        else:
            back[key] = _turned(change)
    return list(back.values())


def _turned(change: Body) -> Body:
    """A change taken back, as a change of its own."""
    made = {**change, "before": change["after"], "after": change["before"]}
    if change["entity"] == "row":
        made |= {"was": change["position"], "position": change["was"]}
    if change["entity"] == "event":
        made["stands"] = not change["stands"]
    return made


def _undo_row(session: Session, project_id: int) -> EntryRow | None:
    found = EntryRow.project_id == project_id, EntryRow.state == "done"
    return session.scalar(select(EntryRow).options(LATER).where(*found).order_by(EntryRow.id.desc()).limit(1))


def _redo_row(session: Session, project_id: int) -> EntryRow | None:
    found = EntryRow.project_id == project_id, EntryRow.state == "undone"
    return session.scalar(select(EntryRow).options(LATER).where(*found).order_by(EntryRow.id).limit(1))


def _entry(row: EntryRow | None) -> Entry | None:
    return _as_entry(row) if row else None


def _as_entry(row: EntryRow) -> Entry:
    return Entry(row.id, row.at.replace(tzinfo=UTC), row.label, row.link_id, row.state, row.who)


def _walk(session: Session, project_id: int, row: EntryRow | None, seen: int | None, *, forwards: bool) -> Entry:
    if row is None:
        raise NothingToDoError("there is nothing to redo" if forwards else "there is nothing to undo")
    if seen is not None and row.id != seen:
        raise OtherChangeError(_as_entry(row), "what would be redone" if forwards else "what would be undone")
    changes = _in_full(row.changes, fetched(session, named(row.changes)))
    _put_all(session, project_id, changes, forwards=forwards)
    row.state = "done" if forwards else "undone"
    session.flush()
    return _as_entry(row)


def _put_all(session: Session, project_id: int, changes: Sequence[Body], *, forwards: bool) -> None:
    """Make all changes of an entry again, or take them back; what links take comes last, at once."""
    revision = next_revision(session, project_id)
    for change in changes if forwards else reversed(changes):
        _put(session, project_id, change, revision, forwards=forwards)
    moved = [change["link_id"] for change in changes if change["entity"] == "link"]
    rows = [row for number in moved if (row := session.get(LinkRow, number)) is not None]
    take(session, project_id, ((row.id, row.body) for row in rows))


def _put(session: Session, project_id: int, change: Body, revision: int, *, forwards: bool) -> None:
    content = change["after"] if forwards else change["before"]
    match change["entity"]:
        case "project":
            row = session.get_one(ProjectRow, project_id)
            row.house_rules, row.house_revision = content or {}, revision
        case "row":
            session.get_one(ProjectRow, project_id).plant_revision = revision
            put_row(session, project_id, RowChange(**change), revision, forwards=forwards)
        case "name":
            session.get_one(ProjectRow, project_id).name = (content or {})["name"]
        case "event":
            events.set_standing(session, project_id, change["event"], stands=change["stands"] == forwards)
            link_row = change["link_id"] and session.get(LinkRow, change["link_id"])
            if link_row is not None:
                link_row.revision = revision
        case _:
            _set_link(session, project_id, change, content, revision)


def _set_link(session: Session, project_id: int, change: Body, content: Body | None, revision: int) -> None:
    row = session.get(LinkRow, change["link_id"])
    if content is None:
        if row is not None:
            session.delete(row)
            session.flush()
    elif row is None:
        place = {"id": change["link_id"], "project_id": project_id, "position": change["position"]}
        session.add(LinkRow(**place, key=content["key"], revision=revision, body=content))
    else:
        row.body, row.revision = content, revision
