"""Orders and deliveries: an event, and what it makes of the pieces and rows that it names, as one entry."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence

from sqlalchemy import text
from sqlalchemy.orm import Session

from passerelle.core.events import OfProject
from passerelle.core.parts.registry import Element
from passerelle.core.plant.records import Row
from passerelle.core.plant.riders import laid
from passerelle.core.plant.site import Plant
from passerelle.store import events
from passerelle.store.history import Change, EventChange, next_revision, record
from passerelle.store.links import with_plant, written
from passerelle.store.plants import plant_of
from passerelle.store.projects import moved_links
from passerelle.store.stored import link_row, project_row, stored_link

Restate = Callable[[Element], Element]
OnRow = Callable[[Row], Row]
_WITH = text(
    """
    SELECT DISTINCT link.id FROM link, json_each(link.body, '$.elements') AS piece
    WHERE link.project_id = :project
      AND json_extract(piece.value, '$.key') IN (SELECT value FROM json_each(:keys))
    """
)


def restate(
    session: Session,
    project_id: int,
    pieces: Mapping[str, Restate],
    rows: Mapping[str, OnRow],
    happened: Sequence[OfProject],
    label: str,
) -> None:
    """Make pieces and rows of the plan, by their keys, what they have become, and write down why: one entry.

    Links on rows that change follow them. Nothing is written where nothing changes and nothing happened.

    Raises:
        PlantError: a row would contradict the plan.
    """
    owner = project_row(session, project_id)
    before = plant_of(session, project_id)
    after = _rows_changed(before, rows)
    revision = next_revision(session, project_id)
    changes: list[Change] = [*with_plant(session, owner, after if after is not before else None, revision)]
    found = {row.id: (row, link) for row, _, link in moved_links(session, project_id, before, after)}
    for number in session.scalars(_WITH, {"project": project_id, "keys": json.dumps(sorted(pieces))}):
        if number not in found:
            row = link_row(session, number)
            found[number] = row, stored_link(session, row).link
    for row, link in found.values():
        elements = tuple(pieces[e.key](e) if e.key in pieces else e for e in link.elements)
        changes += written(session, row, laid(link.model_copy(update={"elements": elements}), after), revision)
    events.append(session, project_id, happened)
    changes += [EventChange(None, event.key) for event in happened]
    if changes:
        record(session, project_id, label, None, changes)


def _rows_changed(plant: Plant, rows: Mapping[str, OnRow]) -> Plant:
    """The plan with these rows as they have become."""
    shelves = {
        shelf: tuple(rows[row.key](row) if row.key in rows else row for row in getattr(plant, shelf))
        for shelf in ("cables", "taps", "parts", "frames", "reels")
    }
    changed = {shelf: made for shelf, made in shelves.items() if made != getattr(plant, shelf)}
    return plant.changed(**changed) if changed else plant
