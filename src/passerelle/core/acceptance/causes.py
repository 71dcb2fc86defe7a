"""What a difference between readings and plan probably is, and the next step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

from passerelle.core.acceptance.judgement import Judgement
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.sources import Frozen, Source

CauseCode = Literal[
    "no light",
    "wrong reference",
    "dirty face",
    "bend",
    "core mismatch",
    "longer way",
    "every strand alike",
    "gain",
]


class Cause(Frozen):
    """A probable cause of a difference: its name, what it rests on in one sentence, and what to do next."""

    code: CauseCode
    what: str
    next_step: str
    source: Source | None = None


@dataclass(frozen=True)
class Read:
    """A reading beside its plan, in dB: strand, wavelength in nm, direction; ``value_db`` None where no light came.

    ``per_km`` is what the glass of the stretch should lose, expected, in dB at this wavelength.
    """

    strand: int
    wavelength_nm: int
    direction: str
    value_db: float | None
    limit_db: float
    expected_db: float
    least_db: float
    judgement: Judgement
    glass_db: float = 0.0
    single_mode: bool = True
    pair_db: float = 0.75

    @property
    def excess_db(self) -> float:
        """How much more than expected it is."""
        return (self.value_db or 0.0) - self.expected_db


_LOOK = "Inspect both end faces and the test cords' own, clean, inspect again, and read again."
_NO_LIGHT = Cause(
    code="no light",
    what="No light came through: the strand ends elsewhere, is broken, or a cap or plug is not seated.",
    next_step="Find where it comes out: light each near strand with a visible source or a meter and write down "
    "from which to which. Nothing anywhere: take a trace, it shows how far the light goes.",
)


def causes(reads: Sequence[Read]) -> dict[int, Cause]:
    """The probable cause of each reading that is not as planned, by its place in ``reads``.

    One stretch at a time: strands are compared with each other, wavelengths and directions of one strand too.
    """
    found: dict[int, Cause] = {}
    alike = _alike(reads)
    for number, read in enumerate(reads):
        cause = alike.get(number) or _one(read, reads)
        if cause is not None:
            found[number] = cause
    return found


def _signed(value_db: float) -> str:
    """A difference with its sign, nothing without one."""
    return f"{round(value_db, 2) + 0.0:+.2f}"


def _one(read: Read, reads: Sequence[Read]) -> Cause | None:
    if read.value_db is None:
        return _NO_LIGHT
    if read.value_db < 0:
        return Cause(
            code="gain",
            what=f"{read.value_db:.2f} dB: no passive strand gains light, so the reference was too low.",
            next_step="Clean the reference plugs, join the cords, take the reference again, then read again.",
        )
    if read.judgement == "suspect":
        return Cause(
            code="wrong reference",
            what=f"{read.value_db:.2f} dB is less than the {read.least_db:.2f} dB that its parts must lose: the "
            "reference, the wavelength or the strand is another one.",
            next_step="Check that source and meter are set alike and the right strand is lit; take the "
            "reference again.",
        )
    same = [other for other in reads if other.strand == read.strand and _believed(other)]
    return _of_wavelengths(read, same) or _of_directions(read, same) or _of_strand(read, reads)


def _believed(read: Read) -> bool:
    """Whether a reading can be compared with: there was light, and not more than there can be."""
    return read.value_db is not None and read.value_db >= 0 and read.judgement != "suspect"


def _of_wavelengths(read: Read, same: Sequence[Read]) -> Cause | None:
    """A bend takes more of the longer wavelength; a longer way takes as the glass does."""
    other = next((o for o in same if o.wavelength_nm != read.wavelength_nm and o.direction == read.direction), None)
    if other is None:
        return None
    short, long = sorted((read, other), key=lambda one: one.wavelength_nm)
    signs = testing_figures().signs
    if read.single_mode and long.excess_db - short.excess_db > signs.bend_db:
        return Cause(
            code="bend",
            what=f"{_signed(long.excess_db)} dB over plan at {long.wavelength_nm} nm and "
            f"{_signed(short.excess_db)} dB at {short.wavelength_nm} nm: a bend takes more of the longer "
            "wavelength, dirt takes both alike.",
            next_step="Look for a tight loop, a tie or a pinched door along the way and in the trays; a "
            "trace at the longer wavelength shows where.",
            source=signs.bend_source,
        )
    by_glass = [one.excess_db / one.glass_db for one in (short, long) if one.glass_db > 0.05]
    steep = short.glass_db - long.glass_db > 0.05 and short.excess_db - long.excess_db > 0.1
    if len(by_glass) == 2 and min(by_glass) > 0.1 and max(by_glass) < 1.35 * min(by_glass) and steep:
        return Cause(
            code="longer way",
            what=f"Both wavelengths are over plan as the glass is, by {min(by_glass):.0%} to "
            f"{max(by_glass):.0%}: the "
            "way is longer than planned, or the glass is poorer.",
            next_step="Measure the length with light, correct the run, and the limit follows.",
        )
    return None


def _of_directions(read: Read, same: Sequence[Read]) -> Cause | None:
    signs = testing_figures().signs
    back = next((o for o in same if o.direction != read.direction and o.wavelength_nm == read.wavelength_nm), None)
    if back is None or read.value_db is None or back.value_db is None:
        return None
    if abs((read.value_db - read.expected_db) - (back.value_db - back.expected_db)) <= signs.core_db:
        return None
    return Cause(
        code="core mismatch",
        what=f"{read.value_db:.2f} dB one way and {back.value_db:.2f} dB the other: loss that depends on the "
        "direction points to cores of different size, a cord of another fiber perhaps.",
        next_step="Read the print of every cord and cable of this strand; exchange the one that differs.",
        source=signs.core_source,
    )


def _of_strand(read: Read, reads: Sequence[Read]) -> Cause | None:
    signs = testing_figures().signs
    others = [
        o.excess_db
        for o in reads
        if o.strand != read.strand and o.value_db is not None and o.wavelength_nm == read.wavelength_nm
    ]
    lonely = not others or read.excess_db - median(others) > signs.neighbor_db
    if read.judgement == "pass" and (not others or not lonely):
        return None
    if not lonely:
        return None
    beside = f", its neighbors {_signed(median(others))} dB" if others else ""
    return Cause(
        code="dirty face",
        what=f"{_signed(read.excess_db)} dB over plan on this strand alone{beside}, at both wavelengths alike "
        "where two "
        "were read: mostly a dirty or scratched face, else a bad splice.",
        next_step=_LOOK + " If it stays, a trace tells the joint.",
        source=signs.neighbor_source,
    )


def _alike(reads: Sequence[Read]) -> dict[int, Cause]:
    """Where three or more strands are over their limit by the same: what they have in common is the reference."""
    failing = [n for n, r in enumerate(reads) if r.judgement == "fail" and r.value_db is not None]
    strands = {reads[n].strand for n in failing}
    every = {r.strand for r in reads}
    if len(strands) < 3 or strands != every:
        return {}
    excess = [reads[n].excess_db for n in failing]
    if max(excess) - min(excess) > testing_figures().signs.neighbor_db:
        return {}
    cause = Cause(
        code="every strand alike",
        what=f"Every strand is over by {min(excess):.2f} to {max(excess):.2f} dB: what they share is the "
        "reference and "
        f"the test cords; {min(excess):.2f} dB is {min(excess) / reads[0].pair_db:.1f} connections.",
        next_step="Check the method that is set against what was done, join the cords and read them, take the "
        "reference again.",
    )
    return dict.fromkeys(failing, cause)
