"""Pulls through short ways and conduits, factory-made ends with their heads, colors that belong to the cable."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.errors import CatalogError, PlantError
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.closures import closure_sheet
from passerelle.core.plant.heads import passes_bend
from passerelle.core.plant.pull_sheet import PullSheet, pull_sheet
from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.riders import cable_uses, strand_map
from passerelle.core.plant.site import Plant, check_plant_names
from tests.core.plain import CATALOG, plain_link

PLACES = (
    Place(id="house", name="House"),
    Place(id="A", name="A", kind="room", within="house"),
    Place(id="B", name="B", kind="room", within="house"),
    Place(id="C", name="C", kind="room", within="house"),
    Place(id="shed", name="Shed"),
)
COLORS = CATALOG.marks.strands


def way(name: str, **more: Any) -> Way:
    ends = {"ab": ("A", "B"), "bc": ("B", "C"), "as": ("A", "shed")}[name]
    return Way.model_validate({"id": name, "name": name, "start": ends[0], "end": ends[1], "length_m": 20, **more})


def cable(*ways: str, **more: Any) -> Cable:
    base = {
        "id": "k",
        "name": "k",
        "ways": ways,
        "weight_kg_per_km": 100,
        "rated_tension_n": 5000,
        "state": "planned",
    }
    return Cable.model_validate({**base, **more})


def sheet(ways: tuple[Way, ...], pulled: Cable, *others: Cable) -> PullSheet:
    return pull_sheet(Plant(places=PLACES, ways=ways, cables=(pulled, *others)), ["k"], 0.35)


def breaking(found: PullSheet) -> str:
    return " ".join(w.what for w in found.warnings if w.breaks)


def test_a_way_of_no_length_keeps_its_bends() -> None:
    """500 N before 90° at a friction of 0.35 are 500 · e^(0.35 · π/2) = 866 N behind it, wherever it is noted."""
    metres = 500 / (0.1 * 9.80665 * 0.35)
    bend = way("bc", length_m=0, bends_deg=(90,))
    found = sheet((way("ab", length_m=metres), bend), cable("ab", "bc"))
    forwards = next(pull for pull in found.pulls if pull.direction == "forwards")
    assert forwards.tension_n == pytest.approx(500 * math.exp(0.35 * math.pi / 2))
    assert round(forwards.tension_n) == 866
    assert found.bends_deg == 90


@pytest.mark.parametrize(
    ("name", "kind", "limit"),
    [("ab", "conduit", "180°"), ("ab", "duct", "180°"), ("as", "duct", ""), ("as", "conduit", "180°")],
)
def test_a_pipe_inside_a_building_has_the_limit_of_buildings(name: str, kind: str, limit: str) -> None:
    found = sheet((way(name, kind=kind, bends_deg=(90, 90, 45)),), cable(name))
    assert ("at most 180°" in breaking(found)) is bool(limit)


@pytest.mark.parametrize(
    ("head_mm", "way_more", "words"),
    [
        (40, {"bore_mm": 32}, "does not enter"),
        (20, {"bore_mm": 32}, ""),
        (28, {"bore_mm": 32, "bends_deg": (90,), "bend_radius_m": 0.3}, "does not go round a bend"),
        (28, {"bore_mm": 32, "bends_deg": (90,), "bend_radius_m": 20}, ""),
    ],
)
def test_a_head_must_enter_and_go_round(head_mm: float, way_more: dict[str, Any], words: str) -> None:
    found = sheet(
        (way("ab", kind="conduit", **way_more),), cable("ab", head_mm=head_mm, head_length_mm=250, head_at="far")
    )
    assert words in breaking(found) if words else breaking(found) == ""


def test_a_head_passes_the_cable_that_lies_there_or_does_not() -> None:
    there = cable("ab", id="old", name="old", diameter_mm=15, state="existing")
    found = sheet((way("ab", kind="conduit", bore_mm=32),), cable("ab", head_mm=20, head_at="both"), there)
    assert "does not pass the cable of 15 mm" in breaking(found)


@given(st.floats(5, 60), st.floats(10, 400), st.floats(20, 100), st.floats(0.1, 5))
def test_a_smaller_head_passes_where_a_larger_one_does(d: float, length: float, bore: float, radius: float) -> None:
    if passes_bend(d, length, bore, radius):
        assert passes_bend(d * 0.9, length, bore, radius)
        assert passes_bend(d, length * 0.9, bore, radius)
        assert passes_bend(d, length, bore, radius * 2)
    assert not passes_bend(bore * 1.01, 1, bore, radius)


@pytest.mark.parametrize(("head_at", "start"), [("far", "A"), ("near", "C"), ("both", None)])
def test_the_end_with_the_head_leads(head_at: str, start: str | None) -> None:
    """Uphill and bent, one end is easier; a head at the other end decides all the same."""
    ways = (way("ab", length_m=50, bends_deg=(90, 90)), way("bc", rise_m=10))
    free = sheet(ways, cable("ab", "bc"))
    found = sheet(ways, cable("ab", "bc", head_at=head_at, head_mm=10))
    assert found.start_at == (start or free.start_at)
    assert found.pulls[0].direction == ("forwards" if found.start_at == "A" else "backwards")


def test_a_length_that_was_bought_too_short_is_told_before_the_pull() -> None:
    ways = (way("ab", kind="conduit"),)
    assert "5 m short" in breaking(
        sheet(ways, cable("ab", slack_m=5, sold_length_m=20, construction="trunk, pre-terminated"))
    )
    spare = sheet(ways, cable("ab", sold_length_m=25, construction="trunk, pre-terminated"))
    assert any("5 m of k are left" in w.what for w in spare.warnings)
    assert any("which end" in w.what for w in spare.warnings)


# Colors


def spots(**more: Any) -> list[tuple[int, str, int, str]]:
    one = cable("ab", **more)
    plant = Plant(places=PLACES, ways=(way("ab"),), cables=(one,))
    return [
        (r.tube, r.tube_color, r.position, r.color) for r in strand_map(one, cable_uses(plant, [])["k"], COLORS)
    ]


def test_beyond_twelve_a_color_repeats_with_a_tracer() -> None:
    """TIA-598: tube 13 of 288 strands is not the blue of tube 1."""
    rows = spots(strands=288)
    assert rows[0] == (1, "blue", 1, "blue")
    assert rows[144] == (13, "blue with tracer", 1, "blue")
    assert rows[287] == (24, "aqua with tracer", 12, "aqua")
    assert len({(tube, color) for tube, color, _, _ in rows}) == len({color for _, color, _, _ in rows}) == 24
    assert spots(strands=36, per_tube=36)[25][3] == "orange with 2 tracers"


def test_the_code_belongs_to_the_cable() -> None:
    sixteen = spots(strands=16, per_tube=16, color_code="TIA-598, units of 16")
    assert [color for *_, color in sixteen][12:] == ["lime", "tan", "olive", "magenta"]
    assert spots(strands=2, color_code="by number") == [(1, "", 1, ""), (1, "", 2, "")]
    odd = Plant(places=PLACES, ways=(way("ab"),), cables=(cable("ab", color_code="mine"),))
    with pytest.raises(PlantError, match="no color code is called 'mine'"):
        check_plant_names(odd, CATALOG)
    with pytest.raises(CatalogError):
        COLORS.code("mine")


def test_two_codes_are_spliced_by_number() -> None:
    link = plain_link()
    run = next(e for e in link.elements if isinstance(e, Run))
    at = link.elements.index(run)
    one = run.model_copy(update={"part": "k", "positions": (1, 2)})
    other = run.model_copy(update={"id": "run-2", "part": "m", "positions": (13, 14)})
    joined = link.model_copy(update={"elements": (*link.elements[:at], one, other, *link.elements[at + 1 :])})
    second = cable("bc", id="m", name="m", strands=24, color_code="by number", grouped_in="ribbons")
    plant = Plant(places=PLACES, ways=(way("ab"), way("bc")), cables=(cable("ab", strands=12), second))
    rows = {(r.cable, r.number): r for r in closure_sheet(plant, [joined], "B", COLORS).rows}
    assert rows["k", 1].does == "joined to strand 13 of m (ribbon 2, 1; another color code, splice by number)"
    assert rows["m", 13].grouped_in == "ribbons"
