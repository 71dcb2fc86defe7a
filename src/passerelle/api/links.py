"""Links: the list, one link, its changes."""

from __future__ import annotations

from collections.abc import Container, Sequence
from typing import Annotated

from fastapi import Query, Request, status
from fastapi.responses import Response
from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from passerelle.api.errands import rows_of
from passerelle.api.laying import add_laid, laid_links
from passerelle.api.routing import api_router
from passerelle.api.rows import failed, numbered, shelf_of
from passerelle.api.schemas.common import ProjectOut, RowId, Seen
from passerelle.api.schemas.links import (
    EditRequest,
    LikeLink,
    LinkNews,
    LinkOut,
    LinkPage,
    LinkRowOut,
    NewLink,
    PortClash,
    PreviewOut,
    PreviewRequest,
    WhatIfOut,
)
from passerelle.api.state import database_of, writing
from passerelle.api.views import (
    catalog_of,
    link_out,
    link_view,
    port_clashes,
    preview_view,
    project_view,
    surroundings,
)
from passerelle.api.workroom import MANY, workroom_of
from passerelle.core.acceptance.admission import check_day
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.build import LinkEnd, build_link, cage_for, like
from passerelle.core.link.bulk import set_length
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, Measure, apply_edits
from passerelle.core.link.fitting import Insertable, fitting_piece
from passerelle.core.link.names import check_names
from passerelle.core.parts.registry import Element
from passerelle.core.plant.riders import off_plant
from passerelle.core.plant.site import Plant
from passerelle.core.selection.placed import placed
from passerelle.core.selection.question import Answer, answer, best_option
from passerelle.core.selection.whatif import WhatIf, try_out
from passerelle.core.selection.wish import Question
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.stored import ConflictError, NotFoundError, StoredLink, StoredProject

MOST_IN_PAGE = 5000

router = api_router("links")


@router.get("/projects/{project_id}/links", response_model=list[LinkRowOut])
def list_links(request: Request, project_id: RowId) -> Response:
    """All links of a project with their verdicts, in the project's order."""
    with database_of(request).read() as session:
        owner, heads = stored.project(session, project_id), stored_links.revisions(session, project_id)
        clashing = {one.link for one in port_clashes(session, project_id)}
    return Response(_listed(request, owner, heads, clashing), media_type="application/json")


@router.get("/projects/{project_id}/links/page", response_model=LinkPage)
def page_links(
    request: Request,
    project_id: RowId,
    after: Annotated[int, Query(ge=0)] = 0,
    most: Annotated[int, Query(ge=1, le=MOST_IN_PAGE)] = 500,
) -> Response:
    """Some links of the list, behind the first ``after``: so that the first rows need not wait for the last."""
    with database_of(request).read() as session:
        owner, heads = stored.project(session, project_id), stored_links.revisions(session, project_id)
        shared = _clashes(session, project_id)
    rows = _listed(request, owner, heads[after : after + most])
    head = b'{"revision":%d,"count":%d,"clashes":%s,"rows":' % (owner.revision, len(heads), shared)
    return Response(head + rows + b"}", media_type="application/json")


@router.get("/projects/{project_id}/links/news", response_model=LinkNews)
def news_of_links(request: Request, project_id: RowId, since: Seen) -> Response:
    """What became of the list since a revision of the project: the numbers in their order, and what changed."""
    with database_of(request).read() as session:
        owner = stored.project(session, project_id)
        numbers = [number for number, _ in stored_links.revisions(session, project_id)]
        other_house = owner.house_revision > since
        changed = stored_links.changed_since(session, project_id, 0 if other_house else since)
        shared = _clashes(session, project_id)
    rows = _listed(request, owner, changed)
    listed = ",".join(map(str, numbers)).encode()
    head = b'{"revision":%d,"clashes":%s,"numbers":[%s],"rows":' % (owner.revision, shared, listed)
    return Response(head + rows + b"}", media_type="application/json")


def _clashes(session: Session, project_id: int) -> bytes:
    return _CLASHES.dump_json(port_clashes(session, project_id))


