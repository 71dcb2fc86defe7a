"""A link without glass: twisted pair with its plug-in modules, or a direct-attach assembly."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import cast

import numpy as np

from passerelle.core.catalog.copper_figures import (
    CATEGORIES,
    AssemblyRow,
    Category,
    CopperFigures,
    Made,
    copper_figures,
)
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule, Verdict
from passerelle.core.link.compose import Chain, Joiner, Standing
from passerelle.core.rules.by_length import (
    FAIL,
    MARGINAL,
    PASS,
    UNKNOWN,
    Bools,
    Links,
    Pointed,
    Ranks,
    if_firm,
    longest,
    passing,
)
from passerelle.core.rules.coding import PRACTICE, SURVEY, coding_findings
from passerelle.core.rules.port import SPEED_ENDS_DIFFER, Plugged, below_wanted, listed, plugged
from passerelle.core.sources import Source
from passerelle.core.units import format_length, format_rate

COPPER_TOO_LONG = Rule("copper.too_long", "budget")
REACH_UNKNOWN = Rule("reach.unknown", "budget")
COPPER_CONDITIONAL = Rule("copper.conditional", "match")
COPPER_REACHES = Rule("copper.reaches", "match")
COPPER_FIXED_LONG = Rule("copper.fixed_long", "match")
SPEED_SPLIT_PORT = Rule("speed.split_port", "match")
COPPER_CATEGORY = Rule("copper.category", "match")
COPPER_CONNECTIONS = Rule("copper.connections", "match")
COPPER_HEAT = Rule("copper.heat", "match")
COPPER_MEETS_GLASS = Rule("copper.meets_glass", "match")

CHANNEL = Source(body="TIA", document="TIA-568.2-D", clause="channel and permanent link")
MOST_CONNECTIONS, MOST_CONNECTIONS_CAT8 = 4, 2
MOST_FIXED_M = 90.0


@dataclass(frozen=True)
class CopperReach:
    """How far a link without glass goes: the reach in m and its source, and up to where no condition holds."""

    chain: Chain
    name: str
    reach_m: float
    source: Source
    sure_m: float | None = None
    sure_source: Source | None = None
    condition: str = ""
    habit: str = ""
    sold_to_m: float | None = None

    def rank(self, links: Links) -> Ranks:
        """Fail beyond the reach, unknown where longer ones are sold, marginal where a condition holds."""
        if not links.known:
            return passing(links.count)
        total = links.total
        sold = (total > self.reach_m) & (total <= (self.sold_to_m or 0.0))
        sure_m = self.reach_m if self.sure_m is None else self.sure_m
        beyond = np.where(sold, UNKNOWN, FAIL)
        return np.where(total > self.reach_m, beyond, np.where(total > sure_m, MARGINAL, passing(links.count)))

    def firm(self, links: Links) -> Ranks:
        """What a clause or a datasheet says."""
        return if_firm(self.rank(links), self.source)

    def on_estimate(self, links: Links) -> Bools:
        """Whether a length that is kept rests on an estimate."""
        short = self.sure_source is not None and self.sure_source.estimate
        rank = self.rank(links)
        within = (rank == PASS) & short & links.known
        return np.asarray((rank != UNKNOWN) & (within | self.source.estimate))

    def points(self, links: Links) -> list[Pointed]:
        """The longest line."""
        return [(longest(self.chain, links), self.rank(links))]

    def say(self, links: Links) -> list[Finding]:
        """Too long, sold at that length, under a condition, or how much is left."""
        if not links.known:
            return []
        rank, total_m = int(self.rank(links)[0]), float(links.total[0])
        at = (self.chain.places[int(longest(self.chain, links)[0])].id,)
        if rank == FAIL:
            found = self._too_long(at, total_m)
        elif rank == UNKNOWN:
            found = self._sold(at, total_m)
        else:
            found = self._conditional(at) if rank == MARGINAL else self._reaches(at, total_m)
        return [found.of(length_m=total_m, reach_m=self.reach_m, sure_m=self.sure_m)]

    def _too_long(self, at: tuple[str, ...], total_m: float) -> Finding:
        return COPPER_TOO_LONG.fail(
            at,
            f"{self.name} reaches {format_length(self.reach_m)} here; this is {format_length(total_m)}.",
            f"{format_length(total_m - self.reach_m)} too long. {self.habit}".strip(),
            self.source,
        )

    def _sold(self, at: tuple[str, ...], total_m: float) -> Finding:
        return REACH_UNKNOWN.undecided(
            at,
            f"Assemblies of {format_length(total_m)} are sold; only its datasheet says that one works.",
            f"Write down the length that its datasheet guarantees. {self.name} is taken to work up to "
            f"{format_length(self.reach_m)} without one.",
            self.source,
        )

    def _conditional(self, at: tuple[str, ...]) -> Finding:
        return COPPER_CONDITIONAL.caution(
            at,
            f"Beyond {format_length(self.sure_m or 0.0)} this works only under a condition.",
            f"{self.condition} {self.habit}".strip(),
            *((self.sure_source,) if self.sure_source else ()),
            self.source,
            best=Verdict.MARGINAL,
        )

    def _reaches(self, at: tuple[str, ...], total_m: float) -> Finding:
        return COPPER_REACHES.note(
            at,
            f"{self.name} reaches {format_length(self.reach_m)}; this is {format_length(total_m)}.",
            f"{format_length(self.reach_m - total_m)} are left.",
            self.source,
        )


@dataclass(frozen=True)
class FixedLong:
    """More fixed cable than a permanent link of the cabling standard has."""

    chain: Chain

    @property
    def _columns(self) -> list[int]:
        return [number for number, line in enumerate(self.chain.lines) if line.traits.fixed]

    def rank(self, links: Links) -> Ranks:
        """Marginal beyond 90 m."""
        fixed_m = links.each[:, self._columns].sum(axis=1)
        return np.where(fixed_m > MOST_FIXED_M, MARGINAL, passing(links.count))

    def firm(self, links: Links) -> Ranks:
        """The same: the standard says so."""
        return self.rank(links)

    def points(self, links: Links) -> list[Pointed]:
        """All fixed cable."""
        return [(self.chain.lines[column].position, self.rank(links)) for column in self._columns]

    def say(self, links: Links) -> list[Finding]:
        """How much there is."""
        if self.rank(links)[0] != MARGINAL:
            return []
        return [
            COPPER_FIXED_LONG.caution(
                tuple(self.chain.lines[column].id for column in self._columns),
                f"{format_length(float(links.each[0, self._columns].sum()))} of fixed cable; a permanent link ends "
                f"at {format_length(MOST_FIXED_M)}.",
                "The rest of the 100 m is for cords, which lose more.",
                CHANNEL,
                best=Verdict.MARGINAL,
            ).of(fixed_m=float(links.each[0, self._columns].sum()), at_most_m=MOST_FIXED_M)
        ]


@dataclass
class CopperFound:
    """What the rules say of a kind of link without glass: its application, its rate in Mb/s, how far that goes."""

    name: str = ""
    rate_mbps: int | None = None
    reach: CopperReach | None = None
    findings: list[Finding] = field(default_factory=list)
    by_length: list[CopperReach | FixedLong] = field(default_factory=list)


def copper_found(chain: Chain, catalog: Catalog) -> CopperFound:
    """All that is said of a link without glass that runs from port to port; nothing in it is a loss in dB."""
    found = CopperFound()
    assembly = next((line for line in chain.copper if line.traits.electrics), None)
    ends = tuple(plugged(chain, catalog))
    if assembly:
        _assembly(chain, assembly, ends, found)
    else:
        _twisted(chain, ends, found)
    found.by_length = [*found.by_length, *([found.reach] if found.reach else [])]
    return found


def _assembly(chain: Chain, line: Standing, ends: tuple[Plugged, ...], found: CopperFound) -> None:
    electrics = line.traits.electrics
    assert electrics is not None
    rate, legs, made = electrics.rates_mbps[0], electrics.legs, cast(Made, electrics.made)
    forms = frozenset({line.left.shape, line.right.shape})
    row = copper_figures().assembly_row(rate, made, forms, legs)
    found.name = row.name if row else f"{format_rate(rate)} direct attach"
    found.rate_mbps = rate
    found.findings += below_wanted(chain, (line.id,), rate)
    if legs > 1:
        fast = next((one for one in ends if one.piece.part.face(one.edge).shape.startswith("Q")), ends[0])
        found.findings.append(_split(fast, legs, rate))
    given_m = electrics.reach_m
    reach_m = given_m if given_m is not None else row.reach_m if row else None
    if reach_m is None:
        found.findings.append(
            REACH_UNKNOWN.undecided(
                (line.id,),
                f"No usual length is known for a {made} assembly of this kind.",
                "Write down the length that its datasheet guarantees.",
            )
        )
        return
    usual = row if given_m is None else None
    found.reach = CopperReach(
        chain,
        found.name,
        reach_m,
        usual.source if usual else SURVEY,
        usual.sure_m if usual else None,
        row.sure_source if row else None,
        row.note if row else "",
        sold_to_m=_sold_to(usual),
    )


def _sold_to(row: AssemblyRow | None) -> float | None:
    return row.sold_to_m if row else None


def _split(fast: Plugged, legs: int, rate_mbps: int) -> Finding:
    return SPEED_SPLIT_PORT.note(
        fast.at,
        f"Set the fast port to {legs} × {format_rate(rate_mbps)}: all of it changes at once.",
        "A port that is not split lights none of the legs; the legs that are not used are spare.",
        PRACTICE,
    ).of(legs=legs, rate_mbps=rate_mbps)


def _twisted(chain: Chain, ends: tuple[Plugged, ...], found: CopperFound) -> None:
    figures = copper_figures()
    sides = [_rates(one) for one in ends]
    if not all(sides):
        return
    common = sides[0] & sides[1]
    at = (ends[0].port.id, ends[1].port.id)
    if not common:
        found.findings.append(
            SPEED_ENDS_DIFFER.fail(
                at,
                f"One end offers {listed(sides[0])}, the other {listed(sides[1])}.",
                "Twisted pair negotiates, but only a speed that both ends have.",
                SURVEY,
            ).of(left_mbps=max(sides[0]), right_mbps=max(sides[1]))
        )
        return
    wanted = chain.link.wanted_rate_mbps
    rate = wanted if wanted in common else max(common)
    found.rate_mbps = rate
    found.findings += below_wanted(chain, at, rate)
    for one in ends:
        if one.offered and len(one.offered) > 1:
            found.findings += coding_findings(one.socket, one.at, one.coding, rate)
        found.findings += _heat(one, rate, figures)
    _reach(chain, found, ends, rate, figures)


def _rates(one: Plugged) -> frozenset[int]:
    """The rates in Mb/s that a port has with what is in it."""
    known = frozenset(one.socket.rates_mbps)
    return known if one.offered is None else one.offered & known


def _reach(chain: Chain, found: CopperFound, ends: tuple[Plugged, ...], rate: int, figures: CopperFigures) -> None:
    lines = [line for line in chain.copper if line.traits.category]
    poorest = min((cast(Category, line.traits.category) for line in lines), key=CATEGORIES.index)
    row = figures.twisted_row(rate, poorest)
    habit = figures.habit_of(rate, poorest)
    if row is None:
        found.name = f"{format_rate(rate)} twisted pair"
        found.findings.append(
            COPPER_CATEGORY.fail(
                tuple(line.id for line in lines if line.traits.category == poorest),
                f"No clause runs {format_rate(rate)} over {poorest}.",
                habit or "A better category is needed from end to end: the poorest piece decides.",
            ).of(rate_mbps=rate, category=poorest)
        )
        return
    reach_m, source = row.reach_m, row.source
    found.name = row.name
    for one in ends:
        own_m, own_source, missing = _module_reach(one, rate, figures)
        found.findings += missing
        if own_m is not None and own_m <= reach_m:
            reach_m, source = own_m, own_source or source
    found.findings += _connections(chain, rate)
    found.by_length.append(FixedLong(chain))
    found.reach = CopperReach(chain, row.name, reach_m, source, row.sure_m, row.sure_source, row.note, habit)


def _module_reach(
    one: Plugged, rate: int, figures: CopperFigures
) -> tuple[float | None, Source | None, list[Finding]]:
    """How far a plug-in module reaches in m by its datasheet or its form, or that it is not known."""
    electrics = one.piece.traits.electrics
    if electrics is None:
        return None, None, []
    usual = figures.jack_row(electrics.form, rate)
    if electrics.reach_m is not None:
        return electrics.reach_m, SURVEY, []
    if usual:
        return usual.reach_m, usual.source, []
    missing = REACH_UNKNOWN.undecided(
        (one.piece.id,),
        f"It is not known how far this module reaches at {format_rate(rate)}.",
        "Plug-in modules do not reach as far as a native port: its datasheet says how far.",
    ).of(rate_mbps=rate)
    return None, None, [missing]


def _connections(chain: Chain, rate_mbps: int) -> Iterator[Finding]:
    """More connections than the channel of the cabling standard has."""
    outlets = tuple(p.id for p in chain.places if isinstance(p, Joiner) and p.mating.takes == "contacts")
    most = MOST_CONNECTIONS_CAT8 if rate_mbps > 10_000 else MOST_CONNECTIONS
    if len(outlets) > most:
        yield COPPER_CONNECTIONS.caution(
            outlets,
            f"{len(outlets)} connections stand in this channel, {most} are allowed for.",
            "Each reflects and couples; past that number the channel was never measured by the standard.",
            CHANNEL,
            best=Verdict.MARGINAL,
        ).of(connections=len(outlets), allowed=most)


def _heat(one: Plugged, rate_mbps: int, figures: CopperFigures) -> list[Finding]:
    electrics = one.piece.traits.electrics
    if electrics is None:
        return []
    usual = figures.jack_row(electrics.form, rate_mbps)
    power_w = electrics.power_w if electrics.power_w is not None else usual.power_w if usual else None
    given = figures.power_of_cage(electrics.form)
    if power_w is None or given is None or power_w <= given.power_w:
        return []
    return [
        COPPER_HEAT.caution(
            one.at,
            f"This module draws {power_w:g} W, its cage is made for {given.power_w:g} W.",
            "Ask the box how many it feeds and cools; until it has said so leave the cages beside it empty.",
            given.source,
            *((usual.source,) if usual and electrics.power_w is None else ()),
            best=Verdict.MARGINAL,
        ).of(draws_w=power_w, cage_w=given.power_w)
    ]


def mixed(chain: Chain) -> Finding:
    """Fiber pieces and copper in one chain."""
    strange = tuple(
        place.id
        for place in chain.places
        if (place.traits.realm if isinstance(place, Standing) else place.mating.realm) == "light"
    )
    return COPPER_MEETS_GLASS.fail(
        strange,
        "Fiber pieces and copper stand in one chain.",
        "Light does not cross into copper: a converter stands between them, and makes two links of it.",
    )
