"""The log and what happened, over the wire."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel

from passerelle.api.schemas.common import ProjectOut


class HistoryOut(BaseModel):
    """One line of the log of changes."""

    id: int
    at: datetime
    label: str
    link_id: int | None
    state: str
    who: str


class EventOut(BaseModel):
    """A reading that was written down: of which link, whether that is still there, and why it no longer counts."""

    key: str
    at: datetime | None
    who: str
    link: str
    link_id: int | None
    value_db: float
    wavelength_nm: int | None
    taken_on: date | None
    note: str
    withdrawn: str


class WalkOut(BaseModel):
    """What undo or redo did, the project after it, and the link to look at, while there is one."""

    entry: HistoryOut
    show_link: int | None
    project: ProjectOut
