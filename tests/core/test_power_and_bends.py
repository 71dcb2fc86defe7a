"""Remote power and bends by hand, bundles and pulls in stages."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.catalog.plant_figures import Conductor, plant_figures
from passerelle.core.errors import PlantError
from passerelle.core.plant.bending import bend_loss
from passerelle.core.plant.pull_sheet import pull_sheet
from passerelle.core.plant.pulling import GRAVITY_M_S2
from passerelle.core.plant.records import Cable, Device, Place, Way
from passerelle.core.plant.remote_power import (
    Feed,
    class_for,
    end_voltage,
    fed,
    feeds,
    longest_m,
    loop_ohm,
    switch_power,
)
from passerelle.core.plant.site import Plant
from passerelle.core.plant.wiring import Pairs, device_pairs
from passerelle.core.sources import derived

BY_NAME = {conductor.name: conductor for conductor in plant_figures().conductors}


@pytest.mark.parametrize(
    ("source_v", "loop", "load_w", "volts"),
    [
        (48, 0, 100, 48),
        (48, 4, 80, 40),  # 40 V at 2 A: 8 V over 4 Ω
        (24, 2, 40, 20),  # 20 V at 2 A: 4 V over 2 Ω
        (12, 1, 20, 10),  # 10 V at 2 A: 2 V over 1 Ω
        (48, 14.4, 40, 24),  # half of the supply: the most that can be passed
        (48, 14.41, 40, None),  # a little more resistance and no voltage settles
        (230, 15, 400, 200),  # 200 V at 2 A: 30 V over 15 Ω
    ],
)
def test_end_voltage_by_hand(source_v: float, loop: float, load_w: float, volts: float | None) -> None:
    """The higher root of V² − V_s·V + P·R = 0: Ohm's and Joule's laws for a load of constant power."""
    found = end_voltage(source_v, loop, load_w)
    assert found == (None if volts is None else pytest.approx(volts, abs=0.05))


def test_copper_resists_more_when_it_is_hot() -> None:
    """IEC 60228: 1.5 mm² has at most 12.1 Ω/km at 20 °C; IEC 60028: 0.393 % a kelvin."""
    assert loop_ohm(BY_NAME["1.5 mm²"], 500, 20) == pytest.approx(12.1)
    assert loop_ohm(BY_NAME["1.5 mm²"], 500, 70) == pytest.approx(12.1 * 1.1965)
    assert BY_NAME["AWG 24"].ohm_per_km == pytest.approx(93.8)  # TIA-568.2-D: 9.38 Ω per 100 m at most


def test_every_size_of_conductor_has_its_greatest_resistance_not_the_ideal_one() -> None:
    for conductor in BY_NAME.values():
        ideal = 0.017241 / conductor.area_mm2 * 1000
        assert 1.04 <= conductor.ohm_per_km / ideal <= 1.15, conductor.name


def test_a_device_whose_needs_are_not_known_is_answered_and_never_passed() -> None:
    open_ones = feeds(Feed(source_v=48, length_m=10, peak_w=15, source_max_a=5, rated_a=10))
    assert {row.verdict for row in open_ones} <= {"unknown", "fail"}
    assert any("what the device needs not checked" in row.why for row in open_ones)


def test_a_voltage_that_holds_is_no_pass_while_a_current_limit_is_not_known() -> None:
    feed = Feed(source_v=48, length_m=100, peak_w=40, device_min_v=36)
    assert fed(feed, BY_NAME["2.5 mm²"]).verdict == "unknown"
    known = feed.model_copy(update={"source_max_a": 2.0, "rated_a": 10.0})
    assert fed(known, BY_NAME["2.5 mm²"]).verdict == "pass"
    assert "the supply gives 0.5 A" in fed(known.model_copy(update={"source_max_a": 0.5}), BY_NAME["2.5 mm²"]).why
    far = fed(known.model_copy(update={"length_m": 900}), BY_NAME["0.5 mm²"])
    assert (far.verdict, far.peak_v) == ("fail", None)
    at_peak = fed(known.model_copy(update={"typical_w": 5.0, "length_m": 300}), BY_NAME["1 mm²"])
    assert (at_peak.verdict, "arrives at the peak" in at_peak.why) == ("fail", True)
    assert at_peak.typical_v is not None
    assert at_peak.typical_v > 36


@given(
    st.floats(10, 400),
    st.floats(0.5, 500),
    st.floats(0, 0.98),
    st.sampled_from(sorted(BY_NAME)),
    st.none() | st.floats(0.1, 20),
)
def test_the_longest_run_is_where_it_just_works(
    volts: float, watts: float, share: float, size: str, amperes: float | None
) -> None:
    feed = Feed(
        source_v=volts, length_m=0, peak_w=watts, device_min_v=volts * share, source_max_a=amperes, rated_a=50
    )
    reach = longest_m(feed, BY_NAME[size])
    assert reach is not None
    if 0.01 < reach < 9e5:
        inside, beyond = (
            fed(feed.model_copy(update={"length_m": reach * f}), BY_NAME[size]) for f in (0.999, 1.001)
        )
        assert inside.verdict != "fail"
        assert beyond.verdict == "fail"


def test_power_over_pairs_by_class_and_by_switch() -> None:
    """IEEE 802.3, power classes: 12.95 W is class 3, 13 W class 4, 71.3 W class 8, more is none."""
    assert [getattr(class_for(w), "name", None) for w in (3, 12.95, 13, 71.3, 72)] == [
        "class 1",
        "class 3",
        "class 4",
        "class 8",
        None,
    ]
    camera = Device(id="a", name="camera", place="x", count=2, typical_w=6, peak_w=12)
    heater = Device(id="b", name="heater", place="x", typical_w=60, peak_w=90)
    far = camera.model_copy(update={"id": "c", "name": "far"})
    found = switch_power([Pairs(camera, 100), Pairs(heater, 5), Pairs(far, 140)], budget_w=50)
    assert [row.works for row in found.devices] == [True, False, False]
    volts = (44 + math.sqrt(44 * 44 - 4 * 12 * 20)) / 2  # 20 Ω of loop, 44 V at the port
    assert found.devices[0].port_w == pytest.approx(12 * 44 / volts)
    assert "beyond the 100 m" in found.devices[2].why
    assert found.kept is False
    assert switch_power([Pairs(camera, 0)]).peak_w == 24


def camera(**more: object) -> Device:
    return Device.model_validate({"id": "c", "name": "camera", "place": "x", **more})


def test_a_switch_reserves_by_class_whatever_is_drawn() -> None:
    """Six of class 5 and two of class 8 reserve 6 · 45 + 2 · 90 = 450 W: a supply of 370 W is not enough."""
    devices = [
        Pairs(camera(count=6, power_class="class 5", peak_w=30), 40),
        Pairs(camera(count=2, power_class="class 8", peak_w=60), 40),
    ]
    found = switch_power(devices, 370)
    assert (found.reserved_w, found.kept) == (450, False)
    assert found.peak_w < 370
    assert [row.asked_by for row in found.devices] == ["class at the switch"] * 2
    assert switch_power(devices, 450).kept is True
    by_watts = switch_power([Pairs(camera(count=6, peak_w=40), 40)], 260).devices[0]
    assert (by_watts.power_class, by_watts.asked_by, by_watts.reserved_w) == ("class 5", "W at the device", 45)


@pytest.mark.parametrize(
    ("more", "length_m", "works"),
    [
        ({"power_class": "class 8"}, 100, True),  # 90 W is what the switch reserves, 71.3 W what arrives
        ({"peak_w": 90}, 10, False),
        ({"peak_w": 90, "extended_power": True}, 10, False),  # the port itself would give more than 90 W
        ({"peak_w": 80}, 20, False),
        ({"peak_w": 80, "extended_power": True}, 20, True),  # 1.25 Ω: 83 W at the port
        ({"peak_w": 80, "extended_power": True}, 100, False),
        ({"peak_w": 60, "power_class": "class 5"}, 20, False),  # class 5 gives 40 W
        ({}, 20, None),
    ],
)
def test_watts_at_the_device_are_not_the_class_at_the_switch(
    more: dict[str, object], length_m: float, works: bool | None
) -> None:
    """IEEE 802.3, classes 5 to 8 give a device 40, 51, 62 and 71.3 W."""
    row = switch_power([Pairs(camera(**more), length_m)], 200).devices[0]
    assert row.works is works
    assert works is True or row.why


def test_pairs_between_poles_get_their_caution() -> None:
    over, under = (
        Plant(
            places=PLACES,
            ways=(Way(id="ab", name="ab", start="A", end="B", kind=kind, length_m=60),),
            devices=(camera(place="B", fed_from="A", power_class="class 4"),),
        )
        for kind in ("aerial", "tray")
    )
    hung, lying = (switch_power(device_pairs(plant)["A"]).devices[0] for plant in (over, under))
    assert "surges" in hung.caution
    assert "licensed people decide" in hung.caution
    assert lying.caution == ""


@pytest.mark.parametrize(
    ("grade", "radius", "loss", "certainty"),
    [
        ("OS2", 30, 0.001, "listed"),  # G.652.D: 0.1 dB for 100 turns at 1625 nm
        ("OS2", 15, None, "not specified"),
        ("OS2 (G.657.A1)", 10, 1.5, "listed"),
        ("OS2 (G.657.A1)", 12, 1.5, "between listed radii"),
        ("OS2 (G.657.A2)", 7.5, 1.0, "listed"),
        ("OM3", 37.5, 0.005, "listed"),
    ],
)
def test_one_turn_by_its_class(grade: str, radius: float, loss: float | None, certainty: str) -> None:
    """ITU-T G.652 and G.657, IEC 60793-2-10."""
    found = bend_loss(grade, radius)
    assert (found.loss_db, found.certainty) == (None if loss is None else pytest.approx(loss), certainty)


PLACES = tuple(Place(id=name, name=name) for name in "ABC")
KEPT = {"diameter_mm": 10.0, "weight_kg_per_km": 100.0, "rated_tension_n": 1000.0}


def test_a_bundle_weighs_what_its_cables_weigh_and_its_weakest_rules() -> None:
    way = Way(id="ab", name="ab", start="A", end="B", length_m=400)
    strong = Cable.model_validate({"id": "s", "name": "s", "ways": ("ab",), **KEPT})
    weak = Cable.model_validate({"id": "w", "name": "w", "ways": ("ab",), **KEPT, "rated_tension_n": 150})
    plant = Plant(places=PLACES, ways=(way,), cables=(strong, weak))
    alone, both = pull_sheet(plant, ["s"], 0.25), pull_sheet(plant, ["s", "w"], 0.25)
    assert alone.pulls[0].tension_n == pytest.approx(0.1 * GRAVITY_M_S2 * 400 * 0.25)
    assert both.pulls[0].tension_n == pytest.approx(2 * alone.pulls[0].tension_n)
    assert both.rated_tension_n == 150
    assert any(w.breaks and "the weakest being w" in w.what for w in both.warnings)
    other = plant.changed(ways=(way, Way(id="bc", name="bc", start="B", end="C", length_m=1)))
    other = other.changed(cables=(strong, weak.model_copy(update={"ways": ("bc",)})))
    with pytest.raises(PlantError, match="not lie in the same ways"):
        pull_sheet(other, ["s", "w"])


def test_pull_points_split_a_pull_that_is_too_hard_or_too_bent() -> None:
    bent = Way(
        id="ab", name="duct", start="A", end="B", length_m=400, bends_deg=(90, 90, 90, 90, 90), pull_points_m=(200,)
    )
    cable = Cable.model_validate({"id": "k", "name": "k", "ways": ("ab",), **KEPT, "rated_tension_n": 5000})
    sheet = pull_sheet(Plant(places=PLACES, ways=(bent,), cables=(cable,)), ["k"])
    assert any(w.breaks and "450°" in w.what for w in sheet.warnings)
    assert [(s.start, s.end, s.length_m) for s in sheet.stages] == [
        ("A", "pull point at 200 m of duct", 200),
        ("pull point at 200 m of duct", "B", 200),
    ]
    assert sum(stage.bends_deg for stage in sheet.stages) == 450
    assert all(stage.kept for stage in sheet.stages)
    straight = bent.model_copy(update={"bends_deg": ()})
    assert pull_sheet(Plant(places=PLACES, ways=(straight,), cables=(cable,)), ["k"]).stages == ()


@given(
    st.lists(st.sampled_from([15.0, 45.0, 90.0]), max_size=5),
    st.lists(st.floats(1, 299), max_size=4),
    st.floats(-20, 20),
    st.booleans(),
)
def test_pull_points_change_no_tension_of_a_pull_in_one(
    bends: list[float], points: list[float], rise_m: float, turned: bool
) -> None:
    """Where a cable could be taken out does not matter while it is not: length, bends and tension stay."""
    ends = ("B", "A") if turned else ("A", "B")
    plain = Way(id="ab", name="ab", start=ends[0], end=ends[1], length_m=300, rise_m=rise_m, bends_deg=tuple(bends))
    onward = Way(id="bc", name="bc", start="B", end="C", length_m=10)
    cable = Cable.model_validate({"id": "k", "name": "k", "ways": ("ab", "bc"), **KEPT})
    sheets = [
        pull_sheet(Plant(places=PLACES, ways=(way, onward), cables=(cable,)), ["k"])
        for way in (plain, plain.model_copy(update={"pull_points_m": tuple(sorted(points))}))
    ]
    assert sheets[0].bends_deg == pytest.approx(sheets[1].bends_deg)
    for one, other in zip(*(sheet.pulls for sheet in sheets), strict=True):
        assert (one.direction, one.tension_n) == (other.direction, pytest.approx(other.tension_n))


def test_a_bend_tighter_than_the_cable_may_lie_is_told_with_its_loss_and_its_pressure() -> None:
    tight = Way(id="ab", name="ab", start="A", end="B", length_m=100, bends_deg=(90,), bend_radius_m=0.03)
    cable = Cable.model_validate({"id": "k", "name": "k", "ways": ("ab",), "fiber": ("OS2",), **KEPT})
    sheet = pull_sheet(Plant(places=PLACES, ways=(tight,), cables=(cable,)), ["k"])
    assert [(loss.grade, loss.radius_mm) for loss in sheet.bend_losses] == [("OS2", 30)]
    pressed = cable.model_copy(update={"rated_tension_n": 40, "bend_radius_loaded_mm": 200})
    strained = pull_sheet(Plant(places=PLACES, ways=(tight,), cables=(pressed,)), ["k"])
    assert any(w.breaks and "on the side" in w.what for w in strained.warnings)


def test_every_power_figure_has_a_source() -> None:
    assert all(c.source.clause or c.source.estimate for c in BY_NAME.values())
    assert Conductor(name="x", area_mm2=1, ohm_per_km=1, source=derived("x")).source.derived
