"""What would answer where nothing does: each way on that is offered leads on; beside answers none is offered."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.house import HouseRules
from passerelle.core.selection.question import answer
from passerelle.core.selection.wish import Question
from tests.core.plain import CATALOG
from tests.depth import examples

HOUSE = HouseRules()
BASE = {"from_place": "A", "to_place": "B", "length_m": 60, "rate_mbps": 10_000}

hopeless = st.fixed_dictionaries(
    {
        "length_m": st.sampled_from([90_000, 300_000]),
        "rate_mbps": st.sampled_from([1000, 10_000, 100_000]),
        "tolerance_percent": st.sampled_from([0, 10]),
        "strands": st.sampled_from([1, 2]),
        "media": st.sampled_from([["multimode"], ["single-mode"], ["direct attach", "twisted pair"]]),
    }
)


@settings(max_examples=examples(15))
@given(hopeless)
def test_each_way_on_leads_on(wish: dict[str, Any]) -> None:
    asked = Question.model_validate({**BASE, **wish})
    told = answer(asked, CATALOG, HOUSE)
    assert bool(told.helps) == (not told.options)
    for offered in told.helps:
        after = answer(Question.model_validate({**asked.model_dump(), **offered.change}), CATALOG, HOUSE)
        assert offered.answers == after.options[0].key


@pytest.mark.parametrize(
    ("wish", "words"),
    [
        ({"rate_mbps": 400_000, "near": {"cage": "SFP"}}, "With another port at A"),
        ({"media": ["twisted pair"], "length_m": 400}, "With every medium allowed"),
        ({"length_m": 300_000}, "Up to "),
    ],
)
def test_the_wish_that_is_in_the_way_is_named(wish: dict[str, Any], words: str) -> None:
    told = answer(Question.model_validate({**BASE, **wish}), CATALOG, HOUSE)
    assert [one for one in told.helps if one.words.startswith(words)]


def test_of_shorter_ways_only_the_farthest_that_answers_is_told() -> None:
    told = answer(Question.model_validate({**BASE, "length_m": 300_000}), CATALOG, HOUSE)
    assert sum(one.words.startswith("Up to") for one in told.helps) == 1


def test_what_is_wanted_later_on_one_strand_is_answered_too() -> None:
    wish = {**BASE, "length_m": 130, "rate_mbps": 1000, "later_mbps": 10_000, "strands": 1, "spaces": ["buried"]}
    told = answer(Question.model_validate(wish), CATALOG, HOUSE)
    assert told.options
    assert "10GBASE-BR" in told.later_note or any("10GBASE-BR" in one.later for one in told.options)
