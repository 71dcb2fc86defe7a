"""What the plant must know of each link of a project: its ends, its speed and what it stands on. Of a link that did
not change since it was asked last nothing is read again.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any
from weakref import WeakKeyDictionary

from cachetools import LRUCache
from sqlalchemy import Pool, text
from sqlalchemy.orm import Session

from passerelle.core.parts.registry import KINDS
from passerelle.core.plant.outages import Rider
from passerelle.store.links import revisions
from passerelle.store.projects import project

LYING = frozenset(spec.kind for spec in KINDS if spec.any_position)
MOST_KEPT = 4
_FIELDS = text(
    """
    SELECT link.id, json_extract(link.body, '$.name'), json_group_array(
        json_extract(piece.value, '$.kind', '$.place', '$.application', '$.part', '$.positions'))
    FROM link, json_each(link.body, '$.elements') AS piece
    WHERE link.project_id = :project AND link.revision > :since
    GROUP BY link.id
    """
)
"""The database takes the few fields out of the bodies: reading these whole takes several times as long."""

_Kept = dict[int, tuple[int, Rider]]
_KEPT: WeakKeyDictionary[Pool, LRUCache[tuple[int, int], tuple[int, _Kept]]] = WeakKeyDictionary()


def riders(session: Session, project_id: int, rate_of: Callable[[str], int]) -> list[Rider]:
    """All links of a project as the plant sees them, in their order; ``rate_of`` tells an application's Mb/s.

    Raises:
        NotFoundError: there is no such project.
    """
    owner = project(session, project_id)
    kept = _KEPT.setdefault(session.connection().engine.pool, LRUCache(MOST_KEPT))
    since, known = kept.get((project_id, owner.house_revision), (0, {}))
    heads = dict(revisions(session, project_id))
    if {number: revision for number, (revision, _) in known.items()} != heads:
        read = session.execute(_FIELDS, {"project": project_id, "since": since})
        fresh = {number: _rider(number, name, json.loads(pieces), rate_of) for number, name, pieces in read}
        known = {n: (revision, fresh[n] if n in fresh else known[n][1]) for n, revision in heads.items()}
    if not session.connection().get_execution_options().get("writes"):  # what may yet be taken back is not kept
        kept[project_id, owner.house_revision] = owner.revision, known
    return [known[number][1] for number in heads]


def _rider(number: int, name: str, pieces: list[list[Any]], rate_of: Callable[[str], int]) -> Rider:
    places = [place for kind, place, *_ in pieces if place is not None]
    rates = [rate_of(application) for _, _, application, *_ in pieces if application]
    runs = {part: tuple(positions) for kind, _, _, part, positions in pieces if part and kind in LYING}
    return Rider(
        id=number,
        name=name,
        near=places[0] if places else "",
        far=places[-1] if places else "",
        rate_mbps=min(rates, default=0),
        cables=tuple(runs),
        strands=tuple(runs.values()),
        takes=tuple((part, n) for *_, part, positions in pieces if part for n in positions),
    )
