"""New links laid on the plan where one way leads, and the question which way where several do."""

from __future__ import annotations

from fastapi import Request
from sqlalchemy.orm import Session

from passerelle.api.riding import riders_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.links import LinkOut
from passerelle.api.schemas.plant import PlaceRequest
from passerelle.api.state import database_of, writing
from passerelle.api.views import link_view
from passerelle.core.errors import PlantError
from passerelle.core.link.chain import Link
from passerelle.core.plant.outages import Rider
from passerelle.core.plant.placing import LaidLinks, WayChoice, can_be_laid, choices, lay_all, lay_on_plan
from passerelle.core.plant.site import Plant
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.stored import StoredLink

router = api_router("plant")


def laid_links(
    session: Session, project_id: int, new: list[Link], *, new_cable: bool = False, without: int | None = None
) -> LaidLinks:
    """New links as they would lie on the plan; nothing is stored. ``without`` is a link that they replace."""
    plant = stored.plant(session, project_id)
    house = stored.project(session, project_id).house
    known = riders_of(session, project_id, without)
    return lay_all(new, plant, known, new_cable=new_cable, spare_percent=house.strand_spares_percent)


def add_laid(
    session: Session,
    project_id: int,
    new: list[Link],
    label: str,
    *,
    new_cable: bool = False,
) -> tuple[list[StoredLink], int]:
    """Add links, each on the plan where one way leads; also how many of them a person must place."""
    laid = laid_links(session, project_id, new, new_cable=new_cable)
    made = stored_links.add_links(session, project_id, list(laid.links), label, plant_after=laid.plant)
    return made, len(laid.undecided)


@router.get("/links/{link_id}/ways")
def get_ways(request: Request, link_id: RowId) -> list[WayChoice]:
    """Where a link between two places of the plan could lie; empty where it lies already, or cannot."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        if not can_be_laid(item.link, stored.plant(session, item.project_id)):
            return []
        plant, others = _around(session, item)
    return list(choices(item.link, plant, others))


@router.post("/links/{link_id}/place")
def place_link(request: Request, link_id: RowId, wish: PlaceRequest) -> LinkOut:
    """Lay a link on the way that was chosen, on a planned cable where none is there: one entry of the history."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        plant, others = _around(session, item)
        placed = lay_on_plan(item.link, plant, others, key=wish.key)
        if not placed.on_plan:
            raise PlantError("key", "that way is not open to this link any more: look at the ways again")
        label = f"{item.link.name}: lay on the plan"
        new, after = [placed.link], placed.plant
        made = stored_links.replace_link(session, link_id, wish.revision, new, label, plant_after=after)
        return link_view(session, made)


def _around(session: Session, item: StoredLink) -> tuple[Plant, list[Rider]]:
    return stored.plant(session, item.project_id), riders_of(session, item.project_id, item.id)
