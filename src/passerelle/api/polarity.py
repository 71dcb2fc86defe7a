"""Where each lane passes, what a trunk is, which leg goes where, and one set of parts for a backbone."""

from __future__ import annotations

from collections.abc import Callable

from fastapi import Request, status

from passerelle.api.laying import add_laid
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.links import LinkOut, PreviewRequest
from passerelle.api.schemas.polarity import BackboneLink, Trial
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of, link_out, prices_of, surroundings
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.elsewhere import elsewhere
from passerelle.core.link.build import cage_for
from passerelle.core.link.edits import apply_edits
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.piece import Piece
from passerelle.core.polarity.card import CrossingCard, crossing_card
from passerelle.core.polarity.method import MethodAnswer, MethodWish, laid_over, methods
from passerelle.core.polarity.sheets import Known, SplitPort, TrunkSheet, split_ports, trunk_sheets
from passerelle.core.polarity.table import StrandTable, strand_table
from passerelle.store import links as stored_links
from passerelle.store import projects as stored

router = api_router("polarity")


@router.get("/links/{link_id}/strands")
def strands_of(request: Request, link_id: RowId) -> StrandTable:
    """The position table of a link: its faces from left to right, and each lane's position at each of them."""
    with database_of(request).read() as session:
        found = stored_links.link(session, link_id)
        house = stored.project(session, found.project_id).house
    return strand_table(found.link, catalog_of(house))


@router.post("/links/{link_id}/strands")
def try_strands(request: Request, link_id: RowId, wish: PreviewRequest) -> Trial:
    """The position table as edits would make it, without storing anything, and what they do to other links."""
    with database_of(request).read() as session:
        found = stored_links.link(session, link_id)
        house = stored.project(session, found.project_id).house
        parts = sorted({e.part for e in found.link.elements if e.part})
        others = {o.id: o.link for o in stored_links.links_on(session, found.project_id, parts) if o.id != link_id}
    after = apply_edits(found.link, wish.edits)
    told = elsewhere(found.link, wish.edits, others, load_catalog(), house)
    return Trial(table=strand_table(after, catalog_of(house)), elsewhere=told)


@router.get("/links/{link_id}/crossing")
def card_of(request: Request, link_id: RowId, element: str) -> CrossingCard:
    """The card for crossing one cord of a link by hand."""
    with database_of(request).read() as session:
        found = stored_links.link(session, link_id)
    return crossing_card(found.link, element)


@router.post("/projects/{project_id}/backbone")
def get_methods(request: Request, project_id: RowId, wish: MethodWish) -> MethodAnswer:
    """Every consistent set of parts for what will run on a backbone, and what is mixed in the project."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        links = [one.link for one in stored_links.links(session, project_id)]
    return methods(wish, links, catalog_of(house), prices_of(house))


@router.post("/projects/{project_id}/backbone/links", status_code=status.HTTP_201_CREATED)
def lay_over(request: Request, project_id: RowId, wish: BackboneLink) -> LinkOut:
    """A link over a trunk of a set of parts, added to the project."""
    with database_of(request).read() as session:
        catalog = catalog_of(stored.project(session, project_id).house)
    optic = catalog.application(wish.application)
    cage = cage_for(catalog, optic.name)
    near, far = (
        Port(place=place, cage=cage, rates_mbps=(optic.rate_mbps,)) for place in (wish.from_place, wish.to_place)
    )
    name = f"{wish.from_place} to {wish.to_place}"[:120]
    made = laid_over(
        wish.backbone,
        optic.name,
        name,
        (near, far),
        wish.length_m,
        catalog,
        front=wish.front,
        beside=wish.beside,
    ).model_copy(update={"wanted_rate_mbps": optic.rate_mbps})
    with writing(request) as session:
        added = add_laid(session, project_id, [made], f"add {name}")[0][0]
        shown = surroundings(session, added)
    return link_out(added, shown)


@router.get("/projects/{project_id}/trunks")
def get_trunks(request: Request, project_id: RowId) -> list[TrunkSheet]:
    """A sheet for each trunk: wiring, key and pins at each end, where each position comes out, what lights it."""
    known, catalog = _known(request, project_id, lambda piece: isinstance(piece, Trunk))
    return list(trunk_sheets(known, catalog))


@router.get("/projects/{project_id}/splits")
def get_splits(request: Request, project_id: RowId) -> list[SplitPort]:
    """Every split port: which leg goes where, what each host gets, and the legs that are free."""
    known, catalog = _known(request, project_id, lambda piece: piece.__dict__.get("legs", 1) > 1)
    return list(split_ports(known, catalog))


def _known(request: Request, project_id: int, about: Callable[[Piece], bool]) -> tuple[list[Known], Catalog]:
    """The links with a piece that a sheet is about, with their verdicts."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        links = stored_links.links(session, project_id)
    found = [one for one in links if any(about(piece) for piece in one.link.elements)]
    told = figures_of([one.link for one in found], load_catalog(), house)
    known = [Known(one.id, one.link, line.verdict_text) for one, line in zip(found, told, strict=True)]
    return known, catalog_of(house)
