"""The published figures, and that each has its source."""

import pytest

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog, CatalogError

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


def _rows(catalog: Catalog) -> list[tuple[Application, object]]:
    return [(a, row) for a in catalog.applications.values() for row in a.reaches]


def test_each_reach_row_rests_on_a_clause(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        for row in application.reaches:
            assert not row.source.estimate, (application.name, row.fiber)
            assert not row.loss_source.estimate, (application.name, row.fiber)


def test_budget_covers_channel_loss_and_penalties(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        for row in application.reaches:
            assert row.power_budget_db - row.penalties_db >= row.max_insertion_loss_db - 0.11, application.name


def test_average_figures_span_the_budget_where_the_clause_budgets_in_them(catalog: Catalog) -> None:
    for application in catalog.applications.values():
        if not application.tx_power_dbm.informative:
            span = application.tx_power_dbm.min - application.rx_power_dbm.sensitivity
            assert span == pytest.approx(application.power_budget_db), application.name


def test_channel_loss_of_sx_is_connections_plus_glass(catalog: Catalog) -> None:
    """802.3 clause 38: 1.5 dB of connections plus the cable at 850 nm (4.0 and 3.75 dB/km)."""
    for fiber, per_km in (("62.5/125-160", 4.0), ("OM1", 4.0), ("50/125-400", 3.75), ("OM2", 3.75)):
        row = catalog.application("1000BASE-SX").row(fiber)
        assert row is not None
        assert row.max_insertion_loss_db == pytest.approx(1.5 + per_km * row.reach_m / 1000, abs=0.01)


def test_an_unknown_name_is_answered_with_the_known_ones(catalog: Catalog) -> None:
    with pytest.raises(CatalogError, match="10GBASE-LR"):
        catalog.application("10GBASE-XX")
