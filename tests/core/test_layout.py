"""Layout: routes, diverse pairs against brute force, cures, layouts, capacity, taps, closures, strips."""

from __future__ import annotations

from itertools import combinations

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.errors import PlantError
from passerelle.core.link.chain import Link
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.capacity import capacity, strands_wanted
from passerelle.core.plant.closures import closure_sheet
from passerelle.core.plant.distances import distance_m, geodesic_m
from passerelle.core.plant.diversity import cures, diverse_pair
from passerelle.core.plant.layouts import compare_layouts
from passerelle.core.plant.outages import Rider, outages, shared
from passerelle.core.plant.records import Cable, Device, Place, Tap, Way
from passerelle.core.plant.riders import cable_uses, check_taken, free_strands, laid
from passerelle.core.plant.routing import Ground, built, diverse_ground, route, routes
from passerelle.core.plant.scope_sheet import scope_sheet
from passerelle.core.plant.site import Plant, stretch
from passerelle.core.plant.strips import strip_plan
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

SINGLE_MODE = frozenset(name for name, fiber in CATALOG.fibers.items() if fiber.family == "single-mode")
QUAY = Rider(2, "quay", "Harbor office", "Lock house", 1000, ("lock quay",), ((1, 2),))


def ground(plant: Plant, links: list[Link] | None = None, **more: object) -> Ground:
    return Ground(plant, cable_uses(plant, links or []), grades=SINGLE_MODE, **more)  # type: ignore[arg-type]


def ways(*rows: tuple[str, float]) -> tuple[Way, ...]:
    return tuple(Way(id=name, name=name, start=name[0], end=name[1], length_m=length) for name, length in rows)


def places(names: str) -> tuple[Place, ...]:
    return tuple(Place(id=name, name=name) for name in names)


def test_free_strands_come_before_a_pull_and_a_pull_before_new_work() -> None:
    base = Plant(places=places("ABC"), ways=ways(("AB", 100), ("BC", 100), ("AC", 50)))
    full = base.way_of["AC"].model_copy(update={"bore_mm": 9.0})
    thick = Cable(id="thick", name="thick", ways=("AC",), diameter_mm=6.0, fiber=("OM3",))
    lit = Cable(id="lit", name="lit", ways=("AB", "BC"), fiber=("OS2",))
    plant = base.changed(ways=(*ways(("AB", 100), ("BC", 100)), full), cables=(thick, lit))
    by_aim = {one.aim: one for one in routes(ground(plant), "A", "C")}
    assert [step.kind for step in by_aim["least work"].steps] == ["strands"]
    assert [(s.kind, s.name) for s in by_aim["shortest"].steps] == [("new duct", "AC")]
    unlit = plant.changed(cables=(thick,))
    least = route(ground(unlit), "A", "C")
    assert least is not None
    assert ([s.kind for s in least.steps], least.pulled_m, least.new_m) == (["pull", "pull"], 200, 0)
    assert route(ground(unlit.changed(ways=unlit.ways[:1], cables=())), "A", "C") is None


def test_a_new_duct_beside_a_full_one_is_no_second_path() -> None:
    full = Way(id="AB", name="AB", start="A", end="B", length_m=80, rise_m=3, bore_mm=9, bends_deg=(90, 30))
    thick = Cable(id="thick", name="thick", ways=("AB",), diameter_mm=6.0, fiber=("OM3",))
    plant = Plant(places=places("AB"), ways=(full,), cables=(thick,))
    found = route(ground(plant), "B", "A")
    assert found is not None
    assert (found.steps[0].kind, found.new_m) == ("new duct", 83)
    after = built(plant, found, "second", 24, "OS2")
    assert after.cable_of["second"].ways == ("AB",)
    old, new = (Rider(i, "x", "A", "B", 1000, (cable,)) for i, cable in enumerate(("thick", "second")))
    assert shared(old, new, after).ways == ("AB",)
    assert not any(cable.id == "second" for cable in plant.cables)


