"""The rows of a plant: read as a whole, written row by row."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from weakref import WeakKeyDictionary

from cachetools import LRUCache
from sqlalchemy import Pool, insert, select
from sqlalchemy.orm import Session

from passerelle.core.plant.records import SHELVES
from passerelle.core.plant.rows import Shelves, keyed_rows
from passerelle.core.plant.site import Plant
from passerelle.store.events import new_key
from passerelle.store.records import Body
from passerelle.store.tables import PlantRow, ProjectRow


@dataclass(frozen=True)
class RowChange:
    """A row of the plant before and after, None where it did not exist, and its position then and now."""

    shelf: str
    row: str
    was: float
    position: float
    before: Body | None
    after: Body | None
    entity: str = "row"


def plant_of(session: Session, project_id: int) -> Plant:
    """The plant of a project; one that was read lately is not read again.

    A revision is given once, so what was read at one stays true. What a change makes that may yet be taken back is
    not kept.
    """
    revision = session.get_one(ProjectRow, project_id).plant_revision
    kept = _KEPT.setdefault(session.connection().engine.pool, LRUCache(MOST_KEPT))
    plant = kept.get((project_id, revision))
    if plant is None:
        plant = _plant(_rows(session, project_id))
        if not session.connection().get_execution_options().get("writes"):
            kept[project_id, revision] = plant
    return plant


MOST_KEPT = 4
_KEPT: WeakKeyDictionary[Pool, LRUCache[tuple[int, int], Plant]] = WeakKeyDictionary()


def _rows(session: Session, project_id: int) -> list[PlantRow]:
    query = select(PlantRow).where(PlantRow.project_id == project_id)
    return list(session.scalars(query.order_by(PlantRow.position, PlantRow.row)))


def _plant(rows: list[PlantRow]) -> Plant:
    shelves: dict[str, list[Any]] = {shelf: [] for shelf in SHELVES}
    for row in rows:
        shelves[row.shelf].append(row.body)
    return Plant.model_validate(shelves)


def put_plant(
    session: Session, project_id: int, new: Plant, revision: int, *, as_given: bool = False
) -> list[RowChange]:
    """Write what a new plant changes of the old one; answers with these changes.

    A row keeps the key that it has for good, whatever the new plant says (see ``keyed_rows``).
    """
    rows = _rows(session, project_id)
    known, before = {(row.shelf, row.row): row for row in rows}, _plant(rows)
    shelves = Shelves(
        (shelf, known[shelf, row.id].position, row) for shelf in SHELVES for row in getattr(before, shelf)
    )
    changes: list[RowChange] = []
    made: list[dict[str, Any]] = []
    for shelf, name, was, position, _, after in shelves.changes_to(
        keyed_rows(new, before, new_key, as_given=as_given)
    ):
        row = known.get((shelf, name))
        body = after.model_dump(mode="json") if after else None
        changes.append(RowChange(shelf, name, was, position, row.body if row else None, body))
        if row is None and body is not None:
            made.append(_values(project_id, changes[-1], body, position, revision))
        else:
            _put(session, row, project_id, changes[-1], body, position, revision)
    session.flush()
    if made:
        session.execute(insert(PlantRow), made)
    return changes


def put_row(session: Session, project_id: int, change: RowChange, revision: int, *, forwards: bool) -> None:
    """Put one row as it was after a change, or before it."""
    found = PlantRow.shelf == change.shelf, PlantRow.row == change.row
    row = session.scalar(select(PlantRow).where(PlantRow.project_id == project_id, *found))
    body, position = (change.after, change.position) if forwards else (change.before, change.was)
    _put(session, row, project_id, change, body, position, revision)
    session.flush()


def _values(project_id: int, change: RowChange, body: Body, position: float, revision: int) -> dict[str, Any]:
    place = {"project_id": project_id, "shelf": change.shelf, "row": change.row}
    return {**place, "body": body, "position": position, "revision": revision}


def _put(
    session: Session,
    row: PlantRow | None,
    project_id: int,
    change: RowChange,
    body: Body | None,
    position: float,
    revision: int,
) -> None:
    if body is None:
        if row is not None:
            session.delete(row)
    elif row is None:
        session.add(PlantRow(**_values(project_id, change, body, position, revision)))
    else:
        row.body, row.position, row.revision = body, position, revision
