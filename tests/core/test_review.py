"""What the review says, and that its fixes keep their word."""

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, Insert, Remove, SetFields, apply_edits
from passerelle.core.link.fitting import fitting_piece
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.piece import Plug
from passerelle.core.review import Review, review
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

HOUSE = HouseRules(margin_db=1.0)
APC, UPC = Plug(shape="LC", polish="APC"), Plug(shape="LC", polish="UPC")


def judge(link: Link, *, fixes: bool = False) -> Review:
    return review(link, CATALOG, HOUSE, with_fixes=fixes)


def codes(link: Link) -> set[str]:
    return {f.code for f in judge(link).findings}


def changed(link: Link, element: str, **values: object) -> Link:
    return apply_edits(link, (SetFields(element=element, values=values),))


STORIES = {
    "Ferry terminal": (Verdict.DAMAGE, "mating.angled_flat"),
    "Lock house, quay duct": (Verdict.PASS, None),
    "Gate camera": (Verdict.PASS, None),
    "Lock house, dike duct": (Verdict.FAIL, "light.too_bright"),
    "Crane 1": (Verdict.MARGINAL, "margin.thin"),
    "Crane 2": (Verdict.FAIL, "reach.exceeded"),
    "Crane 3": (Verdict.PASS, None),
    "Cold store": (Verdict.FAIL, "reach.exceeded"),
    "Weighbridge": (Verdict.UNKNOWN, "fiber.unknown"),
    "Survey boats": (Verdict.FAIL, "polarity.dark"),
    "Radar mast": (Verdict.FAIL, "speed.ends_differ"),
    "Rows A to B": (Verdict.PASS, None),
    "Cold store dock": (Verdict.FAIL, "loss.over_limit"),
    "Cold store, today": (Verdict.FAIL, "launch.offset_missing"),
    "Tide station": (Verdict.FAIL, "pair.same_side"),
    "Pump house": (Verdict.PASS, "reach.engineered"),
    "Freezer aisle": (Verdict.FAIL, "temperature.outside"),
    "Twisted pair to the weighbridge": (Verdict.FAIL, "copper.between_buildings"),
    "Rows 40G": (Verdict.PASS, None),
    "Rows 100G": (Verdict.PASS, None),
    "Rows 40G, spare cord": (Verdict.DAMAGE, "mating.two_pinned"),
    "Rows 40G, cassette trunk": (Verdict.FAIL, "mating.no_pins"),
    "Rows 40G, straight trunk": (Verdict.FAIL, "polarity.dark"),
    "Rows 100G, other adapter": (Verdict.FAIL, "polarity.dark"),
    "Rows 100G, pairs flipped": (Verdict.PASS, "polarity.order"),
    "Rows 100G, 24 fibers": (Verdict.FAIL, "mating.array_rows"),
    "Rows 400G": (Verdict.PASS, None),
    "Rows 400G, keys aligned": (Verdict.FAIL, "mating.angled_keys"),
    "Rows 400G, flat cord": (Verdict.DAMAGE, "mating.angled_flat"),
    "Rows 400G, eight lanes": (Verdict.FAIL, "mating.array_fibers"),
    "Rows 10G, front 1": (Verdict.PASS, None),
    "Rows 10G, crossed twice": (Verdict.FAIL, "polarity.dark"),
    "Rows 10G, straight cassettes": (Verdict.FAIL, "polarity.dark"),
    "Rows 10G, fixed clips": (Verdict.FAIL, "polarity.dark"),
    "Row A, host 1": (Verdict.PASS, "application.mixed"),
    "Row A, host 2": (Verdict.PASS, "application.mixed"),
    "Row A, host 3": (Verdict.FAIL, "polarity.leg"),
}


@pytest.mark.parametrize("link", demo_links(), ids=lambda link: link.name)
def test_each_demo_link_tells_its_story(link: Link) -> None:
    verdict, code = STORIES[link.name]
    found = judge(link)
    assert found.verdict is verdict
    assert (found.findings[0].code if found.findings else None) == code
    if code:
        assert found.headline.endswith(found.findings[0].what) or found.verdict is Verdict.PASS


