"""A dark link: every fault that is hidden alone in the true network is found, and cheaper than by a fixed order."""

from __future__ import annotations

import random
from dataclasses import dataclass
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.catalog.turnup_figures import turnup_figures
from passerelle.core.errors import TurnUpError
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.plant.records import Box, BoxPort
from passerelle.core.review import review
from passerelle.core.turnup.belief import Answer, Case, Fault, Look, believed, diagnose, without
from passerelle.core.turnup.handover import chain_of
from passerelle.core.turnup.hidden import LinkCase, Situation, alive_first, case_of
from passerelle.core.turnup.windows import windows_of
from passerelle.demo.network import demo_project
from passerelle.standins.crew import Crew
from passerelle.standins.network import TrueNetwork
from passerelle.standins.truth import Fault as Hidden
from passerelle.standins.truth import TruePlant, Truth
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

PAIR, MANY, ONE_STRAND = "Gate camera", "Rows 100G", "Tide station"
NOW = Situation(here="left", travel_min=15, tools=("scope", "loopback cord", "visible source"), spares=True)


@cache
def link_of(name: str) -> Link:
    links, _ = demo_project()
    return next(link for link in links if link.name == name)


@cache
def case_at(name: str) -> LinkCase:
    link, catalog = link_of(name), load_catalog()
    findings = review(link, catalog, HouseRules(), with_fixes=False).findings
    return case_of(chain_of(link, catalog), catalog, findings, NOW)


def crew_at(name: str, *hidden: Hidden, seed: int = 1) -> Crew:
    link, catalog = link_of(name), load_catalog()
    ports = tuple(BoxPort(name=str(n), of=link.elements[n].key) for n in (0, -1))
    boxes = [Box(id=f"b{n}", name=f"b{n}", ports=(port,)) for n, port in enumerate(ports)]
    network = TrueNetwork(TruePlant.of([link], Truth(seed=seed, fault=hidden)), boxes)
    return Crew(network, name, chain_of(link, catalog), windows_of(link, catalog, HouseRules()))


# kind in the true network -> the code in the table, where they are not the same
CODES = {
    "swapped pair": "pair crossed",
    "strands swapped": "strands swapped at the far panel",
    "broken": "one strand broken",
}
FAULTS = [
    (PAIR, {"kind": "swapped pair"}),
    (PAIR, {"kind": "strands swapped"}),
    (PAIR, {"kind": "broken", "element": "run-1", "end": "left"}),
    (PAIR, {"kind": "broken", "element": "cord-1", "end": "right"}),
    (PAIR, {"kind": "cut", "element": "run-1"}),
    (PAIR, {"kind": "plug not seated", "element": "panel-1"}),
    (PAIR, {"kind": "dirty face", "element": "panel-2", "db": 25, "strand": 1, "cleanings": 9}),
    (PAIR, {"kind": "bend", "element": "run-1", "db": 90}),
    (PAIR, {"kind": "wrong mode or core", "element": "run-1", "db": 22}),
    (PAIR, {"kind": "wrong module", "end": "right", "other_name": "10GBASE-LR"}),
    (PAIR, {"kind": "dead transmitter", "end": "left"}),
    (PAIR, {"kind": "dead receiver", "end": "right"}),
    (PAIR, {"kind": "laser disabled", "end": "right"}),
    (PAIR, {"kind": "port shut", "end": "right"}),
    (PAIR, {"kind": "port refused the coding", "end": "left"}),
    (PAIR, {"kind": "wrong port", "end": "left"}),
    (PAIR, {"kind": "settings unlike"}),
    (PAIR, {"kind": "no power", "end": "right"}),
    (PAIR, {"kind": "blocked by the tree"}),
    (PAIR, {"kind": "loop"}),
    (PAIR, {"kind": "VLAN or frame size"}),
    (PAIR, {"kind": "dispersion or reflections"}),
    (PAIR, {"kind": "foreign light", "end": "left"}),
    (MANY, {"kind": "one lane dark", "strand": 3, "end": "right", "element": "array-cord-1"}),
    (MANY, {"kind": "modal bandwidth"}),
    (ONE_STRAND, {"kind": "wrong side", "end": "right"}),
]


