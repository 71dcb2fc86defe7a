"""The catalog checked against itself: figures of one row that must follow from each other.

This finds a slip of the pen. It cannot find a figure that was remembered wrongly together with its neighbors.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.sources import Frozen

Outcome = Literal["kept", "explained", "broken"]
_POWER_ROUNDING_DB = 0.31
_BUDGET_ROUNDING_DB = 0.11


class CheckLine(Frozen):
    """One comparison: what the figures should add up to, what the row says, and how that ended.

    ``explained`` means that the comparison was not made, and ``why`` says for what reason.
    """

    application: str
    fiber: str
    check: str
    expected_db: float | None
    stated_db: float | None
    outcome: Outcome
    why: str = ""


def check_catalog(catalog: Catalog) -> tuple[CheckLine, ...]:
    """Every comparison that can be made, application by application, in the catalog's order."""
    return tuple(line for application in catalog.applications.values() for line in _check(application))


def _check(application: Application) -> Iterator[CheckLine]:
    for row in application.reaches:
        yield _channel_loss(application, row)
        yield from _budget(application, row)
    yield _launch_to_sensitivity(application)
    yield from _order_of_powers(application)


def _line(
    application: Application,
    fiber: str,
    check: str,
    expected_db: float,
    stated_db: float,
    *,
    low_db: float,
    high_db: float,
) -> CheckLine:
    """Compared: ``stated - expected`` must lie from ``low_db`` to ``high_db``."""
    difference_db = round(stated_db - expected_db, 6)
    return CheckLine(
        application=application.name,
        fiber=fiber,
        check=check,
        expected_db=round(expected_db, 3),
        stated_db=stated_db,
        outcome="kept" if low_db <= difference_db <= high_db else "broken",
    )


def _channel_loss(application: Application, row: ReachRow) -> CheckLine:
    """Channel loss = connections + cable · reach, within one unit of the last decimal that the row has."""
    check = "channel loss = connections + cable · reach"
    if row.split is None:
        return CheckLine(
            application=application.name,
            fiber=row.fiber,
            check=check,
            expected_db=None,
            stated_db=row.max_insertion_loss_db,
            outcome="explained" if row.no_split else "broken",
            why=row.no_split or "neither a split into connections and cable nor a reason why not",
        )
    expected_db = row.split.connection_db + row.split.cable_db_per_km * row.reach_m / 1000
    decimals = len(f"{row.max_insertion_loss_db:.3f}".rstrip("0").partition(".")[2])
    unit_db = 10.0 ** -max(decimals, 1)
    return _line(
        application, row.fiber, check, expected_db, row.max_insertion_loss_db, low_db=-unit_db, high_db=unit_db
    )


def _budget(application: Application, row: ReachRow) -> Iterator[CheckLine]:
    """Power budget = channel loss + penalties + what the clause leaves for nobody (up to 3 dB)."""
    if row.power_budget_db is None or row.penalties_db is None:
        return
    spent_db = row.max_insertion_loss_db + row.penalties_db
    yield _line(
        application,
        row.fiber,
        "power budget covers channel loss and penalties",
        spent_db,
        row.power_budget_db,
        low_db=-_BUDGET_ROUNDING_DB,
        high_db=3.1,
    )


def _launch_to_sensitivity(application: Application) -> CheckLine:
    """Average budgets span launch to sensitivity; in OMA clauses the receiver sees launch less channel loss."""
    tx, rx = application.tx_power_dbm, application.rx_power_dbm
    span_db = round(tx.min - rx.sensitivity, 6)
    if tx.informative or application.power_budget_db is None:
        check = "launch minimum − receiver minimum = largest channel loss"
        stated_db, room_db = max(row.max_insertion_loss_db for row in application.reaches), _POWER_ROUNDING_DB
    else:
        check = "launch minimum − sensitivity = power budget"
        stated_db, room_db = application.power_budget_db, 1e-6
    return _line(application, "", check, span_db, stated_db, low_db=-room_db, high_db=room_db)


def _order_of_powers(application: Application) -> Iterator[CheckLine]:
    """Transmitter minimum below maximum; sensitivity below overload; overload below damage."""
    tx, rx = application.tx_power_dbm, application.rx_power_dbm
    pairs = [
        ("launch minimum below maximum", tx.min, tx.max),
        ("sensitivity below overload", rx.sensitivity, rx.overload),
    ]
    if rx.damage is not None:
        pairs.append(("overload below damage", rx.overload, rx.damage))
    for check, low, high in pairs:
        yield _line(application, "", check, low, high, low_db=1e-9, high_db=60.0)
