"""Which row of the application's clause holds for this glass, and whether the length is inside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from passerelle.core.catalog.records import MEETS, Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule, Verdict
from passerelle.core.link.compose import Chain
from passerelle.core.rules.by_length import FAIL, MARGINAL, Links, Pointed, Ranks, if_firm, longest, passing
from passerelle.core.units import format_length

FIBER_NOT_FOR_APPLICATION = Rule("fiber.not_for_application", "match")
REACH_EXCEEDED = Rule("reach.exceeded", "budget")
REACH_BELOW_MINIMUM = Rule("reach.below_minimum", "budget")
REACH_ENGINEERED = Rule("reach.engineered", "budget")


def met_by_all(chain: Chain) -> tuple[str, ...]:
    """The grades that all glass of a link meets, the best first; empty where none is met by all of it.

    Every piece of glass must have one candidate grade.
    """
    grades = {line.traits.grades[0] for line in chain.glass if line.traits.grades}
    if not grades:
        return ()
    first = min(sorted(grades), key=lambda grade: len(MEETS.get(grade, ())))
    return tuple(
        grade
        for grade in (first, *MEETS.get(first, ()))
        if all(grade in (one, *MEETS.get(one, ())) for one in grades)
    )


def governing_row(application: Application, chain: Chain, grade: str = "") -> ReachRow | None:
    """The reach row of the poorest glass in the link, or None where the clause has none for some of it.

    Cords count too: a link is as good as its poorest piece, though a poor cord of two metres costs less bandwidth
    than the row assumes. With a ``grade`` that all of the glass meets, that grade's row.
    """
    if grade and (lent := _lent(application, chain, grade)) is not None:
        return lent
    grades = {line.traits.grades[0] for line in chain.glass if line.traits.grades}
    rows = [application.rows(grade) for grade in sorted(grades)]
    if not rows or not all(rows):
        return None
    return min((found[0] for found in rows), key=lambda row: (row.reach_m, row.max_insertion_loss_db))


def other_grades(applications: Sequence[Application], chain: Chain) -> tuple[str, ...]:
    """The grades by whose rows the link may be judged instead: all of its glass meets them, and they allow more.

    More loss, that is, for a shorter reach: a link keeps the clause where all of one row is kept.
    """
    found = []
    for grade in met_by_all(chain)[1:]:
        pairs = [(governing_row(one, chain), _lent(one, chain, grade)) for one in applications]
        if any(own and lent and _allowed_db(lent) > _allowed_db(own) for own, lent in pairs):
            found.append(grade)
    return tuple(found)


def kept_row(application: Application, chain: Chain) -> ReachRow | None:
    """Of the rows that hold for the glass the one that allows the most loss at this length; else its own."""
    own = governing_row(application, chain)
    length_m = chain.length_m or 0.0
    lent = [governing_row(application, chain, grade) for grade in other_grades([application], chain)]
    near = [row for row in (own, *lent) if row and row.reach_m >= length_m]
    return max(near, key=_allowed_db, default=own)


def _lent(application: Application, chain: Chain, grade: str) -> ReachRow | None:
    """The row of a grade, where it holds for all of the glass."""
    row = application.row(grade)
    grades = {line.traits.grades[0] for line in chain.glass if line.traits.grades}
    return row if row and all(row in application.rows(one) for one in grades) else None


def _allowed_db(row: ReachRow) -> float:
    if row.power_budget_db is None or row.penalties_db is None:
        return row.max_insertion_loss_db
    return min(row.max_insertion_loss_db, row.power_budget_db - row.penalties_db)


def foreign_glass(chain: Chain, application: Application, catalog: Catalog) -> list[Finding]:
    """Glass that the application's clause has no row for."""
    known = [line for line in chain.glass if line.traits.grades]
    foreign = [line for line in known if not application.rows(line.traits.grades[0])]
    if not foreign:
        return []
    made_for = sorted({catalog.fiber(row.fiber).family for row in application.reaches})
    return [
        FIBER_NOT_FOR_APPLICATION.fail(
            tuple(line.id for line in foreign),
            f"{application.name} is not made for "
            f"{' or '.join(sorted({line.traits.grades[0] for line in foreign}))}.",
            f"Its clause has rows for {' and '.join(made_for)} glass only: "
            f"{', '.join(row.fiber for row in application.reaches)}. Letters on a box are not a clause: two "
            "makers may mean different reaches and different glass by the same ones; ask for the datasheet.",
            *application.sources,
        ).of(application=application.name, glass=" and ".join(made_for))
    ]


@dataclass(frozen=True)
class Reach:
    """The length against the governing row of one application.

    While a piece's grade is missing (``graded`` false) only what breaks whatever it may be is said: a length
    beyond the reach of the poorest grade that is known.
    """

    chain: Chain
    application: Application
    row: ReachRow
    graded: bool

    def rank(self, links: Links) -> Ranks:
        """Fail beyond the row's reach, marginal below its minimum."""
        if not links.known:
            return passing(links.count)
        short = (links.total < self.row.min_length_m) & self.graded
        return np.where(links.total > self.row.reach_m, FAIL, np.where(short, MARGINAL, passing(links.count)))

    def firm(self, links: Links) -> Ranks:
        """What the row says where it is no estimate."""
        return if_firm(self.rank(links), self.row.source)

    def points(self, links: Links) -> list[Pointed]:
        """The longest line."""
        return [(longest(self.chain, links), self.rank(links))]

    def say(self, links: Links) -> list[Finding]:
        """Too long, too short, or an engineered link."""
        rank, total_m = int(self.rank(links)[0]), float(links.total[0])
        at = (self.chain.places[int(longest(self.chain, links)[0])].id,)
        if rank == FAIL:
            return [
                self._exceeded(at, total_m).of(length_m=total_m, reach_m=self.row.reach_m, fiber=self.row.fiber)
            ]
        if rank == MARGINAL:
            return [self._short(at, total_m).of(length_m=total_m, minimum_m=self.row.min_length_m)]
        beyond = self.row.engineered_beyond_m
        if links.known and self.graded and beyond is not None and total_m > beyond:
            return [self._engineered(at, beyond).of(length_m=total_m, beyond_m=beyond)]
        return []

    def _exceeded(self, at: tuple[str, ...], total_m: float) -> Finding:
        return REACH_EXCEEDED.fail(
            at,
            f"{self.application.name} reaches {format_length(self.row.reach_m)} on {self.row.fiber}; "
            f"this is {format_length(total_m)}.",
            f"{format_length(total_m - self.row.reach_m)} too long: beyond the row the pulses blur or fade "
            "more than the clause allows for. A module that is sold for more is judged by its datasheet: put "
            "its figures, with their source, in the place of the catalog's.",
            self.row.source,
        )

    def _short(self, at: tuple[str, ...], total_m: float) -> Finding:
        return REACH_BELOW_MINIMUM.caution(
            at,
            f"{self.application.name} is specified from {self.row.min_length_m:g} m on; "
            f"this is {format_length(total_m)}.",
            "Shorter links often run, but no clause says so.",
            self.row.source,
            best=Verdict.MARGINAL,
        )

    def _engineered(self, at: tuple[str, ...], beyond_m: float) -> Finding:
        return REACH_ENGINEERED.note(
            at,
            f"Beyond {format_length(beyond_m)} this is an engineered link.",
            "The clause then asks for cable that is better than its worst case; the loss limit above decides.",
            self.row.source,
        )
