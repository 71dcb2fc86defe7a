"""Will enough light arrive, and not too much: limits, margins and the power along the chain.

Powers are in dBm and are never added to each other; losses and margins are in dB. Only powers of the same
kind and scope are subtracted from each other.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from passerelle.core.budget.loss import Direction, LossTerm
from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.link.compose import Chain
from passerelle.core.rules.by_length import Sums
from passerelle.core.sources import Frozen, Source, derived

LimitName = Literal["channel insertion loss", "power budget", "receiver overload", "minimum loss", "damage"]
_WORST = derived("sum of the worst values of all terms")
_LEAST = derived("sum of the least values of all terms")


class Figure(Frozen):
    """One signed line of a sum that a person can follow."""

    label: str
    value: float
    unit: Literal["dB", "dBm"]
    source: Source


class Limit(Frozen):
    """One limit with the sum that leads to its margin in dB; negative means broken.

    ``typical_margin_db`` is the same sum with the expected loss: it informs and never decides. ``on_estimate``:
    without its estimates the limit might end otherwise, kept or broken. ``open``: the most that the
    transmitter sends is not known of this module; broken it leaves the link undecided.
    ``two_sided``: so does a limit of a way whose real loss may lie in its window or not.
    ``by_splices``: only splices that nobody drew, in cable that is there, break it.
    """

    name: LimitName
    application: str
    margin_db: float
    typical_margin_db: float
    figures: tuple[Figure, ...]
    on_estimate: bool
    low_light: bool
    open: bool = False
    two_sided: bool = False
    by_splices: bool = False

    @property
    def decides(self) -> bool:
        """Whether the link fails where this limit is broken."""
        return not self.open and not ((self.two_sided or self.by_splices) and self.margin_db < 0)


class PowerPoint(Frozen):
    """Power where the light enters and leaves one piece, in dBm: strongest and weakest case."""

    element: str
    in_max_dbm: float
    in_min_dbm: float
    out_max_dbm: float
    out_min_dbm: float


class ReceiverWindow(Frozen):
    """What the receiver at the end needs and takes, in dBm."""

    sensitivity_dbm: float
    overload_dbm: float
    damage_dbm: float | None
    kind: str
    informative: bool
    source: Source


@dataclass(frozen=True)
class LimitOf:
    """A limit of a kind of chain, before its losses are known: what it allows, figure by figure.

    Against too little light the worst loss is taken from what is allowed, against too much the least loss is
    added to the room that there is. A limit rests on an estimate where a figure of it is one; against too little
    light also where an estimate stands in the worst loss, or alone breaks it; against too much where it is kept by
    an estimated part of the least loss, or broken by the least loss while the most that is lost would keep it.
    ``open``: its transmitter's maximum is not that of this module, so that it can be kept but not broken.
    """

    name: LimitName
    application: str
    figures: tuple[Figure, ...]
    low_light: bool
    open: bool = False

    @cached_property
    def allowed_db(self) -> float:
        """The sum of its figures in dB."""
        return sum(figure.value for figure in self.figures)

    @cached_property
    def recalled(self) -> bool:
        """Whether one of its figures is an estimate."""
        return any(figure.source.estimate for figure in self.figures)

    def told(
        self, sums: Sums, margin_db: float, *, guessed: bool, two_sided: bool = False, by_splices: bool = False
    ) -> Limit:
        """The limit of a single link as a sum that a person can follow."""
        worst, expected, least = (float(values[0]) for values in (sums.worst, sums.expected, sums.least))
        if self.low_light:
            spent = Figure(label="loss, worst", value=-worst, unit="dB", source=_WORST)
        else:
            spent = Figure(label="loss, least", value=least, unit="dB", source=_LEAST)
        return Limit(
            name=self.name,
            application=self.application,
            margin_db=margin_db,
            typical_margin_db=round(self.allowed_db + (-expected if self.low_light else expected), 6),
            figures=(*self.figures, spent),
            on_estimate=guessed,
            low_light=self.low_light,
            open=self.open,
            two_sided=two_sided,
            by_splices=by_splices,
        )


def limits(application: Application, receiver: Application, row: ReachRow) -> tuple[LimitOf, ...]:
    """All limits that one application puts on one direction of a link (IEEE 802.3 link budget tables).

    ``receiver`` is the application of the receiving module: the same one, or the other side of a pair.

    Low light: channel insertion loss of the row, and power budget less penalties. High light: the receiver's
    maximum against the strongest transmitter less the least loss, a minimum loss where there is one, and
    the damage level where it is known. The house margin is not subtracted here.
    """
    return (*_low_light(application, row), *_high_light(application, receiver, row))


def limits_between(
    sends: Application, receives: Application, rows: tuple[ReachRow, ReachRow]
) -> tuple[LimitOf, ...]:
    """Limits of one direction between two applications that are said to work together.

    The channel is the shorter of both: each row's channel loss counts. The light is that of this direction: the
    sender's launch against the receiver's sensitivity, overload, minimum loss and damage level, in average power,
    which is all that two clauses have in common.

    Args:
        sends: application of the sending module.
        receives: application of the receiving module.
        rows: the reach rows of the sender and of the receiver for the glass of the link.
    """
    found: list[LimitOf] = []
    for application, row in zip((sends, receives), rows, strict=True):
        found += [limit for limit in _low_light(application, row) if limit.name == "channel insertion loss"]
    found.append(_launch_to_sensitivity(sends, receives, rows[0]))
    return (*found, *_high_light(sends, receives, rows[0]))


def _launch_to_sensitivity(sends: Application, receives: Application, row: ReachRow) -> LimitOf:
    tx, rx = sends.tx_power_dbm, receives.rx_power_dbm
    _, weakest_dbm = launch_dbm(sends, row)
    allowed = (
        Figure(label=f"launch minimum of {sends.name}", value=weakest_dbm, unit="dBm", source=tx.source),
        Figure(label=f"sensitivity of {receives.name}", value=-rx.sensitivity, unit="dBm", source=rx.source),
    )
    return LimitOf("power budget", sends.name, allowed, low_light=True)


def _low_light(application: Application, row: ReachRow) -> list[LimitOf]:
    channel = Figure(
        label=f"channel insertion loss allowed on {row.fiber}",
        value=row.max_insertion_loss_db,
        unit="dB",
        source=row.loss_source,
    )
    found = [LimitOf("channel insertion loss", application.name, (channel,), low_light=True)]
    if row.power_budget_db is not None and row.penalties_db is not None:
        budget = Figure(label="power budget", value=row.power_budget_db, unit="dB", source=row.loss_source)
        source = row.penalties_source or row.loss_source
        penalties = Figure(label="allocated penalties", value=-row.penalties_db, unit="dB", source=source)
        found.append(LimitOf("power budget", application.name, (budget, penalties), low_light=True))
    return found


def _high_light(application: Application, receiver: Application, row: ReachRow) -> list[LimitOf]:
    tx, rx = application.tx_power_dbm, receiver.rx_power_dbm
    strongest = Figure(label="transmitter maximum", value=-tx.max, unit="dBm", source=tx.source)
    most = Figure(label="receiver maximum", value=rx.overload, unit="dBm", source=rx.source)
    found = [LimitOf("receiver overload", application.name, (most, strongest), low_light=False)]
    if row.min_insertion_loss_db > 0:
        source = row.min_loss_source or row.loss_source
        least = Figure(label="minimum loss asked for", value=-row.min_insertion_loss_db, unit="dB", source=source)
        found.append(LimitOf("minimum loss", application.name, (least,), low_light=False))
    if rx.damage is not None:
        harm = Figure(
            label="receiver damage level", value=rx.damage, unit="dBm", source=rx.damage_source or rx.source
        )
        found.append(LimitOf("damage", application.name, (harm, strongest), low_light=False))
    return found


def launch_dbm(sender: Application, row: ReachRow | None) -> tuple[float, float]:
    """Strongest and weakest average launch power in dBm; the weakest is the row's own where it has one."""
    own = row.tx_min_dbm if row else None
    return sender.tx_power_dbm.max, own if own is not None else sender.tx_power_dbm.min


