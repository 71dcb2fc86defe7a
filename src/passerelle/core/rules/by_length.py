"""Rules whose answer depends on lengths: a rank for each of n links of one kind, and words for one of them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from passerelle.core.findings import Finding, Verdict
from passerelle.core.link.compose import Chain
from passerelle.core.sources import Source

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ranks = NDArray[np.int64]
DAMAGE, FAIL, UNKNOWN, MARGINAL, PASS = (verdict.rank for verdict in Verdict)


class Sums(NamedTuple):
    """Losses of n links in one direction, in dB, each of shape (n,).

    ``guessed`` is how much of the worst loss is estimated, ``certain`` how much of the least rests on no estimate.
    ``assumed`` is how much of the worst are splices that nobody drew in cable that is there.
    """

    worst: Floats
    expected: Floats
    least: Floats
    guessed: Floats
    certain: Floats
    assumed: Floats = np.zeros(1)


@dataclass(frozen=True, slots=True)
class Links:
    """n links of one kind: the length of each line in m, shape (n, lines), unknown ones zero, and their sums.

    ``known``: no length is missing. ``losses`` holds the sums of each way of the light; ``margins`` and ``guessed``
    have a row for each limit, shape (limits, n): the margin in dB, and whether it rests on an estimate.
    """

    each: Floats
    total: Floats
    known: bool
    losses: tuple[Sums, ...] = ()
    margins: Floats = field(default_factory=lambda: np.empty((0, 0)))
    guessed: Bools = field(default_factory=lambda: np.empty((0, 0), dtype=bool))

    @property
    def count(self) -> int:
        """How many links."""
        return len(self.total)


Pointed = tuple[Ranks | int, Ranks]
"""A position in the chain, the same in all links or one for each, and the rank there of each link."""


class ByLength(Protocol):
    """A rule over lengths. ``say`` words what ``rank`` decided; it decides nothing itself."""

    def rank(self, links: Links) -> Ranks:
        """The best verdict, as its rank, that each link can have by this rule, shape (n,)."""

    def firm(self, links: Links) -> Ranks:
        """As ``rank``, of what stands without any estimate."""

    def points(self, links: Links) -> list[Pointed]:
        """The places in the chain that it points at, each with its rank there."""

    def say(self, links: Links) -> list[Finding]:
        """What it says of a single link."""


def passing(count: int) -> Ranks:
    """No objection to any of n links."""
    return np.full(count, PASS)


def if_firm(ranks: Ranks, *sources: Source) -> Ranks:
    """The ranks where no source is an estimate, else no objection."""
    return passing(len(ranks)) if any(source.estimate for source in sources) else ranks


def longest(chain: Chain, links: Links) -> Ranks:
    """The position in the chain of the longest line of each link, shape (n,)."""
    positions: Ranks = np.array([line.position for line in chain.lines], dtype=np.int64)
    return np.asarray(positions[links.each.argmax(axis=1)])
