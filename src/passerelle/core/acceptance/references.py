"""Whether a reference holds: what makes it void is said before a reading is believed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from passerelle.core.acceptance.methods import Launch, Setup, launch_of
from passerelle.core.accepted import ReferenceTaken, ReferenceVoid
from passerelle.core.catalog.records import Family
from passerelle.core.events import Event, not_withdrawn
from passerelle.core.house import HouseRules
from passerelle.core.link import readings
from passerelle.core.link.readings import Method, ReferenceMethod
from passerelle.core.sources import Frozen


class ReferenceSeen(Frozen):
    """A reference with whether it holds; ``why_void`` is empty while it does. ``warns`` is what else to know.

    ``voided`` is why it was said to be lost, ``lost_on`` and ``lost_at`` since when at the place: what was read
    before that time may still name it.
    """

    taken: ReferenceTaken
    why_void: str
    launch: Launch
    warns: tuple[str, ...] = ()
    voided: str = ""
    lost_on: date | None = None
    lost_at: time | None = None


def references(events: Sequence[Event], house: HouseRules, now: datetime) -> tuple[ReferenceSeen, ...]:
    """The references of a project that were not withdrawn, newest first."""
    standing = list(not_withdrawn(events))
    taken: list[ReferenceTaken] = []
    voids: dict[str, ReferenceVoid] = {}
    for event in standing:
        if isinstance(event, ReferenceTaken):
            taken.append(event)
        elif isinstance(event, ReferenceVoid):
            for one in lost_by(event, taken):
                voids.setdefault(one.key, event)
    return tuple(_seen(one, voids.get(one.key), house, now) for one in reversed(taken))


def lost_by(void: ReferenceVoid, taken: Sequence[ReferenceTaken]) -> list[ReferenceTaken]:
    """The references that a loss makes void, of those that were taken before it.

    A cord that left the source takes all references of that source with it, of every wavelength and older ones too.
    """
    of = next((one for one in taken if one.key == void.of), None)
    if of is None:
        return []
    if void.why != "cord left the source":
        return [of]
    source = of.instrument, of.family
    return [
        one for one in taken if one is of or ((one.instrument, one.family) == source and not lost_before(void, one))
    ]


def lost_before(void: ReferenceVoid, taken: ReferenceTaken) -> bool:
    """Whether a loss lies before the minute in which a reference was taken, by the clock of the place."""
    set_at = _at(taken.taken_on, taken.at_time, time.min).replace(second=0, microsecond=0)
    return _at(void.lost_on, void.lost_at, time.max) < set_at


def _at(day: date | None, clock: time | None, unknown: time) -> datetime:
    """A moment by the clock of the place; without a day the last there is."""
    return datetime.combine(day, (clock or unknown).replace(tzinfo=None)) if day else datetime.max


def read_after(loss: ReferenceVoid | ReferenceSeen, taken_on: date | None, at_time: time | None) -> bool:
    """Whether a reading was taken at or after a loss; one without a time on that day was, one without a day too.

    A loss that has no day was not yet there when anything was read that is written down already.
    """
    if loss.lost_on is None:
        return False
    return _at(taken_on, at_time, time.max) >= _at(loss.lost_on, loss.lost_at, time.min)


def _seen(taken: ReferenceTaken, lost: ReferenceVoid | None, house: HouseRules, now: datetime) -> ReferenceSeen:
    launch = launch_of(
        Setup(
            family=taken.family,
            source=taken.source,
            mandrel=taken.mandrel,
            bend_insensitive=taken.bend_insensitive,
            loop_mm=taken.loop_mm,
        )
    )
    return ReferenceSeen(
        taken=taken,
        why_void=(lost.why if lost else "") or _too_old(taken, house, now),
        launch=launch,
        warns=_warns(taken, house, launch),
        voided=lost.why if lost else "",
        lost_on=lost.lost_on if lost else None,
        lost_at=lost.lost_at if lost else None,
    )


def _too_old(taken: ReferenceTaken, house: HouseRules, now: datetime) -> str:
    at = when(taken)
    if at is None:
        return "nobody wrote down when it was taken"
    if now - at > timedelta(hours=house.reference_hours):
        hours = (now - at).total_seconds() / 3600
        return f"it is {hours:.0f} h old, and the house lets one hold {house.reference_hours:g} h"
    return ""


def _warns(taken: ReferenceTaken, house: HouseRules, launch: Launch) -> tuple[str, ...]:
    told = []
    if not launch.certifies:
        told.append(launch.words)
    if taken.joined_db is None:
        told.append("The test cords were not joined and read: nobody knows whether they are good.")
    if old := calibration_over(taken.calibrated_on, taken.taken_on, house):
        told.append(old)
    return tuple(told)


def calibration_over(calibrated_on: date | None, used_on: date | None, house: HouseRules) -> str:
    """Why a calibration no longer held on a day; empty where it did, or a date is missing."""
    return readings.calibration_over(calibrated_on, used_on, house.calibration_days)


_ZONES = timedelta(hours=15)
"""So far apart clocks of the same moment can be: a day and a time are those of the place."""


def when(taken: ReferenceTaken) -> datetime | None:
    """When it was taken; of one with a date alone the start of that day."""
    if taken.taken_on is None:
        return taken.at
    clock = (taken.at_time or datetime.min.time()).replace(tzinfo=None)
    said = datetime.combine(taken.taken_on, clock, tzinfo=UTC)
    if taken.at is None or taken.at - said > _ZONES:  # written down later than it was taken
        return said
    return taken.at


@dataclass(frozen=True)
class ReadingSetup:
    """How a reading was taken that names a reference, and of what: ``core_um`` is the core of the link's glass."""

    method: Method
    reference: ReferenceMethod | None
    wavelength_nm: int | None
    instrument: str
    taken_on: date | None = None
    at_time: time | None = None
    family: Family | None = None
    core_um: float | None = None


