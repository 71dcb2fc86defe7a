"""What a reading must be before it is recorded: of a strand and a day that there are, of a likely length."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from passerelle.core.acceptance.stretch import Stretch, Taken, should_read
from passerelle.core.accepted import FaceStep, Inspected
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, ReadingTaken, not_withdrawn
from passerelle.core.link.readings import Reading
from passerelle.core.parts.piece import Line
from passerelle.core.sources import Source, estimated
from passerelle.core.units import format_length

DAYS_AHEAD = 1
"""A day can be ahead of the clock by a time zone; more is a slip of the year or of a tester's clock."""
LENGTH_SHARE, INDEX_SHARE, UNMEASURED_M, MEASURED_M = 0.03, 0.01, 10.0, 2.0
LENGTH_SOURCE: Source = estimated(
    "light and plan differ by 3 % at most, 1 % for the index, and 10 m where nobody measured the cable"
)
CLEANING: tuple[FaceStep, ...] = ("clean dry", "clean wet to dry", "exchange", "terminate again")
"""Steps at a face after which a fail may be read again."""
_MEASURED = ("wheel", "pulled", "light")


def check_reading(
    stretch: Stretch, reading: Reading, catalog: Catalog, today: date, *, length_checked: bool
) -> None:
    """Check a reading of a stretch against what it is of.

    Args:
        stretch: between its test points, of pieces with one candidate grade each.
        reading: as it would be recorded.
        catalog: the house's.
        today: by the clock of the installation.
        length_checked: a person saw that its length is not the plan's, and it is right.

    Raises:
        AcceptanceError: its strand, its day, its length or its method cannot be; the message says what to do.
    """
    check_day(reading.taken_on, today)
    _check_strand(stretch, reading)
    if reading.length_m is not None and not length_checked:
        _check_length(stretch, reading.length_m)
    _check_method(stretch, reading, catalog)


def cleaned_since(reading: Reading, happened: Sequence[Event]) -> bool:
    """Whether a face of the link was cleaned or made new since the same row was read last, by what is on record."""
    row = reading.start, reading.end, reading.strand, reading.wavelength_nm, reading.direction
    for event in reversed(list(not_withdrawn(happened))):
        if isinstance(event, Inspected) and event.step in CLEANING:
            return True
        if isinstance(event, ReadingTaken):
            before = event.reading
            if (before.start, before.end, before.strand, before.wavelength_nm, before.direction) == row:
                return False
    return False


def check_day(taken_on: date | None, today: date) -> None:
    """Check that a day is not more than one ahead: it would be the newest for good.

    Raises:
        AcceptanceError: it is.
    """
    if taken_on is not None and taken_on - today > timedelta(days=DAYS_AHEAD):
        raise AcceptanceError(
            "taken_on",
            f"{taken_on} is still to come: today is {today}. Enter the day on which it was read, or set the clock "
            "of the tester right",
        )


def _check_strand(stretch: Stretch, reading: Reading) -> None:
    planned = dict(stretch.strands)
    if reading.strand is None or not planned:
        return
    if reading.strand not in planned:
        used = ", ".join(map(str, planned))
        raise AcceptanceError("strand", f"this link uses the strands {used} here, not {reading.strand}")
    far = planned[reading.strand]
    if reading.far_strand is not None and far and reading.far_strand != far:
        raise AcceptanceError(
            "far_strand",
            f"strand {reading.strand} is planned to come out at {far}, and this light came out at "
            f"{reading.far_strand}: record where the strands come out, put the plugs right, then read again",
        )


def _check_length(stretch: Stretch, length_m: float) -> None:
    inside = [part for part in stretch.chain.glass if stretch.inside(part.position)]
    lengths = [part.traits.length_m for part in inside if part.traits.length_m is not None]
    if not lengths or len(lengths) < len(inside):
        return
    planned = sum(lengths)
    if abs(length_m - planned) > length_slack_m(planned, measured=all(map(_is_measured, inside))) + 1e-9:
        raise AcceptanceError(
            "length_m",
            f"light says {format_length(length_m)} and the plan {format_length(planned)}: it may be another "
            "strand. Check which one is plugged. If it is right, correct the length of the cable in the plan, or "
            "say that the length was checked",
        )


def _is_measured(part: object) -> bool:
    piece = getattr(part, "piece", None)
    return isinstance(piece, Line) and (not piece.pulled or piece.known_by in _MEASURED)


def length_slack_m(planned_m: float, *, measured: bool) -> float:
    """By how much a length by light may differ from the plan's, in m; an estimate.

    >>> length_slack_m(1000.0, measured=False), length_slack_m(1000.0, measured=True)
    (50.0, 42.0)
    """
    return planned_m * (LENGTH_SHARE + INDEX_SHARE) + (MEASURED_M if measured else UNMEASURED_M)


def _check_method(stretch: Stretch, reading: Reading, catalog: Catalog) -> None:
    """Refuse a good reading by a method that cannot tell whether it is: a bad one is recorded all the same."""
    if reading.reference is None or reading.method is None or reading.wavelength_nm is None:
        return
    if stretch.family(catalog) is None:
        return
    taken = Taken(
        reference=reading.reference,
        wavelength_nm=reading.wavelength_nm,
        direction="left" if reading.direction == "left" else "right",
        reference_grade=reading.reference_grade,
        method=reading.method,
        joined_db=reading.joined_db,
    )
    should = should_read(stretch, taken, catalog)
    if should.complete and should.refused and reading.value_db <= should.decides_db:
        raise AcceptanceError("reference", f"{reading.reference} cannot prove this: {should.refused}")
