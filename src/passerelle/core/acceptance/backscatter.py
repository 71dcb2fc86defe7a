"""What a trace of a stretch should look like: backscatter, reflections, dead zones by pulse, noise by time.

In the one-way scale of a trace instrument (dB, 5·log10 of what returns). With K the backscatter of a pulse of 1 ns
and W its length in ns, clean fiber stands at (K + 10·log10 W) / 2 − A(z), A being the loss on the way.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from passerelle.core.acceptance.stretch import Stretch, Taken, should_read
from passerelle.core.catalog.records import Family
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.sources import Frozen

LIGHT_M_PER_S = 299_792_458.0
Floats = NDArray[np.float64]
EventKind = Literal["connection", "splice", "attenuator", "end"]


@dataclass(frozen=True)
class Section:
    """A length of fiber: its piece, length in m, loss in dB/m, backscatter at 1 ns in dB."""

    element: str
    length_m: float
    db_per_m: float
    at_1ns_db: float


@dataclass(frozen=True)
class Joint:
    """A place where something happens: its piece, its place in m from the instrument, loss and most loss in dB.

    ``reflectance_db`` is None where nothing is reflected, ``worst_reflectance_db`` the most that its grade allows.
    """

    element: str
    at_m: float
    loss_db: float
    worst_db: float
    kind: EventKind
    reflectance_db: float | None = None
    worst_reflectance_db: float | None = None


@dataclass(frozen=True)
class Way:
    """What a pulse meets: the launch cord, the stretch, the receive cord, as the light goes."""

    sections: tuple[Section, ...]
    joints: tuple[Joint, ...]
    launch_m: float
    receive_m: float
    index: float

    @cached_property
    def length_m(self) -> float:
        """From the instrument to the end of the receive cord, in m."""
        return sum(section.length_m for section in self.sections)

    @property
    def loss_db(self) -> float:
        """The loss of all of it, expected, in dB."""
        fiber = sum(section.length_m * section.db_per_m for section in self.sections)
        return fiber + sum(joint.loss_db for joint in self.joints)


class Pulse(Frozen):
    """A pulse and what it can do: its length in ns and on the fiber in m, its dead zones in m, its range in dB.

    Two events nearer than ``event_dead_m`` are one to it; a loss is told apart from ``loss_dead_m`` on.
    """

    pulse_ns: int
    length_m: float
    event_dead_m: float
    loss_dead_m: float
    range_db: float
    reaches: bool


def pulse_m(pulse_ns: float, index: float) -> float:
    """The length of a pulse on the fiber as a trace shows it: c·W / 2n, in m.

    >>> round(pulse_m(100, 1.468), 1)
    10.2
    """
    return LIGHT_M_PER_S * pulse_ns * 1e-9 / (2 * index)


def way_of(
    stretch: Stretch,
    taken: Taken,
    catalog: Catalog,
    *,
    launch_m: float,
    receive_m: float,
    lengths_m: dict[str, float] | None = None,
) -> Way:
    """What a pulse meets on a stretch, in the direction of the reading.

    Args:
        lengths_m: other lengths of pieces in m, by their ids.
    """
    family = stretch.family(catalog) or "single-mode"
    nm, figures = taken.wavelength_nm, testing_figures()
    grades = [catalog.fiber(g) for s in stretch.chain.glass if stretch.inside(s.position) for g in s.traits.grades]
    back = figures.backscatter_of(family, grades[0].core_um if grades else 9.0)
    near = min(back.at_1ns_db, key=lambda listed: abs(listed - nm))
    scatter, index = back.at_1ns_db[near], back.group_index[near]
    should = should_read(stretch, taken, catalog)
    sections: list[Section] = []
    joints: list[Joint] = []
    at = 0.0
    cord = max((t.term.expected_db for t in should.terms if t.term.part == "fiber"), default=0.0)
    of = {t.term.at: t for t in should.terms if t.term.part == "fiber"}
    whole = sum(_length(stretch, name, {}) for name in of) or 1.0
    cord_per_m = cord / whole if of else 0.0003
    for end in [t for t in should.terms if t.end == "near"]:
        joints.append(
            _joint(end.term.at, 0.0, end.term.expected_db, end.term.worst_db, stretch, stretch.start, "left")
        )
    for place in stretch.chain.places[stretch.start.position : stretch.end.position + 1]:
        for one in [t for t in should.terms if t.term.at == place.id and not t.end and t.term.part != "fiber"]:
            joints.append(_inner(one.term.at, one.term.part, at, one.term.expected_db, one.term.worst_db, stretch))
        if place.id in of:
            length = _length(stretch, place.id, lengths_m or {})
            known = _length(stretch, place.id, {})
            per_m = of[place.id].term.expected_db / known if known else cord_per_m
            sections.append(Section(place.id, length, per_m, scatter))
            at += length
    for end in [t for t in should.terms if t.end == "far"]:
        joints.append(
            _joint(end.term.at, at, end.term.expected_db, end.term.worst_db, stretch, stretch.end, "right")
        )
    if taken.direction == "left":
        sections.reverse()
        joints = [_moved(joint, at - joint.at_m) for joint in reversed(joints)]
    whole_way = (
        Section("launch", launch_m, cord_per_m, scatter),
        *sections,
        Section("receive", receive_m, cord_per_m, scatter),
    )
    placed = tuple(_moved(joint, joint.at_m + launch_m) for joint in joints)
    return Way(whole_way, placed, launch_m, receive_m, index)


def _moved(joint: Joint, at_m: float) -> Joint:
    return replace(joint, at_m=at_m)


def _length(stretch: Stretch, element: str, other: dict[str, float]) -> float:
    known = getattr(stretch.chain.link.element(element), "length_m", None) or 0.0
    return float(other.get(element, known))


def _joint(
    element: str, at: float, loss: float, worst: float, stretch: Stretch, standing: object, side: str
) -> Joint:
    face = getattr(standing, side)
    reflects = testing_figures().reflectance_of(face.polish or "PC")
    return Joint(element, at, loss, worst, "connection", reflects.mated_db - 3, reflects.mated_db)


def _inner(element: str, part: str, at: float, loss: float, worst: float, stretch: Stretch) -> Joint:
    if part != "mated pair":
        kind: EventKind = "splice" if part in ("splice", "mismatch") else "attenuator"
        return Joint(element, at, loss, worst, kind)
    joint = next((j for j in stretch.chain.joints if element in j.at), None)
    polish = (joint.left_face.polish if joint else None) or "PC"
    reflects = testing_figures().reflectance_of(polish)
    return Joint(element, at, loss, worst, "connection", reflects.mated_db - 3, reflects.mated_db)


def pulses(way: Way, averaging_s: float) -> tuple[Pulse, ...]:
    """The usual pulses with what each tells apart and how far it reaches on this way."""
    figures = testing_figures().trace
    found = []
    for pulse_ns in figures.pulses_ns:
        length = pulse_m(pulse_ns, way.index)
        reach = dynamic_range_db(pulse_ns, averaging_s)
        found.append(
            Pulse(
                pulse_ns=pulse_ns,
                length_m=length,
                event_dead_m=length + 0.5,
                loss_dead_m=length + figures.recovery_m,
                range_db=reach,
                reaches=reach >= way.loss_db + 3,
            )
        )
    return tuple(found)


def dynamic_range_db(pulse_ns: float, averaging_s: float) -> float:
    """How much one-way loss a pulse can see through in dB: 1.5 dB more for each doubling, 0.75 for four times as
    long.
    """
    figures = testing_figures().trace
    doubled = math.log2(pulse_ns / figures.pulses_ns[0])
    longer = math.log(averaging_s / figures.reference_time_s, 4)
    return figures.one_ns_range_db + 1.5 * doubled + 0.75 * longer


def best_pulse(way: Way, averaging_s: float) -> Pulse:
    """The shortest pulse that reaches the end with three decibels to spare; the longest where none does."""
    found = pulses(way, averaging_s)
    return next((pulse for pulse in found if pulse.reaches), found[-1])


def cords_m(family: Family, pulse: Pulse) -> float:
    """The launch and receive cord in m that a pulse needs: long enough for a straight line behind its dead zone."""
    figures = testing_figures().trace
    usual = figures.launch_multimode_m if family == "multimode" else figures.launch_single_mode_m
    needed = 3 * pulse.loss_dead_m
    return usual if needed <= usual else max(figures.launch_long_m, math.ceil(needed / 100) * 100)


class Seen(Frozen):
    """A joint as a pulse shows it: alone, or hidden in the dead zone of another piece (``behind``)."""

    element: str
    kind: EventKind
    at_m: float
    loss_db: float
    worst_db: float
    reflectance_db: float | None
    worst_reflectance_db: float | None
    behind: str = ""


def told_apart(way: Way, pulse: Pulse) -> tuple[Seen, ...]:
    """Each joint with the one that hides it: a reflection hides for the loss dead zone, a mere loss for the
    pulse.
    """
    found: list[Seen] = []
    shown: Joint | None = None
    for joint in sorted(way.joints, key=lambda one: one.at_m):
        behind = ""
        if shown is not None:
            dead = pulse.loss_dead_m if shown.reflectance_db is not None else pulse.event_dead_m
            behind = shown.element if joint.at_m - shown.at_m < dead else ""
        found.append(
            Seen(
                element=joint.element,
                kind=joint.kind,
                at_m=joint.at_m,
                loss_db=joint.loss_db,
                worst_db=joint.worst_db,
                reflectance_db=joint.reflectance_db,
                worst_reflectance_db=joint.worst_reflectance_db,
                behind=behind,
            )
        )
        if not behind:
            shown = joint
    return tuple(found)


def expected_db(way: Way, pulse_ns: float, distances_m: Floats, averaging_s: float = 15.0) -> Floats:
    """The expected trace at n distances from the instrument (m), in dB one way, shape (n,).

    What returns is the mean of the clean backscatter over the length of the pulse; reflections stand on it for that
    length, with 10·log10 of their share; nothing falls below the noise.
    """
    length = max(pulse_m(pulse_ns, way.index), 1e-6)
    edges, total = _scattered(way)
    power = (np.interp(distances_m, edges, total) - np.interp(distances_m - length, edges, total)) / length
    power = power * pulse_ns
    for joint in way.joints:
        if joint.reflectance_db is not None:
            here = (distances_m >= joint.at_m) & (distances_m < joint.at_m + length)
            power = power + here * 10 ** ((joint.reflectance_db - 2 * loss_before_db(way, joint.at_m)) / 10)
    start = way.sections[0].at_1ns_db + 10 * math.log10(pulse_ns)
    floor = 10 ** ((start - 2 * dynamic_range_db(pulse_ns, averaging_s)) / 10)
    return np.asarray(5 * np.log10(power + floor))


def _scattered(way: Way, cells: int = 24) -> tuple[Floats, Floats]:
    """Distances in m and what all fiber up to there sends back of a pulse of 1 ns, integrated over metres."""
    edges: list[float] = [0.0]
    total: list[float] = [0.0]
    at = 0.0
    for section in way.sections:
        inside = (joint.at_m - at for joint in way.joints)
        cuts = sorted({0.0, section.length_m, *(one for one in inside if 0 < one < section.length_m)})
        for left, right in pairwise(cuts):
            steps = np.linspace(left, right, cells)
            loss = loss_before_db(way, at + left + 1e-9) + (steps - left) * section.db_per_m
            power = 10 ** ((section.at_1ns_db - 2 * loss) / 10)
            grown = np.cumsum((power[1:] + power[:-1]) / 2 * np.diff(steps))
            edges += (at + steps[1:]).tolist()
            total += (total[-1] + grown).tolist()
        at += section.length_m
    edges.append(at + 1e6)
    total.append(total[-1])
    return np.array(edges), np.array(total)


def loss_before_db(way: Way, at_m: float) -> float:
    """Expected one-way loss from the instrument to a place, joints before it included, in dB."""
    loss = at = 0.0
    for section in way.sections:
        loss += max(0.0, min(section.length_m, at_m - at)) * section.db_per_m
        at += section.length_m
    return loss + sum(joint.loss_db for joint in way.joints if joint.at_m < at_m)


def scattered_share(way: Way) -> float:
    """How much of steady light the fiber of a way scatters back, as a share of one."""
    _, total = _scattered(way)
    return float(total[-1]) / pulse_m(1.0, way.index)


def apparent_loss_db(loss_db: float, before_1ns_db: float, behind_1ns_db: float) -> float:
    """What one direction shows of a joint between fibers that scatter unlike: a gain where the second scatters
    more.

    >>> apparent_loss_db(0.1, -82.0, -81.4)
    -0.2
    """
    return round(loss_db + (before_1ns_db - behind_1ns_db) / 2, 6)


def thinned(distances_m: Floats, levels_db: Floats, most: int = 900) -> tuple[tuple[float, float], ...]:
    """A trace for drawing: of every bucket its lowest and highest point, so that no peak is lost."""
    count = len(distances_m)
    if count <= most:
        return _pairs(distances_m, levels_db)
    size = -(-count // (most // 2))
    whole = count // size * size
    blocks = levels_db[:whole].reshape(-1, size)
    base = np.arange(len(blocks)) * size
    picked = np.unique(np.concatenate([base + blocks.argmin(axis=1), base + blocks.argmax(axis=1), [count - 1]]))
    return _pairs(distances_m[picked], levels_db[picked])


def _pairs(distances_m: Floats, levels_db: Floats) -> tuple[tuple[float, float], ...]:
    return tuple(zip(np.round(distances_m, 2).tolist(), np.round(levels_db, 3).tolist(), strict=True))
