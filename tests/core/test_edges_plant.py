"""Limits of pulls, ducts, strands and paths on both sides: the last value that holds, the first that does not."""

from __future__ import annotations

import math

import pytest

from passerelle.core.house import HouseRules
from passerelle.core.materials.lengths import cable_length
from passerelle.core.plant.capacity import capacity
from passerelle.core.plant.diversity import diverse_pair
from passerelle.core.plant.heads import head_warnings, passes_bend
from passerelle.core.plant.pull_sheet import PullSheet, pull_sheet
from passerelle.core.plant.pulling import GRAVITY_M_S2, Section, duct_fill, pull
from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.riders import CableUse
from passerelle.core.plant.site import Plant

PLACES = tuple(Place(id=name, name=name) for name in "ABCD")
WEIGHT_KG_PER_KM = 100.0
HANGING_N = 0.1 * GRAVITY_M_S2 * 100  # 100 m of it weigh 98.07 N


def way(name: str, ends: str, **more: object) -> Way:
    return Way.model_validate({"id": name, "name": name, "start": ends[0], "end": ends[1], "length_m": 20, **more})


def cable(**more: object) -> Cable:
    return Cable.model_validate({"id": "k", "name": "k", "ways": ("ab",), **more})


def test_a_rise_is_hauled_up_from_one_end_and_let_down_from_the_other() -> None:
    """60 m in 100 m (sine 0.6, cosine 0.8) at a friction of 0.5: up 98.07·(0.4 + 0.6) N, down 98.07·(0.4 - 0.6)."""
    slope = [Section(length_m=100, rise_m=60)]
    up = pull(slope, WEIGHT_KG_PER_KM, 0.5, reel_n=50)
    down = pull(slope, WEIGHT_KG_PER_KM, 0.5, reel_n=50, direction="backwards")
    assert up.steps[0].after_straight_n == pytest.approx(50 + HANGING_N)
    assert down.steps[0].after_straight_n == pytest.approx(50 - 0.2 * HANGING_N)
    fallen = pull(slope, WEIGHT_KG_PER_KM, 0.5, direction="backwards")
    assert fallen.tension_n == 0  # it runs by itself: never less than nothing


def test_a_bend_at_the_end_is_the_last_thing_forwards_and_the_first_backwards() -> None:
    """e^(0.5·π/2) = 2.193: forwards it multiplies what the straight made, backwards only the 50 N of the reel."""
    factor = math.exp(0.5 * math.pi / 2)
    bent = [Section(length_m=100, bend_deg=90, bend_radius_m=0.5)]
    forwards = pull(bent, WEIGHT_KG_PER_KM, 0.5, reel_n=50)
    backwards = pull(bent, WEIGHT_KG_PER_KM, 0.5, reel_n=50, direction="backwards")
    assert forwards.tension_n == pytest.approx((50 + 0.5 * HANGING_N) * factor)
    assert backwards.tension_n == pytest.approx(50 * factor + 0.5 * HANGING_N)
    assert forwards.sidewall_n_per_m == pytest.approx(forwards.steps[0].after_bend_n / 0.5)
    assert backwards.sidewall_n_per_m == pytest.approx(50 * factor / 0.5)


def test_a_duct_is_full_at_its_share_and_over_it_a_hair_later() -> None:
    """53, 31 and 40 % for one, two, more: one cable of √0.53 of the bore keeps it, one of √0.5301 does not."""
    for count, limit in ((1, 0.53), (2, 0.31), (3, 0.40), (5, 0.40)):
        kept = duct_fill([100 * math.sqrt(limit / count)] * count, 100)
        over = duct_fill([100 * math.sqrt((limit + 1e-4) / count)] * count, 100)
        assert (kept.limit, kept.kept, over.kept) == (limit, True, False)


def test_a_way_that_falls_takes_as_much_cable_as_one_that_rises() -> None:
    ways = (way("ab", "AB", rise_m=5), way("bc", "BC", rise_m=-3))
    plant = Plant(places=PLACES, ways=ways, cables=(cable(ways=("ab", "bc")),))
    house = HouseRules(end_slack_m=4, termination_waste_m=1, test_waste_m=0.5)
    found = cable_length(plant.cables[0], plant, house)
    assert (found.way_m, found.climbs_m, found.laid_m) == (40, 8, 40 + 8 + 2 * 4)
    assert found.total_m == 40 + 8 + 8 + 2 * 1 + 0.5


