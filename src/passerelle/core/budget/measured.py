"""Readings in the place of loss terms: what was measured counts for exactly the terms between its test points."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from passerelle.core.budget.loss import Direction, LossTerm, Term, joint_terms, loss_terms
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain
from passerelle.core.link.hops import sent_to
from passerelle.core.link.readings import Reading, between, calibration_over, is_stale, repeats
from passerelle.core.parts.piece import Line
from passerelle.core.parts.registry import Element
from passerelle.core.units import format_db

READING_STALE = Rule("reading.stale", "match")
READING_INFORMS = Rule("reading.informs", "match")
READING_TOO_GOOD = Rule("reading.too_good", "match")


def as_measured(
    chain: Chain, catalog: Catalog, terms: tuple[Term, ...], wavelengths_nm: tuple[int, ...], direction: Direction
) -> tuple[Term, ...]:
    """The terms of one direction with readings in the place of those that they stand for, in chain order.

    A reading counts as expected; worst and least are the reading plus and less its uncertainty, in dB. The newest
    that is valid counts, unless an earlier one was worse than planned and nobody cleaned since; one that overlaps
    a counted one does not. Where single strands were read, every strand that carries this direction must have
    been, and the worst of them counts. One that lacks something (a reference on record, its uncertainty) counts
    only where it is worse than planned: then against too little light, never against too much. What is worse than
    planned counts for the strand whichever way its light went.
    """
    if not chain.link.readings:
        return terms
    covered: dict[str, Term] = {}
    left_out: list[Term] = []
    for group in _groups(chain, catalog, terms, wavelengths_nm, direction):
        pieces = between(chain.link.elements, group[0]) or ()
        ids = tuple(piece.id for piece in pieces)
        if not any(i in covered for i in ids):
            covered |= dict.fromkeys(ids, _term(chain, catalog, terms, group, pieces))
            left_out += _fronts(chain, catalog, group[0])
    if not covered:
        return terms
    kept = [term for term in terms if term.at not in covered]
    measured = {id(term): term for term in covered.values()}
    return tuple(sorted([*kept, *left_out, *measured.values()], key=lambda term: term.position))


def _groups(
    chain: Chain, catalog: Catalog, terms: tuple[Term, ...], wavelengths_nm: tuple[int, ...], direction: Direction
) -> list[list[Reading]]:
    """Readings that count together for one direction, the newest group first: one for all strands, or one each."""
    link = chain.link
    newest: dict[tuple[object, ...], dict[int | None, Reading]] = {}
    for reading in sorted(link.readings, key=lambda one: one.when):
        if _void(reading, catalog) or is_stale(link.elements, reading) or too_good(chain, catalog, reading):
            continue
        worse = _worse_than_planned(chain, catalog, terms, reading)
        if not reading.may_hold_at(wavelengths_nm, direction, either_way=worse):
            continue
        if reading.lacks and not worse:
            continue
        strand = reading.strand if direction == "right" else reading.far_strand
        every = reading.strand is None and reading.far_strand is None
        stretch = reading.start, reading.end, reading.near_joint, reading.far_joint, every
        before = newest.setdefault(stretch, {}).get(strand)
        hides = before is not None and not worse and not reading.cleaned
        if hides and before is not None and _worse_than_planned(chain, catalog, terms, before):
            continue
        newest[stretch][strand] = reading
    found = []
    for (start, end, *_, whole), by_strand in newest.items():
        wanted = {None} if whole else _carrying(chain, str(start), str(end), direction)
        read = [by_strand[strand] for strand in wanted if strand in by_strand]
        if len(read) < len(wanted):
            read = [one for one in read if _worse_than_planned(chain, catalog, terms, one)]
        if read:
            found.append(read)
    return sorted(found, key=lambda group: max(one.when for one in group), reverse=True)


def _void(reading: Reading, catalog: Catalog) -> str:
    """Why a reading decides nothing, whatever it reads: in itself, or because its calibration ran out."""
    return reading.why_not or calibration_over(reading.calibrated_on, reading.taken_on, catalog.calibration_days)


def _covered(chain: Chain, reading: Reading, terms: Iterable[Term]) -> list[LossTerm]:
    """The planned terms that a reading stands for."""
    ids = {piece.id for piece in between(chain.link.elements, reading) or ()}
    lengths = [line.traits.length_m or 0.0 for line in chain.lines]
    return [term.of(lengths) for term in terms if term.at in ids]


def _worse_than_planned(chain: Chain, catalog: Catalog, terms: tuple[Term, ...], reading: Reading) -> bool:
    """Whether a reading alone is more than the worst that was planned between its test points.

    Without a length there is no plan to be worse than.
    """
    ids = {piece.id for piece in between(chain.link.elements, reading) or ()}
    if any(line.traits.length_m is None for line in chain.lines if line.id in ids):
        return False
    planned = sum(term.worst_db for term in _covered(chain, reading, terms))
    planned -= sum(term.worst for term in _fronts(chain, catalog, reading))
    return reading.value_db > planned + 1e-6


def _unsure_db(chain: Chain, catalog: Catalog, reading: Reading) -> float:
    """How far a reading may be off in dB: as it says, else as its method may be."""
    if reading.uncertainty_db is not None:
        return max(reading.uncertainty_db, _repeatability_db(reading) if reading.value_db < 0 else 0.0)
    ids = {piece.id for piece in between(chain.link.elements, reading) or ()}
    grades = [grade for line in chain.lines if line.id in ids for grade in line.traits.grades]
    family = catalog.fiber(grades[0]).family if grades else "single-mode"
    row = testing_figures().uncertainty_of(reading.method or "trace, one direction", family)
    return row.reference_grade_db if reading.reference_grade else row.db


def _repeatability_db(reading: Reading) -> float:
    method = reading.method or "light source and power meter"
    return testing_figures().repeatability_db(method, reference_grade=reading.reference_grade)


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

    What its method does not repeat better than is allowed for, and what the pairs in its reference lost where that
    was read. Below zero nothing is believed, unless a second reference said the same.
    """
    pieces = between(chain.link.elements, reading)
    if pieces is None or reading.wavelength_nm is None:
        return False
    spread = _repeatability_db(reading)
    if reading.value_db < 0 and not repeats(reading, chain.link.readings, spread):
        return True
    ids = {piece.id for piece in pieces}
    lengths = [line.traits.length_m or 0.0 for line in chain.lines]
    terms = loss_terms(chain, catalog, (reading.wavelength_nm,), "right")
    least = sum(term.of(lengths).least_db for term in terms if term.at in ids)
    return max(0.0, reading.value_db) < least - spread - (reading.joined_db or 0.0) * reading.pairs_hidden - 1e-6


