"""Ways to test the arrays at hand: what each includes, its limit and uncertainty, matings, minutes, wear."""

from __future__ import annotations

from passerelle.core.acceptance.stretch import Stretch, Taken, should_read
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import ArrayMethod, testing_figures
from passerelle.core.sources import Frozen, Source


class ArrayWay(Frozen):
    """A way to test a number of trunks: limit and uncertainty in dB, matings, minutes, and the share of a ferrule's
    matings that its references use up.
    """

    name: str
    words: str
    includes: str
    limit_db: float
    uncertainty_db: float
    matings: int
    minutes: float
    wear: float
    cheapest: bool
    source: Source


def array_ways(stretch: Stretch, trunks: int, wavelength_nm: int, catalog: Catalog) -> tuple[ArrayWay, ...]:
    """The ways to test ``trunks`` trunks like this stretch, the cheapest in minutes first."""
    fibers = max(1, len(stretch.strands))
    one = should_read(stretch, Taken("one cord", wavelength_nm, reference_grade=True), catalog)
    two = should_read(stretch, Taken("two cords", wavelength_nm, reference_grade=True), catalog)
    figures = testing_figures()
    found = []
    for method in figures.array_method:
        base = one if method.ends_included == 2 else two
        matings, minutes = _effort(method, trunks, fibers)
        found.append(
            ArrayWay(
                name=method.name,
                words=method.words,
                includes="both array ends" if method.ends_included == 2 else "one array end",
                limit_db=base.limit_db,
                uncertainty_db=round(base.uncertainty_db + method.extra_db, 6),
                matings=matings,
                minutes=minutes,
                wear=method.references * method.reference_matings / figures.array_wear.matings,
                cheapest=False,
                source=method.source,
            )
        )
    found.sort(key=lambda way: way.minutes)
    return tuple(way.model_copy(update={"cheapest": number == 0}) for number, way in enumerate(found))


def _effort(method: ArrayMethod, trunks: int, fibers: int) -> tuple[int, float]:
    """Matings and minutes for some trunks; figures are for twelve fibers."""
    share = fibers / 12
    references = method.references * method.reference_matings
    return references + trunks * method.matings_each, method.setup_min + trunks * method.each_min * max(share, 0.5)