def test_room_beside_a_cable_of_unknown_diameter_is_not_promised() -> None:
    duct = Way(id="AB", name="AB", start="A", end="B", length_m=80, bore_mm=32)
    found = route(
        ground(Plant(places=places("AB"), ways=(duct,), cables=(Cable(id="k", name="k", ways=("AB",)),))), "A", "B"
    )
    assert found is not None
    assert found.steps[0].why == "its room is not known: k without a diameter"


def test_strands_of_another_glass_are_not_taken() -> None:
    plant = Plant(
        places=places("AB"),
        ways=ways(("AB", 100)),
        cables=(Cable(id="k", name="k", ways=("AB",), fiber=("OS2", "OM3")),),
    )
    found = route(ground(plant), "A", "B")
    assert found is not None
    assert found.steps[0].kind == "pull"


def test_a_second_path_to_the_lock_shares_the_quay_duct_until_a_new_way_is_dug() -> None:
    plant, links = demo_plant(), demo_links()
    apart = diverse_ground(ground(plant, links), [QUAY])
    found = route(apart, "Harbor office", "Lock house")
    assert found is not None
    assert (found.diverse, found.shared) == (False, ("Quay pit", "Quay duct, first 60 m"))
    dug = route(diverse_ground(ground(plant, links, new_ways=True), [QUAY]), "office", "lock")
    assert dug is not None
    assert (dug.diverse, dug.shared) == (True, ())
    assert "Work in the ground" in dug.cautions[0]
    after = built(plant, dug, "lock second", 12, "OS2")
    new = next(cable for cable in after.cables if cable.id == "lock second")
    rider = Rider(9, "second", "Harbor office", "Lock house", 10_000, (new.id,))
    assert shared(QUAY, rider, after).diverse
    assert (new.state, after.way_of[new.ways[-1]].state) == ("planned", "planned")


@st.composite
def grounds(draw: st.DrawFn) -> Plant:
    names = "ABCDEF"[: draw(st.integers(2, 6))]
    pairs = st.tuples(st.sampled_from(names), st.sampled_from(names), st.integers(1, 50))
    rows = [row for row in draw(st.lists(pairs, max_size=10)) if row[0] != row[1]]
    laid_ways = (Way(id=f"w{i}", name=f"w{i}", start=a, end=b, length_m=m) for i, (a, b, m) in enumerate(rows))
    return Plant(places=places(names), ways=tuple(laid_ways))


def simple_paths(plant: Plant) -> list[tuple[float, set[str], set[str]]]:
    """Every way from A to B without a place twice: its length, its ways, its places between."""
    graph = nx.MultiGraph()
    graph.add_nodes_from(plant.place_of)
    for way in plant.ways:
        graph.add_edge(way.start, way.end, key=way.id)
    found = []
    for edges in nx.all_simple_edge_paths(graph, "A", "B"):
        used = {key for _, _, key in edges}
        inner = {place for a, b, _ in edges for place in (a, b)} - {"A", "B"}
        found.append((sum(plant.way_of[w].length_m for w in used), used, inner))
    return found


@settings(max_examples=examples(150))
@given(grounds())
def test_the_shortest_diverse_pair_is_that_of_brute_force(plant: Plant) -> None:
    paths = simple_paths(plant)
    apart = [a[0] + b[0] for a, b in combinations(paths, 2) if not (a[1] & b[1] or a[2] & b[2])]
    found = diverse_pair(plant, "A", "B")
    assert (found is not None) == bool(apart)
    if found:
        assert sum(found.lengths_m) == pytest.approx(min(apart))
        assert not set(found.ways[0]) & set(found.ways[1])


def test_ways_side_by_side_and_planned_ones_are_doubts_of_a_pair() -> None:
    """Two trenches between the same places may be one on site; a planned way is not there yet."""
    ends = {"start": "A", "end": "B", "kind": "trench"}
    trenches = (
        Way.model_validate({"id": "old", "name": "Old trench", "length_m": 100, **ends}),
        Way.model_validate({"id": "new", "name": "New trench", "length_m": 120, "state": "planned", **ends}),
    )
    found = diverse_pair(Plant(places=places("ABC"), ways=trenches), "A", "B")
    assert found is not None
    assert found.doubts[0] == "Only planned: New trench."
    assert "Old trench and New trench run between the same two places" in found.doubts[1]
    round_about = (trenches[0], *ways(("AC", 60), ("CB", 60)))
    found = diverse_pair(Plant(places=places("ABC"), ways=round_about), "A", "B")
    assert found is not None
    assert found.doubts == ()


