"""Which row of the application's clause holds for this glass, and whether the length is inside it."""

from __future__ import annotations

from passerelle.core.budget.launch import launch_findings
from passerelle.core.catalog.records import Application, ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Verdict, caution, fail, note, undecided
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, glass, length_m
from passerelle.core.units import format_length


def governing_row(application: Application, link: Link) -> ReachRow | None:
    """The poorest reach row among the grades in the link, or None when a grade has none.

    Every piece of glass must have one candidate grade. Cords count too: a link is as good as its poorest
    piece, though a poor cord of two metres costs less bandwidth than the row assumes.
    """
    grades = {piece.fiber[0] for piece in glass(link) if piece.fiber}
    rows = [application.row(grade) for grade in sorted(grades)]
    if not rows or any(row is None for row in rows):
        return None
    return min((row for row in rows if row), key=lambda row: (row.reach_m, row.max_insertion_loss_db))


def missing_inputs(link: Link) -> list[Finding]:
    """A finding for each piece of glass whose length or grade is not known."""
    found: list[Finding] = []
    if not glass(link):
        found.append(
            undecided(
                "chain.no_glass",
                (),
                "There is no fiber between the ports.",
                "Insert a cord, or a run with its panels.",
            )
        )
    for piece in glass(link):
        if piece.length_m is None:
            found.append(
                undecided(
                    "length.unknown",
                    (piece.id,),
                    f"The length of this {piece.kind} is not known.",
                    "Loss and reach follow from it: measure it, pace it out, or read the marks on the jacket.",
                )
            )
        if not piece.fiber:
            found.append(
                undecided(
                    "fiber.unknown",
                    (piece.id,),
                    f"The fiber grade of this {piece.kind} is not known.",
                    "Read the print on the jacket. Until then name every grade that it may be: "
                    "the plan is computed for each of them.",
                )
            )
    return found


def reach_findings(link: Link, application: Application, catalog: Catalog, house: HouseRules) -> list[Finding]:
    """Findings on length and launch for one application.

    While a piece's grade is missing only what breaks whatever it may be is said: glass that the clause has no row
    for, and a length beyond the reach of the poorest grade that is known.
    """
    pieces = [piece for piece in glass(link) if piece.fiber]
    if not pieces:
        return []
    foreign = [p for p in pieces if application.row(p.fiber[0]) is None]
    if foreign:
        made_for = sorted({catalog.fiber(row.fiber).family for row in application.reaches})
        return [
            fail(
                "fiber.not_for_application",
                tuple(p.id for p in foreign),
                f"{application.name} is not made for {' or '.join(sorted({p.fiber[0] for p in foreign}))}.",
                f"Its clause has rows for {' and '.join(made_for)} glass only: "
                f"{', '.join(row.fiber for row in application.reaches)}. Letters on a box are not a clause: two "
                "makers may mean different reaches and different glass by the same ones; ask for the datasheet.",
                *application.sources,
            )
        ]
    row = governing_row(application, link)
    assert row is not None
    if len(pieces) < len(glass(link)):
        return [finding for finding in _length(link, application, row) if finding.code == "reach.exceeded"]
    return [*_length(link, application, row), *launch_findings(link, application, row, catalog, house)]


def _length(link: Link, application: Application, row: ReachRow) -> list[Finding]:
    total_m = length_m(link)
    longest = max(glass(link), key=lambda piece: piece.length_m or 0)
    if total_m is None:
        return []
    if total_m > row.reach_m:
        return [
            fail(
                "reach.exceeded",
                (longest.id,),
                f"{application.name} reaches {format_length(row.reach_m)} on {row.fiber}; "
                f"this is {format_length(total_m)}.",
                f"{format_length(total_m - row.reach_m)} too long: beyond the row the pulses blur or fade "
                "more than the clause allows for. A module that is sold for more is judged by its datasheet: put "
                "its figures, with their source, in the place of the catalog's.",
                row.source,
            )
        ]
    if row.engineered_beyond_m is not None and total_m > row.engineered_beyond_m:
        return [
            note(
                "reach.engineered",
                (longest.id,),
                f"Beyond {format_length(row.engineered_beyond_m)} this is an engineered link.",
                "The clause then asks for cable that is better than its worst case; the loss limit above decides.",
                row.source,
            )
        ]
    if total_m < row.min_length_m:
        return [
            caution(
                "reach.below_minimum",
                (longest.id,),
                f"{application.name} is specified from {row.min_length_m:g} m on; "
                f"this is {format_length(total_m)}.",
                "Shorter links often run, but no clause says so.",
                row.source,
                best=Verdict.MARGINAL,
            )
        ]
    return []
