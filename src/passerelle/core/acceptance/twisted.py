"""Limits of twisted pair as a channel, over frequency, and what a tester's results are worth against them."""

from __future__ import annotations

import math

from passerelle.core.accepted import Certified, CopperValue
from passerelle.core.catalog.testing_figures import CopperClass, testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.sources import Frozen, Source


class CopperJudged(Frozen):
    """A result of a tester with its limit there: ``passes`` is None where there is nothing to judge it by.

    ``differs`` is told where the tester and the limit do not agree.
    """

    value: CopperValue
    limit: float | None
    margin: float | None
    unit: str
    passes: bool | None
    source: Source | None
    differs: str = ""


def class_of(category: str) -> CopperClass:
    """The channel limits of a category.

    Raises:
        AcceptanceError: a category without limits here.
    """
    for one in testing_figures().copper_class:
        if one.category == category:
            return one
    known = ", ".join(one.category for one in testing_figures().copper_class)
    raise AcceptanceError("category", f"there are channel limits for {known}, not for '{category}'")


def insertion_loss_db(of: CopperClass, mhz: float) -> float:
    """Most insertion loss of a channel in dB at a frequency in MHz.

    >>> round(insertion_loss_db(class_of("Cat 6"), 250), 1)
    35.9
    """
    k, a, b, c, d = of.il
    return k * (a * math.sqrt(mhz) + b * mhz + c / math.sqrt(mhz)) + 4 * d * math.sqrt(mhz)


def next_db(of: CopperClass, mhz: float) -> float:
    """Least near-end crosstalk loss of a channel in dB at a frequency in MHz.

    >>> round(next_db(class_of("Cat 5e"), 100), 1)
    30.1
    """
    cable, plugs = of.next
    voltage = 10 ** ((cable - 15 * math.log10(mhz)) / -20) + 2 * 10 ** ((plugs - 20 * math.log10(mhz)) / -20)
    return -20 * math.log10(voltage)


def return_loss_db(of: CopperClass, mhz: float) -> float:
    """Least return loss of a channel in dB at a frequency in MHz.

    >>> round(return_loss_db(class_of("Cat 6"), 100), 1)
    12.0
    """
    _, constant, slope = next(row for row in of.rl if mhz <= row[0] or row is of.rl[-1])
    return constant - slope * math.log10(mhz)


def judged_copper(certified: Certified) -> tuple[CopperJudged, ...]:
    """Each result against its limit; what the tester said itself stands where this has no limit."""
    of = class_of(certified.category)
    return tuple(_judged(value, of) for value in certified.values)


def _judged(value: CopperValue, of: CopperClass) -> CopperJudged:
    limit, most, unit = _limit(value, of)
    if limit is None or value.value is None:
        return CopperJudged(value=value, limit=None, margin=None, unit=unit, passes=value.passes, source=None)
    margin = round(limit - value.value if most else value.value - limit, 3)
    passes = margin >= 0 and value.passes is not False
    differs = ""
    if value.passes is not None and value.passes != (margin >= 0):
        said, here = ("passes", "fails") if value.passes else ("fails", "passes")
        differs = f"its tester says that it {said}, by the limit here it {here}: it fails if either does"
    return CopperJudged(
        value=value,
        limit=round(limit, 2),
        margin=margin,
        unit=unit,
        passes=passes,
        source=of.source,
        differs=differs,
    )


def _limit(value: CopperValue, of: CopperClass) -> tuple[float | None, bool, str]:
    """A parameter's limit, whether it is the most or the least, and its unit."""
    mhz = value.at_mhz
    inside = mhz is not None and 1 <= mhz <= of.to_mhz
    match value.parameter:
        case "delay":
            return of.delay_ns, True, "ns"
        case "skew":
            return of.skew_ns, True, "ns"
        case "insertion loss" if mhz and inside:
            return insertion_loss_db(of, mhz), True, "dB"
        case "NEXT" if mhz and inside:
            return next_db(of, mhz), False, "dB"
        case "return loss" if mhz and inside:
            return return_loss_db(of, mhz), False, "dB"
        case "length":
            return None, True, "m"
        case _:
            return None, False, "dB"
