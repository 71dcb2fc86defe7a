"""Acceptance: readings judged at once, trace records read, events found, an expected trace computed."""

from __future__ import annotations

import statistics
import time
from binascii import crc_hqx
from collections.abc import Callable

import numpy as np
from trace_finder import table
from trace_finder import words as words_of

from passerelle.core.acceptance.backscatter import expected_db
from passerelle.core.acceptance.found import filtered, find_events
from passerelle.core.acceptance.judgement import judged
from passerelle.core.acceptance.trace_lines import Measured
from passerelle.core.acceptance.tracing import tracing
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.trace_record import Fixed, TraceRecord
from passerelle.exchange.trace_record_in import read_record
from passerelle.exchange.trace_record_out import write_record
from passerelle.standins.pulse import Fiber, Shot, Spot, returned_db

READINGS, RECORDS, POINTS = 100_000, 500, 16_000
FIELDS_BEFORE_POINTS = 32_010


def timed(work: Callable[[], object], runs: int = 5) -> float:
    """The middle of some runs, in seconds."""
    found = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def plain_judge(values: list[float], limits: list[float], unsure: list[float], least: list[float]) -> list[int]:
    """The same rule, one reading after another."""
    found = []
    for value, limit, off, low in zip(values, limits, unsure, least, strict=True):
        margin = round(limit - value, 6)
        if margin < 0:
            found.append(0)
        elif round(value - low, 6) < 0:
            found.append(1)
        elif margin == 0 or margin < round(off, 6):
            found.append(2)
        else:
            found.append(3)
    return found


def judgement() -> tuple[str, bool]:
    """100,000 readings, all different, against the loop."""
    rng = np.random.default_rng(1)
    columns = [rng.uniform(*span, READINGS) for span in ((0, 4), (1, 4), (0.05, 0.4), (0, 1))]
    lists = [column.tolist() for column in columns]
    assert judged(*columns).tolist() == plain_judge(*lists)
    fast, slow = timed(lambda: judged(*columns)), timed(lambda: plain_judge(*lists))
    told = f"{fast * 1e3:.1f} ms, plain loop {slow * 1e3:.0f} ms: {slow / fast:.0f} x (aim 20)"
    return f"100,000 readings judged: {told}", slow / fast >= 20


def traces() -> list[np.ndarray]:
    """Traces of ways with one splice and one bend each, no two alike."""
    found = []
    rng = np.random.default_rng(2)
    for number in range(25):
        length = float(rng.uniform(800, 4000))
        spots = [
            Spot(0.0, 0.0, -45.0),
            Spot(150.0, float(rng.uniform(0.05, 0.5)), -48.0),
            Spot(150 + length * float(rng.uniform(0.2, 0.8)), float(rng.uniform(0.1, 0.8)), None),
            Spot(150 + length, float(rng.uniform(0.05, 0.5)), -48.0),
            Spot(300 + length, 200.0, -14.7),
        ]
        shot = Shot(30, 15, 1.468, length * 1.3 + 400, number)
        found.append(returned_db([Fiber(length + 300, 0.00025, -82.0)], spots, shot))
    return found


def records(levels: list[np.ndarray]) -> tuple[str, bool]:
    """500 records of 16,000 points against the bare read of the same bytes with its checksum."""
    bodies = []
    for one in levels:
        raw = np.clip(np.round((one.max() - one) * 1000), 0, 65_535).astype(np.uint16)
        fixed = Fixed(spacings=(500_000,), counts=(POINTS,), range_time=40_000)
        bodies.append(write_record(TraceRecord(fixed=fixed, raw=raw)))
    bodies = bodies * (RECORDS // len(bodies))
    offset = len(bodies[0]) - FIELDS_BEFORE_POINTS

    def bare() -> None:
        for body in bodies:
            crc_hqx(body, 0xFFFF)
            np.frombuffer(body, dtype="<u2", count=POINTS, offset=offset) * -0.001

    def whole() -> None:
        for body in bodies:
            assert len(read_record(body).levels_db) == POINTS

    mine, plain = timed(whole), timed(bare)
    told = f"{mine * 1e3:.0f} ms, bare read {plain * 1e3:.0f} ms: {mine / plain:.1f} x (at most 3)"
    return f"500 records read: {told}", mine / plain <= 3


def events(levels: list[np.ndarray]) -> str:
    """Event finding on 500 traces against the bare running mean."""
    made = [Measured(one, 0.3, 30, 1.468, -82.0) for one in levels] * (RECORDS // len(levels))
    assert all(len(find_events(trace)) >= 2 for trace in made[: len(levels)])
    mine = timed(lambda: [find_events(trace) for trace in made], 3)
    plain = timed(lambda: [filtered(trace.levels_db, 11) for trace in made], 3)
    return f"events of 500 traces: {mine:.2f} s, bare filter {plain:.2f} s: {mine / plain:.0f} x"


def finder() -> tuple[str, bool]:
    """What is found of 1,000 traces of both makers, and the aims: found, false events, losses, ends."""
    told = table(range(10_000, 10_100))
    print("\n".join(words_of(told)))
    events, found, false, traces = (sum(getattr(one, name) for one in told.values()) for name in _COUNTED)
    kept = found >= 0.99 * events and false <= traces / 50
    return (
        f"{found} of {events} resolvable events found, {false} false on {traces} traces (aim 99 %, 1 in 50)",
        kept,
    )


_COUNTED = ("events", "found", "false", "traces")


def expected() -> str:
    """The expected trace of the demo's longest link, planned anew with another length each time."""
    link = next(one for one in demo_links() if one.name == "Pump house")
    grid = np.linspace(0, 36_000, 4000)
    lengths = iter(np.linspace(20_000, 40_000, 200).tolist())

    def one() -> None:
        planned = tracing(link, load_catalog(), HouseRules(), 1550, "right", lengths_m={"run-1": next(lengths)})
        expected_db(planned.way, planned.pulse.pulse_ns, grid)

    one()
    return f"expected trace of 34 km, another length: {timed(one, 21) * 1e3:.1f} ms"


def acceptance() -> list[tuple[str, bool]]:
    """All five; the first three have a mark to keep."""
    levels = traces()
    told = [judgement(), records(levels), finder()]
    print(events(levels))
    print(expected())
    return told


if __name__ == "__main__":
    for words, kept in acceptance():
        print(words, "" if kept else "MISSED")
