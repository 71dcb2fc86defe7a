"""Where things are on a trace: ends, breaks, echoes, steps too near each other, by two makers of traces."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scripts.trace_finder import PULSES, Count, drawn, judge

from passerelle.core.acceptance.backscatter import Joint, Section, Way, pulses
from passerelle.core.acceptance.fault_location import dig_range, dig_words, sheath_range_m
from passerelle.core.acceptance.found import FoundEvent, end_to_end_db, find_events
from passerelle.core.acceptance.matched import TracedJoint, TraceJudged, averaged, traced
from passerelle.core.acceptance.stretch import permanent_link
from passerelle.core.acceptance.trace_lines import Measured
from passerelle.core.link.compose import compose
from passerelle.demo.network import demo_project
from passerelle.standins.receiver import Event, Piece, Plant, Receiver, ghosts_m, received_db
from tests.core.plain import CATALOG
from tests.depth import examples

PER_M, K = 0.00022, -81.0


def plant(
    *events: tuple[float, float, float | None], end_m: float, end_db: float | None, port: float = -45.0
) -> Plant:
    """A fiber with events at their places in m (loss in dB, reflectance), and its end."""
    places = [*(at for at, *_ in events), end_m]
    lengths = np.diff([0.0, *places])
    happened = [*(Event(loss, bright) for _, loss, bright in events), Event(200.0, end_db)]
    return Plant(tuple(Piece(float(one), PER_M, K) for one in lengths), tuple(happened), port)


def received(of: Plant, pulse_ns: float, *, spacing_m: float = 0.5, tail: float = 0.06, seed: int = 3) -> Measured:
    receiver = Receiver(pulse_ns, 1.468, spacing_m, 14 + 1.5 * np.log2(pulse_ns / 3), tail, seed)
    return Measured(received_db(of, receiver), spacing_m, pulse_ns, 1.468, K)


@pytest.mark.parametrize("pulse_ns", [30, 100, 300, 1000, 3000])
@pytest.mark.parametrize("tail", [0.02, 0.06, 0.10])
def test_a_reflecting_end_is_where_its_light_begins_to_rise(pulse_ns: int, tail: float) -> None:
    trace = received(plant((1500.0, 0.3, -48.0), end_m=8200.0, end_db=-14.7), pulse_ns, tail=tail)
    events = find_events(trace)
    assert events[-1].at_m == pytest.approx(8200.0, abs=max(2 * trace.spacing_m, 0.1 * trace.pulse_m))
    assert [round(one.at_m, -1) for one in events[:-1]] == [1500.0]
    assert all(one.loss_db is None or one.loss_db > -0.02 for one in events)


@pytest.mark.parametrize("pulse_ns", [10, 30, 100, 300, 1000])
@pytest.mark.parametrize("tail", [0.02, 0.10])
def test_a_break_without_reflection_is_within_a_quarter_pulse(pulse_ns: int, tail: float) -> None:
    trace = received(plant((150.0, 0.3, -50.0), end_m=3200.0, end_db=None), pulse_ns, spacing_m=0.25, tail=tail)
    end = find_events(trace)[-1]
    assert end.end
    assert end.at_m == pytest.approx(3200.0, abs=max(2 * trace.spacing_m, 0.25 * trace.pulse_m))
    assert abs(end.at_m - 3200.0) <= end.unsure_m


@settings(max_examples=examples(25))
@given(st.sampled_from([30, 100, 300, 1000]), st.floats(-55, -30), st.integers(0, 10_000))
def test_the_port_of_the_instrument_makes_no_event_and_no_gain(pulse_ns: int, port_db: float, seed: int) -> None:
    trace = received(plant(end_m=9000.0, end_db=-35.0, port=port_db), pulse_ns, seed=seed)
    assert [one.end for one in find_events(trace)] == [True]


@pytest.mark.parametrize("at_m", [1200.0, 2500.0])
def test_an_echo_is_told_and_is_no_event(at_m: float) -> None:
    """A strong reflection and a strong port: its light comes back once more, twice as far away."""
    of = plant((at_m, 0.3, -22.0), end_m=7000.0, end_db=-35.0, port=-20.0)
    assert ghosts_m(of) == (2 * at_m,)
    events = find_events(received(of, 100))
    echo = next(one for one in events if abs(one.at_m - 2 * at_m) < 3)
    assert echo.ghost
    assert [one.ghost for one in events if one is not echo] == [False, False]
    silent = find_events(received(replace(of, port_db=-60.0), 100))
    assert all(abs(one.at_m - 2 * at_m) > 3 for one in silent)


@settings(max_examples=examples(25))
@given(st.floats(0.05, 2.0), st.floats(700, 3000), st.sampled_from([10, 30, 100]), st.floats(0.02, 0.1))
def test_a_lone_step_is_right_in_place_and_loss(loss_db: float, at_m: float, pulse_ns: int, tail: float) -> None:
    trace = received(plant((at_m, loss_db, None), end_m=4000.0, end_db=-35.0), pulse_ns, tail=tail)
    step, _ = find_events(trace)
    assert step.loss_db == pytest.approx(loss_db, abs=max(0.005, 3 * (step.unsure_db or 0)))
    assert abs(step.at_m - at_m) <= max(step.unsure_m, trace.pulse_m * 0.5 + 2 * trace.spacing_m)


@pytest.mark.parametrize("apart", [0.3, 0.8, 1.0])
def test_steps_nearer_than_a_pulse_are_one_event_with_the_sum(apart: float) -> None:
    first = 2000.0
    of = plant((first, 0.3, None), (first + apart * 10.2, 0.5, None), end_m=5000.0, end_db=-35.0)
    events = find_events(received(of, 100))
    assert len(events) == 2
    assert events[0].loss_db == pytest.approx(0.8, abs=0.02)


@pytest.mark.parametrize("maker", ["first", "second"])
def test_what_can_be_resolved_is_found_and_nothing_else(maker: str) -> None:
    """Seeds of their own, apart from those by which the finder was tuned."""
    count = Count()
    for pulse in PULSES:
        for seed in range(5000, 5000 + examples(10)):
            one = drawn(maker, pulse, seed)
            judge(one, find_events(one.trace), count)
    assert count.found >= 0.985 * count.events, count
    assert count.false <= max(1, count.traces // 50), count
    assert count.off <= 0.02 * count.losses, count
    assert count.ends_off <= 0.03 * count.ends, count


@pytest.mark.parametrize("receive_m", [300.0, 900.0])
def test_the_loss_from_cord_to_cord_is_within_what_it_says(receive_m: float) -> None:
    of = plant((300.0, 0.4, -48.0), (1700.0, 0.2, None), (2300.0, 0.3, -50.0), end_m=2300 + receive_m, end_db=-14.7)
    for seed in range(8):
        found = end_to_end_db(received(of, 100, seed=seed), 300.0, 2000.0, receive_m)
        assert found is not None
        loss, off = found
        assert loss == pytest.approx(0.9 + 2000 * PER_M, abs=max(0.01, 3 * off))
    assert end_to_end_db(received(of, 3000), 300.0, 2000.0, 300.0) is None, "the cords are too short for the pulse"


def way(*joints: tuple[str, float, float, str]) -> Way:
    """2 km between cords of 300 m: name, place in the run, most loss, kind."""
    near = Joint("near", 300.0, 0.2, 0.5, "connection", -50.0, -45.0)
    far = Joint("far", 2300.0, 0.2, 0.5, "connection", -50.0, -45.0)
    inner = [Joint(name, 300 + at, 0.1, worst, kind, None, None) for name, at, worst, kind in joints]  # type: ignore[arg-type]
    cord = Section("launch", 300.0, PER_M, K)
    sections = (cord, Section("run", 2000.0, PER_M, K), replace(cord, element="receive"))
    return Way(sections, (near, *inner, far), 300.0, 300.0, 1.468)


def judged(of: Way, trace: Measured) -> TraceJudged:
    return traced(of, next(one for one in pulses(of, 15.0) if one.pulse_ns == trace.pulse_ns), trace)


def on_way(*events: tuple[float, float, float | None], end: float | None = -14.7) -> Plant:
    ends = ((300.0, 0.2, -50.0), *((300 + at, loss, bright) for at, loss, bright in events), (2300.0, 0.2, -50.0))
    return plant(*ends, end_m=2600.0, end_db=end)


def test_two_joints_of_one_event_are_held_against_the_sum_of_their_limits() -> None:
    of = way(("s1", 900.0, 0.3, "splice"), ("s2", 906.0, 0.3, "splice"))
    within = judged(of, received(on_way((900.0, 0.25, None), (906.0, 0.25, None)), 100))
    beyond = judged(of, received(on_way((900.0, 0.35, None), (906.0, 0.35, None)), 100))
    first, second = (next(j for j in one.joints if j.element == "s1") for one in (within, beyond))
    assert (first.verdict, first.worst_db, "s1 and s2" in first.words) == ("good", 0.6, True)
    assert "A pulse of 10 ns parts them" in first.words, "6 m: 1 m of pulse and 4 m of recovery"
    assert second.verdict == "too much loss"
    assert next(j for j in within.joints if j.element == "s2").verdict == "hidden"


def test_a_gain_is_never_good_and_nothing_is_taken_from_its_trace() -> None:
    of = way(("s1", 900.0, 0.3, "splice"))
    told = judged(of, received(on_way((900.0, -0.2, None)), 100))
    joint = next(one for one in told.joints if one.element == "s1")
    assert (joint.verdict, "other end" in joint.words) == ("apparent gain", True)
    assert "from the other end" in told.suspect
    assert judged(of, received(on_way((900.0, 0.1, None)), 100)).suspect == ""
    whole = judged(of, received(on_way((900.0, -2.0, None)), 100))
    assert (whole.loss_db or 0) < 0
    assert "From cord to cord it shows a gain" in whole.suspect


@pytest.mark.parametrize(
    ("mean", "good"), [(0.1, True), (0.0, True), (-0.02, True), (-0.04, False), (-24.0, False)]
)
def test_the_mean_of_both_directions_below_nothing_is_never_good(mean: float, good: bool) -> None:
    def one(loss: float) -> TraceJudged:
        joint = TracedJoint(
            element="s1", kind="splice", planned_m=1.0, at_m=1.0, loss_db=loss, worst_db=0.3, reflectance_db=None,
            worst_reflectance_db=None, verdict="good", words="",
        )  # fmt: skip
        return TraceJudged(
            joints=(joint,), loss_db=1.0, length_m=1.0, longer_m=0.0, unsure_m=1.0, return_loss_db=None, words=()
        )

    (found,) = averaged(one(mean + 0.3), one(mean - 0.3))
    assert found.good is good
    assert bool(found.words) is not good


def test_an_echo_on_a_link_is_no_connection_nobody_wrote_down() -> None:
    bright = plant((300.0, 0.2, -22.0), (2300.0, 0.2, -50.0), end_m=2600.0, end_db=-14.7, port=-18.0)
    found = [one for one in judged(way(), received(bright, 100)).joints if not one.element]
    assert [(one.verdict, one.at_m) for one in found] == [("echo", pytest.approx(600.0, abs=2))]


def test_where_to_dig_is_a_range_between_two_spaces() -> None:
    """The lock's cable goes 60 m from the office to the quay pit, then 560 m to the lock house."""
    links, site = demo_project()
    link = next(one for one in links if one.name == "Lock house, quay duct")
    stretch = permanent_link(compose(link, CATALOG))
    assert stretch is not None
    found = dig_range(link, stretch, (411.5, 421.5), "right", site)
    assert found is not None
    assert (found.cable, found.near) == ("Lock, by the quay", "Harbor office")
    assert found.fiber_m == (410.0, 420.0), "the pigtail is no part of the cable"
    assert found.sheath_m == (round(410 / 1.03, 1), 420.0)
    (span,) = found.spans
    assert (span.pathway, span.start, span.end) == ("Quay duct to the lock", "Quay pit", "Lock house")
    assert (span.from_m, span.to_m) == (round(410 / 1.03, 1) - 60, 360.0)
    assert "In Quay duct to the lock" in dig_words(found)[1]
    back = dig_range(link, stretch, (11.5, 21.5), "left", site)
    assert back is not None
    assert (back.near, back.spans[0].start) == ("Lock house", "Lock house")
    across = dig_range(link, stretch, (60.0, 66.0), "right", site)
    assert across is not None
    assert [one.end for one in across.spans] == ["Quay pit", "Lock house"]


@given(st.floats(0, 1e5), st.floats(0, 500))
def test_the_sheath_of_a_range_of_fiber_holds_every_helix(low: float, width: float) -> None:
    found = sheath_range_m((low, low + width))
    for share in (0.0, 0.01, 0.03):
        assert found[0] - 0.06 <= (low + width / 2) / (1 + share) <= found[1] + 0.06


def test_noise_alone_holds_nothing() -> None:
    rng = np.random.default_rng(5)
    events: tuple[FoundEvent, ...] = find_events(Measured(rng.normal(-50, 2, 4000), 0.5, 30, 1.468, K))
    assert len(events) <= 1


@pytest.mark.parametrize(("loss_db", "verdict"), [(0.02, "good"), (0.25, "missing")])
def test_a_joint_that_does_not_show_is_good_only_where_it_could_not_be_seen(loss_db: float, verdict: str) -> None:
    of = way(("s1", 900.0, 0.3, "splice"))
    of = replace(of, joints=tuple(replace(j, loss_db=loss_db) if j.element == "s1" else j for j in of.joints))
    joint = next(one for one in judged(of, received(on_way(), 100)).joints if one.element == "s1")
    assert joint.verdict == verdict
    assert "does not show" in joint.words