def power_along(
    chain: Chain, direction: Direction, terms: Sequence[LossTerm], sender: Application, row: ReachRow | None
) -> tuple[PowerPoint, ...]:
    """Average power in dBm into and out of each piece, in the order in which the light meets them.

    The strongest case starts at the transmitter's maximum and loses the least; the weakest starts at its
    minimum (the row's own where the clause gives one) and loses the most.
    """
    strong_dbm, weak_dbm = launch_dbm(sender, row)
    points: list[PowerPoint] = []
    pieces = chain.link.elements if direction == "right" else tuple(reversed(chain.link.elements))
    for element in pieces:
        here = [t for t in terms if t.at == element.id]
        out_strong = strong_dbm - sum(t.least_db for t in here)
        out_weak = weak_dbm - sum(t.worst_db for t in here)
        points.append(
            PowerPoint(
                element=element.id,
                in_max_dbm=strong_dbm,
                in_min_dbm=weak_dbm,
                out_max_dbm=out_strong,
                out_min_dbm=out_weak,
            )
        )
        strong_dbm, weak_dbm = out_strong, out_weak
    return tuple(points)


def receiver_window(receiver: Application) -> ReceiverWindow:
    """The window of a receiver as its clause gives it."""
    rx = receiver.rx_power_dbm
    return ReceiverWindow(
        sensitivity_dbm=rx.sensitivity,
        overload_dbm=rx.overload,
        damage_dbm=rx.damage,
        kind=rx.kind,
        informative=rx.informative,
        source=rx.source,
    )
