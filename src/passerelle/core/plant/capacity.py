"""How long what lies there is enough: strands used, promised and spare, what to pull now, when a duct is full."""

from __future__ import annotations

import math

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.plant.pulling import duct_fill
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.riders import CableUse
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen, Source


class CableCapacity(Frozen):
    """Strands of one cable: used, promised, dead, spare, and whether the spares keep the house rule.

    ``wanted`` is what is needed after the years of the plan; ``pull_now`` the next number that is sold, or 0
    where the cable has enough; ``enough_years`` how long it lasts, None where it lasts beyond a hundred years.
    ``by_year`` is what used and promised strands grow to, this year first, one figure a year.
    """

    cable: str
    name: str
    strands: int
    used: int
    promised: int
    dead: int
    spare: int
    spare_percent: float
    keeps_rule: bool
    wanted: int
    pull_now: int
    enough_years: int | None
    by_year: tuple[int, ...] = ()


class DuctCapacity(Frozen):
    """Room in one duct: share taken and allowed, how many more cables like its thickest, and when it is full."""

    way: str
    name: str
    share: float
    limit: float
    more_cables: int
    full_in_years: int | None


class Capacity(Frozen):
    """The capacity of a plant under one growth in % a year and a number of years, and the spares asked for in %."""

    growth_percent: float
    years: int
    spare_percent: float
    cables: tuple[CableCapacity, ...]
    ducts: tuple[DuctCapacity, ...]
    sources: tuple[Source, ...]


def strands_wanted(used: int, growth_percent: float, years: int, spare_percent: float) -> int:
    """Strands used after ``years`` of growth, with spares: used · (1 + g)^n · (1 + s), rounded up to pairs.

    Raises:
        ValueError: a negative number.

    >>> strands_wanted(10, 0, 10, 20)
    12
    """
    if min(used, growth_percent, years, spare_percent) < 0:
        raise ValueError("strands, growth, years and spares must not be negative")
    grown = used * (1 + growth_percent / 100) ** years * (1 + spare_percent / 100)
    return 2 * math.ceil(round(grown, 6) / 2)


def capacity(
    plant: Plant, uses: dict[str, CableUse], growth_percent: float, years: int, spare_percent: float
) -> Capacity:
    """The capacity of every cable and of every duct with a bore.

    Args:
        plant: places, ways and cables.
        uses: how the strands of each cable are used, by cable.
        growth_percent: growth of what is used, in % a year.
        years: how many years to plan for.
        spare_percent: the house rule: spare strands in % of those used.

    Raises:
        ValueError: a negative number.
    """
    figures = plant_figures()
    cables = tuple(
        _cable(cable, uses[cable.id], growth_percent, years, spare_percent)
        for cable in plant.cables
        if cable.state != "dead"
    )
    ducts = (_duct(way, plant, growth_percent) for way in plant.ways if way.bore_mm)
    return Capacity(
        growth_percent=growth_percent,
        years=years,
        spare_percent=spare_percent,
        cables=cables,
        ducts=tuple(duct for duct in ducts if duct is not None),
        sources=(figures.growth.source, figures.sold_source, figures.fill.source),
    )


def _cable(cable: Cable, use: CableUse, growth: float, years: int, spare: float) -> CableCapacity:
    used, dead = len(use.taken), len(set(cable.dead) - set(use.taken))
    promised = min(cable.reserved, cable.strands - used - dead)
    left = cable.strands - used - dead - promised
    wanted = strands_wanted(used + promised, growth, years, spare)
    living = cable.strands - dead
    sold = plant_figures().sold_strands
    next_size = next((size for size in sold if size >= wanted), math.ceil(wanted / 288) * 288)
    base = used + promised
    return CableCapacity(
        cable=cable.id,
        name=cable.name,
        strands=cable.strands,
        used=used,
        promised=promised,
        dead=dead,
        spare=left,
        spare_percent=100 * left / base if base else 100.0 if living else 0.0,
        keeps_rule=living > 0 and left >= base * spare / 100,
        wanted=wanted,
        pull_now=0 if wanted <= living else next_size,
        enough_years=_years_until(base, living, growth),
        by_year=tuple(math.ceil(round(base * (1 + growth / 100) ** year, 6)) for year in range(years + 1)),
    )


def _years_until(used: float, room: float, growth: float) -> int | None:
    """Full years that growth fits in the room; None where it does for more than a hundred."""
    if used > room or room <= 0:
        return 0
    yearly = math.log1p(growth / 100)
    if used == 0 or math.log(room / used) >= 101 * yearly:
        return None
    return math.floor(math.log(room / used) / yearly + 1e-9)


def _duct(way: Way, plant: Plant, growth: float) -> DuctCapacity | None:
    diameters = [c.diameter_mm for c in plant.cables_in[way.id] if c.diameter_mm and c.state != "dead"]
    if not diameters or way.bore_mm is None:
        return None
    fill = duct_fill(diameters, way.bore_mm, with_power=way.power_conductors)
    more, thickest = 0, max(diameters)
    while duct_fill([*diameters, *[thickest] * (more + 1)], way.bore_mm).kept and more < 200:
        more += 1
    years = _years_until(len(diameters), len(diameters) + more, growth) if fill.kept else 0
    return DuctCapacity(
        way=way.id,
        name=way.name,
        share=fill.share,
        limit=fill.limit,
        more_cables=more,
        full_in_years=years,
    )