def _carrying(chain: Chain, start: str, end: str, direction: Direction) -> set[int | None]:
    """The strands of a stretch that carry the light of one direction, at the face where it enters."""
    at = start if direction == "right" else end
    standing = next((part for part in chain.parts if part.id == at), None)
    return set(sent_to(chain, standing, direction)) if standing is not None else set()


def _term(
    chain: Chain, catalog: Catalog, terms: tuple[Term, ...], group: list[Reading], pieces: Sequence[Element]
) -> Term:
    """The reading of a group as a term: its worst strand against too little light, its best against too much."""
    lines = [piece for piece in pieces if isinstance(piece, Line)]
    longest: Element = max(lines, key=lambda piece: piece.length_m or 0.0, default=pieces[0])
    off = {id(one): _unsure_db(chain, catalog, one) for one in group}
    highest = max(group, key=lambda one: one.value_db + off[id(one)])
    lowest = min(group, key=lambda one: one.value_db - off[id(one)])
    value_db, unsure_db = max(0.0, highest.value_db), off[id(highest)]
    strands = f", the worst of {len(group)} strands" if len(group) > 1 else ""
    said = "" if highest.value_db >= 0 else f" (read twice as {highest.value_db:.2f} dB)"
    method = " by its method" if highest.uncertainty_db is None else ""
    least_db = max(0.0, lowest.value_db - off[id(lowest)])
    if any(one.lacks for one in group):
        least_db = min(least_db, sum(term.least_db for term in _covered(chain, highest, terms)))
    return Term(
        at=longest.id,
        position=chain.link.index(longest.id),
        part="reading",
        what=f"measured {value_db:.2f} dB ± {unsure_db:.2f} dB{method}{said}, {_stretch(highest)}{strands}",
        worst=value_db + unsure_db,
        worst_source=highest.source,
        expected=value_db,
        expected_source=highest.source,
        least=least_db,
        least_source=lowest.source,
        covers=tuple(piece.id for piece in pieces),
        proves=not any(one.lacks for one in group),
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
        elif why := _void(reading, catalog) or reading.lacks:
            void = bool(_void(reading, catalog))
            found.append(
                READING_INFORMS.note(
                    at,
                    f"The reading of {value} {'informs and decides nothing' if void else 'proves nothing'}: {why}.",
                    "With its wavelength, direction, method, reference, end joints, uncertainty, "
                    "instrument and its "
                    "calibration, operator, time and place it takes the place of the terms between "
                    "its test points."
                    + ("" if void else " Where it is worse than planned it counts against the link all the same."),
                ).of(value_db=reading.value_db, why=why)
            )
        elif too_good(chain, catalog, reading):
            found.append(
                READING_TOO_GOOD.caution(
                    at,
                    f"The reading of {value} is less than its parts must lose: it is not believed.",
                    "Another strand, another wavelength, or a reference taken wrong. Join the cords, set the "
                    "reference again, then read again; the plan's own figures stand.",
                ).of(value_db=reading.value_db)
            )
    return found