@settings(max_examples=examples(100))
@given(grounds())
def test_the_shortest_route_is_that_of_brute_force(plant: Plant) -> None:
    paths = simple_paths(plant)
    found = route(ground(plant), "A", "B", "shortest")
    assert (found is not None) == bool(paths)
    if found:
        assert found.length_m == pytest.approx(min(length for length, _, _ in paths))


def test_every_dark_end_gets_a_cure_that_spares_what_failed() -> None:
    plant, links = demo_plant(), demo_links()
    rider = Rider(4, "crane 1", "Harbor office", "North quay crane 1", 1000, ("quay",), ((1, 2),))
    cut = next(o for o in outages(plant, [QUAY, rider]) if (o.kind, o.id) == ("way", "quay 0"))
    found = {cure.place: cure for cure in cures(ground(plant, links), cut, [QUAY, rider])}
    assert {"Lock house", "North quay crane 1"} <= set(found)
    for cure in found.values():
        assert cure.route is not None
        assert all("quay 0" not in step.ways for step in cure.route.steps)
    nowhere = plant.changed(
        places=tuple(p.model_copy(update={"east_m": None, "north_m": None}) for p in plant.places)
    )
    hopeless = cures(ground(nowhere, links), cut, [QUAY, rider])
    assert all(cure.route is None and "give both places a position" in cure.why for cure in hopeless)


def test_layouts_by_hand() -> None:
    """A to B 100 m, B to C 50 m, C to A 120 m: star 220 m, chain 150 m, ring 270 m."""
    devices = (
        Device(id="b", name="b", place="B", count=3, rate_mbps=1000),
        Device(id="c", name="c", place="C", rate_mbps=10_000),
    )
    plant = Plant(places=places("ABC"), ways=ways(("AB", 100), ("BC", 50), ("CA", 120)), devices=devices)
    found = {layout.name: layout for layout in compare_layouts(plant, "A", (), CATALOG, 0).layouts}
    assert {name: layout.cable_m for name, layout in found.items()} == {
        "star": 220,
        "tapped chain": 150,
        "ring": 270,
        "tree": 150,
    }
    assert (found["star"].fault_takes, found["tapped chain"].fault_takes, found["ring"].fault_takes) == (1, 2, 0)
    assert (found["star"].core_ports, found["ring"].core_ports, found["tree"].core_ports) == (2, 2, 1)
    assert found["star"].oversubscribed == pytest.approx(13_000 / 11_000)
    per_m = CATALOG.fiber("OS2").attenuation_db_per_km[1310] / 1000
    assert found["star"].longest.loss_db == pytest.approx(120 * per_m + 2 * 0.75)
    assert found["tapped chain"].longest.loss_db == pytest.approx(150 * per_m + 2 * 0.75 + 0.3)
    with pytest.raises(PlantError, match="no way leads from"):
        compare_layouts(plant.changed(places=places("ABCD")), "A", ("D",), CATALOG)


@pytest.mark.parametrize(
    ("used", "growth", "years", "spare", "wanted"),
    [(10, 0, 10, 20, 12), (4, 10, 10, 50, 16), (2, 7, 10, 0, 4), (0, 10, 10, 50, 0), (12, 100, 1, 0, 24)],
)
def test_strands_wanted_by_hand(used: int, growth: float, years: int, spare: float, wanted: int) -> None:
    """Compound growth, then spares, rounded up to pairs: 4 · 1.1^10 · 1.5 = 15.6, two of them 16."""
    assert strands_wanted(used, growth, years, spare) == wanted


