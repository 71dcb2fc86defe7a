"""The limit of a plain stretch of cabling: fiber by length, connections by the reference, splices."""

from __future__ import annotations

from typing import Literal

from passerelle.core.acceptance.methods import LEFT_OUT
from passerelle.core.catalog.records import FiberGrade
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import CableUse, JointAllowance, School, testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.link.readings import ReferenceMethod
from passerelle.core.sources import Frozen, Source

M_PER_KM = 1000


class LimitPart(Frozen):
    """A part of a limit: what, how many, dB each, and where that is from."""

    what: str
    count: int
    each_db: float
    total_db: float
    source: Source


class PlainLimit(Frozen):
    """The most that a reading may be in dB, its parts, and how many mated pairs it counts."""

    limit_db: float
    pairs_counted: int
    parts: tuple[LimitPart, ...]


def plain_limit(
    catalog: Catalog,
    fiber: str,
    wavelength_nm: int,
    length_m: float,
    *,
    pairs: int,
    splices: int,
    method: ReferenceMethod,
    school: School,
    reference_grade: bool = False,
    cable: CableUse | Literal[""] = "",
) -> PlainLimit:
    """The limit of a piece of cabling with a connection at each end.

    Args:
        fiber: a grade of the catalog; single-mode by TIA-568.3-D also needs where the ``cable`` is used.
        wavelength_nm: one that the school has a figure for.
        length_m: in m.
        pairs: every mated pair of the piece, its two end connections among them.
        method: the reference; it leaves 0, 1 or 2 of the end connections out.
        reference_grade: end connections are measured with reference-grade plugs.

    Raises:
        AcceptanceError: fewer than two pairs, or a fiber, wavelength or cable that the school has no figure for.
        CatalogError: an unknown fiber.

    >>> from passerelle.core.catalog.shelves import load_catalog
    >>> made = {"pairs": 2, "splices": 0, "method": "one cord", "school": "TIA-568.3-D"}
    >>> plain_limit(load_catalog(), "OM3", 850, 100, **made).limit_db
    1.8
    """
    if pairs < 2:
        raise AcceptanceError("pairs", f"{pairs}: a tested piece has a connection at each end: count at least 2")
    grade = catalog.fiber(fiber)
    per_km, source = _attenuation(grade, wavelength_nm, school, cable)
    joints = testing_figures().joints_of(school)
    parts = [
        LimitPart(
            what=f"{fiber} at {wavelength_nm} nm, dB/km by km",
            count=1,
            each_db=per_km,
            total_db=per_km * length_m / M_PER_KM,
            source=source,
        ),
        *_pairs(grade, pairs, LEFT_OUT[method], joints, reference_grade=reference_grade),
    ]
    if splices:
        parts.append(
            LimitPart(
                what="splice",
                count=splices,
                each_db=joints.splice_db,
                total_db=splices * joints.splice_db,
                source=joints.splice_source,
            )
        )
    counted = pairs - LEFT_OUT[method]
    total = round(sum(part.total_db for part in parts), 6)
    return PlainLimit(limit_db=total, pairs_counted=counted, parts=tuple(parts))


def _pairs(
    grade: FiberGrade, pairs: int, left_out: int, joints: JointAllowance, *, reference_grade: bool
) -> list[LimitPart]:
    inner, ends = pairs - 2, 2 - left_out
    end = testing_figures().grade_of(grade.family)
    end_db, end_source = (end.end_db, end.end_source) if reference_grade else (joints.pair_db, joints.pair_source)
    rows = (
        ("end connection", ends, end_db, end_source),
        ("mated pair", inner, joints.pair_db, joints.pair_source),
    )
    return [
        LimitPart(what=what, count=count, each_db=each, total_db=count * each, source=source)
        for what, count, each, source in rows
        if count
    ]


def _attenuation(
    grade: FiberGrade, wavelength_nm: int, school: School, cable: CableUse | Literal[""]
) -> tuple[float, Source]:
    figures = testing_figures()
    name = grade.name.split(" (")[0]
    row = figures.cable_of(school, name, cable)
    if row is None and grade.family == "single-mode" and not cable:
        raise AcceptanceError(
            "cable", f"{school} asks where single-mode cable is used: indoor, indoor-outdoor, outside"
        )
    if row is None:
        raise AcceptanceError("fiber", f"{school} has no attenuation for '{grade.name}'")
    if wavelength_nm not in row.db_per_km:
        known = " or ".join(map(str, row.db_per_km))
        raise AcceptanceError(
            "wavelength", f"{wavelength_nm}: {school} has a figure for {grade.name} at {known} nm"
        )
    return row.db_per_km[wavelength_nm], row.source
