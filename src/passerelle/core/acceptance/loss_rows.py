"""The loss readings of a stretch, row by row: what each must be, which reading stands, what it is worth."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from passerelle.core.acceptance.causes import Cause, Read, causes
from passerelle.core.acceptance.judgement import Judgement, judge_one
from passerelle.core.acceptance.plan import Task
from passerelle.core.acceptance.stretch import ShouldRead, Stretch, Taken, should_read, strands_of
from passerelle.core.budget.loss import Direction
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.readings import WAVELENGTH_WINDOW_NM, Reading, calibration_over, is_stale, repeats
from passerelle.core.sources import Frozen

DARK_DB = 30.0
"""So much over its plan no light came through: a meter shows its floor."""
RowJudgement = Judgement | Literal["dark"]
_BAD: tuple[RowJudgement, ...] = ("fail", "suspect", "dark")
NOT_CLEANED = "read again, and nobody said that the faces were cleaned"


class EarlierReading(Frozen):
    """A reading that no longer stands for its row, what it was worth, and why another one stands."""

    reading: Reading
    judgement: RowJudgement
    why: str


class ProofRow(Frozen):
    """A loss reading to take or taken, in dB: its limit, what it should be, what it was, what it is worth.

    ``informs`` is why a reading that is there decides nothing, empty where it does; ``marks`` is what else is to be
    known of it. ``refused`` is why the house's method cannot prove this row. ``earlier`` are the readings that it
    came after, or that came after it and do not count, oldest first. ``carries`` is the direction of the light that
    the strand carries when the link is up, empty for none.
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
    judgement: RowJudgement | None = None
    informs: str = ""
    marks: tuple[str, ...] = ()
    refused: str = ""
    earlier: tuple[EarlierReading, ...] = ()
    cause: Cause | None = None

    @property
    def bad(self) -> bool:
        """Whether its reading fails, or cannot be believed."""
        return self.judgement in _BAD and not self.informs


@dataclass(frozen=True)
class _Judged:
    """A reading of a row: what it should be as it was taken, what it is worth, why it only informs."""

    reading: Reading
    should: ShouldRead
    judgement: RowJudgement
    informs: str
    marks: tuple[str, ...]

    @property
    def bad(self) -> bool:
        """Whether it fails, or cannot be believed."""
        return self.judgement in _BAD and not self.informs


def loss_rows(stretch: Stretch, tasks: Sequence[Task], catalog: Catalog, house: HouseRules) -> tuple[ProofRow, ...]:
    """A row for each loss task of a stretch, with its causes where readings are not good."""
    rows = _Rows(stretch, catalog, house)
    told = [
        rows.row(task, task.wavelength_nm)
        for task in tasks
        if task.kind == "loss" and task.wavelength_nm is not None and task.direction != "both"
    ]
    return _with_causes(told, stretch, catalog)


