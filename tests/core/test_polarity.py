"""Polarity comes out by composition of positions, not from names."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.maps import compose, mating, reversed_row, straight
from passerelle.core.review import review
from tests.core.plain import CATALOG, plain_link

HOUSE = HouseRules(margin_db=1.0)


def lights(link: Link) -> bool:
    return all(lane.lights for lane in review(link, CATALOG, HOUSE, with_fixes=False).lanes)


def crossing(link: Link, **crossed: bool) -> Link:
    edits = tuple(SetFields(element=k.replace("_", "-"), values={"crossed": v}) for k, v in crossed.items())
    return apply_edits(link, edits)


def test_one_crossed_cord_between_two_transceivers_lights() -> None:
    direct = plain_link(pairs=0)
    assert lights(crossing(direct, run_1=True))
    assert not lights(crossing(direct, run_1=False))


def test_two_crossed_cords_through_panels() -> None:
    link = plain_link()
    assert not lights(crossing(link, cord_1=True, cord_2=True, run_1=False))
    assert lights(crossing(link, cord_1=True, cord_2=True, run_1=True))


def test_a_coupler_counts() -> None:
    link = plain_link()
    opposed = apply_edits(link, (SetFields(element="panel-1", values={"keys": "opposed"}),))
    assert lights(link)
    assert not lights(opposed)


def test_the_cheapest_repair_is_a_clip_at_one_end() -> None:
    found = review(crossing(plain_link(), run_1=False), CATALOG, HOUSE)
    finding = next(f for f in found.findings if f.code == "polarity.dark")
    assert finding.fixes[0].label.startswith("Flip one duplex clip")
    efforts = [fix.effort for fix in finding.fixes]
    assert efforts == sorted(efforts)
    assert finding.fixes[0].effect is not None
    assert finding.fixes[0].effect.verdict is Verdict.PASS


@given(st.integers(1, 32))
def test_maps_compose(n: int) -> None:
    assert compose(reversed_row(n), reversed_row(n)) == straight(n)
    assert mating(n, keys_aligned=False) == straight(n)
    assert compose(mating(n, keys_aligned=True), straight(n)) == reversed_row(n)


def test_faces_of_different_size_do_not_compose() -> None:
    with pytest.raises(ValueError, match="12 positions cannot meet 8"):
        compose(straight(12), straight(8))


@given(st.lists(st.booleans(), min_size=3, max_size=3), st.booleans(), st.booleans())
def test_light_needs_an_odd_number_of_crossings(crossed: list[bool], first: bool, second: bool) -> None:
    link = crossing(plain_link(), cord_1=crossed[0], run_1=crossed[1], cord_2=crossed[2])
    keys = {True: "aligned", False: "opposed"}
    link = apply_edits(
        link,
        (
            SetFields(element="panel-1", values={"keys": keys[first]}),
            SetFields(element="panel-2", values={"keys": keys[second]}),
        ),
    )
    assert lights(link) == (sum([*crossed, first, second]) % 2 == 1)
