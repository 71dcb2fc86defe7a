"""Whether a cable that is made with its ends reaches: its way with rises and leads, and what it is dressed with."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from passerelle.core.findings import Finding, Rule, Verdict
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.rules.by_length import FAIL, MARGINAL, Links, Pointed, Ranks, passing
from passerelle.core.sources import estimated
from passerelle.core.units import format_length

MADE_TOO_SHORT = Rule("made.too_short", "order")
MADE_NO_DRESSING = Rule("made.no_dressing", "order")
MADE_ON_A_GUESS = Rule("made.on_a_guess", "order")
DRESSING = estimated("an assembly is led round at each end: 0.3 m or 5 % of its way; plugged cable has its slack")
LEAST_DRESSING_M, DRESSING_SHARE = 0.3, 0.05


def dressing_m(way_m: float) -> float:
    """What a made assembly needs beyond its way in m, at both ends together.

    >>> dressing_m(2.0), dressing_m(30.0)
    (0.6, 3.0)
    """
    return 2 * max(LEAST_DRESSING_M, DRESSING_SHARE * way_m)


@dataclass(frozen=True)
class MadeLength:
    """A line that comes at its length, against the way that it must reach; ``dressing`` in m is needed beyond."""

    line: Standing
    column: int
    way_m: float
    dressing: float

    def rank(self, links: Links) -> Ranks:
        """A fail where it is shorter than its way, marginal where nothing is left to dress it."""
        length = links.each[:, self.column]
        short, bare = length < self.way_m - 1e-9, length < self.way_m + self.dressing - 1e-9
        known = links.known or self.line.traits.length_m is not None
        return np.where(short & known, FAIL, np.where(bare & known, MARGINAL, passing(links.count)))

    def firm(self, links: Links) -> Ranks:
        """What does not reach, whatever it is dressed with."""
        rank = self.rank(links)
        return np.where(rank == FAIL, rank, passing(links.count))

    def points(self, links: Links) -> list[Pointed]:
        """The line."""
        return [(self.line.position, self.rank(links))]

    def say(self, links: Links) -> list[Finding]:
        """How much is missing."""
        rank, length_m = int(self.rank(links)[0]), float(links.each[0, self.column])
        facts = {"length_m": length_m, "way_m": self.way_m}
        if rank == FAIL:
            return [
                MADE_TOO_SHORT.fail(
                    (self.line.id,),
                    f"This {self.line.word} of {format_length(length_m)} does not reach: its way is "
                    f"{format_length(self.way_m)}.",
                    f"{format_length(self.way_m - length_m)} are missing, and {format_length(self.dressing)} to "
                    "dress it. A cable that comes with its ends cannot be lengthened: take a longer one.",
                    DRESSING,
                ).of(**facts)
            ]
        if rank == MARGINAL:
            return [
                MADE_NO_DRESSING.caution(
                    (self.line.id,),
                    f"This {self.line.word} of {format_length(length_m)} barely reaches "
                    f"{format_length(self.way_m)}: {format_length(self.dressing)} more are usual to lead it round.",
                    "Measure the way with its rises and leads before it is pulled, or take the next length.",
                    DRESSING,
                    best=Verdict.MARGINAL,
                ).of(**facts)
            ]
        return []


def made_length_rules(chain: Chain, end_slack_m: float) -> list[MadeLength]:
    """A rule for each line whose way is known apart from its own length."""
    found = []
    for column, line in enumerate(chain.lines):
        if line.traits.way_m is None:
            continue
        assembly = line.traits.electrics is not None
        beyond = dressing_m(line.traits.way_m) if assembly else 2 * end_slack_m
        found.append(MadeLength(line, column, line.traits.way_m, beyond))
    return found


def made_on_a_guess(chain: Chain) -> list[Finding]:
    """A caution on each line that is still to come at its length and whose way is a guess."""
    return [
        MADE_ON_A_GUESS.caution(
            (line.id,),
            f"The way of this {line.word} is a guess, and it comes at its length.",
            "Measure the way with its rises and leads before it is ordered: it cannot be lengthened.",
            DRESSING,
            best=Verdict.MARGINAL,
        )
        for line in chain.lines
        if line.traits.way_guessed and line.piece.state in NEW_STATES
    ]
