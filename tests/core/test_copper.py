"""Links without glass and cables in their surroundings: traps and near-traps, half of them right as they are."""

from __future__ import annotations

from dataclasses import dataclass, field

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.catalog.copper_figures import CATEGORIES, copper_figures
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, copper, with_ids
from passerelle.core.link.edits import Insert, Reverse, SetFields, apply_edits
from passerelle.core.link.fitting import fitting_piece
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.jack import Jack
from passerelle.core.parts.kinds.outlet import Outlet
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.parts.registry import Element
from passerelle.core.plant.riders import laid
from passerelle.core.review import review
from passerelle.core.selection.whatif import WhatIf, try_out
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)
OK, M, U, F, D = Verdict.PASS, Verdict.MARGINAL, Verdict.UNKNOWN, Verdict.FAIL, Verdict.DAMAGE


def port(cage: str = "RJ45", *rates: int, **more: object) -> Port:
    """A port with its speeds in Mb/s."""
    return Port.model_validate({"place": "near", "cage": cage, "rates_mbps": rates or (1000,), **more})


def channel(length_m: float | None, category: str = "Category 6A", **more: object) -> list[Element]:
    """Fixed cable of ``length_m`` less 4 m between two outlets, with two cords of 2 m."""
    fixed = None if length_m is None else length_m - 4
    cord = Twisted.model_validate({"length_m": 2, "category": category})
    run = Twisted.model_validate({"length_m": fixed, "category": category, "fixed": True, **more})
    return [cord, Outlet(), run, Outlet(), cord]


def linked(near: Port, *middle: Element, far: Port, wanted: int | None = None) -> Link:
    """A link from port to port."""
    return with_ids(Link(name="copper", wanted_rate_mbps=wanted, elements=(near, *middle, far)))


def pair(rate: int, length_m: float | None, category: str = "Category 6A", **more: object) -> Link:
    """Twisted pair between two native ports of one rate."""
    return linked(port("RJ45", rate), *channel(length_m, category, **more), far=port("RJ45", rate))


def attached(
    length_m: float | None, rate: int = 10_000, form: str = "SFP+", cage: str = "", **more: object
) -> Link:
    """A direct-attach assembly between two ports."""
    line = Assembly.model_validate(
        {"length_m": length_m, "rate_mbps": rate, "left_form": form, "right_form": form, **more}
    )
    return linked(port(cage or form, rate), line, far=port(cage or form, rate))


def jacked(length_m: float, jack: Jack, near: Port, far: Port | None = None) -> Link:
    """Twisted pair from a plug-in module to a native port."""
    return linked(near, jack, *channel(length_m), far=far or port("RJ45", 1000, 10_000))


def run(spaces: tuple[str, ...], construction: str = "", **more: object) -> Link:
    """A plain glass link whose run passes something."""
    change = SetFields(element="run-1", values={"spaces": spaces, "construction": construction})
    others = tuple(SetFields(element=e.replace("_", "-"), values=v) for e, v in more.items())  # type: ignore[arg-type]
    return apply_edits(plain_link(length_m=500.0), (change, *others))


def run_of(length_m: float | None, spaces: tuple[str, ...], construction: str) -> Link:
    """The same with a run of this length."""
    return apply_edits(run(spaces, construction), (SetFields(element="run-1", values={"length_m": length_m}),))


@dataclass(frozen=True)
class Trap:
    """A link, its verdict, and what is told of it: nothing where it is right."""

    name: str
    link: Link
    verdict: Verdict
    code: str | None = None
    told: tuple[str, ...] = field(default=())


