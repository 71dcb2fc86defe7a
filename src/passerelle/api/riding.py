"""The links of a project as its plant sees them."""

from __future__ import annotations

from sqlalchemy.orm import Session

from passerelle.api.views import catalog_of
from passerelle.core.plant.outages import Rider
from passerelle.store import projects as stored
from passerelle.store.riding import riders


def riders_of(session: Session, project_id: int, without: int | None = None) -> list[Rider]:
    """All links of a project but one that is named; raises NotFoundError."""
    shown = catalog_of(stored.project(session, project_id).house)
    found = riders(session, project_id, lambda name: shown.application(name).rate_mbps)
    return found if without is None else [rider for rider in found if rider.id != without]
