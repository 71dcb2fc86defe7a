"""The proof of a link: what is tested, what each reading must be, what was read, and what is still missing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from passerelle.core.acceptance.causes import Cause, Read, causes
from passerelle.core.acceptance.inspection import NextStep, cleaner_of, kind_of_face, next_step
from passerelle.core.acceptance.judgement import Judgement, judge_one
from passerelle.core.acceptance.plan import Task, faces_of, test_plan
from passerelle.core.acceptance.references import calibration_over
from passerelle.core.acceptance.stretch import (
    ShouldRead,
    Stretch,
    Taken,
    channel,
    permanent_link,
    should_read,
    strands_of,
)
from passerelle.core.acceptance.twisted import CopperJudged, judged_copper
from passerelle.core.accepted import Certified, Inspected, StrandsTraced, TraceTaken
from passerelle.core.budget.loss import Direction
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import FaceKind, testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, not_withdrawn
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, compose
from passerelle.core.link.readings import WAVELENGTH_WINDOW_NM, Reading, is_stale, signature
from passerelle.core.parts.face import Face
from passerelle.core.sources import Frozen

DARK_DB = 30.0
"""So much over its plan no light came through: a meter shows its floor."""


class ProofRow(Frozen):
    """A loss reading to take or taken, in dB: its limit, what it should be, what it was, what it is worth.

    ``informs`` is why a reading that is there decides nothing, empty where it does. ``carries`` is the direction of
    the light that the strand carries when the link is up, empty for none.
    """

    start: str
    end: str
    span: str
    strand: int
    far: int
    wavelength_nm: int
    direction: Direction
    carries: str
    should: ShouldRead
    reading: Reading | None = None
    judgement: Judgement | Literal["dark"] | None = None
    informs: str = ""
    cause: Cause | None = None


class ProofFace(Frozen):
    """A face that is plugged by hand: the piece and the side, what cleans it, what was done and what comes next."""

    piece: str
    element: str
    face: Literal["left", "right"]
    positions: tuple[int, ...]
    kind: FaceKind
    words: str
    cleaner: str
    steps: tuple[Inspected, ...]
    next: NextStep


class StrandSeen(Frozen):
    """A strand of the stretch: where it should come out and where it was seen, None while nobody looked."""

    near: int
    planned: int
    seen: int | None


class Proof(Frozen):
    """Everything that is tested of a link. ``why_not`` says what is missing before readings can be planned."""

    span: str
    start: str
    end: str
    family: str
    tasks: tuple[Task, ...]
    rows: tuple[ProofRow, ...]
    faces: tuple[ProofFace, ...]
    strands: tuple[StrandSeen, ...]
    traces: tuple[TraceTaken, ...]
    copper: tuple[CopperJudged, ...]
    category: str
    minutes: float
    why_not: str = ""

    @property
    def to_read(self) -> int:
        """How many readings are missing, or decide nothing."""
        return sum(1 for row in self.rows if row.judgement is None or row.informs)

    @property
    def failing(self) -> int:
        """How many readings fail, or cannot be believed."""
        return sum(1 for row in self.rows if row.judgement in ("fail", "suspect", "dark") and not row.informs)

    @property
    def state(self) -> str:
        """What it comes to in words, never better than its weakest part."""
        if self.why_not and not self.rows and not self.copper:
            return self.why_not
        if self.copper:
            bad = [one.value.parameter for one in self.copper if one.passes is False]
            return f"not accepted: {', '.join(bad)}" if bad else "accepted by its tester"
        if not self.rows:
            return "nothing to certify here"
        if self.failing:
            return "not accepted: readings are not good"
        if self.to_read:
            return f"open: {self.to_read} readings are missing, or inform only"
        if any(one.seen != one.planned for one in self.strands):
            return "open: where the strands come out was not seen, or is wrong"
        if dirty := sum(1 for face in self.faces if not face.next.done):
            return f"readings good, {dirty} faces not inspected to the end"
        marginal = any(row.judgement == "marginal" for row in self.rows)
        return "accepted, marginal within the uncertainty" if marginal else "accepted"


def proof_of(link: Link, events: Sequence[Event], catalog: Catalog, house: HouseRules) -> Proof:
    """The proof of a link from its own events, oldest first, with the catalog as the house has it.

    Where its glass may be of several grades, that with the tightest limits is taken, and ``why_not`` says so.
    """
    chain, why_not = _decided(link, catalog)
    tasks = test_plan(chain, catalog, house)
    stretch = permanent_link(chain) or channel(chain)
    standing = [one for one in not_withdrawn(events) if getattr(one, "link", link.key) == link.key]
    family = stretch.family(catalog) if stretch else None
    rows: tuple[ProofRow, ...] = ()
    if stretch is not None and family is not None and permanent_link(chain) is not None:
        rows = _rows(stretch, tasks, school_catalog(catalog, house, chain), house)
    certified = [one for one in standing if isinstance(one, Certified)]
    return Proof(
        span=stretch.span if stretch else "channel",
        start=stretch.start.id if stretch else "",
        end=stretch.end.id if stretch else "",
        family=family or "",
        tasks=tasks,
        rows=rows,
        faces=_faces(chain, standing, catalog),
        strands=_strands(stretch, standing) if stretch else (),
        traces=tuple(one for one in standing if isinstance(one, TraceTaken)),
        copper=judged_copper(certified[-1]) if certified else (),
        category=certified[-1].category if certified else "",
        minutes=round(sum(task.minutes for task in tasks), 1),
        why_not=why_not or _missing(chain, stretch, family),
    )


def _decided(link: Link, catalog: Catalog) -> tuple[Chain, str]:
    possible = variants(link)
    if possible is None:
        return compose(undecided_glass(link), catalog), "The grade of the glass is not decided: read the print."
    if len(possible) > 1:
        words = "The grade of the glass is not decided: the one with the tightest limits is taken. Read the print."
        return min((compose(one, catalog) for one in possible), key=lambda chain: _tightness(chain, catalog)), words
    return compose(link, catalog), ""


def _tightness(chain: Chain, catalog: Catalog) -> float:
    """The tightest limit that its readings would be held against, in dB; where there is none, nothing is
    tighter.
    """
    stretch = permanent_link(chain)
    family = stretch.family(catalog) if stretch else None
    if stretch is None or family is None:
        return float("inf")
    wavelengths = testing_figures().wavelengths_of(family).loss_nm
    return min(should_read(stretch, Taken("one cord", nm), catalog).decides_db for nm in wavelengths)


def _missing(chain: Chain, stretch: Stretch | None, family: str | None) -> str:
    """What has to be known before readings can be planned, in words; empty where all is."""
    if chain.realms == {"copper"}:
        return "No result of a tester yet: twisted pair is certified by its own standard."
    if stretch is None:
        return ""
    if family is None:
        return "The grade of the glass is missing, so no limit can be given: say it on the run."
    if permanent_link(chain) is None:
        return "There is no fixed cable between two panels: cords alone are inspected, not certified."
    if any(s.traits.length_m is None for s in chain.glass if stretch.inside(s.position)):
        return "A length is missing, so the limit lacks its glass: measure it, or say it on the run."
    return ""


@lru_cache(maxsize=64)
def _school(catalog: Catalog, school: str, outdoors: bool) -> Catalog:
    figures = testing_figures()
    joints = next(one for one in figures.joint_allowance if one.school == school)
    cable: Literal["indoor", "outside"] = "outside" if outdoors else "indoor"
    fibers = {}
    for name, grade in catalog.fibers.items():
        row = figures.cable_of(joints.school, name.split(" (")[0], cable)
        if row is not None:
            allowed = {
                nm: max(row.db_per_km.get(nm, db), grade.typical_attenuation_db_per_km[nm])
                for nm, db in grade.attenuation_db_per_km.items()
            }
            sources = {nm: row.source for nm in row.db_per_km if nm in allowed}
            fibers[name] = grade.model_copy(
                update={
                    "attenuation_db_per_km": allowed,
                    "attenuation_sources": {**grade.attenuation_sources, **sources},
                }
            )
    pair = catalog.allowance("mated pair").model_copy(
        update={"worst_db": joints.pair_db, "worst_source": joints.pair_source}
    )
    splice = catalog.allowance("splice").model_copy(
        update={"worst_db": joints.splice_db, "worst_source": joints.splice_source}
    )
    allowances = {**catalog.allowances, "mated pair": pair, "splice": splice}
    return replace(catalog, fibers={**catalog.fibers, **fibers}, allowances=allowances)


def school_catalog(catalog: Catalog, house: HouseRules, chain: Chain) -> Catalog:
    """The catalog with the allowances by which the house holds readings."""
    if house.limit_school == "as budgeted":
        return catalog
    outdoors = any({"duct", "buried", "aerial"} & set(s.traits.spaces) for s in chain.glass)
    return _school(catalog, house.limit_school, outdoors)


def _rows(stretch: Stretch, tasks: Sequence[Task], catalog: Catalog, house: HouseRules) -> tuple[ProofRow, ...]:
    known: dict[Taken, ShouldRead] = {}
    ways: tuple[Direction, ...] = ("right", "left")
    carried = {way: strands_of(stretch, way) for way in ways}
    rows = []
    for task in tasks:
        if task.kind != "loss" or task.wavelength_nm is None or task.direction == "both":
            continue
        reading = _newest(stretch, task)
        taken = Taken(
            reference=(reading.reference if reading and reading.reference else house.test_reference),
            wavelength_nm=task.wavelength_nm,
            direction=task.direction,
            reference_grade=reading.reference_grade if reading else house.test_cords == "reference grade",
            method=(reading.method if reading and reading.method else "light source and power meter"),
        )
        if taken not in known:
            known[taken] = should_read(stretch, taken, catalog)
        rows.append(_row(task, known[taken], reading, stretch, house, carried))
    return _with_causes(rows, stretch, catalog)


def _row(
    task: Task,
    should: ShouldRead,
    reading: Reading | None,
    stretch: Stretch,
    house: HouseRules,
    carried: dict[Direction, tuple[int, ...]],
) -> ProofRow:
    judgement: Judgement | Literal["dark"] | None = None
    if reading is not None:
        off = reading.uncertainty_db if reading.uncertainty_db is not None else should.uncertainty_db
        dark = reading.value_db >= should.expected_db + DARK_DB
        judgement = "dark" if dark else judge_one(reading.value_db, should.decides_db, off, should.least_db)
    carries: list[str] = [way for way in carried if task.strand in carried[way]]
    return ProofRow(
        start=task.start,
        end=task.end,
        span=task.span,
        strand=task.strand,
        far=task.far,
        wavelength_nm=task.wavelength_nm or 0,
        direction="left" if task.direction == "left" else "right",
        carries=" and ".join(carries),
        should=should,
        reading=reading,
        judgement=judgement,
        informs=_informs(reading, stretch, house) if reading else "",
    )


def _informs(reading: Reading, stretch: Stretch, house: HouseRules) -> str:
    if is_stale(stretch.chain.link.elements, reading):
        return "it is stale: a piece between its test points was changed since"
    return reading.why_not or calibration_over(reading.calibrated_on, reading.taken_on, house)


def _newest(stretch: Stretch, task: Task) -> Reading | None:
    """The newest reading of a row that was not withdrawn, later ones of the same minute last."""
    same = [
        reading
        for reading in stretch.chain.link.readings
        if (reading.start, reading.end) == (task.start, task.end)
        and not reading.withdrawn
        and reading.strand in (None, task.strand)
        and reading.direction in (task.direction, "both")
        and reading.wavelength_nm is not None
        and abs(reading.wavelength_nm - (task.wavelength_nm or 0)) <= WAVELENGTH_WINDOW_NM
    ]
    return max(enumerate(same), key=lambda one: (one[1].when, one[0]))[1] if same else None


def _with_causes(rows: list[ProofRow], stretch: Stretch, catalog: Catalog) -> tuple[ProofRow, ...]:
    read = [row for row in rows if row.reading is not None and row.judgement is not None]
    single = stretch.family(catalog) == "single-mode"
    found = causes([_as_read(row, single) for row in read])
    named = {id(read[number]): cause for number, cause in found.items()}
    return tuple(row.model_copy(update={"cause": named[id(row)]}) if id(row) in named else row for row in rows)


def _as_read(row: ProofRow, single: bool) -> Read:
    assert row.reading is not None  # only rows with a reading are asked
    dark = row.judgement == "dark"
    glass = sum(one.term.expected_db for one in row.should.terms if one.term.part == "fiber")
    pair = max((one.term.worst_db for one in row.should.terms if one.term.part == "mated pair"), default=0.75)
    return Read(
        strand=row.strand,
        wavelength_nm=row.wavelength_nm,
        direction=row.direction,
        value_db=None if dark else row.reading.value_db,
        limit_db=row.should.decides_db,
        expected_db=row.should.expected_db,
        least_db=row.should.least_db,
        judgement="fail" if dark or row.judgement == "dark" or row.judgement is None else row.judgement,
        glass_db=glass,
        single_mode=single,
        pair_db=pair,
    )


def _faces(chain: Chain, standing: Sequence[Event], catalog: Catalog) -> tuple[ProofFace, ...]:
    steps = [one for one in standing if isinstance(one, Inspected)]
    found = []
    for part, side in faces_of(chain):
        face = part.right if side == "right" else part.left
        lens = part.traits.optics is not None and part.traits.realm != "copper" and not part.traits.line
        grades = part.traits.grades or next((s.traits.grades for s in chain.glass if s.traits.grades), ())
        family = catalog.fiber(grades[0]).family if grades else "single-mode"
        mine = tuple(one for one in steps if one.piece == part.piece.key and one.face == side and not one.test_cord)
        found.append(
            ProofFace(
                piece=part.piece.key,
                element=part.id,
                face=side,
                positions=(1,) if face.is_array else face.positions,
                kind=kind_of_face(face, family),
                words=f"{face.shape} {face.polish or ''}".strip(),
                cleaner=cleaner_of(face),
                steps=mine,
                next=_face_next(face, mine, fixed=part.traits.fixed, lens=lens),
            )
        )
    return tuple(found)


def _face_next(face: Face, steps: tuple[Inspected, ...], *, fixed: bool, lens: bool) -> NextStep:
    """What comes next at a face of several ferrules: at the first of them that is not done."""
    positions = (1,) if face.is_array else face.positions
    told = [
        next_step(face, [one for one in steps if one.position == at], fixed=fixed, in_module=lens)
        for at in positions or (1,)
    ]
    return next((step for step in told if not step.done), told[0])


def _strands(stretch: Stretch, standing: Sequence[Event]) -> tuple[StrandSeen, ...]:
    told = [
        one
        for one in standing
        if isinstance(one, StrandsTraced) and (one.start, one.end) == (stretch.start.id, stretch.end.id)
    ]
    seen = dict(told[-1].pairs) if told and told[-1].signature in ("", signature_between(stretch)) else {}
    return tuple(StrandSeen(near=near, planned=far, seen=seen.get(near)) for near, far in stretch.strands)


def signature_between(stretch: Stretch) -> str:
    """A short text that changes when a piece of a stretch does."""
    pieces = stretch.chain.link.elements[stretch.start.position : stretch.end.position + 1]
    return signature([piece.model_dump(mode="json") for piece in pieces])


def check_stretch(link: Link, start: str, end: str) -> None:
    """Check that two pieces stand in a link in this order; raises AcceptanceError where they do not."""
    ids = [element.id for element in link.elements]
    if start not in ids or end not in ids or ids.index(start) > ids.index(end):
        raise AcceptanceError("start", f"there is no stretch from '{start}' to '{end}': reload the page")
