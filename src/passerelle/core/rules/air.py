"""Modules where it is cold or hot, boxes where it is wet or dusty."""

from __future__ import annotations

from typing import cast, get_args

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Standing
from passerelle.core.parts.part import Socket, TemperatureClass
from passerelle.core.parts.piece import Ingress, Water

TEMPERATURE_UNKNOWN = Rule("temperature.unknown", "match")
TEMPERATURE_OUTSIDE = Rule("temperature.outside", "match")
INGRESS_UNKNOWN = Rule("ingress.unknown", "match")
INGRESS_TOO_LOW = Rule("ingress.too_low", "match")

_WATER: dict[Water, int] = {"dry": 0, "splashed": 4, "hosed": 5, "flooded": 7}
_DUST = 5


def mildest_class(coldest_c: float | None, hottest_c: float | None, catalog: Catalog) -> TemperatureClass:
    """The mildest temperature class of a module for the air at its port in °C; ``unknown`` where none is asked for.

    Where no class covers it the widest is named: its review says that it does not stand the place.
    """
    if coldest_c is None and hottest_c is None:
        return "unknown"
    mildest = catalog.temperature_class("commercial")
    coldest = coldest_c if coldest_c is not None else mildest.coldest_c
    hottest = (hottest_c or 0) + catalog.self_heating.rise_c
    for name in get_args(TemperatureClass)[1:]:
        if catalog.temperature_class(name).covers(coldest, hottest):
            return cast(TemperatureClass, name)
    return "industrial"


def mildest_ingress(water: Water, dusty: bool, catalog: Catalog) -> Ingress:
    """The first degree of protection that stands this water and dust; ``unknown`` where none is asked for."""
    numerals = _WATER[water], _DUST if dusty else 0
    if numerals == (0, 0):
        return "unknown"
    fits = (one.name for one in catalog.ingress_classes.values() if one.stands(*numerals))
    return cast(Ingress, next(fits, "unknown"))


def temperature_findings(
    port: Socket, at: tuple[str, str], own_class: TemperatureClass | None, catalog: Catalog
) -> list[Finding]:
    """The module's temperature class against the air at its port, both in °C.

    At the cold end the case is as cold as the air, for a link that starts cold; at the hot end it is warmer by
    the rise that the catalog names. Nothing is said where the air is not known. ``at`` holds the ids of the port
    and of what is plugged into it.
    """
    coldest, hottest = port.coldest_c, port.hottest_c
    if own_class is None or (coldest is None and hottest is None):
        return []
    rise = catalog.self_heating
    mildest = catalog.temperature_class("commercial")
    needs = (coldest if coldest is not None else mildest.coldest_c, (hottest or 0) + rise.rise_c)
    fits = [c.name for c in catalog.temperature_classes.values() if c.covers(*needs)]
    covering = ", ".join(fits) or "none"
    if own_class == "unknown":
        if mildest.covers(*needs):
            return []
        return [
            TEMPERATURE_UNKNOWN.undecided(
                at,
                "It is not known whether this module stands the temperature at its port.",
                f"The case sees {needs[0]:g} to {needs[1]:g} °C; classes that cover it: "
                + (", ".join(fits) or "none")
                + ".",
                mildest.source,
            ).of(coldest_c=needs[0], hottest_c=needs[1])
        ]
    own = catalog.temperature_class(own_class)
    if own.covers(*needs):
        return []
    return [
        TEMPERATURE_OUTSIDE.fail(
            at,
            f"A module of the {own.name} class does not stand the temperature at its port.",
            f"The class goes from {own.coldest_c:g} to {own.hottest_c:g} °C, the case sees {needs[0]:g} to "
            f"{needs[1]:g} °C; classes that cover it: {covering}.",
            own.source,
            rise.source,
        ).of(temperature_class=own.name, coldest_c=needs[0], hottest_c=needs[1])
    ]


def ingress_findings(standing: Standing, catalog: Catalog) -> list[Finding]:
    """The degree of protection (IEC 60529) of a port's box against the water and dust at its place."""
    port = standing.traits.socket
    if port is None:
        return []
    water, dust = _WATER[port.water], _DUST if port.dusty else 0
    if water == 0 and dust == 0:
        return []
    meets = " and ".join(word for word in ("dusty" if dust else "", port.water if water else "") if word)
    fits = [c.name for c in catalog.ingress_classes.values() if c.stands(water, dust)]
    needs = f"It asks for IP{dust or 'X'}{water or 'X'}; classes that cover it: {', '.join(fits)}."
    source = next(iter(catalog.ingress_classes.values())).source
    if port.ingress == "unknown":
        return [
            INGRESS_UNKNOWN.undecided(
                (standing.id,),
                f"It is not known whether the box stands its place, which is {meets}.",
                needs,
                source,
            ).of(place=meets)
        ]
    own = catalog.ingress_classes[port.ingress]
    if own.stands(water, dust):
        return []
    return [
        INGRESS_TOO_LOW.fail(
            (standing.id,),
            f"A box of {own.name} does not stand its place, which is {meets}.",
            needs,
            own.source,
        ).of(box=own.name, place=meets)
    ]
