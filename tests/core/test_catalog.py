"""The published figures, and that each has its source."""

import pytest

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError
from passerelle.core.house import HouseRules
from passerelle.core.review import review
from tests.core.plain import plain_link

KNOWN = [
    ("1000BASE-SX", "62.5/125-160", 220, 2.38, "Table 38-2"),
    ("1000BASE-SX", "OM1", 275, 2.60, "Table 38-2"),
    ("1000BASE-SX", "50/125-400", 500, 3.37, "Table 38-2"),
    ("1000BASE-SX", "OM2", 550, 3.56, "Table 38-2"),
    ("1000BASE-LX", "OM2", 550, 2.35, "Table 38-6"),
    ("1000BASE-LX", "OS2", 5000, 4.57, "Table 38-6"),
    ("1000BASE-LX10", "OS2", 10000, 6.0, "Table 59-1"),
    ("10GBASE-SR", "62.5/125-160", 26, 1.6, "Table 52-6"),
    ("10GBASE-SR", "OM1", 33, 1.6, "Table 52-6"),
    ("10GBASE-SR", "50/125-400", 66, 1.7, "Table 52-6"),
    ("10GBASE-SR", "OM2", 82, 1.8, "Table 52-6"),
    ("10GBASE-SR", "OM3", 300, 2.6, "Table 52-6"),
    ("10GBASE-SR", "OM4", 400, 2.9, "Table 52-6"),
    ("10GBASE-LR", "OS2", 10000, 6.2, "Table 52-11"),
    ("10GBASE-ER", "OS2", 40000, 10.9, "Table 52-15"),
    ("10GBASE-LRM", "OM1", 220, 1.9, "Table 68-2"),
    ("100BASE-LX10", "OS2", 10000, 6.0, "Table 58-1"),
    ("1000BASE-BX10-D", "OS2", 10000, 5.5, "Table 59-1"),
    ("1000BASE-BX10-U", "OS2", 10000, 6.0, "Table 59-1"),
    ("25GBASE-SR", "OM4", 100, 1.9, "112.7, operating range"),
    ("40GBASE-LR4", "OS2", 10000, 6.7, "87.7, operating range"),
    ("100GBASE-LR4", "OS2", 10000, 6.3, "88.7, operating range"),
    ("100GBASE-DR", "OS2", 500, 3.0, "140.6, operating range"),
    ("400GBASE-FR8", "OS2", 2000, 4.0, "122.7, operating range"),
]


@pytest.mark.parametrize(("application", "fiber", "reach_m", "loss_db", "table"), KNOWN)
def test_published_reach_and_loss(
    catalog: Catalog, application: str, fiber: str, reach_m: float, loss_db: float, table: str
) -> None:
    row = catalog.application(application).row(fiber)
    assert row is not None
    assert (row.reach_m, row.max_insertion_loss_db) == (reach_m, loss_db)
    assert row.source.clause == table


def test_single_mode_optics_have_no_row_for_om4_at_ten_gigabit(catalog: Catalog) -> None:
    assert catalog.application("10GBASE-LR").row("OM4") is None
    assert catalog.application("10GBASE-SR").row("OS2") is None


def test_each_reach_row_rests_on_a_clause_or_says_that_it_does_not(catalog: Catalog) -> None:
    """What is sold without a confirmed clause is offered on estimate: reach, loss and powers alike."""
    for application in catalog.applications.values():
        offered = application.sources[0].estimate
        for row in application.reaches:
            assert (row.source.estimate, row.loss_source.estimate) == (offered, offered), application.name
        if offered:
            assert application.tx_power_dbm.source.estimate
            assert application.rx_power_dbm.source.estimate


def test_budget_covers_channel_loss_and_penalties(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        for row in application.reaches:
            if row.power_budget_db is not None and row.penalties_db is not None:
                rest = row.power_budget_db - row.penalties_db - row.max_insertion_loss_db
                assert -0.11 <= rest <= 3.1, (application.name, row.fiber)


def test_transmitter_loss_and_receiver_figures_are_consistent(catalog: Catalog) -> None:
    """Budgets in average power span launch to sensitivity; else the receiver sees launch less channel loss."""
    for application in catalog.applications.values():
        tx, rx = application.tx_power_dbm, application.rx_power_dbm
        span = tx.min - rx.sensitivity
        assert tx.min < tx.max
        assert rx.sensitivity < rx.overload
        assert rx.damage is None or rx.damage > rx.overload
        if tx.informative:
            assert span == pytest.approx(max(r.max_insertion_loss_db for r in application.reaches), abs=0.31)
        else:
            assert span == pytest.approx(application.power_budget_db), application.name


def test_a_strong_transmitter_asks_for_loss_where_the_receiver_takes_less(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        least = application.tx_power_dbm.max - application.rx_power_dbm.overload
        for row in application.reaches:
            assert row.min_insertion_loss_db >= min(least, 5.0) or least <= 0 or row.source.estimate, (
                application.name
            )


def test_sides_of_a_pair_name_each_other(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        if application.partner:
            other = catalog.application(application.partner)
            assert other.partner == application.name
            assert (other.rate_mbps, other.fibers) == (application.rate_mbps, 1)
            assert set(other.wavelengths_nm).isdisjoint(application.wavelengths_nm)
        else:
            assert application.fibers == (2 if application.array is None else 2 * len(application.array.sends))


def test_each_module_form_has_a_cage_and_each_cage_its_forms(catalog: Catalog) -> None:
    taken = {form for cage in catalog.cages.values() for form in cage.accepts}
    assert taken == set(catalog.forms)
    for application in catalog.applications.values():
        assert set(application.forms) <= taken
        assert len(application.wavelengths_nm) == application.lanes


def test_channel_loss_of_sx_is_connections_plus_glass(catalog: Catalog) -> None:
    """802.3 clause 38: 1.5 dB of connections plus the cable at 850 nm (4.0 and 3.75 dB/km)."""
    for fiber, per_km in (("62.5/125-160", 4.0), ("OM1", 4.0), ("50/125-400", 3.75), ("OM2", 3.75)):
        row = catalog.application("1000BASE-SX").row(fiber)
        assert row is not None
        assert row.max_insertion_loss_db == pytest.approx(1.5 + per_km * row.reach_m / 1000, abs=0.01)


def test_an_unknown_name_is_answered_with_the_known_ones(catalog: Catalog) -> None:
    with pytest.raises(CatalogError, match="10GBASE-LR"):
        catalog.application("10GBASE-XX")


def test_recalled_powers_say_so_and_their_verdicts_rest_on_an_estimate(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        if application.rate_mbps >= 25_000 or application.name == "10GBASE-LRM":
            assert application.tx_power_dbm.source.estimate, application.name
            assert application.rx_power_dbm.source.estimate, application.name
    found = review(plain_link("100GBASE-LR4", "OS2", 2000), catalog, HouseRules(), with_fixes=False)
    assert found.verdict_text == "pass on estimate"
