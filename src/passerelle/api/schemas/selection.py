"""Requirements in tables, and prices, over the wire."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from passerelle.core.catalog.prices import PriceLine
from passerelle.core.selection.wish import RankBy
from passerelle.core.sources import Source
from passerelle.exchange.long_text import LongText, MostCharacters


class RequirementsRequest(BaseModel):
    """A CSV table of requirements, which of its lines to answer, and how its columns are matched."""

    text: Annotated[LongText, MostCharacters(5_000_000)]
    first: Annotated[int, Field(ge=0, le=20_000)] = 0
    count: Annotated[int, Field(ge=1, le=200)] = 25
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"
    rank_by: RankBy = "school"


class TakeRequirements(BaseModel):
    """The lines of a table of requirements whose best answers become links."""

    text: Annotated[LongText, MostCharacters(5_000_000)]
    lines: Annotated[tuple[Annotated[int, Field(ge=2, le=20_002)], ...], Field(min_length=1, max_length=2000)]
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"
    rank_by: RankBy = "school"


class PricesOut(BaseModel):
    """The price list of a project, in its own currency."""

    currency: str
    lines: tuple[PriceLine, ...]
    source: Source


class PriceCsv(BaseModel):
    """A table of prices, item and price; and the currency, empty to keep it."""

    text: Annotated[str, Field(max_length=1_000_000)]
    currency: Annotated[str, Field(max_length=12)] = ""
