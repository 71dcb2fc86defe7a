"""What several rooms say: numbers of rows, a project, a verdict that changes."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query
from pydantic import BaseModel, Field

from passerelle.core.house import HouseRules

RowNumber = Annotated[int, Field(ge=1, le=2**63 - 1)]


Seen = Annotated[int, Query(ge=1, le=2**63 - 1, description="what was seen: a revision, or an entry of the log")]


RowId = Annotated[int, Path(ge=1, le=2**63 - 1, description="number of a row in the database")]


class EntryMark(BaseModel):
    """What undo or redo would take: its number, to be said with the wish, its words, and who made it."""

    entry: int
    label: str
    who: str


class ProjectOut(BaseModel):
    """A project, with what undo and redo would do. ``house_revision`` is said when the house rules are changed."""

    id: int
    revision: int
    name: str
    house_rules: HouseRules
    house_revision: int
    undo: EntryMark | None
    redo: EntryMark | None


class VerdictChange(BaseModel):
    """A link whose verdict a change of the house rules would move."""

    id: int
    name: str
    before: str
    after: str


Place = Annotated[str, Field(min_length=1, max_length=120)]
