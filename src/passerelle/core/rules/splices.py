"""Splices on the way of a long run that nobody drew: how many are counted, and on what that rests."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass

import numpy as np

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.rules.by_length import Links, Pointed, Ranks, passing
from passerelle.core.sources import estimated
from passerelle.core.units import format_length

SPLICES_ASSUMED = Rule("splices.assumed", "match")
REELS = estimated("a usual reel of outdoor cable holds 4 to 6 km")


def splices_assumed(length_m: float, reel_m: float) -> int:
    """How many splices a run has at least when it is made of reels of a length, both in m.

    >>> [splices_assumed(length, 6000) for length in (6000, 6001, 12_000, 34_000)]
    [0, 1, 1, 5]
    """
    if reel_m <= 0:
        return 0
    return max(0, int(np.ceil(length_m / reel_m - 1e-9)) - 1)


@dataclass(frozen=True)
class AssumedSplices:
    """A run whose splices nobody counted: it is told how many are assumed. What they decide the budget says."""

    line: Standing
    column: int
    reel_m: float

    def rank(self, links: Links) -> Ranks:
        """No objection."""
        return passing(links.count)

    def firm(self, links: Links) -> Ranks:
        """No objection."""
        return passing(links.count)

    def points(self, _links: Links) -> list[Pointed]:
        """Nothing."""
        return []

    def say(self, links: Links) -> list[Finding]:
        """How many, where there are any."""
        length_m = float(links.each[0, self.column])
        count = splices_assumed(length_m, self.reel_m)
        if not count:
            return []
        return [
            SPLICES_ASSUMED.note(
                (self.line.id,),
                f"{count} splice{'s are' if count > 1 else ' is'} assumed on this {self.line.word} of "
                f"{format_length(length_m)}: nobody said how many it has.",
                f"One for each {format_length(self.reel_m)} of reel that ends on the way, at its worst loss and "
                "against too little light only. Enter how many there are, or measure the run.",
                REELS,
            ).of(splices=count, length_m=length_m)
        ]


def splice_rules(chain: Chain, reel_m: float, counted: Container[str]) -> list[AssumedSplices]:
    """A rule for each run on which splices are assumed: those ``counted`` in the budget, none that was measured."""
    return [AssumedSplices(line, column, reel_m) for column, line in enumerate(chain.lines) if line.id in counted]
