"""Copper beside the answers: what twisted pair and direct-attach assemblies would do, named and not drawn."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources

from passerelle.core.sources import Frozen, Source
from passerelle.core.units import format_length

POTENTIAL = "Copper between buildings carries lightning and differences of ground potential: glass does not."


class Copper(Frozen):
    """An application on copper: rate in Mb/s, medium, reach in m, and what to know of it."""

    name: str
    rate_mbps: int
    medium: str
    reach_m: float
    note: str = ""
    source: Source


class CopperAnswer(Frozen):
    """One application on copper against a question: whether it reaches, and the one reason where it does not."""

    copper: Copper
    fits: bool
    why: str


@cache
def copper_rows() -> tuple[Copper, ...]:
    """All applications on copper that are named, slowest first."""
    path = resources.files("passerelle.core.catalog") / "data" / "copper.toml"
    return tuple(Copper.model_validate(row) for row in tomllib.loads(path.read_text(encoding="utf-8"))["copper"])


def copper_answers(
    rate_mbps: int, length_m: float | None, *, tolerance_percent: float = 0.0, between_buildings: bool = False
) -> tuple[CopperAnswer, ...]:
    """What copper of a rate would do over a length; an estimated one must be reached at its longest.

    Args:
        rate_mbps: the wanted rate in Mb/s.
        length_m: the way in m, None while it is not known: then nothing is said to fit.
        tolerance_percent: how far an estimated length may be off.
        between_buildings: whether the way leaves a building; copper is then ruled out.
    """
    found = []
    for row in copper_rows():
        if row.rate_mbps != rate_mbps:
            continue
        longest_m = None if length_m is None else length_m * (1 + tolerance_percent / 100)
        why = ""
        if between_buildings:
            why = POTENTIAL
        elif longest_m is None:
            why = "The length is not known."
        elif longest_m > row.reach_m:
            why = f"{format_length(longest_m - row.reach_m)} too long: it reaches {format_length(row.reach_m)}."
        found.append(CopperAnswer(copper=row, fits=not why, why=why or row.note))
    return tuple(found)
