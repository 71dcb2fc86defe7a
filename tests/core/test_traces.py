"""The expected trace, what a pulse tells apart, and what is found in traces that were made by another formula."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.acceptance.backscatter import (
    Joint,
    Section,
    Way,
    apparent_loss_db,
    best_pulse,
    cords_m,
    expected_db,
    pulse_m,
    pulses,
    thinned,
    told_apart,
)
from passerelle.core.acceptance.found import find_events
from passerelle.core.acceptance.lengths import light_from_sheath, sheath_from_light
from passerelle.core.acceptance.matched import TraceJudged, averaged, traced
from passerelle.core.acceptance.trace_lines import Measured
from passerelle.standins.pulse import Fiber, Shot, Spot, returned_db
from tests.depth import examples

K = -82.0
INDEX = 1.4682


def way(*joints: tuple[str, float, float], length_m: float = 2000.0, cord_m: float = 150.0) -> Way:
    """A run between two cords with joints: kind, place from the start of the run, loss."""
    made = [Joint("near", cord_m, 0.2, 0.5, "connection", -48.0, -45.0)]
    for number, (kind, at, loss) in enumerate(joints, start=1):
        reflects = (-48.0, -45.0) if kind == "connection" else (None, None)
        made.append(Joint(f"{kind}-{number}", cord_m + at, loss, 0.3, kind, *reflects))  # type: ignore[arg-type]
    made.append(Joint("far", cord_m + length_m, 0.2, 0.5, "connection", -48.0, -45.0))
    cord = Section("launch", cord_m, 0.0002, K)
    run = Section("run", length_m, 0.0002, K)
    return Way((cord, run, replace(cord, element="receive")), tuple(made), cord_m, cord_m, INDEX)


def shot(of: Way, *, pulse_ns: float = 30, extra: tuple[Spot, ...] = (), length_m: float | None = None) -> Measured:
    """A trace of a way as light makes it, with what is not in the plan."""
    length = length_m if length_m is not None else of.length_m - of.launch_m - of.receive_m
    fibers = [Fiber(of.launch_m, 0.0002, K), Fiber(length, 0.0002, K), Fiber(of.receive_m, 0.0002, K)]
    stretched = length / (of.length_m - of.launch_m - of.receive_m)
    spots = [Spot(0.0, 0.0, -45.0)]
    for joint in of.joints:
        at = of.launch_m + (joint.at_m - of.launch_m) * stretched
        spots.append(Spot(at, joint.loss_db, joint.reflectance_db))
    spots += [*extra, Spot(of.launch_m + length + of.receive_m, 200.0, -14.7)]
    given_shot = Shot(pulse_ns, 15.0, INDEX, (of.launch_m + length + of.receive_m) * 1.3 + 50, 7)
    levels = returned_db(fibers, sorted(spots, key=lambda spot: spot.at_m), given_shot)
    return Measured(levels, given_shot.range_m / len(levels), pulse_ns, INDEX, K)


def judged(of: Way, trace: Measured) -> TraceJudged:
    pulse = next(one for one in pulses(of, 15.0) if one.pulse_ns == trace.pulse_ns)
    return traced(of, pulse, trace)


PLAIN = way(("splice", 900.0, 0.15))


def test_the_expected_trace_is_the_clean_backscatter_with_its_steps() -> None:
    """Far from any event the level is (K + 10 log W)/2 less the loss so far."""
    at = np.array([100.0, 1000.0, 1800.0])
    found = expected_db(PLAIN, 30, at, 1e6)
    lost = np.array([100 * 0.0002, 1000 * 0.0002 + 0.2, 1800 * 0.0002 + 0.2 + 0.15])
    assert found == pytest.approx((K + 10 * np.log10(30)) / 2 - lost, abs=0.01)
    assert pulse_m(100, 1.468) == pytest.approx(10.2, abs=0.02)


def test_the_plan_and_light_agree_on_a_healthy_way() -> None:
    trace = shot(PLAIN)
    distances = np.arange(len(trace.levels_db)) * trace.spacing_m
    expected = expected_db(PLAIN, 30, distances)
    clear = (distances > 20) & (distances < PLAIN.length_m - 30)
    for joint in PLAIN.joints:
        clear &= np.abs(distances - joint.at_m) > 30
    off = (expected - trace.levels_db)[clear]
    assert np.abs(off - np.median(off)).max() < 0.12
    found = judged(PLAIN, trace)
    assert [joint.verdict for joint in found.joints] == ["good"] * 3
    assert found.loss_db == pytest.approx(2000 * 0.0002 + 0.2 + 0.15 + 0.2, abs=0.05)
    assert found.longer_m == pytest.approx(0, abs=2)
    assert found.return_loss_db is not None
    assert 30 < found.return_loss_db < 45


@settings(max_examples=examples(25))
@given(st.floats(0.15, 1.5), st.floats(400, 1600))
def test_a_loss_that_no_plan_knows_is_found_where_it_is(loss_db: float, at_m: float) -> None:
    extra = Spot(150 + at_m, loss_db, None)
    plain = way()
    found = [joint for joint in judged(plain, shot(plain, extra=(extra,))).joints if not joint.element]
    assert [joint.verdict for joint in found] == ["not in the plan"]
    assert found[0].at_m == pytest.approx(150 + at_m, abs=4)
    assert found[0].loss_db == pytest.approx(loss_db, abs=0.06)


def test_each_fault_alone_is_told_by_the_trace() -> None:
    bad = replace(PLAIN.joints[1], loss_db=0.9)
    spliced = replace(PLAIN, joints=(PLAIN.joints[0], bad, PLAIN.joints[2]))
    told = {j.element: j.verdict for j in judged(PLAIN, shot(spliced)).joints}
    assert told["splice-1"] == "too much loss"
    dirty = replace(PLAIN.joints[0], loss_db=1.2, reflectance_db=-30.0)
    face = judged(PLAIN, shot(replace(PLAIN, joints=(dirty, *PLAIN.joints[1:]))))
    near = next(joint for joint in face.joints if joint.element == "near")
    assert (near.verdict, "dirt" in near.words) == ("too much loss", True)
    longer = judged(PLAIN, shot(PLAIN, length_m=2300.0))
    assert longer.longer_m == pytest.approx(300, abs=3)
    assert "longer way" in longer.words[0]
    broken = judged(PLAIN, shot(PLAIN, extra=(Spot(150 + 1200, 200.0, -40.0),)))
    assert "ends 1200 m into" in broken.words[0]
    assert {joint.verdict for joint in broken.joints} >= {"ends early", "missing"}
    assert broken.loss_db is None


def test_a_joint_in_a_dead_zone_is_named_with_what_hides_it_and_a_shorter_pulse_shows_it() -> None:
    close = way(("splice", 12.0, 0.2))
    long, short = (next(p for p in pulses(close, 15) if p.pulse_ns == ns) for ns in (100, 10))
    assert [seen.behind for seen in told_apart(close, long)] == ["", "near", ""]
    assert [seen.behind for seen in told_apart(close, short)] == ["", "", ""]
    hidden = traced(close, long, shot(close, pulse_ns=100)).joints[1]
    assert (hidden.element, hidden.verdict) == ("splice-1", "hidden")
    assert "near" in hidden.words


def test_the_shortest_pulse_that_reaches_is_taken_and_cords_grow_with_it() -> None:
    near, far = way(length_m=500), way(length_m=60_000)
    assert best_pulse(near, 15).pulse_ns < best_pulse(far, 15).pulse_ns
    assert cords_m("single-mode", best_pulse(near, 15)) == 150
    assert cords_m("single-mode", best_pulse(far, 15)) >= 3 * best_pulse(far, 15).loss_dead_m


@given(st.floats(-0.5, 1.0), st.floats(-2, 2))
def test_a_gainer_goes_away_in_the_mean_of_both_directions(loss_db: float, unlike_db: float) -> None:
    there = apparent_loss_db(loss_db, K, K + unlike_db)
    back = apparent_loss_db(loss_db, K + unlike_db, K)
    assert (there + back) / 2 == pytest.approx(loss_db, abs=1e-6)


def test_both_directions_are_averaged_joint_by_joint() -> None:
    right = judged(PLAIN, shot(PLAIN))
    left = right.model_copy(
        update={"joints": tuple(j.model_copy(update={"loss_db": (j.loss_db or 0) + 0.4}) for j in right.joints)}
    )
    for one, joint in zip(averaged(right, left), right.joints, strict=True):
        assert one.mean_db == pytest.approx((joint.loss_db or 0) + 0.2, abs=1e-3)


def test_noise_alone_holds_no_event_and_a_thinned_trace_keeps_its_peaks() -> None:
    rng = np.random.default_rng(5)
    noise = Measured(rng.normal(-50, 2, 4000), 0.5, 30, INDEX, K)
    assert len(find_events(noise)) <= 1
    x, y = np.arange(50_000.0), np.zeros(50_000)
    y[31_234] = 9.0
    kept = thinned(x, y)
    assert len(kept) < 1000
    assert (31_234.0, 9.0) in kept


@given(st.floats(10, 50_000))
def test_light_and_sheath_are_converted_there_and_back(metres: float) -> None:
    assert light_from_sheath(sheath_from_light(metres).length_m).length_m == pytest.approx(metres, rel=1e-4)
    assert sheath_from_light(metres).unsure_m > 0
