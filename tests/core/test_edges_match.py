"""Limits of cabling, cages, air, launches and prices on both sides."""

from __future__ import annotations

import pytest

from passerelle.core.acceptance.limits import plain_limit
from passerelle.core.acceptance.methods import Setup, check_joined, launch_of
from passerelle.core.errors import AcceptanceError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.outlet import Outlet
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.review import Review, review
from passerelle.core.rules.air import mildest_ingress
from passerelle.core.selection.cost import Cost, as_there, cost_of
from tests.core.plain import CATALOG, plain_link


def judge(link: Link, house: HouseRules | None = None) -> Review:
    return review(link, CATALOG, house or HouseRules(margin_db=0.0), with_fixes=False)


def codes(link: Link, house: HouseRules | None = None) -> set[str]:
    return {finding.code for finding in judge(link, house).findings}


@pytest.mark.parametrize(
    ("rate", "category", "connections", "told"),
    [
        (25_000, "Category 8", 2, False),  # ANSI/TIA-568.2-D: a channel of Category 8 has two connections
        (25_000, "Category 8", 3, True),
        (25_000, "Category 8", 4, True),
        (10_000, "Category 6A", 4, False),  # four in every other channel
        (10_000, "Category 6A", 5, True),
    ],
)
def test_a_channel_has_as_many_connections_as_its_category_allows(
    rate: int, category: str, connections: int, told: bool
) -> None:
    port = Port(place="near", cage="RJ45", rates_mbps=(rate,))
    middle: list[object] = [Twisted(length_m=2, category=category)]  # type: ignore[arg-type]
    for number in range(connections):
        middle += [Outlet(), Twisted(length_m=2, category=category, fixed=number == 0)]  # type: ignore[arg-type]
    link = with_ids(Link(name="copper", elements=(port, *middle, port)))  # type: ignore[arg-type]
    assert ("copper.connections" in codes(link)) is told


@pytest.mark.parametrize(
    ("water", "dusty", "stands"),
    [
        ("splashed", False, {"IP54", "IP65", "IP67", "IP66/IP67"}),
        ("dry", True, {"IP54", "IP65", "IP67", "IP66/IP67"}),
        ("hosed", False, {"IP65", "IP66/IP67"}),  # 7 does not include 5: IEC 60529
        ("flooded", False, {"IP67", "IP66/IP67"}),
        ("hosed", True, {"IP65", "IP66/IP67"}),
        ("flooded", True, {"IP67", "IP66/IP67"}),
    ],
)
def test_a_box_must_stand_water_and_dust(water: str, dusty: bool, stands: set[str]) -> None:
    for name in CATALOG.ingress_classes:
        values = {"water": water, "dusty": dusty, "ingress": name}
        link = apply_edits(plain_link(), (SetFields(element="port-1", values=values),))
        assert ("ingress.too_low" in codes(link)) is (name not in stands), name
    assert mildest_ingress(water, dusty, CATALOG) in stands  # type: ignore[arg-type]


def test_a_box_that_stands_one_of_the_two_does_not_stand_the_place() -> None:
    """A box that keeps dust out and no water, and one that keeps water out and no dust."""
    shelf = CATALOG.ingress_classes
    dust_only = shelf["IP54"].model_copy(update={"name": "IP50", "water": (0,)})
    water_only = shelf["IP54"].model_copy(update={"name": "IP24", "dust": 2})
    assert [one.stands(4, 5) for one in (dust_only, water_only, shelf["IP54"])] == [False, False, True]
    assert [one.stands(0, 5) for one in (dust_only, water_only)] == [True, False]
    assert [one.stands(4, 0) for one in (dust_only, water_only)] == [False, True]


