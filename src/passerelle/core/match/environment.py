"""Modules where it is cold or hot, boxes where it is wet or dusty."""

from __future__ import annotations

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, fail, undecided
from passerelle.core.link.elements import Module, Port, Water

_WATER: dict[Water, int] = {"dry": 0, "splashed": 4, "hosed": 5, "flooded": 7}
_DUST = 5


def temperature_findings(port: Port, module: Module, catalog: Catalog) -> list[Finding]:
    """The module's temperature class against the air at its port, both in °C.

    At the cold end the case is as cold as the air, for a link that starts cold; at the hot end it is warmer by
    the rise that the catalog names. Nothing is said where the air is not known.
    """
    coldest, hottest = port.coldest_c, port.hottest_c
    if coldest is None and hottest is None:
        return []
    at = (port.id, module.id)
    rise = catalog.self_heating
    mildest = catalog.temperature_class("commercial")
    needs = (coldest if coldest is not None else mildest.coldest_c, (hottest or 0) + rise.rise_c)
    fits = [c.name for c in catalog.temperature_classes.values() if c.covers(*needs)]
    covering = ", ".join(fits) or "none"
    if module.temperature_class == "unknown":
        if mildest.covers(*needs):
            return []
        return [
            undecided(
                "temperature.unknown",
                at,
                "It is not known whether this module stands the temperature at its port.",
                f"The case sees {needs[0]:g} to {needs[1]:g} °C; classes that cover it: "
                + (", ".join(fits) or "none")
                + ".",
                mildest.source,
            )
        ]
    own = catalog.temperature_class(module.temperature_class)
    if own.covers(*needs):
        return []
    return [
        fail(
            "temperature.outside",
            at,
            f"A module of the {own.name} class does not stand the temperature at its port.",
            f"The class goes from {own.coldest_c:g} to {own.hottest_c:g} °C, the case sees {needs[0]:g} to "
            f"{needs[1]:g} °C; classes that cover it: {covering}.",
            own.source,
            rise.source,
        )
    ]


def ingress_findings(port: Port, catalog: Catalog) -> list[Finding]:
    """The box's degree of protection (IEC 60529) against the water and dust at its place."""
    water, dust = _WATER[port.water], _DUST if port.dusty else 0
    if water == 0 and dust == 0:
        return []
    meets = " and ".join(word for word in ("dusty" if dust else "", port.water if water else "") if word)
    fits = [c.name for c in catalog.ingress_classes.values() if c.stands(water, dust)]
    needs = f"It asks for IP{dust or 'X'}{water or 'X'}; classes that cover it: {', '.join(fits)}."
    source = next(iter(catalog.ingress_classes.values())).source
    if port.ingress == "unknown":
        return [
            undecided(
                "ingress.unknown",
                (port.id,),
                f"It is not known whether the box stands its place, which is {meets}.",
                needs,
                source,
            )
        ]
    own = catalog.ingress_classes[port.ingress]
    if own.stands(water, dust):
        return []
    return [
        fail(
            "ingress.too_low",
            (port.id,),
            f"A box of {own.name} does not stand its place, which is {meets}.",
            needs,
            own.source,
        )
    ]
