"""Power at the far end: voltage drop over two conductors, how far each size reaches, and power over Ethernet."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.plant_figures import Conductor, PowerClass, plant_figures
from passerelle.core.link.elements import LengthM
from passerelle.core.plant.site import Device, Watts
from passerelle.core.sources import Frozen, Source

COPPER_REFERENCE_C = 20.0
Amperes = Annotated[float, Field(ge=0.001, le=10_000, allow_inf_nan=False)]


class Feed(Frozen):
    """A supply over two conductors: its volts, the run in m one way, what hangs there in W, and the limits.

    ``device_min_v`` is the least voltage that the device works on at its peak; ``source_max_a`` and ``rated_a``
    are the current limits of the supply and of the conductor, None while they are not known.
    """

    source_v: Annotated[float, Field(ge=1, le=1500, allow_inf_nan=False)]
    length_m: LengthM
    typical_w: Watts = 0.0
    peak_w: Watts
    device_min_v: Annotated[float, Field(ge=0, le=1500, allow_inf_nan=False)]
    source_max_a: Amperes | None = None
    rated_a: Amperes | None = None
    hottest_c: Annotated[float, Field(ge=-60, le=120, allow_inf_nan=False)] = 40.0


class FeedResult(Frozen):
    """What arrives over one size of conductor: volts and amperes at the peak, None where it cannot work.

    The verdict is ``unknown`` where the voltage holds and a current limit is not known: it may still fail.
    ``reach_m`` is the longest run in m that would still work with this size, None where any would.
    """

    conductor: str
    loop_ohm: float
    peak_v: float | None
    peak_a: float | None
    typical_v: float | None
    verdict: Literal["pass", "unknown", "fail"]
    why: str
    reach_m: float | None
    source: Source


def end_voltage(source_v: float, loop_ohm: float, load_w: float) -> float | None:
    """Voltage in V at a load of constant power: the higher root of V² − V_s·V + P·R = 0, or None without one.

    Args:
        source_v: voltage of the supply in V.
        loop_ohm: resistance in Ω out and back, at working temperature.
        load_w: power in W that the load takes whatever its voltage.

    Raises:
        ValueError: a negative resistance or power, or no voltage.

    >>> end_voltage(48, 10, 0)
    48.0
    """
    if source_v <= 0 or loop_ohm < 0 or load_w < 0:
        raise ValueError("a feed has volts above zero, and no negative resistance or power")
    under_root = source_v * source_v - 4 * load_w * loop_ohm
    if under_root < 0:
        return None
    return (source_v + math.sqrt(under_root)) / 2


def loop_ohm(conductor: Conductor, length_m: float, hottest_c: float) -> float:
    """Resistance in Ω of both conductors of a run, at its hottest (IEC 60228, IEC 60028)."""
    rise = 1 + plant_figures().copper.temperature_coefficient_per_k * (hottest_c - COPPER_REFERENCE_C)
    return 2 * length_m / 1000 * conductor.ohm_per_km * rise


def longest_m(feed: Feed, conductor: Conductor) -> float | None:
    """The longest run in m over which the device still has its least voltage at its peak; 0 where none works.

    None where no run is too long, because nothing is drawn.

    The current at the peak is P/V. It stays under the limits while V is at least P/I, and the root is real while
    V is at least half of the supply; the largest of these and the device's own minimum is the voltage to keep.
    """
    if feed.peak_w == 0:
        return None
    limits = [feed.device_min_v, feed.source_v / 2]
    limits += [feed.peak_w / most for most in (feed.source_max_a, feed.rated_a) if most]
    keep_v = max(limits)
    if keep_v > feed.source_v:
        return 0.0
    per_m = loop_ohm(conductor, 1.0, feed.hottest_c)
    return (feed.source_v - keep_v) * keep_v / feed.peak_w / per_m


def fed(feed: Feed, conductor: Conductor) -> FeedResult:
    """One size of conductor judged: the device has its least voltage at its peak load, and all limits are kept."""
    loop = loop_ohm(conductor, feed.length_m, feed.hottest_c)
    peak_v = end_voltage(feed.source_v, loop, feed.peak_w)
    amperes = None if peak_v is None else feed.peak_w / peak_v
    why, unchecked = _why_not(feed, peak_v, amperes), _unchecked(feed)
    return FeedResult(
        conductor=conductor.name,
        loop_ohm=loop,
        peak_v=peak_v,
        peak_a=amperes,
        typical_v=end_voltage(feed.source_v, loop, feed.typical_w),
        verdict="fail" if why else "unknown" if unchecked else "pass",
        why=why or unchecked,
        reach_m=longest_m(feed, conductor),
        source=conductor.source,
    )


def feeds(feed: Feed) -> tuple[FeedResult, ...]:
    """All sizes of conductor, the thinnest first."""
    sizes = sorted(plant_figures().conductors, key=lambda conductor: conductor.area_mm2)
    return tuple(fed(feed, conductor) for conductor in sizes)


def _why_not(feed: Feed, peak_v: float | None, amperes: float | None) -> str:
    if peak_v is None or amperes is None:
        return f"No voltage settles: {feed.peak_w:g} W is more than this run can pass."
    if peak_v < feed.device_min_v:
        return f"{peak_v:.1f} V arrives at the peak, the device needs {feed.device_min_v:g} V."
    if feed.source_max_a is not None and amperes > feed.source_max_a:
        return f"{amperes:.2f} A at the peak, the supply gives {feed.source_max_a:g} A."
    if feed.rated_a is not None and amperes > feed.rated_a:
        return f"{amperes:.2f} A at the peak, the conductor is rated for {feed.rated_a:g} A."
    return ""


def _unchecked(feed: Feed) -> str:
    missing = [
        words
        for words, value in (("the supply's current", feed.source_max_a), ("the conductor's rating", feed.rated_a))
        if value is None
    ]
    return f"The voltage holds; {' and '.join(missing)} not checked." if missing else ""


class EthernetFeed(Frozen):
    """A device over twisted pair: its class, what the port must give in W, what arrives, and whether it works."""

    device: str
    place: str
    count: int
    power_class: str
    port_w: float
    peak_w: float
    works: bool
    why: str


class SwitchPower(Frozen):
    """All devices that one switch feeds: W at the ports usually and at the peak, against its budget in W."""

    devices: tuple[EthernetFeed, ...]
    typical_w: float
    peak_w: float
    budget_w: float | None
    kept: bool | None
    sources: tuple[Source, ...]


def class_for(device_w: float) -> PowerClass | None:
    """The least class of power over Ethernet for a device of this peak in W; None when it takes more than any."""
    classes = sorted(plant_figures().ethernet_power.classes, key=lambda one: one.device_w)
    return next((one for one in classes if device_w <= one.device_w), None)


def port_power_w(power_class: PowerClass, load_w: float, length_m: float) -> float | None:
    """What a port must give in W so that ``load_w`` arrives over ``length_m`` of pairs; None when it cannot.

    The loop resistance of the class belongs to 100 m; a shorter run has its share of it.
    """
    figures = plant_figures().ethernet_power
    loop = power_class.loop_ohm * min(length_m, figures.reach_m) / figures.reach_m
    volts = end_voltage(power_class.port_min_v, loop, load_w)
    return None if volts is None else load_w * power_class.port_min_v / volts


def switch_power(
    devices: Iterable[tuple[Device, float]], budget_w: float | None = None, *, names: dict[str, str] | None = None
) -> SwitchPower:
    """The devices that hang on one switch, each with the length of its pairs in m, and their sum.

    Raises:
        ValueError: a negative length or budget.
    """
    figures = plant_figures().ethernet_power
    if budget_w is not None and budget_w < 0:
        raise ValueError("a budget is not negative")
    rows: list[EthernetFeed] = []
    typical_w = peak_w = 0.0
    for device, length_m in devices:
        if length_m < 0:
            raise ValueError(f"{device.name} cannot be {length_m:g} m away")
        row = _ethernet(device, length_m, (names or {}).get(device.place, device.place))
        rows.append(row)
        power_class = class_for(device.peak_w)
        usual_w = port_power_w(power_class, device.typical_w, length_m) if power_class else None
        typical_w += device.count * (usual_w if usual_w is not None else device.typical_w)
        peak_w += device.count * row.port_w
    return SwitchPower(
        devices=tuple(rows),
        typical_w=typical_w,
        peak_w=peak_w,
        budget_w=budget_w,
        kept=None if budget_w is None else peak_w <= budget_w,
        sources=(figures.watts_source, figures.volts_source, figures.reach_source),
    )


def _ethernet(device: Device, length_m: float, place: str) -> EthernetFeed:
    figures = plant_figures().ethernet_power
    power_class = class_for(device.peak_w)
    given = port_power_w(power_class, device.peak_w, length_m) if power_class else None
    why = ""
    if power_class is None:
        most = max(one.device_w for one in figures.classes)
        why = f"{device.peak_w:g} W is more than any class gives a device ({most:g} W): feed it locally."
    elif math.isinf(length_m):
        why = f"No way leads from its switch to {place}: draw one, or feed it from elsewhere."
    elif length_m > figures.reach_m:
        why = f"{length_m:g} m is beyond the {figures.reach_m:g} m of twisted pair: fiber, and power of its own."
    return EthernetFeed(
        device=device.name,
        place=place,
        count=device.count,
        power_class=power_class.name if power_class else "",
        port_w=given if given is not None else device.peak_w,
        peak_w=device.peak_w,
        works=not why,
        why=why,
    )
