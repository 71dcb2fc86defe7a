"""Projects and links as core records, read and changed inside one session."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from passerelle.core.catalog.prices import with_plant_prices
from passerelle.core.copies import copied_event, copied_link, copied_plant
from passerelle.core.events import events_between, readings_by_link, with_readings
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import keyed, unkeyed
from passerelle.core.plant.riders import check_taken, laid, off_plant, parts_in, released
from passerelle.core.plant.rows import keyed_rows
from passerelle.core.plant.site import Plant
from passerelle.store import events, taken
from passerelle.store.events import new_key
from passerelle.store.history import (
    Change,
    EventChange,
    LinkChange,
    NameChange,
    ProjectChange,
    next_revision,
    record,
)
from passerelle.store.plants import RowChange, plant_of, put_plant
from passerelle.store.tables import LinkRow, ProjectRow

FEW = 50
"""For so few links their own events are asked for, for more those of the project."""


class NotFoundError(LookupError):
    """A project or link that is not in the database."""


class StalePlantError(RuntimeError):
    """The plant was changed by somebody else since it was read."""

    def __init__(self) -> None:
        super().__init__(
            "the plant was changed elsewhere in the meantime: look at its new state, then change it again"
        )


class StaleHouseError(RuntimeError):
    """The house rules were changed by somebody else since they were read."""

    def __init__(self) -> None:
        super().__init__(
            "the house rules were changed elsewhere in the meantime: look at them again, then change them"
        )


class ConflictError(RuntimeError):
    """The link was changed by somebody else since it was read."""

    def __init__(self, stored: StoredLink) -> None:
        super().__init__(
            f"'{stored.link.name}' was changed elsewhere in the meantime: look at the new state, "
            "then make the change again"
        )
        self.stored = stored


@dataclass(frozen=True)
class StoredProject:
    """A project with its number and revision."""

    id: int
    revision: int
    name: str
    house: HouseRules
    house_revision: int
    key: str


@dataclass(frozen=True)
class StoredLink:
    """A link with its number, project and revision."""

    id: int
    project_id: int
    revision: int
    link: Link


def projects(session: Session) -> list[StoredProject]:
    """All projects that were not removed, oldest first."""
    query = select(ProjectRow).where(ProjectRow.removed.is_(False)).order_by(ProjectRow.id)
    return [_project(row) for row in session.scalars(query)]


def project(session: Session, project_id: int) -> StoredProject:
    """One project; raises NotFoundError."""
    return _project(project_row(session, project_id))


def has_key(session: Session, key: str) -> bool:
    """Whether a project, also one that was removed, has this key."""
    return session.scalar(select(ProjectRow.id).where(ProjectRow.key == key)) is not None


def create_project(
    session: Session,
    name: str,
    links: list[Link],
    house: HouseRules,
    plant: Plant | None = None,
    key: str = "",
    salt: str = "",
) -> StoredProject:
    """A new project filled with links and their plant. It starts with an empty history.

    What it is made of gets keys of its own, which follow from the old ones and the ``salt``; with the ``key`` of
    the project in a plan file its plant keeps those that it has there.

    Raises:
        PlantError: a link rides on a cable that the plant does not have, or on a strand that is taken.
    """
    plant = plant or Plant()
    if plant.prices:
        house = house.model_copy(update={"own_prices": with_plant_prices(house.own_prices, plant.prices)})
        plant = plant.changed(prices=None)
    check_taken(links, plant)
    salt = salt or new_key()
    row = ProjectRow(name=name, house_rules=house.model_dump(mode="json"), key=key or new_key())
    session.add(row)
    session.flush()
    put_plant(session, row.id, plant if key else copied_plant(plant, salt), 1, as_given=True)
    _added(session, row.id, [keyed(copied_link(laid(link, plant), salt), new_key) for link in links], 1)
    return _project(row)


def _added(session: Session, project_id: int, new: Iterable[Link], revision: int) -> list[Change]:
    """New links behind the others; their readings are written down as events."""
    last = session.scalar(select(func.max(LinkRow.position)).where(LinkRow.project_id == project_id))
    first = 0 if last is None else last + 1
    made = [
        (LinkRow(project_id=project_id, position=place, key=link.key, revision=revision, body=_body(link)), link)
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


def set_house_rules(
    session: Session, project_id: int, house: HouseRules, label: str, revision: int | None = None
) -> StoredProject:
    """Change the house rules, as one entry of the history; raises StaleHouseError if ``revision`` is not theirs."""
    row = project_row(session, project_id)
    if revision is not None and row.house_revision != revision:
        raise StaleHouseError
    before, after = row.house_rules, house.model_dump(mode="json")
    if before == after:
        return _project(row)
    row.house_rules, row.house_revision = after, next_revision(session, project_id)
    change = ProjectChange(before=before, after=after)
    record(session, project_id, label, None, [change])
    return _project(row)


def plant(session: Session, project_id: int) -> Plant:
    """The plant of a project; raises NotFoundError."""
    return plant_of(session, project_row(session, project_id).id)


def plant_revision(session: Session, project_id: int) -> int:
    """The revision of a project's plant, to change it from."""
    return project_row(session, project_id).plant_revision


