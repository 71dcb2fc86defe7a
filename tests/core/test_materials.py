"""The bill, lengths, spares, labels, the schools, the day: every piece once, nothing that is there, known sums."""

from __future__ import annotations

from collections import Counter

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.errors import MaterialError
from passerelle.core.events import Delivered, OrderedLine, OrderPlaced
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, SpareRule
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import Insert, apply_edits
from passerelle.core.link.keys import keyed
from passerelle.core.materials.arrival import (
    Arrival,
    arrived,
    arrived_cable,
    delivery_lines,
    matched,
    orders_of,
)
from passerelle.core.materials.asked import Scope, asked_for, scope_of
from passerelle.core.materials.bill import Bill, BillLine, bill_of
from passerelle.core.materials.cuts import moved, reel_plans, taken_rows
from passerelle.core.materials.day import day_plan
from passerelle.core.materials.labels import give_labels, labelled
from passerelle.core.materials.lengths import cable_length
from passerelle.core.materials.panels import panel_fronts
from passerelle.core.materials.schools import schools
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.need import WHERE
from passerelle.core.parts.piece import State
from passerelle.core.parts.registry import KINDS, spec_of
from passerelle.core.plant.riders import laid
from passerelle.core.plant.site import Plant
from passerelle.core.review import review
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from tests.core.any_link import any_link
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

HOUSE = HouseRules()


def fresh(prefix: str):  # type: ignore[no-untyped-def]
    count = iter(range(10_000))
    return lambda: f"{prefix}{next(count)}"


def scope(*links: Link, plant: Plant | None = None, house: HouseRules = HOUSE) -> Scope:
    named = [(n, keyed(with_ids(link), fresh(f"k{n}x"))) for n, link in enumerate(links, start=1)]
    return scope_of(named, plant or Plant(), house, CATALOG)


def port_aubier() -> Scope:
    plant = demo_plant()
    rows = {shelf: [] for shelf in ("cables", "parts", "frames")}
    for shelf, made in rows.items():
        made += [
            row.model_copy(update={"key": row.key or f"{shelf}{i}"}) for i, row in enumerate(getattr(plant, shelf))
        ]
    plant = plant.changed(**rows)
    return scope(*(laid(link, plant) for link in demo_links()), plant=plant)


def line(bill: Bill, beginning: str) -> BillLine:
    return next(one for one in bill.lines if one.words.startswith(beginning))


def test_a_plain_link_is_two_modules_two_cords_two_adapters_and_a_cable() -> None:
    """185 m and a coil of 5 m at each end: a factory-made cable of 195 m, with four factory ends."""
    bill = bill_of(scope(plain_link("10GBASE-SR", "OM4", 185.0)))
    told = {one.words: (one.needed, one.spares, one.unit) for one in bill.lines}
    assert told["cord, OM4, LC PC to LC PC, duplex, A-to-B (ordinary), 2 m"] == (2, 1, "piece")
    assert told["module, 10GBASE-SR, SFP+, coding to be said"] == (2, 1, "piece")
    assert told["adapter, LC, duplex"] == (2, 1, "piece")
    cable = line(bill, "cable made to length, OM4, 2 strands")
    assert cable.words.endswith("LC PC to LC PC, 195 m")
    assert cable.each == pytest.approx(195 * 1.6 + 4 * 7)
    assert "factory-made cable cannot be cut longer" in cable.caution
    assert [one.where for one in bill.lines] == sorted((one.where for one in bill.lines), key=WHERE.index)


def test_spliced_ends_are_cable_by_the_metre_pigtails_protectors_and_a_tray_each() -> None:
    bill = bill_of(scope(plain_link("10GBASE-LR", "OS2", 300.0, pigtails=True)))
    assert line(bill, "cable, OS2").needed == 300 + 2 * 5 + 2 * 1.5 + 2
    assert (line(bill, "pigtail").needed, line(bill, "splice protector").needed) == (4, 4)
    assert line(bill, "splice tray").needed == 2


def test_cords_are_bought_in_lengths_that_are_sold_and_buyers_read_a_to_a() -> None:
    link = plain_link("1000BASE-LX10", "OS2", 4000.0)
    cord = next(e for e in link.elements if e.kind == "cord")
    other = cord.model_copy(update={"length_m": 2.1, "crossed": False})
    link = link.model_copy(update={"elements": tuple(other if e is cord else e for e in link.elements)})
    words = [one.words for one in bill_of(scope(link)).lines]
    assert "cord, OS2, LC UPC to LC UPC, duplex, A-to-A, 3 m" in words


