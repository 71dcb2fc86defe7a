"""Projects and links as core records, read and changed inside one session."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.plant.riders import cables_of, check_strands, laid, off_plant, released
from passerelle.core.plant.site import Plant
from passerelle.store.history import LinkChange, NameChange, PlantChange, ProjectChange, next_revision, record
from passerelle.store.tables import LinkRow, ProjectRow


class NotFoundError(LookupError):
    """A project or link that is not in the database."""


class StalePlantError(RuntimeError):
    """The plant was changed by somebody else since it was read."""

    def __init__(self) -> None:
        super().__init__(
            "the plant was changed elsewhere in the meantime: look at its new state, then change it again"
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


@dataclass(frozen=True)
class StoredLink:
    """A link with its number, project and revision."""

    id: int
    project_id: int
    revision: int
    link: Link


def projects(session: Session) -> list[StoredProject]:
    """All projects, oldest first."""
    return [_project(row) for row in session.scalars(select(ProjectRow).order_by(ProjectRow.id))]


def project(session: Session, project_id: int) -> StoredProject:
    """One project; raises NotFoundError."""
    return _project(_project_row(session, project_id))


def create_project(
    session: Session, name: str, links: list[Link], house: HouseRules, plant: Plant | None = None
) -> StoredProject:
    """A new project filled with links and their plant. It starts with an empty history.

    Raises:
        PlantError: a link rides on a cable that the plant does not have, or on a strand that is taken.
    """
    plant = plant or Plant()
    check_strands(links, plant)
    links = [laid(link, plant) for link in links]
    row = ProjectRow(name=name, house_rules=house.model_dump(mode="json"), plant=plant.model_dump(mode="json"))
    session.add(row)
    session.flush()
    for position, link in enumerate(links):
        session.add(LinkRow(project_id=row.id, position=position, revision=1, body=_body(link)))
    session.flush()
    return _project(row)


def set_house_rules(session: Session, project_id: int, house: HouseRules, label: str) -> StoredProject:
    """Change the house rules, as one entry of the history."""
    row = _project_row(session, project_id)
    before, after = row.house_rules, house.model_dump(mode="json")
    if before == after:
        return _project(row)
    row.house_rules = after
    next_revision(session, project_id)
    change = ProjectChange(before=before, after=after)
    record(session, project_id, label, None, [change])
    return _project(row)


def plant(session: Session, project_id: int) -> Plant:
    """The plant of a project; raises NotFoundError."""
    return Plant.model_validate(_project_row(session, project_id).plant)


def plant_revision(session: Session, project_id: int) -> int:
    """The revision of a project's plant, to change it from."""
    return _project_row(session, project_id).plant_revision


def set_plant(session: Session, project_id: int, revision: int, new: Plant, label: str) -> None:
    """Change the plant and every link that rides on it, all as one entry of the history.

    Raises:
        StalePlantError: the plant was changed since ``revision``.
        PlantError: a link rides on what would be gone, or on a strand that cannot carry it.
    """
    row = _project_row(session, project_id)
    if row.plant_revision != revision:
        raise StalePlantError
    before, after = row.plant, new.model_dump(mode="json")
    if before == after:
        return
    riding, old_plant = links(session, project_id), Plant.model_validate(before)
    check_strands((item.link for item in riding), new)
    number = next_revision(session, project_id)
    row.plant, row.plant_revision = after, number
    changes: list[PlantChange | LinkChange] = [PlantChange(before=before, after=after)]
    for item in riding:
        changed = laid(item.link, new, old_plant)
        if changed != item.link:
            link_row = _link_row(session, item.id)
            old, link_row.body, link_row.revision = link_row.body, _body(changed), number
            changes.append(LinkChange(link_row.id, link_row.position, old, link_row.body))
    record(session, project_id, label, None, changes)


def rename_project(session: Session, project_id: int, name: str) -> StoredProject:
    """Give a project another name, as one entry of the history."""
    row = _project_row(session, project_id)
    if row.name != name:
        change = NameChange(before={"name": row.name}, after={"name": name})
        row.name = name
        next_revision(session, project_id)
        record(session, project_id, f"name the project {name}", None, [change])
    return _project(row)


