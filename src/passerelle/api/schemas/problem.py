"""What is wrong, as problem details (RFC 9457)."""

from __future__ import annotations

from pydantic import BaseModel

from passerelle.api.schemas.links import LinkOut


class FieldProblem(BaseModel):
    """One field that was not accepted, and why.

    ``readings``: the plain ways to type what was ``typed``, where it is a number with a comma. The same request
    with the only one, or with the one that the person chose, is accepted.
    """

    field: str
    message: str
    typed: str = ""
    readings: tuple[str, ...] = ()


class Problem(BaseModel):
    """An error as RFC 9457 problem details; ``retry_s`` where the same again helps, after so many seconds."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: tuple[FieldProblem, ...] = ()
    current: LinkOut | None = None
    retry_s: int | None = None
