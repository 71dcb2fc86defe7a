"""Links made ready outside the database, so that writing many of them is short."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from sqlalchemy import func, select, text
from sqlalchemy.orm import Session

from passerelle.core.errors import PlantError
from passerelle.core.events import Event
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import keyed
from passerelle.core.link.port_use import PortUse, port_uses
from passerelle.core.plant.riders import check_taken, parts_in
from passerelle.core.plant.site import Plant
from passerelle.store import events, taken
from passerelle.store.events import new_key
from passerelle.store.history import WholeEntry, next_revision, record_kept, restore
from passerelle.store.plants import plant_of, put_plant
from passerelle.store.port_uses import put_port_uses
from passerelle.store.records import Body, driver, keep_packed, packed
from passerelle.store.stored import project_row
from passerelle.store.tables import SCHEMA, LinkRow, ProjectRow


class MovedOnError(RuntimeError):
    """The project changed in what the links were made ready for: they must be made ready again."""


@dataclass(frozen=True)
class Basis:
    """What links were made ready for: the project's revisions at that time."""

    revision: int
    house_revision: int
    plant_revision: int


@dataclass(frozen=True)
class PreparedLinks:
    """Links ready to be written: their JSON and keys, the names and compressed text of their records, their ports;
    those on the plan, by their place among all; what happened to them.
    """

    bodies: list[str]
    keys: list[str]
    names: list[str]
    records: list[bytes]
    uses: list[tuple[PortUse, ...]]
    riding: dict[int, Link]
    events: list[Event]


def basis(session: Session, project_id: int) -> Basis:
    """The revisions of a project now; raises NotFoundError."""
    row = project_row(session, project_id)
    return Basis(row.revision, row.house_revision, row.plant_revision)


def prepared(links: Sequence[Link], happened: Sequence[Event] = ()) -> PreparedLinks:
    """Make links ready to be written: those without a key get one. Their readings are those of the events."""
    links = [keyed(link, new_key) for link in links]
    made = [packed(link.model_dump(mode="json", exclude={"readings"})) for link in links]
    return PreparedLinks(
        bodies=[link.model_dump_json(exclude={"readings"}) for link in links],
        keys=[link.key for link in links],
        names=[name for name, _ in made],
        records=[content for _, content in made],
        uses=[port_uses(link.elements) for link in links],
        riding={place: link for place, link in enumerate(links) if parts_in(link)},
        events=list(happened),
    )


def add_prepared(
    session: Session,
    project_id: int,
    new: PreparedLinks,
    label: str | None,
    on: Basis | None = None,
    plant_after: Plant | None = None,
) -> list[int]:
    """Append links to a project, as one entry of the history where they have a label; answers with their numbers.

    Raises:
        NotFoundError: there is no such project.
        MovedOnError: house rules or plant are not those of the basis, or a strand was taken since.
    """
    row = project_row(session, project_id)
    _check_basis(session, row, new, on, plant_after)
    revision = next_revision(session, project_id)
    changes: list[Body] = []
    if plant_after is not None and (rows_changed := put_plant(session, project_id, plant_after, revision)):
        row.plant_revision = revision
        changes += [dict(vars(change)) for change in rows_changed]
    last = session.scalar(select(func.max(LinkRow.position)).where(LinkRow.project_id == project_id))
    position = 0 if last is None else last + 1
    number = (session.execute(text("SELECT seq FROM sqlite_sequence WHERE name = 'link'")).scalar() or 0) + 1
    places = range(len(new.bodies))
    rows = (
        (number + i, project_id, position + i, revision, body, key, SCHEMA)
        for i, (body, key) in enumerate(zip(new.bodies, new.keys, strict=True))
    )
    driver(session).executemany(
        "INSERT INTO link (id, project_id, position, revision, body, key, schema) VALUES (?, ?, ?, ?, ?, ?, ?)",
        rows,
    )
    put_port_uses(session, project_id, [(number + i, uses) for i, uses in enumerate(new.uses)])
    taken.take(session, project_id, ((number + i, link.model_dump()) for i, link in new.riding.items()))
    events.append(session, project_id, new.events)
    keep_packed(session, dict(zip(new.names, new.records, strict=True)))
    if label is not None and new.bodies:
        links = [
            {
                "entity": "link",
                "link_id": number + i,
                "position": position + i,
                "before": None,
                "after": new.names[i],
            }
            for i in places
        ]
        record_kept(session, project_id, label, number if len(places) == 1 else None, changes, links)
    return [number + i for i in places]


def _check_basis(
    session: Session, row: ProjectRow, new: PreparedLinks, on: Basis | None, plant_after: Plant | None
) -> None:
    if on is None:
        return
    if (row.house_revision, row.plant_revision) != (on.house_revision, on.plant_revision):
        raise MovedOnError
    if not new.riding:
        return
    parts = {part for link in new.riding.values() for part in parts_in(link)}
    rows = taken.rows_on(session, row.id, sorted(parts), since=on.revision)
    changed = [Link.model_validate(one.body) for one in rows]
    try:
        check_taken([*changed, *new.riding.values()], plant_after or plant_of(session, row.id))
    except PlantError as error:
        raise MovedOnError from error


@dataclass(frozen=True)
class PreparedLog:
    """The log of a plan file ready to be written: its links' numbers, its entries, the packed records they name."""

    numbers: list[int]
    entries: list[WholeEntry]
    records: dict[str, bytes]


def prepared_log(numbers: Sequence[int], entries: Sequence[WholeEntry], records: Mapping[str, Body]) -> PreparedLog:
    """Make a log ready: its records, which have names of their own in a file, go by their hashes here."""
    made = {name: packed(body) for name, body in records.items()}

    def renamed(change: Body) -> Body:
        sides = ("before", "after")
        return {**change, **{side: None if change[side] is None else made[change[side]][0] for side in sides}}

    told = [replace(entry, changes=[renamed(change) for change in entry.changes]) for entry in entries]
    return PreparedLog(list(numbers), told, dict(made.values()))


def restore_log(session: Session, project_id: int, log: PreparedLog, own: Sequence[int]) -> None:
    """Give a new project, whose links have these numbers, the log of the plan file that it was made from."""
    restore(session, project_id, log.entries, log.records, dict(zip(log.numbers, own, strict=True)))
