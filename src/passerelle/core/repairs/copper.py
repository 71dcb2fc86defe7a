"""Cures for links without glass, and for cables in the wrong surroundings."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.copper import CATEGORIES, copper_figures
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link, called, place_at, ports
from passerelle.core.link.edits import SetFields
from passerelle.core.link.elements import Assembly, Jack, Run, Twisted
from passerelle.core.repairs.effort import Effort


def category_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Twisted pair of the next better categories; of an assembly the makes that reach farther."""
    for element in link.elements:
        if isinstance(element, Assembly) and element.id in finding.at:
            yield from _other_make(element)
    lines = [e for e in link.elements if isinstance(e, Twisted)]
    for category in CATEGORIES:
        poorer = [e for e in lines if CATEGORIES.index(e.category) < CATEGORIES.index(category)]
        if poorer:
            pull = any(line.fixed for line in poorer)
            yield Fix(
                label=f"{'Pull it again' if pull else 'Use cords'} in {category}",
                effort=Effort.PULL if pull else Effort.CORD * len(poorer),
                edits=tuple(SetFields(element=line.id, values={"category": category}) for line in poorer),
            )


def _other_make(line: Assembly) -> Iterator[Fix]:
    forms = frozenset({line.left_form, line.right_form})
    for row in copper_figures().assembly:
        if (row.rate_mbps, row.forms, row.legs) == (line.rate_mbps, forms, line.legs) and row.made != line.made:
            yield Fix(
                label=f"Use an {row.made} assembly" if row.made[0] == "a" else f"Use a {row.made} assembly",
                effort=Effort.CORD,
                edits=(SetFields(element=line.id, values={"made": row.made, "reach_m": None}),),
            )


def jacket_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Cable whose jacket is made for all that it passes, without metal where power lies beside it."""
    for element in link.elements:
        if element.id not in finding.at:
            continue
        if isinstance(element, Twisted) and not element.outdoor:
            yield Fix(
                label=f"Order {called(link, element)} with an outdoor jacket",
                effort=Effort.PULL if element.fixed else Effort.CORD,
                edits=(SetFields(element=element.id, values={"outdoor": True}),),
            )
        if isinstance(element, Run):
            for made in catalog.constructions.values():
                if made.name != element.construction:
                    yield Fix(
                        label=f"Order {called(link, element)} as '{made.name}'",
                        effort=Effort.PULL,
                        edits=(SetFields(element=element.id, values={"construction": made.name}),),
                    )


def jack_temperature_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """The same plug-in module or assembly in a wider temperature class."""
    for element in link.elements:
        if isinstance(element, Jack | Assembly) and element.id in finding.at:
            for name in ("extended", "industrial"):
                yield Fix(
                    label=f"Take the {element.kind} at {place_at(link, element)} in the {name} class",
                    effort=Effort.MODULE,
                    edits=(SetFields(element=element.id, values={"temperature_class": name}),),
                )


def copper_coding_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """The plug-in module, or that end of the assembly, in the coding that its port accepts."""
    ends = ports(link)
    for port in ends:
        if port.id not in finding.at or not port.make:
            continue
        side = "left_coding" if port is ends[0] else "right_coding"
        for element in link.elements:
            if element.id in finding.at and isinstance(element, Jack | Assembly):
                field = "coding" if isinstance(element, Jack) else side
                yield Fix(
                    label=f"Order the end at {port.place or port.label or 'this port'} coded {port.make}",
                    effort=Effort.MODULE,
                    edits=(SetFields(element=element.id, values={field: port.make}),),
                )
