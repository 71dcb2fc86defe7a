"""Readings in the place of loss terms: what was measured counts for exactly the terms between its test points."""

from __future__ import annotations

from passerelle.core.budget.loss import Direction, LossTerm
from passerelle.core.findings import Finding, caution, note
from passerelle.core.link.chain import GLASS_KINDS, Link
from passerelle.core.link.elements import Element
from passerelle.core.link.readings import Reading, between, is_stale
from passerelle.core.units import format_db


def as_measured(
    link: Link, terms: tuple[LossTerm, ...], wavelengths_nm: tuple[int, ...], direction: Direction
) -> tuple[LossTerm, ...]:
    """The terms of one direction with readings in the place of those that they stand for, in chain order.

    A reading counts as expected; worst and least are the reading plus and less its uncertainty, in dB. The newest
    that is valid counts; one that overlaps a counted one does not.
    """
    covered: dict[str, LossTerm] = {}
    for reading in sorted(link.readings, key=lambda one: str(one.taken_on), reverse=True):
        pieces = between(link.elements, reading)
        if reading.why_not or pieces is None or is_stale(link.elements, reading):
            continue
        ids = tuple(piece.id for piece in pieces)
        if not reading.holds_at(wavelengths_nm, direction) or any(i in covered for i in ids):
            continue
        covered |= dict.fromkeys(ids, _term(reading, pieces, ids))
    if not covered:
        return terms
    order = {element.id: position for position, element in enumerate(link.elements)}
    kept = [term for term in terms if term.at not in covered]
    measured = {id(term): term for term in covered.values()}
    return tuple(sorted([*kept, *measured.values()], key=lambda term: order[term.at]))


def _term(reading: Reading, pieces: tuple[Element, ...], ids: tuple[str, ...]) -> LossTerm:
    glass = [piece for piece in pieces if piece.kind in GLASS_KINDS]
    longest = max(glass, key=lambda piece: piece.__dict__["length_m"] or 0.0, default=pieces[0])
    unsure_db = reading.uncertainty_db or 0.0
    return LossTerm(
        at=longest.id,
        part="reading",
        what=f"measured {reading.value_db:.2f} dB ± {unsure_db:.2f} dB, {_stretch(reading)}",
        worst_db=reading.value_db + unsure_db,
        worst_source=reading.source,
        expected_db=reading.value_db,
        expected_source=reading.source,
        least_db=max(0.0, reading.value_db - unsure_db),
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
                caution(
                    "reading.stale",
                    at,
                    f"The reading of {value} is stale: a piece between its test points was changed since.",
                    "It informs and decides nothing any more; the plan's own figures stand. Measure again.",
                )
            )
        elif reading.why_not:
            found.append(
                note(
                    "reading.informs",
                    at,
                    f"The reading of {value} informs and decides nothing: {reading.why_not}.",
                    "With its wavelength, direction, method, reference, date, uncertainty and end joints it takes "
                    "the place of the terms between its test points.",
                )
            )
    return found