def test_capacity_says_what_to_pull_now_and_when_a_duct_is_full() -> None:
    bore = Way(id="AB", name="AB", start="A", end="B", length_m=10, bore_mm=30)
    cable = Cable(id="k", name="k", ways=("AB",), strands=12, dead=(12,), reserved=2, diameter_mm=10)
    plant = Plant(places=places("AB"), ways=(bore,), cables=(cable,))
    uses = cable_uses(plant, [riding("k", 1, 2)])
    found = capacity(plant, uses, 10, 10, 50)
    row = found.cables[0]
    assert (row.used, row.promised, row.dead, row.spare) == (2, 2, 1, 7)
    assert (row.wanted, row.pull_now) == (16, 24)
    assert row.enough_years == 10  # 4 · 1.1^10 = 10.4 of 11 living strands, 4 · 1.1^11 = 11.4
    crushed = plant.changed(cables=(cable.model_copy(update={"dead": tuple(range(1, 13)), "reserved": 0}),))
    none_left = capacity(crushed, cable_uses(crushed, []), 10, 10, 50).cables[0]
    assert (none_left.keeps_rule, none_left.enough_years, none_left.spare_percent) == (False, 0, 0)
    duct = found.ducts[0]
    assert duct.more_cables == 2  # three of 10 mm in 30 mm take a third, four 44 %
    assert duct.full_in_years == 11  # 1.1^11 = 2.85 cables, 1.1^12 = 3.1


def riding(cable: str, *strands: int, name: str = "link") -> Link:
    link = plain_link()
    values = {"part": cable, "positions": strands}
    elements = tuple(e.model_copy(update=values) if isinstance(e, Run) else e for e in link.elements)
    return link.model_copy(update={"elements": elements, "name": name})


def tapped() -> Plant:
    cable = Cable(id="k", name="k", ways=("AB", "BC"), strands=6, slack_m=5)
    tap = Tap(id="t", name="closure B", cable="k", place="B", strands=(1, 2))
    return Plant(places=places("ABC"), ways=ways(("AB", 100), ("BC", 40)), cables=(cable,), taps=(tap,))


def test_strands_that_leave_at_a_tap_end_there() -> None:
    plant = tapped()
    cable = plant.cable_of["k"]
    assert stretch(cable, (1, 2), plant).length_m == 105
    assert stretch(cable, (3, 4), plant).length_m == 145
    run = next(e for e in laid(riding("k", 1, 2), plant).elements if isinstance(e, Run))
    assert run.length_m == 105
    near, far = (
        Rider(i, "x", "A", end, 1000, ("k",), (strands,))
        for i, end, strands in ((1, "B", (1, 2)), (2, "C", (3, 4)))
    )
    cut = {(o.kind, o.id): o.links for o in outages(plant, [near, far])}
    assert cut["way", "AB"] == (1, 2)
    assert cut["way", "BC"] == (2,)
    with pytest.raises(PlantError, match="leave it at different places"):
        check_and_lay(riding("k", 2, 3), plant)
    assert free_strands(plant, [], "k", 2) == (3, 4)
    assert free_strands(plant, [], "k", 2, plant.taps[0]) == (1, 2)
    with pytest.raises(PlantError, match="0 of the strands that leave k at closure B are free"):
        free_strands(plant, [riding("k", 1, 2)], "k", 2, plant.taps[0])


def test_temperatures_follow_the_place_until_a_hand_sets_them() -> None:
    cold = Place(id="B", name="far", coldest_c=-25)
    plant = tapped().changed(places=(places("A")[0], cold, places("C")[0]))
    link = riding("k", 1, 2)
    ends = [e.model_copy(update={"place": "far"}) if e is link.elements[-1] else e for e in link.elements]
    first = laid(link.model_copy(update={"elements": tuple(ends)}), plant)
    assert first.elements[-1].coldest_c == -25  # type: ignore[union-attr]
    colder = plant.changed(places=(places("A")[0], cold.model_copy(update={"coldest_c": -30.0}), places("C")[0]))
    assert laid(first, colder, plant).elements[-1].coldest_c == -30  # type: ignore[union-attr]
    by_hand = first.elements[-1].model_copy(update={"coldest_c": -40.0})
    kept = first.model_copy(update={"elements": (*first.elements[:-1], by_hand)})
    assert laid(kept, colder, plant).elements[-1].coldest_c == -40  # type: ignore[union-attr]


def check_and_lay(link: Link, plant: Plant) -> Link:
    check_taken([link], plant)
    return laid(link, plant)


