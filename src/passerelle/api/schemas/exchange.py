"""Plan files and tables of links over the wire."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel

from passerelle.api.schemas.common import ProjectOut
from passerelle.exchange.long_text import LongText, MostCharacters
from passerelle.exchange.table_in import BadLine


class PlanRequest(BaseModel):
    """The text of a plan file."""

    text: Annotated[LongText, MostCharacters(128 * 1024 * 1024)]


class ImportRequest(BaseModel):
    """The text of a CSV table, which column holds which field, and the unit of bare lengths."""

    text: Annotated[LongText, MostCharacters(20_000_000)]
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"


class ImportPreview(BaseModel):
    """What a table holds; ``names`` and ``verdicts`` are those of the links that can be made.

    ``unknown`` are the columns that no field was matched to, ``fields`` what they can be assigned to.
    """

    columns: tuple[str, ...]
    mapping: dict[str, str]
    unknown: tuple[str, ...]
    fields: tuple[str, ...]
    problems: tuple[BadLine, ...]
    names: tuple[str, ...]
    verdicts: tuple[str, ...]


class ImportOut(BaseModel):
    """How many links were added, how many of them have several ways on the plan, and the project after it."""

    added: int
    undecided: int = 0
    project: ProjectOut
