"""Parts that several links share: what a piece on one is, and that it changes no verdict by being shared."""

from __future__ import annotations

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.errors import PlantError
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Flip, SetFields, apply_edits
from passerelle.core.link.keys import keyed
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.registry import adapters, spec_of
from passerelle.core.plant.records import Frame, Hole, Place, SharedPart
from passerelle.core.plant.riders import check_taken, laid, off_plant, released, taken
from passerelle.core.plant.rows import Shelves, keyed_rows
from passerelle.core.plant.shared import free_positions, on_part, shared_from, shared_uses
from passerelle.core.plant.site import Plant
from passerelle.core.review import review
from tests.core.any_link import any_link, is_named
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

LC, SC = Panel(kind="panel", shape="LC"), Panel(kind="panel", shape="SC")
FRAME = Frame(id="f", name="Frame", holes=3, held=(Hole(number=1, adapter=LC), Hole(number=3, adapter=LC)))
SPLIT = SharedPart(id="s", name="Split", holds=Assembly(length_m=3, left_form="QSFP28", legs=4), count=4)
PLANT = Plant(places=(Place(id="a", name="A"),), frames=(FRAME,), parts=(SPLIT,))
HOUSE = HouseRules()


def on(link: Link, element: str, part: str, *positions: int) -> Link:
    values = on_part(link.element(element), PLANT, part, positions, set())
    return laid(apply_edits(link, (SetFields(element=element, values=values),)), PLANT)


@settings(max_examples=examples(10))
@given(any_link(), st.data())
def test_a_link_whose_pieces_are_all_shared_is_judged_as_if_they_were_its_own(
    link: Link, data: st.DataObject
) -> None:
    """Neither its keys nor where its pieces stand say anything about light."""
    assume(is_named(link))
    link, plant = off_plant(link), Plant()
    for piece in link.elements:
        if not spec_of(piece).any_position and data.draw(st.booleans()):
            plant, part = shared_from(piece, plant, f"part {piece.id}", "", 2)
            link = apply_edits(
                link, (SetFields(element=piece.id, values=on_part(piece, plant, part, (1,), set())),)
            )
    numbers = iter(range(1000))
    shared = laid(keyed(link, lambda: f"k{next(numbers)}"), plant)
    alone = off_plant(shared)
    check_taken([shared], plant)
    assert figures_of([shared], CATALOG, HOUSE) == figures_of([alone], CATALOG, HOUSE)
    assert review(shared, CATALOG, HOUSE).findings == review(alone, CATALOG, HOUSE).findings


def test_a_change_of_what_a_frame_holds_is_one_of_every_link_in_it() -> None:
    first, second = on(plain_link(), "panel-1", "f", 1), on(plain_link(), "panel-1", "f", 3)
    refitted = FRAME.model_copy(update={"held": tuple(h.model_copy(update={"adapter": SC}) for h in FRAME.held)})
    after = PLANT.changed(frames=(refitted,))
    for link in (first, second):
        moved = laid(link, after)
        assert moved.element("panel-1").model_dump()["shape"] == "SC"
        assert review(moved, CATALOG, HOUSE).verdict.broken
        assert moved.element("panel-1").label == link.element("panel-1").label


@pytest.mark.parametrize(
    ("links", "hint"),
    [
        ([("panel-1", "f", (1,)), ("panel-1", "f", (1,))], "hole 1 of Frame would carry both plain and plain"),
        ([("panel-1", "f", (4,))], "holds no adapter"),
        ([("panel-1", "f", (2,))], "hole 2 of Frame, which holds no adapter"),
        ([("cord-1", "f", (1,))], "has a cord where 'f' holds a panel"),
        ([("cord-1", "s", (1,))], "has a cord where 's' holds a assembly"),
        ([("panel-1", "nowhere", (1,))], "which the plan does not have"),
        ([("panel-1", "f", ())], "takes no position of it"),
    ],
)
def test_what_cannot_stand_there_is_told(links: list[tuple[str, str, tuple[int, ...]]], hint: str) -> None:
    made = []
    for element, part, positions in links:
        values = {"part": part, "positions": positions}
        made.append(apply_edits(plain_link(), (SetFields(element=element, values=values),)))
    with pytest.raises(PlantError) as caught:
        check_taken([laid(link, PLANT) if link.element(links[0][0]).positions else link for link in made], PLANT)
    assert hint in str(caught.value)


