"""The way of a pull, to be drawn: its straights and bends, its points, and what lies in each bore."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from passerelle.core.plant.pulling import Fill, Section, duct_fill
from passerelle.core.plant.records import Way
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen


class PullPoint(Frozen):
    """A point at which a cable can be taken out: a place or a pull point, ``at_m`` along the pull."""

    name: str
    at_m: float
    place: bool


class PullStretch(Frozen):
    """A straight of the pull and the bend at its end, in the order of ``places``: a step of each pull is of one.

    ``from_m`` and ``to_m`` lie along the pull, climbs counted in. ``radius_m`` is None where nothing bends.
    """

    from_m: float
    to_m: float
    rise_m: float
    bend_deg: float
    radius_m: float | None


class DuctStripe(Frozen):
    """The part of a bore's area that one cable takes; ``pulled``: it is one of those that are pulled now."""

    name: str
    share: float
    pulled: bool


class DuctStrip(Frozen):
    """A way of the pull from ``from_m`` to ``to_m`` along it: what lies in it by area, and its fill.

    ``fill`` is None without a bore, or where a diameter is not known; then the stripes have no share either.
    """

    way: str
    name: str
    kind: str
    from_m: float
    to_m: float
    bore_mm: float | None
    stripes: tuple[DuctStripe, ...]
    fill: Fill | None


def stretches_of(sections: Sequence[Section]) -> tuple[PullStretch, ...]:
    """The sections along the pull."""
    found: list[PullStretch] = []
    at = 0.0
    for one in sections:
        radius_m = one.bend_radius_m if one.bend_deg else None
        stretch = PullStretch(
            from_m=at, to_m=at + one.length_m, rise_m=one.rise_m, bend_deg=one.bend_deg, radius_m=radius_m
        )
        found.append(stretch)
        at = stretch.to_m
    return tuple(found)


def ducts_of(plant: Plant, ways: Sequence[Way], pulled: Collection[str]) -> tuple[DuctStrip, ...]:
    """What lies in each way of the pull, by the area that it takes of the bore."""
    found: list[DuctStrip] = []
    at = 0.0
    for way in ways:
        inside = [cable for cable in plant.cables if way.id in cable.ways]
        diameters = [cable.diameter_mm for cable in inside if cable.diameter_mm]
        known = bool(way.bore_mm) and len(diameters) == len(inside)
        fill = duct_fill(diameters, way.bore_mm, with_power=way.power_conductors) if known and way.bore_mm else None
        stripes = tuple(
            DuctStripe(
                name=cable.name,
                share=((cable.diameter_mm or 0.0) / way.bore_mm) ** 2 if fill and way.bore_mm else 0.0,
                pulled=cable.id in pulled,
            )
            for cable in inside
        )
        to_m = at + way.length_m + abs(way.rise_m)
        found.append(
            DuctStrip(
                way=way.id,
                name=way.name,
                kind=way.kind,
                from_m=at,
                to_m=to_m,
                bore_mm=way.bore_mm,
                stripes=stripes,
                fill=fill,
            )
        )
        at = to_m
    return tuple(found)
