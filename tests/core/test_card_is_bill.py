"""The sum on the card of an answer is the sum of its lines on the bill, and both are counted by hand."""

from __future__ import annotations

from collections import Counter
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, ports
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.materials.asked import scope_of
from passerelle.core.materials.bill import Bill, bill_of
from passerelle.core.materials.schools import schools
from passerelle.core.plant.site import Plant
from passerelle.core.selection.question import Option, answer
from passerelle.core.selection.wish import Question
from tests.core.plain import CATALOG, plain_link
from tests.core.test_split_lanes import split
from tests.depth import examples

HOUSE = HouseRules()
BARE = HouseRules(spares_percent=0)


def asked(**more: Any) -> Question:
    return Question.model_validate({"from_place": "A", "to_place": "B", "rate_mbps": 10_000, **more})


def bill(links: tuple[Link, ...] | list[Link], house: HouseRules = HOUSE) -> Bill:
    return bill_of(scope_of(tuple(enumerate(links, 1)), Plant(), house, CATALOG))


def same(option: Option, house: HouseRules) -> None:
    lines = bill(option.all_links, house)
    assert option.cost.material == pytest.approx(lines.total)
    on_card = {line.item: line.total for line in option.cost.lines if not line.work}
    assert on_card == pytest.approx({line.words: line.total for line in lines.lines if line.total or line.to_order})
    assert option.cost.total == pytest.approx(sum(line.total for line in option.cost.lines))


ASKED = st.fixed_dictionaries(
    {
        "length_m": st.sampled_from([0.5, 2, 30, 120, 290, 310, 900, 7000, 20_000]),
        "rate_mbps": st.sampled_from([1000, 10_000, 25_000, 40_000, 100_000]),
        "media": st.sampled_from(
            [("multimode",), ("single-mode",), ("direct attach",), ("twisted pair",), ("multimode", "single-mode")]
        ),
        "tolerance_percent": st.sampled_from([0, 10]),
        "near": st.sampled_from([{}, {"free": 4}, {"cage": "SFP+", "free": 4}]),
        "far": st.sampled_from([{}, {"free": 4}, {"cage": "SFP+", "free": 4}]),
        "strands": st.sampled_from([1, 2]),
        "at_hand": st.sampled_from([[], ["10GBASE-LR"], ["10GBASE-SR", "10GBASE-SR"]]),
        "fiber": st.sampled_from([[], ["OS2"], ["OM4"]]),
    }
)


@settings(max_examples=examples(40), suppress_health_check=[HealthCheck.too_slow])
@given(ASKED, st.sampled_from([HOUSE, BARE, HouseRules(joint_school="spliced")]))
def test_card_and_bill_agree(wish: dict[str, Any], house: HouseRules) -> None:
    for option in answer(asked(**wish), CATALOG, house).options:
        same(option, house)


@pytest.mark.parametrize("medium", ["direct attach", "multimode"])
def test_what_splits_a_port_is_bought_once(medium: str) -> None:
    wish = {"rate_mbps": 10_000, "hosts": 4, "length_m": 2, "media": (medium,)}
    wish |= {"near": {"cage": "QSFP+", "splits": [4]}, "far": {"cage": "SFP+"}}
    options = [o for o in answer(asked(**wish), CATALOG, BARE).options if o.kind == "split port"]
    assert options
    for option in options:
        same(option, BARE)
        assert len(option.all_links) == 4
        counts = Counter[str]()
        for line in bill(option.all_links, BARE).lines:
            counts[line.words.split(",")[0]] += int(line.quantity)
        if medium == "direct attach":
            assert counts.total() == 1, counts
        else:
            assert (counts["module"], counts["breakout cord"]) == (5, 1), counts


@pytest.mark.parametrize(("hosts", "fast"), [(1, 1), (4, 1), (5, 2), (8, 2)])
def test_legs_of_one_port_share_it_and_more_need_another(hosts: int, fast: int) -> None:
    links = [split("40G-parallel-300m", "10GBASE-SR") for _ in range(hosts)]
    counts = {line.words.split(",")[1]: line.quantity for line in bill(links, BARE).lines if "module" in line.words}
    assert counts == {" 40G-parallel-300m": fast, " 10GBASE-SR": hosts}


def test_ports_with_labels_are_two_ports() -> None:
    links = []
    for label in ("1", "2"):
        link = split("40G-parallel-300m", "10GBASE-SR")
        links.append(apply_edits(link, (SetFields(element=ports(link)[0].id, values={"label": label}),)))
    modules = [line for line in bill(links, BARE).lines if "40G-parallel-300m" in line.words]
    assert [line.quantity for line in modules] == [2]


def test_each_end_of_a_spliced_run_has_a_tray() -> None:
    """Two splices an end: a tray at each, not one for the four."""
    link = plain_link("10GBASE-LR", "OS2", 250.0)
    scope = scope_of([(1, link)], Plant(), BARE, CATALOG)
    spliced = next(one for one in schools(1, link, scope).schools if one.name == "spliced")
    trays = [part for part in spliced.parts if part.words.startswith("splice tray")]
    assert sum(part.quantity for part in trays) == 2
    assert not [part for part in spliced.parts if "module" in part.words or "converter" in part.words]