@dataclass
class Searched:
    found: str
    minutes: float
    steps: int


def cures(case: LinkCase, hidden: dict[str, object]) -> set[str]:
    """The faults of the case whose cure puts right what is hidden: of its kind, at its piece and end."""
    code = CODES.get(str(hidden["kind"]), str(hidden["kind"]))
    ends, element = {str(hidden.get("end", "")), ""}, hidden.get("element")
    same = [one for one in case.faults if one.code == code or (code == "dirty face" and "dirt across" in one.code)]
    return {
        one.name
        for one in same
        if (not element or element in one.at) and (len(ends) == 1 or one.end in ends or one.code == "dirty face")
    }


def search(case: LinkCase, crew: Crew, right: set[str]) -> Searched:
    """Follow the diagnosis until the cure that was tried is the right one."""
    seen: list[Answer] = []
    tried: list[str] = []
    looks = {look.name: look for look in case.looks}
    minutes = 0.0
    for step in range(80):
        found = diagnose(case.without(tried), seen)
        assert not found.impossible, (found.impossible, seen)
        assert sum(found.belief.values()) == pytest.approx(1)
        best = found.tests[0] if found.tests else None
        if best is not None and best.saves_min > 0:
            minutes += best.minutes
            seen.append(Answer(test=best.test, outcome=crew.sees(looks[best.test])))
            continue
        cure = next(one for one in case.faults if one.name == found.cure)
        minutes += cure.cure_min
        if cure.name in right:
            return Searched(cure.name, minutes, step)
        tried.append(cure.name)
    raise AssertionError((tried, seen))


@pytest.mark.parametrize(("name", "hidden"), FAULTS, ids=[f"{n}: {h['kind']}" for n, h in FAULTS])
def test_each_fault_that_is_hidden_alone_is_found(name: str, hidden: dict[str, object]) -> None:
    case = case_at(name)
    right = cures(case, hidden)
    assert right
    found = search(case, crew_at(name, Hidden(link=name, **hidden)), right)  # type: ignore[arg-type]
    assert found.found in right


def in_order(case: LinkCase, order: list[str], right: set[str]) -> float:
    """The minutes of trying cures in a fixed order."""
    minutes = 0.0
    costs = {one.name: one.cure_min for one in case.faults}
    for name in order:
        minutes += costs[name]
        if name in right:
            return minutes
    raise AssertionError("the order leaves it out")


def test_it_costs_less_than_fixed_orders_over_cases_that_the_table_does_not_expect() -> None:
    """Cases are drawn with every fault alike, and with the seldom ones most often: neither is the table's prior."""
    case, chance = case_at(PAIR), random.Random(7)
    pairs = [hidden for name, hidden in FAULTS if name == PAIR]
    priors = {one.code: one.prior for one in turnup_figures().fault}
    seldom = [1 / priors[CODES.get(str(h["kind"]), str(h["kind"]))] for h in pairs]
    drawn = [*chance.choices(pairs, k=examples(12)), *chance.choices(pairs, weights=seldom, k=examples(12))]
    place = {piece.id: n for n, piece in enumerate(link_of(PAIR).elements)}
    near_to_far = sorted(case.faults, key=lambda one: min(place[e] for e in one.at))
    module_first = sorted(case.faults, key=lambda one: "module" not in one.code and "dead" not in one.code)
    spent = {"diagnosis": 0.0, "modules first": 0.0, "near to far": 0.0}
    for hidden in drawn:
        right = cures(case, hidden)
        crew = crew_at(PAIR, Hidden(link=PAIR, **hidden))  # type: ignore[arg-type]
        spent["diagnosis"] += search(case, crew, right).minutes
        spent["modules first"] += in_order(case, [one.name for one in module_first], right)
        spent["near to far"] += in_order(case, [one.name for one in near_to_far], right)
    assert spent["diagnosis"] < 0.6 * min(spent["modules first"], spent["near to far"]), spent


