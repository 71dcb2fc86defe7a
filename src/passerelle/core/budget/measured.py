"""Readings in the place of loss terms: what was measured counts for exactly the terms between its test points."""

from __future__ import annotations

from passerelle.core.budget.loss import Direction, Term, joint_terms, loss_terms
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain
from passerelle.core.link.hops import sent_to
from passerelle.core.link.readings import Reading, between, is_stale
from passerelle.core.parts.piece import Line
from passerelle.core.parts.registry import Element
from passerelle.core.units import format_db

READING_STALE = Rule("reading.stale", "match")
READING_INFORMS = Rule("reading.informs", "match")
READING_TOO_GOOD = Rule("reading.too_good", "match")
_HIDDEN_DB = 0.5
"""What a pair in the reference may have lost."""


def as_measured(
    chain: Chain, catalog: Catalog, terms: tuple[Term, ...], wavelengths_nm: tuple[int, ...], direction: Direction
) -> tuple[Term, ...]:
    """The terms of one direction with readings in the place of those that they stand for, in chain order.

    A reading counts as expected; worst and least are the reading plus and less its uncertainty, in dB. The newest
    that is valid counts; one that overlaps a counted one does not. Where single strands were read, every strand
    that
    carries this direction must have been, and the worst of them counts.
    """
    covered: dict[str, Term] = {}
    left_out: list[Term] = []
    for group in _groups(chain, catalog, wavelengths_nm, direction):
        pieces = between(chain.link.elements, group[0]) or ()
        ids = tuple(piece.id for piece in pieces)
        if not any(i in covered for i in ids):
            covered |= dict.fromkeys(ids, _term(chain.link, group, pieces, ids))
            left_out += _fronts(chain, catalog, group[0])
    if not covered:
        return terms
    kept = [term for term in terms if term.at not in covered]
    measured = {id(term): term for term in covered.values()}
    return tuple(sorted([*kept, *left_out, *measured.values()], key=lambda term: term.position))


def _groups(
    chain: Chain, catalog: Catalog, wavelengths_nm: tuple[int, ...], direction: Direction
) -> list[list[Reading]]:
    """Readings that count together for one direction, the newest group first: one for all strands, or one each."""
    link = chain.link
    newest: dict[tuple[object, ...], dict[int | None, Reading]] = {}
    for reading in sorted(link.readings, key=lambda one: one.when):
        if reading.why_not or is_stale(link.elements, reading) or not reading.holds_at(wavelengths_nm, direction):
            continue
        if too_good(chain, catalog, reading):
            continue
        strand = reading.strand if direction == "right" else reading.far_strand
        every = reading.strand is None and reading.far_strand is None
        stretch = reading.start, reading.end, reading.near_joint, reading.far_joint, every
        newest.setdefault(stretch, {})[strand] = reading
    found = []
    for (start, end, *_, whole), by_strand in newest.items():
        wanted = {None} if whole else _carrying(chain, str(start), str(end), direction)
        if wanted and wanted <= by_strand.keys():
            found.append([by_strand[strand] for strand in wanted])
    return sorted(found, key=lambda group: max(one.when for one in group), reverse=True)


def _fronts(chain: Chain, catalog: Catalog, reading: Reading) -> list[Term]:
    """End connections that a reading leaves out although they stand at its own first or last piece: fronts of
    cassettes, whose pair is theirs.
    """
    found: list[Term] = []
    for joint in chain.joints:
        if joint.kind != "receptacle" or joint.left is None or joint.right is None:
            continue
        near = joint.right.id == reading.start and not reading.near_joint
        far = joint.left.id == reading.end and not reading.far_joint
        own = {reading.start} if near else {reading.end} if far else set[str]()
        found += [term for term in joint_terms(joint, catalog) if term.at in own]
    return found


def too_good(chain: Chain, catalog: Catalog, reading: Reading) -> bool:
    """Whether a reading is less than the parts between its test points must lose: it is of something else.

    With two or three cords the reference may hide what its own pairs lost, half a decibel each.
    """
    pieces = between(chain.link.elements, reading)
    if pieces is None or reading.wavelength_nm is None:
        return False
    ids = {piece.id for piece in pieces}
    lengths = [line.traits.length_m or 0.0 for line in chain.lines]
    terms = loss_terms(chain, catalog, (reading.wavelength_nm,), "right")
    least = sum(term.of(lengths).least_db for term in terms if term.at in ids)
    return reading.value_db < least - _HIDDEN_DB * reading.pairs_hidden - 1e-6


def _carrying(chain: Chain, start: str, end: str, direction: Direction) -> set[int | None]:
    """The strands of a stretch that carry the light of one direction, at the face where it enters."""
    at = start if direction == "right" else end
    standing = next((part for part in chain.parts if part.id == at), None)
    return set(sent_to(chain, standing, direction)) if standing is not None else set()


def _term(link: Link, group: list[Reading], pieces: tuple[Element, ...], ids: tuple[str, ...]) -> Term:
    lines = [piece for piece in pieces if isinstance(piece, Line)]
    longest: Element = max(lines, key=lambda piece: piece.length_m or 0.0, default=pieces[0])
    highest = max(group, key=lambda one: one.value_db + (one.uncertainty_db or 0.0))
    lowest = min(group, key=lambda one: one.value_db - (one.uncertainty_db or 0.0))
    unsure_db = highest.uncertainty_db or 0.0
    strands = f", the worst of {len(group)} strands" if len(group) > 1 else ""
    return Term(
        at=longest.id,
        position=link.index(longest.id),
        part="reading",
        what=f"measured {highest.value_db:.2f} dB ± {unsure_db:.2f} dB, {_stretch(highest)}{strands}",
        worst=highest.value_db + unsure_db,
        worst_source=highest.source,
        expected=highest.value_db,
        expected_source=highest.source,
        least=max(0.0, lowest.value_db - (lowest.uncertainty_db or 0.0)),
        least_source=lowest.source,
        covers=ids,
    )


def _stretch(reading: Reading) -> str:
    ends = {(True, True): "with both end joints", (True, False): "with the left end joint"}
    ends |= {(False, True): "with the right end joint", (False, False): "without end joints"}
    return ends[bool(reading.near_joint), bool(reading.far_joint)]


def reading_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """What is to be said of each reading that does not decide: what it lacks, that it is stale, or too good."""
    found: list[Finding] = []
    link = chain.link
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
                    "With its wavelength, direction, method, reference, end joints, uncertainty, "
                    "instrument and its "
                    "calibration, operator, time and place it takes the place of the terms between "
                    "its test points.",
                ).of(value_db=reading.value_db, why=reading.why_not)
            )
        elif too_good(chain, catalog, reading):
            found.append(
                READING_TOO_GOOD.caution(
                    at,
                    f"The reading of {value} is less than its parts must lose: it is not believed.",
                    "Another strand, another wavelength, or a reference taken wrong. Take the reference again, "
                    "then read again; the plan's own figures stand.",
                ).of(value_db=reading.value_db)
            )
    return found