def why_not_with(seen: ReferenceSeen, reading: ReadingSetup, house: HouseRules) -> str:
    """Why a reading cannot be taken with a reference; empty where it can.

    Held against each other: whether it held when it was read, method, wavelength, instrument, the family and the
    core of the glass, the launch.
    """
    taken = seen.taken
    if why := _not_held(seen, reading, house):
        return why
    if reading.method != "light source and power meter":
        return f"a reading by '{reading.method}' has no reference of a meter: leave it out"
    if reading.wavelength_nm is not None and reading.wavelength_nm != taken.wavelength_nm:
        return (
            f"the reference is of {taken.wavelength_nm} nm, not of {reading.wavelength_nm} nm: take one at this "
            "wavelength"
        )
    if reading.reference is not None and reading.reference != taken.method:
        return f"the reference was taken with {taken.method}, not with {reading.reference}"
    if reading.instrument and taken.instrument and reading.instrument != taken.instrument:
        return f"the reference is of the instrument {taken.instrument}, not of {reading.instrument}"
    if reading.family is not None and reading.family != taken.family:
        return f"the reference is of {taken.family} cords, and this glass is {reading.family}: take one of its kind"
    if reading.core_um is not None and taken.core_um is not None and not _same_core(taken.core_um, reading.core_um):
        return (
            f"the test cords have a core of {taken.core_um:g} µm and this glass one of {reading.core_um:g} µm: "
            "take the reference with cords of its core"
        )
    return "" if seen.launch.certifies else seen.launch.words


def _same_core(one_um: float, other_um: float) -> bool:
    """Whether two cores are of one size; single-mode fiber is called by 8 to 10 µm alike."""
    return abs(one_um - other_um) < 3


def _not_held(seen: ReferenceSeen, reading: ReadingSetup, house: HouseRules) -> str:
    """Why a reference did not hold when something was read; now, where nobody said when that was."""
    taken = seen.taken
    if seen.voided and (seen.lost_on is None or read_after(seen, reading.taken_on, reading.at_time)):
        return f"the reference is void: {seen.voided}. Take it again before you read"
    if None in (reading.taken_on, reading.at_time, taken.taken_on, taken.at_time):
        return f"the reference is void: {seen.why_void}. Take it again before you read" if seen.why_void else ""
    age = _at(reading.taken_on, reading.at_time, time.min) - _at(taken.taken_on, taken.at_time, time.min)
    if age < timedelta(minutes=-1):
        return "it was read before this reference was taken: choose the one before it, or correct the time"
    if age > timedelta(hours=house.reference_hours):
        hours = age.total_seconds() / 3600
        return (
            f"the reference is void: it was {hours:.0f} h old, and the house lets one hold "
            f"{house.reference_hours:g} h. Take it again before you read"
        )
    return ""