_CLASHES = TypeAdapter(tuple[PortClash, ...])


def _listed(
    request: Request, owner: StoredProject, heads: Sequence[tuple[int, int]], clashing: Container[int] = ()
) -> bytes:
    """The rows of links, given by number and revision, as a JSON list; those that are not known are judged.

    Links that are ``clashing`` with others fail.
    """
    shelf = shelf_of(request)
    rows = shelf.known(heads, owner.house_revision)
    if stale := [number for number, _ in heads if number not in rows]:
        path, alone = database_of(request).path, len(stale) > MANY
        judged = workroom_of(request).run("", rows_of, path, owner.id, stale, alone=alone, way="out")
        shelf.put(owner.house_revision, judged)
        rows |= {number: row for number, _, row in judged}
    rows |= {number: failed(rows[number]) for number in rows if number in clashing}
    listed = (numbered(rows[number], number) for number, _ in heads if number in rows)
    return b"[" + b",".join(listed) + b"]"


@router.post("/projects/{project_id}/links", status_code=status.HTTP_201_CREATED)
def create_link(request: Request, project_id: RowId, wish: NewLink) -> LinkOut:
    """Make the links of an answer and add them to the project as one entry; the first is told. 422 without one.

    Between places of the plan they lie on it where one way leads; they replace the chain of a link that is named.
    """
    with database_of(request).read() as session:
        owner, plant = stored.project(session, project_id), stored.plant(session, project_id)
    links, new_cable = _asked_for(wish, plant, owner.house)
    for link in links:
        check_names(link, catalog_of(owner.house))
    with writing(request) as session:
        _check_names(session, owner, links)
        if wish.instead_of is not None:
            made = _replaced(session, project_id, wish, links, new_cable=new_cable)
        else:
            more = f" and {len(links) - 1} more" if len(links) > 1 else ""
            label = f"add {links[0].name}{more}"
            made = add_laid(session, project_id, links, label, new_cable=new_cable)[0][0]
        shown = surroundings(session, made)
    return link_out(made, shown)


def _check_names(session: Session, seen: StoredProject, links: Sequence[Link]) -> None:
    """Look at the names again where the house rules moved since they were looked at: a module may be gone."""
    now = stored.project(session, seen.id)
    if now.house_revision != seen.house_revision:
        for link in links:
            check_names(link, catalog_of(now.house))


def _asked_for(wish: NewLink, plant: Plant, house: HouseRules) -> tuple[list[Link], bool]:
    """The links of the best or picked answer, and whether their cable is new."""
    if wish.rate_mbps is None:
        return [_chain_for(wish, catalog_of(house))], not wish.fiber
    best = best_option(placed(_question(wish), plant), load_catalog(), house)
    return list(best.all_links), best.new_cable


def _replaced(
    session: Session, project_id: int, wish: NewLink, links: list[Link], *, new_cable: bool
) -> StoredLink:
    before = stored_links.link(session, wish.instead_of or 0)
    if before.project_id != project_id:
        raise NotFoundError(f"link {wish.instead_of} is not in this project")
    kept = {
        "name": before.link.name,
        "notes": before.link.notes or links[0].notes,
        "readings": before.link.readings,
    }
    laid = laid_links(
        session, project_id, [links[0].model_copy(update=kept), *links[1:]], new_cable=new_cable, without=before.id
    )
    label = f"{before.link.name}: another answer"
    revision = wish.revision if wish.revision is not None else before.revision
    return stored_links.replace_link(session, before.id, revision, list(laid.links), label, plant_after=laid.plant)


@router.post("/projects/{project_id}/links/answer")
def answer_question(request: Request, project_id: RowId, wish: NewLink) -> Answer:
    """What could be built between two places, best first, and what was ruled out. Nothing is stored."""
    with database_of(request).read() as session:
        house, plant = stored.project(session, project_id).house, stored.plant(session, project_id)
    if wish.rate_mbps is None:
        rate = catalog_of(house).application(wish.application).rate_mbps
        wish = wish.model_copy(update={"rate_mbps": rate})
    return answer(placed(_question(wish), plant), load_catalog(), house)


