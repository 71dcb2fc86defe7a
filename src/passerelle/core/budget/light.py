"""From margins to findings: too dark, too bright, thin."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np

from passerelle.core.budget.power import Figure, Limit, LimitOf
from passerelle.core.budget.ways import Way
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.compose import Chain
from passerelle.core.rules.by_length import (
    DAMAGE,
    FAIL,
    MARGINAL,
    PASS,
    UNKNOWN,
    Bools,
    Floats,
    Links,
    Pointed,
    Ranks,
    Sums,
    passing,
)
from passerelle.core.units import format_db

MARGIN_TYPICAL = Rule("margin.typical", "budget")
LOSS_OVER_LIMIT = Rule("loss.over_limit", "budget")
LIGHT_TOO_BRIGHT = Rule("light.too_bright", "budget")
LIGHT_DAMAGE = Rule("light.damage", "budget")
MARGIN_THIN = Rule("margin.thin", "budget")
LANE_MAXIMUM = Rule("light.lane_maximum", "budget")
LIGHT_UNDECIDED = Rule("light.undecided", "budget")
LOSS_BY_SPLICES = Rule("loss.by_splices", "budget")

INVISIBLE = "Laser light is invisible: never look into a fiber or a port."


class Sides(NamedTuple):
    """The tightest limit of a link against too little light and against too much, None where there is none."""

    dark: Limit | None = None
    bright: Limit | None = None


def house_margin_db(chain: Chain, catalog: Catalog, house: HouseRules) -> float:
    """The house margin in dB that holds for a chain: of plugs alone, in multimode indoors, or of everything else.

    Cords count as indoors unless they say otherwise; fixed cable that does not say what it passes through, or what
    glass it is, makes it everything else.
    """
    plugged = all(joint.kind not in ("splice", "open") for joint in chain.joints)
    indoors = all(
        set(line.traits.spaces) == {"indoors"} or not (line.traits.spaces or line.traits.fixed)
        for line in chain.glass
    )
    multimode = bool(chain.glass) and all(
        line.traits.grades and all(catalog.fiber(grade).family == "multimode" for grade in line.traits.grades)
        for line in chain.glass
    )
    if plugged and indoors and multimode:
        return min(house.plugged_margin_db, house.margin_db)
    return house.margin_db


@dataclass(frozen=True)
class Light:
    """All limits of both ways, each at the module that receives; links carry a row of margins for each limit.

    ``house_margin_db`` is the house margin that holds for this kind of chain.
    """

    ways: tuple[Way, ...]
    house: HouseRules
    house_margin_db: float

    @cached_property
    def limits(self) -> tuple[tuple[LimitOf, int], ...]:
        """Each limit with the number of its way; a link that is the same both ways has them once."""
        ways = self.ways[:1] if self._same else self.ways
        return tuple((limit, number) for number, way in enumerate(ways) for limit in way.limits)

    @property
    def _same(self) -> bool:
        return len(self.ways) == 2 and self.ways[0].limits is self.ways[1].limits

    def reckon(self, losses: tuple[Sums, ...]) -> tuple[Floats, Bools]:
        """Margins in dB, and whether each rests on an estimate, both of shape (limits, n).

        A damage level that is kept rests on nothing of its own: the receiver's maximum lies below it, and is told.
        """
        count = len(losses[0].worst) if losses else 0
        if not self.limits:
            return np.empty((0, count)), np.empty((0, count), dtype=bool)
        worst, _, least, guessed, certain = (np.stack([losses[way][k] for _, way in self.limits]) for k in range(5))
        allowed = np.array([limit.allowed_db for limit, _ in self.limits])[:, None]
        recalled = np.array([limit.recalled for limit, _ in self.limits])[:, None]
        low = self._low[:, None]
        margins = np.round(allowed + np.where(low, -worst, least), 6)
        kept = margins >= 0
        dark = np.where(kept, guessed > 0, margins + guessed >= 0)
        bright = np.where(kept, allowed + certain < 0, allowed + worst >= 0)
        return margins, (np.where(low, dark, bright) | recalled) & ~(self._harm[:, None] & kept)

    @cached_property
    def _low(self) -> Bools:
        return np.array([limit.low_light for limit, _ in self.limits], dtype=bool)

    @cached_property
    def _open(self) -> Bools:
        return np.array([limit.open for limit, _ in self.limits], dtype=bool)

    @cached_property
    def _harm(self) -> Bools:
        return np.array([limit.name == "damage" for limit, _ in self.limits], dtype=bool)

    @cached_property
    def _breaks(self) -> Ranks:
        """The rank that each limit leaves where it is broken, shape (limits, 1)."""
        ranks = {"damage": DAMAGE}
        return np.array([[UNKNOWN if limit.open else ranks.get(limit.name, FAIL)] for limit, _ in self.limits])

    def rank(self, links: Links) -> Ranks:
        """Damage, fail, or marginal where the tightest margin is inside the house's."""
        if not self.limits:
            return passing(links.count)
        return np.asarray(np.minimum(self._ranks(links).min(axis=0), self._thin(links)))

    def firm(self, links: Links) -> Ranks:
        """What is broken whatever the estimates are."""
        if not self.limits:
            return passing(links.count)
        return np.asarray(np.where(links.guessed, PASS, self._ranks(links)).min(axis=0))

    def margin(self, links: Links) -> Floats:
        """The deciding margin in dB: the worst broken one, else the tightest against too little light, else NaN."""
        if not self.limits:
            return np.full(links.count, np.nan)
        counted = self._low[:, None] | ((links.margins < 0) & ~self._open[:, None])
        counted &= ~(self._undecided(links) & (links.margins < 0))
        margin = np.where(counted, links.margins, np.inf).min(axis=0)
        return np.where(np.isinf(margin), np.nan, margin)

    def on_estimate(self, links: Links) -> Bools:
        """Whether a limit that is kept rests on an estimate."""
        return np.asarray(links.guessed.any(axis=0)) if self.limits else np.zeros(links.count, dtype=bool)

    def points(self, links: Links) -> list[Pointed]:
        """Each module by the limits of the light that it receives, all of them where the margin is thin."""
        if not self.limits:
            return []
        ranks, thin = self._ranks(links), self._thin(links)
        numbers = np.array([way for _, way in self.limits])
        found: list[Pointed] = []
        for number, way in enumerate(self.ways):
            here = ranks[numbers == (0 if self._same else number)]
            found.append((way.receiver.position, np.minimum(here.min(axis=0, initial=PASS), thin)))
        return found

    def say(self, links: Links) -> list[Finding]:
        """One finding for each kind of trouble with light, at the receivers that have it."""
        typical = self.house.profile == "typical field"
        if not typical and self.rank(links)[0] == PASS:
            return []
        told = self.told(links)
        broken = [(limit, at) for limit, at in told if limit.margin_db < 0 and limit.decides]
        found = [
            *self._lane_maximum(links, told),
            *self._to_be_measured(links, told),
            *_spliced([pair for pair in told if pair[0].by_splices]),
        ]
        for say, group in (
            (_too_dark, [(m, at) for m, at in broken if m.low_light]),
            (_burnt, [(m, at) for m, at in broken if m.name == "damage"]),
            (_too_bright, [(m, at) for m, at in broken if not m.low_light and m.name != "damage"]),
        ):
            if group:
                found.append(_with_facts(_guessed(say(*_tightest(group)), group), _tightest(group)[0]))
        low = [(limit, at) for limit, at in told if limit.low_light]
        if low and self._thin(links)[0] == MARGINAL:
            thin = _thin(*_tightest(low), self.house_margin_db)
            found.append(_with_facts(thin, _tightest(low)[0]))
        if low and typical:
            found.append(_typical(low))
        return found

    def _lane_maximum(self, links: Links, told: list[tuple[Limit, str]]) -> list[Finding]:
        """The modules whose lanes may be brighter by their clause than the slower receiver takes."""
        found = []
        for number, way in enumerate(self.ways):
            here = [limit for limit, at in told if limit.open and limit.margin_db < 0 and at == way.receiver.id]
            if here and not any(limit.two_sided for limit in here):
                at_most = way.receives.rx_power_dbm.overload + float(links.losses[number].least[0])
                found.append(_lane_maximum(way, at_most, here))
        return found

    def _to_be_measured(self, links: Links, told: list[tuple[Limit, str]]) -> list[Finding]:
        """What the loss of the channel must be read as, where paper leaves both sides of the light open."""
        here = [(limit, at) for limit, at in told if limit.two_sided and limit.margin_db < 0]
        if not here:
            return []
        numbers = (
            [0] if self._same else [n for n, way in enumerate(self.ways) if way.receiver.id in {a for _, a in here}]
        )
        windows = [self.window_db(number) for number in numbers]
        at = tuple(dict.fromkeys(at for _, at in here))
        return [_to_be_measured(_tightest(here)[0], at, max(w[0] for w in windows), min(w[1] for w in windows))]

    def told(self, links: Links) -> list[tuple[Limit, str]]:
        """All limits of a single link, each with the module that receives."""
        open_ones, by_splices = self._undecided(links), self._by_splices(links)
        once = [
            limit.told(
                links.losses[way],
                float(links.margins[row, 0]),
                guessed=bool(links.guessed[row, 0]),
                two_sided=bool(open_ones[row, 0] and not by_splices[row, 0]),
                by_splices=bool(by_splices[row, 0]),
            )
            for row, (limit, way) in enumerate(self.limits)
        ]
        if self._same:
            return [(limit, way.receiver.id) for way in self.ways for limit in once]
        return [(one, self.ways[way].receiver.id) for one, (_, way) in zip(once, self.limits, strict=True)]

    def deciding(self, links: Links, told: list[tuple[Limit, str]]) -> Limit | None:
        """Of the limits of a single link the one that its margin is from."""
        margin = float(self.margin(links)[0])
        counted = [limit for limit, _ in told if (limit.low_light or limit.margin_db < 0) and limit.decides]
        return next((limit for limit in counted if limit.margin_db == margin), None)

    def sides(self, told: list[tuple[Limit, str]]) -> Sides:
        """Of the limits of a single link the tightest against too little light, and against too much."""
        low = [limit for limit, _ in told if limit.low_light]
        high = [limit for limit, _ in told if not limit.low_light]
        return Sides(*(min(side, key=lambda limit: limit.margin_db, default=None) for side in (low, high)))

    def _ranks(self, links: Links) -> Ranks:
        """The rank by each limit, shape (limits, n)."""
        broken = np.where(self._undecided(links), UNKNOWN, self._breaks)
        return np.where(links.margins < 0, broken, PASS)

    def _undecided(self, links: Links) -> Bools:
        """The limits that paper leaves open, shape (limits, n): where nobody knows the loss of a way well enough.

        The least loss would let too much light through, the worst one would not, and they lie farther apart than
        what the receiver takes: no attenuator keeps both on paper, a reading decides. A damage level stays broken.
        """
        found = np.zeros(links.margins.shape, dtype=bool)
        numbers = np.array([way for _, way in self.limits])
        for number in set(numbers.tolist()):
            least_db, most_db = self.window_db(number)
            loss = links.losses[number]
            spread = loss.worst - loss.least
            two_sided = (loss.least < least_db) & (loss.worst >= least_db) & (loss.least <= most_db)
            rows = (numbers == number) & ~self._harm
            found[rows] = two_sided & (least_db <= most_db) & (spread > most_db - least_db)
        return found | self._by_splices(links)

    def _by_splices(self, links: Links) -> Bools:
        """The limits that splices alone break which nobody drew, in cable that is there, shape (limits, n)."""
        found = np.zeros(links.margins.shape, dtype=bool)
        for row, (limit, way) in enumerate(self.limits):
            if limit.low_light:
                margin, assumed = links.margins[row], links.losses[way].assumed
                found[row] = (margin < 0) & (margin + assumed >= 0)
        return found

    def window_db(self, number: int) -> tuple[float, float]:
        """What the channel of a way must lose in dB so that its light is neither too much nor too little."""
        allowed = [(limit, limit.allowed_db) for limit, way in self.limits if way == number]
        least = max(
            (-db for limit, db in allowed if not limit.low_light and limit.name != "damage"), default=-np.inf
        )
        most = min((db for limit, db in allowed if limit.low_light), default=np.inf)
        return float(least), float(most)

    def _thin(self, links: Links) -> Ranks:
        """Marginal where all low-light limits are kept and one of them by less than the house's margin."""
        low = links.margins[self._low].min(axis=0, initial=np.inf)
        return np.where((low >= 0) & (low < self.house_margin_db), MARGINAL, PASS)


