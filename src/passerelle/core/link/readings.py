"""A reading of a stretch of a link: what was measured, how, and between which faces."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from datetime import date, time
from typing import Annotated, Any, Literal

from pydantic import Field

from passerelle.core.parts.piece import Key, Label, Line
from passerelle.core.parts.registry import Element, spec_of
from passerelle.core.sources import Frozen, Source

ReadingDirection = Literal["right", "left", "both"]
Method = Literal["light source and power meter", "trace, both directions averaged", "trace, one direction"]
ReferenceMethod = Literal["one cord", "two cords", "three cords", "launch and receive cords"]
Moment = Literal["", "on the reel", "after the pull", "after termination", "before light"]
Decibels = Annotated[float, Field(ge=-5, le=100, allow_inf_nan=False)]
WAVELENGTH_WINDOW_NM = 20
_SAYS_NOTHING_OF_LOSS = frozenset(
    {"label", "key", "enter", "leave", "construction", "jacket", "spaces", "matches_run", "asks_angled"}
    | {
        "state",
        "ordered",
        "length_by",
        "sold_for",
        "lane_max_dbm",
        "splices",
        "splice_class",
        "way_m",
        "way_guessed",
    }
)
_LENGTH = {"length_m", "length_by", "length_estimated"}
_END_JOINTS: dict[ReferenceMethod, int] = {"one cord": 2, "two cords": 1, "three cords": 0}


class Reading(Frozen):
    """Loss in dB of a stretch, from the left face of ``start`` to the right face of ``end``.

    ``strand`` is the position at that left face of the fiber that was read, ``far_strand`` the one at that right
    face; None where it stands for all of them. ``instrument`` is the meter's serial number, ``zero`` the key of
    the reference that it was taken with, ``tester_zero`` what its tester itself says of one, ``joined_db`` what
    the test cords read when they were joined for it; ``length_m`` what light says of the length.
    ``recorded_before``: it was taken before instruments were written down, and counts by what was asked then.
    ``cleaned``: the faces were cleaned since the reading before it. ``tester_result`` is what its tester said of it
    by its own limit, empty where it said nothing.

    ``near_joint`` and ``far_joint`` say whether the adapter just outside each face is in the value. A field that
    is None was not said: such a reading informs and never decides. ``signature`` is that of the pieces between
    the faces when it was taken, ``bare`` the same without their lengths, ``over`` their keys; ``withdrawn`` is
    why it no longer counts, empty while it
    does. What was read is never rewritten: a correction is another reading.
    """

    id: str = ""
    value_db: Decibels
    start: str
    end: str
    near_joint: bool | None = None
    far_joint: bool | None = None
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)] | None = None
    direction: ReadingDirection | None = None
    method: Method | None = None
    reference: ReferenceMethod | None = None
    taken_on: date | None = None
    uncertainty_db: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] | None = None
    strand: Annotated[int, Field(ge=1, le=10_000)] | None = None
    far_strand: Annotated[int, Field(ge=1, le=10_000)] | None = None
    reference_grade: bool = False
    moment: Moment = ""
    instrument: Label = ""
    calibrated_on: date | None = None
    operator: Label = ""
    at_time: time | None = None
    place: Label = ""
    zero: Key = ""
    tester_zero: Label = ""
    joined_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    cleaned: bool = False
    tester_result: Literal["", "pass", "marginal", "fail"] = ""
    length_m: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] | None = None
    recorded_before: bool = False
    note: Label = ""
    signature: str = ""
    bare: Annotated[str, Field(max_length=32)] = ""
    over: Annotated[tuple[Key, ...], Field(max_length=200)] = ()
    withdrawn: Label = ""

    @property
    def missing(self) -> tuple[str, ...]:
        """What was not said, in words."""
        words = {
            "wavelength_nm": "wavelength",
            "direction": "direction",
            "method": "method",
            "reference": "reference",
            "taken_on": "date",
            "uncertainty_db": "uncertainty",
            "near_joint": "whether the left end joint is included",
            "far_joint": "whether the right end joint is included",
        }
        if not self.recorded_before:
            words |= {
                "instrument": "serial number of the instrument",
                "calibrated_on": "day of its calibration",
                "operator": "who read it",
                "at_time": "time of day",
                "place": "place",
            }
        return tuple(told for field, told in words.items() if getattr(self, field) in (None, ""))

    @property
    def why_not(self) -> str:
        """Why it informs only, whatever the link is and whatever it reads; empty where it may decide."""
        if self.withdrawn:
            return f"it was withdrawn: {self.withdrawn}"
        if self.method == "trace, one direction":
            return "a trace from one end may show a gain or too little: the other direction is needed"
        if self.calibrated_on and self.taken_on and self.calibrated_on > self.taken_on:
            return f"the instrument was calibrated on {self.calibrated_on}, after the reading"
        ends = _END_JOINTS.get(self.reference) if self.reference else None
        if ends is not None and ends != int(bool(self.near_joint)) + int(bool(self.far_joint)):
            included = {0: "neither end joint", 1: "one end joint", 2: "both end joints"}[ends]
            return f"a reference with {self.reference} includes {included}, which is not what was said"
        return ""

    @property
    def lacks(self) -> str:
        """Why it decides nothing for the link, though it counts against it; empty where nothing is lacking."""
        if self.missing:
            return f"not said: {', '.join(self.missing)}"
        if not (self.zero or self.tester_zero or self.recorded_before):
            return "no reference is on record: set one, or enter the one that its tester states"
        return ""

    def may_hold_at(self, wavelengths_nm: Sequence[int], direction: str, *, either_way: bool = False) -> bool:
        """Whether it was taken in this direction and within 20 nm of every one of these wavelengths.

        It may have been where its wavelength or direction was not said, or where it counts ``either_way``.
        """
        same_way = either_way or self.direction in (None, "both", direction)
        here = self.wavelength_nm
        return same_way and (here is None or all(abs(nm - here) <= WAVELENGTH_WINDOW_NM for nm in wavelengths_nm))

    @property
    def pairs_hidden(self) -> int:
        """How many mated pairs were in its reference, so that what they lost is not in it."""
        return 2 - _END_JOINTS.get(self.reference, 2) if self.reference else 0

    @property
    def when(self) -> tuple[str, str]:
        """What orders readings, the newest last."""
        return str(self.taken_on or ""), str(self.at_time or "")

    @property
    def source(self) -> Source:
        """The reading as the source of a figure."""
        how = f"{self.method}, reference with {self.reference}, {self.wavelength_nm} nm"
        if self.instrument:
            how += f", instrument {self.instrument}"
        return Source(body="reading", document="this project", clause=f"{self.taken_on}", note=how)


def calibration_over(calibrated_on: date | None, used_on: date | None, most_days: float) -> str:
    """Why a calibration no longer held on a day; empty where it did, or a date is missing."""
    if calibrated_on is None or used_on is None:
        return ""
    days = (used_on - calibrated_on).days
    if days <= most_days:
        return ""
    return f"The instrument was calibrated {days} days before; the house lets one hold {most_days:g}."


def repeats(reading: Reading, others: Sequence[Reading], repeatability_db: float) -> bool:
    """Whether a reading below zero was read again under another reference and came out alike, in dB.

    Both are then nothing lost, give or take the repeatability; one alone is not believed.
    """
    if not -repeatability_db - 1e-9 <= reading.value_db < 0 or not reading.zero:
        return False
    here = reading.start, reading.end, reading.strand, reading.direction, reading.wavelength_nm, reading.reference
    return any(
        (other.start, other.end, other.strand, other.direction, other.wavelength_nm, other.reference) == here
        and other.zero not in ("", reading.zero)
        and not other.withdrawn
        and other.value_db >= -repeatability_db - 1e-9
        and abs(other.value_db - reading.value_db) <= repeatability_db + 1e-9
        for other in others
    )


def between(elements: Sequence[Element], reading: Reading) -> tuple[Element, ...] | None:
    """The pieces that a reading stands for, its end joints where they are included; None where they are gone."""
    position = {element.id: number for number, element in enumerate(elements)}
    if reading.start not in position or reading.end not in position:
        return None
    first, last = position[reading.start], position[reading.end]
    if first > last:
        return None
    if reading.near_joint and first > 0 and _is_joint(elements[first - 1]):
        first -= 1
    if reading.far_joint and last + 1 < len(elements) and _is_joint(elements[last + 1]):
        last += 1
    return tuple(elements[first : last + 1])


def _is_joint(element: Element) -> bool:
    return spec_of(element).joins


def signature_of(elements: Sequence[Element], reading: Reading) -> str:
    """A short text that changes when a piece between the test points does; empty where the points are gone.

    Labels and what is only learned of a cable (how it is built, what it passes) change nothing that was measured.
    """
    pieces = between(elements, reading)
    return "" if pieces is None else signature([piece.model_dump(mode="json") for piece in pieces])


def signature(pieces: Sequence[Mapping[str, Any]]) -> str:
    """The signature of pieces as they are written down; a field that is empty counts like one that is not there."""
    content = [{k: v for k, v in piece.items() if v and k not in _SAYS_NOTHING_OF_LOSS} for piece in pieces]
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()[:16]


def signed(elements: Sequence[Element], reading: Reading) -> Reading:
    """The reading with the signature and the keys of the pieces as they are."""
    bare = _bare(elements, reading)
    return reading.model_copy(
        update={"signature": signature_of(elements, reading), "bare": bare, "over": _keys(elements, reading)}
    )


def _bare(elements: Sequence[Element], reading: Reading) -> str:
    """The signature without lengths: a length that is only learned changes no cable."""
    pieces = between(elements, reading)
    return "" if pieces is None else signature([piece.model_dump(mode="json", exclude=_LENGTH) for piece in pieces])


def _learned(elements: Sequence[Element], reading: Reading) -> bool:
    """Whether all that differs are lengths, and each of those is measured by light: the same cable, known
    better.
    """
    lines = [piece for piece in between(elements, reading) or () if isinstance(piece, Line)]
    by_light = bool(lines) and all(piece.known_by == "light" for piece in lines if piece.pulled)
    return by_light and bool(reading.bare) and reading.bare == _bare(elements, reading)


def _keys(elements: Sequence[Element], reading: Reading) -> tuple[str, ...]:
    """The keys of the pieces that a reading stands for; nothing while one has none."""
    keys = tuple(piece.key for piece in between(elements, reading) or ())
    return keys if all(keys) else ()


def is_stale(elements: Sequence[Element], reading: Reading) -> bool:
    """Whether a piece between its test points was changed, or exchanged for its like, since it was taken."""
    if signature_of(elements, reading) != reading.signature and not _learned(elements, reading):
        return True
    return bool(reading.over) and reading.over != _keys(elements, reading)


def turned(before: Sequence[Element], after: Sequence[Element], reading: Reading) -> Reading:
    """The reading in a link that is drawn from its other end; what was stale stays stale."""
    ways: dict[ReadingDirection | None, ReadingDirection | None] = {"right": "left", "left": "right"}
    swapped = reading.model_copy(
        update={
            "start": reading.end,
            "end": reading.start,
            "near_joint": reading.far_joint,
            "far_joint": reading.near_joint,
            "direction": ways.get(reading.direction, reading.direction),
            "strand": reading.far_strand,
            "far_strand": reading.strand,
        }
    )
    return swapped if is_stale(before, reading) else signed(after, swapped)