def set_plant(
    session: Session, project_id: int, revision: int, new: Plant, label: str
) -> list[tuple[int, Link, Link]]:
    """Change the plant and every link that stands on it, all as one entry of the history.

    Answers with the links that moved: number, before and after.

    Raises:
        StalePlantError: the plant was changed since ``revision``.
        PlantError: a link rides on what would be gone, or on a strand that cannot carry it.
    """
    row = project_row(session, project_id)
    if row.plant_revision != revision:
        raise StalePlantError
    old = plant_of(session, project_id)
    if keyed_rows(new, old, str) == old:
        return []
    number = next_revision(session, project_id)
    changes: list[Change] = list(_with_plant(session, row, new, number))
    moved = _moved_links(session, project_id, old, new)
    for link_row, _, after in moved:
        changes += _written(session, link_row, after, number)
    record(session, project_id, label, None, changes)
    return [(link_row.id, before, after) for link_row, before, after in moved]


def _moved_links(session: Session, project_id: int, old: Plant, new: Plant) -> list[tuple[LinkRow, Link, Link]]:
    """The links that another plant would change, before and after.

    Raises:
        PlantError: a link stands on what would be gone, or on a position that cannot carry it.
    """
    rows = taken.all_rows_on(session, project_id)
    riding = [item.link for item in _all_stored(session, project_id, rows)]
    check_taken(riding, new)
    pairs = ((row, link, laid(link, new, old)) for row, link in zip(rows, riding, strict=True))
    return [(row, before, after) for row, before, after in pairs if after != before]


def rename_project(session: Session, project_id: int, name: str) -> StoredProject:
    """Give a project another name, as one entry of the history."""
    row = project_row(session, project_id)
    if row.name != name:
        change = NameChange(before={"name": row.name}, after={"name": name})
        row.name = name
        next_revision(session, project_id)
        record(session, project_id, f"name the project {name}", None, [change])
    return _project(row)


def copy_project(session: Session, project_id: int, name: str) -> StoredProject:
    """A project of its own with the links, plan, house rules and readings of another; its history starts empty.

    All keys are new: what happens to the one does not happen to the other.
    """
    source, salt = project(session, project_id), new_key()
    bare = [_bare(item.link) for item in links(session, project_id)]
    made = create_project(session, name, bare, source.house, plant_of(session, project_id), salt=salt)
    events.append(session, made.id, (copied_event(e, salt) for e in events.of_project(session, project_id)))
    return made


def set_removed(session: Session, project_id: int, *, removed: bool) -> StoredProject:
    """Take a project out of sight, or bring it back; nothing of it is lost meanwhile."""
    row = session.get(ProjectRow, project_id)
    if row is None:
        raise NotFoundError(f"there is no project {project_id}")
    row.removed = removed
    session.flush()
    return _project(row)


def removed_projects(session: Session) -> list[StoredProject]:
    """The projects that were removed and can be brought back, oldest first."""
    query = select(ProjectRow).where(ProjectRow.removed.is_(True)).order_by(ProjectRow.id)
    return [_project(row) for row in session.scalars(query)]


def links(session: Session, project_id: int, only: Sequence[int] | None = None) -> list[StoredLink]:
    """All links of a project in their order, or those of some numbers that it still has."""
    project_row(session, project_id)
    query = select(LinkRow).where(LinkRow.project_id == project_id).order_by(LinkRow.position, LinkRow.id)
    if only is not None:
        listed = select(func.json_each(json.dumps(list(only))).table_valued("value").c.value)
        query = query.where(LinkRow.id.in_(listed))
    return _all_stored(session, project_id, session.scalars(query).all())


def riders(session: Session, project_id: int, parts: Sequence[str], since: int = 0) -> list[StoredLink]:
    """The links of a project that stand on one of some shared parts, changed after a revision; no other is read."""
    return _all_stored(session, project_id, taken.rows_on(session, project_id, parts, since))


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
    return _stored(session, _link_row(session, link_id))


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
    changes: list[Change] = [*_with_plant(session, owner, plant_after, revision)]
    made = [keyed(unkeyed(link), new_key) for link in new]
    added = _added(session, project_id, made, revision)
    changes += added
    numbers = [change.link_id for change in added if isinstance(change, LinkChange)]
    if numbers:
        record(session, project_id, label, numbers[0] if len(numbers) == 1 else None, changes)
    return [StoredLink(number, project_id, revision, link) for number, link in zip(numbers, made, strict=True)]


def _check_free(
    session: Session, project_id: int, new: Sequence[Link], plant: Plant, without: int | None = None
) -> None:
    """Check what links would take on a plan against what others take; ``without`` one that they replace."""
    parts = list(dict.fromkeys(part for link in new for part in parts_in(link)))
    if parts:
        others = [item.link for item in riders(session, project_id, parts) if item.id != without]
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
    row = _link_row(session, link_id)
    if row.revision != revision:
        raise ConflictError(_stored(session, row))
    owner = project_row(session, row.project_id)
    _check_free(session, row.project_id, new, plant_after or plant_of(session, row.project_id), link_id)
    number = next_revision(session, row.project_id)
    changes: list[Change] = [*_with_plant(session, owner, plant_after, number)]
    changes += _written(session, row, new[0], number)
    changes += _added(session, row.project_id, [keyed(unkeyed(link), new_key) for link in new[1:]], number)
    record(session, row.project_id, label, row.id, changes)
    return _stored(session, row)