def _typical(low: list[tuple[Limit, str]]) -> Finding:
    """The margin with typical values instead of worst ones: it informs and never decides."""
    limit, at = min(low, key=lambda pair: pair[0].typical_margin_db)
    return MARGIN_TYPICAL.note(
        (at,),
        f"With typical field values the margin is {format_db(limit.typical_margin_db)}.",
        f"On the standard's maxima, which decide, it is {format_db(limit.margin_db)} against the {limit.name}.",
    ).of(limit=limit.name, margin_db=limit.margin_db)


def _with_facts(finding: Finding, limit: Limit) -> Finding:
    return finding.of(limit=limit.name, application=limit.application, margin_db=limit.margin_db)


def _guessed(finding: Finding, broken: list[tuple[Limit, str]]) -> Finding:
    """The finding rests on an estimate when every limit that it stands for does."""
    return finding.model_copy(update={"on_estimate": all(limit.on_estimate for limit, _ in broken)})


def _tightest(found: list[tuple[Limit, str]]) -> tuple[Limit, tuple[str, ...]]:
    limit = min((limit for limit, _ in found), key=lambda m: m.margin_db)
    return limit, tuple(dict.fromkeys(at for _, at in found))


def _sum(limit: Limit) -> str:
    return " ".join(_signed(figure) for figure in limit.figures) + f" = {format_db(limit.margin_db, 2)}"


