"""Projects and links as core records, read and changed inside one session."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import String, cast, func, or_, select, text
from sqlalchemy.orm import Session

from passerelle.core.catalog.prices import with_plant_prices
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.plant.riders import cables_of, check_strands, laid, off_plant, released
from passerelle.core.plant.site import Plant
from passerelle.store.history import LinkChange, NameChange, PlantChange, ProjectChange, next_revision, record
from passerelle.store.tables import RIDING, LinkRow, ProjectRow


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


def create_project(
    session: Session, name: str, links: list[Link], house: HouseRules, plant: Plant | None = None
) -> StoredProject:
    """A new project filled with links and their plant. It starts with an empty history.

    Raises:
        PlantError: a link rides on a cable that the plant does not have, or on a strand that is taken.
    """
    plant = plant or Plant()
    if plant.prices:
        house = house.model_copy(update={"own_prices": with_plant_prices(house.own_prices, plant.prices)})
        plant = plant.changed(prices=None)
    check_strands(links, plant)
    links = [laid(link, plant) for link in links]
    row = ProjectRow(name=name, house_rules=house.model_dump(mode="json"), plant=plant.model_dump(mode="json"))
    session.add(row)
    session.flush()
    for position, link in enumerate(links):
        session.add(LinkRow(project_id=row.id, position=position, revision=1, body=_body(link)))
    session.flush()
    return _project(row)


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
    return Plant.model_validate(project_row(session, project_id).plant)


def plant_revision(session: Session, project_id: int) -> int:
    """The revision of a project's plant, to change it from."""
    return project_row(session, project_id).plant_revision


def set_plant(session: Session, project_id: int, revision: int, new: Plant, label: str) -> None:
    """Change the plant and every link that rides on it, all as one entry of the history.

    Raises:
        StalePlantError: the plant was changed since ``revision``.
        PlantError: a link rides on what would be gone, or on a strand that cannot carry it.
    """
    row = project_row(session, project_id)
    if row.plant_revision != revision:
        raise StalePlantError
    before = row.plant
    if before == new.model_dump(mode="json"):
        return
    riding, old_plant = links(session, project_id), Plant.model_validate(before)
    check_strands((item.link for item in riding), new)
    number = next_revision(session, project_id)
    changes = _with_plant(row, new, number)
    for item in riding:
        changed = laid(item.link, new, old_plant)
        if changed != item.link:
            link_row = _link_row(session, item.id)
            old, link_row.body, link_row.revision = link_row.body, _body(changed), number
            changes.append(LinkChange(link_row.id, link_row.position, old, link_row.body))
    record(session, project_id, label, None, changes)


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
    """A project of its own with the links, plan and house rules of another; its history starts empty."""
    row = project_row(session, project_id)
    made = ProjectRow(name=name, house_rules=row.house_rules, plant=row.plant)
    session.add(made)
    session.flush()
    query = select(LinkRow).where(LinkRow.project_id == project_id).order_by(LinkRow.position, LinkRow.id)
    for link_row in session.scalars(query).all():
        session.add(LinkRow(project_id=made.id, position=link_row.position, revision=1, body=link_row.body))
    session.flush()
    return _project(made)


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
    return [_stored(row) for row in session.scalars(query)]


def riders(session: Session, project_id: int, cables: Sequence[str], since: int = 0) -> list[StoredLink]:
    """The links of a project that ride on one of some cables, changed after a revision; no other is even read."""
    named = [f'"cable":{json.dumps(cable)}' for cable in cables]
    on_cable = or_(*(func.instr(cast(LinkRow.body, String), name) > 0 for name in named))
    query = select(LinkRow).where(
        LinkRow.project_id == project_id, text(RIDING), LinkRow.revision > since, on_cable
    )
    return [_stored(row) for row in session.scalars(query.order_by(LinkRow.position, LinkRow.id))]


def revisions(session: Session, project_id: int) -> list[tuple[int, int]]:
    """Number and revision of each link of a project, in their order."""
    project_row(session, project_id)
    query = select(LinkRow.id, LinkRow.revision).where(LinkRow.project_id == project_id)
    return [(row.id, row.revision) for row in session.execute(query.order_by(LinkRow.position, LinkRow.id))]


def link(session: Session, link_id: int) -> StoredLink:
    """One link; raises NotFoundError."""
    return _stored(_link_row(session, link_id))


def add_link(session: Session, project_id: int, new: Link, label: str) -> StoredLink:
    """Append a link to a project, as one entry of the history."""
    return add_links(session, project_id, [new], label)[0]


