"""Loss and margins against sums done by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.budget.loss import core_mismatch_db
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Flip, Insert, SetFields, apply_edits
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=1.0)


def judge(link: Link) -> Review:
    return review(link, CATALOG, HOUSE, with_fixes=False)


@pytest.mark.parametrize(
    ("application", "grade", "length_m", "pairs", "splices", "worst_db", "limit_db"),
    [
        ("10GBASE-LR", "OS2", 2900, 2, 0, 2.9 * 0.4 + 2 * 0.75, 6.2),
        ("10GBASE-LR", "OS2", 10000, 2, 2, 10 * 0.4 + 2 * 0.75 + 3 * 0.3, 6.2),  # and one assumed
        ("10GBASE-SR", "OM4", 300, 2, 0, 0.3 * 3.0 + 2 * 0.75, 2.9),
        ("10GBASE-SR", "OM3", 300, 4, 0, 0.3 * 3.0 + 4 * 0.75, 2.6),
        ("1000BASE-SX", "OM1", 220, 2, 1, 0.22 * 3.5 + 2 * 0.75 + 0.3, 2.60),
        ("1000BASE-LX", "OS2", 5000, 2, 0, 5 * 0.4 + 2 * 0.75, 4.57),
        ("1000BASE-LX10", "OS1", 2000, 0, 0, 2 * 1.0, 6.0),
    ],
)
def test_worst_loss_and_channel_margin_by_hand(
    application: str, grade: str, length_m: float, pairs: int, splices: int, worst_db: float, limit_db: float
) -> None:
    found = judge(plain_link(application, grade, length_m, pairs=pairs, splices=splices, cord_m=0.0))
    assert found.loss is not None
    assert found.loss.worst_db == pytest.approx(worst_db)
    channel = next(m for m in found.directions[0].limits if m.name == "channel insertion loss")
    assert channel.margin_db == pytest.approx(limit_db - worst_db, abs=1e-6)
    assert (found.verdict is Verdict.FAIL) == (limit_db < worst_db)


def test_power_budget_less_penalties_less_loss() -> None:
    """10GBASE-LR, 802.3 table 52-14: 9.4 - 3.2 - 2.66."""
    budget = next(m for m in judge(plain_link(cord_m=0.0)).directions[0].limits if m.name == "power budget")
    assert budget.margin_db == pytest.approx(3.54)


def test_the_plug_in_the_module_is_not_a_pair() -> None:
    found = judge(plain_link(length_m=10, pairs=0, cord_m=0.0))
    assert found.loss is not None
    assert found.loss.worst_db == pytest.approx(0.004)


def test_a_blinded_receiver_and_the_pad_that_saves_it() -> None:
    bright = plain_link("10GBASE-ER", "OS2", 840)
    assert {f.code for f in judge(bright).findings} == {"light.too_bright"}
    checked = review(bright, CATALOG, HOUSE)
    fix = next(f for f in checked.findings[0].fixes if "attenuator" in f.label)
    after = judge(apply_edits(bright, fix.edits))
    assert not after.verdict.broken
    assert all(m.margin_db >= 0 for d in after.directions for m in d.limits)
    assert after.on_estimate, "the tolerance of the attenuator is an estimate, and it decides"


def test_too_big_a_pad_is_a_loss_failure() -> None:
    link = plain_link("10GBASE-ER", "OS2", 840)
    pad = Attenuator(value_db=15, shape="LC", polish="UPC", plug_side="right")
    assert "loss.over_limit" in {
        f.code for f in judge(apply_edits(link, (Insert(after="cord-2", piece=pad),))).findings
    }


def test_marginal_is_between_zero_and_the_house_margin() -> None:
    link = plain_link("10GBASE-SR", "OM3", 200, cord_m=0.0)  # 2.6 - 2.1 = +0.5
    assert judge(link).verdict is Verdict.MARGINAL
    assert review(link, CATALOG, HouseRules(margin_db=0.5), with_fixes=False).verdict is Verdict.PASS
    assert review(link, CATALOG, HouseRules(margin_db=0.0), with_fixes=False).verdict is Verdict.PASS


def test_light_from_wide_into_narrow_glass_loses_in_that_direction_only(catalog: Catalog) -> None:
    wide, narrow = catalog.fiber("OM1"), catalog.fiber("OM2")
    assert core_mismatch_db(wide, narrow) == pytest.approx(4.7, abs=0.1)
    assert core_mismatch_db(narrow, wide) == 0
    link = apply_edits(
        plain_link("1000BASE-SX", "OM1", 100), (SetFields(element="cord-2", values={"fiber": ("OM2",)}),)
    )
    right, left = judge(link).directions
    assert right.loss.worst_db - left.loss.worst_db == pytest.approx(core_mismatch_db(wide, narrow), abs=1e-6)
    assert judge(link).loss == right.loss, "the worse direction stands"


def test_receiver_sees_launch_less_loss() -> None:
    right = judge(plain_link(cord_m=0.0)).directions[0]
    assert right.arrives_min_dbm == pytest.approx(-8.2 - 2.66)
    assert right.arrives_max_dbm == pytest.approx(0.5 - right.loss.least_db)


lengths = st.floats(min_value=1, max_value=9000)


@given(lengths, st.integers(0, 4), st.integers(0, 4))
def test_loss_never_falls_when_a_joint_is_added(length_m: float, pairs: int, splices: int) -> None:
    base = judge(plain_link(length_m=length_m, pairs=pairs, splices=splices)).loss
    for more in ({"pairs": pairs + 1, "splices": splices}, {"pairs": pairs, "splices": splices + 1}):
        loss = judge(plain_link(length_m=length_m, **more)).loss
        assert base is not None
        assert loss is not None
        assert loss.worst_db >= base.worst_db - 1e-9
        assert loss.least_db >= base.least_db - 1e-9


@given(lengths, st.integers(0, 4), st.integers(0, 3))
def test_the_four_sums_stand_in_order_and_do_not_move(length_m: float, pairs: int, splices: int) -> None:
    link = plain_link(length_m=length_m, pairs=pairs, splices=splices)
    loss = judge(link).loss
    assert loss is not None
    assert loss == judge(link).loss
    assert loss.least_db <= loss.expected_db <= loss.worst_db
    assert loss.least_db - 1e-9 <= loss.q975_db <= loss.worst_db + 1e-9


@given(lengths, st.permutations(["mated pair", "mated pair, low-loss", "mated pair"]))
def test_order_of_pieces_does_not_change_the_loss(length_m: float, classes: list[str]) -> None:
    link = apply_edits(plain_link(length_m=length_m, pairs=3), (SetFields(element="run-1", values={"splices": 0}),))
    edits = tuple(SetFields(element=f"panel-{i + 1}", values={"loss_class": c}) for i, c in enumerate(classes))
    loss = judge(apply_edits(link, edits)).loss
    assert loss is not None
    assert loss.worst_db == pytest.approx((length_m + 6) * 0.4e-3 + 2 * 0.75 + 0.35)


def test_a_reversed_link_has_mirrored_directions() -> None:
    link = apply_edits(
        plain_link("1000BASE-SX", "OM1", 100), (SetFields(element="cord-2", values={"fiber": ("OM2",)}),)
    )
    turned = link.model_copy(update={"elements": tuple(reversed(link.elements))})
    ids = [e.id for e in turned.elements if e.kind in ("cord", "run")]
    right, left = judge(apply_edits(turned, tuple(Flip(element=i) for i in ids))).directions
    before_right, before_left = judge(link).directions
    assert right.loss.worst_db == pytest.approx(before_left.loss.worst_db)
    assert left.loss.worst_db == pytest.approx(before_right.loss.worst_db)


def test_a_low_loss_panel_is_an_estimate_and_the_verdict_says_so() -> None:
    edits = (SetFields(element="panel-1", values={"loss_class": "mated pair, low-loss"}),)
    found = judge(apply_edits(plain_link(), edits))
    assert found.verdict_text == "pass on estimate"
    assert judge(plain_link()).verdict_text == "pass"


def test_an_attenuator_at_a_cord_counts_its_joint_as_a_pair() -> None:
    link = plain_link("10GBASE-ER", "OS2", 840)
    pad = Attenuator(value_db=5, shape="LC", polish="UPC", plug_side="right")
    before, after = judge(link), judge(apply_edits(link, (Insert(after="cord-2", piece=pad),)))
    assert before.loss is not None
    assert after.loss is not None
    assert after.loss.worst_db - before.loss.worst_db == pytest.approx(5.5 + 0.75)


def test_panels_without_a_cord_between_add_no_false_certainty() -> None:
    found = judge(apply_edits(plain_link(), (Insert(after="panel-1", piece=Panel(shape="LC")),)))
    assert found.verdict is Verdict.UNKNOWN
    assert found.margin_db is None
