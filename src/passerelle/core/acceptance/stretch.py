"""The stretches of a link that are tested, and what a reading of one must be: term by term from the same chain."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from passerelle.core.acceptance.methods import LEFT_OUT, direction_words, uncertainty_db
from passerelle.core.budget.loss import (
    Direction,
    LossTerm,
    Term,
    joint_terms,
    loss_terms,
    mismatch_terms,
    part_terms,
    told_terms,
)
from passerelle.core.catalog.records import Family
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.link.compose import Chain, Joint, Standing
from passerelle.core.link.hops import met, sent_to, through, used_positions
from passerelle.core.link.readings import Method, ReferenceMethod
from passerelle.core.rules.reach import kept_row
from passerelle.core.sources import Frozen, Source

Span = Literal["channel", "permanent link", "cable"]
End = Literal["", "near", "far"]
_PLUGGED = ("adapter", "receptacle")
WINDOW_NM = 20


@dataclass(frozen=True)
class Stretch:
    """A stretch of a chain from the left face of one part to the right face of another.

    A channel runs with its equipment cords, a permanent link from panel to panel, a cable from end to end of its
    glass without a connection.
    """

    chain: Chain
    start: Standing
    end: Standing
    span: Span

    @cached_property
    def near(self) -> Joint | None:
        """The joint at its left end."""
        return next((j for j in self.chain.joints if j.right is self.start and j.left), None)

    @cached_property
    def far(self) -> Joint | None:
        """The joint at its right end."""
        return next((j for j in self.chain.joints if j.left is self.end and j.right), None)

    @cached_property
    def strands(self) -> tuple[tuple[int, int], ...]:
        """The strands that the link uses of it: the position at its left face and where it comes out, 0 for
        nowhere.
        """
        found = []
        for position in used_positions(self.chain, self.start):
            here, inside = position, False
            for part in self.chain.parts:
                if part is self.start:
                    inside = True
                elif inside:
                    joint = next(j for j in self.chain.joints if j.right is part)
                    ends = met(joint)
                    here = ends[here] if here < len(ends) else 0
                if inside:
                    ends = through(part)
                    here = ends[here] if here < len(ends) else 0
                if part is self.end:
                    break
            found.append((position, here))
        return tuple(found)

    @property
    def name(self) -> str:
        """What one calls it."""
        return f"{self.span}, {self.start.word} {self.start.piece.label or self.start.id} to {self.end.id}"

    def inside(self, position: int) -> bool:
        """Whether a piece at a position in the chain is between its faces."""
        return self.start.position <= position <= self.end.position

    def family(self, catalog: Catalog) -> Family | None:
        """The family of its glass; None while it is not known or not all alike."""
        lines = [s for s in self.chain.glass if self.inside(s.position)]
        found = {catalog.fiber(grade).family for line in lines for grade in line.traits.grades}
        return found.pop() if len(found) == 1 and all(line.traits.grades for line in lines) else None


def stretch_between(chain: Chain, start: str, end: str) -> Stretch:
    """The stretch between two pieces by their ids.

    Raises:
        AcceptanceError: a piece is not there, or the end stands before the start.
    """
    parts = {part.id: part for part in chain.parts}
    if start not in parts or end not in parts or parts[start].position > parts[end].position:
        words = f"there is no stretch from '{start}' to '{end}' in this link: choose both again"
        raise AcceptanceError("start", words)
    first, last = parts[start], parts[end]
    known = permanent_link(chain)
    if known and (first, last) == (known.start, known.end):
        return known
    outer = chain.glass
    span: Span = "channel" if outer and (first, last) == (outer[0], outer[-1]) else "cable"
    return Stretch(chain, first, last, span)


def permanent_link(chain: Chain) -> Stretch | None:
    """The stretch from the first panel to the last; None where there are not two."""
    fixed = [p for p in chain.parts if p.traits.realm == "light" and p.traits.fixed and not p.traits.optics]
    if not fixed:
        return None
    return Stretch(chain, fixed[0], fixed[-1], "permanent link")


def channel(chain: Chain) -> Stretch | None:
    """The stretch with its equipment cords; None without glass."""
    parts = [p for p in chain.parts if p.traits.realm == "light" and not p.traits.optics and not p.traits.socket]
    return Stretch(chain, parts[0], parts[-1], "channel") if parts else None


def cables(chain: Chain) -> tuple[Stretch, ...]:
    """The fixed cables alone, each from end to end of its glass."""
    return tuple(Stretch(chain, s, s, "cable") for s in chain.glass if s.traits.fixed)


class ReadTerm(Frozen):
    """A part of what a reading includes, in dB. ``end`` says which end connection it is, empty inside."""

    term: LossTerm
    end: End = ""


class ShouldRead(Frozen):
    """What a reading of a stretch should be, in dB.

    ``limit_db`` is the worst that its parts may lose, ``least_db`` the least that they can, ``expected_db``
    between; a reading repeats within ``repeatability_db``.
    ``pairs_counted`` are the mated pairs in the limit. ``outside_db`` is the worst of all that lies between the
    reading's planes and the modules; the application's own limit less that is ``application_db``, None where
    the application is not read at this wavelength. The tighter of the two ``decides``.
    """

    limit_db: float
    expected_db: float
    least_db: float
    pairs_counted: int
    uncertainty_db: float
    uncertainty_source: Source
    repeatability_db: float
    terms: tuple[ReadTerm, ...]
    complete: bool
    application: str = ""
    allowed_db: float | None = None
    outside_db: float | None = None
    application_db: float | None = None

    @property
    def decides_db(self) -> float:
        """The tighter of the stretch's own limit and what the application leaves."""
        return self.limit_db if self.application_db is None else min(self.limit_db, self.application_db)

    @property
    def refused(self) -> str:
        """Why no reading taken so can pass; empty where one can."""
        if self.decides_db >= self.uncertainty_db:
            return ""
        return (
            f"the limit of {max(self.decides_db, 0):.2f} dB is less than the {self.uncertainty_db:.2f} dB by which "
            "this method may be off: set the reference with one cord, so that both end connections are read"
        )


