"""The figures of the plant: fill, bends, pulls, bent glass, copper, power over Ethernet, what is sold."""

from __future__ import annotations

import math
import tomllib
from functools import cache
from importlib import resources
from typing import Any

from passerelle.core.sources import Frozen, Source


class FillFigures(Frozen):
    """Share of a bore that 1, 2, and 3 or more cables may take."""

    limits: dict[int, float]
    source: Source


class BendLimits(Frozen):
    """Bends between two pull points, in degrees."""

    in_buildings_deg: float
    in_buildings_source: Source
    outside_deg: float
    outside_source: Source


class PullFigures(Frozen):
    """Friction without unit, the radius of a bend in m where none is known, radii of cables in their diameters."""

    friction: float
    dry_friction: float
    source: Source
    bend_radius_m: float
    bend_radius_source: Source
    loaded_radius_diameters: float
    rest_radius_diameters: float
    radius_source: Source


class BendRow(Frozen):
    """Most loss in dB that ``turns`` turns of this radius may cost at this wavelength."""

    radius_mm: float
    turns: int
    wavelength_nm: int
    loss_db: float


class BendClass(Frozen):
    """A class of glass by what bending costs it."""

    name: str
    grades: tuple[str, ...]
    rows: tuple[BendRow, ...]
    source: Source


class Copper(Frozen):
    """Annealed copper at 20 °C: resistivity in Ω·mm²/m and its temperature coefficient per kelvin."""

    temperature_coefficient_per_k: float
    coefficient_source: Source
    resistivity_ohm_mm2_per_m: float
    resistivity_source: Source


class Conductor(Frozen):
    """A copper conductor: area in mm², resistance of one conductor at 20 °C in Ω/km."""

    name: str
    area_mm2: float
    ohm_per_km: float
    source: Source


class PowerClass(Frozen):
    """A class of power over Ethernet: W and V at the port (least) and at the device (most, least), loop in Ω."""

    name: str
    port_w: float
    device_w: float
    port_min_v: float
    device_min_v: float
    loop_ohm: float


class PowerOverEthernet(Frozen):
    """All classes, how far twisted pair reaches in m, and where each kind of figure is from."""

    classes: tuple[PowerClass, ...]
    watts_source: Source
    volts_source: Source
    reach_m: float
    reach_source: Source


class Growth(Frozen):
    """Growth of what is used, in % a year, and the years to plan for."""

    percent_a_year: float
    years: int
    source: Source


class PlantFigures(Frozen):
    """All figures of the plant."""

    fill: FillFigures
    bends: BendLimits
    pull: PullFigures
    bend_classes: tuple[BendClass, ...]
    copper: Copper
    conductors: tuple[Conductor, ...]
    ethernet_power: PowerOverEthernet
    sold_strands: tuple[int, ...]
    sold_source: Source
    growth: Growth

    def bend_class(self, grade: str) -> BendClass | None:
        """The bend class of a fiber grade, or None when none is listed."""
        return next((c for c in self.bend_classes if grade in c.grades), None)


def awg_area_mm2(gauge: int) -> float:
    """Area in mm² of a round wire of the American gauge: diameter 0.127 mm · 92^((36 − n)/39).

    >>> round(awg_area_mm2(24), 3)
    0.205
    """
    diameter_mm: float = 0.127 * 92 ** ((36 - gauge) / 39)
    return math.pi / 4 * diameter_mm**2


@cache
def plant_figures() -> PlantFigures:
    """Read ``plant.toml``; raises pydantic's ValidationError when a figure or a source is missing."""
    path = resources.files("passerelle.core.catalog") / "data" / "plant.toml"
    raw = tomllib.loads(path.read_text(encoding="utf-8"))
    copper = Copper.model_validate(raw["copper"])
    power = raw["power_source"]
    return PlantFigures.model_validate(
        {
            "fill": raw["fill"],
            "bends": raw["bends"],
            "pull": raw["pull"],
            "bend_classes": raw["bend_class"],
            "copper": copper,
            "conductors": (*_gauges(copper, raw["conductor_source"]), *_metric(raw)),
            "ethernet_power": {
                "classes": raw["power_class"],
                "watts_source": power["watts"],
                "volts_source": power["volts"],
                "reach_m": power["reach_m"],
                "reach_source": power["reach_source"],
            },
            "sold_strands": raw["sold"]["strands"],
            "sold_source": raw["sold"]["strands_source"],
            "growth": raw["growth"],
        }
    )


def _metric(raw: dict[str, Any]) -> list[dict[str, Any]]:
    return [{**row, "source": raw["conductor_source"]["metric"]} for row in raw["conductor"]]


def _gauges(copper: Copper, rows: dict[str, Any]) -> list[dict[str, Any]]:
    """The American gauges at the greatest resistance that such a wire is taken to have, like the metric rows."""
    found = []
    for gauge in (24, 23, 22, 20, 18, 16, 14, 12, 10):
        area = awg_area_mm2(gauge)
        ideal = copper.resistivity_ohm_mm2_per_m / area * 1000
        limit = rows["gauge_limits"].get(str(gauge))
        found.append(
            {
                "name": f"AWG {gauge}",
                "area_mm2": area,
                "ohm_per_km": limit if limit is not None else ideal * rows["gauge_factor"],
                "source": rows["gauge_limit_source"] if limit is not None else rows["gauge"],
            }
        )
    return found