def test_a_head_goes_round_a_bend_up_to_its_length() -> None:
    """Bore 50 mm at 0.5 m, head 30 mm: √(525² - 505²) = 143.5 mm to each side, so 287 mm pass and 288 mm do not."""
    assert passes_bend(30, 287, 50, 0.5)
    assert not passes_bend(30, 288, 50, 0.5)
    assert not passes_bend(30, 10, 50, 0.02)  # a bend tighter than the bore is wide


@pytest.mark.parametrize(("head_mm", "breaks"), [(17, False), (17.1, True)])
def test_a_head_must_pass_the_thickest_cable_that_lies_there(head_mm: float, breaks: bool) -> None:
    """32 mm of bore less a cable of 15 mm leave 17 mm, whatever thinner ones lie beside it."""
    duct = way("ab", "AB", kind="duct", bore_mm=32)
    there = tuple(cable(id=f"old {mm}", name="old", diameter_mm=mm, state="existing") for mm in (5, 15, 8))
    head = cable(construction="trunk, pre-terminated", head_mm=head_mm, head_length_mm=100, head_at="both")
    plant = Plant(places=PLACES, ways=(duct,), cables=(*there, head))
    assert any(one.breaks for one in head_warnings(head, (duct,), plant)) is breaks


def use_of(one: Cable, *taken: int) -> dict[str, CableUse]:
    free = one.strands - len(taken)
    use = CableUse(
        cable="k",
        strands=one.strands,
        taken=dict.fromkeys(taken, "x"),
        dead=one.dead,
        reserved=one.reserved,
        free=free,
    )
    return {"k": use}


@pytest.mark.parametrize(("reserved", "promised", "spare"), [(5, 5, 1), (6, 6, 0), (8, 6, 0)])
def test_dead_strands_are_never_promised(reserved: int, promised: int, spare: int) -> None:
    """Of twelve strands two are used and four dead: six are left to be promised."""
    one = cable(strands=12, dead=(9, 10, 11, 12), reserved=reserved)
    plant = Plant(places=PLACES, ways=(way("ab", "AB"),), cables=(one,))
    found = capacity(plant, use_of(one, 1, 2), 0, 10, 0).cables[0]
    assert (found.used, found.dead, found.promised, found.spare) == (2, 4, promised, spare)


def test_spares_keep_the_rule_at_exactly_their_share() -> None:
    for strands, keeps in ((12, True), (11, False)):
        one = cable(strands=strands)
        plant = Plant(places=PLACES, ways=(way("ab", "AB"),), cables=(one,))
        assert capacity(plant, use_of(one, *range(1, 11)), 0, 10, 20).cables[0].keeps_rule is keeps


@pytest.mark.parametrize("order", [(0, 1, 2), (2, 1, 0), (1, 2, 0)])
def test_the_shorter_of_two_paths_comes_first_however_they_are_listed(order: tuple[int, ...]) -> None:
    ways = (way("ac", "AC", length_m=60), way("cb", "CB", length_m=70), way("ab", "AB", length_m=200))
    found = diverse_pair(Plant(places=PLACES, ways=tuple(ways[n] for n in order)), "A", "B")
    assert found is not None
    assert (found.ways, found.lengths_m) == ((("ac", "cb"), ("ab",)), (130, 200))
    other = diverse_pair(Plant(places=PLACES, ways=(ways[0], ways[1], way("ab", "AB", length_m=100))), "A", "B")
    assert other is not None
    assert (other.ways, other.lengths_m) == ((("ab",), ("ac", "cb")), (100, 130))


def pulled(way_more: dict[str, object], **cable_more: object) -> PullSheet:
    """The sheet of a pull of 100 kg/km through a duct of 400 m at a friction of 0.25: 98.07 N without a bend."""
    duct = way("ab", "AB", length_m=400, kind="duct", **way_more)
    one = cable(weight_kg_per_km=WEIGHT_KG_PER_KM, **{"rated_tension_n": 1000, **cable_more})
    return pull_sheet(Plant(places=PLACES, ways=(duct,), cables=(one,)), ["k"], 0.25)


