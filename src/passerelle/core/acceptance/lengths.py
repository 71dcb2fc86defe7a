"""Light measures fiber, marks on the jacket measure sheath: one from the other, each with how sure it is."""

from __future__ import annotations

from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.sources import Frozen, Source


class Converted(Frozen):
    """A length in m with how sure it is, in m."""

    length_m: float
    unsure_m: float
    source: Source


def sheath_from_light(fiber_m: float) -> Converted:
    """The length of the sheath from the length of its fiber by light, in m.

    >>> sheath_from_light(1010.0).length_m
    1000.0
    """
    figures = testing_figures().trace
    sheath = fiber_m / (1 + figures.overlength)
    unsure = fiber_m * (figures.index_uncertainty + (figures.overlength_most - figures.overlength) / 2)
    return Converted(length_m=round(sheath, 3), unsure_m=round(unsure, 3), source=figures.overlength_source)


def light_from_sheath(sheath_m: float) -> Converted:
    """What light will say of a cable whose marks say ``sheath_m``, in m."""
    figures = testing_figures().trace
    fiber = sheath_m * (1 + figures.overlength)
    unsure = sheath_m * (figures.sheath_uncertainty + (figures.overlength_most - figures.overlength) / 2)
    return Converted(length_m=round(fiber, 3), unsure_m=round(unsure, 3), source=figures.sheath_source)
