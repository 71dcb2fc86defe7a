"""Whether a reference holds: what makes it void is said before a reading is believed."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta

from passerelle.core.acceptance.methods import Launch, Setup, launch_of
from passerelle.core.accepted import ReferenceTaken, ReferenceVoid
from passerelle.core.events import Event, not_withdrawn
from passerelle.core.house import HouseRules
from passerelle.core.link.readings import ReferenceMethod
from passerelle.core.sources import Frozen


class ReferenceSeen(Frozen):
    """A reference with whether it holds; ``why_void`` is empty while it does. ``warns`` is what else to know."""

    taken: ReferenceTaken
    why_void: str
    launch: Launch
    warns: tuple[str, ...] = ()


def references(events: Sequence[Event], house: HouseRules, now: datetime) -> tuple[ReferenceSeen, ...]:
    """The references of a project that were not withdrawn, newest first."""
    standing = list(not_withdrawn(events))
    voided = {event.of: event.why for event in standing if isinstance(event, ReferenceVoid)}
    taken = [event for event in standing if isinstance(event, ReferenceTaken)]
    return tuple(_seen(one, voided.get(one.key, ""), house, now) for one in reversed(taken))


def _seen(taken: ReferenceTaken, voided: str, house: HouseRules, now: datetime) -> ReferenceSeen:
    launch = launch_of(
        Setup(
            family=taken.family,
            source=taken.source,
            mandrel=taken.mandrel,
            bend_insensitive=taken.bend_insensitive,
            loop_mm=taken.loop_mm,
        )
    )
    void = voided or _too_old(taken, house, now)
    return ReferenceSeen(taken=taken, why_void=void, launch=launch, warns=_warns(taken, house, launch))


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
    if calibrated_on is None or used_on is None:
        return ""
    days = (used_on - calibrated_on).days
    if days > house.calibration_days:
        return (
            f"The instrument was calibrated {days} days before; the house lets one hold {house.calibration_days:g}."
        )
    return ""


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


def why_not_with(
    seen: ReferenceSeen, reference: ReferenceMethod | None, wavelength_nm: int | None, instrument: str
) -> str:
    """Why a reading cannot be taken with a reference; empty where it can."""
    taken = seen.taken
    if seen.why_void:
        return f"the reference is void: {seen.why_void}. Take it again before you read"
    if wavelength_nm is not None and wavelength_nm != taken.wavelength_nm:
        return (
            f"the reference is of {taken.wavelength_nm} nm, not of {wavelength_nm} nm: take one at this wavelength"
        )
    if reference is not None and reference != taken.method:
        return f"the reference was taken with {taken.method}, not with {reference}"
    if instrument and taken.instrument and instrument != taken.instrument:
        return f"the reference is of the instrument {taken.instrument}, not of {instrument}"
    if not seen.launch.certifies:
        return seen.launch.words
    return ""
