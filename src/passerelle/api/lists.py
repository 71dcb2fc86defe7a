"""What the screens offer to choose from, as the core has it; the screens' own lists are made from this."""

from __future__ import annotations

from typing import Any, get_args

from passerelle.core.catalog.copper_figures import copper_figures
from passerelle.core.catalog.records import SPACES, Jacket
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.parts.piece import LOSS_CLASS_WORDS, LengthBy, State
from passerelle.core.plant.records import (
    CableEnd,
    Grouping,
    HeadEnd,
    PlaceKind,
    PlacePower,
    PowerClassName,
    Surroundings,
    WayKind,
)
from passerelle.core.selection.wish import Medium


def screen_lists() -> dict[str, list[Any]]:
    """Every list by its name in the screens; a pair is a value and what it means to a person."""
    return {
        "SPACES": list(SPACES),
        "JACKETS": list(get_args(Jacket)),
        "RATES": rates_mbps(),
        "MEDIA": list(get_args(Medium)),
        "LOSS_CLASSES": [list(pair) for pair in LOSS_CLASS_WORDS.items()],
        "PLACE_KINDS": list(get_args(PlaceKind)),
        "WAY_KINDS": list(get_args(WayKind)),
        "SURROUNDINGS": list(get_args(Surroundings)),
        "PLACE_POWER": list(get_args(PlacePower)),
        "STATES": list(get_args(State)),
        "LENGTH_BY": list(get_args(LengthBy)),
        "CABLE_ENDS": list(get_args(CableEnd)),
        "HEAD_ENDS": list(get_args(HeadEnd)),
        "GROUPINGS": list(get_args(Grouping)),
        "POWER_CLASSES": list(get_args(PowerClassName)),
    }


def rates_mbps() -> list[int]:
    """The speeds in Mb/s of all applications, of glass and of twisted pair, the slowest first."""
    optical = {application.rate_mbps for application in load_catalog().applications.values()}
    return sorted(optical | {row.rate_mbps for row in copper_figures().twisted})
