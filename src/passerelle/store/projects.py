"""Projects as core records, read and changed inside one session."""

from __future__ import annotations

import json
from collections.abc import Iterable

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from passerelle.core.catalog.prices import with_plant_prices
from passerelle.core.copies import copied_event, copied_link, copied_plant
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import keyed
from passerelle.core.plant.riders import check_taken, laid
from passerelle.core.plant.rows import keyed_rows
from passerelle.core.plant.site import Plant
from passerelle.store import events, taken
from passerelle.store.accepted import copy_files
from passerelle.store.events import new_key
from passerelle.store.history import (
    Change,
    NameChange,
    ProjectChange,
    next_revision,
    record,
)
from passerelle.store.links import added, links, with_plant, written
from passerelle.store.plants import plant_of, put_plant
from passerelle.store.stored import (
    NotFoundError,
    StoredProject,
    project_of,
    project_row,
    stored_links,
    without_readings,
)
from passerelle.store.tables import EventRow, LinkRow, ProjectRow


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


def projects(session: Session) -> list[StoredProject]:
    """All projects that were not removed, oldest first."""
    query = select(ProjectRow).where(ProjectRow.removed.is_(False)).order_by(ProjectRow.id)
    return [project_of(row) for row in session.scalars(query)]


def project(session: Session, project_id: int) -> StoredProject:
    """One project; raises NotFoundError."""
    return project_of(project_row(session, project_id))


def has_key(session: Session, key: str) -> bool:
    """Whether a project, also one that was removed, has this key."""
    return session.scalar(select(ProjectRow.id).where(ProjectRow.key == key)) is not None


def has_any_key(session: Session, links: Iterable[str], happened: Iterable[str]) -> bool:
    """Whether one of some links or events, by their keys, is here already, in whatever project."""
    for column, keys in ((LinkRow.key, links), (EventRow.key, happened)):
        listed = select(func.json_each(json.dumps([key for key in keys if key])).table_valued("value").c.value)
        if session.scalar(select(column).where(column.in_(listed)).limit(1)) is not None:
            return True
    return False


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
    added(session, row.id, [keyed(copied_link(laid(link, plant), salt), new_key) for link in links], 1)
    return project_of(row)


def set_house_rules(
    session: Session, project_id: int, house: HouseRules, label: str, revision: int | None = None
) -> StoredProject:
    """Change the house rules, as one entry of the history; raises StaleHouseError if ``revision`` is not theirs."""
    row = project_row(session, project_id)
    if revision is not None and row.house_revision != revision:
        raise StaleHouseError
    before, after = row.house_rules, house.model_dump(mode="json")
    if before == after:
        return project_of(row)
    row.house_rules, row.house_revision = after, next_revision(session, project_id)
    change = ProjectChange(before=before, after=after)
    record(session, project_id, label, None, [change])
    return project_of(row)


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
    changes: list[Change] = list(with_plant(session, row, new, number))
    moved = moved_links(session, project_id, old, new)
    for link_row, _, after in moved:
        changes += written(session, link_row, after, number)
    record(session, project_id, label, None, changes)
    return [(link_row.id, before, after) for link_row, before, after in moved]


def moved_links(session: Session, project_id: int, old: Plant, new: Plant) -> list[tuple[LinkRow, Link, Link]]:
    """The links that another plant would change, before and after.

    Raises:
        PlantError: a link stands on what would be gone, or on a position that cannot carry it.
    """
    rows = taken.all_rows_on(session, project_id)
    riding = [item.link for item in stored_links(session, project_id, rows)]
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
    return project_of(row)


def copy_project(session: Session, project_id: int, name: str) -> StoredProject:
    """A project of its own with the links, plan, house rules and readings of another; its history starts empty.

    All keys are new: what happens to the one does not happen to the other.
    """
    source, salt = project(session, project_id), new_key()
    bare = [without_readings(item.link) for item in links(session, project_id)]
    made = create_project(session, name, bare, source.house, plant_of(session, project_id), salt=salt)
    events.append(session, made.id, (copied_event(e, salt) for e in events.of_project(session, project_id)))
    copy_files(session, project_id, made.id)
    return made


def set_removed(session: Session, project_id: int, *, removed: bool) -> StoredProject:
    """Take a project out of sight, or bring it back; nothing of it is lost meanwhile."""
    row = session.get(ProjectRow, project_id)
    if row is None:
        raise NotFoundError(f"there is no project {project_id}")
    row.removed = removed
    session.flush()
    return project_of(row)


def removed_projects(session: Session) -> list[StoredProject]:
    """The projects that were removed and can be brought back, oldest first."""
    query = select(ProjectRow).where(ProjectRow.removed.is_(True)).order_by(ProjectRow.id)
    return [project_of(row) for row in session.scalars(query)]
