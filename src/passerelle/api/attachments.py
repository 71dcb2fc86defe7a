"""Trace records and pictures, each kept once by its hash; events name them."""

from __future__ import annotations

from typing import Annotated

from fastapi import Body, Path, Request, status
from fastapi.responses import Response

from passerelle.api.routing import api_router
from passerelle.api.schemas.acceptance import AttachmentOut
from passerelle.api.state import database_of, writing
from passerelle.exchange.attachment import media_type_of
from passerelle.store.accepted import attachment, keep_attachment

router = api_router("attachments")


@router.post("/attachments", status_code=status.HTTP_201_CREATED)
def put_attachment(
    request: Request, body: Annotated[bytes, Body(media_type="application/octet-stream")]
) -> AttachmentOut:
    """Keep a trace record or a picture; the answer names it by its hash."""
    kind = media_type_of(body)
    with writing(request) as session:
        return AttachmentOut(hash=keep_attachment(session, body, kind), media_type=kind, size=len(body))


@router.get("/attachments/{name}", response_class=Response)
def get_attachment(request: Request, name: Annotated[str, Path(pattern="^[0-9a-f]{64}$")]) -> Response:
    """A file by its hash."""
    with database_of(request).read() as session:
        body, kind = attachment(session, name)
    return Response(body, media_type=kind, headers={"Cache-Control": "private, max-age=31536000, immutable"})
