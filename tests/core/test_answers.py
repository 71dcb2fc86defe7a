"""Complete answers: nothing offered that its review breaks, nothing lost by allowing more, several links, steps."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.errors import NoAnswerError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import glass, modules, ports
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.jack import Jack
from passerelle.core.parts.kinds.port import Port
from passerelle.core.review import review
from passerelle.core.selection.question import Answer, Option, answer, best_links
from passerelle.core.selection.wish import MEDIA, Question
from tests.core.plain import CATALOG
from tests.depth import examples

HOUSE = HouseRules()
CAGES = ["", "RJ45", "SFP", "SFP+", "SFP28", "QSFP+", "QSFP28"]
RATES = [100, 1000, 2500, 10_000, 25_000, 40_000, 100_000]


def ask(**more: Any) -> Question:
    """Sixty metres at 10 Gb/s, and what is said besides."""
    return Question.model_validate(
        {"from_place": "Row A", "to_place": "Row B", "length_m": 60, "rate_mbps": 10_000, **more}
    )


def told(**more: Any) -> Answer:
    return answer(ask(**more), CATALOG, HOUSE)


def option(found: Answer, key: str) -> Option:
    return next(o for o in found.options if o.key.startswith(key))


ends = st.fixed_dictionaries(
    {"cage": st.sampled_from(CAGES), "free": st.sampled_from([None, 1, 4])},
    optional={
        "rates_mbps": st.sampled_from([[1000], [1000, 10_000], [10_000, 25_000, 40_000]]),
        "coldest_c": st.just(-25),
        "water": st.just("hosed"),
        "coding_policy": st.sampled_from(["own only", "override"]),
        "make": st.just("make A"),
    },
)
questions = st.fixed_dictionaries(
    {
        "length_m": st.floats(0.5, 3000),
        "rate_mbps": st.sampled_from(RATES),
        "near": ends,
        "far": ends,
        "fiber": st.sampled_from([[], ["OM1", "OM2"], ["OM3"], ["OS2"]]),
        "free_strands": st.sampled_from([None, 12]),
        "tolerance_percent": st.sampled_from([0, 10]),
        "spaces": st.lists(
            st.sampled_from(["duct", "buried", "plenum", "beside power", "between buildings"]),
            max_size=2,
            unique=True,
        ),
        "category": st.sampled_from([None, "Category 5e", "Category 6"]),
    }
)


@settings(max_examples=examples(15))
@given(questions)
def test_every_link_of_every_answer_keeps_its_own_review(wish: dict[str, Any]) -> None:
    found = told(**wish)
    for one in found.options:
        verdicts = [review(link, CATALOG, HOUSE, with_fixes=False, detail=False) for link in one.all_links]
        assert not any(judged.verdict.broken for judged in verdicts), one.key
        assert found.asks or not any(judged.verdict is Verdict.UNKNOWN for judged in verdicts), one.key
        if not wish["tolerance_percent"]:
            worst = min(verdicts, key=lambda judged: judged.verdict.rank)
            assert one.verdict_text.split()[0] == worst.verdict.value
        assert one.cost.total == pytest.approx(sum(line.total for line in one.cost.lines))
    keys = [one.key for one in found.options] + [out.key for out in found.ruled_out]
    assert len(keys) == len(set(keys))
    assert all(out.reason for out in found.ruled_out)


@settings(max_examples=examples(15))
@given(questions, st.sampled_from(MEDIA), st.floats(50, 3000))
def test_more_media_a_higher_price_and_more_ports_never_lose_an_answer(
    wish: dict[str, Any], medium: str, limit: float
) -> None:
    def keys(**more: Any) -> set[tuple[str, tuple[str, ...]]]:
        return {(o.application, o.fiber) for o in told(**{**wish, **more}).options}

    wide = keys()
    assert keys(media=[medium]) <= wide
    assert keys(price_limit=limit) <= wide
    richer = {side: {**wish[side], "free": 8} for side in ("near", "far")}
    assert wide <= keys(**richer)


@settings(max_examples=examples(15))
@given(questions, st.fixed_dictionaries({name: st.floats(0, 5) for name in ("cost", "margin", "later", "strands")}))
def test_weights_change_the_order_and_nothing_else(wish: dict[str, Any], weights: dict[str, float]) -> None:
    plain, weighed = told(**wish), told(**wish, rank_by="weights", weights=weights)
    assert {o.key for o in plain.options} == {o.key for o in weighed.options}
    ranks = [Verdict(o.verdict_text.split()[0]).rank for o in weighed.options]
    assert ranks == sorted(ranks, reverse=True)


def test_one_weight_alone_orders_by_it_and_says_so() -> None:
    none = dict.fromkeys(("cost", "margin", "later", "strands", "tools", "spares"), 0)
    for name, value in (("cost", lambda o: o.cost.total), ("strands", lambda o: o.strands)):
        found = told(rank_by="weights", weights={**none, name: 5})
        passing = [value(o) for o in found.options if o.verdict_text == "pass"]
        assert passing == sorted(passing)
        assert f"{name} 5" in found.why
    first, second = told(rank_by="weights", weights={**none, "cost": 5}).options[:2]
    assert first.cost.total < second.cost.total


def test_a_few_metres_between_two_cages() -> None:
    found = told(length_m=2.6, near={"cage": "SFP+"}, far={"cage": "SFP+"})
    assembly = option(found, "10G direct attach, passive copper").link.elements[1]
    assert isinstance(assembly, Assembly)
    assert assembly.length_m == 5  # the next length that is sold
    assert option(found, "10GBASE-T on Category 6A, plug-in modules at both ends").verdict_text.startswith(
        "marginal"
    )
    assert option(found, "10GBASE-SR on OM4").tools == "an inspection scope and cleaning tools"


def test_a_native_port_gets_twisted_pair_or_a_converter() -> None:
    near = told(rate_mbps=1000, near={"cage": "RJ45"})
    assert option(near, "1000BASE-T on Category 6A, a plug-in module").verdict_text == "pass on estimate"
    far = told(rate_mbps=1000, length_m=185, near={"cage": "RJ45"}, far={"cage": "SFP", "uplink_mbps": 100})
    best = far.options[0]
    assert best.key == "1000BASE-LX on OS2, a media converter at Row A"
    assert "Ordered by the sum" in far.why
    assert [port.label for port in ports(best.links[1])] == ["", "media converter"]
    assert ports(best.links[0])[0].fixed_rate
    assert (best.gets_mbps, best.bottleneck) == (100, "the uplink of the box at Row B")
    assert any("electrician" in step for step in best.steps)
    assert "1000BASE-T reaches 100 m here; this is 189 m." in {out.reason for out in far.ruled_out}


def test_slower_links_side_by_side_where_ports_and_strands_allow() -> None:
    four = {"cage": "SFP+", "free": 4}
    found = option(told(rate_mbps=40_000, near=four, far=four), "4 × 10GBASE-SR on OM4")
    assert (len(found.all_links), found.strands, found.gets_mbps) == (4, 8, 10_000)
    assert len({link.name for link in found.all_links}) == 4
    assert any("before the second plug" in step for step in found.steps)
    counts = {line.item.split(",")[0]: line.count - line.spares for line in found.cost.lines}
    assert (counts["module"], counts["cord"], counts["cable made to length"]) == (8, 8, 4)
    assert not told(rate_mbps=40_000, near=four, far={"cage": "SFP+", "free": 3}).options
    tight = {"rate_mbps": 40_000, "near": four, "far": four, "fiber": ["OM4"], "media": ["multimode"]}
    assert all(o.new_cable for o in told(**tight, free_strands=6).options)
    assert not told(**tight, free_strands=8).options[0].new_cable


def test_one_fast_port_is_split() -> None:
    found = told(length_m=3, near={"cage": "QSFP+", "rates_mbps": [10_000, 40_000]}, far={"cage": "SFP+"})
    split = option(found, "10G direct attach, one of four legs")
    assert split.kind == "split port"
    assert any("legs: all of the port changes" in step for step in split.steps)


def test_each_end_gets_its_own_coding_class_and_box() -> None:
    near = {"cage": "SFP+", "coding_policy": "own only", "make": "make A"}
    far = {"cage": "SFP28", "rates_mbps": [10_000, 25_000], "coding_policy": "own only", "make": "make B"}
    far |= {"coldest_c": -30, "water": "hosed"}
    found = told(near=near, far=far, length_m=2)
    optics = modules(option(found, "10GBASE-SR on OM4").link)
    assert [m.coding for m in optics] == ["make A", "make B"]
    assert [m.temperature_class for m in optics] == ["unknown", "industrial"]
    line = option(found, "10G direct attach, passive").link.elements[1]
    assert isinstance(line, Assembly)
    assert (line.left_coding, line.right_coding, line.temperature_class) == ("make A", "make B", "industrial")
    last = option(found, "10GBASE-SR on OM4").link.elements[-1]
    assert isinstance(last, Port)
    assert last.ingress == "IP65"
    steps = " ".join(option(found, "10GBASE-SR on OM4").steps)
    assert "coded make A" in steps
    assert "At Row B: set the port to 10 Gb/s" in steps


def test_old_glass_gets_its_cords_and_too_much_light_its_attenuators() -> None:
    link = best_links(ask(rate_mbps=1000, length_m=400, fiber=["OM2"], application="1000BASE-LX"), CATALOG, HOUSE)[
        0
    ]
    assert [c.offset_launch for c in glass(link) if isinstance(c, Cord)] == ["left", "right"]
    link = best_links(ask(length_m=5000, application="10GBASE-ER"), CATALOG, HOUSE)[0]
    assert sum(isinstance(e, Attenuator) for e in link.elements) == 1


def test_cords_match_whatever_the_cable_turns_out_to_be() -> None:
    found = told(rate_mbps=1000, length_m=200, fiber=["OM1", "OM2"], media=["multimode"])
    link = found.options[0].link
    assert {c.matches_run for c in glass(link) if isinstance(c, Cord)} == {True}
    judged = review(link, CATALOG, HOUSE, with_fixes=False)
    assert {c.grades for c in judged.candidates} == {("OM1",), ("OM2",)}
    assert any("bought to match" in f.what for f in judged.findings)


def test_modules_at_hand_and_cable_that_is_there_cost_nothing() -> None:
    new = option(told(), "10GBASE-SR on OM4").cost.total
    kept = option(told(at_hand=["10GBASE-SR", "10GBASE-SR"]), "10GBASE-SR on OM4").cost.total
    assert new - kept == pytest.approx(3 * 40), "two, and the spare that nobody needs for what is at hand"
    picky = {"cage": "SFP+", "coding_policy": "own only", "make": "make A"}
    steps = option(told(at_hand=["10GBASE-SR"], near=picky), "10GBASE-SR on OM4").steps
    assert any("counts only if it is coded make A" in step for step in steps)
    there = option(told(category="Category 6A"), "10GBASE-T on Category 6A").cost
    assert {line.item.split(",")[0] for line in there.lines} == {"twisted-pair cord", "setting up an end"}


def test_the_way_chooses_the_cable_and_what_may_lie_there() -> None:
    found = told(spaces=["between buildings", "duct", "beside power"])
    assert {o.medium for o in found.options} <= {"multimode", "single-mode"}
    run = next(piece for piece in glass(found.options[0].link) if piece.kind == "run")
    assert CATALOG.construction(run.construction).metal is False
    assert any("between buildings" in out.reason for out in found.ruled_out)
    odd = told(spaces=["plenum", "buried"])
    assert any("No one cable is made for all of" in step for step in odd.options[0].steps)


def test_glass_that_does_not_do_is_answered_by_new_cable_beside_it() -> None:
    """The cold store's orange cable carries no 10 Gb/s over 185 m, whichever it is; else what is there is first."""
    orange = ["62.5/125-160", "OM1", "50/125-400", "OM2"]
    found = told(length_m=185, fiber=orange)
    assert all(o.new_cable for o in found.options)
    assert found.options[0].key == "10GBASE-LR on OS2, new cable"
    assert {tuple(out.fiber) for out in found.ruled_out} >= {tuple(orange)}
    slow = told(length_m=250, rate_mbps=1000, fiber=["OM1", "OM2"])
    assert not slow.options[0].new_cable
    assert slow.why.endswith("then the house's school, multimode where it reaches, then the shortest reach.")
    assert "ordered by what is there, then verdict" in slow.why
    assert any(o.new_cable for o in slow.options)
    by_margin = told(length_m=250, rate_mbps=1000, fiber=["OM1", "OM2"], rank_by="margin")
    assert by_margin.options[0].verdict_text == "pass"
    assert by_margin.options[0].margin_db == max(
        o.margin_db or 0 for o in by_margin.options if o.verdict_text == "pass"
    )


