"""The ways of the light through a kind of chain: in each direction its loss term by term, and its limits."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from passerelle.core.budget.loss import Direction, Term, loss_terms
from passerelle.core.budget.measured import as_measured
from passerelle.core.budget.power import LimitOf, limits, limits_between
from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.rules.by_length import Floats, Sums
from passerelle.core.rules.reach import governing_row
from passerelle.core.sources import Source


@dataclass(frozen=True)
class Way:
    """One direction of the light: who sends and who receives, loss terms in chain order, limits, reach row."""

    direction: Direction
    sender: Standing
    receiver: Standing
    sends: Application
    receives: Application
    row: ReachRow | None
    terms: tuple[Term, ...]
    limits: tuple[LimitOf, ...]

    def sums(self, each: Floats) -> Sums:
        """Losses in dB of n links whose lines are ``each`` m long, shape (n, lines)."""
        columns = [[0.0] * 5 for _ in range(each.shape[1] + 1)]  # the last one: what is no glass
        assumed = np.zeros((2, each.shape[0]))
        for term in self.terms:
            if term.every_m and term.column is not None:
                here = term.worst * term.factor(each[:, term.column])
                assumed += np.stack([here, here * term.existing])
                continue
            guessed = term.worst if term.worst_source.estimate else 0.0
            certain = 0.0 if term.least_source.estimate else term.least
            column = columns[-1 if term.column is None else term.column]
            for row, value in enumerate((*term.values, guessed, certain)):
                column[row] += value
        weights = np.array(columns)
        worst, expected, least, guessed, certain = weights[:-1].T @ each.T + weights[-1][:, None]
        spliced, there = assumed
        return Sums(worst + spliced, expected, least, guessed + spliced, certain, there)


def ways_of(chain: Chain, catalog: Catalog, grade: str = "") -> tuple[Way, ...]:
    """Both ways of a link of glass with a module at each end, else none.

    With a ``grade`` that all of the glass meets they are held against that grade's rows.
    """
    if len(chain.ends) != 2 or not chain.glass:
        return ()
    a, b = chain.ends
    there = _way(chain, catalog, grade, "right", a, b)
    cores = {catalog.fiber(line.traits.grades[0]).core_um for line in chain.glass if line.traits.grades}
    if there.sends == there.receives and len(cores) < 2 and not chain.link.readings:
        back = Way("left", b, a, there.receives, there.sends, there.row, there.terms, there.limits)
    else:
        back = _way(chain, catalog, grade, "left", b, a)
    return there, back


def _way(
    chain: Chain, catalog: Catalog, grade: str, direction: Direction, sender: Standing, receiver: Standing
) -> Way:
    receives = _application(receiver, catalog)
    sends, open_maximum = _as_sold(sender, _application(sender, catalog), receives)
    terms = loss_terms(chain, catalog, sends.wavelengths_nm, direction)
    terms = as_measured(chain, catalog, terms, sends.wavelengths_nm, direction)
    row = governing_row(sends, chain, grade)
    kept = _limits(sends, receives, row, governing_row(receives, chain, grade))
    if open_maximum:
        kept = tuple(replace(one, open=not one.low_light) for one in kept)
    return Way(direction, sender, receiver, sends, receives, row, terms, kept)


def _as_sold(sender: Standing, sends: Application, receives: Application) -> tuple[Application, bool]:
    """One leg of a split port as its module is sold, and whether the most that a lane of it sends is still open.

    By its clause a lane may be brighter than the slower receiver takes, even than it survives. The datasheet's lane
    maximum says it; a module that is sold to face the slower application sends no more than that one does.
    """
    optics, tx = sender.traits.optics, sends.tx_power_dbm
    assert optics is not None  # only such parts are ends
    if not sends.leg_of or receives.leg_of:
        return sends, False
    if optics.lane_max_dbm is not None:
        most_dbm, source = optics.lane_max_dbm, Source(body="datasheet", note="lane maximum entered at this module")
    elif optics.sold_for and optics.sold_for == receives.name:
        told = f"sold for {optics.leg_of} x {receives.name}: a lane sends no more than that does"
        most_dbm, source = min(tx.max, receives.tx_power_dbm.max), Source(body="datasheet", note=told)
    else:
        return sends, tx.max > receives.rx_power_dbm.overload
    power = tx.model_copy(update={"max": most_dbm, "source": source})
    return sends.model_copy(update={"tx_power_dbm": power}), False


def _application(end: Standing, catalog: Catalog) -> Application:
    assert end.traits.optics is not None  # only such parts are ends
    return catalog.application(end.traits.optics.application)


def _limits(
    sends: Application, receives: Application, row: ReachRow | None, other: ReachRow | None
) -> tuple[LimitOf, ...]:
    """Limits of the sender where the two belong together, of this direction where they work together; else none."""
    if row is None:
        return ()
    if sends.speaks_to(receives):
        return limits(sends, receives, row)
    if sends.works_with(receives) and other is not None:
        return limits_between(sends, receives, (row, other))
    return ()
