"""One change for many links: tried first, then made as one entry of the history."""

from __future__ import annotations

from pathlib import Path

from fastapi import Request
from sqlalchemy.orm import Session

from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId, VerdictChange
from passerelle.api.schemas.links import BulkOut, BulkRequest, Refused
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of
from passerelle.api.workroom import MANY, Tell, key_of, workroom_of
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import EditError
from passerelle.core.link.bulk import describe_change, edits_for
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import apply_edits
from passerelle.core.link.names import check_names
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.database import reading
from passerelle.store.stored import NotFoundError, StoredLink

router = api_router("links")


@router.post("/projects/{project_id}/bulk/preview")
def preview_bulk(request: Request, project_id: RowId, wish: BulkRequest) -> BulkOut:
    """The verdicts that one change of several links would move. Nothing is stored."""
    given = database_of(request).path, project_id, wish
    return workroom_of(request).run(key_of(request), effect_of, *given, alone=len(wish.links) > MANY, way="out")


def effect_of(_tell: Tell, path: Path, project_id: int, wish: BulkRequest) -> BulkOut:
    """The verdicts that one change of several links would move."""
    with reading(path) as session:
        changed, refused = _changed(session, project_id, wish)
        return _effect(session, project_id, changed, refused)


@router.post("/projects/{project_id}/bulk")
def make_bulk(request: Request, project_id: RowId, wish: BulkRequest) -> BulkOut:
    """Make one change in several links: one transaction, one entry, one undo.

    422 where one of them cannot take it, unless ``leave_out`` says that the rest is changed without it.
    """
    with writing(request) as session:
        changed, refused = _changed(session, project_id, wish)
        if refused and not (wish.leave_out and changed):
            more = f", and {len(refused) - 1} more links cannot take it" if len(refused) > 1 else ""
            raise EditError(
                "links", f"'{refused[0].name}' cannot take it: {refused[0].why}{more}; nothing was changed"
            )
        effect = _effect(session, project_id, changed, refused)
        label = f"{describe_change(wish.change)} in {len(changed)} links"
        stored_links.change_links(session, project_id, changed, label)
        return effect


def _changed(
    session: Session, project_id: int, wish: BulkRequest
) -> tuple[list[tuple[StoredLink, Link]], list[Refused]]:
    """The links with the change made, and those that cannot take it."""
    wanted = set(wish.links)
    found = stored_links.links(session, project_id, only=sorted(wanted))
    if len(found) < len(wanted):
        gone = sorted(wanted - {item.id for item in found})
        raise NotFoundError(f"link {gone[0]} is not in this project: it may have been removed")
    catalog = catalog_of(stored.project(session, project_id).house)
    pairs: list[tuple[StoredLink, Link]] = []
    refused: list[Refused] = []
    for item in found:
        try:
            edits = edits_for(item.link, wish.change, catalog)
            if not edits:
                raise EditError("links", f"it has nothing whose {wish.change.change} could be set")
            after = apply_edits(item.link, edits)
            check_names(after, catalog)
        except EditError as error:
            refused.append(Refused(id=item.id, name=item.link.name, why=str(error)))
        else:
            pairs.append((item, after))
    return pairs, refused


def _effect(
    session: Session, project_id: int, changed: list[tuple[StoredLink, Link]], refused: list[Refused]
) -> BulkOut:
    house = stored.project(session, project_id).house
    catalog = load_catalog()
    before = figures_of([item.link for item, _ in changed], catalog, house)
    after = figures_of([new for _, new in changed], catalog, house)
    verdicts = tuple(
        VerdictChange(id=item.id, name=item.link.name, before=old.verdict_text, after=new.verdict_text)
        for (item, _), old, new in zip(changed, before, after, strict=True)
        if old.verdict_text != new.verdict_text
    )
    return BulkOut(links=len(changed), refused=tuple(refused), verdicts=verdicts)
