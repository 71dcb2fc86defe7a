"""Array cabling by geometry: what lights, what does not, what it is called and what repairs it at least cost."""

from __future__ import annotations

from itertools import combinations, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.build_arrays import Backbone, duplex_link, leg_link, parallel_link
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Reverse, SetFields, apply_edits
from passerelle.core.link.hops import follow, stacked
from passerelle.core.parts.array_cable import Wiring, wired
from passerelle.core.parts.arrays import ARRAYS, pairs_of
from passerelle.core.parts.kinds.conversion import Conversion
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.maps import compose as then
from passerelle.core.parts.maps import inverse, mating, straight, total
from passerelle.core.parts.part import Spot
from passerelle.core.parts.registry import spec_of
from passerelle.core.polarity.search import lighting
from passerelle.core.polarity.trace import trace
from passerelle.core.repairs.effort import OF_WORK
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG
from tests.depth import examples

HOUSE = HouseRules(margin_db=0.0)
WIRINGS: tuple[Wiring, ...] = ("straight", "reversed", "pair-flipped", "pair-flipped, reversed")
FAST = tuple(Port(place=place, cage="QSFP+", rates_mbps=(40_000,), splits=(4,)) for place in ("row A", "row B"))
SLOW = tuple(Port(place=place, cage="SFP+", rates_mbps=(10_000,)) for place in ("row A", "row B"))
SETS = {
    "straight": Backbone(
        wiring="straight", keys="opposed", near_cord="straight", far_cord="reversed", far_crossed=False
    ),
    "reversed": Backbone(
        wiring="reversed", keys="aligned", near_cord="reversed", far_cord="reversed", far_inner="ports reversed"
    ),
    "pair-flipped": Backbone(
        wiring="pair-flipped", keys="opposed", near_cord="straight", far_cord="pair-flipped, reversed"
    ),
    "outside in": Backbone(
        wiring="reversed",
        keys="aligned",
        near_cord="reversed",
        far_cord="reversed",
        near_inner="outside in",
        far_inner="outside in",
    ),
}
"""The sets of parts of TIA-568.3-D's array methods, and one with pairs of the outermost positions."""


def parallel(backbone: Backbone, application: str = "40GBASE-SR4") -> Link:
    link = parallel_link(
        "rows", (FAST[0], FAST[1]), CATALOG.application(application), ("OM4",), 65.0, backbone=backbone
    )
    return low_loss(link)


def duplex(backbone: Backbone, front: int = 1) -> Link:
    return low_loss(duplex_link("rows", (SLOW[0], SLOW[1]), "10GBASE-SR", ("OM4",), 65.0, backbone, front=front))


def low_loss(link: Link) -> Link:
    classed = [e.id for e in link.elements if "loss_class" in type(e).model_fields]
    return changed(link, *((i, {"loss_class": "mated pair, low-loss"}) for i in classed))


def changed(link: Link, *sets: tuple[str, dict[str, object]]) -> Link:
    return apply_edits(link, tuple(SetFields(element=i, values=values) for i, values in sets))


def judged(link: Link, *, with_fixes: bool = False) -> Review:
    return review(link, CATALOG, HOUSE, with_fixes=with_fixes)


def lights(link: Link) -> bool:
    lanes = trace(compose(link, CATALOG))
    return bool(lanes) and all(lane.lights for lane in lanes)


def walked(link: Link) -> bool:
    """The same question answered by a plain walk over the parts, position by position."""
    chain = compose(link, CATALOG)
    first, last = chain.ends
    here, there = first.traits.optics, last.traits.optics
    assert here is not None
    assert there is not None

    def end_of(start: int, rightward: bool) -> int | None:
        joints = [j for j in chain.joints if j.left and j.right]
        for joint in joints if rightward else reversed(joints):
            assert joint.left is not None
            assert joint.right is not None
            if joint.left.position < first.position or joint.right.position > last.position:
                continue
            pairs = dict(enumerate(joint.map, start=1))
            start = pairs[start] if rightward else {b: a for a, b in pairs.items()}[start]
            piece = joint.right if rightward else joint.left
            if piece in (first, last):
                return start
            ends = (piece.enter, piece.leave) if rightward else (piece.leave, piece.enter)
            spot = piece.part.through(Spot(ends[0], start), ends[1])
            if spot is None:
                return None
            start = spot.position
        return start

    return {end_of(s, True) for s in here.sends} == set(there.hears) and {
        end_of(s, False) for s in there.sends
    } == set(here.hears)


