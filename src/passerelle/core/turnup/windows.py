"""Windows: what the modules of a healthy link must show, from the plan and its accepted readings.

Received power lies between the weakest launch less the worst loss and the strongest launch less the least. Accepted
readings stand in the place of the terms that they read, and so tighten it. A module's own reading may be off by its
accuracy (3 dB by SFF-8472, SFF-8636 and CMIS), which widens it. Only like is compared with like: a module that
reads modulation amplitude is not held against average power.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Literal

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.turnup_figures import turnup_figures
from passerelle.core.errors import TurnUpError
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link
from passerelle.core.review import DirectionReview, Review, examine
from passerelle.core.sources import Frozen, Source

End = Literal["left", "right"]
Quantity = Literal["rx power", "tx power"]
Stand = Literal["dark", "low", "normal", "above", "high", "damage", "unknown"]


class Window(Frozen):
    """What a power at an end must be, in dBm, for each lane; ``why_not`` says why there is no window.

    ``low_dbm`` and ``high_dbm`` are widened by the module's accuracy on both sides, ``planned`` is not. ``bounds``
    says where they are only outer bounds.
    """

    end: End
    element: str
    quantity: Quantity
    lanes: int = 1
    low_dbm: float | None = None
    high_dbm: float | None = None
    planned_low_dbm: float | None = None
    planned_high_dbm: float | None = None
    needs_dbm: float | None = None
    takes_dbm: float | None = None
    damage_dbm: float | None = None
    off_by_db: float = 0.0
    as_measured: bool = False
    on_estimate: bool = False
    sources: tuple[Source, ...] = ()
    why_not: str = ""
    bounds: str = ""


OUTER = (
    "The clause budgets in modulation amplitude, and average power is its outer bound: below it there is too "
    "little light, inside it the reading alone proves nothing. Count errors."
)
"""What average limits are worth beside modulation amplitude (IEEE 802.3, notes to its launch tables)."""


def windows_of(
    link: Link,
    catalog: Catalog,
    house: HouseRules,
    *,
    off_by_db: float | None = None,
    sent_dbm: Mapping[End, float] | None = None,
) -> tuple[Window, ...]:
    """The windows of both ends, sent and received; where the glass may be of several grades, of all of them.

    Args:
        link: with its accepted readings.
        catalog, house: the house's catalog and rules.
        off_by_db: how far the modules' own readings may be off, None for what the agreements allow.
        sent_dbm: what the module of an end says that it sends now: narrows what the other end must receive.
    """
    off = turnup_figures().accuracy.power_db if off_by_db is None else off_by_db
    found: dict[tuple[End, Quantity], Window] = {}
    for variant in variants(link) or [undecided_glass(link)]:
        seen = examine(variant, catalog, house)
        for direction in seen.directions:
            sender: End = "left" if direction.direction == "right" else "right"
            receiver: End = "right" if direction.direction == "right" else "left"
            sends = catalog.application(direction.application)
            told = (sent_dbm or {}).get(sender)
            for window in (
                _sent(direction, sends, sender, off),
                _received(direction, seen, sends, receiver, off, told),
            ):
                key = (window.end, window.quantity)
                found[key] = _both(found[key], window) if key in found else window
    return tuple(found.values())


def _both(one: Window, other: Window) -> Window:
    """A window that holds two."""
    if one.why_not or other.why_not:
        return one if one.why_not else other
    lows = ("low_dbm", "planned_low_dbm")
    values = {name: min(getattr(one, name), getattr(other, name)) for name in lows}
    highs = ("high_dbm", "planned_high_dbm")
    values |= {name: max(getattr(one, name), getattr(other, name)) for name in highs}
    return one.model_copy(update=values)


def _sent(direction: DirectionReview, sends: Application, end: End, off: float) -> Window:
    tx = sends.tx_power_dbm
    window = Window(end=end, element=direction.sender, quantity="tx power", lanes=sends.lanes)
    if why := _unlike(sends):
        return window.model_copy(update={"why_not": why})
    first = direction.points[0]
    return window.model_copy(
        update={
            "low_dbm": round(first.in_min_dbm - off, 3),
            "high_dbm": round(first.in_max_dbm + off, 3),
            "planned_low_dbm": first.in_min_dbm,
            "planned_high_dbm": first.in_max_dbm,
            "off_by_db": off,
            "on_estimate": tx.source.estimate,
            "bounds": OUTER if sends.oma_dbm is not None else "",
            "sources": (tx.source, turnup_figures().accuracy.power_source),
        }
    )


def _received(
    direction: DirectionReview, seen: Review, sends: Application, end: End, off: float, told_dbm: float | None
) -> Window:
    rx = direction.window
    window = Window(end=end, element=direction.receiver, quantity="rx power", lanes=sends.lanes)
    why = _unlike(sends)
    if not why and not seen.complete:
        why = "a length, a grade or a piece is missing in the plan: say it, and what must arrive follows"
    if why:
        return window.model_copy(update={"why_not": why})
    low, high = direction.arrives_min_dbm, direction.arrives_max_dbm
    if told_dbm is not None:
        first = direction.points[0]
        low = max(low, min(told_dbm - off, first.in_max_dbm) - direction.loss.worst_db)
        high = min(high, max(told_dbm + off, first.in_min_dbm) - direction.loss.least_db)
    alike = rx.kind == "average"
    guessed = any(term.worst_source.estimate for term in direction.terms)
    return window.model_copy(
        update={
            "low_dbm": round(low - off, 3),
            "high_dbm": round(high + off, 3),
            "planned_low_dbm": round(direction.arrives_min_dbm, 3),
            "planned_high_dbm": round(direction.arrives_max_dbm, 3),
            "needs_dbm": rx.sensitivity_dbm if alike else None,
            "takes_dbm": rx.overload_dbm if alike else None,
            "damage_dbm": rx.damage_dbm if alike else None,
            "off_by_db": off,
            "as_measured": any(term.part == "reading" for term in direction.terms),
            "on_estimate": sends.tx_power_dbm.source.estimate or guessed,
            "bounds": OUTER if sends.oma_dbm is not None else "",
            "sources": (sends.tx_power_dbm.source, rx.source, turnup_figures().accuracy.power_source),
        }
    )


def _unlike(sends: Application) -> str:
    tx = sends.tx_power_dbm
    if tx.kind != "average":
        return "the clause gives its launch as modulation amplitude: an average reading is not held against it"
    if sends.lanes > 1 and not tx.per_lane:
        return "the clause gives the launch of all lanes together: a lane's reading is not held against it"
    return ""


def stands(window: Window, dbm: float | None, *, read: bool = True) -> Stand:
    """Where a reading stands: ``dark`` without light, else below, in, or above the window.

    More than the receiver takes is ``high``, surely more than its damage level ``damage``; more than the plan can
    explain, and still what the receiver takes, is ``above``. Below the window, or below what the receiver needs, is
    ``low``.

    Args:
        window: of the same quantity.
        dbm: the module's reading; None where it sees no light.
        read: False where nobody has read it yet.
    """
    if not read:
        return "unknown"
    if dbm is None:
        return "dark"
    if window.damage_dbm is not None and dbm - window.off_by_db > window.damage_dbm:
        return "damage"
    if window.takes_dbm is not None and dbm > window.takes_dbm:
        return "high"
    if window.needs_dbm is not None and dbm < window.needs_dbm:
        return "low"
    if window.low_dbm is None or window.high_dbm is None:
        return "unknown"
    if dbm > window.high_dbm:
        return "above"
    return "low" if dbm < window.low_dbm else "normal"


class ErrorRate(Frozen):
    """What counted errors prove: the true rate is below ``below`` with ``confidence``."""

    bits: float
    errors: int
    below: float
    confidence: float
    words: str


def proves(seconds: float, rate_mbps: int, errors: int = 0, confidence: float | None = None) -> ErrorRate:
    """What errors counted over a time prove of the bit error ratio (Poisson, one-sided).

    Without an error the bound is −ln(1 − confidence)/bits; with k errors it is the quantile of the chi-squared
    distribution with 2k + 2 degrees of freedom, halved, over the bits.

    Args:
        seconds: how long was counted, with the line full all the time.
        rate_mbps: the rate in Mb/s.
        errors: how many were counted.
        confidence: between 0 and 1; None for the house's.

    Raises:
        TurnUpError: a time that is not above zero, errors below zero, a confidence that is no share.

    Examples:
        >>> proves(300, 10_000, 0, 0.95).below < 1e-12
        True
        >>> proves(1, 1000).words
        'no error in 1e+09 bits: with 95 % confidence fewer than one in 3.34e+08'
    """
    sure = turnup_figures().accuracy.confidence if confidence is None else confidence
    if not seconds > 0 or not math.isfinite(seconds):
        raise TurnUpError("seconds", f"{seconds:g}: count for some time first")
    if errors < 0:
        raise TurnUpError("errors", f"{errors}: errors are zero or more")
    if not 0 < sure < 1:
        raise TurnUpError("confidence", f"{sure:g}: a confidence lies between 0 and 1")
    bits = seconds * rate_mbps * 1e6
    from scipy.special import gammaincinv

    most = float(gammaincinv(errors + 1, sure))
    below = min(1.0, (most if math.isfinite(most) else math.inf) / bits)
    counted = "no error" if not errors else "1 error" if errors == 1 else f"{errors} errors"
    words = f"{counted} in {bits:.3g} bits: with {sure * 100:g} % confidence fewer than one in {1 / below:.3g}"
    return ErrorRate(bits=bits, errors=errors, below=below, confidence=sure, words=words)


def corrected_words(application: str, corrected: int, uncorrected: int) -> str:
    """What codewords of an error correction say of a port.

    Errors before the correction are normal where a port modulates in four levels; none after it hides how much
    margin is left.
    """
    known = turnup_figures().correction_of(application)
    if uncorrected > 0:
        return f"{uncorrected} codewords could not be corrected: frames were lost"
    if known is not None and known.kind == "none" and corrected:
        return "the clause of this port has no error correction, and the box corrects: compare both ends"
    if corrected and known is not None and known.always:
        return f"{corrected} codewords were corrected: normal here; none lost hides how much margin is left"
    if corrected:
        return f"{corrected} codewords were corrected, none was lost: watch whether the number rises"
    return "nothing was corrected and nothing was lost"