def after(name: str, **answers: str) -> dict[str, float]:
    """What is believed, by code, after answers by sign and end (``rx_left="dark"``)."""
    case = case_at(name)
    seen = [Answer(test=sign.replace("_", " · "), outcome=outcome) for sign, outcome in answers.items()]
    belief, impossible = believed(case.case, seen)
    assert not impossible
    found: dict[str, float] = {}
    for fault, share in zip(case.faults, belief, strict=True):
        found[fault.code] = found.get(fault.code, 0.0) + float(share)
    return found


def test_both_send_and_both_are_dark_is_never_a_setting() -> None:
    found = after(PAIR, tx_left="on", tx_right="on", rx_left="dark", rx_right="dark")
    assert max(found, key=found.__getitem__) == "pair crossed"
    for code in ("VLAN or frame size", "settings unlike", "blocked by the tree", "loop", "overload"):
        assert found[code] == 0
    for code in ("cut", "plug not seated", "strands swapped at the far panel"):
        assert found[code] > 0


def test_normal_light_at_both_ends_without_link_is_a_setting_first() -> None:
    found = after(PAIR, rx_left="normal", rx_right="normal", symptom="dark")
    assert max(found, key=found.__getitem__) == "settings unlike"
    assert found["pair crossed"] == found["cut"] == found["no power"] == 0
    assert found["dispersion or reflections"] > 0


def test_too_much_light_asks_for_an_attenuator_and_not_for_cleaning() -> None:
    found = after(PAIR, rx_left="high")
    assert found["overload"] + found["overload at both ends"] + found.get(
        "attenuator forgotten", 0
    ) == pytest.approx(1)
    assert found["dirty face"] == 0


def test_on_single_mode_the_longer_wavelength_tells_a_bend_from_dirt() -> None:
    bent = after(PAIR, rx_left="low", rx_right="low", colors="longer")
    dirty = after(PAIR, rx_left="low", rx_right="low", colors="both")
    assert max(bent, key=bent.__getitem__) == "bend"
    assert max(dirty, key=dirty.__getitem__) == "dirt across a duplex plug"


def test_two_of_one_side_are_dark_and_the_plan_says_so_first() -> None:
    found = after(ONE_STRAND, rx_left="dark", tx_left="on")
    assert found["wrong side"] > 0.6
    assert "pair crossed" not in found  # there is no pair to cross


def test_what_worked_before_makes_a_wrong_part_unlikely() -> None:
    never, before = after(PAIR, worked="never"), after(PAIR, worked="before")
    assert never["wrong module"] > 3 * before["wrong module"]
    assert before["cut"] > 2 * never["cut"]
    assert after(PAIR, touched="cable")["cut"] > 3 * after(PAIR, touched="settings")["cut"]


def test_where_one_is_and_what_is_at_hand_decide_what_comes_next() -> None:
    link, catalog = link_of(PAIR), load_catalog()
    chain = chain_of(link, catalog)
    near = case_of(chain, catalog, (), Situation(here="left", travel_min=30))
    far = case_of(chain, catalog, (), Situation(here="right", travel_min=30, tools=("scope",), people=2))
    at = {name: {look.name: look for look in case.looks} for name, case in (("near", near), ("far", far))}
    assert at["near"]["rx · left"].minutes + 30 == at["near"]["rx · right"].minutes
    assert at["far"]["rx · left"].minutes == at["far"]["rx · right"].minutes + 30
    faces = next(name for name in at["near"] if name.startswith("faces"))
    assert at["near"][faces].lacks == ("scope",)
    assert at["far"][faces].lacks == ()
    assert at["near"]["visible"].minutes > at["far"]["visible"].minutes + 30  # alone one walks there and back


def shares(count: int) -> st.SearchStrategy[list[float]]:
    return st.lists(st.floats(0.0, 1.0), min_size=count, max_size=count).map(
        lambda raw: [one / total for one in raw] if (total := sum(raw)) > 0 else [1 / count] * count
    )


