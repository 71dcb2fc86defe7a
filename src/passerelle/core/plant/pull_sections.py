"""The sections of a pull along its ways: bends spread evenly to draw it, where they pull hardest for limits."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.plant.pulling import Pull, Section, pull
from passerelle.core.plant.records import Way

Direction = Literal["forwards", "backwards"]


def sections_of(way: Way, start: str) -> list[Section]:
    """A way as straights of one length with its bends between them, from the end that is met first.

    The length of a way is level; its climb or fall is a section of its own, at the side where it pulls harder.
    """
    forwards = start == way.start
    bends = [bend for bend in (way.bends_deg if forwards else reversed(way.bends_deg)) if bend]
    rise_m = way.rise_m if forwards else -way.rise_m
    level_m = way.length_m / (len(bends) + 1)
    radius_m = way.bend_radius_m or plant_figures().pull.bend_radius_m
    level = [Section(length_m=level_m, bend_deg=bend, bend_radius_m=radius_m) for bend in (*bends, 0.0)]
    if rise_m == 0:
        return level
    vertical = Section(length_m=abs(rise_m), rise_m=rise_m)
    return [vertical, *level] if rise_m > 0 else [*level, vertical]


def hardest_pulls(
    ways: Sequence[Way], path: Sequence[str], weight: float, friction: float
) -> dict[Direction, Pull]:
    """The hardest pull by direction: all bends of each way where it pulls hardest.

    That is behind its straights and its climb, and before its fall: e^(μθ) multiplies all that came before.
    """
    directions: tuple[Direction, Direction] = ("forwards", "backwards")
    return {
        direction: pull(_gathered(ways, path, direction), weight, friction, direction=direction)
        for direction in directions
    }


def _gathered(ways: Sequence[Way], path: Sequence[str], direction: Direction) -> list[Section]:
    found: list[Section] = []
    for way, start in zip(ways, path, strict=False):
        straight = [one.model_copy(update={"bend_deg": 0.0}) for one in sections_of(way, start)]
        rising = [one for one in straight if one.rise_m > 0]
        falling = [one for one in straight if one.rise_m < 0]
        level = [one for one in straight if not one.rise_m]
        radius_m = way.bend_radius_m or plant_figures().pull.bend_radius_m
        bends = [Section(length_m=0.0, bend_deg=sum(way.bends_deg), bend_radius_m=radius_m)]
        if direction == "forwards":
            found += [*rising, *level, *bends, *falling]
        else:  # from the last to the first, and what rises is let down
            found += [*rising, *bends, *level, *falling]
    return found
