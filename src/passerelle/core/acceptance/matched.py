"""Measured events beside the plan's: each tied to its piece, missing and extra ones named, and what they mean."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from passerelle.core.acceptance.backscatter import (
    Pulse,
    Seen,
    Way,
    loss_before_db,
    pulse_m,
    scattered_share,
    told_apart,
)
from passerelle.core.acceptance.found import FoundEvent, end_to_end_db, find_events
from passerelle.core.acceptance.trace_lines import LEAST_STEP_DB, Measured
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.sources import Frozen

Verdict = Literal[
    "good",
    "too much loss",
    "reflects too much",
    "apparent gain",
    "hidden",
    "missing",
    "not in the plan",
    "echo",
    "ends early",
]
LEAST_GAIN_DB = 0.03
"""So much below nothing the mean of two directions may be by its own uncertainty, in dB; an estimate."""
LEAST_UNSURE_DB = 0.01
"""No loss by a trace is surer than this, in dB: what its record resolves and how straight fiber is; an estimate."""
FEW_SIGMAS = 3.0
"""A gain beyond so many standard errors is none of the noise."""


class TracedJoint(Frozen):
    """A joint of the plan, or an event without one (``element`` empty), with what the trace says of it.

    Places in m from the instrument; losses and reflectances in dB. ``words`` say what it is and what to do.
    """

    element: str
    kind: str
    planned_m: float | None
    at_m: float | None
    loss_db: float | None
    worst_db: float | None
    reflectance_db: float | None
    worst_reflectance_db: float | None
    verdict: Verdict
    words: str


class TraceJudged(Frozen):
    """A trace beside its plan: the joints, the loss from cord to cord, the length of the stretch by light (m).

    ``longer_m`` is how much longer it is than planned, ``unsure_m`` how sure that is; ``loss_unsure_db`` is that of
    the loss (two standard errors). ``ends_m`` is between what places in m from the start of the stretch the light
    ends where it ends early. ``return_loss_db`` is that of the whole way: what its reflections and its fiber send
    back. ``suspect`` is why nothing is to be taken into the plan from it, empty where that may be.
    """

    joints: tuple[TracedJoint, ...]
    loss_db: float | None
    length_m: float | None
    longer_m: float | None
    unsure_m: float
    return_loss_db: float | None
    words: tuple[str, ...]
    loss_unsure_db: float | None = None
    ends_m: tuple[float, float] | None = None
    suspect: str = ""


def traced(way: Way, pulse: Pulse, trace: Measured) -> TraceJudged:
    """What a measured trace says of the way that the plan has."""
    events = find_events(trace)
    planned = told_apart(way, pulse)
    end = events[-1] if events else None
    stretch_m = way.length_m - way.launch_m - way.receive_m
    figures = testing_figures().trace
    measured_m = end.at_m - way.launch_m - way.receive_m if end else None
    unsure = figures.index_uncertainty * way.length_m + trace.spacing_m + 0.5
    broken = measured_m is not None and measured_m < stretch_m * 0.98 - unsure - 2
    stretched = 1.0
    if measured_m and stretch_m > 0 and not broken:
        stretched = max(0.5, measured_m / stretch_m)
    joints = _joints(planned, events[:-1], way, trace, stretched, end, broken=broken)
    ends = _ends_m(end, way, trace) if broken and end is not None else None
    words = _words(measured_m, stretch_m, unsure, ends)
    loss = off = None
    if measured_m is not None and not broken and way.receive_m > 0 and way.launch_m > 0:
        told = end_to_end_db(trace, way.launch_m, measured_m, way.receive_m)
        loss, off = told if told is not None else (None, None)
    suspect = ""
    if loss is not None and off is not None and loss < -FEW_SIGMAS * off:
        suspect = (
            "From cord to cord it shows a gain, which no cable has: check the cords, then trace the other way."
        )
        words = (*words, suspect)
    elif any(joint.verdict == "apparent gain" for joint in joints):
        suspect = "It shows an apparent gain: trace from the other end before anything is taken from it."
    return TraceJudged(
        joints=joints,
        loss_db=loss,
        length_m=None if measured_m is None or broken else round(measured_m, 2),
        longer_m=None if measured_m is None or broken else round(measured_m - stretch_m, 2),
        unsure_m=round(unsure, 2),
        return_loss_db=return_loss_db(way, events),
        words=words,
        loss_unsure_db=None if off is None else round(max(LEAST_UNSURE_DB, 2 * off), 4),
        ends_m=ends,
        suspect=suspect,
    )


def _ends_m(end: FoundEvent, way: Way, trace: Measured) -> tuple[float, float]:
    """Between what places of the stretch the light ends, in m: by the pulse and the points, and by the index."""
    at = end.at_m - way.launch_m
    off = end.unsure_m + trace.spacing_m + testing_figures().trace.index_uncertainty * end.at_m
    return round(max(0.0, at - off), 1), round(max(0.0, at + off), 1)


def _words(
    measured_m: float | None, stretch_m: float, unsure: float, ends_m: tuple[float, float] | None
) -> tuple[str, ...]:
    if measured_m is None:
        return ("No event was found: the pulse is too short for this loss, or nothing is plugged.",)
    if ends_m is not None:
        near, far = ends_m
        middle = (near + far) / 2
        return (
            f"The light ends {middle:.0f} m into {stretch_m:.0f} m, between {near:.0f} and {far:.0f} m of fiber: "
            "broken, bent sharply or unplugged.",
        )
    figures = testing_figures().trace
    over = measured_m - stretch_m
    told = []
    if over > stretch_m * figures.overlength_most + unsure:
        told.append(
            f"longer way: by light it is {measured_m:.0f} m and planned {stretch_m:.0f} m, more than "
            "strands are longer "
            "than their sheath. Take the measured length into the plan: the limit follows."
        )
    elif over < -unsure - 0.01 * stretch_m:
        told.append(
            f"By light it is {measured_m:.0f} m and planned {stretch_m:.0f} m: shorter, or the group "
            "index is set wrong."
        )
    return tuple(told)


def _joints(
    planned: Sequence[Seen],
    events: Sequence[FoundEvent],
    way: Way,
    trace: Measured,
    stretched: float,
    end: FoundEvent | None,
    *,
    broken: bool,
) -> tuple[TracedJoint, ...]:
    tied = _tied(planned, events, way, trace, stretched)
    left = [event for event in events if event not in tied.values()]
    found: list[TracedJoint] = []
    for number, seen in enumerate(planned):
        expected = _place(seen, way, stretched)
        if broken and end is not None and expected > end.at_m:
            found.append(_told(seen, None, "missing", "It lies behind the break: nothing is known of it."))
        elif number in tied:
            inside = [
                other
                for at, other in enumerate(planned)
                if at > number and at not in tied and _place(other, way, stretched) < tied[number].clear_m
            ]
            found.append(_judged(seen, tied[number], inside, _parting_ns(seen, inside, way)))
        elif seen.behind:
            words = (
                f"Hidden in the dead zone of {seen.behind}: its loss is in that one. A shorter "
                "pulse tells them apart."
            )
            found.append(_told(seen, None, "hidden", words))
        else:
            least = _least_seen_db(trace, expected)
            small = seen.loss_db < max(0.1, least)
            words = f"Nothing is seen here; at this pulse and noise less than {least:.2f} dB does not show."
            found.append(_told(seen, None, "good" if small else "missing", words))
    found += [_extra(event) for event in left if event.ghost or _matters(event)]
    if broken and end is not None:
        words = "The light ends here, before the plan's end: broken, bent sharply, or a plug is out."
        found.append(
            TracedJoint(
                element="",
                kind="end",
                planned_m=None,
                at_m=round(end.at_m, 2),
                loss_db=None,
                worst_db=None,
                reflectance_db=end.reflectance_db,
                worst_reflectance_db=None,
                verdict="ends early",
                words=words,
            )
        )
    return tuple(sorted(found, key=lambda one: one.at_m if one.at_m is not None else one.planned_m or 0.0))


def _least_seen_db(trace: Measured, at_m: float) -> float:
    """The smallest step in dB that would show at a place: five standard errors of lines of two pulses beside it."""
    at = min(len(trace.noise_db) - 1, max(0, round(at_m / trace.spacing_m)))
    points = max(12, 2 * trace.pulse_points)
    return max(LEAST_STEP_DB, 5 * float(trace.noise_db[at]) * math.sqrt(8 / points))


def _place(seen: Seen, way: Way, stretched: float) -> float:
    """Where a joint should be in m, on a way that is longer or shorter than planned."""
    return way.launch_m + (seen.at_m - way.launch_m) * stretched


def _tied(
    planned: Sequence[Seen], events: Sequence[FoundEvent], way: Way, trace: Measured, stretched: float
) -> dict[int, FoundEvent]:
    """Events by the number of the joint that they belong to: the nearest first, a peak rather to a connection."""
    near = []
    for number, seen in enumerate(planned):
        expected = _place(seen, way, stretched)
        allowed = trace.pulse_m + 2 * trace.spacing_m + 1.5 + 0.004 * expected
        for event in (one for one in events if not one.ghost):
            away = abs(event.at_m - expected)
            unlike = (event.reflectance_db is not None) != (seen.kind == "connection")
            if away <= allowed and not seen.behind:
                near.append((away + 3.0 * unlike, number, event))
    tied: dict[int, FoundEvent] = {}
    for _, number, event in sorted(near, key=lambda one: one[:2]):
        if number not in tied and event not in tied.values():
            tied[number] = event
    return tied


def _matters(event: FoundEvent) -> bool:
    return (event.loss_db is not None and abs(event.loss_db) > 0.1) or event.peak_db > 1.0


def _parting_ns(seen: Seen, inside: Sequence[Seen], way: Way) -> int | None:
    """The longest usual pulse in ns that tells a joint from the next one; None where none does."""
    if not inside:
        return None
    apart = min(abs(other.at_m - seen.at_m) for other in inside)
    figures = testing_figures().trace
    fits = [ns for ns in figures.pulses_ns if pulse_m(ns, way.index) + figures.recovery_m <= apart]
    return max(fits, default=None)


def _judged(
    seen: Seen, event: FoundEvent, inside: Sequence[Seen] = (), parting_ns: int | None = None
) -> TracedJoint:
    """What an event says of a joint; joints ``inside`` its dead zone are in its loss, and their limits add up."""
    loss, worst = event.loss_db, seen.worst_db + sum(other.worst_db for other in inside)
    if inside:
        names = " and ".join([seen.element, *(other.element for other in inside)])
        seen = seen.model_copy(update={"worst_db": round(worst, 6)})
        told = _judged(seen, event)
        way_on = f"A pulse of {parting_ns} ns parts them." if parting_ns else "No usual pulse parts them."
        words = f"{told.words} One event to this pulse: {names}, held against the sum. {way_on}"
        return told.model_copy(update={"words": words.strip()})
    if loss is not None and loss < -FEW_SIGMAS * max(event.unsure_db or 0.0, 0.01):
        words = f"An apparent gain of {-loss:.2f} dB: no joint gains light. Trace it from the other end."
        return _told(seen, event, "apparent gain", words)
    if loss is not None and loss > worst + 1e-9:
        kind = "dirt or a scratch on a face, or a plug not seated" if seen.kind == "connection" else "a bad splice"
        words = f"{loss:.2f} dB where {seen.worst_db:.2f} dB are allowed: {kind}."
        if loss is not None and event.reflectance_db is not None and _bright(seen, event):
            words += f" It reflects {event.reflectance_db:.0f} dB: dirt."
        return _told(seen, event, "too much loss", words)
    if _bright(seen, event):
        words = (
            f"It reflects {event.reflectance_db:.0f} dB, {seen.worst_reflectance_db:.0f} dB are "
            "allowed: clean both faces."
        )
        return _told(seen, event, "reflects too much", words)
    if loss is None:
        return _told(
            seen, event, "hidden", "It is seen, and too near its neighbors for a loss: use a shorter pulse."
        )
    return _told(seen, event, "good", "")


def _bright(seen: Seen, event: FoundEvent) -> bool:
    limit = seen.worst_reflectance_db
    return event.reflectance_db is not None and limit is not None and event.reflectance_db > limit + 2


def _told(seen: Seen, event: FoundEvent | None, verdict: Verdict, words: str) -> TracedJoint:
    return TracedJoint(
        element=seen.element,
        kind=seen.kind,
        planned_m=round(seen.at_m, 2),
        at_m=None if event is None else round(event.at_m, 2),
        loss_db=None if event is None else event.loss_db,
        worst_db=seen.worst_db,
        reflectance_db=None if event is None else event.reflectance_db,
        worst_reflectance_db=seen.worst_reflectance_db,
        verdict=verdict,
        words=words,
    )


def _extra(event: FoundEvent) -> TracedJoint:
    if event.ghost:
        words = (
            "An echo of reflections before it, without a loss and at the sum of their distances: nothing is there."
        )
        return _without_plan(event, "connection", "echo", words)
    reflects = event.reflectance_db is not None and event.peak_db > 1.0
    words = "Not in the plan: a connection nobody wrote down, or a ghost of a strong reflection before it."
    if not reflects:
        words = (
            "Not in the plan: a bend, a tie or a splice nobody wrote down. Take the trace at the "
            "longer wavelength: "
            "a bend is worse there."
        )
        if event.loss_db is not None and event.loss_db < 0:
            words = "Not in the plan: an apparent gain, where the fiber behind scatters more. Trace the other way."
    return _without_plan(event, "connection" if reflects else "loss", "not in the plan", words)


def _without_plan(event: FoundEvent, kind: str, verdict: Verdict, words: str) -> TracedJoint:
    return TracedJoint(
        element="",
        kind=kind,
        planned_m=None,
        at_m=round(event.at_m, 2),
        loss_db=event.loss_db,
        worst_db=None,
        reflectance_db=event.reflectance_db,
        worst_reflectance_db=None,
        verdict=verdict,
        words=words,
    )


def return_loss_db(way: Way, events: Sequence[FoundEvent]) -> float | None:
    """What the whole way sends back of steady light, in dB: its fiber, and the reflections that were seen before
    the end of the receive cord. None without an event.
    """
    if not events:
        return None
    shared = scattered_share(way)
    for event in events[:-1]:
        if event.reflectance_db is not None and not event.ghost:
            shared += 10 ** ((event.reflectance_db - 2 * loss_before_db(way, event.at_m)) / 10)
    return round(-10 * math.log10(shared), 2)


class BothWays(Frozen):
    """A joint by both directions: the mean is its loss, half the difference what the fibers scatter unlike, in
    dB. A mean below nothing is never good: ``words`` say so.
    """

    element: str
    right_db: float
    left_db: float
    mean_db: float
    worst_db: float | None
    good: bool
    words: str = ""


def averaged(right: TraceJudged, left: TraceJudged) -> tuple[BothWays, ...]:
    """Each joint that both directions show, averaged: only so is the loss of a single joint known."""
    back = {joint.element: joint for joint in left.joints if joint.element and joint.loss_db is not None}
    found = []
    for joint in right.joints:
        other = back.get(joint.element)
        if other is None or joint.loss_db is None or other.loss_db is None:
            continue
        mean = round((joint.loss_db + other.loss_db) / 2, 4)
        gains = mean < -LEAST_GAIN_DB
        found.append(
            BothWays(
                element=joint.element,
                right_db=joint.loss_db,
                left_db=other.loss_db,
                mean_db=mean,
                worst_db=joint.worst_db,
                good=not gains and (joint.worst_db is None or mean <= joint.worst_db),
                words="Both directions together show a gain, which no joint has: trace it again." if gains else "",
            )
        )
    return tuple(found)