@given(st.data(), st.integers(2, 6), st.integers(1, 5))
def test_the_belief_always_sums_to_one_and_the_order_of_answers_does_not_matter(
    data: st.DataObject, faults: int, looks: int
) -> None:
    names = [f"f{n}" for n in range(faults)]
    made = []
    for number in range(looks):
        columns = {name: data.draw(shares(3)) for name in names}
        outcomes = {f"o{o}": {name: columns[name][o] for name in names} for o in range(3)}
        made.append(Look(name=f"t{number}", minutes=data.draw(st.floats(0, 60)), outcomes=outcomes))
    priors = data.draw(st.lists(st.floats(0.01, 10), min_size=faults, max_size=faults))
    case = Case(tuple(Fault(name=n, prior=p) for n, p in zip(names, priors, strict=True)), tuple(made))
    seen = [Answer(test=look.name, outcome=data.draw(st.sampled_from(["o0", "o1", "o2"]))) for look in made]
    belief, impossible = believed(case, seen)
    assert belief.sum() == pytest.approx(1)
    assert (belief >= 0).all()
    if not impossible:
        again, _ = believed(case, seen[::-1])
        assert again == pytest.approx(belief, abs=1e-9)
    found = diagnose(case, seen[:1])
    for look in found.tests:
        assert sum(one.probability for one in look.outcomes) == pytest.approx(1)
    assert sum(without(found.belief, names[0]).values()) == pytest.approx(1)


def test_an_impossible_answer_is_said_to_be_one_and_can_be_taken_back() -> None:
    case = Case(
        (Fault(name="crossed", prior=1), Fault(name="vlan", prior=1)),
        (
            Look(name="light", minutes=1, outcomes={"none": {"crossed": 1}, "normal": {"vlan": 1}}),
            Look(name="frames", minutes=1, outcomes={"none": {"crossed": 1}, "part": {"vlan": 1}}),
        ),
    )
    light, frames = Answer(test="light", outcome="none"), Answer(test="frames", outcome="part")
    found = diagnose(case, [light, frames])
    assert found.impossible == (frames,)
    assert found.belief == {"crossed": 1.0, "vlan": 0.0}
    assert diagnose(case, [frames]).belief == {"crossed": 0.0, "vlan": 1.0}
    # of two answers to one look the newer counts
    assert diagnose(case, [light, Answer(test="light", outcome="normal")]).belief["vlan"] == 1


@pytest.mark.parametrize(
    ("faults", "looks", "field"),
    [
        ((), (), "faults"),
        ((("a", -1.0),), (), "faults[0].prior"),
        ((("a", 0.0),), (), "faults"),
        ((("a", 1.0), ("a", 1.0)), (), "faults[1].name"),
        ((("a", 1.0),), (("t", -1.0, {"x": {"a": 1.0}}),), "tests[0].minutes"),
        ((("a", 1.0),), (("t", 1.0, {"x": {"b": 1.0}}),), "tests[0].outcomes.x"),
        ((("a", 1.0),), (("t", 1.0, {"x": {"a": 0.4}, "y": {"a": 0.1}}),), "tests[0].outcomes"),
    ],
)
def test_a_case_that_cannot_be_names_its_place(faults: tuple, looks: tuple, field: str) -> None:
    with pytest.raises(TurnUpError) as told:
        Case(
            tuple(Fault(name=n, prior=p) for n, p in faults),
            tuple(Look(name=n, minutes=m, outcomes=o) for n, m, o in looks),
        )
    assert told.value.field == field


def case_over(
    length_m: float, *, application: str = "10GBASE-LR", grade: str = "OS2", spaces: object = ("duct",)
) -> LinkCase:
    """A plain link with cords of 2 m, its run in a pathway."""
    link = plain_link(application, grade, length_m)
    link = apply_edits(link, (SetFields(element="run-1", values={"spaces": spaces}),))
    return case_of(compose(link, CATALOG), CATALOG, (), NOW)


def odds(case: LinkCase, code: str, *answers: tuple[str, str]) -> dict[str, float]:
    """What is believed of a kind of fault by its piece, after some answers."""
    belief, _ = believed(case.case, [Answer(test=test, outcome=outcome) for test, outcome in answers])
    found: dict[str, float] = {}
    for fault, share in zip(case.faults, belief, strict=True):
        if fault.code == code:
            found[fault.at[0]] = found.get(fault.at[0], 0.0) + float(share)
    return found


