"""Links as core records, read and changed inside one session."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from passerelle.core.events import Event, events_between, readings_by_link
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import keyed, unkeyed
from passerelle.core.plant.riders import check_taken, laid, off_plant, parts_in, released
from passerelle.core.plant.site import Plant
from passerelle.store import events, taken
from passerelle.store.events import new_key
from passerelle.store.history import (
    Change,
    EventChange,
    LinkChange,
    next_revision,
    record,
)
from passerelle.store.plants import RowChange, plant_of, put_plant
from passerelle.store.stored import (
    ConflictError,
    StoredLink,
    body_of,
    link_row,
    project_row,
    stored_link,
    stored_links,
)
from passerelle.store.tables import LinkRow, ProjectRow


def links(session: Session, project_id: int, only: Sequence[int] | None = None) -> list[StoredLink]:
    """All links of a project in their order, or those of some numbers that it still has."""
    project_row(session, project_id)
    query = select(LinkRow).where(LinkRow.project_id == project_id).order_by(LinkRow.position, LinkRow.id)
    if only is not None:
        listed = select(func.json_each(json.dumps(list(only))).table_valued("value").c.value)
        query = query.where(LinkRow.id.in_(listed))
    return stored_links(session, project_id, session.scalars(query).all())


def links_on(session: Session, project_id: int, parts: Sequence[str], since: int = 0) -> list[StoredLink]:
    """The links of a project that stand on one of some shared parts, changed after a revision; no other is read."""
    return stored_links(session, project_id, taken.rows_on(session, project_id, parts, since))


def revisions(session: Session, project_id: int) -> list[tuple[int, int]]:
    """Number and revision of each link of a project, in their order."""
    project_row(session, project_id)
    query = select(LinkRow.id, LinkRow.revision).where(LinkRow.project_id == project_id)
    return [(row.id, row.revision) for row in session.execute(query.order_by(LinkRow.position, LinkRow.id))]


def changed_since(session: Session, project_id: int, since: int) -> list[tuple[int, int]]:
    """Number and revision of the links that changed after a revision of the project, in their order."""
    query = select(LinkRow.id, LinkRow.revision).where(LinkRow.project_id == project_id, LinkRow.revision > since)
    return [(row.id, row.revision) for row in session.execute(query.order_by(LinkRow.position, LinkRow.id))]


def numbers(session: Session, project_id: int) -> dict[str, tuple[int, str]]:
    """Number and name of each link of a project by its key."""
    project_row(session, project_id)
    name = LinkRow.body["name"].as_string()
    query = select(LinkRow.key, LinkRow.id, name).where(LinkRow.project_id == project_id)
    return {key: (number, called) for key, number, called in session.execute(query)}


def link(session: Session, link_id: int) -> StoredLink:
    """One link; raises NotFoundError."""
    return stored_link(session, link_row(session, link_id))


def add_link(session: Session, project_id: int, new: Link, label: str) -> StoredLink:
    """Append a link to a project, as one entry of the history."""
    return add_links(session, project_id, [new], label)[0]


def add_links(
    session: Session, project_id: int, new: list[Link], label: str, *, plant_after: Plant | None = None
) -> list[StoredLink]:
    """Append links to a project, all as one entry of the history, with the plan that was made for them if any.

    They come with keys of their own and without readings, and without a plan on no shared part: those belong to
    what they were made after.

    Raises:
        PlantError: a link rides on a strand that is taken, or on a cable that the plan does not have.
    """
    owner = project_row(session, project_id)
    if plant_after is None:
        new = [off_plant(link) for link in new]
    else:
        _check_free(session, project_id, new, plant_after)
    revision = next_revision(session, project_id)
    changes: list[Change] = [*with_plant(session, owner, plant_after, revision)]
    made = [keyed(unkeyed(link), new_key) for link in new]
    new_rows = added(session, project_id, made, revision)
    changes += new_rows
    numbers = [change.link_id for change in new_rows if isinstance(change, LinkChange)]
    if numbers:
        record(session, project_id, label, numbers[0] if len(numbers) == 1 else None, changes)
    return [StoredLink(number, project_id, revision, link) for number, link in zip(numbers, made, strict=True)]


def _check_free(
    session: Session, project_id: int, new: Sequence[Link], plant: Plant, without: int | None = None
) -> None:
    """Check what links would take on a plan against what others take; ``without`` one that they replace."""
    parts = list(dict.fromkeys(part for link in new for part in parts_in(link)))
    if parts:
        others = [item.link for item in links_on(session, project_id, parts) if item.id != without]
        check_taken([*others, *new], plant)


def replace_link(
    session: Session,
    link_id: int,
    revision: int,
    new: list[Link],
    label: str,
    *,
    plant_after: Plant | None = None,
) -> StoredLink:
    """Replace a link's chain by the first of some, and append the others, all as one entry of the history.

    The link keeps its number, its key and its place in the list. ``plant_after`` is the plan that was made for it.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the change was made from.
        PlantError: a new chain rides on a strand that is taken.
    """
    row = link_row(session, link_id)
    if row.revision != revision:
        raise ConflictError(stored_link(session, row))
    owner = project_row(session, row.project_id)
    _check_free(session, row.project_id, new, plant_after or plant_of(session, row.project_id), link_id)
    number = next_revision(session, row.project_id)
    changes: list[Change] = [*with_plant(session, owner, plant_after, number)]
    changes += written(session, row, new[0], number)
    changes += added(session, row.project_id, [keyed(unkeyed(link), new_key) for link in new[1:]], number)
    record(session, row.project_id, label, row.id, changes)
    return stored_link(session, row)


@dataclass(frozen=True)
class ReadyChange:
    """A link's new content, laid and checked outside the write lock, and the revisions that it rests on."""

    link_id: int
    revision: int
    link: Link
    project_revision: int
    plant_revision: int


