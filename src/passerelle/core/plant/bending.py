"""What a bend that is too tight costs, by class of glass, and how tightly a cable may lie."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.plant_figures import BendRow, plant_figures
from passerelle.core.plant.records import Cable
from passerelle.core.sources import Frozen, Source, estimated

Certainty = Literal["listed", "between listed radii", "not specified"]


class BendLoss(Frozen):
    """Loss in dB of one turn of a radius in mm, at the longest wavelength that the class lists for it.

    ``loss_db`` is None where the class says nothing of such a tight radius: it may be anything.
    """

    grade: str
    bend_class: str
    radius_mm: float
    wavelength_nm: int | None
    loss_db: float | None
    certainty: Certainty
    source: Source


def rest_radius_mm(cable: Cable) -> float | None:
    """The tightest radius in mm at which a cable may lie: its own, else by its diameter; None without either."""
    if cable.bend_radius_rest_mm is not None:
        return cable.bend_radius_rest_mm
    diameters = plant_figures().pull.rest_radius_diameters
    return cable.diameter_mm * diameters if cable.diameter_mm is not None else None


def bend_loss(grade: str, radius_mm: float) -> BendLoss:
    """Loss of one turn of glass by its class (ITU-T G.652, G.657; IEC 60793-2-10).

    At a listed radius it is the listed loss over its turns. Between two listed radii the loss of the tighter one
    counts, which is more than it can be. At the widest listed radius or above, the listed loss counts. Below the
    tightest nothing is specified.

    Args:
        grade: a fiber grade of the catalog.
        radius_mm: radius of the bend in mm.

    Raises:
        ValueError: the radius is not positive.

    >>> bend_loss("OS2 (G.657.A1)", 15).loss_db
    0.1
    """
    if radius_mm <= 0:
        raise ValueError(f"a bend has a radius of more than 0 mm, not {radius_mm:g} mm")
    found = plant_figures().bend_class(grade)
    if found is None:
        return BendLoss(
            grade=grade,
            bend_class="",
            radius_mm=radius_mm,
            wavelength_nm=None,
            loss_db=None,
            certainty="not specified",
            source=estimated("no class of bending is known for this glass"),
        )
    longest = max(row.wavelength_nm for row in found.rows)
    rows = sorted((row for row in found.rows if row.wavelength_nm == longest), key=lambda row: row.radius_mm)
    row = next((row for row in reversed(rows) if row.radius_mm <= radius_mm), None)
    certainty: Certainty = "not specified"
    if row is not None:
        certainty = "listed" if row.radius_mm == radius_mm or row is rows[-1] else "between listed radii"
    return BendLoss(
        grade=grade,
        bend_class=found.name,
        radius_mm=radius_mm,
        wavelength_nm=longest,
        loss_db=_of_one_turn(row),
        certainty=certainty,
        source=found.source,
    )


def _of_one_turn(row: BendRow | None) -> float | None:
    return None if row is None else row.loss_db / row.turns
