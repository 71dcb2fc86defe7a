"""The length of cable that is ordered, part by part, and how it is known."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import get_args

from pydantic import computed_field

from passerelle.core.catalog.material_figures import material_figures
from passerelle.core.house import HouseRules
from passerelle.core.parts.piece import LengthBy
from passerelle.core.plant.records import Cable
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen

SURENESS: tuple[LengthBy, ...] = (
    "guess",
    "unsaid",
    *[by for by in get_args(LengthBy) if by not in ("guess", "unsaid")],
)
"""How lengths are known, the least sure first."""


class OrderLength(Frozen):
    """The length in m that is ordered, as the sum of its parts.

    ``way_m`` is level, ``climbs_m`` what it climbs and falls, ``loops_m`` at closures, ``slack_m`` at both ends,
    ``waste_m`` what is cut off where it is terminated and tested. ``by`` is how the least sure part is known.
    """

    way_m: float
    climbs_m: float = 0.0
    loops_m: float = 0.0
    slack_m: float = 0.0
    waste_m: float = 0.0
    by: LengthBy = "unsaid"

    @computed_field  # type: ignore[prop-decorator]
    @property
    def laid_m(self) -> float:
        """What lies in the plant: all but the waste."""
        return round(self.way_m + self.climbs_m + self.loops_m + self.slack_m, 6)

    @computed_field  # type: ignore[prop-decorator]
    @property
    def total_m(self) -> float:
        """What is cut from a reel."""
        return round(self.laid_m + self.waste_m, 6)

    @computed_field  # type: ignore[prop-decorator]
    @property
    def made_m(self) -> float:
        """What a factory-made cable is ordered at: no waste, and rounded up to the step in which it is made."""
        step = material_figures().cable.made_step_m
        return math.ceil(round(self.laid_m / step, 6)) * step


def waste_m(house: HouseRules) -> float:
    """What is lost with each run that is terminated on site, in m: at both ends, and of the test."""
    return 2 * house.termination_waste_m + house.test_waste_m


def cable_length(cable: Cable, plant: Plant, house: HouseRules) -> OrderLength:
    """The length to order of a cable of the plan. Its own slack counts where it says one, else the house's."""
    ways, path = [plant.way_of[way] for way in cable.ways], plant.path_of[cable.id]
    return OrderLength(
        way_m=sum(way.length_m for way in ways),
        climbs_m=sum(abs(way.rise_m) for way in ways),
        loops_m=house.loop_m * sum(tap.place not in (path[0], path[-1]) for tap in plant.taps_of.get(cable.id, ())),
        slack_m=cable.slack_m or 2 * house.end_slack_m,
        waste_m=waste_m(house),
        by=least_sure(way.length_by for way in ways),
    )


def run_length(length_m: float, by: LengthBy, house: HouseRules) -> OrderLength:
    """The length to order of a run that lies on no plan: its length in the link and the house's slack."""
    return OrderLength(way_m=length_m, slack_m=2 * house.end_slack_m, waste_m=waste_m(house), by=by)


def least_sure(known: Iterable[LengthBy]) -> LengthBy:
    """Of several ways to know a length the least sure.

    >>> least_sure(["wheel", "guess", "drawing"])
    'guess'
    """
    return min(known, key=SURENESS.index, default="unsaid")
