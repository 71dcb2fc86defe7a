"""A trace that ends early, from its file to the place on the route where somebody opens or digs."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from passerelle.exchange.trace_record import Fixed, TraceRecord
from passerelle.exchange.trace_record_out import write_record
from passerelle.standins.receiver import Event, Piece, Plant, Receiver, received_db
from tests.api.steps import API
from tests.clock import day, time_of_day

LOCK = "Lock house, quay duct"
CORD_M, INDEX, SPACING_M = 300.0, 1.468, 0.25
BY = {"instrument": "OT-0129", "calibrated_on": day(-269), "operator": "crew 2", "place": "Harbor office"}


def record(break_m: float | None, *, backscatter: int = 815, seed: int = 5) -> bytes:
    """The file of a trace over the lock's cable (623 m between cords of 300 m), cut somewhere or whole."""
    far = CORD_M + (623.0 if break_m is None else break_m)
    lengths = [CORD_M, far - CORD_M, *([CORD_M] if break_m is None else [])]
    happened = [Event(0.2, -50.0), Event(200.0, None)] if break_m is not None else [Event(0.2, -50.0)] * 2
    if break_m is None:
        happened = [*happened, Event(200.0, -14.7)]
    plant = Plant(tuple(Piece(one, 0.00025, -81.5) for one in lengths), tuple(happened))
    receiver = Receiver(100, INDEX, SPACING_M, 20.0, 0.05, seed, points=6000)
    levels = received_db(plant, receiver)
    raw = np.clip(np.round((levels.max() - levels) * 1000), 0, 65_535).astype(np.uint16)
    spacing = round(SPACING_M / 299_792_458.0 * INDEX * 1e14)
    fixed = Fixed(spacings=(spacing,), counts=(len(raw),), range_time=40_000, backscatter=backscatter)
    return write_record(TraceRecord(fixed=replace(fixed, index=round(INDEX * 1e5)), raw=raw))


def traced(client: TestClient, body: bytes, direction: str = "right") -> Any:
    """The trace as it is shown, taken at the link of the lock."""
    rows = client.get(f"{API}/projects/1/links").json()
    number = next(row["id"] for row in rows if row["name"] == LOCK)
    proof = client.get(f"{API}/links/{number}/proof").json()["proof"]
    kept = client.post(f"{API}/projects/1/attachments", content=body).json()
    told = {"start": proof["start"], "end": proof["end"], "strand": proof["strands"][0]["near"]}
    told |= {"direction": direction, "launch_m": CORD_M, "receive_m": CORD_M, "file": kept["hash"], **BY}
    told |= {"taken_on": day(), "at_time": time_of_day(-10)}
    made = client.post(f"{API}/links/{number}/traces", json=told)
    assert made.status_code == 201, made.text
    key = made.json()["proof"]["traces"][-1]["key"]
    return client.get(f"{API}/links/{number}/traces/{key}").json()


@pytest.mark.parametrize("break_m", [411.5, 300.0, 100.0])
@pytest.mark.parametrize("direction", ["right", "left"])
def test_a_break_is_a_range_on_the_route_that_holds_the_truth(
    client: TestClient, break_m: float, direction: str
) -> None:
    """The strand is as long as its sheath here; 1.5 m of it are the pigtail, 60 m lie between office and pit."""
    view = traced(client, record(break_m), direction)
    dig = view["dig"]
    low, high = dig["fiber_m"]
    assert low <= break_m - 1.5 <= high
    assert high - low < 12
    near, far = dig["sheath_m"]
    assert near <= (break_m - 1.5) / 1.03 + 0.1
    assert far >= break_m - 1.5
    assert dig["near"] == ("Harbor office" if direction == "right" else "Lock house")
    held = [
        span["from_m"] - 0.1 <= where <= span["to_m"] + 0.1
        for span in dig["spans"]
        for where in [_in_span(span, break_m - 1.5, direction)]
    ]
    assert any(held)
    assert "The light ends" in view["judged"]["words"][0]


def _in_span(span: dict[str, Any], from_end_m: float, direction: str) -> float:
    """Where a place lies in a pathway, counted from the space at which the span begins."""
    lengths = [("Quay pit", 560.0)] if span["start"] in ("Quay pit", "Lock house") else [("Harbor office", 60.0)]
    first = 60.0 if direction == "right" else 560.0
    return from_end_m if span["length_m"] == pytest.approx(first) and lengths else from_end_m - first


def test_a_trace_to_the_far_end_leads_nowhere_to_dig(client: TestClient) -> None:
    view = traced(client, record(None))
    assert view["dig"] is None
    assert view["judged"]["ends_m"] is None
    assert view["judged"]["loss_unsure_db"] >= 0.01


def test_the_card_stands_on_the_certificate(client: TestClient) -> None:
    traced(client, record(411.5))
    rows = client.get(f"{API}/projects/1/links").json()
    number = next(row["id"] for row in rows if row["name"] == LOCK)
    body = client.get(f"{API}/links/{number}/certificate.pdf")
    assert (body.status_code, body.content[:5]) == (200, b"%PDF-")
    found = client.get(f"{API}/projects/1/results.json").json()
    assert any(link["link"] == LOCK for link in found["links"])


@pytest.mark.parametrize(
    ("backscatter", "by_record"), [(815, True), (650, True), (850, True), (649, False), (851, False), (0, False)]
)
def test_reflectance_is_by_the_record_where_its_backscatter_can_be(
    client: TestClient, backscatter: int, by_record: bool
) -> None:
    view = traced(client, record(None, backscatter=backscatter))
    warned = [words for words in view["warnings"] if "which no fiber has" in words]
    assert bool(warned) is not by_record
    near = next(one for one in view["judged"]["joints"] if one["reflectance_db"] is not None)
    own = -backscatter / 10 if by_record else -82.0
    assert near["reflectance_db"] == pytest.approx(-50.0 + own + 81.5, abs=1.2)
