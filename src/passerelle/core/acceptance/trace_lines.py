"""Straight lines on a trace, and the places at which two of them fit better than one.

A step is tried at every place: the two lines beside it, with the ramp of a pulse between them left out, are
compared by running sums, so that all places of a stretch are tried at once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from passerelle.core.acceptance.backscatter import pulse_m

Floats = NDArray[np.float64]
LEAST_STEP_DB = 0.03
_SIGMAS = 5.5
_QUIET = 1.25
"""So much of the noise lines may leave over that explain a stretch."""
FEWEST = 6
"""Points that a line needs."""
TAIL_M = 0.9
TAIL_SHARE = 0.10
"""The time constant of the receiver: so many m, or this share of the pulse; an estimate."""
_LEFT = math.log(100.0)
"""A line is laid where a hundredth of the backscatter is left of a reflection."""


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

    @property
    def pulse_points(self) -> int:
        """The same in points, at least two."""
        return max(2, math.ceil(self.pulse_m / self.spacing_m))

    @property
    def tail_points(self) -> float:
        """The time constant of the receiver in points."""
        return max(TAIL_M, TAIL_SHARE * self.pulse_m) / self.spacing_m

    @cached_property
    def noise_db(self) -> Floats:
        """The noise of each level in dB, shape (n,), by the differences of neighbors in blocks of 64 points."""
        steps = np.abs(np.diff(self.levels_db))
        whole = len(steps) // 64 * 64
        if not whole:
            return np.full(len(self.levels_db), float(np.median(steps)) * 1.05 if len(steps) else 0.0)
        blocks = 1.4826 * np.median(steps[:whole].reshape(-1, 64), axis=1) / math.sqrt(2)
        middles = np.arange(len(blocks)) * 64 + 32
        found = np.interp(np.arange(len(self.levels_db)), middles, np.maximum(blocks, 2e-4))
        return np.asarray(found)

    @property
    def tail_count(self) -> int:
        """How many points at the end are taken for noise alone."""
        return max(50, len(self.levels_db) // 20)

    @cached_property
    def floor_db(self) -> float:
        """The level of noise alone, in dB."""
        tail = 10 ** (self.levels_db[-self.tail_count :] / 5)
        return 5 * math.log10(float(tail.mean()) + 1e-30)

    @cached_property
    def audible_db(self) -> float:
        """The level that a peak must reach to be told from the noise behind the end, in dB."""
        tail = 10 ** (self.levels_db[-self.tail_count :] / 5)
        return 5 * math.log10(float(tail.mean()) + 12 * float(tail.std()) + 1e-30)

    def recovery(self, height_db: float) -> int:
        """How many points behind the foot of a peak of this height in dB no line is laid."""
        over = max(0.0, height_db) / 5 * math.log(10)
        return self.pulse_points + math.ceil(self.tail_points * (over + _LEFT)) + 1


@dataclass(frozen=True)
class Line:
    """A straight line: level at point 0 and slope a point, in dB, of n points around their middle, noise in dB."""

    level: float
    slope: float
    middle: float
    count: int
    noise_db: float

    def at(self, point: float) -> float:
        """The level at a point."""
        return self.level + self.slope * point

    def error_db(self, point: float) -> float:
        """The standard error of the level at a point."""
        spread = self.count * (self.count**2 - 1) / 12
        return self.noise_db * math.sqrt(1 / self.count + (point - self.middle) ** 2 / spread)


def line_of(trace: Measured, left: int, right: int) -> Line | None:
    """The straight line through some points; None where there are too few."""
    if right - left < FEWEST:
        return None
    x = np.arange(left, right)
    middle = (left + right - 1) / 2
    y = trace.levels_db[left:right]
    slope = float(np.dot(x - middle, y) / np.dot(x - middle, x - middle))
    mean = float(y.mean())
    noise = float(np.sqrt(np.mean(trace.noise_db[left:right] ** 2)))
    return Line(mean - slope * middle, slope, middle, right - left, noise)


def _steps(trace: Measured, left: int, right: int) -> list[int]:
    """Places between two points at which two lines fit better than one, found by halves."""
    gap = trace.pulse_points + math.ceil(3 * trace.tail_points)
    found: list[int] = []
    todo = [(left, right)]
    while todo:
        low, high = todo.pop()
        place = _best_step(trace, low, high, gap)
        if place is None:
            continue
        found.append(place)
        todo += [(low, place - 1), (place + gap, high)]
    return found


def steps_between(trace: Measured, left: int, right: int) -> list[int]:
    """The steps between two points, each placed anew between its neighbors until none moves.

    Two that one explains as well are one: halving a stretch with several steps places the first ones badly.
    """
    gap = trace.pulse_points + math.ceil(3 * trace.tail_points)
    at = sorted(_steps(trace, left, right))
    for _ in range(6):
        before = list(at)
        number = 0
        while number < len(at):
            low = at[number - 1] + gap if number else left
            if number + 1 < len(at) and at[number + 1] - at[number] <= 3 * gap:
                high = at[number + 2] - 1 if number + 2 < len(at) else right
                one = _best_step(trace, low, high, gap)
                if one is not None and _left_over(trace, low, high, one, gap) < _QUIET:
                    at[number : number + 2] = [one]
                    continue
            high = at[number + 1] - 1 if number + 1 < len(at) else right
            moved = _best_step(trace, low, high, gap)
            if moved is None:
                del at[number]
                continue
            at[number] = moved
            number += 1
        if at == before:
            break
    return at


def _left_over(trace: Measured, left: int, right: int, step: int, gap: int) -> float:
    """What two lines beside a step leave over, in noise of a point."""
    found = 0.0
    count = 0
    for low, high in ((left, step), (step + gap, right)):
        line = line_of(trace, low, high)
        if line is None:
            continue
        x = np.arange(low, high)
        off = (trace.levels_db[low:high] - line.level - line.slope * x) / np.maximum(trace.noise_db[low:high], 1e-3)
        found, count = found + float(np.dot(off, off)), count + len(x)
    return math.sqrt(found / count) if count else math.inf


def _best_step(trace: Measured, left: int, right: int, gap: int) -> int | None:
    """The place of the surest step between two points; None where none is sure enough."""
    count, fewest = right - left, max(FEWEST, trace.pulse_points // 8)
    if count < gap + 2 * fewest:
        return None
    y = trace.levels_db[left:right] - trace.levels_db[left]
    x = np.arange(count, dtype=np.float64)
    sums = [np.concatenate([[0.0], np.cumsum(one)]) for one in (y, x * y, y * y)]
    places = np.arange(fewest, count - gap - fewest)
    one = _fits(sums, np.zeros_like(places), places)
    two = _fits(sums, places + gap, np.full_like(places, count))
    step = one.at(places) - two.at(places)
    noise = float(np.sqrt(np.mean(trace.noise_db[left:right] ** 2)))
    error = noise * np.sqrt(one.error2(places) + two.error2(places))
    sure = (np.abs(step) >= _SIGMAS * error) & (np.abs(step) >= LEAST_STEP_DB)
    if not sure.any():
        return None
    left_over = np.where(sure, one.squares + two.squares, np.inf)
    best = int(np.argmin(left_over))  # the gap hides the ramp of a short pulse: of places as good, the last
    alike = left_over[best : best + gap] <= left_over[best] + 6 * noise**2
    return left + int(places[best + int(np.flatnonzero(alike)[-1])])


@dataclass(frozen=True)
class _Fits:
    """Many straight lines at once: their middles, means, slopes, counts, and what they leave over, squared."""

    middle: Floats
    mean: Floats
    slope: Floats
    count: Floats
    squares: Floats

    def at(self, point: NDArray[np.int64]) -> Floats:
        """The level of each at a point of its own."""
        return np.asarray(self.mean + self.slope * (point - self.middle))

    def error2(self, point: NDArray[np.int64]) -> Floats:
        """The variance of that level for noise of one."""
        spread = self.count * (self.count**2 - 1) / 12
        return np.asarray(1 / self.count + (point - self.middle) ** 2 / spread)


def _fits(sums: Sequence[Floats], left: NDArray[np.int64], right: NDArray[np.int64]) -> _Fits:
    """The lines through the points from left to right of each, by running sums of y, xy and y squared."""
    y, xy, yy = (one[right] - one[left] for one in sums)
    count = (right - left).astype(np.float64)
    middle = (left + right - 1) / 2
    mean = y / count
    spread = count * (count**2 - 1) / 12
    slope = (xy - middle * y) / spread
    squares = np.maximum(yy - count * mean**2 - slope**2 * spread, 0.0)
    return _Fits(middle, mean, slope, count, squares)
