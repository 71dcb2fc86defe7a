"""How far outdoor cable that is not listed for buildings may go inside."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.rules.by_length import FAIL, MARGINAL, Links, Pointed, Ranks, passing
from passerelle.core.rules.spaces import DEFER, JACKET_INDOORS
from passerelle.core.sources import estimated
from passerelle.core.units import format_length

JACKET_TOO_FAR_INSIDE = Rule("jacket.too_far_inside", "match")
MOST_INSIDE_M = 50 * 0.3048
"""From the point of entrance: 50 ft by the usual code."""
USUAL_CODE = estimated("the usual code, recalled: NFPA 70, Article 770, 50 ft from the point of entrance")
_WAY_ON = (
    "Use cable listed for indoors, or splice to it at the entry; metal conduit may move the point of entrance."
)


def inside_rules(chain: Chain, findings: Sequence[Finding]) -> list[UnlistedInside]:
    """A rule for each line of unlisted outdoor cable that lies inside with all of its length.

    Of one that also lies outside the plan does not say how much is inside: it keeps its caution.
    """
    told = {finding.at[0]: finding for finding in findings if finding.code == JACKET_INDOORS.code}
    return [
        UnlistedInside(line, column, told[line.id])
        for column, line in enumerate(chain.lines)
        if line.id in told and set(line.traits.spaces) == {"indoors"}
    ]


@dataclass(frozen=True)
class UnlistedInside:
    """Unlisted outdoor cable inside a building: up to where the usual code lets it go it has its caution."""

    line: Standing
    column: int
    caution: Finding

    def rank(self, links: Links) -> Ranks:
        """A fail beyond the length that the usual code allows; else what its caution leaves."""
        too_far = links.each[:, self.column] > MOST_INSIDE_M + 1e-9
        return np.where(too_far, FAIL, np.full(links.count, MARGINAL))

    def firm(self, links: Links) -> Ranks:
        """Nothing: the code is recalled."""
        return passing(links.count)

    def points(self, links: Links) -> list[Pointed]:
        """The line."""
        return [(self.line.position, self.rank(links))]

    def say(self, links: Links) -> list[Finding]:
        """How much of it is inside, where that is too much, else the caution."""
        if self.rank(links)[0] != FAIL:
            return [self.caution]
        length_m = float(links.each[0, self.column])
        return [
            JACKET_TOO_FAR_INSIDE.fail(
                (self.line.id,),
                f"{format_length(length_m)} of outdoor cable not listed for indoors run inside the building: "
                f"the usual code allows {format_length(MOST_INSIDE_M)} (50 ft) from the point of entrance.",
                f"It carries fire along. {_WAY_ON} {DEFER}",
                USUAL_CODE,
            ).of(inside_m=length_m, at_most_m=MOST_INSIDE_M)
        ]
