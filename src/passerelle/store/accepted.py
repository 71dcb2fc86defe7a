"""Records of acceptance and their attachments: added and never changed; undo withdraws them."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from passerelle.core.events import Event
from passerelle.store import events
from passerelle.store.history import EventChange, next_revision, record
from passerelle.store.stored import NotFoundError, project_row
from passerelle.store.tables import AttachmentRow, ReachedRow


def put_records(
    session: Session, project_id: int, happened: Sequence[Event], label: str, link_id: int | None = None
) -> None:
    """Write records down, as one entry of the history; raises NotFoundError without such a project."""
    project_row(session, project_id)
    next_revision(session, project_id)
    events.append(session, project_id, happened)
    record(session, project_id, label, link_id, [EventChange(link_id, event.key) for event in happened])


def keep_attachment(session: Session, body: bytes, media_type: str) -> str:
    """Keep a file, each content once; answers with its hash."""
    name = hashlib.sha256(body).hexdigest()
    if session.get(AttachmentRow, name) is None:
        session.add(AttachmentRow(hash=name, media_type=media_type, body=body))
        session.flush()
    return name


def attachment(session: Session, name: str) -> tuple[bytes, str]:
    """A file by its hash, with its media type; raises NotFoundError."""
    row = session.get(AttachmentRow, name)
    if row is None:
        raise NotFoundError(f"the attachment {name[:12]} is not here: it came in a package that was not read in")
    return row.body, row.media_type


def known_attachments(session: Session, names: Sequence[str]) -> set[str]:
    """Which of some files are here."""
    return set(session.scalars(select(AttachmentRow.hash).where(AttachmentRow.hash.in_(names))))


def is_reached(session: Session, project_id: int, address: str) -> bool:
    """Whether a person typed or confirmed an address in this project."""
    return session.get(ReachedRow, (project_id, address)) is not None


def reach(session: Session, project_id: int, address: str) -> None:
    """A person has typed or confirmed an address: it may be contacted."""
    if not is_reached(session, project_id, address):
        session.add(ReachedRow(project_id=project_id, address=address))
        session.flush()
