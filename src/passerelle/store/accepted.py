"""Records of acceptance and their attachments: added and never changed; undo withdraws them."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from passerelle.core.events import Event
from passerelle.store import events
from passerelle.store.history import EventChange, next_revision, record
from passerelle.store.stored import NotFoundError, project_row
from passerelle.store.tables import AttachmentRow, AttachmentUseRow, EventRow, ReachedRow


def put_records(
    session: Session, project_id: int, happened: Sequence[Event], label: str, link_id: int | None = None
) -> None:
    """Write records down, as one entry of the history; raises NotFoundError without such a project."""
    project_row(session, project_id)
    next_revision(session, project_id)
    events.append(session, project_id, happened)
    record(session, project_id, label, link_id, [EventChange(link_id, event.key) for event in happened])


MOST_OF_PROJECT = 4 * 1024 * 1024 * 1024
"""Bytes of all files of one project."""
UPLOAD_LASTS = timedelta(days=1)
"""How long a file that no record names is kept."""


class TooManyFilesError(ValueError):
    """The files of a project would be more than is kept; the message says what to do."""


def keep_attachment(session: Session, body: bytes, media_type: str, project_id: int) -> str:
    """Keep a file of a project, each content once; answers with its hash.

    Raises:
        TooManyFilesError: the project's files would be more than 4 GiB.
    """
    name = hashlib.sha256(body).hexdigest()
    if session.get(AttachmentUseRow, (project_id, name)) is not None:
        return name
    if attachment_bytes(session, project_id) + len(body) > MOST_OF_PROJECT:
        raise TooManyFilesError(
            f"the files of this project would be more than {MOST_OF_PROJECT // 2**30} GiB: begin another project, "
            "or send smaller pictures"
        )
    if session.get(AttachmentRow, name) is None:
        session.add(AttachmentRow(hash=name, media_type=media_type, body=body))
        session.flush()
    session.add(AttachmentUseRow(project_id=project_id, hash=name, added_at=_now(session)))
    session.flush()
    return name


def attachment_bytes(session: Session, project_id: int) -> int:
    """Bytes of all files of a project."""
    query = select(func.sum(func.length(AttachmentRow.body))).join(
        AttachmentUseRow, AttachmentUseRow.hash == AttachmentRow.hash
    )
    return int(session.scalar(query.where(AttachmentUseRow.project_id == project_id)) or 0)


def copy_files(session: Session, source_id: int, target_id: int) -> None:
    """A project that was copied from another has its files too."""
    for name in session.scalars(select(AttachmentUseRow.hash).where(AttachmentUseRow.project_id == source_id)):
        session.add(AttachmentUseRow(project_id=target_id, hash=name, added_at=_now(session)))
    session.flush()


def forget_uploads(session: Session) -> None:
    """Drop the files that no record has named within a day, or whose project is gone for good."""
    limit = _now(session) - UPLOAD_LASTS
    old = session.scalars(select(AttachmentUseRow).where(AttachmentUseRow.added_at < limit)).all()
    if old:
        named = _named_files(session, {row.project_id for row in old})
        for row in old:
            if (row.project_id, row.hash) not in named:
                session.delete(row)
        session.flush()
    used = select(AttachmentUseRow.hash)
    session.execute(delete(AttachmentRow).where(AttachmentRow.hash.not_in(used)))


def _named_files(session: Session, project_ids: set[int]) -> set[tuple[int, str]]:
    """Project and hash of the files that records name, withdrawn ones included: what was recorded is never lost."""
    found = set()
    query = select(EventRow.project_id, EventRow.body).where(EventRow.project_id.in_(project_ids))
    for project_id, body in session.execute(query):
        found |= {(project_id, str(body[name])) for name in FILE_FIELDS if body.get(name)}
    return found


def _now(session: Session) -> datetime:
    return events.now(session).astimezone(UTC).replace(tzinfo=None)


FILE_FIELDS = ("file", "picture", "package")
"""Fields of records that name a file by its hash."""


def attachment(session: Session, name: str, project_id: int | None = None) -> tuple[bytes, str]:
    """A file by its hash, of one project where that is given, with its media type; raises NotFoundError."""
    row = session.get(AttachmentRow, name)
    if row is not None and project_id is not None and session.get(AttachmentUseRow, (project_id, name)) is None:
        row = None
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
