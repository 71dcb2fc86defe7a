"""Figures of links without glass: twisted pair, plug-in twisted-pair modules, direct-attach assemblies."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from typing import Literal, get_args

from pydantic import model_validator

from passerelle.core.sources import Frozen, Source

Category = Literal["Category 5e", "Category 6", "Category 6A", "Category 8"]
CATEGORIES: tuple[Category, ...] = get_args(Category)
Made = Literal["passive copper", "active copper", "active optical"]


class _Reach(Frozen):
    """How far a rate goes in m; beyond ``sure_m`` it depends on what ``note`` says."""

    name: str
    rate_mbps: int
    reach_m: float
    sure_m: float | None = None
    note: str = ""
    source: Source
    sure_source: Source | None = None

    @model_validator(mode="after")
    def _sourced(self) -> _Reach:
        if (self.sure_m is None) != (self.sure_source is None):
            raise ValueError(f"{self.name}: sure_m and sure_source stand together")
        return self


class TwistedRow(_Reach):
    """A rate over a category and all better ones, from native ports, at most ``reach_m`` from port to port."""

    category: Category


class AssemblyRow(_Reach):
    """A direct-attach assembly: its make, the form of its plugs, and of its legs' plugs where it has several.

    Longer ones than ``reach_m`` are sold up to ``sold_to_m``: whether one works its datasheet says, nothing else.
    """

    made: Made
    form: str
    leg_form: str = ""
    legs: Literal[1, 2, 4, 8] = 1
    sold_to_m: float | None = None

    @property
    def forms(self) -> frozenset[str]:
        """The forms of its two plugs."""
        return frozenset({self.form, self.leg_form or self.form})


class Habit(Frozen):
    """What people do with a rate over a category beyond the clause. It informs and never decides."""

    rate_mbps: int
    category: Category
    words: str


class JackRow(Frozen):
    """A plug-in twisted-pair module of a form: rate in Mb/s, reach in m and power in W as they usually are."""

    form: str
    rate_mbps: int
    reach_m: float
    power_w: float
    source: Source


class CagePower(Frozen):
    """What a cage of a form gives a module, in W, where the box says nothing else."""

    form: str
    power_w: float
    source: Source


class SoldLengths(Frozen):
    """Lengths in m that assemblies are sold in."""

    values_m: tuple[float, ...]
    source: Source


class CopperFigures(Frozen):
    """All figures of links without glass."""

    twisted: tuple[TwistedRow, ...]
    habit: tuple[Habit, ...]
    jack: tuple[JackRow, ...]
    cage_power: tuple[CagePower, ...]
    assembly: tuple[AssemblyRow, ...]
    assembly_lengths: SoldLengths

    def twisted_row(self, rate_mbps: int, category: Category) -> TwistedRow | None:
        """The row that holds for a rate over a category: the farthest of those for it and the ones below it."""
        rank = CATEGORIES.index(category)
        rows = [r for r in self.twisted if r.rate_mbps == rate_mbps and CATEGORIES.index(r.category) <= rank]
        return max(rows, key=lambda row: (row.reach_m, CATEGORIES.index(row.category)), default=None)

    def habit_of(self, rate_mbps: int, category: Category) -> str:
        """What habit says of a rate over a category; may be empty."""
        words = (h.words for h in self.habit if h.rate_mbps == rate_mbps and h.category == category)
        return next(words, "")

    def jack_row(self, form: str, rate_mbps: int) -> JackRow | None:
        """The usual plug-in module of a form at a rate."""
        return next((row for row in self.jack if row.form == form and row.rate_mbps == rate_mbps), None)

    def power_of_cage(self, form: str) -> CagePower | None:
        """What a cage of this form gives."""
        return next((row for row in self.cage_power if row.form == form), None)

    def assembly_row(self, rate_mbps: int, made: Made, forms: frozenset[str], legs: int) -> AssemblyRow | None:
        """The usual assembly of a rate, a make and the forms of its plugs."""
        return next(
            (
                row
                for row in self.assembly
                if (row.rate_mbps, row.made, row.forms, row.legs) == (rate_mbps, made, forms, legs)
            ),
            None,
        )


@cache
def copper_figures() -> CopperFigures:
    """The figures of links without glass, read once.

    >>> copper_figures().twisted_row(10_000, "Category 8").reach_m
    100.0
    """
    path = resources.files("passerelle.core.catalog") / "data" / "copper.toml"
    return CopperFigures.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))
