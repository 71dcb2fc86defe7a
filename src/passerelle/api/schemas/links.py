"""Links over the wire: the list, one link, its changes, the question for a new one."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, model_validator

from passerelle.api.schemas.common import EntryMark, Place, RowNumber, VerdictChange
from passerelle.core.findings import Severity, Verdict
from passerelle.core.link.bulk import BulkChange
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit
from passerelle.core.parts.piece import LengthM
from passerelle.core.review import Review
from passerelle.core.selection.wish import Question, RateMbps
from passerelle.core.stages import Stage


class PieceMark(BaseModel):
    """A piece in the miniature of a chain: what it is, and the worst finding on it."""

    kind: str
    severity: Severity | None
    fiber: tuple[str, ...]


class LinkRowOut(BaseModel):
    """One row of the list of links; ``acceptance`` is how its readings stand, empty where nothing was read."""

    id: int
    name: str
    from_place: str
    to_place: str
    applications: tuple[str, ...]
    length_m: float | None
    verdict: Verdict
    verdict_text: str
    margin_db: float | None
    house_margin_db: float
    stage: Stage
    acceptance: str
    pieces: tuple[PieceMark, ...]


class PortClash(BaseModel):
    """A link with a port that others of its project use too: it fails, and ``what`` says which."""

    link: int
    what: str


class LinkPage(BaseModel):
    """Some rows of the list as it is at a revision of the project; ``count`` is how many there are in all.

    A row is judged by itself; ``clashes`` are all links of the project that share a port with another.
    """

    revision: int
    count: int
    clashes: tuple[PortClash, ...]
    rows: tuple[LinkRowOut, ...]


class LinkNews(BaseModel):
    """What became of the list since a revision that was known: its numbers in order, and the rows that changed.

    ``clashes`` are all links that share a port with another now.
    """

    revision: int
    clashes: tuple[PortClash, ...]
    numbers: tuple[int, ...]
    rows: tuple[LinkRowOut, ...]


class LinkOut(BaseModel):
    """A link with its review beside the others of its project, and its row in the list.

    ``clashes`` as there; None after a change that left the ports as they are.
    """

    id: int
    project_id: int
    revision: int
    link: Link
    review: Review
    row: LinkRowOut
    clashes: tuple[PortClash, ...] | None
    verdict_text: str
    stage: Stage
    undo: EntryMark | None
    redo: EntryMark | None


class EditRequest(BaseModel):
    """Edits made from one revision of a link; all are made, or none."""

    revision: int
    edits: Annotated[tuple[Edit, ...], Field(min_length=1, max_length=100)]
    label: Annotated[str, Field(max_length=300)] = ""


class PreviewRequest(BaseModel):
    """Edits to try without storing anything."""

    edits: Annotated[tuple[Edit, ...], Field(min_length=1, max_length=100)]


class PreviewOut(BaseModel):
    """The link as the edits would make it, with its review."""

    link: Link
    review: Review
    verdict_text: str


class NewLink(Question):
    """The few answers from which a complete chain is made.

    ``rate_mbps`` asks for the best answer, or for the one that was picked. An ``application`` without a rate is
    made as it is asked for, whatever its verdict. ``instead_of`` is the link whose chain the answer replaces, as it
    was at ``revision``: its name, number and place in the list stay.
    """

    from_place: Place
    to_place: Place
    rate_mbps: RateMbps | None = None  # type: ignore[assignment]
    instead_of: RowNumber | None = None
    revision: int | None = None

    @model_validator(mode="after")
    def _speed(self) -> NewLink:
        if not self.application and self.rate_mbps is None:
            raise ValueError("give a speed (rate_mbps), or the application itself")
        return self


class LikeLink(BaseModel):
    """Two places, and the length where it is another, for a chain like one that exists."""

    from_place: Place
    to_place: Place
    length_m: LengthM | None = None


class WhatIfOut(BaseModel):
    """A link as it would be: the edits that make it so, its figures, and how far the same chain would pass."""

    edits: tuple[Edit, ...]
    review: Review
    verdict_text: str
    passes_to_m: float | None


class BulkRequest(BaseModel):
    """One change for several links; with ``leave_out`` those that cannot take it stay as they are."""

    links: Annotated[tuple[RowNumber, ...], Field(min_length=1, max_length=20_000)]
    change: BulkChange
    leave_out: bool = False


class Refused(BaseModel):
    """A link that cannot take a change, and why."""

    id: int
    name: str
    why: str


class BulkOut(BaseModel):
    """What a change of several links does, or did. ``refused`` are those of them that cannot take it."""

    links: int
    refused: tuple[Refused, ...] = ()
    verdicts: tuple[VerdictChange, ...]
