"""New links on the plan: laid where one way leads, asked where several do, never on what is dead or full."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.link.chain import Link
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.placing import choices, lay_all, lay_on_plan
from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.riders import cable_uses, check_taken
from passerelle.core.plant.site import Plant
from tests.core.plain import plain_link
from tests.depth import examples

PLACES = tuple(Place(id=name.lower(), name=name) for name in "ABC")
ONE_WAY = (Way(id="ab", name="ab", start="a", end="b", length_m=100),)
ROUND = (
    *ONE_WAY,
    Way(id="bc", name="bc", start="b", end="c", length_m=40),
    Way(id="ac", name="ac", start="a", end="c", length_m=90),
)


def between(start: str, end: str, length_m: float = 100) -> Link:
    """A plain single-mode link between two named places."""
    link = plain_link(length_m=length_m)
    first, *middle, last = link.elements
    ends = (first.model_copy(update={"place": start}), *middle, last.model_copy(update={"place": end}))
    return link.model_copy(update={"elements": ends})


def ridden(link: Link) -> str:
    return next(e.part for e in link.elements if isinstance(e, Run))


def test_the_only_way_takes_the_link_on_a_planned_cable_that_is_long_enough() -> None:
    laid = lay_on_plan(between("A", "B", 130), Plant(places=PLACES, ways=ONE_WAY), [])
    assert laid.on_plan
    assert laid.open == ()
    (cable,) = laid.plant.cables
    assert (cable.state, cable.ways) == ("planned", ("ab",))
    run = next(e for e in laid.link.elements if isinstance(e, Run))
    assert run.length_m == 130  # what was typed stays; the rest is slack of the cable
    assert cable.slack_m == 30


def test_a_length_far_below_the_way_asks_instead_of_moving_a_number() -> None:
    laid = lay_on_plan(between("A", "B", 20), Plant(places=PLACES, ways=ONE_WAY), [])
    assert not laid.on_plan
    assert [one.ways for one in laid.open] == [("ab",)]


def test_two_ways_ask_and_the_chosen_one_is_taken() -> None:
    plant = Plant(places=PLACES, ways=ROUND)
    asked = lay_on_plan(between("A", "B"), plant, [])
    assert not asked.on_plan
    assert [one.ways for one in asked.open] == [("ab",), ("ac", "bc")]
    taken = lay_on_plan(between("A", "B"), plant, [], key=asked.open[1].key)
    assert taken.plant.cables[0].ways == ("ac", "bc")
    assert not lay_on_plan(between("A", "B"), plant, [], key="no such way").on_plan


def test_dead_ways_dead_cables_full_cables_and_other_glass_are_not_offered() -> None:
    dead = Plant(places=PLACES, ways=tuple(way.model_copy(update={"state": "dead"}) for way in ONE_WAY))
    assert choices(between("A", "B"), dead, []) == ()
    cables = (
        Cable(id="dead", name="dead", ways=("ab",), strands=12, state="dead"),
        Cable(id="full", name="full", ways=("ab",), strands=2, fiber=("OS2",), dead=(1, 2)),
        Cable(id="other", name="other", ways=("ab",), strands=12, fiber=("OM1",)),
    )
    offered = choices(between("A", "B"), Plant(places=PLACES, ways=ONE_WAY, cables=cables), [])
    assert [one.cable for one in offered] == [""]


def test_places_that_are_not_on_the_plan_are_left_alone() -> None:
    plant = Plant(places=PLACES, ways=ONE_WAY)
    assert lay_on_plan(between("A", "Elsewhere"), plant, []).open == ()
    assert lay_on_plan(between("A", "A"), plant, []).open == ()


@settings(max_examples=examples(30))
@given(st.integers(1, 20), st.sampled_from([0.0, 20.0, 100.0]))
def test_links_between_the_same_places_share_one_cable_and_no_strand_is_used_twice(
    count: int, spare: float
) -> None:
    new = [between("A", "B").model_copy(update={"name": f"link {n}"}) for n in range(count)]
    laid = lay_all(new, Plant(places=PLACES, ways=ONE_WAY), [], spare_percent=spare)
    assert laid.undecided == ()
    assert len({ridden(link) for link in laid.links}) == 1
    check_taken(laid.links, laid.plant)
    use = cable_uses(laid.plant, list(laid.links))[laid.plant.cables[0].id]
    assert use.free >= int(2 * count * spare / 100)
