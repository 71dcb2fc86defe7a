"""The tables. A link's chain is one document: it is edited, judged and stored as a whole."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, DateTime, ForeignKey, Index, LargeBinary, String, text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Base of all tables."""

    type_annotation_map = {dict[str, Any]: JSON, list[dict[str, Any]]: JSON}  # noqa: RUF012


class ProjectRow(Base):
    """A project: its name, house rules and plant. ``revision`` grows with every change, undo and redo included;
    ``plant_revision`` and ``house_revision`` are what it was at the newest change of the plant and of the house
    rules. A ``removed`` one is out of sight until it is brought back.
    """

    __tablename__ = "project"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    house_rules: Mapped[dict[str, Any]]
    revision: Mapped[int] = mapped_column(default=1)
    plant: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    plant_revision: Mapped[int] = mapped_column(default=1, server_default="1")
    removed: Mapped[bool] = mapped_column(default=False, server_default="0")
    house_revision: Mapped[int] = mapped_column(default=1, server_default="1")


RIDING = """instr(replace(body, '"cable":""', ''), '"cable":"') > 0"""
"""Whether a link has a run on a cable of the plan, in its compact JSON: few have, and an index holds those."""


class LinkRow(Base):
    """A link of a project. ``revision`` is the project's revision at the link's newest change.

    Numbers are never given twice, so that undo can bring a link back under its own.
    """

    __tablename__ = "link"
    __table_args__ = (
        Index("ix_link_riding", "project_id", sqlite_where=text(RIDING)),
        {"sqlite_autoincrement": True},
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    revision: Mapped[int] = mapped_column(default=1)
    body: Mapped[dict[str, Any]]


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


class RecordRow(Base):
    """A whole record that the history names by its hash: JSON, compressed, each content once."""

    __tablename__ = "record"

    hash: Mapped[str] = mapped_column(String(32), primary_key=True)
    body: Mapped[bytes] = mapped_column(LargeBinary)
