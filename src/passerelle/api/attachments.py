"""Trace records and pictures, each content kept once by its hash; events of a project name them."""

from __future__ import annotations

from typing import Annotated

from fastapi import Body, Path, Request, status
from fastapi.responses import Response

from passerelle.api.routing import api_router
from passerelle.api.schemas.acceptance import AttachmentOut
from passerelle.api.schemas.common import RowId
from passerelle.api.state import database_of, writing
from passerelle.exchange.attachment import media_type_of
from passerelle.store import projects as stored
from passerelle.store.accepted import attachment, keep_attachment

router = api_router("attachments")


@router.post("/projects/{project_id}/attachments", status_code=status.HTTP_201_CREATED)
def put_attachment(
    request: Request, project_id: RowId, body: Annotated[bytes, Body(media_type="application/octet-stream")]
) -> AttachmentOut:
    """Keep a trace record or a picture; the answer names it by its hash. It ends after a day unless a record names
    it.
    """
    kind = media_type_of(body)
    with writing(request) as session:
        stored.project(session, project_id)
        name = keep_attachment(session, body, kind, project_id)
    return AttachmentOut(hash=name, media_type=kind, size=len(body))


@router.get("/projects/{project_id}/attachments/{name}", response_class=Response)
def get_attachment(
    request: Request, project_id: RowId, name: Annotated[str, Path(pattern="^[0-9a-f]{64}$")]
) -> Response:
    """A file of a project by its hash."""
    with database_of(request).read() as session:
        body, kind = attachment(session, name, project_id)
    return Response(body, media_type=kind, headers={"Cache-Control": "private, no-cache"})