@pytest.mark.parametrize("link", demo_links(), ids=lambda link: link.name)
def test_each_fix_does_what_it_says(link: Link) -> None:
    before = judge(link, fixes=True)
    broken_before = {f.key for f in before.findings}
    for finding in before.findings:
        for fix in finding.fixes:
            after = judge(apply_edits(link, fix.edits))
            assert fix.effect is not None
            assert (after.verdict, after.margin_db) == (fix.effect.verdict, fix.effect.margin_db)
            assert finding.key not in {f.key for f in after.findings}
            assert {f.key for f in after.findings if f.best and f.best.broken} <= broken_before


def test_each_broken_demo_link_can_be_repaired_from_its_findings() -> None:
    for link in demo_links():
        found = judge(link, fixes=True)
        if found.verdict.broken and link.name != "Pump house":  # only a reading can help there
            best = [x.effect.verdict for f in found.findings for x in f.fixes if x.effect]
            assert any(not verdict.broken for verdict in best), link.name


def test_angled_on_flat_is_damage_at_every_kind_of_joint() -> None:
    for element, side in (("cord-1", "left"), ("cord-1", "right"), ("run-1", "left"), ("cord-2", "right")):
        found = judge(changed(plain_link(), element, **{side: APC}))
        assert found.verdict is Verdict.DAMAGE, (element, side)


def test_angled_on_angled_is_right() -> None:
    link = changed(changed(plain_link(), "cord-1", right=APC), "run-1", left=APC)
    assert judge(link).verdict is Verdict.PASS


def test_a_plug_must_have_the_adapters_shape() -> None:
    link = changed(plain_link(), "panel-1", shape="SC")
    assert [f.code for f in judge(link).findings] == ["mating.shape", "mating.shape"]


def test_single_mode_into_multimode_is_never_right() -> None:
    for application, grade, odd in (("10GBASE-LR", "OS2", "OM4"), ("10GBASE-SR", "OM4", "OS2")):
        found = judge(changed(plain_link(application, grade, 50), "cord-1", fiber=(odd,)))
        assert found.verdict is Verdict.FAIL
        assert {"core.mode", "fiber.not_for_application"} <= {f.code for f in found.findings}


def test_lx_on_multimode_asks_for_offset_launch_cords_at_any_length() -> None:
    assert "launch.offset_missing" in codes(plain_link("1000BASE-LX", "OM2", 50))


@pytest.mark.parametrize(
    ("values", "code", "verdict"),
    [
        ({"rates_mbps": (1000,)}, "speed.port", Verdict.FAIL),
        ({"rates_mbps": ()}, "speed.unknown", Verdict.UNKNOWN),
        ({"rates_mbps": (10000, 25000)}, "speed.set_port", Verdict.PASS),
        ({"cage": "SFP"}, "cage.form", Verdict.FAIL),
        ({"cage": "SFP28"}, None, Verdict.PASS),
        ({"cage": "RJ45"}, "cage.form", Verdict.FAIL),
        ({"coding_policy": "own only"}, "coding.unknown", Verdict.UNKNOWN),
    ],
)
def test_port_and_module(values: dict[str, object], code: str | None, verdict: Verdict) -> None:
    found = judge(changed(plain_link(), "port-1", **values))
    assert found.verdict is verdict
    assert ({f.code for f in found.findings} or {None}) == {code}


def test_coding_is_compared_with_what_the_port_accepts() -> None:
    own = changed(plain_link(), "port-2", coding_policy="own only", make="make A")
    assert "coding.refused" in codes(changed(own, "module-2", coding="make B"))
    assert judge(changed(own, "module-2", coding="make A")).verdict is Verdict.PASS


def test_a_link_slower_than_wanted_is_no_pass() -> None:
    assert "speed.below_wanted" in codes(plain_link("1000BASE-LX10", wanted_rate_mbps=10000))


