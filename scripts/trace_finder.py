"""How well events are found: plants drawn at random, by two makers of traces, against what is truly there."""

from __future__ import annotations

import math
import sys
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from passerelle.core.acceptance.found import FoundEvent, find_events
from passerelle.core.acceptance.trace_lines import Measured
from passerelle.standins.pulse import POINTS, Fiber, Shot, Spot, returned_db
from passerelle.standins.receiver import Event, Piece, Plant, Receiver, received_db

PULSES = (10, 30, 100, 300, 1000)
MAKERS = ("first", "second")


@dataclass(frozen=True)
class Drawn:
    """A trace with what is truly on it: the plant, its levels as they are given to a finder, tail and noise."""

    plant: Plant
    trace: Measured
    tail_m: float
    noise_db: np.ndarray


def drawn(maker: str, pulse_ns: int, seed: int) -> Drawn:
    """A plant of one to seven events between cords, and its trace."""
    rng = np.random.default_rng((seed, pulse_ns, MAKERS.index(maker)))
    index = float(rng.uniform(1.46, 1.49))
    pulse = 299_792_458.0 * pulse_ns * 1e-9 / (2 * index)
    scatter = float(rng.uniform(-84, -79)) if maker == "second" else -82.0
    count = int(rng.integers(1, 8))
    cord = max(150.0, 8 * pulse)
    whole = float(np.exp(rng.uniform(np.log(max(600, 30 * pulse)), np.log(max(4000, 150 * pulse)))))
    cuts = np.sort(rng.uniform(0.03, 0.97, count)) * whole
    pieces, events = [], []
    places = [cord, *(cord + cuts).tolist(), cord + whole, 2 * cord + whole]
    before = 0.0
    per_m = float(rng.uniform(0.00018, 0.0004))
    for number, at in enumerate(places):
        unlike = float(rng.uniform(-0.4, 0.4)) if maker == "second" and 0 < number < len(places) - 1 else 0.0
        pieces.append(Piece(at - before, per_m, scatter + unlike))
        before = at
        if number == len(places) - 1:
            events.append(Event(200.0, float(rng.choice([-14.7, -35.0])) if rng.random() < 0.75 else None))
        elif number in (0, len(places) - 2):
            events.append(Event(float(rng.uniform(0.1, 0.7)), float(rng.uniform(-58, -38))))
        elif rng.random() < 0.25:
            events.append(Event(float(rng.uniform(0.05, 0.8)), float(rng.uniform(-58, -35))))
        else:
            events.append(Event(float(np.exp(rng.uniform(np.log(0.03), np.log(1.5))))))
    plant = Plant(tuple(pieces), tuple(events), float(rng.uniform(-55, -35)))
    range_db = 12 + 1.5 * math.log2(pulse_ns / 3) + float(rng.uniform(-1, 3))
    spacing = min(float(rng.choice([0.125, 0.25, 0.5, 1.0, 2.0])), pulse / 2)  # a pulse is never between two points
    spacing = max(spacing, places[-1] / 30_000)
    if maker == "second":
        tail = float(rng.uniform(0.02, 0.10))
        receiver = Receiver(pulse_ns, index, spacing, range_db, tail, seed)
        levels = received_db(plant, receiver)
        return Drawn(
            plant, Measured(levels, spacing, pulse_ns, index, scatter), tail * pulse, noise_of(plant, range_db)
        )
    fibers = [Fiber(piece.length_m, piece.db_per_m, piece.at_1ns_db) for piece in plant.pieces]
    spots = [Spot(0.0, 0.0, plant.port_db)]
    spots += [Spot(at, e.loss_db, e.reflectance_db) for at, e in zip(plant.places_m, plant.events, strict=True)]
    shot = Shot(pulse_ns, 15.0, index, places[-1] * 1.15 + 6 * pulse, seed)
    levels = returned_db(fibers, spots, shot)
    range_db = (scatter + 10 * math.log10(pulse_ns) + 104 + 5 * math.log10(15.0)) / 2
    return Drawn(
        plant, Measured(levels, shot.range_m / POINTS, pulse_ns, index, scatter), 0.9, noise_of(plant, range_db)
    )


def noise_of(plant: Plant, range_db: float) -> np.ndarray:
    """The noise of a level in dB just before and just behind each event, shape (n, 2)."""
    lost, found = 0.0, []
    start = plant.pieces[0].at_1ns_db
    for number, (piece, event) in enumerate(zip(plant.pieces, plant.events, strict=True)):
        lost += piece.length_m * piece.db_per_m
        level = (piece.at_1ns_db - start) / 2 - lost
        behind = (plant.pieces[min(number + 1, len(plant.pieces) - 1)].at_1ns_db - start) / 2 - lost - event.loss_db
        found.append(
            [5 / math.log(10) * 10 ** (-2 * (range_db + one) / 10) for one in (level, max(behind, -200.0))]
        )
        lost += event.loss_db
    return np.array(found)


@dataclass
class Count:
    """What became of the events of some traces."""

    traces: int = 0
    events: int = 0
    found: int = 0
    misplaced: int = 0
    false: int = 0
    ghosts: int = 0
    losses: int = 0
    off: int = 0
    worst_db: float = 0.0
    ends: int = 0
    ends_off: int = 0
    worst_end_m: float = 0.0
    kept: list[str] = field(default_factory=list)