@pytest.mark.parametrize(
    ("loop_mm", "certifies"), [(0, False), (19.9, False), (20, True), (40, True), (40.1, False), (60, False)]
)
def test_the_loop_of_a_single_mode_launch_is_thirty_millimeters_give_or_take_ten(
    loop_mm: float, certifies: bool
) -> None:
    found = launch_of(Setup(family="single-mode", source="laser", loop_mm=loop_mm))
    assert found.certifies is certifies
    assert not launch_of(Setup(family="single-mode", source="LED", loop_mm=30)).certifies


@pytest.mark.parametrize(
    ("family", "reference_grade", "most"),
    [("multimode", True, 0.1), ("single-mode", True, 0.2), ("multimode", False, 0.5), ("single-mode", False, 0.5)],
)
def test_joined_cords_read_at_most_what_their_grade_allows(family: str, reference_grade: bool, most: float) -> None:
    check_joined(0.0, family, reference_grade=reference_grade)  # type: ignore[arg-type]
    check_joined(most, family, reference_grade=reference_grade)  # type: ignore[arg-type]
    for wrong in (most + 0.01, -0.01):
        with pytest.raises(AcceptanceError):
            check_joined(wrong, family, reference_grade=reference_grade)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("fiber", "nm", "length_m", "pairs", "splices", "by_method"),
    [
        # TIA-568.3-D: 3.0 dB/km at 850 nm, 1.5 at 1300; 0.75 dB a pair, 0.3 dB a splice; both ends, one, none
        ("OM3", 850, 100, 2, 0, {"one cord": 1.8, "two cords": 1.05, "three cords": 0.3}),
        ("OM4", 850, 250, 3, 1, {"one cord": 3.3, "two cords": 2.55, "three cords": 1.8}),
        ("OM1", 1300, 1000, 4, 2, {"one cord": 5.1, "two cords": 4.35, "three cords": 3.6}),
    ],
)
def test_limits_worked_out_by_hand(
    fiber: str, nm: int, length_m: float, pairs: int, splices: int, by_method: dict[str, float]
) -> None:
    for method, limit_db in by_method.items():
        found = plain_limit(
            CATALOG,
            fiber,
            nm,
            length_m,
            pairs=pairs,
            splices=splices,
            method=method,
            school="TIA-568.3-D",  # type: ignore[arg-type]
        )
        assert found.limit_db == pytest.approx(limit_db), method


@pytest.mark.parametrize(
    ("cord_m", "run_m", "code"),
    [(0.0, 299.9, "launch.omitted"), (0.0, 300, "launch.offset_missing"), (3.0, 294, "launch.offset_missing")],
)
def test_an_offset_launch_may_be_omitted_only_below_the_length_of_the_project(
    cord_m: float, run_m: float, code: str
) -> None:
    """Below 300 m, the cords counted in; at it the clause stands."""
    house = HouseRules(margin_db=0.0, offset_launch_from_m=300)
    told = codes(plain_link("1000BASE-LX", "OM1", run_m, cord_m=cord_m), house)
    assert {"launch.omitted", "launch.offset_missing"} & told == {code}


def test_an_offset_launch_is_not_omitted_on_a_length_that_nobody_knows() -> None:
    house = HouseRules(margin_db=0.0, offset_launch_from_m=300)
    found = judge(plain_link("1000BASE-LX", "OM1", None), house)
    assert "launch.omitted" not in {one.code for one in found.findings}
    assert found.verdict.rank <= Verdict.UNKNOWN.rank


@pytest.mark.parametrize(("at_hand", "bought"), [(0, 2), (1, 1), (2, 0), (3, 0)])
def test_a_module_at_hand_is_used_once(at_hand: int, bought: int) -> None:
    link = plain_link("10GBASE-LR")

    def cost(*there: str) -> Cost:
        links = as_there([link], CATALOG, cable_is_there=True, at_hand=there)
        return cost_of(links, HouseRules(spares_percent=0), CATALOG)

    lines = cost(*["10GBASE-LR"] * at_hand).lines
    assert sum(line.count for line in lines if line.item.startswith("module, 10GBASE-LR")) == bought
    assert cost("10GBASE-SR").total == cost().total