@dataclass(frozen=True)
class Taken:
    """How a reading is taken: method, reference, cords, wavelength in nm, where the light goes.

    ``joined_db`` is what the test cords read when they were joined for the reference, None where nobody read it.
    """

    reference: ReferenceMethod
    wavelength_nm: int
    direction: Direction = "right"
    reference_grade: bool = False
    method: Method = "light source and power meter"
    joined_db: float | None = None


def should_read(stretch: Stretch, taken: Taken, catalog: Catalog) -> ShouldRead:
    """What a reading of a stretch should be, with the same allowances as the budget.

    Args:
        stretch: pieces of one candidate grade each; one without a length or a grade adds nothing, and the result
            is not ``complete``.
        taken: how it is read.
        catalog: the house's.
    """
    family = stretch.family(catalog) or "single-mode"
    lengths = [line.traits.length_m or 0.0 for line in stretch.chain.lines]
    inner = [ReadTerm(term=term) for term in told_terms(_inner_terms(stretch, taken, catalog), lengths)]
    ends, left_out = _end_terms(stretch, taken, catalog, family, lengths)
    counted = [*inner, *ends]
    off, source = uncertainty_db(taken.method, taken.reference, family, reference_grade=taken.reference_grade)
    pairs = sum(1 for one in counted if one.term.part == "mated pair")
    worst = sum(one.term.worst_db for one in counted)
    lost = left_out * (taken.joined_db or 0.0)
    spread = testing_figures().repeatability_db(taken.method, reference_grade=taken.reference_grade)
    application = _application(stretch, taken, catalog, counted)
    return ShouldRead(
        limit_db=round(worst, 6),
        expected_db=round(sum(one.term.expected_db for one in counted), 6),
        least_db=round(sum(one.term.least_db for one in counted) - lost, 6),
        pairs_counted=pairs,
        uncertainty_db=off,
        uncertainty_source=source,
        repeatability_db=spread,
        terms=tuple(sorted(counted, key=lambda one: stretch.chain.link.index(one.term.at))),
        complete=_complete(stretch, inner),
        **application,
    )


def _inner_terms(stretch: Stretch, taken: Taken, catalog: Catalog) -> list[Term]:
    chain, nm = stretch.chain, (taken.wavelength_nm,)
    terms: list[Term] = []
    for joint in chain.joints:
        sides = [part for part in (joint.left, joint.right) if part and stretch.inside(part.position)]
        if len(sides) == 2:
            terms += joint_terms(joint, catalog)
    for part in chain.parts:
        if stretch.inside(part.position):
            terms += part_terms(chain, part, catalog, nm)
    terms += [t for t in mismatch_terms(chain, catalog, taken.direction) if stretch.inside(t.position)]
    return sorted(terms, key=lambda term: term.position)