@settings(max_examples=examples(60))
@given(links=st.lists(any_link(), min_size=1, max_size=4), data=st.data())
def test_every_piece_is_asked_for_once_and_nothing_that_is_there(links: list[Link], data: st.DataObject) -> None:
    """Whatever the project: each new piece asks for just what its kind is bought as, others for nothing."""
    states: list[State] = ["planned", "existing", "ordered", "installed", "delivered", "dead"]
    bare = [
        link.model_copy(
            update={
                "elements": tuple(
                    e.model_copy(update={"part": "", "state": data.draw(st.sampled_from(states))})
                    for e in link.elements
                )
            }
        )
        for link in links
    ]
    found = scope(*bare)
    asked = Counter(one.asker.key for one in asked_for(found) if one.asker.key)
    for _, link in found.links:
        for element in link.elements:
            new = element.state in ("planned", "ordered", "delivered")
            expected = len(spec_of(element).needs(element, CATALOG)) if new else 0
            assert asked.pop(element.key, 0) == expected, element
    assert not asked


def test_a_shared_cable_is_bought_once_for_all_links_on_it() -> None:
    found = port_aubier()
    keys = [one.asker.key for one in asked_for(found) if one.need.where == "made to length"]
    assert len(keys) == len(set(keys))
    grow = [one for one in asked_for(found) if one.need.words.startswith("cable, OS2, 12 strands")]
    assert sorted(one.asker.row for one in grow) == ["grow crane", "grow lock", "grow scale"]
    assert sum(one.need.quantity for one in grow) == 617 + 797 + 157


def test_each_kind_says_what_it_is_bought_as() -> None:
    """A kind without a need is one that is never bought: a port without a box."""
    bought = {e.kind for link in demo_links() for e in link.elements if spec_of(e).needs(e, CATALOG)}
    assert {spec.kind for spec in KINDS} - bought <= {"port", "attenuator", "conversion", "jack", "assembly"}
    pad = Attenuator(value_db=5, shape="LC", polish="UPC")
    assert spec_of(pad).needs(pad, CATALOG)[0].quantity == 2


@pytest.mark.parametrize(
    ("rule", "spare"),
    [
        (None, 1),
        (SpareRule(of="cords", percent=0, at_least=0), 0),
        (SpareRule(of="cords", percent=100, at_least=0), 2),
        (SpareRule(of="cords", percent=0, at_least=4), 4),
        (SpareRule(of="cords", percent=0, at_least=0, far_site=True), 1),
    ],
)
def test_spares_follow_the_rule_of_their_class(rule: SpareRule | None, spare: int) -> None:
    house = HouseRules(spares=(rule,) if rule else ())
    bill = bill_of(scope(plain_link("10GBASE-SR", "OM4", 60.0), house=house))
    assert line(bill, "cord").spares == spare
    assert line(bill, "cable").spares == 0


def test_what_is_at_hand_and_what_is_set_by_hand_change_the_quantity() -> None:
    words = "cord, OM4, LC PC to LC PC, duplex, A-to-B (ordinary), 2 m"
    plant = Plant.model_validate(
        {
            "stock": [{"id": "s", "name": "drawer", "line": words, "count": 2}],
            "orders": [
                {"id": "o", "name": "x", "line": "adapter, LC, duplex", "count": 12, "why": "sold by the dozen"},
                {"id": "hand", "name": "cage nuts", "count": 20, "why": "frame"},
                {"id": "gone", "name": "y", "line": "nothing", "count": 1, "why": "?"},
            ],
        }
    )
    bill = bill_of(scope(plain_link("10GBASE-SR", "OM4", 60.0), plant=plant))
    assert (line(bill, words).needed, line(bill, words).at_hand, line(bill, words).to_order) == (2, 2, 1)
    adapters = line(bill, "adapter")
    assert (adapters.computed, adapters.quantity, adapters.why) == (3, 12, "sold by the dozen")
    assert line(bill, "cage nuts").to_order == 20
    assert bill.unused_overrides == ("nothing",)


def test_a_length_or_grade_that_is_missing_is_told_with_its_piece() -> None:
    link = plain_link("10GBASE-SR", ("OM3", "OM4"), None)
    told = {(one.what, one.asker.element) for one in bill_of(scope(link)).missing}
    assert {("length", "run-1"), ("grade", "run-1")} <= told