SFP_PLUS = port("SFP+", 1000, 10_000)
APC = {"shape": "LC", "polish": "APC"}
TRAPS = [
    Trap("1 G over Category 5e at 100 m", pair(1000, 94, "Category 5e"), OK),
    Trap("1 G at 101 m", pair(1000, 101), F, "copper.too_long"),
    Trap("10 G over Category 6A at 94 m", pair(10_000, 94), OK),
    Trap("10 G over Category 6 at 37 m", pair(10_000, 37, "Category 6"), OK),
    Trap("10 G over Category 6 at 50 m", pair(10_000, 50, "Category 6"), M, "copper.conditional"),
    Trap("10 G over Category 6 at 56 m", pair(10_000, 56, "Category 6"), F, "copper.too_long"),
    Trap("10 G over Category 5e", pair(10_000, 20, "Category 5e"), F, "copper.category"),
    Trap("25 G over Category 8 at 30 m", pair(25_000, 30, "Category 8"), OK),
    Trap("25 G over Category 6A", pair(25_000, 20), F, "copper.category"),
    Trap("95 m of fixed cable", pair(1000, 99.5), M, "copper.fixed_long"),
    Trap("a length that is not known", pair(1000, None), U, "length.unknown"),
    Trap("ports that meet at 1 G", linked(port("RJ45", 100, 1000), *channel(50), far=port("RJ45", 1000, 10_000)), OK),
    Trap("ports without a common speed", linked(port("RJ45", 1000), *channel(50), far=port("RJ45", 10_000)), F, "speed.ends_differ"),
    Trap("10 G wanted, they meet at 1 G", linked(port("RJ45", 1000), *channel(50), far=port("RJ45", 1000, 10_000), wanted=10_000), F, "speed.below_wanted"),
    Trap("one cord between two ports", linked(port(), Twisted(length_m=3), far=port()), OK),
    Trap("two cords without an outlet", linked(port(), Twisted(length_m=3), Twisted(length_m=3), far=port()), U, "chain.open"),
    Trap("a twisted-pair plug in a cage", linked(port("SFP", 1000), Twisted(length_m=3), far=port()), F, "cage.form"),
    Trap("between buildings", pair(1000, 60, spaces=("between buildings",), jacket="outdoor"), F, "copper.between_buildings"),
    Trap("beside power", pair(1000, 60, spaces=("beside power",)), M, "copper.beside_power"),
    Trap("an indoor jacket in the sun", pair(1000, 60, spaces=("sunlight",)), F, "jacket.not_rated"),
    Trap("an outdoor jacket in the sun", pair(1000, 60, spaces=("sunlight",), jacket="outdoor"), OK),
    Trap("a general jacket in a plenum", pair(1000, 60, spaces=("plenum",)), F, "jacket.not_rated"),
    Trap("a plenum jacket in a plenum and a riser", pair(1000, 60, spaces=("plenum", "riser"), jacket="plenum"), OK),
    Trap("an outdoor jacket 15 m inside", pair(1000, 19.24, spaces=("indoors",), jacket="outdoor"), M, "jacket.indoors"),
    Trap("an outdoor jacket 16 m inside", pair(1000, 20, spaces=("indoors",), jacket="outdoor"), F, "jacket.too_far_inside"),
    Trap("a jacket without print in a riser", pair(1000, 60, spaces=("riser",), jacket="unknown"), U, "jacket.unknown"),
    Trap("an assembly in a plenum", attached(5, spaces=("plenum",)), F, "jacket.not_rated"),
    # plug-in twisted-pair modules
    Trap("a 1 G module at 95 m", jacked(94, Jack(form="SFP"), port("SFP", 1000)), OK),
    Trap("a 10 G module draws more than its cage gives", jacked(25, Jack(), SFP_PLUS), M, "copper.heat"),
    Trap("a 10 G module past its reach", jacked(40, Jack(), SFP_PLUS), F, "copper.too_long"),
    Trap("a cool one whose datasheet says 80 m", jacked(70, Jack(reach_m=80, power_w=1.5), SFP_PLUS), OK),
    Trap("a module in a native port", jacked(20, Jack(), port("RJ45", 10_000)), F, "cage.form"),
    Trap("it lists one rate, the port another", jacked(20, Jack(rates_mbps=(10_000,)), port("SFP+", 1000)), F, "speed.port"),
    Trap("it lists several rates", jacked(20, Jack(rates_mbps=(1000, 10_000), reach_m=50, power_w=1), port("SFP+", 1000, 10_000), port("RJ45", 1000)), OK),
    Trap("another make's coding", jacked(20, Jack(form="SFP", coding="make B"), port("SFP", 1000, coding_policy="own only", make="make A")), F, "coding.refused"),
    Trap("in the cold", jacked(20, Jack(form="SFP", temperature_class="commercial"), port("SFP", 1000, coldest_c=-20)), F, "temperature.outside"),
    Trap("made for the cold", jacked(20, Jack(form="SFP", temperature_class="industrial"), port("SFP", 1000, coldest_c=-20)), OK),
    # direct attach
    Trap("passive at 5 m", attached(5), OK),
    Trap("passive at 10 m", attached(10), F, "copper.too_long"),
    Trap("active copper at 10 m", attached(10, made="active copper"), OK),
    Trap("active optical at 30 m", attached(30, made="active optical"), OK),
    Trap("25 G passive at 3 m", attached(3, 25_000, "SFP28"), OK),
    Trap("25 G passive at 5 m needs the strong correction", attached(5, 25_000, "SFP28"), M, "copper.conditional"),
    Trap("10 G assembly in 25 G cages", attached(3, cage="SFP28"), OK),
    Trap("25 G assembly in 10 G cages", attached(3, 25_000, "SFP28", cage="SFP+"), F, "cage.form"),
    Trap("25 G wanted, a 10 G assembly", linked(port("SFP28", 10_000, 25_000), Assembly(length_m=2), far=port("SFP28", 10_000, 25_000), wanted=25_000), F, "speed.below_wanted"),
    Trap("10 G wanted, a 10 G assembly", linked(port("SFP28", 10_000, 25_000), Assembly(length_m=2), far=port("SFP28", 10_000, 25_000), wanted=10_000), OK),
    Trap("10 G assembly, a port fixed at 1 G", linked(port("SFP+", 1000), Assembly(length_m=2), far=port("SFP+", 10_000)), F, "speed.port"),
    Trap("one of four legs", linked(port("QSFP+", 10_000, 40_000), Assembly(length_m=3, left_form="QSFP+", legs=4), far=port("SFP+", 10_000)), OK),
    Trap("its plugs the wrong way round", linked(port("QSFP+", 10_000), Assembly(length_m=3, right_form="QSFP+", legs=4), far=port("SFP+", 10_000)), F, "cage.form"),
    Trap("two codings on one assembly", linked(port("SFP+", 10_000, coding_policy="own only", make="make A"), Assembly(length_m=3, left_coding="make A", right_coding="make B"), far=port("SFP+", 10_000, coding_policy="own only", make="make B")), OK),
    Trap("one coding on both ends of it", linked(port("SFP+", 10_000, coding_policy="own only", make="make A"), Assembly(length_m=3, left_coding="make A", right_coding="make A"), far=port("SFP+", 10_000, coding_policy="own only", make="make B")), F, "coding.refused"),
    Trap("active optical between buildings", attached(20, made="active optical", spaces=("between buildings",)), OK),
    Trap("passive between buildings", attached(5, spaces=("between buildings",)), F, "copper.between_buildings"),
    Trap("a datasheet's length", attached(8, reach_m=9), OK),
    # glass in its surroundings
    Trap("metal beside power", run(("duct", "beside power"), "loose tube, metal armor"), F, "metal.beside_power"),
    Trap("no metal beside power", run(("duct", "beside power"), "loose tube, dielectric armor"), OK),
    Trap("not known beside power", run(("beside power",)), U, "construction.unknown"),
    Trap("an indoor cable in the sun", run(("sunlight",), "tight-buffered, indoor"), F, "jacket.not_rated"),
    Trap("an outdoor cable in the sun", run(("sunlight",), "loose tube, duct"), OK),
    Trap("an indoor cable in a plenum", run(("plenum",), "tight-buffered, indoor"), F, "jacket.not_rated"),
    Trap("a plenum cable in a plenum", run(("plenum",), "tight-buffered, plenum"), OK),
    Trap("an indoor cable whose print says plenum", run(("plenum",), "tight-buffered, indoor", run_1={"jacket": "plenum"}), OK),
    Trap("a general jacket in a plenum, however it is built", run(("plenum",), run_1={"jacket": "general"}), F, "jacket.not_rated"),
    Trap("a plenum jacket in a plenum, however it is built", run(("plenum",), run_1={"jacket": "plenum"}), OK),
    Trap("500 m of duct cable inside", run(("indoors",), "loose tube, duct"), F, "jacket.too_far_inside"),
    Trap("a duct cable that comes inside", run(("duct", "indoors"), "loose tube, duct"), M, "jacket.indoors"),
    Trap("50 ft of duct cable inside", run_of(15.24, ("indoors",), "loose tube, duct"), M, "jacket.indoors"),
    Trap("a foot more", run_of(15.55, ("indoors",), "loose tube, duct"), F, "jacket.too_far_inside"),
    Trap("a length inside that is not known", run_of(None, ("indoors",), "loose tube, duct"), U, "jacket.indoors"),
    Trap("a duct cable between poles", run(("aerial",), "loose tube, duct"), F, "jacket.not_rated"),
    Trap("glass between buildings", run(("duct", "between buildings"), "loose tube, duct"), OK),
    # what a provider asks for, and what a module lists
    Trap("flat where angled is asked for", run((), "", panel_1={"asks_angled": True}), F, "mating.angled_needed"),
    Trap("angled where angled is asked for", run((), "", panel_1={"asks_angled": True}, cord_1={"right": APC}, run_1={"left": APC}), OK),
    Trap("a module of two speeds set to the wrong one", run((), "", module_2={"application": "1000BASE-LX10", "also": ("10GBASE-LR",)}), F, "speed.ends_differ"),
]  # fmt: skip