@pytest.mark.parametrize("name", SETS)
def test_each_set_lights_in_parallel_and_in_pairs_at_every_front(name: str) -> None:
    assert judged(parallel(SETS[name])).verdict is Verdict.PASS
    for front in range(1, 7):
        found = judged(duplex(SETS[name], front))
        assert found.verdict is Verdict.PASS, (front, found.headline)


@pytest.mark.parametrize("name", SETS)
@pytest.mark.parametrize("piece", ["array-cord-1", "trunk-1", "array-cord-2"])
def test_parallel_lanes_go_dark_when_one_piece_is_turned_over(name: str, piece: str) -> None:
    """Straight for reversed and back; the flip of pairs stays among the four lanes of a side, and lights."""
    link = parallel(SETS[name])
    for wiring in WIRINGS:
        now = link.element(piece).__dict__["wiring"]
        turned = now.endswith("reversed") != wiring.endswith("reversed")
        assert lights(changed(link, (piece, {"wiring": wiring}))) is not turned
    adapter = "opposed" if SETS[name].keys == "aligned" else "aligned"
    assert not lights(changed(link, ("panel-1", {"keys": adapter})))


@pytest.mark.parametrize("name", SETS)
def test_a_pair_goes_dark_when_one_piece_is_exchanged(name: str) -> None:
    link = duplex(SETS[name], front=2)
    for piece in ("cord-1", "cord-2"):
        crossed = link.element(piece).__dict__["crossed"]
        assert not lights(changed(link, (piece, {"crossed": not crossed})))
    for wiring in WIRINGS:
        kept = wired(wiring, 12) == wired(SETS[name].wiring, 12)
        again = name == "outside in" and wiring == "pair-flipped, reversed"  # pair 2 and 11 becomes 1 and 12: dark
        assert lights(changed(link, ("trunk-1", {"wiring": wiring}))) is (kept and not again)
    for piece in ("cassette-1", "cassette-2"):
        own = link.element(piece).__dict__["inner"]
        for inner in ("in order", "ports reversed", "pairs flipped", "outside in"):
            same = pairs_of("12", inner)[1] == pairs_of("12", own)[1]
            assert lights(changed(link, (piece, {"inner": inner}))) is same


@settings(max_examples=examples(60))
@given(
    st.sampled_from(WIRINGS),
    st.sampled_from(WIRINGS),
    st.sampled_from(WIRINGS),
    st.sampled_from(["aligned", "opposed"]),
    st.sampled_from(["aligned", "opposed"]),
    st.sampled_from(["40GBASE-SR4", "100GBASE-SR10", "400GBASE-SR8", "400GBASE-SR16"]),
)
def test_the_trace_is_what_a_plain_walk_finds(
    near: Wiring, trunk: Wiring, far: Wiring, first: str, second: str, application: str
) -> None:
    link = changed(
        parallel(SETS["reversed"], application),
        ("array-cord-1", {"wiring": near}),
        ("trunk-1", {"wiring": trunk}),
        ("array-cord-2", {"wiring": far}),
        ("panel-1", {"keys": first}),
        ("panel-2", {"keys": second}),
    )
    assert lights(link) is walked(link)
    assert lights(apply_edits(link, (Reverse(),))) is lights(link)


MAPS = st.integers(1, 24).flatmap(lambda n: st.lists(st.permutations(range(1, n + 1)), min_size=3, max_size=3))


@given(MAPS)
def test_composition_is_associative_and_a_turned_link_has_the_inverse_map(maps: list[list[int]]) -> None:
    a, b, c = (tuple(one) for one in maps)
    assert then(then(a, b), c) == then(a, then(b, c))
    assert inverse(total((a, b, c), len(a))) == total((inverse(c), inverse(b), inverse(a)), len(a))