@pytest.mark.parametrize(
    ("tap", "hint"),
    [
        ({"cable": "none"}, "there is no cable 'none'"),
        ({"place": "D"}, "does not pass 'D'"),
        ({"strands": (9,)}, "strands 1 to 6, not 9"),
        ({"strands": (2,)}, "strand 2 of k leaves at closure B and at second"),
    ],
)
def test_a_tap_that_cannot_be_is_refused(tap: dict[str, object], hint: str) -> None:
    plant = tapped().changed(places=places("ABCD"))
    second = Tap.model_validate({"id": "u", "name": "second", "cable": "k", "place": "C", "strands": (5,), **tap})
    with pytest.raises(PlantError, match=hint):
        plant.changed(taps=(*plant.taps, second))


def test_the_closure_sheet_says_what_is_done_with_each_strand() -> None:
    other = Cable(id="m", name="m", ways=("CD",), strands=2, fiber=("OS2",))
    plant = tapped().changed(
        places=places("ABCD"), ways=(*tapped().ways, *ways(("CD", 9))), cables=(*tapped().cables, other)
    )
    link = riding("k", 3, 4)
    run = next(e for e in link.elements if isinstance(e, Run))
    at = link.elements.index(run)
    second = run.model_copy(update={"id": "run-2", "part": "m", "positions": (1, 2)})
    joined = link.model_copy(update={"elements": (*link.elements[: at + 1], second, *link.elements[at + 1 :])})
    colors = CATALOG.marks.strands
    at_b = {r.number: r.does for r in closure_sheet(plant, [joined], "B", colors).rows}
    assert (at_b[1], at_b[3]) == ("leaves here, at closure B", "passes through uncut")
    at_c = {(r.cable, r.number): r.does for r in closure_sheet(plant, [joined], "C", colors).rows}
    assert at_c["k", 1] == "not lit from here: it left at closure B"
    assert at_c["k", 3] == "joined to strand 1 of m (tube 1 blue, 1 blue)"
    assert at_c["m", 2] == "joined to strand 4 of k (tube 1 blue, 4 brown)"


def test_distances_in_metres_and_in_degrees() -> None:
    """A degree of a great circle is 111.195 km on a sphere of 6371.0088 km."""
    here, there = (Place(id=i, name=i, east_m=x, north_m=y) for i, x, y in (("a", 0, 0), ("b", 30, 40)))
    assert distance_m(here, there) == 50
    assert geodesic_m(10, 20, 11, 20) == pytest.approx(111_195, abs=1)
    assert geodesic_m(60, 0, 60, 1) == pytest.approx(111_195 / 2, rel=1e-3)
    assert distance_m(here, Place(id="c", name="c", latitude=1, longitude=1)) is None
    with pytest.raises(PlantError, match="give both latitude and longitude"):
        Plant().changed(places=(Place(id="c", name="c", latitude=1),))


@settings(max_examples=examples(60))
@given(grounds())
def test_every_way_is_drawn_once_and_strips_of_a_row_do_not_overlap(plant: Plant) -> None:
    plan = strip_plan(plant)
    assert sorted(strip.way for strip in plan.strips) == sorted(way.id for way in plant.ways)
    for a, b in combinations(plan.strips, 2):
        if a.row == b.row:
            assert a.x + a.width <= b.x + 1e-9 or b.x + b.width <= a.x + 1e-9


def test_the_scope_names_what_is_still_to_be_said() -> None:
    plant = demo_plant()
    sheet = scope_sheet(plant, ["lock quay", "weighbridge"])
    first, second = sheet.cables
    assert (first.start, first.end, first.length_m, first.missing) == ("Harbor office", "Lock house", 620, ())
    assert (first.radius_loaded_mm, first.radius_rest_mm) == (210, 105)
    assert set(second.missing) == {"grade of the glass", "rated tension"}
    assert any("electrician" in line for line in sheet.cautions)
    assert any("eye protection" in line for line in sheet.cautions)
    assert [c.name for c in scope_sheet(plant).cables][-2:] == [
        "Growth, weighbridge",
        "Gate camera, with its plugs",
    ]
