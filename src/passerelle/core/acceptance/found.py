"""Events in a measured trace: where it peaks or steps, with loss by straight lines on both sides.

Between events fiber is a straight line. Peaks are found by their rise, steps where two lines fit better than one.
Behind a reflection no line is laid until what is left of it is a hundredth of the backscatter: the higher it
stands, the longer that takes.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from passerelle.core.acceptance.trace_lines import FEWEST, LEAST_STEP_DB, Floats, Measured, line_of, steps_between
from passerelle.core.sources import Frozen

_PEAK_DB = 0.25


class FoundEvent(Frozen):
    """An event: its place in m from the instrument, its loss in dB (None where no line can be laid), reflectance.

    ``unsure_m`` and ``unsure_db`` are how far place and loss may be off (one standard error of the loss); what lies
    before ``clear_m`` is in its loss.
    ``end``: nothing comes back from behind it. ``ghost``: an echo of reflections before it, no place on the fiber.
    """

    at_m: float
    loss_db: float | None
    reflectance_db: float | None
    peak_db: float
    end: bool = False
    ghost: bool = False
    unsure_db: float | None = None
    unsure_m: float = 0.0
    clear_m: float = 0.0


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
    tail = power[-trace.tail_count :]
    least = float(np.mean(tail)) + 5 * float(np.std(tail)) / math.sqrt(width) + 1e-30
    dead = filtered(power, width) < least
    quiet = 4 * width
    if len(dead) <= quiet:
        return len(dead)
    count = np.concatenate([[0], np.cumsum(dead)])
    silent = np.flatnonzero(count[quiet:] - count[:-quiet] == quiet)
    return int(silent[0]) if len(silent) else len(dead)


@dataclass(frozen=True)
class _Place:
    """Where something happens: the first point of it, and how high it stands above the line before it, in dB."""

    at: int
    height_db: float = 0.0
    bright: bool = False
    holds_to: int = 0

    def clear(self, trace: Measured) -> int:
        """The first point behind it, and behind what it holds, on which a line can be laid."""
        own = trace.pulse_points + math.ceil(3 * trace.tail_points) + 1
        return max(self.holds_to, self.at + (trace.recovery(self.height_db) if self.bright else own))


def find_events(trace: Measured) -> tuple[FoundEvent, ...]:
    """The events of a trace from the instrument on, the end last.

    What is smaller than the noise allows is no event; steps nearer than a pulse and recovery are one.
    """
    stop = end_index(trace)
    if stop < 4 * (trace.pulse_points + FEWEST):
        return ()
    port = _port(trace, stop)
    peaks = _peaks(trace, stop, port.clear(trace))
    end, peaks = _split_end(trace, peaks, stop)
    places = [port, *peaks]
    for number, place in enumerate(list(places)):
        last = places[number + 1].at - 1 if number + 1 < len(places) else end.at - 1
        places += [_Place(at) for at in steps_between(trace, place.clear(trace), last)]
    places = _apart(trace, sorted(places, key=lambda one: one.at))
    found = [_event(trace, places, number, end) for number in range(1, len(places))]
    kept = [one for one in found if _is_event(one)]
    return (*_with_ghosts(trace, kept), _end(trace, places[-1], end))


def _is_event(one: FoundEvent) -> bool:
    """Whether an event still stands once lines are laid on both sides of it."""
    if one.reflectance_db is not None or one.loss_db is None:
        return True
    return abs(one.loss_db) >= max(LEAST_STEP_DB, 4 * (one.unsure_db or 0.0))


def _port(trace: Measured, stop: int) -> _Place:
    """The reflection of the instrument's own port, above the fiber some pulses behind it."""
    width = trace.pulse_points
    behind = trace.levels_db[
        min(4 * width, stop // 4) : max(min(8 * width, stop // 2), min(4 * width, stop // 4) + 1)
    ]
    height = float(trace.levels_db[: width + 2].max() - np.median(behind))
    return _Place(0, max(0.0, height), bright=True)


def _peaks(trace: Measured, stop: int, first: int) -> list[_Place]:
    """Where the trace jumps up: the foot of each peak, and its height above the level before it."""
    levels, width = trace.levels_db, trace.pulse_points
    lag = max(1, width // 4)
    rise = levels[lag:stop] - levels[: stop - lag]
    noise = trace.noise_db[: len(rise)]
    noise = np.minimum(noise, np.concatenate([noise[:96], noise[:-96]]) if len(noise) > 96 else noise)
    strong = rise > np.maximum(_PEAK_DB, 7 * noise)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], strong.astype(np.int8), [0]])))
    found: list[_Place] = []
    for left in edges[::2].tolist():
        foot = _foot(trace, left, lag)
        base = float(np.median(levels[max(0, foot - max(3, width // 2)) : max(1, foot)]))
        height = float(levels[foot : foot + width + 2].max()) - base
        if (
            levels[foot : foot + width + 2].max() < trace.audible_db
            or foot < first // 2
            or (found and foot - found[-1].at <= width)
        ):
            continue
        if found and found[-1].at + trace.recovery(found[-1].height_db) > foot and height < 0.5:
            continue
        found.append(_Place(foot, height, bright=True))
    return found


def _foot(trace: Measured, left: int, lag: int) -> int:
    """The first point of a rise that is above the level before it."""
    base = float(np.median(trace.levels_db[max(0, left - max(3, lag * 2)) : left + 1]))
    noise = max(0.02, 4 * float(trace.noise_db[left]))
    after = trace.levels_db[left : left + lag + 2] > base + noise
    return left + (int(np.argmax(after)) if after.any() else lag)


def _split_end(trace: Measured, peaks: list[_Place], stop: int) -> tuple[_Place, list[_Place]]:
    """The end: the first peak behind whose tail nothing comes back, else where the backscatter falls away.

    Of peaks within one tail the last is the end.
    """
    for number, one in enumerate(peaks):
        before = trace.levels_db[max(0, one.at - trace.pulse_points) : max(1, one.at)]
        clear = one.at + trace.recovery(one.height_db + max(0.0, float(np.median(before)) - trace.floor_db))
        if not _is_dark(trace, clear, clear + max(2 * trace.pulse_points, 20)):
            continue
        last = number
        while last + 1 < len(peaks) and peaks[last + 1].at <= clear:
            last += 1
        return peaks[last], peaks[:last]
    return _Place(_falls_at(trace, peaks, stop)), peaks


def _is_dark(trace: Measured, left: int, right: int) -> bool:
    """Whether only noise comes back between two points."""
    power = 10 ** (trace.levels_db[left : min(right, len(trace.levels_db))] / 5)
    if len(power) < FEWEST:
        return True
    tail = 10 ** (trace.levels_db[-trace.tail_count :] / 5)
    return float(power.mean()) <= float(tail.mean()) + 6 * float(tail.std()) / math.sqrt(len(power)) + 1e-30


def _falls_at(trace: Measured, peaks: list[_Place], stop: int) -> int:
    """Where the backscatter begins to fall to nothing: over one pulse its power falls as a ramp."""
    width, length = trace.pulse_points, trace.pulse_m / trace.spacing_m
    left = peaks[-1].clear(trace) if peaks else 0
    back = trace.recovery(float(np.median(trace.levels_db[left:stop])) - trace.floor_db) + 24
    right = max(left + FEWEST + 1, stop - back)
    line = line_of(trace, max(left, right - max(12 * width, 60)), right)
    if line is None:
        return max(1, stop - width)
    x = np.arange(max(1, stop - back), min(len(trace.levels_db), stop + width))
    share = 10 ** ((trace.levels_db[x] - (line.level + line.slope * x)) / 5)
    lag = min(trace.tail_points, length) / 2
    lost = share < 0.5
    half = x[int(np.argmax(lost[:-2] & lost[1:-1] & lost[2:]))] if len(x) > 3 and lost.any() else stop - width
    near = (np.abs(x - half) <= width) & (share < 0.85) & (share > 0.25)
    starts = x[near] - length * (1 - share[near]) if near.any() else np.array([half - length / 2])
    return max(1, round(float(np.median(starts)) - lag))


def _apart(trace: Measured, places: list[_Place]) -> list[_Place]:
    """Places that a pulse tells apart: a step within half a pulse of where the one before is clear is in it."""
    kept: list[_Place] = []
    for place in places:
        if kept and not place.bright and place.at < kept[-1].clear(trace) + trace.pulse_points // 2:
            kept[-1] = replace(kept[-1], holds_to=max(kept[-1].clear(trace), place.clear(trace)))
            continue
        if kept and place.bright and not kept[-1].bright and place.at - kept[-1].at <= trace.pulse_points + 2:
            kept.pop()  # the foot of a peak was taken for a step
        kept.append(place)
    return kept


def _event(trace: Measured, places: Sequence[_Place], number: int, end: _Place) -> FoundEvent:
    place = places[number]
    behind_to = places[number + 1].at - 1 if number + 1 < len(places) else end.at - 2
    before = line_of(trace, places[number - 1].clear(trace), place.at - 1)
    behind = line_of(trace, place.clear(trace), behind_to)
    base = before.at(place.at) if before else float(np.median(trace.levels_db[max(0, place.at - 4) : place.at + 1]))
    height = float(trace.levels_db[place.at : place.at + trace.pulse_points + 2].max()) - base
    loss = unsure = None
    if before is not None and behind is not None:
        loss = round(before.at(place.at) - behind.at(place.at), 4)
        unsure = round(math.hypot(before.error_db(place.at), behind.error_db(place.at)), 4)
    return FoundEvent(
        at_m=place.at * trace.spacing_m,
        loss_db=loss,
        reflectance_db=_reflectance(trace, height) if place.bright else None,
        peak_db=round(height, 4),
        unsure_db=unsure,
        unsure_m=round(_unsure_m(trace, place, loss, unsure), 2),
        clear_m=round(place.clear(trace) * trace.spacing_m, 2),
    )


def _unsure_m(trace: Measured, place: _Place, loss_db: float | None, unsure_db: float | None) -> float:
    """How far a place may be off in m: two points or a tenth of the pulse, more where a step is hardly seen."""
    least = max(2 * trace.spacing_m, 0.1 * trace.pulse_m)
    if place.bright:
        return least
    share = min(1.0, 4 * (unsure_db or 0.0) / max(abs(loss_db or 0.0), 1e-6))
    return least + trace.pulse_m * max(0.15, share) + 3 * trace.tail_points * trace.spacing_m


def _reflectance(trace: Measured, height_db: float) -> float | None:
    """Reflectance in dB of a peak that stands ``height_db`` above the backscatter; None where there is none.

    R = K + 10·log10 W + 10·log10(10^(H/5) − 1), K the backscatter of 1 ns and W the pulse in ns.
    """
    if height_db < _PEAK_DB:
        return None
    share = 10 ** (height_db / 5) - 1
    return round(trace.at_1ns_db + 10 * math.log10(trace.pulse_ns) + 10 * math.log10(share), 2)


def _with_ghosts(trace: Measured, events: Sequence[FoundEvent]) -> list[FoundEvent]:
    """Peaks without a loss at the sum of two distances of reflections before them are echoes."""
    told: list[FoundEvent] = []
    bright: list[float] = []
    for one in events:
        if one.reflectance_db is None:
            told.append(one)
            continue
        near = max(3 * trace.spacing_m, 0.2 * trace.pulse_m) + 0.001 * one.at_m
        sums = (here + other for here in bright for other in bright)
        lossless = one.loss_db is None or abs(one.loss_db) <= max(0.05, 3 * (one.unsure_db or 0.0))
        ghost = lossless and any(abs(total - one.at_m) <= near for total in sums)
        told.append(one.model_copy(update={"ghost": True}) if ghost else one)
        if not ghost:
            bright.append(one.at_m)
    return told


def _end(trace: Measured, before: _Place, end: _Place) -> FoundEvent:
    """The end of the fiber, where its last peak begins or the light stops."""
    width = trace.pulse_points
    base = float(np.median(trace.levels_db[max(0, before.at, end.at - 6 * width) : max(1, end.at - 1)]))
    height = float(trace.levels_db[end.at : end.at + width + 2].max(initial=base)) - base
    level = float(trace.noise_db[max(0, end.at - width)])
    unsure = max(2 * trace.spacing_m, 0.1 * trace.pulse_m)
    if not end.bright:
        unsure += trace.pulse_m * min(1.0, 0.15 + 4 * level / math.sqrt(width))
    return FoundEvent(
        at_m=end.at * trace.spacing_m,
        loss_db=None,
        reflectance_db=_reflectance(trace, height) if end.bright else None,
        peak_db=height,
        end=True,
        unsure_m=round(unsure, 2),
    )


def end_to_end_db(
    trace: Measured, launch_m: float, stretch_m: float, receive_m: float
) -> tuple[float, float] | None:
    """Loss between the launch and the receive cord in dB, and its standard error, by straight lines on both cords.

    Both end connections are in it; lengths in m. None where a cord is too short for a line.
    """
    spacing, width = trace.spacing_m, trace.pulse_points
    x1, x2 = launch_m / spacing, (launch_m + stretch_m) / spacing
    far = round(x2)
    before = trace.levels_db[max(0, far - width) : max(1, far)]
    height = float(trace.levels_db[far : far + width + 2].max(initial=-99.0)) - float(np.median(before))
    first = line_of(trace, _port(trace, end_index(trace)).clear(trace), round(x1) - 1)
    last = line_of(trace, far + trace.recovery(height), round(x2 + receive_m / spacing) - 2)
    if first is None or last is None:
        return None
    return round(first.at(x1) - last.at(x2), 4), round(math.hypot(first.error_db(x1), last.error_db(x2)), 4)