def test_bends_that_nobody_entered_are_not_none() -> None:
    """e^(0.25·π/2) = 1.48 for each further 90°; a 0 says that there is none."""
    unknown, none = pulled({}), pulled({"bends_deg": (0,)})
    assert unknown.most_n == none.most_n == pytest.approx((HANGING_N, HANGING_N))
    assert (unknown.no_bends, none.no_bends) == (("ab",), ())
    assert unknown.quarter_turn == pytest.approx(1.48, abs=5e-3)
    told = [one.what for one in unknown.warnings if "not entered" in one.what]
    assert len(told) == 1
    assert "Each further 90° multiplies it by 1.48 at a friction of 0.25" in told[0]
    assert not any("not entered" in one.what for one in none.warnings)
    assert none.bends_deg == 0


@pytest.mark.parametrize("bends", [(270,), (90, 180), (90, 90, 90)])
def test_bends_without_places_count_at_the_end_that_is_pulled(bends: tuple[float, ...]) -> None:
    """400 m and 270°: 98.07·e^(0.25·3π/2) = 318.5 N however they are listed; spread evenly it would be less."""
    if max(bends) > 180:
        bends = (180, 90)
    sheet = pulled({"bends_deg": bends, "start": "A", "end": "B"})
    assert sheet.most_n == pytest.approx((HANGING_N * math.exp(0.25 * 1.5 * math.pi),) * 2)
    assert sheet.pulls[0].tension_n < sheet.most_n[0]


@pytest.mark.parametrize(("rated_n", "breaks"), [(318.6, False), (318.4, True)])
def test_a_rating_is_held_against_the_most_that_the_bends_can_make(rated_n: float, breaks: bool) -> None:
    """Spread evenly it would be 225.6 N: both ratings would seem to hold."""
    sheet = pulled({"bends_deg": (90, 90, 90)}, rated_tension_n=rated_n)
    assert any(one.breaks and "add a pull point" in one.what for one in sheet.warnings) is breaks


def test_the_easier_end_is_the_one_that_has_the_bends_behind_the_pull() -> None:
    """300 m straight, then 20 m with 180°: fed at the far end the bends multiply the 4.9 N of 20 m, not 78.5 N."""
    ways = (
        way("ab", "AB", length_m=300, kind="duct", bends_deg=(0,)),
        way("bc", "BC", length_m=20, kind="duct", bends_deg=(90, 90)),
    )
    one = cable(ways=("ab", "bc"), weight_kg_per_km=WEIGHT_KG_PER_KM)
    sheet = pull_sheet(Plant(places=PLACES, ways=ways, cables=(one,)), ["k"], 0.25)
    assert sheet.start_at == "C"
    turned = math.exp(0.25 * math.pi)
    forwards = (0.25 * 3.2 * HANGING_N) * turned  # all 320 m, then both bends
    backwards = 0.25 * 0.2 * HANGING_N * turned + 0.25 * 3 * HANGING_N
    assert sheet.most_n == pytest.approx((backwards, forwards))


@pytest.mark.parametrize(("rise_m", "up", "down"), [(10, "forwards", "backwards"), (-10, "backwards", "forwards")])
def test_bends_before_a_fall_pull_harder_than_behind_it(rise_m: float, up: str, down: str) -> None:
    """100 m level make 24.5 N, 10 m of height 9.8 N: up (24.5 + 9.8)·e^(μπ/2), down the bend is before the fall."""
    ways = (way("ab", "AB", length_m=100, kind="duct", rise_m=rise_m, bends_deg=(90,)),)
    one = cable(weight_kg_per_km=WEIGHT_KG_PER_KM)
    sheet = pull_sheet(Plant(places=PLACES, ways=ways, cables=(one,)), ["k"], 0.25)
    level_n, height_n, turned = 0.25 * HANGING_N, 0.1 * HANGING_N, math.exp(0.25 * math.pi / 2)
    most = {one.direction: value for one, value in zip(sheet.pulls, sheet.most_n, strict=True)}
    assert most[up] == pytest.approx((level_n + height_n) * turned)  # type: ignore[index]
    assert most[down] == pytest.approx(level_n * turned)  # type: ignore[index]


@pytest.mark.parametrize(("radius_mm", "breaks"), [(940, False), (945, True)])
def test_pressure_at_a_bend_is_that_of_the_hardest_place(radius_mm: float, breaks: bool) -> None:
    """318.5 N at a bend of 0.3 m press 1062 N/m; 1000 N over 0.94 m are 1064 N/m, over 0.945 m 1058."""
    more = {"bend_radius_loaded_mm": radius_mm}
    sheet = pulled({"bends_deg": (90, 90, 90), "bend_radius_m": 0.3}, **more)
    assert any(one.breaks and "on the side" in one.what for one in sheet.warnings) is breaks
