"""A fast port split over slower ones: how bright a lane is, and who works with whom."""

from __future__ import annotations

import pytest

from passerelle.core.batch import figures_of
from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.build_arrays import leg_link
from passerelle.core.link.chain import Link, modules, with_ids
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.registry import needs_of
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG

HOUSE = HouseRules(margin_db=0.0)


def split(fast: str, slow: str, length_m: float = 5.0, **module: object) -> Link:
    """One of four legs of a fast port to a slow one."""
    optics = CATALOG.application(fast), CATALOG.application(slow)
    cages = {40_000: "QSFP+", 400_000: "QSFP-DD", 10_000: "SFP+", 100_000: "QSFP28"}
    ports = (
        Port(
            place="row",
            label="fast",
            cage=cages[optics[0].rate_mbps],
            rates_mbps=(optics[0].rate_mbps,),
            splits=(4,),
        ),
        Port(place="row", label="host", cage=cages[optics[1].rate_mbps], rates_mbps=(optics[1].rate_mbps,)),
    )
    grade = ("OM4",) if optics[0].family == "multimode" else ("OS2",)
    link = with_ids(leg_link("leg", ports, *optics, grade, length_m, legs=4, leg=1))
    return apply_edits(link, (SetFields(element=modules(link)[0].id, values=module),)) if module else link


def judge(link: Link, *, fixes: bool = False) -> Review:
    found = review(link, CATALOG, HOUSE, with_fixes=fixes)
    (row,) = figures_of([link], CATALOG, HOUSE)
    assert (row.verdict, row.margin_db, row.on_estimate) == (found.verdict, found.margin_db, found.on_estimate)
    return found


def test_a_lane_that_may_be_too_bright_is_unknown() -> None:
    found = judge(split("40GBASE-SR4", "10GBASE-SR"), fixes=True)
    assert found.verdict is Verdict.UNKNOWN
    lane = next(f for f in found.findings if f.code == "light.lane_maximum")
    assert lane.at == (modules(split("40GBASE-SR4", "10GBASE-SR"))[0].id,)
    assert "2.4 dBm" in lane.what
    assert "−1 dBm" in lane.what
    pressed = next(fix for fix in lane.fixes if "sold for 4 x 10GBASE-SR" in fix.label)
    assert judge(apply_edits(split("40GBASE-SR4", "10GBASE-SR"), pressed.edits)).verdict is Verdict.PASS


@pytest.mark.parametrize(
    ("lane_max_dbm", "verdict"),
    [(-1.0, Verdict.PASS), (-0.99, Verdict.PASS), (-0.9, Verdict.FAIL), (0.5, Verdict.DAMAGE)],
)
def test_the_lane_maximum_of_the_datasheet_decides(lane_max_dbm: float, verdict: Verdict) -> None:
    """Receiver maximum -1.0 dBm (802.3 table 52-9), at least 0.01 dB in 5 m; damage from 0 dBm."""
    assert judge(split("40GBASE-SR4", "10GBASE-SR", lane_max_dbm=lane_max_dbm)).verdict is verdict


def test_no_clause_no_conflict() -> None:
    """Lanes that are no brighter than the receiver takes ask for nothing."""
    found = judge(split("40G-parallel-300m", "10GBASE-SR"))
    assert "light.lane_maximum" not in {f.code for f in found.findings}


def test_what_the_module_is_sold_for_stands_on_the_order_line() -> None:
    module = modules(split("40GBASE-SR4", "10GBASE-SR", sold_for="10GBASE-SR"))[0]
    (need,) = needs_of(module, CATALOG)
    assert "sold for 4 x 10GBASE-SR" in need.words


@pytest.mark.parametrize("fast", ["400GBASE-DR4", "400GBASE-DR4-2"])
@pytest.mark.parametrize("slow", ["100GBASE-DR", "100GBASE-FR1"])
def test_legs_work_with_both_of_the_same_light(fast: str, slow: str) -> None:
    found = judge(split(fast, slow, 30.0))
    assert "application.differs" not in {f.code for f in found.findings}
    assert not found.verdict.broken


@pytest.mark.parametrize(("length_m", "broken"), [(490.0, False), (510.0, True)])
def test_the_shorter_channel_of_the_two_is_kept(length_m: float, broken: bool) -> None:
    """DR4 is made for 500 m, FR1 for 2 km: together 500 m."""
    assert judge(split("400GBASE-DR4", "100GBASE-FR1", length_m)).verdict.broken is broken


def test_a_port_that_cannot_be_split_says_so() -> None:
    link = split("40GBASE-SR4", "10GBASE-SR")
    plain = apply_edits(link, (SetFields(element=modules(link)[0].id, values={"application": "10GBASE-SR"}),))
    with pytest.raises(EditError, match="10GBASE-SR cannot be split"):
        review(plain, CATALOG, HOUSE)
