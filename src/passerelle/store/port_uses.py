"""Which ports links use, written with each link, and which links of a project want the same one."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterable, Sequence

from sqlalchemy import Select, func, select, text
from sqlalchemy.orm import Session

from passerelle.core.link.port_use import Clash, PortUse, clashes
from passerelle.store.records import driver
from passerelle.store.tables import LinkRow, PortUseRow

_SHARED = text(
    "SELECT DISTINCT link_id FROM port_use WHERE project_id = :project AND (place, label) IN (SELECT place, label "
    "FROM port_use WHERE project_id = :project GROUP BY place, label HAVING min(link_id) < max(link_id))"
)
_BESIDE = text(
    "SELECT DISTINCT b.link_id FROM port_use a JOIN port_use b ON b.project_id = a.project_id "
    "AND b.place = a.place AND b.label = a.label WHERE a.link_id = :link"
)


def put_port_uses(session: Session, project_id: int, used: Iterable[tuple[int, Sequence[PortUse]]]) -> None:
    """Write down which ports links use now, by their numbers, in place of those that they used."""
    links = list(used)
    connection = driver(session)
    connection.executemany("DELETE FROM port_use WHERE link_id = ?", [(number,) for number, _ in links])
    connection.executemany(
        "INSERT INTO port_use (link_id, place, label, leg, project_id) VALUES (?, ?, ?, ?, ?)",
        [(number, *use, project_id) for number, uses in links for use in set(uses)],
    )


def clashes_in(session: Session, project_id: int) -> dict[int, tuple[Clash, ...]]:
    """The ports that several links of a project use, by link."""
    return _clashes(session, list(session.scalars(_SHARED, {"project": project_id})))


def clashes_at(session: Session, link_id: int) -> tuple[Clash, ...]:
    """The ports of one link that others use too."""
    return _clashes(session, list(session.scalars(_BESIDE, {"link": link_id}))).get(link_id, ())


def names_of(session: Session, found: Iterable[Clash]) -> dict[int, str]:
    """The names of the links that use the same ports, by number."""
    query = select(LinkRow.id, LinkRow.body["name"].as_string()).where(
        LinkRow.id.in_(_listed({clash.other for clash in found}))
    )
    return {row[0]: row[1] for row in session.execute(query)}


def _clashes(session: Session, numbers: Sequence[int]) -> dict[int, tuple[Clash, ...]]:
    if len(numbers) < 2:
        return {}
    uses: dict[int, list[PortUse]] = defaultdict(list)
    query = select(PortUseRow).where(PortUseRow.link_id.in_(_listed(numbers))).order_by(PortUseRow.link_id)
    for row in session.scalars(query):
        uses[row.link_id].append(PortUse(row.place, row.label, row.leg))
    return clashes(uses)


def _listed(numbers: Iterable[int]) -> Select[tuple[int]]:
    return select(func.json_each(json.dumps(sorted(numbers))).table_valued("value").c.value)
