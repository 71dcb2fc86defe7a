"""House rules: what a project decides for itself."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.sources import Frozen


def _default_margin_db() -> float:
    return load_catalog().house_margin.default


class HouseRules(Frozen):
    """``margin_db``: a low-light margin between zero and this reads marginal."""

    margin_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = Field(default_factory=_default_margin_db)