def _signed(figure: Figure) -> str:
    sign = "−" if figure.value < 0 else "+"
    return f"{sign} {abs(figure.value):.2f} {figure.unit} ({figure.label})"


def _sources(limit: Limit) -> tuple[Figure, ...]:
    return tuple(f for f in limit.figures if not f.source.derived)


def _too_dark(limit: Limit, at: tuple[str, ...]) -> Finding:
    return LOSS_OVER_LIMIT.fail(
        at,
        f"Too much loss on paper: {format_db(limit.margin_db)} against the {limit.name}.",
        _sum(limit) + ". Worst values of every part; a measured loss may tell a better story.",
        *(f.source for f in _sources(limit)),
    )


def _too_bright(limit: Limit, at: tuple[str, ...]) -> Finding:
    return LIGHT_TOO_BRIGHT.fail(
        at,
        f"Too much light for the receiver: {format_db(limit.margin_db)} against the {limit.name}.",
        _sum(limit) + ". A strong transmitter over a short link blinds the receiver.",
        *(f.source for f in _sources(limit)),
    ).model_copy(update={"caution": INVISIBLE})


def _dbm(value: float) -> str:
    return f"{value:g} dBm".replace("-", "−")


def _lane_maximum(way: Way, at_most_dbm: float, broken: list[Limit]) -> Finding:
    sends, rx = way.sends, way.receives.rx_power_dbm
    survives = f" and survives {_dbm(rx.damage)}" if rx.damage is not None else ""
    return (
        LANE_MAXIMUM.undecided(
            (way.sender.id,),
            f"It is not known how bright a lane of this module is: its clause lets it send "
            f"{_dbm(sends.tx_power_dbm.max)}, "
            f"{way.receives.name} takes {_dbm(rx.overload)}{survives}.",
            "Read the lane maximum in the module's datasheet and enter it here: up to "
            f"{_dbm(round(at_most_dbm, 2))} it is fine on this link. A module that is sold for {way.receives.name} "
            "on its legs keeps it.",
            *dict.fromkeys(
                figure.source for limit in broken for figure in limit.figures if not figure.source.derived
            ),
        )
        .of(application=way.receives.name, at_most_dbm=round(at_most_dbm, 2))
        .model_copy(update={"caution": INVISIBLE})
    )


