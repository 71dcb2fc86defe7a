"""Changes as data: what they do, that they can be taken back, and pieces that fit where they are put."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.bulk import SetApplication, SetGrade, SetLossClass, SetWantedRate, edits_for
from passerelle.core.link.chain import Link, called, length_m
from passerelle.core.link.edits import Describe, Flip, Insert, Remove, Reverse, SetFields, apply_edits
from passerelle.core.link.fitting import fitting_piece
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.review import review
from passerelle.demo.port_aubier import demo_links
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=0.0)


def verdict(link: Link) -> Verdict:
    return review(link, CATALOG, HOUSE, with_fixes=False).verdict


@pytest.mark.parametrize("link", demo_links(), ids=lambda link: link.name)
def test_a_link_drawn_from_its_other_end_is_the_same_link(link: Link) -> None:
    turned = apply_edits(link, (Reverse(),))
    assert apply_edits(turned, (Reverse(),)) == link
    assert length_m(turned) == length_m(link)
    before = review(link, CATALOG, HOUSE, with_fixes=False)
    after = review(turned, CATALOG, HOUSE, with_fixes=False)
    assert (after.verdict, after.margin_db) == (before.verdict, before.margin_db)
    assert {f.code for f in after.findings} == {f.code for f in before.findings}


@given(st.sampled_from(demo_links()), st.data())
def test_turning_a_piece_twice_is_nothing(link: Link, data: st.DataObject) -> None:
    turnable = [e.id for e in link.elements if e.kind not in ("port", "module")]
    piece = data.draw(st.sampled_from(turnable))
    assert apply_edits(link, (Flip(element=piece), Flip(element=piece))) == link


def test_turning_a_conditioning_cord_turns_its_leg() -> None:
    link = apply_edits(
        plain_link("1000BASE-LX", "OM2", 50), (SetFields(element="cord-1", values={"offset_launch": "left"}),)
    )
    turned = apply_edits(link, (Flip(element="cord-1"),)).element("cord-1")
    assert isinstance(turned, Cord)
    assert turned.offset_launch == "right"


@pytest.mark.parametrize("end", ["port-1", "module-2"])
def test_the_ends_of_a_link_are_not_turned(end: str) -> None:
    with pytest.raises(EditError, match="cannot be turned"):
        apply_edits(plain_link(), (Flip(element=end),))


def test_edits_are_all_made_or_none() -> None:
    link = plain_link()
    with pytest.raises(EditError):
        apply_edits(link, (Remove(element="cord-1"), Remove(element="cord-1")))
    assert link == plain_link()


def test_a_new_piece_gets_an_id_that_nobody_has() -> None:
    panel = Panel(shape="LC")
    link = apply_edits(plain_link(), (Insert(after="cord-1", piece=panel), Insert(after="", piece=panel)))
    ids = [e.id for e in link.elements]
    assert len(set(ids)) == len(ids)
    assert link.elements[0].id == "panel-4"


def test_a_doubled_id_is_refused() -> None:
    with pytest.raises(EditError, match="two pieces have the id 'cord-1'"):
        apply_edits(plain_link(), (Insert(after="", piece=Panel(id="cord-1", shape="LC")),))


def test_a_link_keeps_a_name() -> None:
    with pytest.raises(EditError) as caught:
        apply_edits(plain_link(), (Describe(values={"name": ""}),))
    assert caught.value.field == "name"
    with pytest.raises(EditError, match="one by one"):
        apply_edits(plain_link(), (Describe(values={"elements": []}),))


def test_a_piece_is_called_by_its_label_or_by_its_end() -> None:
    link = demo_links()[0]
    assert called(link, link.element("panel-2")) == "the panel F2 port 3"
    assert called(link, link.element("cord-2")) == "the cord at Ferry terminal"


def fitted(link: Link, after: str, kind: str) -> Link:
    piece = fitting_piece(link, after, kind, CATALOG)  # type: ignore[arg-type]
    return apply_edits(link, (Insert(after=after, piece=piece),))


@pytest.mark.parametrize("grade", ["OS2", "OM4"])
@pytest.mark.parametrize(
    ("gone", "after", "kind"),
    [
        ("cord-1", "module-1", "cord"),
        ("panel-2", "run-1", "panel"),
        ("cord-2", "panel-2", "cord"),
        ("module-2", "cord-2", "module"),
    ],
)
def test_what_was_taken_out_can_be_put_back_fitting(grade: str, gone: str, after: str, kind: str) -> None:
    link = plain_link("10GBASE-LR" if grade == "OS2" else "10GBASE-SR", grade, 100, shape="SC")
    without = apply_edits(link, (Remove(element=gone),))
    assert verdict(without) is not Verdict.PASS
    assert verdict(fitted(without, after, kind)) is Verdict.PASS


def test_a_spliced_end_is_built_piece_by_piece() -> None:
    bare = apply_edits(plain_link(), (SetFields(element="run-1", values={"right": None}),))
    spliced = fitted(bare, "run-1", "splice")
    whole = fitted(spliced, "splice-1", "pigtail")
    tail = whole.element("pigtail-1")
    assert isinstance(tail, Pigtail)
    assert (tail.left, tail.right is None) == (None, False)
    assert verdict(whole) is Verdict.PASS


def test_a_fitted_pad_faces_the_module_it_stands_at() -> None:
    for after, side in (("module-1", "left"), ("cord-2", "right")):
        pad = fitting_piece(plain_link(), after, "attenuator", CATALOG)
        assert isinstance(pad, Attenuator)
        assert pad.plug_side == side


def test_a_fitted_run_has_no_length_until_one_is_given() -> None:
    run = fitting_piece(plain_link(), "panel-1", "run", CATALOG)
    assert isinstance(run, Run)
    assert run.length_m is None
    assert isinstance(fitting_piece(plain_link(), "run-1", "splice", CATALOG), Splice)
    with pytest.raises(EditError, match="no piece 'x'"):
        fitting_piece(plain_link(), "x", "cord", CATALOG)


def test_single_strand_links_get_single_strand_pieces() -> None:
    cord = fitting_piece(plain_link("1000BASE-BX10-D", length_m=10), "panel-1", "cord", CATALOG)
    assert isinstance(cord, Cord)
    assert (cord.strands, cord.crossed) == (1, False)


@pytest.mark.parametrize(
    "change",
    [
        SetApplication(application="1000BASE-LX10"),
        SetGrade(grade="OS1a"),
        SetLossClass(loss_class="mated pair, low-loss"),
        SetWantedRate(wanted_rate_mbps=1000),
    ],
)
def test_a_bulk_change_made_twice_is_made_once(change: SetApplication) -> None:
    link = plain_link()
    once = apply_edits(link, edits_for(link, change, CATALOG))
    assert once != link
    assert apply_edits(once, edits_for(once, change, CATALOG)) == once


def test_a_new_grade_brings_its_polish_but_keeps_angled_faces() -> None:
    ferry = demo_links()[0]
    after = apply_edits(ferry, edits_for(ferry, SetGrade(grade="OM4"), CATALOG))
    run, cord = after.element("run-1"), after.element("cord-1")
    assert isinstance(run, Run)
    assert isinstance(cord, Cord)
    assert run.right is not None
    assert (run.right.polish, cord.left.polish) == ("APC", "PC")
