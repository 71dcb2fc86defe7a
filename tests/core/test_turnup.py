"""Turn-up: windows that hold what is healthy, steps from the plan, differences on their piece, the logbook."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import TurnUpError
from passerelle.core.events import Event, ReadingTaken, Withdrawal
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Reverse, apply_edits
from passerelle.core.link.readings import Reading
from passerelle.core.review import review
from passerelle.core.turned_up import FaultFound, Logged, Looked, PortSeen
from passerelle.core.turnup.compared import Neighbor
from passerelle.core.turnup.handover import answers_of, chain_of, drawn, handover_of, tried_of, turn_up
from passerelle.core.turnup.hidden import case_of
from passerelle.core.turnup.logbook import log_of, searched
from passerelle.core.turnup.steps import PHASES, steps_of
from passerelle.core.turnup.symptoms import read_answers
from passerelle.core.turnup.windows import corrected_words, proves, stands, windows_of
from passerelle.demo.network import demo_project
from passerelle.standins.network import ENDS, TrueNetwork
from passerelle.standins.truth import Fault, TruePlant, Truth
from tests.core.plain import CATALOG, plain_link

LINKS = {link.name: link for link in demo_project()[0]}
HEALTHY = ("Gate camera", "Pump house", "Crane 3", "Rows A to B", "Rows 100G", "Lock house, quay duct")


def true(link: Link, *hidden: Fault, seed: int = 3) -> TrueNetwork:
    return TrueNetwork(TruePlant.of([link], Truth(seed=seed, fault=hidden)), ())


@given(st.sampled_from(HEALTHY), st.integers(0, 10_000))
def test_windows_hold_the_true_values_of_a_healthy_link(name: str, seed: int) -> None:
    link, catalog = LINKS[name], CATALOG
    network = true(link, seed=seed)
    bare = link.model_copy(update={"readings": ()})  # readings are of the shipped truth, not of this one
    sent = {end: dbm for end in ENDS if (dbm := network.sends_dbm(name, end)) is not None}
    for told in (None, sent):
        windows = {(w.end, w.quantity): w for w in windows_of(bare, catalog, HouseRules(), sent_dbm=told)}
        for end in ENDS:
            for lane in network.lanes(name, end):
                assert stands(windows[end, "tx power"], lane.tx_dbm) == "normal"
                assert stands(windows[end, "rx power"], lane.rx_dbm) == "normal"


@pytest.mark.parametrize(
    ("hidden", "end", "stand"),
    [
        ({"kind": "swapped pair"}, "left", "dark"),
        ({"kind": "broken", "element": "run-1", "end": "right"}, "right", "dark"),
        ({"kind": "dead transmitter", "end": "left"}, "right", "dark"),
        ({"kind": "laser disabled", "end": "right"}, "left", "dark"),
        ({"kind": "no power", "end": "right"}, "left", "dark"),
        ({"kind": "wrong port", "end": "left"}, "left", "dark"),
        ({"kind": "bend", "element": "run-1", "db": 80}, "left", "low"),
        ({"kind": "wrong mode or core", "element": "run-1", "db": 20}, "right", "low"),
        ({"kind": "dirty face", "element": "panel-1", "db": 20, "strand": 1}, "right", "low"),
    ],
    ids=lambda value: value["kind"] if isinstance(value, dict) else str(value),
)
def test_windows_exclude_each_fault_that_changes_light(
    catalog: Catalog, hidden: dict[str, object], end: str, stand: str
) -> None:
    link = LINKS["Gate camera"]
    network = true(link, Fault(link=link.name, **hidden))  # type: ignore[arg-type]
    window = next(w for w in windows_of(link, catalog, HouseRules()) if w.end == end and w.quantity == "rx power")
    assert stands(window, network.lanes(link.name, end)[0].rx_dbm) == stand  # type: ignore[arg-type]


def test_a_receiver_that_is_blinded_reads_high_and_one_beyond_its_level_damage(catalog: Catalog) -> None:
    windows = windows_of(LINKS["Lock house, dike duct"], catalog, HouseRules())
    rx = next(w for w in windows if w.quantity == "rx power")
    assert rx.takes_dbm == -1.0
    assert stands(rx, 0.8) == "high"
    assert stands(rx, -30.0) == "low"
    assert stands(rx, None) == "dark"
    assert stands(rx, -5.0, read=False) == "unknown"
    if rx.damage_dbm is not None:
        assert stands(rx, rx.damage_dbm + 3.1) == "damage"
    short = next(w for w in windows_of(LINKS["Gate camera"], catalog, HouseRules()) if w.quantity == "rx power")
    assert short.high_dbm is not None
    assert short.takes_dbm is not None
    between = (short.high_dbm + short.takes_dbm) / 2
    if short.high_dbm < between < short.takes_dbm:
        assert stands(short, between) == "above"  # more than the plan explains, and the receiver takes it


@pytest.mark.parametrize(
    ("application", "grade", "asked"),
    [("1000BASE-LX10", "OS2", False), ("10GBASE-LR", "OS2", False), ("25GBASE-LR", "OS2", True)],
)
def test_error_correction_is_asked_only_where_the_port_has_one(application: str, grade: str, asked: bool) -> None:
    chain = compose(plain_link(application, grade, 500.0), CATALOG)
    codes = [step.code for step in steps_of(chain, CATALOG, ())]
    assert ("error correction" in codes) is asked


def test_average_limits_beside_modulation_amplitude_are_outer_bounds_only(catalog: Catalog) -> None:
    """10GBASE-SR budgets in modulation amplitude, 1000BASE-LX10 in average power."""
    outer = {
        name: {bool(w.bounds) for w in windows_of(LINKS[name], catalog, HouseRules()) if not w.why_not}
        for name in ("Rows A to B", "Gate camera")
    }
    assert outer == {"Rows A to B": {True}, "Gate camera": {False}}


def test_a_reading_of_loss_and_a_reading_of_the_sender_tighten_the_window(catalog: Catalog) -> None:
    link = LINKS["Pump house"]

    def width(of: Link, **more: object) -> float:
        found = windows_of(of, catalog, HouseRules(), **more)  # type: ignore[arg-type]
        rx = next(w for w in found if w.quantity == "rx power" and w.end == "right")
        assert rx.high_dbm is not None
        assert rx.low_dbm is not None
        return rx.high_dbm - rx.low_dbm

    bare = link.model_copy(update={"readings": ()})
    assert width(link) < width(bare) - 2
    assert width(link, off_by_db=1.0) == pytest.approx(width(link) - 4)
    assert width(link, sent_dbm={"left": 0.0}, off_by_db=1.0) < width(link, off_by_db=1.0) - 3


def test_what_is_missing_in_the_plan_leaves_no_window_and_says_why(catalog: Catalog) -> None:
    link = LINKS["Gate camera"]
    unsure = tuple(e.model_copy(update={"length_m": None}) if e.kind == "run" else e for e in link.elements)
    open_length = link.model_copy(update={"elements": unsure, "readings": ()})
    windows = windows_of(open_length, catalog, HouseRules())
    rx = next(w for w in windows if w.quantity == "rx power")
    assert (rx.low_dbm, rx.high_dbm) == (None, None)
    assert "length" in rx.why_not
    assert stands(rx, -12.0) == "unknown"  # never normal without a window


def test_counted_errors_prove_a_rate_with_its_confidence() -> None:
    none = proves(300, 10_000, 0, 0.95)
    assert none.below == pytest.approx(2.9957 / 3e12, rel=1e-3)
    assert proves(1, 1000, 1, 0.95).below == pytest.approx(4.7439 / 1e9, rel=1e-3)  # Poisson, one event
    assert proves(600, 10_000).below < none.below
    for wrong in ((0, 1000, 0, 0.95), (1, 1000, -1, 0.95), (1, 1000, 0, 1.0)):
        with pytest.raises(TurnUpError):
            proves(*wrong)
    assert "hides how much margin is left" in corrected_words("100GBASE-DR", 5000, 0)
    assert "frames were lost" in corrected_words("100GBASE-DR", 0, 1)
    assert "compare both ends" in corrected_words("10GBASE-LR", 4, 0)


def test_steps_come_from_the_plan_in_the_order_of_the_work(catalog: Catalog, house: HouseRules) -> None:
    def steps(name: str, **more: bool) -> list[tuple[str, str, str]]:
        link = LINKS[name]
        found = review(link, catalog, house, with_fixes=False).findings
        return [(s.phase, s.code, s.end) for s in steps_of(chain_of(link, catalog), catalog, found, **more)]

    plain = steps("Gate camera")
    order = [phase for phase, _ in PHASES]
    assert [order.index(phase) for phase, _, _ in plain] == sorted(order.index(phase) for phase, _, _ in plain)
    far_first = [end for phase, code, end in plain if code == "cord"]
    assert far_first == ["right", "left"]
    assert ("set", "error correction", "left") in steps("Rows 100G")
    assert not any(code == "error correction" for _, code, _ in steps("Ferry terminal"))
    assert any(code.startswith("finding mating.angled_flat") for _, code, _ in steps("Ferry terminal"))
    assert "tree" not in {code for _, code, _ in plain}
    assert ("plug", "tree", "") in steps("Gate camera", redundant=True)
    every = steps_of(chain_of(LINKS["Gate camera"], catalog), catalog, ())
    assert all(s.cautions for s in every if s.code in ("cord", "module", "faces"))


def seen(end: str, key: str = "p", **more: object) -> PortSeen:
    values = {"key": key, "link": "x", "end": end, "admin": "up", "oper": "up", "rate_mbps": 1000, **more}
    return PortSeen.model_validate(values)


def test_differences_stand_on_their_piece_and_are_read_as_answers(catalog: Catalog, house: HouseRules) -> None:
    link = LINKS["Gate camera"]
    dark = seen("left", oper="down", by="box", lanes=[{"lane": 1, "tx_dbm": -6.0, "rx_dark": True}])
    other = seen("right", "q", neighbor="Lock 1", neighbor_port="9", module="10GBASE-LR, made up")
    neighbors = {"right": Neighbor(box="Core 1", port="1/10")}
    told = turn_up(link, [dark, other], catalog, house, neighbors)  # type: ignore[arg-type]
    assert {(one.code, one.at) for one in told.differences} == {
        ("rx.dark", "module-1"),
        ("link.down", "port-1"),
        ("module.other", "module-2"),
        ("neighbor.other", "port-2"),
    }
    assert told.state == "dark"
    case = case_of(chain_of(link, catalog), catalog, ())
    answers = {(one.test, one.outcome) for one in read_answers(told, case)}
    assert {
        ("rx · left", "dark"),
        ("tx · left", "on"),
        ("symptom", "dark"),
        ("neighbor · right", "other"),
    } <= answers


def test_a_link_is_lit_only_when_both_ends_were_seen_and_nothing_differs(
    catalog: Catalog, house: HouseRules
) -> None:
    link = LINKS["Gate camera"]
    good = [{"lane": 1, "tx_dbm": -6.0, "rx_dbm": -7.0}]
    left, right = seen("left", lanes=good), seen("right", "q", lanes=good)
    assert turn_up(link, [], catalog, house).state == "not begun"
    assert turn_up(link, [left], catalog, house).state == "half read"
    assert turn_up(link, [left, right], catalog, house).state == "lit"
    assert turn_up(link, [left, seen("right", "q")], catalog, house).state == "half read"  # its light was not read
    thin = seen("right", "q", lanes=[{"lane": 1, "tx_dbm": -6.0, "rx_dbm": -19.0}])
    assert turn_up(link, [left, thin], catalog, house).state == "differs"
    slow = seen("right", "q", lanes=good, rate_mbps=100)
    assert turn_up(link, [left, slow], catalog, house).state == "differs"
    gone = Withdrawal(key="w", of="q", why="typed at the wrong port")
    assert turn_up(link, [left, right, gone], catalog, house).state == "half read"


def test_a_plan_that_does_not_hold_is_never_lit(catalog: Catalog, house: HouseRules) -> None:
    link = LINKS["Ferry terminal"]
    windows = {w.end: w for w in windows_of(link, catalog, house) if w.quantity == "rx power"}
    sent = {w.end: w for w in windows_of(link, catalog, house) if w.quantity == "tx power"}
    events: list[Event] = []
    for end in ENDS:
        low, high, tx = windows[end].planned_low_dbm, windows[end].planned_high_dbm, sent[end].planned_low_dbm
        assert low is not None
        assert high is not None
        lanes = [{"lane": 1, "tx_dbm": tx, "rx_dbm": (low + high) / 2}]
        events.append(seen(end, end, rate_mbps=10_000, lanes=lanes))
    told = turn_up(link, events, catalog, house)
    assert not told.plan_holds
    assert (told.state, told.lit) == ("differs", False)


def test_what_is_typed_in_parts_at_one_visit_is_put_together(catalog: Catalog, house: HouseRules) -> None:
    nine = datetime(2026, 11, 26, 9, 0, tzinfo=UTC)
    lanes = [{"lane": 1, "tx_dbm": -6.0, "rx_dbm": -7.0}]
    first = seen("left", "a", at=nine, by="typed", lanes=lanes, serial="SN-1")
    part = PortSeen(key="b", link="x", end="left", at=nine + timedelta(minutes=20), by="typed", oper="down")
    put = turn_up(LINKS["Gate camera"], [first, part], catalog, house).seen["left"]
    assert (put.oper, put.serial, len(put.lanes)) == ("down", "SN-1", 1)
    late = part.model_copy(update={"at": nine + timedelta(hours=3)})
    alone = turn_up(LINKS["Gate camera"], [first, late], catalog, house).seen["left"]
    assert (alone.oper, alone.serial, alone.lanes) == ("down", "", ())


def test_a_hand_over_names_every_open_point(catalog: Catalog, house: HouseRules) -> None:
    told = handover_of(LINKS["Ferry terminal"], [], catalog, house)
    words = " ".join(told.open_points)
    for point in ("damage", "readings are missing", "nobody saw where they come out", "not read", "not ticked"):
        assert point in words
    assert told.turnup_state == "not begun"
    assert len(told.strands) == 2


def test_the_logbook_speaks_in_the_words_of_the_question_and_names_who_read() -> None:
    read = Reading.model_validate({"value_db": 0.7, "start": "run-1", "end": "run-1", "operator": "night crew"})
    events: list[Event] = [
        ReadingTaken(key="r", link="l", reading=read),
        Looked(key="a", link="l", test="rx · right", outcome="dark", operator="crew 2"),
        Looked(key="b", link="l", test="worked", outcome="never"),
    ]
    worked, light, reading = log_of(events)
    assert (reading.who, reading.words) == ("night crew", "reading: 0.7 dB, all strands, wavelength not said")
    assert light.words == "How much light does the module at the right end receive? none"
    assert worked.words == "Has it ever worked? never"


def test_the_logbook_only_grows_and_is_searched() -> None:
    at = datetime(2026, 11, 26, 9, 0, tzinfo=UTC)
    first = Logged(key="a", at=at, link="l", link_name="Gate camera", words="cord C-7 plugged", operator="crew 2")
    better = Logged(key="b", at=at, link="l", link_name="Gate camera", words="it was cord C-9", corrects="a")
    port = seen("left", "c", at=at, serial="SN-4711", taken_on=date(2026, 11, 25), place="Gatehouse")
    events: list[Event] = [first, better, port, Withdrawal(key="w", at=at, of="c", why="other port")]
    lines = log_of(events)
    assert [line.key for line in lines] == ["c", "b", "a"]
    assert lines[2].corrected_by == "it was cord C-9"
    assert lines[0].withdrawn == "other port"
    for words, keys in (("crew 2", ["a"]), ("gate CAMERA c-9", ["b"]), ("SN-4711", ["c"]), ("2026-11-25", ["c"])):
        assert [line.key for line in searched(lines, words)] == keys
    assert searched(lines, "nothing of this") == []
    assert [line.key for line in searched(lines, "pp-12", {"l": "PP-12 C-7"})] == ["b", "a"]  # a label of its piece


def test_what_was_seen_stays_at_its_end_when_the_link_is_drawn_from_the_other(
    catalog: Catalog, house: HouseRules
) -> None:
    link = LINKS["Gate camera"]
    there = Logged(key="s", link="x", about="step", step="rate right")
    look, vain = (
        Looked(key="l", test="rx · left", outcome="dark"),
        FaultFound(key="f", fault="a · left", helped=False),
    )
    events: list[Event] = [seen("left", serial="SN-1"), there, look, vain]
    turned = apply_edits(link, (Reverse(),))
    told = turn_up(turned, events, catalog, house)
    assert {end: port.serial for end, port in told.seen.items()} == {"right": "SN-1"}
    assert [f"{one.step.code} {one.step.end}" for one in told.steps if one.done] == ["rate left"]
    assert [one.test for one in answers_of(drawn(turned, events))] == ["rx · right"]
    assert [one.fault for one in tried_of(drawn(turned, events))] == ["a · right"]
    names = [one.name for one in case_of(chain_of(link, catalog), catalog, ()).faults]
    tried = drawn(turned, [FaultFound(key=str(n), fault=name, helped=False) for n, name in enumerate(names)])
    other = {one.name for one in case_of(chain_of(turned, catalog), catalog, ()).faults}
    assert {one.fault for one in tried_of(tried)} == other  # every fault is found again under its name


def test_a_diagnosis_begins_anew_once_the_fault_was_found() -> None:
    look, other = Looked(key="a", test="x", outcome="y"), Looked(key="c", test="z", outcome="y")
    vain, found = FaultFound(key="v", fault="f", helped=False), FaultFound(key="b", fault="g", helped=True)
    assert [one.key for one in answers_of([look, vain])] == ["a"]
    assert [one.key for one in tried_of([look, vain])] == ["v"]
    assert [one.key for one in answers_of([look, vain, found, other])] == ["c"]
    assert tried_of([look, vain, found]) == []
    assert answers_of([look, Withdrawal(key="w", of="a", why="taken back")]) == []
