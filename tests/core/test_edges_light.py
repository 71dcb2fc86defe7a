"""Limits of loss and light on both sides, by sums done by hand; windows, the tree and the next check likewise."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from passerelle.core.budget.light import Light
from passerelle.core.budget.loss import loss_terms, scattering_factor, worst_db_per_km
from passerelle.core.budget.power import Figure, LimitOf, limits, limits_between
from passerelle.core.house import HouseRules
from passerelle.core.link.compose import compose
from passerelle.core.review import review
from passerelle.core.rules.by_length import Sums
from passerelle.core.sources import derived
from passerelle.core.turnup.belief import Answer, Case, Fault, Look, believed, diagnose, without
from passerelle.core.turnup.bridges import Bridge, BridgeLink, LinkEnd, Network
from passerelle.core.turnup.tree import tree_of
from passerelle.core.turnup.windows import Window, stands, windows_of
from tests.core.plain import CATALOG, plain_link

FIRM = derived("by hand")


def test_scattering_grows_with_the_fourth_power_below_the_listed_wavelength() -> None:
    """(1310/1271)⁴ = 1.1285 (the third power would be 1.0949); none above it, none in multimode."""
    os2 = CATALOG.fiber("OS2")
    assert scattering_factor(os2, 1271, 1310) == pytest.approx(1.1285, abs=1e-4)
    assert (scattering_factor(os2, 1310, 1310), scattering_factor(os2, 1331, 1310)) == (1.0, 1.0)
    assert scattering_factor(CATALOG.fiber("OM3"), 840, 850) == 1.0
    found = worst_db_per_km(os2, (1271, 1331))
    assert found is not None
    assert found[0] == pytest.approx(0.4 * 1.1285, abs=1e-4)


def test_of_several_lanes_the_shortest_loses_the_most_and_the_longest_the_least() -> None:
    """OS2: at most 0.4 dB/km at 1310 nm; at least 0.30 there and 0.17 at 1550 nm."""
    chain = compose(plain_link(length_m=1000, pairs=0, cord_m=0.0), CATALOG)
    for lanes, least in (((1310,), 0.30), ((1310, 1550), 0.17), ((1550, 1310), 0.17), ((1550,), 0.17)):
        glass = [term for term in loss_terms(chain, CATALOG, lanes, "right") if term.part == "fiber"]
        worst_db, _, least_db = (sum(term.values[k] for term in glass) * 1000 for k in range(3))
        assert (worst_db, least_db) == (pytest.approx(0.4), pytest.approx(least)), lanes


def reckoned(allowed_db: float, *, low: bool, **sums: float) -> tuple[float, bool]:
    """Margin of one limit, and whether it rests on an estimate, from the sums of one link."""
    figure = Figure(label="allowed", value=allowed_db, unit="dB", source=FIRM)
    limit = LimitOf("channel insertion loss" if low else "receiver overload", "x", (figure,), low_light=low)
    way = SimpleNamespace(limits=(limit,))
    losses = Sums(*(np.array([sums.get(name, 0.0)]) for name in Sums._fields))
    margins, guessed = Light((way,), HouseRules(), 1.0).reckon((losses,))  # type: ignore[arg-type]
    return float(margins[0, 0]), bool(guessed[0, 0])


@pytest.mark.parametrize(
    ("worst", "guessed", "margin", "on_estimate"),
    [
        (1.5, 0.0, 0.5, False),
        (1.5, 0.1, 0.5, True),  # kept with a guess in it
        (2.0, 0.0, 0.0, False),
        (2.5, 0.49, -0.5, False),  # without the guess it is broken all the same
        (2.5, 0.5, -0.5, True),  # without it just kept
        (2.5, 0.51, -0.5, True),
    ],
)
def test_too_little_light_rests_on_an_estimate_where_the_guess_decides(
    worst: float, guessed: float, margin: float, on_estimate: bool
) -> None:
    assert reckoned(2.0, low=True, worst=worst, guessed=guessed) == (pytest.approx(margin), on_estimate)


@pytest.mark.parametrize(
    ("least", "certain", "worst", "margin", "on_estimate"),
    [
        (1.2, 1.0, 2.0, 0.2, False),  # what is sure keeps it
        (1.2, 0.99, 2.0, 0.2, True),  # only the guessed part of the least loss keeps it
        (0.5, 0.5, 0.99, -0.5, False),  # even the most loss would not
        (0.5, 0.5, 1.0, -0.5, True),
    ],
)
def test_too_much_light_rests_on_an_estimate_where_the_guess_decides(
    least: float, certain: float, worst: float, margin: float, on_estimate: bool
) -> None:
    found = reckoned(-1.0, low=False, least=least, certain=certain, worst=worst)
    assert found == (pytest.approx(margin), on_estimate)


@pytest.mark.parametrize("asked_db", [0.0, 0.1, 3.0, 5.0, 5.1])
def test_a_minimum_loss_is_a_limit_however_small_it_is(asked_db: float) -> None:
    lr = CATALOG.application("10GBASE-LR")
    row = next(one for one in lr.reaches if one.fiber == "OS2")
    asked = row.model_copy(update={"min_insertion_loss_db": asked_db, "min_loss_source": FIRM})
    found = [one.allowed_db for one in limits(lr, lr, asked) if one.name == "minimum loss"]
    assert found == ([-asked_db] if asked_db else [])


def test_two_unlike_applications_keep_the_channels_of_both_and_the_light_of_this_direction() -> None:
    lr, er = CATALOG.application("10GBASE-LR"), CATALOG.application("10GBASE-ER")
    rows = tuple(next(row for row in one.reaches if row.fiber == "OS2") for one in (lr, er))
    found = {(one.name, one.application): one.allowed_db for one in limits_between(lr, er, rows)}  # type: ignore[arg-type]
    assert found["channel insertion loss", "10GBASE-LR"] == pytest.approx(rows[0].max_insertion_loss_db)
    assert found["channel insertion loss", "10GBASE-ER"] == pytest.approx(rows[1].max_insertion_loss_db)
    # IEEE 802.3-2022, tables 52-12 and 52-17: launch of LR -8.2 to +0.5 dBm, receiver of ER -15.8 to -1.0 dBm
    assert found["power budget", "10GBASE-LR"] == pytest.approx(-8.2 + 15.8)
    assert found["receiver overload", "10GBASE-LR"] == pytest.approx(-1.0 - 0.5)


@pytest.mark.parametrize(
    ("dbm", "stand"),
    [
        (-14.5, "low"),
        (-14.4, "normal"),
        (-3.0, "normal"),
        (-2.9, "above"),
        (0.5, "above"),
        (0.6, "high"),
        (3.5, "high"),  # 1.5 dBm of damage and 2 dB that the module may be off
        (3.6, "damage"),
    ],
)
def test_a_reading_stands_by_its_nearest_edge(dbm: float, stand: str) -> None:
    window = Window(
        end="left", element="m", quantity="rx power", low_dbm=-20, high_dbm=-3, needs_dbm=-14.4, takes_dbm=0.5,
        damage_dbm=1.5, off_by_db=2.0,
    )  # fmt: skip
    assert stands(window, dbm) == stand


def test_what_the_sender_says_narrows_what_must_arrive_by_what_it_may_be_off() -> None:
    """10GBASE-LR launches -8.2 to +0.5 dBm; 2.9 km and two pairs lose at most 2.66 dB."""
    link = plain_link(cord_m=0.0)
    least_db = review(link, CATALOG, HouseRules(), with_fixes=False).directions[0].loss.least_db

    def received(off: float, **sent: float) -> tuple[float, float]:
        found = windows_of(link, CATALOG, HouseRules(), off_by_db=off, sent_dbm=sent)  # type: ignore[arg-type]
        one = next(w for w in found if w.end == "right" and w.quantity == "rx power")
        assert one.low_dbm is not None
        assert one.high_dbm is not None
        return one.low_dbm, one.high_dbm

    assert received(0) == pytest.approx((-8.2 - 2.66, 0.5 - least_db), abs=1e-3)
    assert received(2) == pytest.approx((-8.2 - 2.66 - 2, 0.5 - least_db + 2), abs=1e-3)
    assert received(1, left=-3) == pytest.approx((-4 - 2.66 - 1, -2 - least_db + 1), abs=1e-3)
    # a sender that says more, or less, than the clause lets it launch is believed no further than the clause
    assert received(1, left=4)[0] == pytest.approx(0.5 - 2.66 - 1, abs=1e-3)
    assert received(1, left=-12)[1] == pytest.approx(-8.2 - least_db + 1, abs=1e-3)


def two_wires(costs: list[tuple[int | None, int | None]]) -> Network:
    """Bridges a (the root) and b with several links; each with the cost at a and the cost at b."""
    links = tuple(
        BridgeLink(
            name=f"l{n}",
            a=LinkEnd(bridge="a", port=str(n), cost=at_a),
            b=LinkEnd(bridge="b", port=str(n), cost=at_b),
        )
        for n, (at_a, at_b) in enumerate(costs, 1)
    )
    bridges = tuple(
        Bridge(name=name, address=f"02:00:00:00:00:0{n}", protocol="RSTP") for n, name in enumerate("ab", 1)
    )
    return Network(bridges=bridges, links=links, path_cost="long")


def test_the_cost_to_the_root_is_that_of_the_port_towards_it() -> None:
    """IEEE 802.1Q: a bridge adds the cost of its own root port; what the root's ports cost counts for nobody."""
    found = tree_of(two_wires([(1, 100), (100_000, 50)]))
    roles = {(one.bridge, one.port): (one.role, one.cost_to_root) for one in found.ports}
    assert roles["b", "2"] == ("root", 50)
    assert roles["b", "1"] == ("alternate", 100)
    assert [roles["a", port] for port in "12"] == [("designated", 0)] * 2
    turned = tree_of(two_wires([(1, 50), (100_000, 51)]))
    assert next(one.port for one in turned.ports if one.role == "root") == "1"


