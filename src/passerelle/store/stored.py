"""What a session gives of projects and links: their records, and what is said where they are not there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from passerelle.core.events import readings_by_link, with_readings
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.store import events
from passerelle.store.tables import LinkRow, ProjectRow

FEW = 50
"""For so few links their own events are asked for, for more those of the project."""


class NotFoundError(LookupError):
    """A project or link that is not in the database."""


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


def project_row(session: Session, project_id: int) -> ProjectRow:
    """The row of a project that is not removed; raises NotFoundError."""
    row = session.get(ProjectRow, project_id)
    if row is None:
        raise NotFoundError(f"there is no project {project_id}")
    if row.removed:
        raise NotFoundError(f"the project '{row.name}' was removed: bring it back in the list of projects first")
    return row


def link_row(session: Session, link_id: int) -> LinkRow:
    row = session.get(LinkRow, link_id)
    if row is None:
        raise NotFoundError(f"there is no link {link_id}: it may have been removed")
    return row


def project_of(row: ProjectRow) -> StoredProject:
    return StoredProject(
        row.id, row.revision, row.name, HouseRules.model_validate(row.house_rules), row.house_revision, row.key
    )


def stored_link(session: Session, row: LinkRow) -> StoredLink:
    return stored_links(session, row.project_id, [row])[0]


def stored_links(session: Session, project_id: int, rows: Sequence[LinkRow]) -> list[StoredLink]:
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


def without_readings(link: Link) -> Link:
    return link.model_copy(update={"readings": ()})


def body_of(link: Link) -> dict[str, object]:
    return link.model_dump(mode="json", exclude={"readings"})
