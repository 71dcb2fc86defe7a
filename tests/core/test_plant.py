"""Places, ways, cables and strands: what must hold, what one cut takes down, fill and tension by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from passerelle.core.errors import PlantError
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.outages import Rider, outage_of, outages, parts_of, shared
from passerelle.core.plant.pull_sheet import pull_sheet
from passerelle.core.plant.pulling import GRAVITY_M_S2, Section, both_ways, duct_fill, pull
from passerelle.core.plant.records import Cable, Place, Way, cable_path
from passerelle.core.plant.riders import cable_uses, check_taken, free_strands, laid, off_plant, strand_map
from passerelle.core.plant.site import Plant, cable_length_m
from passerelle.demo.plant import demo_plant
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

PLACES = tuple(Place(id=name, name=name) for name in "ABCD")
WAYS = (
    Way(id="ab", name="ab", start="A", end="B", length_m=100, rise_m=-6),
    Way(id="bc", name="bc", start="C", end="B", length_m=50),
    Way(id="cd", name="cd", start="C", end="D", length_m=25),
)


def plant_with(*cables: Cable) -> Plant:
    return Plant(places=PLACES, ways=WAYS, cables=cables)


@pytest.mark.parametrize(
    ("change", "hint"),
    [
        ({"places": (*PLACES, PLACES[0])}, "two rows of places have the id 'A'"),
        ({"places": (Place(id="A", name="A", within="Z"),)}, "no place 'Z' around A"),
        ({"places": (Place(id="A", name="A", within="B"), Place(id="B", name="B", within="A"))}, "inside itself"),
        ({"ways": (Way(id="x", name="x", start="A", end="Z", length_m=1),)}, "no place 'Z'"),
        ({"ways": (Way(id="x", name="x", start="A", end="A", length_m=1),)}, "back to where it starts"),
        ({"cables": (Cable(id="k", name="k", ways=("ab", "cd")),)}, "do not follow each other"),
        ({"cables": (Cable(id="k", name="k", ways=("ab", "zz")),)}, "no way 'zz'"),
        ({"cables": (Cable(id="k", name="k", ways=("ab", "ab")),)}, "passes 'ab' twice"),
        ({"cables": (Cable(id="k", name="k", ways=("ab",), strands=4, dead=(5,)),)}, "there is no 5"),
    ],
)
def test_a_plant_that_contradicts_itself_is_refused(change: dict[str, object], hint: str) -> None:
    with pytest.raises((ValidationError, PlantError), match=hint):
        Plant.model_validate({"places": PLACES, "ways": WAYS, **change})


def test_a_cable_is_as_long_as_its_ways_rises_and_slack() -> None:
    cable = Cable(id="k", name="k", ways=("ab", "bc", "cd"), slack_m=9)
    plant = plant_with(cable)
    assert cable_path(cable, plant.way_of) == ("A", "B", "C", "D")
    assert cable_length_m(cable, plant) == 100 + 6 + 50 + 25 + 9


def riding(cable: str, *strands: int, name: str = "link") -> object:
    link = plain_link()
    elements = tuple(
        e.model_copy(update={"part": cable, "positions": strands}) if isinstance(e, Run) else e
        for e in link.elements
    )
    return link.model_copy(update={"elements": elements, "name": name})


def test_a_link_takes_length_and_glass_from_its_cable() -> None:
    plant = plant_with(Cable(id="k", name="k", ways=("ab",), fiber=("OM3", "OM4"), construction="loose tube, duct"))
    run = next(e for e in laid(riding("k", 1, 2), plant).elements if isinstance(e, Run))  # type: ignore[arg-type]
    assert (run.length_m, run.fiber, run.construction) == (106, ("OM3", "OM4"), "loose tube, duct")
    with pytest.raises(PlantError, match="rides on the cable 'gone'"):
        laid(riding("gone", 1, 2), plant)  # type: ignore[arg-type]
    assert off_plant(riding("k", 1, 2)) == plain_link().model_copy(update={"name": "link"})  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("links", "hint"),
    [
        (
            [riding("k", 1, 2, name="one"), riding("k", 2, 3, name="two")],
            "strand 2 of k would carry both one and two",
        ),
        ([riding("k", 4, 5)], "strand 4 of k is dead"),
        ([riding("k", 5, 9)], "strand 9 of k: the cable has 1 to 6"),
    ],
)
def test_a_strand_carries_one_link_or_none(links: list[object], hint: str) -> None:
    plant = plant_with(Cable(id="k", name="k", ways=("ab",), strands=6, dead=(4,)))
    with pytest.raises(PlantError, match=hint):
        check_taken(links, plant)  # type: ignore[arg-type]


def test_free_strands_leave_the_dead_and_the_growth_alone() -> None:
    plant = plant_with(Cable(id="k", name="k", ways=("ab",), strands=8, dead=(3,), reserved=2))
    links = [riding("k", 1, 2)]
    assert free_strands(plant, links, "k", 2) == (4, 5)  # type: ignore[arg-type]
    use = cable_uses(plant, links)["k"]  # type: ignore[arg-type]
    assert (len(use.taken), use.free) == (2, 3)
    with pytest.raises(PlantError, match="3 strands free of 8"):
        free_strands(plant, links, "k", 4)  # type: ignore[arg-type]


def test_the_two_ways_to_the_lock_are_not_diverse() -> None:
    plant = demo_plant()
    quay = Rider(2, "quay", "Harbor office", "Lock house", 1000, ("lock quay",))
    dike = Rider(3, "dike", "Harbor office", "Lock house", 10000, ("lock dike",))
    found = shared(quay, dike, plant)
    assert not found.diverse
    assert (found.ways, found.places, found.cables) == (("quay 0",), ("quay pit",), ())
    by_part = {(o.kind, o.id): o for o in outages(plant, [quay, dike])}
    assert set(by_part["way", "quay 0"].dark) == {"Harbor office", "Lock house"}
    assert {(e.place, e.dark, e.left_mbps) for e in by_part["way", "dike"].ends} == {
        ("Harbor office", False, 1000),
        ("Lock house", False, 1000),
    }


@st.composite
def campuses(draw: st.DrawFn) -> tuple[Plant, list[Rider]]:
    count = draw(st.integers(2, 7))
    names = [f"p{i}" for i in range(count)]
    ends = draw(st.lists(st.tuples(st.sampled_from(names), st.sampled_from(names)), min_size=1, max_size=10))
    ways = [Way(id=f"w{i}", name=f"w{i}", start=a, end=b, length_m=10) for i, (a, b) in enumerate(ends) if a != b]
    cables = []
    for number in range(draw(st.integers(0, 6)) if ways else 0):
        walk = [draw(st.sampled_from(ways))]
        at = walk[0].end
        while len(walk) < 4:
            onward = [w for w in ways if at in (w.start, w.end) and w not in walk]
            if not onward or draw(st.booleans()):
                break
            walk.append(draw(st.sampled_from(onward)))
            at = walk[-1].end if walk[-1].start == at else walk[-1].start
        cables.append(Cable(id=f"c{number}", name=f"c{number}", ways=tuple(w.id for w in walk)))
    plant = Plant(places=tuple(Place(id=n, name=n) for n in names), ways=tuple(ways), cables=tuple(cables))
    riders = [
        Rider(i, f"l{i}", "core", draw(st.sampled_from(names)), 1000 * (i + 1), (cable.id,))
        for i, cable in enumerate(cables)
    ]
    return plant, riders


@settings(max_examples=examples(80))
@given(campuses())
def test_all_outages_are_those_of_cutting_each_element(campus: tuple[Plant, list[Rider]]) -> None:
    plant, riders = campus
    found = {(o.kind, o.id): o for o in outages(plant, riders)}
    everything = {part for rider in riders for part in parts_of(rider, plant)}
    assert set(found) == everything
    for part in everything:
        plain = outage_of(part, plant, riders)
        assert set(found[part].links) == set(plain.links)
        assert {(e.place, e.dark, e.left_mbps) for e in found[part].ends} == {
            (e.place, e.dark, e.left_mbps) for e in plain.ends
        }


@pytest.mark.parametrize(
    ("diameters", "bore", "share", "limit", "kept"),
    [
        ([14.0], 20, 0.49, 0.53, True),
        ([15.0], 20, 0.5625, 0.53, False),
        ([10.0, 5.0], 20, 0.3125, 0.31, False),
        ([6.0, 6.0, 6.0], 18, 1 / 3, 0.40, True),
        ([10.5, 10.5, 9, 9, 10.5, 8], 32, 556.75 / 1024, 0.40, False),
    ],
)
def test_fill_by_hand(diameters: list[float], bore: float, share: float, limit: float, kept: bool) -> None:
    """Areas against NFPA 70, Chapter 9, Table 1: 53, 31 and 40 %."""
    found = duct_fill(diameters, bore)
    assert (found.share, found.limit, found.kept) == (pytest.approx(share), limit, kept)
    assert not found.binding
    assert duct_fill(diameters, bore, with_power=True).binding


W = 0.2 * GRAVITY_M_S2  # 200 kg/km in N/m


@pytest.mark.parametrize(
    ("sections", "friction", "tension_n"),
    [
        ([Section(length_m=100)], 0.25, W * 100 * 0.25),
        ([Section(length_m=100, bend_deg=90)], 0.25, W * 25 * math.exp(0.25 * math.pi / 2)),
        ([Section(length_m=100, rise_m=100)], 0.25, W * 100),
        ([Section(length_m=100, bend_deg=90), Section(length_m=60)], 0.5, W * 50 * math.exp(math.pi / 4) + W * 30),
        ([Section(length_m=50, rise_m=30)], 0.4, W * 50 * (0.4 * 0.8 + 0.6)),
        ([Section(length_m=10), Section(length_m=40, rise_m=-40)], 0.1, W * 10 * 0.1),
    ],
)
def test_tension_by_hand(sections: list[Section], friction: float, tension_n: float) -> None:
    """Straight: μ·w·L with slope; bend: the capstan equation; a fall never pulls."""
    assert pull(sections, 200, friction).tension_n == pytest.approx(tension_n)


def test_a_bend_far_from_the_reel_is_the_harder_pull_and_the_easier_end_comes_first() -> None:
    sections = [Section(length_m=300, bend_deg=90, bend_radius_m=0.5), Section(length_m=20)]
    easy, hard = both_ways(sections, 200, 0.4)
    assert (easy.direction, hard.direction) == ("backwards", "forwards")
    assert easy.tension_n < hard.tension_n
    assert hard.sidewall_n_per_m == pytest.approx(hard.steps[0].after_bend_n / 0.5)


def test_the_pull_sheet_feeds_where_it_is_easier_and_says_what_breaks() -> None:
    plant = demo_plant()
    sheet = pull_sheet(plant, ["lock dike"])
    assert sheet.places == ("Harbor office", "Quay pit", "Lock house")
    assert sheet.bends_deg == 240
    assert sheet.pulls[0].tension_n < sheet.pulls[1].tension_n < 1800
    assert sheet.start_at == "Harbor office"
    assert not any(warning.breaks for warning in sheet.warnings)
    dry = pull_sheet(plant, ["lock dike"], friction=0.9)
    assert any(warning.breaks and "add a pull point" in warning.what for warning in dry.warnings)
    bent = Way(id="ab", name="ab", start="A", end="B", kind="riser", length_m=40, bends_deg=(90, 90, 90))
    tight = Plant(places=PLACES, ways=(bent,), cables=(Cable(id="k", name="k", ways=("ab",)),))
    told = {warning.what: warning.breaks for warning in pull_sheet(tight, ["k"]).warnings}
    assert told["270° of bends in one pull, at most 180°: set a pull point between them."]
    assert any("weight of k is not known" in what for what in told)
    with pytest.raises(PlantError, match="not pulled through"):
        pull_sheet(plant, ["road pair"])


def test_strands_are_told_by_tube_and_color() -> None:
    """TIA-598-D: twelve colors a tube, tubes in the same order."""
    cable = Cable(id="k", name="k", ways=("ab",), strands=26, dead=(14,))
    plant = plant_with(cable)
    use = cable_uses(plant, [riding("k", 1, 13)])["k"]  # type: ignore[list-item]
    rows = strand_map(cable, use, CATALOG.marks.strands)
    assert len(rows) == 26
    told = {row.number: (row.tube_color, row.color, row.use) for row in rows}
    assert told[1] == ("blue", "blue", "link")
    assert told[12] == ("blue", "aqua", "")
    assert told[13] == ("orange", "blue", "link")
    assert told[14] == ("orange", "orange", "dead")
    assert told[26] == ("green", "orange", "")


@pytest.mark.parametrize("ways", [("ab", "bc"), ("ba", "bc"), ("ab", "cb"), ("ba", "cb")])
def test_where_one_cable_is_patched_to_the_next_is_a_single_point_of_failure(ways: tuple[str, str]) -> None:
    """Whichever way the ways are drawn, the patch between two cables lies between the ends and they do not."""
    drawn = tuple(Way(id=w, name=w, start=w[0].upper(), end=w[1].upper(), length_m=10) for w in ways)
    cables = tuple(Cable(id=f"c {w}", name=w, ways=(w,)) for w in ways)
    plant = Plant(places=PLACES, ways=drawn, cables=cables)
    rider = Rider(1, "a to c", "A", "C", 1000, tuple(cable.id for cable in cables))
    assert [part for part in parts_of(rider, plant) if part[0] == "place"] == [("place", "B")]


def test_an_outage_does_not_depend_on_the_side_from_which_a_link_is_drawn() -> None:
    plant = demo_plant()
    quay = Rider(2, "quay", "Harbor office", "Lock house", 1000, ("lock quay",))
    dike = Rider(3, "dike", "Harbor office", "Lock house", 10_000, ("lock dike",))
    crane = Rider(4, "crane", "Harbor office", "Crane 1", 1000, ("crane 1",))
    plain = outages(plant, [quay, dike, crane])
    for turned in (quay, dike, crane):
        riders = [replace(r, near=r.far, far=r.near) if r is turned else r for r in (quay, dike, crane)]
        found = outages(plant, riders)
        assert [(o.kind, o.id, {(e.place, e.dark, e.left_mbps) for e in o.ends}) for o in found] == [
            (o.kind, o.id, {(e.place, e.dark, e.left_mbps) for e in o.ends}) for o in plain
        ]


def test_a_climb_is_pulled_whole_and_indoor_bends_have_their_own_limit() -> None:
    """0.2 kg/m up 30 m weighs 58.8 N, however short the level part; 200° indoors are too many in any way."""
    riser = Way(id="ab", name="ab", start="A", end="B", kind="riser", length_m=10, rise_m=30, bends_deg=(90, 110))
    duct = Way(id="bc", name="bc", start="B", end="C", length_m=50)
    cable = Cable(id="k", name="k", ways=("ab", "bc"), weight_kg_per_km=200)
    sheet = pull_sheet(Plant(places=PLACES, ways=(riser, duct), cables=(cable,)), ["k"])
    up = next(p for p in sheet.pulls if p.direction == "forwards")
    assert up.steps[0].after_straight_n == pytest.approx(W * 30)
    assert any(warning.breaks and "200°" in warning.what for warning in sheet.warnings)


def test_a_run_names_as_many_strands_as_it_needs() -> None:
    plant = plant_with(Cable(id="k", name="k", ways=("ab",)))
    with pytest.raises(PlantError, match="needs 2 of the strands of 'k' and names 1"):
        check_taken([riding("k", 1)], plant)  # type: ignore[list-item]