def test_the_shares_come_to_the_sum_whatever_they_are_shared_by() -> None:
    bill = bill_of(port_aubier())
    for parts in (bill.by_link, bill.by_place, bill.by_stage):
        assert sum(part.total for part in parts) == pytest.approx(bill.total, abs=0.5)


def test_the_length_of_a_cable_is_its_way_its_climbs_loops_slack_and_waste() -> None:
    plant = demo_plant()
    length = cable_length(plant.cable_of["quay"], plant, HOUSE)
    assert (length.way_m, length.loops_m, length.slack_m, length.waste_m) == (935, 20, 10, 5)
    assert (length.laid_m, length.total_m, length.made_m) == (965, 970, 965)


def test_labels_stay_when_a_piece_is_put_in_and_no_two_are_the_same() -> None:
    found = scope(plain_link("10GBASE-SR", "OM4", 60.0))
    first = give_labels(found)
    given = found.plant.changed(labels=first)
    (number, link), *_ = found.links
    more = apply_edits(link, (Insert(after="cord-1", piece=Attenuator(value_db=5, shape="LC", polish="PC")),))
    again = scope_of([(number, keyed(more, fresh("new")))], given, HOUSE, CATALOG)
    assert {one.key: one.label for one in labelled(again)}.items() >= {row.of: row.id for row in first}.items()
    assert len({row.id for row in first}) == len(first)
    assert not {row.id for row in give_labels(again)} & {row.id for row in first}


def test_a_label_that_is_there_stays_and_two_that_are_the_same_get_their_own() -> None:
    link = plain_link("10GBASE-SR", "OM4", 60.0)
    texts = {"cord-1": "F2-01", "panel-1": "same", "panel-2": "same"}
    link = with_ids(link)
    link = link.model_copy(
        update={"elements": tuple(e.model_copy(update={"label": texts.get(e.id, e.label)}) for e in link.elements)}
    )
    found = scope(link)
    told = {one.element: one for one in labelled(found)}
    assert (told["cord-1"].label, told["cord-1"].kept, told["cord-1"].doubled) == ("F2-01", True, False)
    assert told["panel-1"].doubled
    new = {row.of for row in give_labels(found)}
    assert told["cord-1"].key not in new
    assert {told["panel-1"].key, told["panel-2"].key} <= new


def test_both_ends_say_where_the_other_one_is() -> None:
    cable = next(one for one in labelled(port_aubier()) if one.row == "quay")
    near, far = cable.ends
    assert (near.near, near.far) == (far.far, far.near)
    assert near.far == "North quay crane 3: coiled, dark"


def test_a_panel_says_strand_color_and_where_each_port_leads() -> None:
    office = next(front for front in panel_fronts(port_aubier(), "Harbor office"))
    crane = next(port for port in office.ports if port.link_name == "Crane 2")
    assert [(b.cable, b.number, b.color) for b in crane.behind] == [
        ("Quay cable, tapped", 3, "green"),
        ("Quay cable, tapped", 4, "brown"),
    ]
    assert crane.leads_to.startswith("North quay crane 2")


def test_the_schools_differ_in_price_loss_and_whether_the_plugs_pass() -> None:
    found = port_aubier()
    number, link = next(pair for pair in found.links if pair[1].name == "Gate camera")
    told = {one.name: one for one in schools(number, link, found).schools}
    assert told["pre-terminated"].now
    assert any("does not enter" in words for words in told["pre-terminated"].blocked)
    assert not told["spliced"].blocked
    assert told["spliced"].total != told["pre-terminated"].total
    worst = {name: one.worst_db or 0 for name, one in told.items()}
    assert worst["spliced"] == pytest.approx(worst["pre-terminated"] + 2 * 0.3, abs=0.02)
    back = apply_edits(link, told["spliced"].edits)
    again = {one.name: one for one in schools(number, back, found).schools}
    restored = apply_edits(back, again["pre-terminated"].edits)
    assert [(e.kind, getattr(e, "left", None)) for e in restored.elements] == [
        (e.kind, getattr(e, "left", None)) for e in link.elements
    ]