def add_links(
    session: Session,
    project_id: int,
    new: list[Link],
    label: str,
    *,
    keep_readings: bool = False,
    plant_after: Plant | None = None,
) -> list[StoredLink]:
    """Append links to a project, all as one entry of the history, with the plan that was made for them if any.

    They come without readings, and without a plan without strands: those belong to what they were made after.
    ``keep_readings`` is for links that come from elsewhere as they are.

    Raises:
        PlantError: a link rides on a strand that is taken, or on a cable that the plan does not have.
    """
    owner = project_row(session, project_id)
    if plant_after is None:
        new = [off_plant(link) for link in new]
    else:
        check_strands([*(item.link for item in links(session, project_id)), *new], plant_after)
    if not keep_readings:
        new = [link.model_copy(update={"readings": ()}) for link in new]
    last = session.scalar(select(func.max(LinkRow.position)).where(LinkRow.project_id == project_id))
    first = 0 if last is None else last + 1
    revision = next_revision(session, project_id)
    changes = _with_plant(owner, plant_after, revision)
    rows = [
        LinkRow(project_id=project_id, position=first + i, revision=revision, body=_body(link))
        for i, link in enumerate(new)
    ]
    session.add_all(rows)
    session.flush()
    changes += [LinkChange(link_id=r.id, position=r.position, before=None, after=r.body) for r in rows]
    if rows:
        record(session, project_id, label, rows[0].id if len(rows) == 1 else None, changes)
    return [_stored(row) for row in rows]


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

    The link keeps its number and its place in the list. ``plant_after`` is the plan that was made for it.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the change was made from.
        PlantError: a new chain rides on a strand that is taken.
    """
    row = _link_row(session, link_id)
    if row.revision != revision:
        raise ConflictError(_stored(row))
    owner = project_row(session, row.project_id)
    on = plant_after or Plant.model_validate(owner.plant)
    stored = links(session, row.project_id)
    check_strands([*(item.link for item in stored if item.id != link_id), *new], on)
    number = next_revision(session, row.project_id)
    changes = _with_plant(owner, plant_after, number)
    old, row.body, row.revision = row.body, _body(new[0]), number
    changes.append(LinkChange(link_id=row.id, position=row.position, before=old, after=row.body))
    last = max((_link_row(session, item.id).position for item in stored), default=0)
    more = [
        LinkRow(project_id=row.project_id, position=last + n, revision=number, body=_body(link))
        for n, link in enumerate(new[1:], 1)
    ]
    session.add_all(more)
    session.flush()
    changes += [LinkChange(link_id=r.id, position=r.position, before=None, after=r.body) for r in more]
    record(session, row.project_id, label, row.id, changes)
    return _stored(row)


def _with_plant(row: ProjectRow, after: Plant | None, revision: int) -> list[PlantChange | LinkChange]:
    """The plan stored as it was made for some links, and what that changes; nothing where it stays."""
    content = after.model_dump(mode="json") if after is not None else row.plant
    if content == row.plant:
        return []
    before, row.plant, row.plant_revision = row.plant, content, revision
    return [PlantChange(before=before, after=content)]


@dataclass(frozen=True)
class ReadyChange:
    """A link's new content, laid and checked outside the write lock, and the revisions that it rests on."""

    link_id: int
    revision: int
    link: Link
    project_revision: int
    plant_revision: int


def ready_change(session: Session, link_id: int, revision: int, new: Link) -> ReadyChange:
    """Lay a link's new content on the plan and check its strands; nothing is stored.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the change was made from.
        PlantError: a strand that it rides on is taken.
    """
    row = _link_row(session, link_id)
    if row.revision != revision:
        raise ConflictError(_stored(row))
    owner = project_row(session, row.project_id)
    new = released(Link.model_validate(row.body), new)
    if cables_of(new):
        on = Plant.model_validate(owner.plant)
        new = laid(new, on)
        others = [item.link for item in riders(session, row.project_id, cables_of(new)) if item.id != link_id]
        check_strands([*others, new], on)
    return ReadyChange(link_id, revision, new, owner.revision, owner.plant_revision)


def put_change(session: Session, ready: ReadyChange, label: str) -> StoredLink:
    """Replace a link's content by what was made ready, as one entry of the history; raises as ``ready_change``."""
    row = _link_row(session, ready.link_id)
    if row.revision != ready.revision:
        raise ConflictError(_stored(row))
    owner = project_row(session, row.project_id)
    cables = cables_of(ready.link)
    moved = cables and (
        owner.plant_revision != ready.plant_revision
        or riders(session, row.project_id, cables, since=ready.project_revision)
    )
    new = ready_change(session, ready.link_id, ready.revision, ready.link).link if moved else ready.link
    before, after = row.body, _body(new)
    if before != after:
        row.body = after
        row.revision = next_revision(session, row.project_id)
        change = LinkChange(link_id=row.id, position=row.position, before=before, after=after)
        record(session, row.project_id, label, row.id, [change])
    return StoredLink(row.id, row.project_id, row.revision, new)


def change_link(session: Session, link_id: int, revision: int, new: Link, label: str) -> StoredLink:
    """Replace a link's content, as one entry of the history; raises as ``ready_change``."""
    return put_change(session, ready_change(session, link_id, revision, new), label)


def change_links(
    session: Session, project_id: int, changed: list[tuple[StoredLink, Link]], label: str
) -> list[StoredLink]:
    """Replace the content of several links, all as one entry of the history."""
    changes, rows = [], []
    revision = next_revision(session, project_id)
    for stored, new in changed:
        row = _link_row(session, stored.id)
        if row.revision != stored.revision or row.project_id != project_id:
            raise ConflictError(_stored(row))
        before, after = row.body, _body(released(stored.link, new))
        if before != after:
            row.body, row.revision = after, revision
            changes.append(LinkChange(link_id=row.id, position=row.position, before=before, after=after))
        rows.append(row)
    if changes:
        record(session, project_id, label, None, changes)
    return [_stored(row) for row in rows]


def remove_link(session: Session, link_id: int, label: str, revision: int | None = None) -> None:
    """Take a link out of its project, as one entry of the history; undo brings it back.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the person saw.
    """
    row = _link_row(session, link_id)
    if revision is not None and row.revision != revision:
        raise ConflictError(_stored(row))
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
        row.id, row.revision, row.name, HouseRules.model_validate(row.house_rules), row.house_revision
    )


def _stored(row: LinkRow) -> StoredLink:
    return StoredLink(row.id, row.project_id, row.revision, Link.model_validate(row.body))


def _body(link: Link) -> dict[str, object]:
    return link.model_dump(mode="json")
