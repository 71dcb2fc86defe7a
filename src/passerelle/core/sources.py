"""Where a figure is from. No figure travels without one of these."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from pydantic import BaseModel, ConfigDict, model_validator


class Frozen(BaseModel):
    """A record that never changes: same content, same hash, no unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Source(Frozen):
    """The body, document and clause or table that a figure is read from.

    An ``estimate`` has no clause behind it; its ``note`` says what it rests on. ``derived`` figures follow
    by arithmetic from figures that have a clause. A ``datasheet`` is a guarantee that a project wrote down.

    In data files a source is one line, ``body; document; clause; note``, or ``estimate; note``.

    >>> Source.model_validate("IEEE; 802.3-2022; Table 52-6").clause
    'Table 52-6'
    >>> Source.model_validate("estimate; field practice").estimate
    True
    """

    body: str
    document: str = ""
    clause: str = ""
    note: str = ""
    estimate: bool = False
    derived: bool = False

    @model_validator(mode="before")
    @classmethod
    def _read_line(cls, value: Any) -> Any:
        if not isinstance(value, str):
            return value
        body, _, rest = (part.strip() for part in value.partition(";"))
        if body in ("estimate", "derived", "datasheet"):
            if not rest:
                raise ValueError(f"it says what it rests on: '{body}; reason', not '{value}'")
            return {"body": body, "note": rest, "estimate": body == "estimate", "derived": body == "derived"}
        parts = [body, *(part.strip() for part in rest.split(";", 2))]
        if len(parts) not in (3, 4) or not all(parts[:3]):
            raise ValueError(f"a source reads 'body; document; clause' or 'estimate; reason', not '{value}'")
        return dict(zip(("body", "document", "clause", "note"), parts, strict=False))

    @property
    def text(self) -> str:
        """The source in one line for a person: ``IEEE 802.3-2022, Table 52-6``."""
        if not self.document:
            return f"{self.body}: {self.note}"
        document = self.document if self.document.startswith(self.body) else f"{self.body} {self.document}"
        return f"{document}, {self.clause}" + (f" ({self.note})" if self.note else "")


@lru_cache(maxsize=4096)
def estimated(note: str) -> Source:
    """A source for a figure that no clause stands behind."""
    return Source(body="estimate", note=note, estimate=True)


@lru_cache(maxsize=4096)
def derived(note: str) -> Source:
    """A source for a figure that follows by arithmetic from sourced ones, or from geometry."""
    return Source(body="derived", note=note, derived=True)