def test_a_day_pulls_what_shares_a_way_together_and_says_what_breaks() -> None:
    plan = day_plan(demo_plant())
    together = next(pull for pull in plan.pulls if len(pull.cables) > 1)
    assert {demo_plant().cable_of[name].ways for name in together.cables} == {("floor",)}
    gate = next(pull for pull in plan.pulls if pull.cables == ("camera",))
    assert any("does not enter" in warning.what for warning in gate.warnings)
    assert gate.points[0].does.startswith("reel")
    assert any("in line with a rope" in words for words in plan.cautions)
    assert any("asbestos" in words for words in plan.cautions)
    assert "breakaway link below 600 N" in " ".join(plan.things)


def test_a_head_that_leads_decides_where_its_cable_is_fed() -> None:
    """Both could start at the quay pit; a cable whose head is there is fed from the other end."""
    plant = demo_plant()
    cables = tuple(
        c.model_copy(update={"head_at": "near", "head_mm": 20}) if c.id == "grow lock" else c for c in plant.cables
    )
    plan = day_plan(plant.changed(cables=cables), ["grow crane", "grow lock"])
    starts = {pull.cables[0]: pull.start for pull in plan.pulls}
    assert (plan.reel_at, starts["grow crane"], starts["grow lock"]) == ("Quay pit", "Quay pit", "Lock house")


def test_a_reel_that_is_short_is_found_on_delivery_and_a_move_mends_it() -> None:
    found = port_aubier()
    plan = next(p for p in reel_plans(found, bill_of(found)) if p.line.startswith("cable, OS2"))
    assert [t.what for t in plan.troubles] == [
        "remainder in the yard holds 609 m and is 8 m too short for its cuts."
    ]
    assert "reel of 2 km" in plan.troubles[0].remedy
    assert any(offer.cable == "grow crane" for offer in plan.offers)
    to = next(i for i, reel in enumerate(plan.reels) if reel.name == "reel of 2 km")
    rows = moved(plan, found.plant, "growcrane", 0, to)
    after = scope_of(found.links, found.plant.changed(reels=rows), HOUSE, CATALOG)
    mended = next(p for p in reel_plans(after, bill_of(after)) if p.line == plan.line)
    assert mended.holds
    assert taken_rows(mended, after.plant) == rows
    with pytest.raises(MaterialError):
        moved(plan, found.plant, "nobody", 0, 0)


def test_a_cable_longer_than_any_reel_is_cut_where_a_joint_is_planned() -> None:
    plant = demo_plant().changed(
        taps=[{**demo_plant().taps[0].model_dump(), "cable": "grow crane", "strands": (), "joint": True}]
    )
    rows = [row.model_copy(update={"key": row.key or f"c{i}"}) for i, row in enumerate(plant.cables)]
    found = scope(plant=plant.changed(cables=rows, reels=()), house=HouseRules(reel_sizes_m=(450, 820)))
    plan = next(p for p in reel_plans(found, bill_of(found)) if p.line.startswith("cable, OS2"))
    assert [run.section for run in plan.runs if run.of == "growcrane"] == [0]
    found = scope(plant=plant.changed(cables=rows, reels=()), house=HouseRules(reel_sizes_m=(450,)))
    plan = next(p for p in reel_plans(found, bill_of(found)) if p.line.startswith("cable, OS2"))
    sections = [run.length_m for run in plan.runs if run.of == "growcrane"]
    assert (len(sections), sum(sections)) == (2, pytest.approx(627))
    assert any("more than any reel" in t.what for t in plan.troubles), "the lock has no closure on its way"


def test_what_arrives_otherwise_is_judged_so_and_says_what_was_ordered() -> None:
    link = with_ids(plain_link("10GBASE-SR", "OM4", 180.0))
    cord = link.element("cord-1")
    came = arrived(cord, Arrival(line="x", quantity=1, grade="OM1", polish="APC"), CATALOG)
    assert came.state == "delivered"
    assert {one.field for one in came.ordered} == {"fiber", "left", "right"}
    changed = link.model_copy(update={"elements": tuple(came if e is cord else e for e in link.elements)})
    found = review(changed, CATALOG, HOUSE)
    assert found.verdict is Verdict.DAMAGE or found.verdict is Verdict.FAIL
    note = next(one for one in found.findings if one.code == "delivery.otherwise")
    assert "OM1 instead of OM4" in note.what
    mended = apply_edits(changed, note.fixes[0].edits)
    assert mended.element("cord-1") == cord


def test_a_difference_that_a_piece_cannot_have_is_refused() -> None:
    link = with_ids(plain_link("10GBASE-SR", "OM4", 180.0))
    for arrival, field in (
        (Arrival(line="x", quantity=1, coding="make A"), "coding"),
        (Arrival(line="x", quantity=1, grade="OM99"), "x: grade"),
    ):
        with pytest.raises(MaterialError) as caught:
            arrived(link.element("cord-1"), arrival, CATALOG)
        assert caught.value.field == field


