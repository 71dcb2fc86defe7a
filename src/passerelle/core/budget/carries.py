"""How far a cable carries an application: the nearer of the clause's reach and of what its own loss leaves."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from passerelle.core.budget.loss import worst_db_per_km
from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.sources import Source

LimitedBy = Literal["table", "loss"]
LEAST_PAIRS = 2
"""A cable that is to be used ends in two panels: one mated pair each is the least that it is plugged with."""


@dataclass(frozen=True)
class Carried:
    """How far in m, what ends it, and the row of the clause; ``source`` is the figure that decides."""

    reach_m: float
    limited_by: LimitedBy
    row: ReachRow
    source: Source

    @property
    def words(self) -> str:
        """What ends it, in words."""
        if self.limited_by == "table":
            return "by the clause's table"
        return "by its own loss: the channel loss less two mated pairs, over the most that the cable loses"


def carries(application: Application, grade: str, catalog: Catalog) -> Carried | None:
    """How far an application goes on a grade, by the best row of it or of a grade that it meets; None without one.

    Of a two-wavelength pair both directions count. The loss's reach is (channel insertion loss − two mated pairs) /
    attenuation, all at their worst, with a splice for each reel that ends on the way; where the row has a power
    budget less penalties that is smaller, that counts instead of the channel loss.

    Args:
        application: with its reach rows (m, dB).
        grade: a fiber grade of the catalog.
        catalog: for the attenuation (dB/km) and the mated pair (dB).

    Raises:
        CatalogError: no such grade.
    """
    here = _carries(application, grade, catalog)
    if application.partner is None or here is None:
        return here
    back = _carries(catalog.application(application.partner), grade, catalog)
    return min((one for one in (here, back) if one), key=lambda one: one.reach_m)


def _carries(application: Application, grade: str, catalog: Catalog) -> Carried | None:
    found = [_by_row(application, row, grade, catalog) for row in application.rows(grade)]
    return max(found, key=lambda one: one.reach_m, default=None)


def _by_row(application: Application, row: ReachRow, grade: str, catalog: Catalog) -> Carried:
    fiber = catalog.fiber(grade)
    found = worst_db_per_km(fiber, application.wavelengths_nm)
    if found is None:
        return Carried(row.reach_m, "table", row, row.source)
    allowed_db = row.max_insertion_loss_db
    if row.power_budget_db is not None and row.penalties_db is not None:
        allowed_db = min(allowed_db, row.power_budget_db - row.penalties_db)
    per_km, source = found
    left_db = max(0.0, allowed_db - LEAST_PAIRS * catalog.allowance("mated pair").worst_db)
    by_loss_m = _spliced_reach_m(left_db, per_km / 1000, catalog)
    if by_loss_m < row.reach_m:
        return Carried(by_loss_m, "loss", row, source)
    return Carried(row.reach_m, "table", row, row.source)


def _spliced_reach_m(left_db: float, db_per_m: float, catalog: Catalog) -> float:
    """How far in m what is left of a budget goes, with a splice at its worst for each reel that ends on the way."""
    reel_m, splice_db = catalog.reel_m, catalog.allowance("splice").worst_db
    reach_m, count = left_db / db_per_m, 0
    while reel_m > 0 and reach_m > (count + 1) * reel_m:
        count += 1
        reach_m = max((left_db - count * splice_db) / db_per_m, count * reel_m)
    return reach_m
