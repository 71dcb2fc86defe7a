"""Power at the far end: voltage drop over two conductors, how far each size reaches, and power over Ethernet."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.plant_figures import Conductor, PowerClass, plant_figures
from passerelle.core.parts.piece import LengthM
from passerelle.core.plant.records import Device, Watts
from passerelle.core.plant.wiring import Pairs
from passerelle.core.sources import Frozen, Source

COPPER_REFERENCE_C = 20.0
Amperes = Annotated[float, Field(ge=0.001, le=10_000, allow_inf_nan=False)]


class Feed(Frozen):
    """A supply over two conductors: its volts, the run in m one way, what hangs there in W, and the limits.

    ``device_min_v`` is the least voltage that the device works on at its peak; ``source_max_a`` and ``rated_a``
    are the current limits of the supply and of the conductor; each is None while it is not known.
    """

    source_v: Annotated[float, Field(ge=1, le=1500, allow_inf_nan=False)]
    length_m: LengthM
    typical_w: Watts = 0.0
    peak_w: Watts
    device_min_v: Annotated[float, Field(ge=0, le=1500, allow_inf_nan=False)] | None = None
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


class FeedAnswer(Frozen):
    """A feed as it was understood, and what arrives over each size of conductor."""

    feed: Feed
    rows: tuple[FeedResult, ...]


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
    limits = [feed.device_min_v or 0.0, feed.source_v / 2]
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
    if feed.device_min_v is not None and peak_v < feed.device_min_v:
        return f"{peak_v:.1f} V arrives at the peak, the device needs {feed.device_min_v:g} V."
    if feed.source_max_a is not None and amperes > feed.source_max_a:
        return f"{amperes:.2f} A at the peak, the supply gives {feed.source_max_a:g} A."
    if feed.rated_a is not None and amperes > feed.rated_a:
        return f"{amperes:.2f} A at the peak, the conductor is rated for {feed.rated_a:g} A."
    return ""


def _unchecked(feed: Feed) -> str:
    limits = (
        ("what the device needs", feed.device_min_v),
        ("the supply's current", feed.source_max_a),
        ("the conductor's rating", feed.rated_a),
    )
    missing = [words for words, value in limits if value is None]
    settles = "The voltage settles" if feed.device_min_v is None else "The voltage holds"
    return f"{settles}; {', '.join(missing)} not checked." if missing else ""


class EthernetFeed(Frozen):
    """A device over twisted pair: its class, what the switch reserves and gives in W, and whether it works.

    ``asked_by`` says what the class follows from: the class that was said at the switch, or the device's watts.
    ``works`` is None where neither is known. ``reserved_w`` and ``port_w`` are for one device.
    """

    device: str
    place: str
    count: int
    power_class: str
    asked_by: Literal["class at the switch", "W at the device", "nothing"]
    reserved_w: float
    port_w: float
    peak_w: float
    works: bool | None
    why: str
    caution: str = ""


class SwitchPower(Frozen):
    """All devices that one switch feeds: W at its ports usually and at the peak, and what it reserves by class.

    The budget in W is held against what is reserved: a switch refuses the port that does not fit any more, whatever
    the others draw. ``kept`` is None while the budget or a device's class is not known and nothing is broken yet.
    """

    devices: tuple[EthernetFeed, ...]
    typical_w: float
    peak_w: float
    reserved_w: float
    budget_w: float | None
    kept: bool | None
    sources: tuple[Source, ...]


AERIAL = (
    "Pairs that hang between poles carry surges: protection and bonding at both ends are an electrician's, local "
    "codes and licensed people decide; glass with power of its own carries none."
)


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
    devices: Iterable[Pairs], budget_w: float | None = None, *, names: dict[str, str] | None = None
) -> SwitchPower:
    """The devices that hang on one switch, each with the length of its pairs in m, and their sum.

    Raises:
        ValueError: a negative length or budget.
    """
    figures = plant_figures().ethernet_power
    if budget_w is not None and budget_w < 0:
        raise ValueError("a budget is not negative")
    rows: list[EthernetFeed] = []
    typical_w = 0.0
    for pairs in devices:
        device = pairs.device
        if pairs.length_m < 0:
            raise ValueError(f"{device.name} cannot be {pairs.length_m:g} m away")
        row = _ethernet(pairs, (names or {}).get(device.place, device.place))
        rows.append(row)
        power_class = _named(row.power_class)
        usual_w = port_power_w(power_class, device.typical_w, pairs.length_m) if power_class else None
        typical_w += device.count * (usual_w if usual_w is not None else device.typical_w)
    reserved_w = sum(row.count * row.reserved_w for row in rows)
    return SwitchPower(
        devices=tuple(rows),
        typical_w=typical_w,
        peak_w=sum(row.count * row.port_w for row in rows),
        reserved_w=reserved_w,
        budget_w=budget_w,
        kept=_kept(reserved_w, budget_w, known=all(row.works is not None for row in rows)),
        sources=(figures.watts_source, figures.volts_source, figures.reach_source),
    )


def _kept(reserved_w: float, budget_w: float | None, *, known: bool) -> bool | None:
    if budget_w is None:
        return None
    if reserved_w > budget_w:
        return False
    return True if known else None


def _named(name: str) -> PowerClass | None:
    return next((one for one in plant_figures().ethernet_power.classes if one.name == name), None)


def _class_of(device: Device) -> PowerClass | None:
    """The class that a switch reserves by: the one that was said, else the least for the watts at the device."""
    highest = max(plant_figures().ethernet_power.classes, key=lambda one: one.port_w)
    if device.power_class:
        return _named(device.power_class)
    if not device.peak_w:
        return None
    return class_for(device.peak_w) or (highest if device.extended_power else None)


def _ethernet(pairs: Pairs, place: str) -> EthernetFeed:
    device = pairs.device
    power_class = _class_of(device)
    load_w = device.peak_w or (power_class.device_w if power_class else 0.0)
    given = port_power_w(power_class, load_w, pairs.length_m) if power_class else None
    unsaid = not device.power_class and not device.peak_w
    why = _unsaid() if unsaid else _why_not_over_pairs(pairs, place, power_class, load_w, given)
    return EthernetFeed(
        device=device.name,
        place=place,
        count=device.count,
        power_class=power_class.name if power_class else "",
        asked_by="class at the switch" if device.power_class else "nothing" if unsaid else "W at the device",
        reserved_w=power_class.port_w if power_class else device.peak_w,
        port_w=given if given is not None else load_w,
        peak_w=load_w,
        works=None if unsaid else not why,
        why=why,
        caution=AERIAL if pairs.aerial else "",
    )


def _unsaid() -> str:
    return "Say its class at the switch, or the W at the device: nothing is reserved for it yet."


def _why_not_over_pairs(
    pairs: Pairs, place: str, power_class: PowerClass | None, load_w: float, given_w: float | None
) -> str:
    """Why a device does not work over its pairs, in one sentence; empty where it does."""
    device, figures = pairs.device, plant_figures().ethernet_power
    if math.isinf(pairs.length_m):
        return f"No way leads from its switch to {place}: draw one, or feed it from elsewhere."
    if pairs.length_m > figures.reach_m:
        reach = f"{figures.reach_m:g} m of twisted pair"
        return f"{pairs.length_m:g} m is beyond the {reach}: fiber, and power of its own."
    highest = max(figures.classes, key=lambda one: one.port_w)
    if power_class is None:
        return (
            f"{load_w:g} W at the device is more than any class gives one ({highest.device_w:g} W; "
            f"{highest.port_w:g} W is what the switch reserves for it): feed it locally, unless its datasheet "
            "claims extended power."
        )
    if load_w <= power_class.device_w:
        return ""
    if not (device.extended_power and power_class is highest):
        return f"{load_w:g} W at the device is more than {power_class.name} gives one, {power_class.device_w:g} W."
    if given_w is None or given_w > power_class.port_w:
        return (
            f"Extended power does not help here: {load_w:g} W at the device asks more than "
            f"{power_class.port_w:g} W of the port over {pairs.length_m:g} m of pairs."
        )
    return ""
