"""A second maker of traces, by another formula: exact integrals, a slow receiver, echoes, any spacing.

What comes back of a pulse at a place is the integral of the backscatter over the pulse before it, taken section by
section in closed form. A receiver with a time constant of some hundredths of the pulse smears it; strong
reflections echo off the port and come back as ghosts. Finders of events are judged by it: it shares nothing with
them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

LIGHT_M_PER_S = 299_792_458.0
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Piece:
    """A length of fiber between two events: m, dB/m one way, backscatter of a pulse of 1 ns in dB."""

    length_m: float
    db_per_m: float
    at_1ns_db: float


@dataclass(frozen=True)
class Event:
    """What happens at the end of a piece: loss in dB one way, reflectance in dB (None: nothing)."""

    loss_db: float
    reflectance_db: float | None = None


@dataclass(frozen=True)
class Plant:
    """Pieces from the instrument on, with the event at the end of each; the last one is the end of the fiber."""

    pieces: tuple[Piece, ...]
    events: tuple[Event, ...]
    port_db: float = -45.0

    @property
    def places_m(self) -> tuple[float, ...]:
        """Where the events lie, in m from the instrument."""
        return tuple(np.cumsum([piece.length_m for piece in self.pieces]).tolist())


@dataclass(frozen=True)
class Receiver:
    """How it is received: pulse in ns, index, spacing in m, dynamic range in dB, tail as a share of the pulse."""

    pulse_ns: float
    index: float
    spacing_m: float
    range_db: float
    tail: float
    seed: int = 0
    points: int = 0
    ghosts: bool = True
    rng: np.random.Generator = field(init=False, repr=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "rng", np.random.default_rng(self.seed))

    @property
    def pulse_m(self) -> float:
        """The pulse on the fiber as a trace shows it, in m."""
        return LIGHT_M_PER_S * self.pulse_ns * 1e-9 / (2 * self.index)


def received_db(plant: Plant, receiver: Receiver) -> Floats:
    """The levels of a trace in dB one way, shape (n,), from the instrument on."""
    from scipy.signal import lfilter

    ends = plant.places_m
    count = receiver.points or math.ceil((ends[-1] * 1.15 + 6 * receiver.pulse_m) / receiver.spacing_m)
    z: Floats = np.arange(count, dtype=np.float64) * receiver.spacing_m
    length = receiver.pulse_m
    power = (_returned(plant, z) - _returned(plant, z - length)) / length * receiver.pulse_ns
    for at, share in _reflections(plant, receiver):
        power += share * ((z >= at) & (z < at + length))
    keep = math.exp(-receiver.spacing_m / max(receiver.tail * length, 1e-9))
    power = lfilter([1 - keep], [1, -keep], power)
    start_db = plant.pieces[0].at_1ns_db + 10 * math.log10(receiver.pulse_ns)
    noise = 10 ** ((start_db - 2 * receiver.range_db) / 10)
    power = power + receiver.rng.normal(0.0, noise, count)
    return np.asarray(5 * np.log10(np.maximum(power, noise * 1e-3)))


def _passed(plant: Plant) -> list[float]:
    """The share of power, both ways, that is left at the beginning of each piece."""
    left, found = 1.0, []
    for piece, event in zip(plant.pieces, plant.events, strict=True):
        found.append(left)
        left *= 10 ** (-2 * (piece.length_m * piece.db_per_m + event.loss_db) / 10)
    return found


def _returned(plant: Plant, z: Floats) -> Floats:
    """All that the fiber up to each place sends back of a pulse of 1 ns, integrated over m."""
    starts = np.array([0.0, *plant.places_m])
    total, sums = 0.0, []
    rates, scales = [], []
    for piece, left in zip(plant.pieces, _passed(plant), strict=True):
        rate = 2 * piece.db_per_m * math.log(10) / 10
        scale = left * 10 ** (piece.at_1ns_db / 10) / rate
        sums.append(total)
        rates.append(rate)
        scales.append(scale)
        total += scale * -math.expm1(-rate * piece.length_m)
    inside = np.clip(np.searchsorted(starts, z, side="right") - 1, 0, len(sums) - 1)
    here = np.clip(z - starts[inside], 0.0, np.diff(starts)[inside])
    grown = np.array(scales)[inside] * -np.expm1(-np.array(rates)[inside] * here)
    return np.asarray(np.where(z <= 0, 0.0, np.array(sums)[inside] + grown))


def _reflections(plant: Plant, receiver: Receiver) -> list[tuple[float, float]]:
    """Where reflections come from and their share of the pulse: the port, the events, and echoes between two."""
    found = [(0.0, 10 ** (plant.port_db / 10))]
    left = _passed(plant)
    bright: list[tuple[float, float, float]] = []
    for number, (at, event) in enumerate(zip(plant.places_m, plant.events, strict=True)):
        if event.reflectance_db is None:
            continue
        share = 10 ** (event.reflectance_db / 10)
        here = left[number] * 10 ** (-2 * plant.pieces[number].length_m * plant.pieces[number].db_per_m / 10)
        found.append((at, share * here))
        bright.append((at, share, here))
    if receiver.ghosts:
        port = 10 ** (plant.port_db / 10)
        found += [(2 * at, share * share * here * here * port) for at, share, here in bright]
    return found


def ghosts_m(plant: Plant) -> tuple[float, ...]:
    """Where echoes between the port and a reflection appear, in m."""
    return tuple(
        2 * at
        for at, event in zip(plant.places_m, plant.events, strict=True)
        if event.reflectance_db is not None and 2 * at < plant.places_m[-1]
    )