class _Rows:
    """The rows of a stretch; what a reading should be is reckoned once for each way of taking it."""

    def __init__(self, stretch: Stretch, catalog: Catalog, house: HouseRules) -> None:
        self.stretch, self.catalog, self.house = stretch, catalog, house
        self.known: dict[Taken, ShouldRead] = {}
        ways: tuple[Direction, ...] = ("right", "left")
        self.carried = {way: strands_of(stretch, way) for way in ways}

    def should(self, taken: Taken) -> ShouldRead:
        """What a reading should be that is taken so."""
        if taken not in self.known:
            self.known[taken] = should_read(self.stretch, taken, self.catalog)
        return self.known[taken]

    def row(self, task: Task, wavelength_nm: int) -> ProofRow:
        """The row of one task."""
        direction: Direction = "left" if task.direction == "left" else "right"
        house = self.house
        grade = house.test_cords == "reference grade"
        plain = Taken(house.test_reference, wavelength_nm, direction, reference_grade=grade)
        stands, earlier = self._standing(task, plain)
        return ProofRow(
            start=task.start,
            end=task.end,
            span=task.span,
            strand=task.strand,
            far=task.far,
            wavelength_nm=wavelength_nm,
            direction=direction,
            carries=" and ".join(way for way in self.carried if task.strand in self.carried[way]),
            should=stands.should if stands else self.should(plain),
            reading=stands.reading if stands else None,
            judgement=stands.judgement if stands else None,
            informs=stands.informs if stands else "",
            marks=stands.marks if stands else (),
            refused=self.should(plain).refused,
            earlier=earlier,
        )

    def _standing(self, task: Task, plain: Taken) -> tuple[_Judged | None, tuple[EarlierReading, ...]]:
        """The reading that counts for a row, and the others.

        The newest; but a fail is only followed by a reading after cleaning, and one that decides by one that does.
        """
        stands: _Judged | None = None
        earlier: list[EarlierReading] = []
        for reading in _of_row(self.stretch, task):
            found = self._judged(reading, plain)
            if stands is None:
                stands = found
                continue
            keeps = stands.bad and not found.bad and not reading.cleaned
            informs = bool(found.informs) and not stands.informs
            if keeps or informs:
                why = NOT_CLEANED if keeps else found.informs
                earlier.append(EarlierReading(reading=reading, judgement=found.judgement, why=why))
                continue
            why = "cleaned, read again" if reading.cleaned else "read again"
            earlier.append(EarlierReading(reading=stands.reading, judgement=stands.judgement, why=why))
            stands = found
        return stands, tuple(earlier)

    def _judged(self, reading: Reading, plain: Taken) -> _Judged:
        taken = Taken(
            reference=reading.reference or plain.reference,
            wavelength_nm=plain.wavelength_nm,
            direction=plain.direction,
            reference_grade=reading.reference_grade,
            method=reading.method or plain.method,
            joined_db=reading.joined_db,
        )
        should = self.should(taken)
        value_db, marks = reading.value_db, _marks(reading)
        off = reading.uncertainty_db if reading.uncertainty_db is not None else should.uncertainty_db
        if repeats(reading, self.stretch.chain.link.readings, should.repeatability_db):
            marks = (
                *marks,
                f"{value_db:.2f} dB by two references: counted as 0.00 ± {should.repeatability_db:.2f} dB",
            )
            value_db, off = 0.0, max(off, should.repeatability_db)
        least = should.least_db - should.repeatability_db
        dark = value_db >= should.expected_db + DARK_DB
        judgement: RowJudgement = "dark" if dark else judge_one(value_db, should.decides_db, off, least)
        judgement, differs = _with_tester(judgement, reading.tester_result)
        if differs:
            marks = (*marks, differs)
        return _Judged(reading, should, judgement, self._informs(reading, judgement), marks)

    def _informs(self, reading: Reading, judgement: RowJudgement) -> str:
        """Why a reading decides nothing. What it lacks keeps it from passing, never from failing."""
        if is_stale(self.stretch.chain.link.elements, reading):
            return "it is stale: a piece between its test points was changed since"
        old = calibration_over(reading.calibrated_on, reading.taken_on, self.house.calibration_days)
        return reading.why_not or old or ("" if judgement in _BAD else reading.lacks)


def _with_tester(judgement: RowJudgement, said: str) -> tuple[RowJudgement, str]:
    """The worse of what the reading is worth and what its tester said by its own limit, and the difference."""
    if said == "fail" and judgement in ("pass", "marginal"):
        return "fail", f"its tester says fail by its own limit; by the limit here it would be {judgement}"
    if said == "marginal" and judgement == "pass":
        return "marginal", "its tester says that the limit is within its accuracy"
    if said in ("pass", "marginal") and judgement in _BAD:
        return judgement, f"its tester says {said} by its own limit"
    return judgement, ""


def _marks(reading: Reading) -> tuple[str, ...]:
    """What else is to be known of a reading that counts."""
    told = []
    if reading.recorded_before:
        told.append("recorded before instruments and references were kept")
    elif reading.tester_zero and not reading.zero:
        told.append(f"reference as its tester states it: {reading.tester_zero}")
    if reading.uncertainty_db is None:
        told.append("uncertainty by its method")
    return tuple(told)


def _of_row(stretch: Stretch, task: Task) -> list[Reading]:
    """The readings of a row that were not withdrawn, in the order in which they were taken."""
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
    return sorted(same, key=lambda one: one.when)


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