def ready_change(session: Session, link_id: int, revision: int, new: Link) -> ReadyChange:
    """Lay a link's new content on the plan and check what it takes there; nothing is stored.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the change was made from.
        PlantError: a position that it wants is taken.
    """
    row = link_row(session, link_id)
    before = stored_link(session, row)
    if row.revision != revision:
        raise ConflictError(before)
    owner = project_row(session, row.project_id)
    new = released(before.link, new)
    if parts_in(new):
        on = plant_of(session, row.project_id)
        new = laid(new, on)
        _check_free(session, row.project_id, [new], on, link_id)
    return ReadyChange(link_id, revision, new, owner.revision, owner.plant_revision)


def put_change(session: Session, ready: ReadyChange, label: str) -> StoredLink:
    """Replace a link's content by what was made ready, as one entry of the history; raises as ``ready_change``."""
    row = link_row(session, ready.link_id)
    if row.revision != ready.revision:
        raise ConflictError(stored_link(session, row))
    owner = project_row(session, row.project_id)
    parts = parts_in(ready.link)
    moved = parts and (
        owner.plant_revision != ready.plant_revision
        or taken.rows_on(session, row.project_id, parts, since=ready.project_revision)
    )
    new = ready_change(session, ready.link_id, ready.revision, ready.link).link if moved else ready.link
    changes = written(session, row, new, owner.revision + 1)
    if changes:
        next_revision(session, row.project_id)
        record(session, row.project_id, label, row.id, changes)
    return stored_link(session, row)


def change_link(session: Session, link_id: int, revision: int, new: Link, label: str) -> StoredLink:
    """Replace a link's content, as one entry of the history; raises as ``ready_change``."""
    return put_change(session, ready_change(session, link_id, revision, new), label)


def change_links(
    session: Session,
    project_id: int,
    changed: list[tuple[StoredLink, Link]],
    label: str,
    beside: Sequence[Event] = (),
) -> list[StoredLink]:
    """Replace the content of several links, all as one entry of the history, with what happened ``beside``."""
    changes: list[Change] = []
    rows = []
    revision = next_revision(session, project_id)
    for stored, new in changed:
        row = link_row(session, stored.id)
        if row.revision != stored.revision or row.project_id != project_id:
            raise ConflictError(stored_link(session, row))
        changes += written(session, row, released(stored.link, new), revision)
        rows.append(row)
    if beside:
        events.append(session, project_id, beside)
        changes += [EventChange(None, event.key) for event in beside]
    if changes:
        record(session, project_id, label, None, changes)
    return stored_links(session, project_id, rows)


def remove_link(session: Session, link_id: int, label: str, revision: int | None = None) -> None:
    """Take a link out of its project, as one entry of the history; undo brings it back.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the person saw.
    """
    row = link_row(session, link_id)
    if revision is not None and row.revision != revision:
        raise ConflictError(stored_link(session, row))
    next_revision(session, row.project_id)
    change = LinkChange(link_id=row.id, position=row.position, before=row.body, after=None)
    record(session, row.project_id, label, row.id, [change])
    session.delete(row)


def added(session: Session, project_id: int, new: Iterable[Link], revision: int) -> list[Change]:
    """New links behind the others; their readings are written down as events."""
    last = session.scalar(select(func.max(LinkRow.position)).where(LinkRow.project_id == project_id))
    first = 0 if last is None else last + 1
    made = [
        (LinkRow(project_id=project_id, position=place, key=link.key, revision=revision, body=body_of(link)), link)
        for place, link in enumerate(new, first)
    ]
    session.add_all(row for row, _ in made)
    session.flush()
    taken.take(session, project_id, ((row.id, row.body) for row, _ in made))
    for _, link in made:
        if link.readings:
            bare = link.model_copy(update={"readings": ()})
            events.append(session, project_id, events_between(bare, link, {}, events.stamp(session)))
    return [LinkChange(link_id=row.id, position=row.position, before=None, after=row.body) for row, _ in made]


def written(session: Session, row: LinkRow, new: Link, revision: int) -> list[Change]:
    """A link's new content, and what happened to its readings, written; answers with what that changes."""
    before = stored_link(session, row).link
    new = keyed(new.model_copy(update={"key": row.key}), new_key)
    known = {
        event.reading.id: event.key
        for event, _ in readings_by_link(events.of_links(session, row.project_id, [row.key])).get(row.key, ())
    }
    happened = events_between(before, new, known, events.stamp(session))
    old, body = row.body, body_of(new)
    changes: list[Change] = []
    if old != body:
        row.body = body
        taken.take(session, row.project_id, [(row.id, body)])
        changes.append(LinkChange(link_id=row.id, position=row.position, before=old, after=body))
    if happened:
        events.append(session, row.project_id, happened)
        changes += [EventChange(row.id, event.key) for event in happened]
    if changes:
        row.revision = revision
    return changes


def with_plant(session: Session, row: ProjectRow, after: Plant | None, revision: int) -> list[RowChange]:
    """The plan stored as it was made for some links, and what that changes; nothing where it stays."""
    changes = put_plant(session, row.id, after, revision) if after is not None else []
    if changes:
        row.plant_revision = revision
    return changes