@router.post("/projects/{project_id}/links/like/{link_id}", status_code=status.HTTP_201_CREATED)
def create_like(request: Request, project_id: RowId, link_id: RowId, wish: LikeLink) -> LinkOut:
    """Add a link with the chain of another one, between two other places."""
    with writing(request) as session:
        template = stored_links.link(session, link_id)
        if template.project_id != project_id:
            raise NotFoundError(f"link {link_id} is not in this project")
        link = like(template.link, f"{wish.from_place} to {wish.to_place}"[:120], wish.from_place, wish.to_place)
        if wish.length_m is not None:
            link = apply_edits(link, (set_length(link, wish.length_m),))
        made, _ = add_laid(session, project_id, [off_plant(link)], f"add {link.name}")
        return link_view(session, made[0])


def _question(wish: NewLink) -> Question:
    return Question.model_validate(wish.model_dump(exclude={"instead_of", "revision"}))


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
        return link_view(session, stored_links.link(session, link_id))


@router.post("/links/{link_id}/edits")
def edit_link(request: Request, link_id: RowId, wish: EditRequest) -> LinkOut:
    """Change a link: one transaction, one entry of the history. 409 when it was changed in the meantime."""
    with database_of(request).read() as session:
        before = stored_links.link(session, link_id)
        if before.revision != wish.revision:
            raise ConflictError(before)
        today = events.now(session).date()
        for edit in wish.edits:
            if isinstance(edit, Measure):
                check_day(edit.reading.taken_on, today)
        after = apply_edits(before.link, wish.edits)
        owner = stored.project(session, before.project_id)
        check_names(after, catalog_of(owner.house))
        label = f"{after.name}: {wish.label or _label(wish.edits)}"
        ready = stored_links.ready_change(session, link_id, wish.revision, after)
    with writing(request) as session:
        _check_names(session, owner, [after])
        made = stored_links.put_change(session, ready, label)
        shown = surroundings(session, made, before.link)
    return link_out(made, shown)


@router.post("/links/{link_id}/what-if")
def what_if(request: Request, link_id: RowId, wish: WhatIf) -> WhatIfOut:
    """Another length, application or allowance profile on a link. Nothing is stored."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
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
        item = stored_links.link(session, link_id)
        return fitting_piece(item.link, after, kind, catalog_of(stored.project(session, item.project_id).house))


@router.post("/links/{link_id}/preview")
def preview_link(request: Request, link_id: RowId, wish: PreviewRequest) -> PreviewOut:
    """What edits would do to a link. Nothing is stored."""
    with database_of(request).read() as session:
        before = stored_links.link(session, link_id)
        house = stored.project(session, before.project_id).house
        return preview_view(apply_edits(before.link, wish.edits), house)


@router.post("/links/{link_id}/duplicate", status_code=status.HTTP_201_CREATED)
def duplicate_link(request: Request, link_id: RowId) -> LinkOut:
    """Add a copy of a link to its project."""
    with writing(request) as session:
        original = stored_links.link(session, link_id)
        name = f"{original.link.name[:112]}, copy"
        copy = original.link.model_copy(update={"name": name})
        made = stored_links.add_link(session, original.project_id, copy, f"add {name}")
        shown = surroundings(session, made)
    return link_out(made, shown)


@router.delete("/links/{link_id}")
def delete_link(request: Request, link_id: RowId, revision: Seen) -> ProjectOut:
    """Take a link out of its project. Undo brings it back. 409 when it was changed since it was seen."""
    with writing(request) as session:
        gone = stored_links.link(session, link_id)
        stored_links.remove_link(session, link_id, f"remove {gone.link.name}", revision)
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
            case "measure":
                words.append(f"reading of {edit.reading.value_db:g} dB")
            case "withdraw":
                words.append(f"withdraw {edit.reading}: {edit.why}")
            case "describe":
                words.append(f"set {', '.join(edit.values).replace('_', ' ')}")
            case _:
                words.append(f"{edit.op} {edit.element}")
    return "; ".join(words)