def links(session: Session, project_id: int) -> list[StoredLink]:
    """All links of a project in their order."""
    _project_row(session, project_id)
    query = select(LinkRow).where(LinkRow.project_id == project_id).order_by(LinkRow.position, LinkRow.id)
    return [_stored(row) for row in session.scalars(query)]


def revisions(session: Session, project_id: int) -> list[tuple[int, int]]:
    """Number and revision of each link of a project, in their order."""
    _project_row(session, project_id)
    query = select(LinkRow.id, LinkRow.revision).where(LinkRow.project_id == project_id)
    return [(row.id, row.revision) for row in session.execute(query.order_by(LinkRow.position, LinkRow.id))]


def link(session: Session, link_id: int) -> StoredLink:
    """One link; raises NotFoundError."""
    return _stored(_link_row(session, link_id))


def add_link(session: Session, project_id: int, new: Link, label: str) -> StoredLink:
    """Append a link to a project, as one entry of the history."""
    return add_links(session, project_id, [new], label)[0]


def add_links(session: Session, project_id: int, new: list[Link], label: str) -> list[StoredLink]:
    """Append links to a project, all as one entry of the history.

    They come without strands: those that they were made after may be taken.
    """
    _project_row(session, project_id)
    new = [off_plant(link) for link in new]
    last = session.scalar(select(func.max(LinkRow.position)).where(LinkRow.project_id == project_id))
    first = 0 if last is None else last + 1
    revision = next_revision(session, project_id)
    rows = [
        LinkRow(project_id=project_id, position=first + i, revision=revision, body=_body(link))
        for i, link in enumerate(new)
    ]
    session.add_all(rows)
    session.flush()
    changes = [LinkChange(link_id=r.id, position=r.position, before=None, after=r.body) for r in rows]
    if rows:
        record(session, project_id, label, rows[0].id if len(rows) == 1 else None, changes)
    return [_stored(row) for row in rows]


def change_link(session: Session, link_id: int, revision: int, new: Link, label: str) -> StoredLink:
    """Replace a link's content, as one entry of the history.

    Raises:
        NotFoundError: there is no such link.
        ConflictError: its revision is not the one that the change was made from.
    """
    row = _link_row(session, link_id)
    if row.revision != revision:
        raise ConflictError(_stored(row))
    new = released(Link.model_validate(row.body), new)
    if cables_of(new):
        new = laid(new, plant(session, row.project_id))
        others = [item.link for item in links(session, row.project_id) if item.id != link_id]
        check_strands([*others, new], plant(session, row.project_id))
    before, after = row.body, _body(new)
    if before != after:
        row.body = after
        row.revision = next_revision(session, row.project_id)
        change = LinkChange(link_id=row.id, position=row.position, before=before, after=after)
        record(session, row.project_id, label, row.id, [change])
    return _stored(row)


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


def remove_link(session: Session, link_id: int, label: str) -> None:
    """Take a link out of its project, as one entry of the history; undo brings it back."""
    row = _link_row(session, link_id)
    next_revision(session, row.project_id)
    change = LinkChange(link_id=row.id, position=row.position, before=row.body, after=None)
    record(session, row.project_id, label, row.id, [change])
    session.delete(row)


def _project_row(session: Session, project_id: int) -> ProjectRow:
    row = session.get(ProjectRow, project_id)
    if row is None:
        raise NotFoundError(f"there is no project {project_id}")
    return row


def _link_row(session: Session, link_id: int) -> LinkRow:
    row = session.get(LinkRow, link_id)
    if row is None:
        raise NotFoundError(f"there is no link {link_id}: it may have been removed")
    return row


def _project(row: ProjectRow) -> StoredProject:
    return StoredProject(row.id, row.revision, row.name, HouseRules.model_validate(row.house_rules))


def _stored(row: LinkRow) -> StoredLink:
    return StoredLink(row.id, row.project_id, row.revision, Link.model_validate(row.body))


def _body(link: Link) -> dict[str, object]:
    return link.model_dump(mode="json")
