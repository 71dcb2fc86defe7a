"""A trace as light makes it: what a pulse sends back along a fiber, point by point, with noise.

Built in the time domain from what each metre scatters and each face reflects: it shares no formula with the
expected trace of the plan.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

LIGHT_M_PER_S = 299_792_458.0
POINTS = 16_000
_FINE = 4
_FLOOR_DB = -104.0
"""What the receiver hears in the dark with one second of averaging, in dB of the pulse sent."""


@dataclass(frozen=True)
class Fiber:
    """A stretch of fiber: its length in m, its loss in dB/m, what it scatters of a pulse of 1 ns, in dB."""

    length_m: float
    db_per_m: float
    at_1ns_db: float


@dataclass(frozen=True)
class Spot:
    """A place on the way: in m from the instrument, its loss in dB, what it reflects in dB (None: nothing)."""

    at_m: float
    db: float
    reflectance_db: float | None


@dataclass(frozen=True)
class Shot:
    """How the pulse is sent: its length in ns, averaging in s, index, range in m, and the draw of the noise."""

    pulse_ns: float
    averaging_s: float
    index: float
    range_m: float
    seed: int = 0


def returned_db(fibers: Sequence[Fiber], spots: Sequence[Spot], shot: Shot) -> NDArray[np.float64]:
    """What comes back at each point, in dB (one way), falling, shape (16000,)."""
    step = shot.range_m / POINTS / _FINE
    z: NDArray[np.float64] = (np.arange(POINTS * _FINE, dtype=np.float64) + 0.5) * step
    loss, scatter = _along(fibers, z)
    for spot in spots:
        loss = loss + np.where(z >= spot.at_m, spot.db, 0.0)
    metre_ns = 2 * shot.index / LIGHT_M_PER_S * 1e9
    coming = scatter * 10 ** (-2 * loss / 10) * step * metre_ns  # of each cell, per pulse of 1 ns and its length
    pulse_m = LIGHT_M_PER_S * shot.pulse_ns * 1e-9 / (2 * shot.index)
    width = max(1, round(pulse_m / step))
    power = np.convolve(coming, np.ones(width), "full")[: len(z)]
    for spot in spots:
        if spot.reflectance_db is not None and spot.at_m < shot.range_m:
            before = np.interp(spot.at_m - step, z, loss)
            first = int(spot.at_m / step)
            power[first : first + width] += 10 ** ((spot.reflectance_db - 2 * before) / 10)
    power = _received(power, step)
    rng = np.random.default_rng(shot.seed)
    floor = 10 ** (_FLOOR_DB / 10) / np.sqrt(max(shot.averaging_s, 0.1))
    sampled = power[::_FINE][:POINTS] + rng.normal(0.0, floor, POINTS)
    return np.asarray(5 * np.log10(np.maximum(sampled, floor * 1e-3)))


def _along(fibers: Sequence[Fiber], z: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """One-way loss in dB at each place, and what a metre there scatters; nothing behind the end."""
    loss, scatter = np.zeros(len(z)), np.zeros(len(z))
    at = base = 0.0
    for fiber in fibers:
        here = (z >= at) & (z < at + fiber.length_m)
        loss[here] = base + (z[here] - at) * fiber.db_per_m
        scatter[here] = 10 ** (fiber.at_1ns_db / 10)
        at, base = at + fiber.length_m, base + fiber.length_m * fiber.db_per_m
    loss[z >= at] = base
    return loss, scatter


def _received(power: NDArray[np.float64], step: float) -> NDArray[np.float64]:
    """What the receiver makes of it: it rises at once and falls with a tail of some two metres."""
    from scipy.signal import lfilter

    keep = np.exp(-step / 0.9)
    return np.asarray(lfilter([1 - keep], [1, -keep], power))