@pytest.mark.parametrize("name", ARRAYS)
def test_two_reversals_cancel_and_matings_undo_themselves(name: str) -> None:
    array = ARRAYS[name]
    n = array.rows * array.columns
    for wiring in WIRINGS:
        assert then(wired(wiring, n), inverse(wired(wiring, n))) == straight(n)
    assert then(wired("reversed", n), wired("reversed", n)) == straight(n)
    for aligned in (True, False):
        met = mating(array.columns, aligned, array.rows, array.plugs)
        assert then(met, met) == straight(n * array.plugs)


def test_rows_meet_as_geometry_has_it() -> None:
    assert mating(12, True, rows=2)[:12] == tuple(range(12, 0, -1))
    assert mating(12, True, rows=2)[12] == 24
    assert mating(12, False, rows=2)[:2] == (13, 14)
    assert ARRAYS["8"].positions == (1, 2, 3, 4, 9, 10, 11, 12)


def test_light_is_followed_for_many_links_at_once_as_for_each() -> None:
    maps = [[(0, *wired(w, 12)) for w in chosen] for chosen in product(WIRINGS, repeat=3)]
    starts = np.array([range(1, 13)] * len(maps))
    ends = follow(stacked(maps), starts)[:, -1]
    for row, chosen in zip(ends.tolist(), product(WIRINGS, repeat=3), strict=True):
        assert tuple(row) == total((wired(w, 12) for w in chosen), 12)


# Traps


def codes(link: Link) -> set[str]:
    return {finding.code for finding in judged(link).findings if finding.best}


TRAPS: list[tuple[str, tuple[str, dict[str, object]], str, Verdict]] = [
    ("two pinned", ("array-cord-1", {"right_pins": "pins"}), "mating.two_pinned", Verdict.DAMAGE),
    ("two unpinned", ("trunk-1", {"left_pins": "holes"}), "mating.no_pins", Verdict.FAIL),
    ("pins not known", ("trunk-1", {"right_pins": "unknown"}), "mating.pins_unknown", Verdict.UNKNOWN),
    ("keys of 16 among 12", ("array-cord-1", {"array": "16"}), "mating.shape", Verdict.FAIL),
    ("24 on a row of 12", ("array-cord-2", {"array": "24"}), "mating.array_rows", Verdict.FAIL),
    ("angled on flat", ("array-cord-1", {"polish": "APC"}), "mating.angled_flat", Verdict.DAMAGE),
    ("straight trunk", ("trunk-1", {"wiring": "straight"}), "polarity.dark", Verdict.FAIL),
]


@pytest.mark.parametrize(("name", "change", "code", "verdict"), TRAPS, ids=[trap[0] for trap in TRAPS])
def test_a_trap_is_found(name: str, change: tuple[str, dict[str, object]], code: str, verdict: Verdict) -> None:
    link = changed(parallel(SETS["reversed"]), change)
    assert code in codes(link)
    assert judged(link).verdict is verdict


def test_angled_arrays_seat_only_with_keys_opposed() -> None:
    fast = tuple(port.model_copy(update={"cage": "QSFP-DD", "rates_mbps": (400_000,)}) for port in FAST)
    link = parallel_link("rows", (fast[0], fast[1]), CATALOG.application("400GBASE-DR4"), ("OS2",), 65.0)
    assert judged(link).verdict is Verdict.PASS
    aligned = changed(link, ("panel-1", {"keys": "aligned"}))
    assert "mating.angled_keys" in codes(aligned)
    found = judged(aligned, with_fixes=True)
    fix = next(f for f in found.findings if f.code == "mating.angled_keys").fixes[0]
    assert judged(apply_edits(aligned, fix.edits)).verdict is Verdict.PASS


