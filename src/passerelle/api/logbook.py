"""The logbook: entries of links and of the project are added, corrected by later ones, and found."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Query, Request, status
from sqlalchemy.orm import Session

from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import (
    NoteWish,
    TurnUpOut,
)
from passerelle.api.state import database_of, writing
from passerelle.api.turning import of_link, turnup_out
from passerelle.core.errors import TurnUpError
from passerelle.core.turned_up import Logged
from passerelle.core.turnup.logbook import LogLine, log_of, searched
from passerelle.exchange.attachment import AttachmentError
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store.accepted import attachment, put_records

router = api_router("turn-up")


@router.post("/links/{link_id}/turnup/log", status_code=status.HTTP_201_CREATED)
def note_on_link(request: Request, link_id: RowId, wish: NoteWish) -> TurnUpOut:
    """Add an entry to the logbook of a link."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        record = _note(session, item.project_id, wish, of_link(item, events.stamp(session)))
        put_records(session, item.project_id, [record], f"{item.link.name}: {wish.words}"[:300], item.id)
        return turnup_out(request, session, item)


@router.post("/projects/{project_id}/log", status_code=status.HTTP_201_CREATED)
def note_on_project(request: Request, project_id: RowId, wish: NoteWish) -> list[LogLine]:
    """Add an entry to the logbook that concerns no single link."""
    with writing(request) as session:
        stamp = events.stamp(session)
        record = _note(session, project_id, wish, {"key": stamp.key(), "at": stamp.at, "who": stamp.who})
        put_records(session, project_id, [record], f"logbook: {wish.words}"[:300])
        return log_of(events.of_project(session, project_id))[:500]


def _note(session: Session, project_id: int, wish: NoteWish, of: dict[str, Any]) -> Logged:
    if wish.corrects:
        known = {event.key for event in events.of_project(session, project_id)}
        if wish.corrects not in known:
            raise TurnUpError("corrects", "the entry that it corrects is not in this logbook: reload the page")
    if wish.picture:
        _, kind = attachment(session, wish.picture, project_id)
        if not kind.startswith("image/"):
            raise AttachmentError("this file is no picture: send a PNG or JPEG")
    return Logged(**wish.model_dump(), **of)


@router.get("/projects/{project_id}/log")
def get_log(request: Request, project_id: RowId, q: Annotated[str, Query(max_length=200)] = "") -> list[LogLine]:
    """The logbook, newest first; ``q`` finds labels, places, serial numbers, persons, days and words."""
    with database_of(request).read() as session:
        happened = events.of_project(session, project_id)
        links = [item.link for item in stored_links.links(session, project_id)]
    lines = log_of(happened)
    names = {link.key: link.name for link in links}
    labels = {link.key: " ".join(piece.label for piece in link.elements) for link in links}
    named = [line.model_copy(update={"link_name": names.get(line.link, line.link_name)}) for line in lines]
    return searched(named, q, labels)[:500]