def _to_be_measured(limit: Limit, at: tuple[str, ...], least_db: float, most_db: float) -> Finding:
    return (
        LIGHT_UNDECIDED.undecided(
            at,
            f"Too much or too little light: paper does not say. Measure: the loss must read between "
            f"{least_db:.1f} dB and {most_db:.1f} dB.",
            f"{_sum(limit)}. The least and the worst loss of this link lie farther apart than what the receiver "
            "takes. Take the meter's uncertainty off both ends of that range, then enter the reading.",
            *(f.source for f in _sources(limit)),
        )
        .of(least_db=round(least_db, 6), most_db=round(most_db, 6))
        .model_copy(update={"caution": INVISIBLE})
    )


def _spliced(broken: list[tuple[Limit, str]]) -> list[Finding]:
    """Too much loss only by splices that nobody drew."""
    if not broken:
        return []
    limit, at = _tightest(broken)
    finding = LOSS_BY_SPLICES.undecided(
        at,
        f"Only splices that nobody drew break this budget: {format_db(limit.margin_db)} against the {limit.name} "
        "with them.",
        f"{_sum(limit)}. Enter how many splices the run has, or measure its loss: the reading decides.",
        *(f.source for f in _sources(limit)),
    )
    return [_with_facts(finding, limit)]


def _burnt(limit: Limit, at: tuple[str, ...]) -> Finding:
    return LIGHT_DAMAGE.damage(
        at,
        f"Light beyond the receiver's damage level: {format_db(limit.margin_db)}.",
        _sum(limit) + ". Do not plug it in without an attenuator.",
        *(f.source for f in _sources(limit)),
    ).model_copy(update={"caution": INVISIBLE})


def _thin(limit: Limit, at: tuple[str, ...], house_margin_db: float) -> Finding:
    return MARGIN_THIN.caution(
        at,
        f"The margin of {format_db(limit.margin_db)} is inside the house margin of {house_margin_db:g} dB.",
        _sum(limit) + ". It works by the clause; a dirty face or a repair may use it up.",
        *(f.source for f in _sources(limit)),
        best=Verdict.MARGINAL,
    )
