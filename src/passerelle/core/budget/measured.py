"""Readings in the place of loss terms: what was measured counts for exactly the terms between its test points."""

from __future__ import annotations

from passerelle.core.budget.loss import Direction, Term
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.chain import Link
from passerelle.core.link.readings import Reading, between, is_stale
from passerelle.core.parts.piece import Line
from passerelle.core.parts.registry import Element
from passerelle.core.units import format_db

READING_STALE = Rule("reading.stale", "match")
READING_INFORMS = Rule("reading.informs", "match")


def as_measured(
    link: Link, terms: tuple[Term, ...], wavelengths_nm: tuple[int, ...], direction: Direction
) -> tuple[Term, ...]:
    """The terms of one direction with readings in the place of those that they stand for, in chain order.

    A reading counts as expected; worst and least are the reading plus and less its uncertainty, in dB. The newest
    that is valid counts; one that overlaps a counted one does not.
    """
    covered: dict[str, Term] = {}
    for reading in sorted(link.readings, key=lambda one: str(one.taken_on), reverse=True):
        pieces = between(link.elements, reading)
        if reading.why_not or pieces is None or is_stale(link.elements, reading):
            continue
        ids = tuple(piece.id for piece in pieces)
        if not reading.holds_at(wavelengths_nm, direction) or any(i in covered for i in ids):
            continue
        covered |= dict.fromkeys(ids, _term(link, reading, pieces, ids))
    if not covered:
        return terms
    kept = [term for term in terms if term.at not in covered]
    measured = {id(term): term for term in covered.values()}
    return tuple(sorted([*kept, *measured.values()], key=lambda term: term.position))


def _term(link: Link, reading: Reading, pieces: tuple[Element, ...], ids: tuple[str, ...]) -> Term:
    lines = [piece for piece in pieces if isinstance(piece, Line)]
    longest: Element = max(lines, key=lambda piece: piece.length_m or 0.0, default=pieces[0])
    unsure_db = reading.uncertainty_db or 0.0
    return Term(
        at=longest.id,
        position=link.index(longest.id),
        part="reading",
        what=f"measured {reading.value_db:.2f} dB ± {unsure_db:.2f} dB, {_stretch(reading)}",
        worst=reading.value_db + unsure_db,
        worst_source=reading.source,
        expected=reading.value_db,
        expected_source=reading.source,
        least=max(0.0, reading.value_db - unsure_db),
        least_source=reading.source,
        covers=ids,
    )


def _stretch(reading: Reading) -> str:
    ends = {(True, True): "with both end joints", (True, False): "with the left end joint"}
    ends |= {(False, True): "with the right end joint", (False, False): "without end joints"}
    return ends[bool(reading.near_joint), bool(reading.far_joint)]


def reading_findings(link: Link) -> list[Finding]:
    """What is to be said of each reading that does not decide: what it lacks, or that it is stale."""
    found: list[Finding] = []
    for reading in link.readings:
        here = [e.id for e in link.elements if e.id in (reading.start, reading.end)]
        at = tuple(dict.fromkeys(here))
        value = format_db(reading.value_db, 2).lstrip("+")
        if reading.withdrawn:
            continue
        if between(link.elements, reading) is None or is_stale(link.elements, reading):
            found.append(
                READING_STALE.caution(
                    at,
                    f"The reading of {value} is stale: a piece between its test points was changed since.",
                    "It informs and decides nothing any more; the plan's own figures stand. Measure again.",
                ).of(value_db=reading.value_db)
            )
        elif reading.why_not:
            found.append(
                READING_INFORMS.note(
                    at,
                    f"The reading of {value} informs and decides nothing: {reading.why_not}.",
                    "With its wavelength, direction, method, reference, date, uncertainty and end joints it takes "
                    "the place of the terms between its test points.",
                ).of(value_db=reading.value_db, why=reading.why_not)
            )
    return found
