"""House rules: what a project decides for itself."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from pydantic import Field

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.sources import Frozen


def _default(name: str) -> Callable[[], float]:
    return lambda: load_catalog().house_rules[name].default


class HouseRules(Frozen):
    """What a project decides; the reason for each default stands in the catalog.

    ``margin_db``: a low-light margin between zero and this reads marginal. ``offset_launch_from_m``: below
    this length in metres a missing offset-launch cord is a named departure instead of a failure.
    """

    margin_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = Field(
        default_factory=_default("margin_db")
    )
    offset_launch_from_m: Annotated[float, Field(ge=0, le=550, allow_inf_nan=False)] = Field(
        default_factory=_default("offset_launch_from_m")
    )