def apparent(plant: Plant, number: int) -> float:
    """The step that one direction shows at an event, in dB."""
    here, behind = plant.pieces[number], plant.pieces[number + 1]
    return plant.events[number].loss_db + (here.at_1ns_db - behind.at_1ns_db) / 2


def recovery_m(drawn_: Drawn, number: int) -> float:
    """How long behind an event until a hundredth of the backscatter is left of it, in m."""
    event, trace = drawn_.plant.events[number], drawn_.trace
    if event.reflectance_db is None:
        return 3 * drawn_.tail_m
    scatter = drawn_.plant.pieces[number].at_1ns_db + 10 * math.log10(trace.pulse_ns)
    over = max(0.0, event.reflectance_db - scatter) / 10 * math.log(10)
    return drawn_.tail_m * (over + math.log(100))


def resolvable(drawn_: Drawn) -> Iterator[tuple[int, float, float]]:
    """Events two pulses and recovery from both neighbors, their step five times its error: number, step, error."""
    plant, trace = drawn_.plant, drawn_.trace
    places = (0.0, *plant.places_m)
    scatter = plant.pieces[0].at_1ns_db + 10 * math.log10(trace.pulse_ns)
    port = drawn_.tail_m * (max(0.0, plant.port_db - scatter) / 10 * math.log(10) + math.log(100))
    for number, event in enumerate(plant.events[:-1]):
        at = places[number + 1]
        before = at - places[number] - 2 * trace.pulse_m - (recovery_m(drawn_, number - 1) if number else port)
        behind = places[number + 2] - at - 2 * trace.pulse_m - recovery_m(drawn_, number)
        if min(before, behind) < 6 * trace.spacing_m:
            continue
        noise = drawn_.noise_db[number]
        points = np.array([before, behind]) / trace.spacing_m
        error = float(np.sqrt(np.sum(4 * noise**2 / points)))
        step = apparent(plant, number)
        bright = event.reflectance_db is not None
        if (abs(step) >= 5 * error and abs(step) >= 0.03) or (bright and error < 0.1):
            yield number, step, error


def judge(drawn_: Drawn, events: tuple[FoundEvent, ...], count: Count) -> None:
    """Hold what was found against what is there."""
    plant, trace = drawn_.plant, drawn_.trace
    near = 2 * trace.pulse_m + 4 * trace.spacing_m + 2
    count.traces += 1
    inner, end = events[:-1], events[-1] if events else None
    for number, step, error in resolvable(drawn_):
        at = plant.places_m[number]
        bright = plant.events[number].reflectance_db is not None
        count.events += 1
        mine = min(inner, key=lambda one: abs(one.at_m - at), default=None)
        if mine is None or abs(mine.at_m - at) > near:
            continue
        count.found += 1
        exact = max(2 * trace.spacing_m, 0.1 * trace.pulse_m) if bright else max(2 * trace.spacing_m, trace.pulse_m)
        count.misplaced += abs(mine.at_m - at) > exact + 0.5
        if mine.loss_db is not None:
            count.losses += 1
            off = abs(mine.loss_db - step)
            count.off += off > max(0.02, 2 * max(error, mine.unsure_db or 0.0))
            count.worst_db = max(count.worst_db, off)
    for one in inner:
        if one.ghost:
            count.ghosts += 1
        elif min(abs(one.at_m - at) for at in plant.places_m) > near:
            count.false += 1
    noise = drawn_.noise_db[-1][0]
    if noise < 5 / math.log(10) * 0.1:  # backscatter 10 dB (of power) over the noise before the end
        count.ends += 1
        off = abs((end.at_m if end else 0.0) - plant.places_m[-1])
        bright = plant.events[-1].reflectance_db is not None
        exact = max(2 * trace.spacing_m, (0.1 if bright else 0.25) * trace.pulse_m)
        count.ends_off += off > exact + 0.5
        count.worst_end_m = max(count.worst_end_m, off)


def table(seeds: range) -> dict[tuple[str, int], Count]:
    """What is found by maker and pulse."""
    told: dict[tuple[str, int], Count] = defaultdict(Count)
    for maker in MAKERS:
        for pulse in PULSES:
            for seed in seeds:
                one = drawn(maker, pulse, seed)
                judge(one, find_events(one.trace), told[maker, pulse])
    return told


def words(told: dict[tuple[str, int], Count]) -> list[str]:
    """The table, a line each."""
    lines = ["maker   pulse  traces events found  misplaced false ghosts  loss off (worst)  end off (worst)"]
    for (maker, pulse), one in told.items():
        share = 100 * one.found / max(1, one.events)
        losses = f"{one.off:4d} of {one.losses:4d} ({one.worst_db:.2f})"
        ends = f"{one.ends_off:4d} of {one.ends:4d} ({one.worst_end_m:.0f} m)"
        lines.append(
            f"{maker:7s} {pulse:5d} {one.traces:7d} {one.events:6d} {share:5.1f}% {one.misplaced:9d} "
            f"{one.false:5d} {one.ghosts:6d} {losses} {ends}"
        )
    return lines


if __name__ == "__main__":
    first, last = (int(one) for one in sys.argv[1:3]) if len(sys.argv) > 2 else (0, 100)
    print("\n".join(words(table(range(first, last)))))
