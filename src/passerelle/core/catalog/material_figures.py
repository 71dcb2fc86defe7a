"""What is sold and what is counted beside pieces: cords, reels, trays, cleaners; the schools of ends."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources

from passerelle.core.sources import Frozen, Source


class CordFigures(Frozen):
    """The lengths in m in which cords are sold, the shortest first."""

    sold_m: tuple[float, ...]
    source: Source


class CableFigures(Frozen):
    """The step in m to which a factory-made cable is ordered, and the lengths in m of cable on a reel."""

    made_step_m: float
    made_source: Source
    reels_m: tuple[float, ...]
    reels_source: Source


class SplicingFigures(Frozen):
    """How many splices a tray holds, and how many cables a closure takes."""

    tray_splices: int
    tray_source: Source
    closure_cables: int
    closure_source: Source


class CleaningFigures(Frozen):
    """How many faces one cleaner cleans."""

    faces_each: int
    source: Source


class PointFigures(Frozen):
    """The most length in m between pull points indoors."""

    between_points_m: float
    between_source: Source


class School(Frozen):
    """A way to make the ends of a cable: hours, tools, what its plugs mean in a duct, what a wrong length means.

    ``price_an_end`` is the item of the price list for each fiber of an end; empty where it is counted by its parts.
    """

    name: str
    end_hours: float
    fiber_hours: float
    tools: tuple[str, ...]
    wrong_length: str
    duct: str
    price_an_end: str
    source: Source


class MaterialFigures(Frozen):
    """All of ``materials.toml``."""

    cords: CordFigures
    cable: CableFigures
    splicing: SplicingFigures
    cleaning: CleaningFigures
    pulling: PointFigures
    schools: tuple[School, ...]


@cache
def material_figures() -> MaterialFigures:
    """Read ``materials.toml``; raises pydantic's ValidationError when a figure or a source is missing."""
    path = resources.files("passerelle.core.catalog") / "data" / "materials.toml"
    raw = tomllib.loads(path.read_text(encoding="utf-8"))
    schools = raw.pop("school")
    return MaterialFigures.model_validate({**raw, "schools": schools})


def sold_cord_m(length_m: float) -> float:
    """The shortest cord that is sold and reaches, in m; beyond the longest the next whole metre.

    >>> sold_cord_m(2.0), sold_cord_m(2.1), sold_cord_m(61.2)
    (2.0, 3.0, 62.0)
    """
    return next(
        (sold for sold in material_figures().cords.sold_m if sold >= length_m - 1e-9), float(-(-length_m // 1))
    )