@pytest.mark.parametrize("trap", TRAPS, ids=lambda trap: trap.name)
def test_trap(trap: Trap) -> None:
    found = review(trap.link, CATALOG, HOUSE, with_fixes=False)
    told = {f.code for f in found.findings if f.best}
    assert found.verdict is trap.verdict, found.headline
    assert (told == set()) if trap.code is None else (trap.code in told)
    assert found.margin_db is None or found.directions
    assert figures_of([trap.link], CATALOG, HOUSE)[0].verdict_text == found.verdict_text


def test_about_half_are_right_as_they_are() -> None:
    assert 0.35 <= sum(trap.code is None for trap in TRAPS) / len(TRAPS) <= 0.65


@pytest.mark.parametrize("trap", [t for t in TRAPS if t.verdict.broken], ids=lambda trap: trap.name)
def test_each_offered_fix_keeps_its_word(trap: Trap) -> None:
    for finding in review(trap.link, CATALOG, HOUSE).findings:
        for fix in finding.fixes:
            after = review(apply_edits(trap.link, fix.edits), CATALOG, HOUSE, with_fixes=False)
            assert fix.effect is not None
            assert after.verdict is fix.effect.verdict
            assert finding.key not in {f.key for f in after.findings}


@pytest.mark.parametrize(
    ("name", "label"),
    [
        ("10 G over Category 5e", "Pull it again in Category 6"),
        ("passive at 10 m", "Use an active copper assembly"),
        ("metal beside power", "as 'loose tube, duct'"),
        ("another make's coding", "coded make A"),
        ("in the cold", "of the extended class"),
        ("flat where angled is asked for", "Make both plugs at this panel angled"),
        ("a module of two speeds set to the wrong one", "to 10GBASE-LR, which it lists too"),
    ],
)
def test_the_smallest_fix_is_offered(name: str, label: str) -> None:
    link = next(trap.link for trap in TRAPS if trap.name == name)
    labels = [fix.label for f in review(link, CATALOG, HOUSE).findings for fix in f.fixes]
    assert any(label in told for told in labels), labels