def test_a_run_is_shared_as_a_cable_and_as_nothing_else() -> None:
    with pytest.raises(PlantError, match="a run is shared as a cable of the plan"):
        shared_from(plain_link().element("run-1"), PLANT, "trunk", "", 2)


def test_what_a_hand_sets_takes_the_piece_off_and_a_label_does_not() -> None:
    link = on(plain_link(), "panel-1", "f", 1)
    named = apply_edits(link, (SetFields(element="panel-1", values={"label": "mine"}),))
    assert released(link, named).element("panel-1").part == "f"
    angled = apply_edits(link, (SetFields(element="panel-1", values={"asks_angled": True}),))
    assert released(link, angled).element("panel-1").part == ""


def test_a_shared_assembly_stays_shared_when_it_is_turned() -> None:
    port = plain_link().elements[0]
    link = Link(
        name="leg",
        elements=(port, SPLIT.holds.model_copy(update={"id": "leg"}), port.model_copy(update={"id": "far"})),
    )
    link = on(link, "leg", "s", 2)
    turned = released(link, apply_edits(link, (Flip(element="leg"),)))
    assert turned.element("leg").part == "s"


def test_the_lowest_free_position_is_taken_and_a_full_part_says_so() -> None:
    values = on_part(LC, PLANT, "f", (), {1})
    assert (values["positions"], values["label"]) == ((3,), "Frame 3")
    with pytest.raises(PlantError, match="every position of 'f' is taken"):
        on_part(LC, PLANT, "f", (), {1, 3})
    assert free_positions(PLANT, "s", {2}) == (1, 3, 4)
    uses = shared_uses(PLANT, taken([on(plain_link(), "panel-1", "f", 3)]))
    assert [(use.id, use.taken, use.free) for use in uses] == [("s", {}, (1, 2, 3, 4)), ("f", {3: "plain"}, (1,))]


def test_every_kind_that_joins_plugs_can_be_fitted_into_a_hole() -> None:
    assert {(piece.kind, getattr(piece, "shape", "")) for piece in adapters()} >= {
        ("panel", "LC"),
        ("panel", "SC"),
        ("outlet", ""),
    }
    assert "splice" not in {piece.kind for piece in adapters()}


@given(st.permutations("abcdef"), st.permutations("cdefgh"), st.integers(0, 6))
def test_rows_go_there_and_back(first: list[str], second: list[str], cut: int) -> None:
    before, after = (Plant(places=tuple(Place(id=i, name=i) for i in ids)) for ids in (first, second[cut:]))
    rows = Shelves.of(before)
    changes = list(rows.changes_to(after))
    for change in changes:
        rows.put(change.shelf, change.row, change.after, change.position)
    assert rows.plant() == after
    for change in reversed(changes):
        rows.put(change.shelf, change.row, change.before, change.was)
    assert rows.plant() == before


def test_a_row_keeps_its_key_whatever_is_said_and_a_new_one_gets_its_own() -> None:
    numbers = iter(range(100))
    before = keyed_rows(PLANT, Plant(), lambda: f"k{next(numbers)}")
    claimed = PLANT.changed(
        places=(Place(id="a", name="A", key="stolen"), Place(id="b", name="B", key=before.places[0].key))
    )
    after = keyed_rows(claimed, before, lambda: f"k{next(numbers)}")
    assert after.places[0].key == before.places[0].key
    assert after.places[1].key not in (before.places[0].key, "stolen", "")
    assert keyed_rows(claimed, Plant(), str, as_given=True).places[0].key == "stolen"