def test_a_pair_flipped_trunk_lights_parallel_optics_only_with_the_cord_that_compensates() -> None:
    link = parallel(SETS["pair-flipped"])
    assert not [f for f in judged(link).findings if f.code == "polarity.order"]
    plain = changed(link, ("array-cord-2", {"wiring": "reversed"}))
    found = judged(plain)
    order = next(f for f in found.findings if f.code == "polarity.order")
    assert (found.verdict, order.severity.value, order.best) == (Verdict.PASS, "note", None)


def test_eight_lanes_do_not_run_over_cabling_of_twelve_and_the_reverse() -> None:
    eight = parallel(SETS["reversed"], "400GBASE-SR8")
    assert "mating.shape" in codes(changed(eight, ("trunk-1", {"array": "12"})))
    assert "mating.shape" in codes(changed(parallel(SETS["reversed"]), ("trunk-1", {"array": "16"})))


def test_larger_arrays_are_named_and_declined() -> None:
    for count in ("36", 48, "60", 72):
        with pytest.raises(ValueError, match=f"arrays of {count} fibers exist"):
            Trunk.model_validate({"array": count})
    assert Trunk.model_validate({"array": 24}).array == "24"


def leg(number: int, taken: int) -> Link:
    link = leg_link(
        "host",
        (FAST[0], SLOW[1]),
        CATALOG.application("40G-parallel-300m"),
        CATALOG.application("10GBASE-SR"),
        ("OM4",),
        5.0,
        legs=4,
        leg=number,
    )
    return changed(link, ("breakout-1", {"leg": taken}))


@pytest.mark.parametrize(("number", "taken"), list(product(range(5), range(1, 5))))
def test_a_leg_that_is_counted_must_be_that_leg_and_one_that_is_not_may_be_any(number: int, taken: int) -> None:
    found = judged(leg(number, taken), with_fixes=True)
    wrong = [f for f in found.findings if f.code == "polarity.leg"]
    assert bool(wrong) is (number not in (0, taken))
    for finding in wrong:
        assert all(judged(apply_edits(leg(number, taken), f.edits)).verdict is Verdict.PASS for f in finding.fixes)


def test_a_port_that_nobody_knows_to_split_is_not_called_good() -> None:
    link = leg(1, 1)
    assert judged(changed(link, (link.elements[0].id, {"splits": ()}))).verdict is Verdict.UNKNOWN
    assert judged(changed(link, (link.elements[0].id, {"splits": (2,)}))).verdict is Verdict.FAIL


# Repairs


def brute(link: Link) -> int | None:
    """The least effort of any one or two changes of pieces after which a plain walk finds the link lit."""
    options = [
        (OF_WORK[other.by], piece.id, other.values)
        for piece in link.elements
        for other in spec_of(piece).alternatives(piece)
        if other.of == "positions"
    ]
    least: int | None = None
    for count in (1, 2):
        for chosen in combinations(options, count):
            effort = sum(one[0] for one in chosen)
            if len({one[1] for one in chosen}) < count or (least is not None and effort >= least):
                continue
            try:
                after = changed(link, *((one[1], one[2]) for one in chosen))
            except EditError:
                continue
            if walked(after):
                least = effort
    return least


@settings(max_examples=examples(12))
@given(st.sampled_from(list(SETS)), st.data())
def test_the_repair_that_is_found_is_the_smallest_and_passes(name: str, data: st.DataObject) -> None:
    link = duplex(SETS[name]) if data.draw(st.booleans()) else parallel(SETS[name])
    pieces = [e for e in link.elements if list(spec_of(e).alternatives(e))]
    for _ in range(2):
        piece = data.draw(st.sampled_from(pieces))
        others = [a for a in spec_of(piece).alternatives(link.element(piece.id)) if a.of == "positions"]
        link = changed(link, (piece.id, data.draw(st.sampled_from(others)).values))
    if lights(link):
        return
    found = list(lighting(link, CATALOG, OF_WORK))
    assert min(sum(c.effort for c in one) for one in found) == brute(link)
    dark = next(f for f in judged(link, with_fixes=True).findings if f.code.startswith("polarity."))
    assert dark.fixes
    assert judged(apply_edits(link, dark.fixes[0].edits)).verdict is Verdict.PASS


