"""What is wrong, as problem details (RFC 9457)."""

from __future__ import annotations

from pydantic import BaseModel

from passerelle.api.schemas.links import LinkOut


class FieldProblem(BaseModel):
    """One field that was not accepted, and why."""

    field: str
    message: str


class Problem(BaseModel):
    """An error as RFC 9457 problem details; ``retry_s`` where the same again helps, after so many seconds."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: tuple[FieldProblem, ...] = ()
    current: LinkOut | None = None
    retry_s: int | None = None