@given(
    st.sampled_from([100, 1000, 2500, 5000, 10_000, 25_000, 40_000]),
    st.sampled_from(CATEGORIES),
    st.floats(5, 120),
    st.floats(5, 120),
)
def test_a_better_category_and_a_shorter_way_are_never_worse(rate: int, category: str, a: float, b: float) -> None:
    short, long = sorted((a, b))
    poor = review(pair(rate, long, category), CATALOG, HOUSE, with_fixes=False).verdict.rank
    assert review(pair(rate, short, category), CATALOG, HOUSE, with_fixes=False).verdict.rank >= poor
    for better in CATEGORIES[CATEGORIES.index(category) :]:  # type: ignore[arg-type]
        assert review(pair(rate, long, better), CATALOG, HOUSE, with_fixes=False).verdict.rank >= poor


@pytest.mark.parametrize("trap", [t for t in TRAPS if t.link.name == "copper"], ids=lambda trap: trap.name)
def test_reversed_it_is_the_same_link(trap: Trap) -> None:
    turned = review(apply_edits(trap.link, (Reverse(),)), CATALOG, HOUSE, with_fixes=False)
    assert turned.verdict is trap.verdict
    assert apply_edits(trap.link, (Reverse(), Reverse())) == trap.link


SOME: list[Element] = [
    port(),
    port("SFP+", 10_000),
    Twisted(length_m=3),
    Twisted(),
    Outlet(),
    Jack(),
    Assembly(length_m=2),
]


