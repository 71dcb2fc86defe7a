"""The tables. A link's chain is one document: it is edited, judged and stored as a whole."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, DateTime, Float, ForeignKey, Index, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Base of all tables."""

    type_annotation_map = {dict[str, Any]: JSON, list[dict[str, Any]]: JSON}  # noqa: RUF012


SCHEMA = 12
"""The number of the shape of bodies and entries that this program writes: that of its plan files."""


class ProjectRow(Base):
    """A project: its name and house rules. ``key`` is its own for good. ``revision`` grows with every change, undo
    and redo included; ``plant_revision`` and ``house_revision`` are what it was at the newest change of the
    plant and of the house rules, ``log_end`` the number of the newest entry of its log. A ``removed`` one is out of
    sight until it is brought back.
    """

    __tablename__ = "project"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    house_rules: Mapped[dict[str, Any]]
    revision: Mapped[int] = mapped_column(default=1)
    plant_revision: Mapped[int] = mapped_column(default=1, server_default="1")
    removed: Mapped[bool] = mapped_column(default=False, server_default="0")
    house_revision: Mapped[int] = mapped_column(default=1, server_default="1")
    key: Mapped[str] = mapped_column(String(32))
    schema: Mapped[int] = mapped_column(default=SCHEMA)
    log_end: Mapped[int] = mapped_column(default=0, server_default="0")

    __table_args__ = (Index("uq_project_key", "key", unique=True),)


class LinkRow(Base):
    """A link of a project. ``revision`` is the project's revision at the link's newest change.

    Numbers are never given twice, so that undo can bring a link back under its own. ``key`` is that of the body,
    where its readings are not: they are events.
    """

    __tablename__ = "link"
    __table_args__ = (Index("uq_link_key", "key", unique=True), {"sqlite_autoincrement": True})

    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    revision: Mapped[int] = mapped_column(default=1)
    body: Mapped[dict[str, Any]]
    key: Mapped[str] = mapped_column(String(32))
    schema: Mapped[int] = mapped_column(default=SCHEMA)


class ListedRow(Base):
    """A link's row in the list, as JSON without its number: good for one revision of the link under one of the
    house rules, as the program of this hash judged it. It can be computed again at any time.
    """

    __tablename__ = "listed"

    link_id: Mapped[int] = mapped_column(ForeignKey("link.id", ondelete="CASCADE"), primary_key=True)
    revision: Mapped[int]
    house_revision: Mapped[int]
    judged_by: Mapped[str] = mapped_column(String(32))
    body: Mapped[bytes] = mapped_column(LargeBinary)


class PlantRow(Base):
    """A row of a project's plant: a place, a way, a cable, a shared part. ``row`` is its id in its shelf,
    ``revision`` the project's at its newest change; rows of a shelf stand in the order of ``position``.
    """

    __tablename__ = "plant_row"
    __table_args__ = (UniqueConstraint("project_id", "shelf", "row", name="uq_plant_row"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"))
    shelf: Mapped[str] = mapped_column(String(12))
    row: Mapped[str] = mapped_column(String(40))
    position: Mapped[float] = mapped_column(Float)
    revision: Mapped[int]
    schema: Mapped[int] = mapped_column(default=SCHEMA)
    body: Mapped[dict[str, Any]]


class TakenRow(Base):
    """What a link takes of a shared part: one path of it, in one band of wavelengths (empty: in all).

    No two links take the same: the database refuses it.
    """

    __tablename__ = "taken"
    __table_args__ = (Index("ix_taken_link", "link_id"),)

    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    part: Mapped[str] = mapped_column(String(40), primary_key=True)
    path: Mapped[int] = mapped_column(primary_key=True)
    band: Mapped[str] = mapped_column(String(40), primary_key=True, default="")
    link_id: Mapped[int] = mapped_column(ForeignKey("link.id", ondelete="CASCADE"))


class PortUseRow(Base):
    """A port that a link uses, by its place and label in lower case; ``leg`` as ``core.link.port_use`` has it.

    It follows from the links, and two may name the same one: that is told, not refused.
    """

    __tablename__ = "port_use"
    __table_args__ = (Index("ix_port_use_port", "project_id", "place", "label", "link_id"),)

    link_id: Mapped[int] = mapped_column(ForeignKey("link.id", ondelete="CASCADE"), primary_key=True)
    place: Mapped[str] = mapped_column(String(120), primary_key=True)
    label: Mapped[str] = mapped_column(String(120), primary_key=True)
    leg: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"))


class EventRow(Base):
    """What happened in the world. Rows are added and never changed or taken away, which triggers see to.

    ``link`` is the key of the link that it concerns, also after that link is gone.
    """

    __tablename__ = "event"
    __table_args__ = (
        Index("uq_event_key", "key", unique=True),
        Index("ix_event_project", "project_id", "link"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id"))
    key: Mapped[str] = mapped_column(String(32))
    kind: Mapped[str] = mapped_column(String(20))
    link: Mapped[str] = mapped_column(String(32), default="")
    schema: Mapped[int] = mapped_column(default=SCHEMA)
    body: Mapped[dict[str, Any]]


class AttachmentRow(Base):
    """A trace record or a picture that events name by its hash; each content once."""

    __tablename__ = "attachment"

    hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    media_type: Mapped[str] = mapped_column(String(60))
    body: Mapped[bytes] = mapped_column(LargeBinary)


class AttachmentUseRow(Base):
    """A file that was brought into a project, and when; a file that no project has is nobody's."""

    __tablename__ = "attachment_use"

    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    hash: Mapped[str] = mapped_column(ForeignKey("attachment.hash", ondelete="CASCADE"), primary_key=True)
    added_at: Mapped[datetime] = mapped_column(DateTime)


class WebSessionRow(Base):
    """A session of a browser that gave the passphrase, or a device that once did; ``token`` is the SHA-256 of what
    the browser holds, ``gate`` that of the passphrase's hash, so that a new passphrase ends them all.
    """

    __tablename__ = "web_session"

    token: Mapped[str] = mapped_column(String(64), primary_key=True)
    kind: Mapped[str] = mapped_column(String(8))
    gate: Mapped[str] = mapped_column(String(64))
    opened_at: Mapped[datetime] = mapped_column(DateTime)
    used_at: Mapped[datetime] = mapped_column(DateTime)


class ReachedRow(Base):
    """An address of an instrument that a person has typed or confirmed in a project: no other one is contacted."""

    __tablename__ = "reached"

    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    address: Mapped[str] = mapped_column(String(200), primary_key=True)


class EntryRow(Base):
    """One change of a project: what it did to which rows, forwards and backwards, and who says to have made it.

    What was before and after is named by the hash of its record.

    ``state`` is ``done``, ``undone`` (can be redone) or ``dropped`` (a newer change took its place).
    """

    __tablename__ = "history"
    __table_args__ = (Index("ix_history_project_state", "project_id", "state"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"))
    at: Mapped[datetime] = mapped_column(DateTime)
    label: Mapped[str] = mapped_column(String(300))
    link_id: Mapped[int | None]
    state: Mapped[str] = mapped_column(String(8))
    changes: Mapped[list[dict[str, Any]]]
    who: Mapped[str] = mapped_column(String(60), default="", server_default="")
    schema: Mapped[int] = mapped_column(default=SCHEMA)


class RecordRow(Base):
    """A whole record that the history names by its hash: JSON, compressed, each content once."""

    __tablename__ = "record"

    hash: Mapped[str] = mapped_column(String(32), primary_key=True)
    body: Mapped[bytes] = mapped_column(LargeBinary)
