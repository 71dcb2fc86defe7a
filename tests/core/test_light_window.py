"""Where paper knows neither side of the light: unknown, with what must be read."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from passerelle.core.batch import figures_of
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.review import Review, review
from tests.core.plain import CATALOG, plain_link
from tests.depth import examples

HOUSE = HouseRules(margin_db=0.0, reel_m=0)
"""No splices are assumed: the window is that of the glass and the plugs."""


def judge(application: str, grade: str, length_m: float) -> Review:
    link = plain_link(application, grade, length_m, cord_m=0.0)
    found = review(link, CATALOG, HOUSE, with_fixes=False)
    (row,) = figures_of([link], CATALOG, HOUSE)
    assert (row.verdict, row.margin_db) == (found.verdict, found.margin_db)
    return found


@pytest.mark.parametrize(
    ("length_km", "grade", "verdict"),
    [
        (19.0, "OS2", Verdict.FAIL),  # 0.23 dB/km of doubt and 1.5 dB of plugs: 5.87 dB, within the 5.9 dB window
        (19.4, "OS2", Verdict.UNKNOWN),  # 5.96 dB: no attenuator keeps both
        (29.3, "OS2", Verdict.UNKNOWN),  # the least is 4.98 of the 5 dB asked
        (29.5, "OS2", Verdict.FAIL),  # 5.02 dB at the least: only too little light is left, 13.3 of 10.9 dB
        (29.5, "OS2 (G.652.D)", Verdict.PASS),  # 0.30 dB/km: 10.35 dB
        (29.3, "OS2 (G.652.D)", Verdict.FAIL),  # too bright by 0.02 dB, an attenuator of 0.5 dB does
    ],
)
def test_ten_gigabit_at_1550_nm(length_km: float, grade: str, verdict: Verdict) -> None:
    """10GBASE-ER: 5 to 10.9 dB by its powers and channel loss (802.3 clause 52.7); OS2 loses 0.17 to 0.4 dB/km."""
    assert judge("10GBASE-ER", grade, length_km * 1000).verdict is verdict


def test_what_must_be_read_is_said() -> None:
    found = judge("10GBASE-ER", "OS2", 25_000)
    (said,) = [f for f in found.findings if f.code == "light.undecided"]
    assert (said.facts["least_db"], said.facts["most_db"]) == (5.0, 10.9)
    assert "between 5.0 dB and 10.9 dB" in said.what
    assert {f.code for f in found.findings if f.best} == {"light.undecided"}, "no second sentence on the same light"
    assert said.caution.startswith("Laser light is invisible")


@settings(max_examples=examples(60))
@given(st.sampled_from(["10GBASE-ER", "1G-80km", "10G-80km", "1G-40km"]), st.floats(100, 90_000))
def test_no_paper_no_pass(application: str, length_m: float) -> None:
    """A pass keeps both sides at the least and at the worst loss; what keeps neither is never more than unknown."""
    found = judge(application, "OS2", length_m)
    limits = [limit for direction in found.directions for limit in direction.limits]
    if found.verdict is Verdict.PASS:
        assert all(limit.margin_db >= 0 for limit in limits)
    if any(limit.margin_db < 0 for limit in limits):
        assert found.verdict.broken or found.verdict is Verdict.UNKNOWN


def test_both_sides_of_the_light_are_named() -> None:
    """10GBASE-LR at 2,900 m: 6.2 dB of channel less 1.16 and 1.5; +0.5 dBm sent, +0.5 dBm taken, 0.9 dB lost."""
    found = judge("10GBASE-LR", "OS2", 2900)
    assert found.dark is not None
    assert found.bright is not None
    assert (found.dark.limit, found.bright.limit) == ("channel insertion loss", "receiver overload")
    assert found.dark.margin_db == pytest.approx(6.2 - 2.9 * 0.4 - 2 * 0.75, abs=0.2)
    assert found.bright.margin_db == pytest.approx(2.9 * 0.3, abs=0.01)
    assert "against too little light (channel insertion loss), house margin" in found.headline
    assert "against too much (receiver overload)" in found.headline


def test_a_thin_bright_margin_is_a_full_pass() -> None:
    """Nothing gets brighter with age: +0.0 dB against too much light passes whatever the house margin is."""
    link = plain_link("10GBASE-LR", "OS2", 10.0, cord_m=0.0)
    found = review(link, CATALOG, HouseRules(margin_db=2.0), with_fixes=False)
    assert found.bright is not None
    assert 0 <= found.bright.margin_db < 0.01
    assert found.verdict is Verdict.PASS
