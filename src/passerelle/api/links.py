"""Links: the list, one link, its changes."""

from __future__ import annotations

from fastapi import APIRouter, Request, status

from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.rows import RowShelf
from passerelle.api.schemas import (
    EditRequest,
    LikeLink,
    LinkOut,
    LinkRowOut,
    NewLink,
    PreviewOut,
    PreviewRequest,
    ProjectOut,
    RowId,
    WhatIfOut,
)
from passerelle.api.state import database_of
from passerelle.api.views import link_view, preview_view, project_view
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for, like
from passerelle.core.link.bulk import set_length
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, apply_edits
from passerelle.core.link.elements import Element
from passerelle.core.link.names import check_names
from passerelle.core.match.fitting import Insertable, fitting_piece
from passerelle.core.selection.placed import placed
from passerelle.core.selection.question import Answer, answer, best_links
from passerelle.core.selection.whatif import WhatIf, try_out
from passerelle.core.selection.wish import Question
from passerelle.store import projects as stored

router = APIRouter(tags=["links"], responses=PROBLEM_RESPONSES)


@router.get("/projects/{project_id}/links")
def list_links(request: Request, project_id: RowId) -> list[LinkRowOut]:
    """All links of a project with their verdicts, in the project's order."""
    with database_of(request).read() as session:
        shelf: RowShelf = request.app.state.rows
        return shelf.rows(session, project_id)


@router.post("/projects/{project_id}/links", status_code=status.HTTP_201_CREATED)
def create_link(request: Request, project_id: RowId, wish: NewLink) -> LinkOut:
    """Make the links of an answer and add them to the project as one entry; the first is told. 422 without one."""
    catalog = load_catalog()
    with database_of(request).write() as session:
        house = stored.project(session, project_id).house
        known = wish.rate_mbps is not None
        asked = placed(_question(wish), stored.plant(session, project_id)) if known else None
        links = best_links(asked, catalog, house) if asked else (_chain_for(wish, catalog),)
        for link in links:
            check_names(link, catalog)
        more = f" and {len(links) - 1} more" if len(links) > 1 else ""
        new = stored.add_links(session, project_id, list(links), f"add {links[0].name}{more}")
        return link_view(session, new[0])


@router.post("/projects/{project_id}/links/answer")
def answer_question(request: Request, project_id: RowId, wish: NewLink) -> Answer:
    """What could be built between two places, best first, and what was ruled out. Nothing is stored."""
    with database_of(request).read() as session:
        house, plant = stored.project(session, project_id).house, stored.plant(session, project_id)
    if wish.rate_mbps is None:
        rate = load_catalog().application(wish.application).rate_mbps
        wish = wish.model_copy(update={"rate_mbps": rate})
    return answer(placed(_question(wish), plant), load_catalog(), house)


@router.post("/projects/{project_id}/links/like/{link_id}", status_code=status.HTTP_201_CREATED)
def create_like(request: Request, project_id: RowId, link_id: RowId, wish: LikeLink) -> LinkOut:
    """Add a link with the chain of another one, between two other places."""
    with database_of(request).write() as session:
        template = stored.link(session, link_id)
        if template.project_id != project_id:
            raise stored.NotFoundError(f"link {link_id} is not in this project")
        link = like(template.link, f"{wish.from_place} to {wish.to_place}"[:120], wish.from_place, wish.to_place)
        if wish.length_m is not None:
            link = apply_edits(link, (set_length(link, wish.length_m),))
        return link_view(session, stored.add_link(session, project_id, link, f"add {link.name}"))


def _question(wish: NewLink) -> Question:
    return Question.model_validate(wish.model_dump())