def _with_plant(session: Session, row: ProjectRow, after: Plant | None, revision: int) -> list[RowChange]:
    """The plan stored as it was made for some links, and what that changes; nothing where it stays."""
    changes = put_plant(session, row.id, after, revision) if after is not None else []
    if changes:
        row.plant_revision = revision
    return changes


def _written(session: Session, row: LinkRow, new: Link, revision: int) -> list[Change]:
    """A link's new content, and what happened to its readings, written; answers with what that changes."""
    before = _stored(session, row).link
    new = keyed(new.model_copy(update={"key": row.key}), new_key)
    known = {
        event.reading.id: event.key
        for event, _ in readings_by_link(events.of_links(session, row.project_id, [row.key])).get(row.key, ())
    }
    happened = events_between(before, new, known, events.stamp(session))
    old, body = row.body, _body(new)
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
    row = _link_row(session, link_id)
    before = _stored(session, row)
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
    row = _link_row(session, ready.link_id)
    if row.revision != ready.revision:
        raise ConflictError(_stored(session, row))
    owner = project_row(session, row.project_id)
    parts = parts_in(ready.link)
    moved = parts and (
        owner.plant_revision != ready.plant_revision
        or taken.rows_on(session, row.project_id, parts, since=ready.project_revision)
    )
    new = ready_change(session, ready.link_id, ready.revision, ready.link).link if moved else ready.link
    changes = _written(session, row, new, owner.revision + 1)
    if changes:
        next_revision(session, row.project_id)
        record(session, row.project_id, label, row.id, changes)
    return _stored(session, row)


def change_link(session: Session, link_id: int, revision: int, new: Link, label: str) -> StoredLink:
    """Replace a link's content, as one entry of the history; raises as ``ready_change``."""
    return put_change(session, ready_change(session, link_id, revision, new), label)


def change_links(
    session: Session, project_id: int, changed: list[tuple[StoredLink, Link]], label: str
) -> list[StoredLink]:
    """Replace the content of several links, all as one entry of the history."""
    changes: list[Change] = []
    rows = []
    revision = next_revision(session, project_id)
    for stored, new in changed:
        row = _link_row(session, stored.id)
        if row.revision != stored.revision or row.project_id != project_id:
            raise ConflictError(_stored(session, row))
        changes += _written(session, row, released(stored.link, new), revision)
        rows.append(row)
    if changes:
        record(session, project_id, label, None, changes)
    return _all_stored(session, project_id, rows)


def remove_link(session: Session, link_id: int, label: str, revision: int | None = None) -> None:
    """Take a link out of its project, as one entry of the history; undo brings it back.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the person saw.
    """
    row = _link_row(session, link_id)
    if revision is not None and row.revision != revision:
        raise ConflictError(_stored(session, row))
    next_revision(session, row.project_id)
    change = LinkChange(link_id=row.id, position=row.position, before=row.body, after=None)
    record(session, row.project_id, label, row.id, [change])
    session.delete(row)


def project_row(session: Session, project_id: int) -> ProjectRow:
    """The row of a project that is not removed; raises NotFoundError."""
    row = session.get(ProjectRow, project_id)
    if row is None:
        raise NotFoundError(f"there is no project {project_id}")
    if row.removed:
        raise NotFoundError(f"the project '{row.name}' was removed: bring it back in the list of projects first")
    return row


def _link_row(session: Session, link_id: int) -> LinkRow:
    row = session.get(LinkRow, link_id)
    if row is None:
        raise NotFoundError(f"there is no link {link_id}: it may have been removed")
    return row


def _project(row: ProjectRow) -> StoredProject:
    return StoredProject(
        row.id, row.revision, row.name, HouseRules.model_validate(row.house_rules), row.house_revision, row.key
    )


def _stored(session: Session, row: LinkRow) -> StoredLink:
    return _all_stored(session, row.project_id, [row])[0]


def _all_stored(session: Session, project_id: int, rows: Sequence[LinkRow]) -> list[StoredLink]:
    """Links with their readings."""
    happened = (
        events.of_links(session, project_id, [row.key for row in rows])
        if len(rows) <= FEW
        else events.of_project(session, project_id)
    )
    readings = readings_by_link(happened)
    return [
        StoredLink(
            row.id,
            row.project_id,
            row.revision,
            with_readings(Link.model_validate(row.body), readings.get(row.key, ())),
        )
        for row in rows
    ]


def _bare(link: Link) -> Link:
    return link.model_copy(update={"readings": ()})


def _body(link: Link) -> dict[str, object]:
    return link.model_dump(mode="json", exclude={"readings"})
