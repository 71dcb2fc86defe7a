"""What tests are made with and what they may read: cords, uncertainties, backscatter, zones of a face, effort."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.records import Family, Polish
from passerelle.core.errors import CatalogError
from passerelle.core.sources import Frozen, Source

School = Literal["as budgeted", "TIA-568.3-D", "ISO/IEC 11801-1"]
CableUse = Literal["indoor", "indoor-outdoor", "outside"]
FaceKind = Literal["single-mode, flat", "single-mode, angled", "multimode", "array", "array, single-mode"]
Zone = Literal["core", "cladding", "adhesive", "contact"]
Allowed = tuple[float, int]


class TestWavelengths(Frozen):
    """The wavelengths in nm at which a family of glass is tested for loss and by traces."""

    family: Family
    loss_nm: tuple[int, ...]
    trace_nm: tuple[int, ...]
    source: Source


class ReferenceGrade(Frozen):
    """What an end measured with a reference-grade plug may lose, and two such cords joined, in dB."""

    family: Family
    end_db: float
    end_typical_db: float
    end_source: Source
    joined_db: float
    joined_source: Source


class CableAllowance(Frozen):
    """Attenuation of cabled fiber in dB/km by wavelength (nm), as a school has it; ``cable`` empty for any."""

    school: School
    fibers: tuple[str, ...]
    cable: CableUse | Literal[""] = ""
    db_per_km: dict[int, float]
    source: Source


class JointAllowance(Frozen):
    """Most loss in dB of a mated pair and of a splice, as a school has it."""

    school: School
    pair_db: float
    pair_source: Source
    splice_db: float
    splice_source: Source


class Uncertainty(Frozen):
    """How far a reading may be off in dB, with ordinary and with reference-grade cords."""

    method: str
    family: Family
    db: float
    reference_grade_db: float
    source: Source


class Repeatability(Frozen):
    """How far two readings of the same strand may differ in dB, with ordinary and with reference-grade cords."""

    method: str
    db: float
    reference_grade_db: float
    source: Source


class ExtraUncertainty(Frozen):
    """What the pairs that a reference leaves in add to the uncertainty, in dB."""

    two_cords_db: float
    three_cords_db: float
    source: Source


class ArrayMethod(Frozen):
    """A way to test arrays: how many end connections it includes, what it adds in dB, matings, references,
    minutes.
    """

    name: str
    words: str
    ends_included: int
    extra_pairs: int
    extra_db: float
    matings_each: int
    references: int
    reference_matings: int
    setup_min: float
    each_min: float
    source: Source


class ArrayWear(Frozen):
    """How many matings a ferrule of an array is good for."""

    matings: int
    source: Source


class Backscatter(Frozen):
    """Backscatter of a pulse of 1 ns in dB and group index, each by wavelength in nm."""

    family: Family
    core_um: float
    at_1ns_db: dict[int, float]
    group_index: dict[int, float]
    source: Source


class Reflectance(Frozen):
    """What a face of this polish returns in dB, mated and in air."""

    polish: Polish
    mated_db: float
    mated_source: Source
    open_db: float
    open_source: Source


class TraceFigures(Frozen):
    """Pulses (ns), dynamic range (dB), recovery (m), cords (m), and how sure lengths are (shares of one)."""

    pulses_ns: tuple[int, ...]
    one_ns_range_db: float
    range_source: Source
    reference_time_s: float
    recovery_m: float
    recovery_source: Source
    launch_multimode_m: float
    launch_single_mode_m: float
    launch_long_m: float
    launch_source: Source
    index_uncertainty: float
    index_source: Source
    overlength: float
    overlength_most: float
    overlength_source: Source
    sheath_uncertainty: float
    sheath_source: Source


class FaceZone(Frozen):
    """A zone of a face up to a diameter in µm, and what it may hold: how many marks up to which size in µm (−1: any
    number); larger ones never.
    """

    face: FaceKind
    zone: Zone
    to_um: float
    scratches: tuple[Allowed, ...]
    defects: tuple[Allowed, ...]
    source: Source


class InspectionFigures(Frozen):
    """After how many cleanings a face is exchanged, and the editions of the criteria."""

    cleanings: int
    cleanings_source: Source
    editions: tuple[str, ...]


class Minutes(Frozen):
    """Minutes for each task."""

    inspect_face: float
    polarity_strand: float
    loss_reading: float
    trace_reading: float
    reference: float
    source: Source


class Signs(Frozen):
    """Differences in dB from which on they mean something."""

    bend_db: float
    bend_source: Source
    core_db: float
    core_source: Source
    neighbor_db: float
    neighbor_source: Source


class CopperClass(Frozen):
    """Channel limits of a class of balanced cabling over frequency in MHz.

    ``il`` holds k, a, b, c, d of k(a√f + bf + c/√f) + 4·d√f; ``next`` the two terms of the power sum of cable and
    connections; ``rl`` rows of (up to MHz, constant, slope) of constant − slope·log10 f.
    """

    category: str
    name: str
    to_mhz: float
    il: tuple[float, float, float, float, float]
    next: tuple[float, float]
    rl: tuple[tuple[float, float, float], ...]
    delay_ns: float
    skew_ns: float
    source: Source


class TestingFigures(Frozen):
    """All of ``testing.toml``."""

    wavelengths: tuple[TestWavelengths, ...]
    reference_grade: tuple[ReferenceGrade, ...]
    cable_allowance: tuple[CableAllowance, ...]
    joint_allowance: tuple[JointAllowance, ...]
    uncertainty: tuple[Uncertainty, ...]
    repeatability: tuple[Repeatability, ...]
    extra_uncertainty: ExtraUncertainty
    array_method: tuple[ArrayMethod, ...]
    array_wear: ArrayWear
    backscatter: tuple[Backscatter, ...]
    reflectance: tuple[Reflectance, ...]
    trace: TraceFigures
    face_zone: tuple[FaceZone, ...]
    inspection: InspectionFigures
    minutes: Minutes
    signs: Signs
    copper_class: Annotated[tuple[CopperClass, ...], Field(min_length=1)]

    def wavelengths_of(self, family: Family) -> TestWavelengths:
        """The wavelengths at which a family is tested."""
        return next(one for one in self.wavelengths if one.family == family)

    def grade_of(self, family: Family) -> ReferenceGrade:
        """What reference-grade cords may lose at a family of glass."""
        return next(one for one in self.reference_grade if one.family == family)

    def uncertainty_of(self, method: str, family: Family) -> Uncertainty:
        """How far a method may be off at a family of glass."""
        return next(one for one in self.uncertainty if (one.method, one.family) == (method, family))

    def repeatability_db(self, method: str, *, reference_grade: bool) -> float:
        """How far two readings by a method may differ though nothing changed, in dB."""
        row = next(one for one in self.repeatability if one.method == method)
        return row.reference_grade_db if reference_grade else row.db

    def joints_of(self, school: School) -> JointAllowance:
        """The joints of a school; raises CatalogError where it has none of its own."""
        for one in self.joint_allowance:
            if one.school == school:
                return one
        raise CatalogError(f"'{school}' has no allowances of its own: TIA-568.3-D or ISO/IEC 11801-1")

    def cable_of(self, school: School, fiber: str, cable: CableUse | Literal[""]) -> CableAllowance | None:
        """What a school allows a grade of cabled fiber; None where it has no row."""
        rows = [one for one in self.cable_allowance if one.school == school and fiber in one.fibers]
        return next((one for one in rows if one.cable in ("", cable)), None)

    def backscatter_of(self, family: Family, core_um: float) -> Backscatter:
        """The backscatter of a core, the nearest where it is not listed."""
        same = [one for one in self.backscatter if one.family == family]
        return min(same, key=lambda one: abs(one.core_um - core_um))

    def reflectance_of(self, polish: Polish) -> Reflectance:
        """What a polish returns."""
        return next(one for one in self.reflectance if one.polish == polish)

    def zones_of(self, face: FaceKind) -> tuple[FaceZone, ...]:
        """The zones of a kind of face from the middle out."""
        return tuple(one for one in self.face_zone if one.face == face)


@cache
def testing_figures() -> TestingFigures:
    """Read ``testing.toml``; raises pydantic's ValidationError when a figure or a source is missing."""
    path = resources.files("passerelle.core.catalog") / "data" / "testing.toml"
    return TestingFigures.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))