def test_lx_and_lx10_work_together_by_the_poorer_row_on_estimate() -> None:
    found = judge(changed(plain_link("1000BASE-LX10", length_m=4000), "module-1", application="1000BASE-LX"))
    assert (found.verdict, found.on_estimate) == (Verdict.PASS, True)
    assert found.margin_db == pytest.approx(4.57 - (4.004 * 0.4 + 1.5))
    far = judge(changed(plain_link("1000BASE-LX10", length_m=6000), "module-1", application="1000BASE-LX"))
    assert "reach.exceeded" in {f.code for f in far.findings}


@pytest.mark.parametrize(("length_m", "within"), [(296, True), (296.1, False)])
def test_reach_ends_where_the_row_ends(length_m: float, within: bool) -> None:
    assert ("reach.exceeded" not in codes(plain_link("10GBASE-SR", "OM3", length_m, cord_m=2))) is within


def test_candidates_are_all_computed_and_the_worst_is_named() -> None:
    found = judge(plain_link("10GBASE-SR", ("OM3",), 200))
    open_run = judge(changed(plain_link("10GBASE-SR", "OM3", 200), "run-1", fiber=("OM4", "OM2", "OM3")))
    assert {c.grades[0]: c.verdict for c in open_run.candidates} == {
        "OM4": found.verdict,
        "OM3": found.verdict,
        "OM2": Verdict.FAIL,
    }
    assert open_run.verdict is Verdict.FAIL
    assert open_run.headline.startswith("If it is OM2")


def test_too_many_candidates_stay_unknown() -> None:
    grades = tuple(CATALOG.fibers)
    link = plain_link("10GBASE-SR", grades, 20, pairs=4)
    assert judge(link).verdict is Verdict.UNKNOWN


@pytest.mark.parametrize("missing", ["length_m", "fiber"])
def test_a_missing_input_is_unknown_and_never_green(missing: str) -> None:
    for piece in ("run-1", "cord-1"):
        found = judge(changed(plain_link(), piece, **{missing: None if missing == "length_m" else ()}))
        assert found.verdict is Verdict.UNKNOWN
        assert found.margin_db is None


@settings(max_examples=examples(60))
@given(st.sets(st.integers(0, 8), min_size=1, max_size=8))
def test_only_a_chain_that_closes_from_port_to_port_passes(gone: set[int]) -> None:
    link = plain_link()
    edits: tuple[Edit, ...] = tuple(Remove(element=link.elements[i].id) for i in gone)
    after = apply_edits(link, edits)
    if judge(after, fixes=True).verdict in (Verdict.PASS, Verdict.MARGINAL):
        kinds = " ".join(e.kind for e in after.elements)
        assert re.fullmatch(r"port module ((cord|run) panel )*(cord|run) module port", kinds)


def test_an_inserted_piece_fits_its_neighbors() -> None:
    link = apply_edits(plain_link(), (Remove(element="panel-1"),))
    finding = next(f for f in judge(link, fixes=True).findings if f.code == "chain.open")
    assert [fix.label for fix in finding.fixes] == ["Insert an LC adapter"]
    panel = fitting_piece(link, "cord-1", "panel", CATALOG)
    assert judge(apply_edits(link, (Insert(after="cord-1", piece=panel),))).verdict is Verdict.PASS


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        (SetFields(element="run-1", values={"length_m": "1,500"}), "length_m"),
        (SetFields(element="run-1", values={"length_m": -5}), "length_m"),
        (SetFields(element="run-1", values={"length_m": float("nan")}), "length_m"),
        (SetFields(element="run-1", values={"color": "aqua"}), "color"),
        (SetFields(element="run-1", values={"id": "x"}), "id"),
        (SetFields(element="nothing", values={"length_m": 5}), "element"),
        (Remove(element="nothing"), "element"),
    ],
)
def test_a_change_that_cannot_be_made_names_its_field(edit: Edit, field: str) -> None:
    with pytest.raises(EditError) as caught:
        apply_edits(plain_link(), (edit,))
    assert caught.value.field == field


def test_a_name_that_the_catalog_does_not_have_is_refused() -> None:
    with pytest.raises(EditError, match="OM9"):
        judge(changed(plain_link(), "run-1", fiber=("OM9",)))


def test_a_pigtail_has_exactly_one_plug() -> None:
    with pytest.raises(ValueError, match="one plug"):
        Pigtail(left=UPC, right=UPC)
