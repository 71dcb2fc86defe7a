"""Duct fill and pulling tension, by the usual sums of the trade.

Straight: T_out = T_in + w·L·(μ·cos α + sin α) with the weight w in N/m and the slope α. Bend: T_out = T_in·e^(μθ).
Sidewall pressure at a bend: T_out / r. Fill: cable area over bore area.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.sources import Frozen, Source

GRAVITY_M_S2 = 9.80665
DEFAULT_FRICTION = plant_figures().pull.friction


class Section(Frozen):
    """A straight stretch, then a bend at its end (0° for none). Lengths in m, angles in degrees."""

    length_m: float
    rise_m: float = 0.0
    bend_deg: float = 0.0
    bend_radius_m: float = plant_figures().pull.bend_radius_m


class Step(Frozen):
    """Tension in N after the straight and after the bend of one section, sidewall pressure in N/m at the bend."""

    section: int
    after_straight_n: float
    after_bend_n: float
    sidewall_n_per_m: float


class Pull(Frozen):
    """One direction of a pull: tension step by step, and the largest tension and pressure in it."""

    direction: Literal["forwards", "backwards"]
    steps: tuple[Step, ...]
    tension_n: float
    sidewall_n_per_m: float


class Fill(Frozen):
    """Share of a bore that cables take, its limit by their number, and whether a code makes it binding."""

    cables: int
    share: float
    limit: float
    binding: bool
    source: Source

    @property
    def kept(self) -> bool:
        """Whether the share is at most the limit."""
        return self.share <= self.limit + 1e-9


def duct_fill(diameters_mm: Sequence[float], bore_mm: float, *, with_power: bool = False) -> Fill:
    """Fill of a round bore by round cables.

    Args:
        diameters_mm: outer diameters of all cables in the duct, in mm, shape (n,).
        bore_mm: inner diameter of the duct in mm.
        with_power: whether power conductors share the duct; the limit then binds by code, else it is good practice.

    Raises:
        ValueError: a diameter or the bore is not positive.

    >>> round(duct_fill([10.0], 20.0).share, 2)
    0.25
    """
    if bore_mm <= 0 or any(d <= 0 for d in diameters_mm):
        raise ValueError("diameters and bore must be more than zero")
    share = sum(d * d for d in diameters_mm) / (bore_mm * bore_mm)
    figures = plant_figures().fill
    limit = figures.limits.get(min(len(diameters_mm), 3), 1.0)
    return Fill(cables=len(diameters_mm), share=share, limit=limit, binding=with_power, source=figures.source)


def pull(
    sections: Sequence[Section],
    weight_kg_per_km: float,
    friction: float = DEFAULT_FRICTION,
    *,
    reel_n: float = 0.0,
    direction: Literal["forwards", "backwards"] = "forwards",
) -> Pull:
    """Tension along a pull, the pulling eye leading.

    Args:
        sections: stretches in the order from start to end; ``backwards`` pulls from the end to the start.
        weight_kg_per_km: weight of all that is pulled together, in kg/km.
        friction: coefficient of friction, without unit.
        reel_n: tension at the reel in N.

    Raises:
        ValueError: a negative length, weight or friction.

    >>> round(pull([Section(length_m=100)], 100, 0.5).tension_n, 2)  # 0.1 kg/m over 100 m at 0.5
    49.03
    """
    if weight_kg_per_km < 0 or friction < 0 or any(s.length_m < 0 for s in sections):
        raise ValueError("lengths, weight and friction must not be negative")
    newton_per_m = weight_kg_per_km / 1000 * GRAVITY_M_S2
    order = list(enumerate(sections))
    if direction == "backwards":
        order.reverse()
    tension_n = reel_n
    steps: list[Step] = []
    for number, section in order:
        if direction == "forwards":
            straight_n = _straight(tension_n, section.length_m, section.rise_m, newton_per_m, friction)
            tension_n = bent_n = _bend(straight_n, section.bend_deg, friction)
        else:
            bent_n = _bend(tension_n, section.bend_deg, friction)
            tension_n = straight_n = _straight(bent_n, section.length_m, -section.rise_m, newton_per_m, friction)
        sidewall = bent_n / section.bend_radius_m if section.bend_deg > 0 else 0.0
        steps.append(
            Step(section=number, after_straight_n=straight_n, after_bend_n=bent_n, sidewall_n_per_m=sidewall)
        )
    peak_n = max((max(s.after_straight_n, s.after_bend_n) for s in steps), default=reel_n)
    pressure = max((s.sidewall_n_per_m for s in steps), default=0.0)
    return Pull(direction=direction, steps=tuple(steps), tension_n=peak_n, sidewall_n_per_m=pressure)


def both_ways(
    sections: Sequence[Section], weight_kg_per_km: float, friction: float = DEFAULT_FRICTION
) -> tuple[Pull, Pull]:
    """The pull forwards and backwards; the easier one first."""
    pulls = (
        pull(sections, weight_kg_per_km, friction),
        pull(sections, weight_kg_per_km, friction, direction="backwards"),
    )
    first, second = sorted(pulls, key=lambda p: round(p.tension_n, 3))
    return first, second


def _straight(tension_n: float, length_m: float, rise_m: float, newton_per_m: float, friction: float) -> float:
    """Tension after a straight; a stretch that falls can make it less, never less than zero."""
    if length_m == 0:
        return tension_n
    sine = max(-1.0, min(1.0, rise_m / length_m))
    gain_n = newton_per_m * length_m * (friction * math.sqrt(1 - sine * sine) + sine)
    return max(0.0, tension_n + gain_n)


def _bend(tension_n: float, bend_deg: float, friction: float) -> float:
    """Tension after a bend (capstan equation)."""
    return tension_n * math.exp(friction * math.radians(bend_deg))