def test_a_clip_that_cannot_be_turned_is_a_cord_to_exchange() -> None:
    link = changed(
        duplex(SETS["straight"]), ("cord-2", {"crossed": True, "clip": "fixed"}), ("cord-1", {"clip": "fixed"})
    )
    dark = next(f for f in judged(link, with_fixes=True).findings if f.code == "polarity.dark")
    assert dark.fixes[0].label.startswith("Exchange the cord")
    assert "its clip cannot be turned" in dark.fixes[0].label


def test_what_was_repaired_twice_is_dark_again_and_says_so() -> None:
    dark = changed(duplex(SETS["straight"]), ("cord-2", {"crossed": True}))
    first, second = next(f for f in judged(dark, with_fixes=True).findings if f.best).fixes[:2]
    assert judged(apply_edits(dark, first.edits)).verdict is Verdict.PASS
    twice = apply_edits(apply_edits(dark, first.edits), second.edits)
    assert "polarity.dark" in codes(twice)


def test_pins_are_exchanged_where_that_is_least_work() -> None:
    link = changed(parallel(SETS["reversed"]), ("array-cord-1", {"right_pins": "pins"}))
    fix = next(f for f in judged(link, with_fixes=True).findings if f.code == "mating.two_pinned").fixes[0]
    assert fix.label == "Exchange the array cord at row A: no pins at its right end"
    allowed = changed(link, ("array-cord-1", {"changeable": "pins"}))
    fix = next(f for f in judged(allowed, with_fixes=True).findings if f.code == "mating.two_pinned").fixes[0]
    assert fix.label == "Change the pins of the array cord at row A: no pins at its right end"


# Conversions


def converted(converts: str, front: int) -> Link:
    """Parallel lanes from eight-fiber cords through conversions at both ends of the trunk behind them."""
    behind = "24" if converts.startswith("24") else "2 x 12"
    fronts = "24" if converts.endswith("to 24") else "8"
    application = CATALOG.application("100GBASE-SR10" if fronts == "24" else "40GBASE-SR4")
    link = parallel_link("rows", (FAST[0], FAST[1]), application, ("OM4",), 65.0, backbone=SETS["reversed"])
    box: dict[str, object] = {"converts": converts, "front": front, "loss_class": "mated pair, low-loss"}
    near, far = (
        Conversion.model_validate({**box, "rear": rear, "front_keys": "aligned", "rear_keys": "aligned"})
        for rear in ("right", "left")
    )
    pieces = list(link.elements)
    pieces[3], pieces[5] = (
        near.model_copy(update={"id": "conversion-1"}),
        far.model_copy(update={"id": "conversion-2"}),
    )
    whole = link.model_copy(update={"elements": tuple(pieces)})
    cords = [(e.id, {"array": fronts}) for e in whole.elements if e.kind == "array-cord"]
    return changed(whole, ("trunk-1", {"array": behind, "left_pins": "holes", "right_pins": "holes"}), *cords)


@pytest.mark.parametrize(
    ("converts", "front"),
    [("24 to 3 x 8", 1), ("24 to 3 x 8", 2), ("24 to 3 x 8", 3), ("2 x 12 to 3 x 8", 1), ("2 x 12 to 24", 1)],
)
def test_conversions_are_parts_like_any_other(converts: str, front: int) -> None:
    """What fits touches nothing wrongly, and what is dark is lit by the repair that the search finds."""
    link = converted(converts, front)
    assert not {code for code in codes(link) if code.startswith("mating.")}, codes(link)
    assert lights(link) is walked(link)
    if not lights(link):
        found = next(lighting(link, CATALOG, OF_WORK))
        after = apply_edits(link, tuple(change.edit for change in found))
        assert walked(after)


def test_a_front_that_is_not_there_is_refused_by_its_field() -> None:
    with pytest.raises(ValueError, match="has 1 fronts, not a front 2"):
        Conversion.model_validate({"converts": "2 x 12 to 24", "front": 2})