def test_a_delivery_matches_what_was_ordered_and_nothing_else() -> None:
    found = scope(plain_link("10GBASE-SR", "OM4", 60.0))
    bill = bill_of(found)
    words = line(bill, "cord").words
    note = matched([Arrival(line=words, quantity=1), Arrival(line="rope", quantity=1)], bill, orders_of([]))
    assert [why for _, why in note.unmatched] == [
        "it is on the bill and was not ordered: place the order first",
        "no line of the bill has these words",
    ]


def test_a_report_that_says_more_loss_than_the_grade_allows_sends_the_reel_back() -> None:
    found = port_aubier()
    for loss, told in ((0.35, 0), (0.6, 1)):
        reels = [
            row.model_copy(update={"report_nm": 1310, "report_db_per_km": loss}) for row in found.plant.reels[:1]
        ]
        after = scope_of(found.links, found.plant.changed(reels=reels), HOUSE, CATALOG)
        plan = next(p for p in reel_plans(after, bill_of(after)) if p.line.startswith("cable, OS2"))
        assert sum("by its report" in t.what for t in plan.troubles) == told


def test_an_injector_is_bought_for_each_device_that_needs_one() -> None:
    plant = demo_plant()
    devices = [d.model_copy(update={"injector": "planned", "count": 3}) for d in plant.devices[:1]]
    bill = bill_of(scope(plant=plant.changed(devices=devices)))
    assert line(bill, "power injector").needed == 3


def test_a_piece_has_arrived_when_all_that_it_asks_is_there() -> None:
    """Cable by the metre comes in parts: 1,000 of 1,571 m are enough for the runs of 617 and 157 m, not for 797."""
    found = port_aubier()
    words = line(bill_of(found), "cable, OS2, 12 strands").words
    keys = tuple(one.key for one in line(bill_of(found), "cable, OS2, 12 strands").asked)
    ordered = OrderPlaced(key="o", number=1, lines=(OrderedLine(words=words, quantity=1571, unit="m", keys=keys),))
    first = matched([Arrival(line=words, quantity=700)], bill_of(found), orders_of([ordered]))
    assert first.matched[0].keys == ("growcrane",)
    came = Delivered(key="d", lines=delivery_lines(first))
    second = matched([Arrival(line=words, quantity=714)], bill_of(found), orders_of([ordered, came]))
    assert second.matched[0].keys == ("growlock",), "83 m were left over"
    last = matched([Arrival(line=words, quantity=1)], bill_of(found), orders_of([ordered, came]))
    assert last.matched[0].keys == ()


def test_a_cable_of_another_grade_changes_nothing_of_what_was_ordered() -> None:
    found = port_aubier()
    cable = arrived_cable(found.plant.cable_of["grow lock"], Arrival(line="x", quantity=1, grade="OS1"), CATALOG)
    cables = tuple(cable if row.id == "grow lock" else row for row in found.plant.cables)
    after = scope_of(found.links, found.plant.changed(cables=cables), HOUSE, CATALOG)
    assert cable.fiber == ("OS1",)
    assert {one.words: one.needed for one in bill_of(after).lines} == {
        one.words: one.needed for one in bill_of(found).lines
    }


def test_ends_that_cannot_be_compared_say_why() -> None:
    link = plain_link("10GBASE-LR", "OS2", 300.0, pigtails=True)
    elements = tuple(e for e in with_ids(link).elements if e.id not in ("pigtail-1",))
    found = scope(link.model_copy(update={"elements": elements}))
    told = schools(1, found.links[0][1], found)
    assert told.schools == ()
    assert "say which plug it takes" in told.why_not


@pytest.mark.parametrize(
    ("bends", "bound"), [((), "or more, bends not entered"), ((0,), "at most, wherever the bends are")]
)
def test_the_day_says_whether_its_tension_is_the_most(bends: tuple[float, ...], bound: str) -> None:
    plant = demo_plant()
    ways = tuple(way.model_copy(update={"bends_deg": bends}) for way in plant.ways)
    pulls = [pull for pull in day_plan(plant.changed(ways=ways)).pulls if pull.tension_n is not None]
    assert pulls
    assert {pull.bound for pull in pulls} == {bound}
