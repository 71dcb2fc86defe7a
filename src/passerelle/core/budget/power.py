"""Will enough light arrive, and not too much: limits, margins and the power along the chain.

Powers are in dBm and are never added to each other; losses and margins are in dB. Only powers of the same
kind and scope are subtracted from each other.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from passerelle.core.budget.loss import Direction, LossSummary, LossTerm
from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.link.chain import Link
from passerelle.core.sources import Frozen, Source, derived

LimitName = Literal["channel insertion loss", "power budget", "receiver overload", "minimum loss", "damage"]


class Figure(Frozen):
    """One signed line of a sum that a person can follow."""

    label: str
    value: float
    unit: Literal["dB", "dBm"]
    source: Source


class Limit(Frozen):
    """One limit with the sum that leads to its margin in dB; negative means broken.

    ``typical_margin_db`` is the same sum with the expected loss: it informs and never decides. ``on_estimate``:
    without its estimates the limit might end otherwise, kept or broken.
    """

    name: LimitName
    application: str
    margin_db: float
    typical_margin_db: float
    figures: tuple[Figure, ...]
    on_estimate: bool
    low_light: bool


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
class DirectedLoss:
    """The loss of one direction: its terms and their sums."""

    direction: Direction
    terms: tuple[LossTerm, ...]
    summary: LossSummary

    @property
    def worst_on_estimate(self) -> bool:
        """Whether an estimate stands in the worst-case sum."""
        return any(t.worst_source.estimate and t.worst_db > 0 for t in self.terms)

    @property
    def worst_guessed_db(self) -> float:
        """How much of the worst loss in dB is estimated: without it a broken limit may be kept."""
        return sum(t.worst_db for t in self.terms if t.worst_source.estimate)

    @property
    def least_certain_db(self) -> float:
        """The least loss in dB that rests on no estimate: what is estimated counts as zero."""
        return sum(t.least_db for t in self.terms if not t.least_source.estimate)


def limits(application: Application, receiver: Application, row: ReachRow, loss: DirectedLoss) -> tuple[Limit, ...]:
    """All limits that one application puts on one direction of a link (IEEE 802.3 link budget tables).

    ``receiver`` is the application of the receiving module: the same one, or the other side of a pair.

    Low light: channel insertion loss of the row, and power budget less penalties. High light: the receiver's
    maximum against the strongest transmitter less the least loss, a minimum loss where there is one, and
    the damage level where it is known. The house margin is not subtracted here.
    """
    return (*_low_light(application, row, loss), *_high_light(application, receiver, row, loss))


def limits_between(
    sends: Application, receives: Application, rows: tuple[ReachRow, ReachRow], loss: DirectedLoss
) -> tuple[Limit, ...]:
    """Limits of one direction between two applications that are said to work together.

    The channel is the shorter of both: each row's channel loss counts. The light is that of this direction: the
    sender's launch against the receiver's sensitivity, overload, minimum loss and damage level, in average power,
    which is all that two clauses have in common.

    Args:
        sends: application of the sending module.
        receives: application of the receiving module.
        rows: the reach rows of the sender and of the receiver for the glass of the link.
        loss: the loss of this direction.
    """
    found: list[Limit] = []
    for application, row in zip((sends, receives), rows, strict=True):
        found += [limit for limit in _low_light(application, row, loss) if limit.name == "channel insertion loss"]
    found.append(_launch_to_sensitivity(sends, receives, rows[0], loss))
    return (*found, *_high_light(sends, receives, rows[0], loss))


def _launch_to_sensitivity(sends: Application, receives: Application, row: ReachRow, loss: DirectedLoss) -> Limit:
    tx, rx = sends.tx_power_dbm, receives.rx_power_dbm
    _, weakest_dbm = launch_dbm(sends, row)
    allowed = (
        Figure(label=f"launch minimum of {sends.name}", value=weakest_dbm, unit="dBm", source=tx.source),
        Figure(label=f"sensitivity of {receives.name}", value=-rx.sensitivity, unit="dBm", source=rx.source),
    )
    return _dark_limit("power budget", sends, allowed, loss)


def _dark_limit(
    name: LimitName, application: Application, allowed: tuple[Figure, ...], loss: DirectedLoss
) -> Limit:
    """A limit against too little light: what is allowed less the worst loss.

    It rests on an estimate where a figure is one, or where the estimated part of the loss decides.
    """
    worst = loss.summary.worst_db
    spent = Figure(
        label="loss, worst", value=-worst, unit="dB", source=derived("sum of the worst values of all terms")
    )
    margin_db = round(sum(f.value for f in allowed) - worst, 6)
    guessed = loss.worst_on_estimate if margin_db >= 0 else margin_db + loss.worst_guessed_db >= 0
    return Limit(
        name=name,
        application=application.name,
        margin_db=margin_db,
        typical_margin_db=round(sum(f.value for f in allowed) - loss.summary.expected_db, 6),
        figures=(*allowed, spent),
        on_estimate=guessed or any(f.source.estimate for f in allowed),
        low_light=True,
    )


def _low_light(application: Application, row: ReachRow, loss: DirectedLoss) -> list[Limit]:
    channel = Figure(
        label=f"channel insertion loss allowed on {row.fiber}",
        value=row.max_insertion_loss_db,
        unit="dB",
        source=row.loss_source,
    )
    found = [_dark_limit("channel insertion loss", application, (channel,), loss)]
    if row.power_budget_db is not None and row.penalties_db is not None:
        budget = Figure(label="power budget", value=row.power_budget_db, unit="dB", source=row.loss_source)
        source = row.penalties_source or row.loss_source
        penalties = Figure(label="allocated penalties", value=-row.penalties_db, unit="dB", source=source)
        found.append(_dark_limit("power budget", application, (budget, penalties), loss))
    return found


def _high_light(application: Application, receiver: Application, row: ReachRow, loss: DirectedLoss) -> list[Limit]:
    tx, rx = application.tx_power_dbm, receiver.rx_power_dbm
    strongest = Figure(label="transmitter maximum", value=-tx.max, unit="dBm", source=tx.source)
    found = [
        _bright_limit(
            "receiver overload",
            application,
            (Figure(label="receiver maximum", value=rx.overload, unit="dBm", source=rx.source), strongest),
            loss,
        )
    ]
    if row.min_insertion_loss_db > 0:
        source = row.min_loss_source or row.loss_source
        least_allowed = Figure(
            label="minimum loss asked for", value=-row.min_insertion_loss_db, unit="dB", source=source
        )
        found.append(_bright_limit("minimum loss", application, (least_allowed,), loss))
    if rx.damage is not None:
        harm = Figure(label="receiver damage level", value=rx.damage, unit="dBm", source=rx.source)
        found.append(_bright_limit("damage", application, (harm, strongest), loss))
    return found


def _bright_limit(
    name: LimitName, application: Application, figures: tuple[Figure, ...], loss: DirectedLoss
) -> Limit:
    """A limit against too much light, kept by the least loss.

    It rests on an estimate where a figure is one, where it is kept by an estimated part of the least loss, or where
    it is broken by the least loss alone while the most that the link may lose would keep it.
    """
    room = sum(f.value for f in figures)
    least = Figure(
        label="loss, least",
        value=loss.summary.least_db,
        unit="dB",
        source=derived("sum of the least values of all terms"),
    )
    margin_db = round(room + loss.summary.least_db, 6)
    return Limit(
        name=name,
        application=application.name,
        margin_db=margin_db,
        typical_margin_db=round(room + loss.summary.expected_db, 6),
        figures=(*figures, least),
        on_estimate=any(f.source.estimate for f in figures)
        or (room + loss.least_certain_db < 0 if margin_db >= 0 else room + loss.summary.worst_db >= 0),
        low_light=False,
    )


def launch_dbm(sender: Application, row: ReachRow | None) -> tuple[float, float]:
    """Strongest and weakest average launch power in dBm; the weakest is the row's own where it has one."""
    own = row.tx_min_dbm if row else None
    return sender.tx_power_dbm.max, own if own is not None else sender.tx_power_dbm.min


def power_along(
    link: Link, loss: DirectedLoss, sender: Application, row: ReachRow | None
) -> tuple[PowerPoint, ...]:
    """Average power in dBm into and out of each piece, in the order in which the light meets them.

    The strongest case starts at the transmitter's maximum and loses the least; the weakest starts at its
    minimum (the row's own where the clause gives one) and loses the most.
    """
    strong_dbm, weak_dbm = launch_dbm(sender, row)
    points: list[PowerPoint] = []
    pieces = link.elements if loss.direction == "right" else tuple(reversed(link.elements))
    for element in pieces:
        here = [t for t in loss.terms if t.at == element.id]
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
