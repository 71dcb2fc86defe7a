"""What is asked: from where to where, how far, how fast, what is there already, and what counts most."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.copper_figures import Category
from passerelle.core.parts.array_cable import Wiring
from passerelle.core.parts.arrays import ArrayName
from passerelle.core.parts.piece import (
    CodingPolicy,
    FiberCandidates,
    Label,
    LengthM,
    RatesMbps,
    Spaces,
    Strands,
    Temperature,
    Water,
)
from passerelle.core.sources import Frozen

RankBy = Literal["school", "cost", "margin", "later speed", "weights"]
Medium = Literal["direct attach", "twisted pair", "multimode", "single-mode"]
MEDIA: tuple[Medium, ...] = ("direct attach", "twisted pair", "multimode", "single-mode")
RateMbps = Annotated[int, Field(gt=0, le=1_000_000)]
Weight = Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=10_000)]


class PortWish(Frozen):
    """One end: its port and what its box meets.

    An empty ``cage`` is any; empty ``rates_mbps`` are taken to hold the speed that is asked, one rate is fixed.
    ``splits`` is into how many slower ports it can be split, empty where nobody knows.
    ``free`` ports of this kind are left (None: not said, one is enough). ``uplink_mbps`` is what the box passes on.
    """

    cage: Label = ""
    rates_mbps: RatesMbps = ()
    splits: Annotated[tuple[Literal[2, 4, 8, 10], ...], Field(max_length=4)] = ()
    coding_policy: CodingPolicy = "any"
    own_above_mbps: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    make: Label = ""
    free: Count | None = None
    uplink_mbps: RateMbps | None = None
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    water: Water = "dry"
    dusty: bool = False


class Weights(Frozen):
    """How much each criterion counts when answers are ordered by weights, 0 to 5."""

    cost: Weight = 3
    margin: Weight = 1
    later: Weight = 2
    strands: Weight = 1
    tools: Weight = 1
    spares: Weight = 1


class Question(Frozen):
    """What is wanted. Lengths in m, rates in Mb/s; ``fiber`` is the glass that is there, empty for new cable.

    ``tolerance_percent`` is how far an estimated length may be off, either way: an answer holds over all of it.
    ``later_mbps`` is the speed wanted later on the same medium; ``rank_by`` what orders answers of one verdict.
    ``spaces`` is what the way passes: it chooses the cable, and rules copper out between buildings.
    ``trunk`` is an array trunk of that glass which is there, by its fibers, and ``trunk_wiring`` how it is wired.
    ``hosts`` is how many slower ports hang on one fast port that is split: each leg is a link of its own.
    ``category`` is twisted pair that is there, ``free_strands`` how many strands of the glass are free.
    ``at_hand`` names the applications of modules that can be used again, once for each.
    ``application``, ``grade`` (of new cable), ``media`` and ``price_limit`` narrow the answers; ``pick`` is the
    key of the one answer that a person chose.
    """

    from_place: Label
    to_place: Label
    length_m: LengthM | None = None
    rate_mbps: int
    near: PortWish = PortWish()
    far: PortWish = PortWish()
    strands: Strands = 2
    free_strands: Count | None = None
    trunk: ArrayName | Literal[""] = ""
    trunk_wiring: Wiring = "reversed"
    hosts: Annotated[int, Field(ge=1, le=10)] = 1
    fiber: FiberCandidates = ()
    category: Category | None = None
    at_hand: Annotated[tuple[Label, ...], Field(max_length=24)] = ()
    application: Label = ""
    grade: Label = ""
    pick: Annotated[str, Field(max_length=200)] = ""
    media: Annotated[tuple[Medium, ...], Field(max_length=4)] = MEDIA
    price_limit: Annotated[float, Field(ge=0, allow_inf_nan=False)] | None = None
    tolerance_percent: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.0
    later_mbps: RateMbps | None = None
    rank_by: RankBy = "school"
    weights: Weights = Weights()
    spaces: Spaces = ()
    outage_matters: bool = False

    @property
    def longest_m(self) -> float | None:
        """The longest that the length may be."""
        return None if self.length_m is None else self.length_m * (1 + self.tolerance_percent / 100)

    @property
    def spread(self) -> tuple[float, ...]:
        """Factors on the length at which an answer must hold: its longest first."""
        share = self.tolerance_percent / 100
        return (1 + share, 1 - share) if share and self.length_m is not None else (1.0,)