def test_an_outage_that_matters_names_what_to_fall_back_on() -> None:
    assert told().fallbacks == ()
    words = " ".join(told(outage_matters=True).fallbacks)
    assert "does not replace" in words
    assert "diverse" in words


def test_a_picked_answer_that_is_none_any_more_is_refused() -> None:
    assert best_links(ask(pick="10GBASE-LR on OS2"), CATALOG, HOUSE)[0].name == "Row A to Row B"
    with pytest.raises(NoAnswerError, match="not among the answers any more"):
        best_links(ask(length_m=900, pick="10GBASE-SR on OM4"), CATALOG, HOUSE)


def test_a_plug_in_module_keeps_its_own_reach() -> None:
    jack = [
        e for e in option(told(length_m=20, near={"cage": "SFP+"}), "10GBASE-T").link.elements if e.kind == "jack"
    ]
    assert isinstance(jack[0], Jack)
    out = {o.key: o.reason for o in told(length_m=50, near={"cage": "SFP+"}, far={"cage": "RJ45"}).ruled_out}
    assert "30 m" in out["10GBASE-T on Category 6A, a plug-in module at one end"]


def test_a_port_that_nobody_knows_to_split_is_asked_about_and_never_green() -> None:
    ports = {"near": {"cage": "QSFP28"}, "far": {"cage": "SFP28"}, "length_m": 5, "rate_mbps": 25_000}
    unknown = told(**ports, hosts=4)
    assert [one.field for one in unknown.asks] == ["near.splits"]
    assert option(unknown, "100GBASE-SR4 split into 4").verdict_text == "unknown"
    assert "also works" not in unknown.why
    assert not any("split into" in one.key for one in told(**ports).options)
    known = told(**{**ports, "near": {"cage": "QSFP28", "splits": [4]}}, hosts=4)
    split = option(known, "100GBASE-SR4 split into 4")
    assert (split.verdict_text, len(split.all_links), known.asks) == ("pass on estimate", 4, ())
    other = {**ports, "near": {"cage": "QSFP28", "splits": [2]}}
    assert any("cannot be split into 4" in out.reason for out in told(**other).ruled_out)