@pytest.mark.parametrize(("minutes", "saves"), [(0, 15), (5, 10), (15, 0), (20, -5)])
def test_a_check_saves_what_it_spares_less_its_own_minutes(minutes: float, saves: float) -> None:
    """Two faults alike, 30 minutes each: 45 on average without, 30 once one knows which."""
    case = Case(
        (Fault(name="a", prior=1, cure_min=30), Fault(name="b", prior=1, cure_min=30)),
        (Look(name="sure", minutes=minutes, outcomes={"a": {"a": 1.0}, "b": {"b": 1.0}}),),
    )
    found = diagnose(case, [])
    assert (found.left_min, found.tests[0].saves_min) == (45, saves)


@pytest.mark.parametrize("rest", [1e-300, 3e-16, 0.25])
def test_what_is_left_after_a_cure_is_shared_by_the_others(rest: float) -> None:
    """Two others alike are half each, also where one minus the first share is only rounding."""
    assert without({"a": 1 - rest, "b": rest, "c": rest}, "a") == {"a": 0.0, "b": 0.5, "c": 0.5}
    assert without({"a": 1.0, "b": 0.0}, "a") == {"a": 1.0, "b": 0.0}


@pytest.mark.parametrize("least", [5e-324, 1e-323, 1e-310, 1e-200])
def test_priors_of_any_size_are_weighed_by_their_ratio_in_any_order(least: float) -> None:
    """Two faults three to one stay three to one beside checks that nearly rule both out, however small they are."""
    looks = tuple(
        Look(
            name=f"t{n}",
            minutes=1,
            outcomes={"x": dict.fromkeys("ab", 1e-160), "y": dict.fromkeys("ab", 1 - 1e-160)},
        )
        for n in range(4)
    )
    case = Case((Fault(name="a", prior=3 * least), Fault(name="b", prior=least)), looks)
    seen = [Answer(test=look.name, outcome="x") for look in looks]
    for answers in (seen, seen[::-1], seen[:1]):
        belief, impossible = believed(case, answers)
        assert (belief.tolist(), impossible) == (pytest.approx([0.75, 0.25]), ())
