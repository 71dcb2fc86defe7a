"""Events in a measured trace: where it steps or peaks, with loss by straight lines on both sides."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from passerelle.core.acceptance.backscatter import pulse_m
from passerelle.core.sources import Frozen

Floats = NDArray[np.float64]
_LEAST_STEP_DB = 0.04
_PEAK_DB = 0.25
_SIGMAS = 6.0
RECOVERY_M = 4.0
"""How long after a reflection no line is laid, in m beside the pulse."""
_CLEAR_M = 12.0
"""How far behind a strong reflection the fit of a whole cord begins, in m beside the pulse."""
_FADES_M = 30.0
"""How far behind an end the receiver still recovers from its reflection, in m."""


class FoundEvent(Frozen):
    """An event: its place in m from the instrument, its loss in dB (None where no line can be laid), reflectance.

    ``end``: nothing comes back from behind it.
    """

    at_m: float
    loss_db: float | None
    reflectance_db: float | None
    peak_db: float
    end: bool = False


@dataclass(frozen=True)
class Measured:
    """A trace as it was measured: levels in dB one way, shape (n,), their distance in m, pulse in ns, index."""

    levels_db: Floats
    spacing_m: float
    pulse_ns: float
    index: float
    at_1ns_db: float

    @property
    def pulse_m(self) -> float:
        """The length of the pulse on the fiber in m."""
        return pulse_m(self.pulse_ns, self.index)


def filtered(levels_db: Floats, width: int) -> Floats:
    """The running mean over ``width`` points, shape (n,): the bare filter that event finding is held against."""
    total = np.concatenate([[0.0], np.cumsum(levels_db)])
    half = width // 2
    low = np.clip(np.arange(len(levels_db)) - half, 0, len(levels_db))
    high = np.clip(np.arange(len(levels_db)) - half + width, 0, len(levels_db))
    return np.asarray((total[high] - total[low]) / np.maximum(high - low, 1))


def end_index(trace: Measured) -> int:
    """The first point behind which only noise comes back: power is averaged as power, where noise has no sign."""
    power = 10 ** (trace.levels_db / 5)
    width = max(5, round(trace.pulse_m / trace.spacing_m))
    tail = power[-max(50, len(power) // 50) :]
    least = float(np.mean(tail)) + 5 * float(np.std(tail)) / math.sqrt(width) + 1e-30
    dead = filtered(power, width) < least
    quiet = 4 * width
    if len(dead) <= quiet:
        return len(dead)
    count = np.concatenate([[0], np.cumsum(dead)])
    silent = np.flatnonzero(count[quiet:] - count[:-quiet] == quiet)
    return int(silent[0]) if len(silent) else len(dead)


def find_events(trace: Measured) -> tuple[FoundEvent, ...]:
    """The events of a trace from the instrument on, the end last.

    A step is the difference of two means with a gap of a pulse between them, less the slope of the fiber; a peak is
    what rises above the line before it. What is smaller than the noise allows is no event.
    """
    levels, spacing = trace.levels_db, trace.spacing_m
    stop = end_index(trace)
    gap = max(2, math.ceil(trace.pulse_m / spacing) + 1)
    width = max(6, min(gap * 2, max(6, stop // 12)))
    if stop < 4 * (gap + width):
        return ()
    total = np.concatenate([[0.0], np.cumsum(levels[:stop])])
    first, last = width, stop - gap - width
    centers = np.arange(first, last)
    before = (total[centers] - total[centers - width]) / width
    behind = (total[centers + gap + width] - total[centers + gap]) / width
    slope = _slope(levels[:stop], width)
    steps = before - behind + slope * (width + gap)
    sigma = 1.4826 * float(np.median(np.abs(np.diff(levels[:stop])))) / math.sqrt(2)
    least = max(_LEAST_STEP_DB, _SIGMAS * sigma * math.sqrt(2 / width))
    peaks = _peak_places(levels[:stop], gap, sigma)
    recovery = gap + max(2, round(RECOVERY_M / spacing))
    merged = _merged(_step_places(steps, centers, least), peaks, gap, recovery)
    fades = stop - gap - round(_FADES_M / spacing)
    ending = next((number for number, at in enumerate(merged) if at >= fades), len(merged))
    found = [_event(trace, at, merged, number, stop) for number, at in enumerate(merged[:ending])]
    last = merged[ending] if ending < len(merged) else stop
    return (*found, _end(trace, last, gap))


def _slope(levels: Floats, width: int) -> float:
    """The slope of clean fiber in dB a point (negative), the middle of many short ones."""
    if len(levels) < 4 * width:
        return 0.0
    rises = (levels[2 * width :] - levels[: -2 * width]) / (2 * width)
    return float(np.median(rises))


def _step_places(steps: Floats, centers: NDArray[np.int64], least: float) -> list[int]:
    """Where steps are greatest in their neighborhood."""
    found: list[int] = []
    strong = np.abs(steps) >= least
    edges = np.flatnonzero(np.diff(np.concatenate([[0], strong.astype(np.int8), [0]])))
    for left, right in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        middle = left + int(np.argmax(np.abs(steps[left:right])))
        found.append(int(centers[middle]))
    return found


def _peak_places(levels: Floats, gap: int, sigma: float) -> list[int]:
    """Where the trace jumps up: the foot of each peak."""
    lag = max(1, gap // 3)
    rise = levels[lag:] - levels[:-lag]
    strong = rise > max(_PEAK_DB, 8 * sigma)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], strong.astype(np.int8), [0]])))
    return [int(left) + lag - 1 for left in edges[::2].tolist()]


def _merged(steps: list[int], peaks: list[int], gap: int, recovery: int) -> list[int]:
    """Places nearer than a pulse are one event, the first of them; a step on the tail of a peak is none."""
    kept: list[int] = []
    bright = set(peaks)
    peak = -recovery - 1
    for place in sorted({*steps, *peaks}):
        near = bool(kept) and place - kept[-1] <= gap
        tail = place not in bright and place - peak <= recovery
        foot = place not in bright and any(place < one <= place + gap + 1 for one in peaks)
        if near or tail or foot:
            continue
        kept.append(place)
        if place in bright:
            peak = place
    return kept


def _event(trace: Measured, at: int, places: list[int], number: int, stop: int) -> FoundEvent:
    gap = max(2, math.ceil(trace.pulse_m / trace.spacing_m) + 1)
    recovery = gap + max(2, round(RECOVERY_M / trace.spacing_m))
    left = places[number - 1] + recovery if number else max(0, gap)
    right = places[number + 1] - 1 if number + 1 < len(places) else stop - gap
    before = _line(trace.levels_db, left, at - 1)
    behind = _line(trace.levels_db, at + recovery, right)
    peak = trace.levels_db[at : at + gap + 2]
    if before is None:
        base = float(trace.levels_db[max(0, at - 1)])
        return FoundEvent(
            at_m=at * trace.spacing_m, loss_db=None, reflectance_db=None, peak_db=float(peak.max() - base)
        )
    here = before[0] + before[1] * at
    height = float(peak.max()) - here
    loss = None if behind is None else round(here - (behind[0] + behind[1] * at), 4)
    return FoundEvent(
        at_m=at * trace.spacing_m,
        loss_db=loss,
        reflectance_db=_reflectance(trace, height),
        peak_db=round(height, 4),
    )


def _line(levels: Floats, left: int, right: int) -> tuple[float, float] | None:
    """The straight line through some points: level at 0 and slope; None where there are too few."""
    if right - left < 6:
        return None
    x = np.arange(left, right)
    slope, level = np.polyfit(x, levels[left:right], 1)
    return float(level), float(slope)


def _reflectance(trace: Measured, height_db: float) -> float | None:
    """Reflectance in dB of a peak that stands ``height_db`` above the backscatter; None where there is none.

    R = K + 10·log10 W + 10·log10(10^(H/5) − 1), K the backscatter of 1 ns and W the pulse in ns.
    """
    if height_db < _PEAK_DB:
        return None
    share = 10 ** (height_db / 5) - 1
    return round(trace.at_1ns_db + 10 * math.log10(trace.pulse_ns) + 10 * math.log10(share), 2)


def _end(trace: Measured, at: int, gap: int) -> FoundEvent:
    """The end of the fiber, where its last peak begins or the light stops."""
    base = float(np.median(trace.levels_db[max(0, at - 6 * gap) : max(1, at - 1)]))
    height = float(trace.levels_db[at : at + gap + 2].max(initial=base)) - base
    reflects = _reflectance(trace, height)
    return FoundEvent(at_m=at * trace.spacing_m, loss_db=None, reflectance_db=reflects, peak_db=height, end=True)


def end_to_end_db(trace: Measured, launch_m: float, stretch_m: float, receive_m: float) -> float | None:
    """Loss between the launch and the receive cord in dB, by straight lines on both; None where one is too short.

    Both end connections are in it; lengths in m.
    """
    spacing = trace.spacing_m
    clear = trace.pulse_m + _CLEAR_M
    first = _line(trace.levels_db, round(clear / spacing), round(launch_m / spacing) - 1)
    start = launch_m + stretch_m
    last = _line(trace.levels_db, round((start + clear) / spacing), round((start + receive_m) / spacing) - 2)
    if first is None or last is None:
        return None
    x1, x2 = launch_m / spacing, start / spacing
    return round((first[0] + first[1] * x1) - (last[0] + last[1] * x2), 4)