def _chain_for(wish: NewLink, catalog: Catalog) -> Link:
    usual = cage_for(catalog, wish.application)
    rates = (catalog.application(wish.application).rate_mbps,)
    return build_link(
        f"{wish.from_place} to {wish.to_place}"[:120],
        LinkEnd(wish.from_place, "", wish.near.cage or usual, rates),
        LinkEnd(wish.to_place, "", wish.far.cage or usual, rates),
        wish.application,
        wish.fiber,
        wish.length_m,
        catalog,
    )


@router.get("/links/{link_id}")
def get_link(request: Request, link_id: RowId) -> LinkOut:
    """One link with its review and the fixes that were tried and work."""
    with database_of(request).read() as session:
        return link_view(session, stored.link(session, link_id))


@router.post("/links/{link_id}/edits")
def edit_link(request: Request, link_id: RowId, wish: EditRequest) -> LinkOut:
    """Change a link: one transaction, one entry of the history. 409 when it was changed in the meantime."""
    with database_of(request).write() as session:
        before = stored.link(session, link_id)
        if before.revision != wish.revision:
            raise stored.ConflictError(before)
        after = apply_edits(before.link, wish.edits)
        check_names(after, load_catalog())
        label = f"{after.name}: {wish.label or _label(wish.edits)}"
        return link_view(session, stored.change_link(session, link_id, wish.revision, after, label))


@router.post("/links/{link_id}/what-if")
def what_if(request: Request, link_id: RowId, wish: WhatIf) -> WhatIfOut:
    """Another length, application or allowance profile on a link. Nothing is stored."""
    with database_of(request).read() as session:
        item = stored.link(session, link_id)
        house = stored.project(session, item.project_id).house
    found = try_out(item.link, wish, load_catalog(), house)
    return WhatIfOut(
        edits=found.edits,
        review=found.review,
        verdict_text=found.review.verdict_text,
        passes_to_m=found.passes_to_m,
    )


@router.get("/links/{link_id}/fitting")
def get_fitting_piece(request: Request, link_id: RowId, after: str, kind: Insertable) -> Element:
    """A piece of one kind that fits behind another: its shape, polish and glass are those of its neighbors."""
    with database_of(request).read() as session:
        return fitting_piece(stored.link(session, link_id).link, after, kind, load_catalog())


@router.post("/links/{link_id}/preview")
def preview_link(request: Request, link_id: RowId, wish: PreviewRequest) -> PreviewOut:
    """What edits would do to a link. Nothing is stored."""
    with database_of(request).read() as session:
        before = stored.link(session, link_id)
        house = stored.project(session, before.project_id).house
        return preview_view(apply_edits(before.link, wish.edits), house)


@router.post("/links/{link_id}/duplicate", status_code=status.HTTP_201_CREATED)
def duplicate_link(request: Request, link_id: RowId) -> LinkOut:
    """Add a copy of a link to its project."""
    with database_of(request).write() as session:
        original = stored.link(session, link_id)
        name = f"{original.link.name[:112]}, copy"
        copy = original.link.model_copy(update={"name": name})
        return link_view(session, stored.add_link(session, original.project_id, copy, f"add {name}"))


@router.delete("/links/{link_id}")
def delete_link(request: Request, link_id: RowId) -> ProjectOut:
    """Take a link out of its project. Undo brings it back."""
    with database_of(request).write() as session:
        gone = stored.link(session, link_id)
        stored.remove_link(session, link_id, f"remove {gone.link.name}")
        return project_view(session, stored.project(session, gone.project_id))


def _label(edits: tuple[Edit, ...]) -> str:
    """What a person did, for the log: ``set length m of run-1``."""
    words = []
    for edit in edits:
        match edit.op:
            case "set":
                words.append(f"set {', '.join(edit.values).replace('_', ' ')} of {edit.element}")
            case "insert":
                words.append(f"insert {edit.piece.kind}")
            case "reverse":
                words.append("reverse")
            case "describe":
                words.append(f"set {', '.join(edit.values).replace('_', ' ')}")
            case _:
                words.append(f"{edit.op} {edit.element}")
    return "; ".join(words)