@given(st.lists(st.sampled_from(SOME), min_size=1, max_size=7), st.sampled_from([None, 1000, 10_000]))
def test_any_heap_of_pieces_is_judged_and_only_a_chain_can_pass(pieces: list[Element], wanted: int | None) -> None:
    link = with_ids(Link(name="heap", wanted_rate_mbps=wanted, elements=(Twisted(length_m=1), *pieces)))
    link = link.model_copy(update={"elements": link.elements[1:]}) if len(pieces) > 1 else link
    verdict = review(link, CATALOG, HOUSE).verdict
    assert figures_of([link], CATALOG, HOUSE)[0].verdict is verdict
    if verdict in (OK, M) and copper(link):
        kinds = [e.kind for e in link.elements]
        assert kinds[0] == kinds[-1] == "port"
        assert kinds.count("port") == 2
        inner = [kind for kind in kinds[1:-1] if kind != "jack"]
        assert inner == ["assembly"] or inner == ["twisted", *["outlet", "twisted"] * (len(inner) // 2)]


def test_fiber_and_copper_in_one_chain_are_two_links() -> None:
    glass = plain_link().elements[2]
    mixed = linked(port(), Twisted(length_m=2), Outlet(), glass.model_copy(update={"id": ""}), far=port())
    found = review(mixed, CATALOG, HOUSE, with_fixes=False)
    assert found.verdict is F
    assert "copper.meets_glass" in {f.code for f in found.findings}
    whole = plain_link()
    strayed = apply_edits(whole, (Insert(after="cord-1", piece=Outlet()),))
    fixes = next(f.fixes for f in review(strayed, CATALOG, HOUSE).findings if f.code == "copper.meets_glass")
    assert fixes[0].label == "Take the copper out: 1 piece"
    assert apply_edits(strayed, fixes[0].edits) == whole


def test_a_cable_of_which_nothing_is_known_is_told_where_it_matters() -> None:
    told = {f.code for f in review(run(("riser",)), CATALOG, HOUSE, with_fixes=False).findings}
    assert "jacket.not_known" in told
    assert not review(run(()), CATALOG, HOUSE, with_fixes=False).findings


def test_a_pass_below_a_recalled_condition_is_on_estimate() -> None:
    recalled = review(pair(10_000, 30, "Category 6"), CATALOG, HOUSE, with_fixes=False)
    assert recalled.verdict_text == "pass on estimate"
    assert review(pair(10_000, 30), CATALOG, HOUSE, with_fixes=False).verdict_text == "pass"
    assert review(attached(3, 25_000, "SFP28"), CATALOG, HOUSE, with_fixes=False).verdict_text == "pass"


def test_every_figure_of_copper_has_a_source() -> None:
    figures = copper_figures()
    rows = (*figures.twisted, *figures.assembly, *figures.jack, *figures.cage_power, figures.assembly_lengths)
    assert all(row.source.clause or row.source.estimate for row in rows)


BARE = {"SFP+": (port("SFP+", 10_000), port("SFP+", 10_000)), "RJ45": (port("RJ45", 1000), port("RJ45", 1000))}


@pytest.mark.parametrize(
    ("cage", "kinds", "verdict"),
    [
        ("SFP+", ["assembly"], OK),
        ("RJ45", ["twisted"], OK),
        ("RJ45", ["twisted", "outlet", "twisted"], OK),
        ("SFP+", ["jack", "twisted", "jack"], M),
        ("SFP+", ["twisted"], F),
    ],
)
def test_pieces_put_in_one_by_one_make_a_link(cage: str, kinds: list[str], verdict: Verdict) -> None:
    near, far = BARE[cage]
    link, after = linked(near, far=far), "port-1"
    for kind in kinds:
        link = apply_edits(link, (Insert(after=after, piece=fitting_piece(link, after, kind, CATALOG)),))  # type: ignore[arg-type]
        after = link.elements[link.index(after) + 1].id
    assert review(link, CATALOG, HOUSE, with_fixes=False).verdict is verdict


def test_what_if_a_copper_link_were_longer() -> None:
    link = pair(1000, 60)
    found = try_out(link, WhatIf(length_m=99.0), CATALOG, HOUSE)
    assert (found.review.length_m, apply_edits(link, found.edits)) == (99.0, found.link)
    assert try_out(link, WhatIf(length_m=101.0), CATALOG, HOUSE).review.verdict is F
    assert found.passes_to_m == pytest.approx(94, abs=1)  # 90 m of fixed cable, two cords of 2 m


@given(st.lists(st.sampled_from(list(CATALOG.fibers)), min_size=2, max_size=4, unique=True), st.floats(10, 900))
def test_cords_that_match_the_run_are_never_of_another_grade(grades: list[str], length: float) -> None:
    """Worst of the grades taken one by one, in the batch as in the review."""
    link = plain_link("1000BASE-SX", tuple(grades), length)
    cords = tuple(SetFields(element=i, values={"matches_run": True}) for i in ("cord-1", "cord-2"))
    found = review(apply_edits(link, cords), CATALOG, HOUSE, with_fixes=False)
    alone = [review(plain_link("1000BASE-SX", grade, length), CATALOG, HOUSE, with_fixes=False) for grade in grades]
    assert found.verdict is min((one.verdict for one in alone), key=lambda verdict: verdict.rank)
    assert len(found.candidates) == len(grades)
    assert not any(f.code.startswith("core.") for f in found.findings)
    assert figures_of([apply_edits(link, cords)], CATALOG, HOUSE)[0].verdict is found.verdict


def test_a_run_on_the_plant_passes_what_its_ways_are() -> None:
    plant = demo_plant()
    radar = next(link for link in demo_links() if link.name == "Radar mast")
    run_of = {e.id: e for e in laid(radar, plant).elements}["run-1"]
    assert run_of.__dict__["spaces"] == ("riser", "beside power")
    armored = tuple(
        cable.model_copy(update={"construction": "loose tube, metal armor"}) if cable.id == "radar" else cable
        for cable in plant.cables
    )
    told = review(laid(radar, plant.changed(cables=armored)), CATALOG, HOUSE, with_fixes=False)
    assert {"metal.beside_power", "jacket.not_rated"} <= {f.code for f in told.findings}
