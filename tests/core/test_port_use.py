"""One port, one link: what is told where links are judged together, and what is not."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, ports
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.link.port_use import PortUse, clashes, clashes_of, port_uses
from passerelle.core.review import review, with_others
from passerelle.core.rules.shared_port import clash_findings
from passerelle.demo.network import demo_project
from tests.core.plain import CATALOG, plain_link
from tests.core.test_split_lanes import split
from tests.depth import examples


def between(near: tuple[str, str], far: tuple[str, str], name: str = "link") -> Link:
    link = plain_link().model_copy(update={"name": name})
    here, there = ports(link)[0], ports(link)[-1]
    edits = [
        SetFields(element=port.id, values={"place": place, "label": label})
        for port, (place, label) in ((here, near), (there, far))
    ]
    return apply_edits(link, edits)


def told(*links: Link) -> dict[int, list[int]]:
    return {number: [clash.other for clash in found] for number, found in clashes_of(links).items()}


def test_one_port_in_two_links_is_told_at_both() -> None:
    first = between(("Hall", "core 1/1"), ("Shed", "1"))
    second = between(("Barn", "1"), ("hall ", "Core 1/1"))
    third = between(("Hall", "core 1/2"), ("Mill", "1"))
    assert told(first, second, third) == {0: [1], 1: [0]}


@pytest.mark.parametrize(
    ("second", "clashing"),
    [
        (between(("Hall", "1"), ("Shed", "1")), False),  # the same two ports: a variant, or its successor
        (between(("Shed", "1"), ("Hall", "1")), False),  # the same, drawn from the other end
        (between(("Hall", "1"), ("Shed", "2")), True),
        (between(("Hall", ""), ("Shed", "2")), False),  # no label: nobody knows which port
        (between(("", "1"), ("Shed", "2")), False),  # no place: likewise
        (between(("Hall 2", "1"), ("Shed", "2")), False),
    ],
)
def test_what_counts_as_one_port(second: Link, clashing: bool) -> None:
    assert bool(told(between(("Hall", "1"), ("Shed", "1")), second)) is clashing


@pytest.mark.parametrize(
    ("first", "second", "clashing"), [(1, 1, True), (1, 2, False), (0, 0, True), (2, 0, False)]
)
def test_legs_of_a_split_port(first: int, second: int, clashing: bool) -> None:
    """Both cords bring leg 1; a leg that is counted otherwise is that one."""
    links = []
    for host, leg in (("a", first), ("b", second)):
        link = split("40G-parallel-300m", "10GBASE-SR", leg=leg)
        links.append(apply_edits(link, (SetFields(element=ports(link)[-1].id, values={"label": host}),)))
    assert bool(told(*links)) is clashing


def test_a_whole_port_leaves_no_leg() -> None:
    assert PortUse("row", "fast", -1).excludes(PortUse("row", "fast", 3))
    assert not PortUse("row", "fast", 0).excludes(PortUse("row", "fast", 3))


def test_the_link_fails_and_names_the_other() -> None:
    first = between(("Hall", "1"), ("Shed", "1"), "yesterday")
    second = between(("Hall", "1"), ("Shed", "2"), "today")
    found = clashes_of([first, second])
    said = clash_findings(first, found[0], {1: "today"})
    alone = review(first, CATALOG, HouseRules(), with_fixes=False)
    together = with_others(alone, said)
    assert (alone.verdict, together.verdict) == (Verdict.PASS, Verdict.FAIL)
    assert together.headline == "This port, 1 at Hall, is also an end of today."
    assert together.findings[0].at == (ports(first)[0].id,)
    assert together.stage == "match"
    assert with_others(alone, []) is alone


def test_what_is_damaged_stays_damaged() -> None:
    first = between(("Hall", "1"), ("Shed", "1"))
    said = clash_findings(first, clashes_of([first, between(("Hall", "1"), ("Shed", "2"))])[0], {1: "today"})
    broken = review(first, CATALOG, HouseRules(), with_fixes=False).model_copy(
        update={"verdict": Verdict.DAMAGE, "headline": "glass is broken"}
    )
    together = with_others(broken, said)
    assert (together.verdict, together.headline) == (Verdict.DAMAGE, "glass is broken")
    assert {f.code for f in together.findings} >= {"port.in_two_links"}


def test_the_demo_uses_each_port_once() -> None:
    assert clashes_of(demo_project()[0]) == {}


@settings(max_examples=examples(60))
@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 3)), max_size=8))
def test_clashes_are_mutual_and_those_of_pairs(ends: list[tuple[int, int]]) -> None:
    uses = {n: tuple(PortUse("x", str(end), -1) for end in pair) for n, pair in enumerate(ends)}
    found = clashes(uses)
    for number in uses:
        others = {clash.other for clash in found.get(number, ())}
        expected = {
            other
            for other in uses
            if other != number
            and set(ends[other]) & set(ends[number])
            and not (len(set(ends[number])) > 1 and set(ends[other]) == set(ends[number]))
        }
        assert others == expected


@given(st.sampled_from(demo_project()[0]))
def test_stored_links_use_the_same_ports(link: Link) -> None:
    assert port_uses(link.model_dump(mode="json")["elements"]) == port_uses(link.elements)