def _end_terms(
    stretch: Stretch, taken: Taken, catalog: Catalog, family: Family, lengths: list[float]
) -> tuple[list[ReadTerm], int]:
    """The end connections that a reading includes, and how many pairs its reference holds instead of one."""
    if stretch.span == "cable" and taken.method != "light source and power meter":
        return [], 0
    found: list[ReadTerm] = []
    sides: tuple[tuple[End, Joint | None, Standing], ...] = (
        ("near", stretch.near, stretch.start),
        ("far", stretch.far, stretch.end),
    )
    for end, joint, standing in sides:
        face = standing.left if end == "near" else standing.right
        if joint is not None and joint.kind == "splice":
            continue
        if face.kind == "bare":
            continue
        found.append(ReadTerm(term=_end_term(joint, standing, taken, catalog, family).of(lengths), end=end))
    left_out = min(LEFT_OUT[taken.reference], len(found))
    kept = sorted(found, key=lambda one: one.term.worst_db)[: len(found) - left_out]
    return [one for one in found if one in kept], left_out


def _end_term(joint: Joint | None, standing: Standing, taken: Taken, catalog: Catalog, family: Family) -> Term:
    """An end connection: of the link's own plug with a test cord's, in its panel where it has one."""
    own = joint_terms(joint, catalog) if joint is not None and joint.kind in _PLUGGED else []
    base = own[0] if own else None
    grade = testing_figures().grade_of(family)
    house = catalog.allowance("mated pair")
    worst, worst_source = (base.worst, base.worst_source) if base else (house.worst_db, house.worst_source)
    usual, usual_source = (
        (base.expected, base.expected_source) if base else (house.typical_db, house.typical_source)
    )
    what = "end connection"
    if taken.reference_grade:
        if grade.end_db < worst:
            worst, worst_source = grade.end_db, grade.end_source
        usual, usual_source = min(grade.end_typical_db, worst), grade.end_source
        what = "end connection with a reference-grade plug"
    return Term(
        at=base.at if base else standing.id,
        position=base.position if base else standing.position,
        part="mated pair",
        what=what,
        worst=worst,
        worst_source=worst_source,
        expected=usual,
        expected_source=usual_source,
        least=0.0,
        least_source=direction_words(taken.reference),
    )


def _complete(stretch: Stretch, inner: Iterable[ReadTerm]) -> bool:
    """Whether every line in it has its term."""
    counted = {one.term.at for one in inner if one.term.part == "fiber"}
    return all(s.id in counted for s in stretch.chain.glass if stretch.inside(s.position))


def _application(
    stretch: Stretch, taken: Taken, catalog: Catalog, counted: list[ReadTerm]
) -> dict[str, str | float | None]:
    """What the application allows the channel, what lies outside the reading at worst, and what that leaves."""
    chain = stretch.chain
    if len(chain.ends) != 2:
        return {}
    sender = chain.ends[0] if taken.direction == "right" else chain.ends[1]
    assert sender.traits.optics is not None  # only such parts are ends
    application = catalog.application(sender.traits.optics.application)
    row = kept_row(application, chain)
    if row is None or any(abs(nm - taken.wavelength_nm) > WINDOW_NM for nm in application.wavelengths_nm):
        return {"application": application.name}
    every = loss_terms(chain, catalog, application.wavelengths_nm, taken.direction)
    lengths = [line.traits.length_m or 0.0 for line in chain.lines]
    ends = {one.term.at for one in counted if one.end}
    outside = [
        t.of(lengths).worst_db
        for t in every
        if not stretch.inside(t.position) and not (t.part == "mated pair" and t.at in ends)
    ]
    missing = [
        joint
        for joint in (stretch.near, stretch.far)
        if joint and joint.kind == "receptacle" and not {p.id for p in (joint.left, joint.right) if p} & ends
    ]
    at_ends = sum(t.worst for joint in missing for t in joint_terms(joint, catalog) if stretch.inside(t.position))
    outside_db = round(sum(outside) + at_ends, 6)
    return {
        "application": application.name,
        "allowed_db": row.max_insertion_loss_db,
        "outside_db": outside_db,
        "application_db": round(row.max_insertion_loss_db - outside_db, 6),
    }


def strands_of(stretch: Stretch, direction: Direction) -> tuple[int, ...]:
    """The strands that carry the light of one direction, by their position at the stretch's left face."""
    if direction == "right":
        return sent_to(stretch.chain, stretch.start, "right")
    far = set(sent_to(stretch.chain, stretch.end, "left"))
    return tuple(near for near, there in stretch.strands if there in far)