@pytest.mark.parametrize("length_m", [60.0, 500.0, 2900.0])
def test_a_cable_is_likelier_cut_than_its_cords_by_each_meter(length_m: float) -> None:
    """A cord of 2 m counts as 32 m by its handling; a run in a duct as its length."""
    found = odds(case_over(length_m), "cut")
    assert found["run-1"] / found["cord-1"] == pytest.approx(length_m / 32, rel=1e-6)
    near = odds(case_over(length_m), "cut", ("touched", "cable"))
    assert near["run-1"] / near["cord-1"] > 4.5 * found["run-1"] / found["cord-1"], (
        "work near the cable cuts no cord"
    )


def test_a_meter_in_the_air_is_likelier_hurt_than_one_in_a_duct() -> None:
    duct, aerial = (odds(case_over(500.0, spaces=(space,)), "cut") for space in ("duct", "aerial"))
    assert aerial["run-1"] / aerial["cord-1"] == pytest.approx(3 * duct["run-1"] / duct["cord-1"])


@pytest.mark.parametrize(
    ("length_m", "application", "grade", "evidence"),
    [
        (1900.0, "10GBASE-LR", "OS2", True),
        (5100.0, "10GBASE-LR", "OS2", False),
        (3100.0, "1000BASE-SX", "OM2", False),
    ],
)
def test_a_visible_source_that_shows_nowhere_is_no_evidence_beyond_its_reach(
    length_m: float, application: str, grade: str, evidence: bool
) -> None:
    case = case_over(length_m, application=application, grade=grade)
    before, after_it = odds(case, "cut"), odds(case, "cut", ("visible", "nowhere"))
    told = sum(after_it.values()) > 1.5 * sum(before.values())
    assert told is evidence
    if not evidence:
        assert after_it == pytest.approx(before)


def test_a_leak_is_seen_in_cords_and_trays_only() -> None:
    leaks = ("visible", "leaks")
    buried, tray = (odds(case_over(500.0, spaces=(space,)), "bend", leaks) for space in ("duct", "indoors"))
    assert buried["run-1"] == 0
    assert buried["cord-1"] > 0
    assert tray["run-1"] > tray["cord-1"]


def test_a_link_of_one_strand_has_no_other_strand() -> None:
    look = next(one for one in case_at(ONE_STRAND).looks if one.sign == "visible")
    assert "one" not in look.outcomes
    assert "both" not in look.asks.split(":")[0]


def test_whether_a_port_is_alive_comes_before_a_cord_is_pulled() -> None:
    case = case_at(PAIR)
    ranked = {one.test: one for one in diagnose(case.case, ()).tests}
    pulls, asks, other = ranked["near loop · left"], ranked["port · left"], ranked["port · right"]
    light = ranked["rx · left"]
    assert alive_first([pulls, light, asks, other], case, ()) == (asks, pulls, light, other)
    answered = (Answer(test="port · left", outcome="open"),)
    assert alive_first([pulls, asks], case, answered) == (pulls, asks)
    assert alive_first([light, pulls, asks], case, ()) == (light, pulls, asks), "looking pulls nothing"
    assert alive_first([], case, ()) == ()


@pytest.mark.parametrize("end", ["left", "right"])
def test_a_trace_from_either_end_tells_a_break_from_a_setting(end: str) -> None:
    case = case_at(PAIR)
    look = next(one for one in case.looks if one.name == f"trace · {end}")
    assert (look.lacks, "tag both ends" in look.asks) == (("OTDR",), True)
    before = sum(odds(case, "cut").values()) + sum(odds(case, "one strand broken").values())
    for outcome, likelier in (("ends", True), ("whole", False)):
        answers = (look.name, outcome)
        found = sum(odds(case, "cut", answers).values()) + sum(odds(case, "one strand broken", answers).values())
        assert (found > 3 * before) is likelier
    assert sum(odds(case, "cut", (look.name, "whole")).values()) == 0
