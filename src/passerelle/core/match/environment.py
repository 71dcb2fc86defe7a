"""Modules where it is cold or hot."""

from __future__ import annotations

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, fail, undecided
from passerelle.core.link.elements import Module, Port


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
