"""Cures for links without glass, and for cables in the wrong surroundings."""

from __future__ import annotations

from collections.abc import Iterator
from typing import get_args

from passerelle.core.catalog.copper import CATEGORIES, copper_figures
from passerelle.core.catalog.records import Jacket
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.build import NEW_GRADES, LinkEnd, build_link, cage_for
from passerelle.core.link.chain import COPPER_KINDS, Link, called, copper, length_m, place_at, ports
from passerelle.core.link.edits import Edit, Insert, Remove, SetFields
from passerelle.core.link.elements import Assembly, Jack, Run, Twisted
from passerelle.core.match.copper import NATIVE
from passerelle.core.match.spaces import construction_for
from passerelle.core.repairs.effort import Effort


def category_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Twisted pair of the next better categories; of an assembly the makes that reach farther; else glass."""
    yield from glass_cures(link, finding, catalog)
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


def glass_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Glass instead of copper, of the speed that is wanted: a media converter at each end that is a native port."""
    ends = ports(link)
    total_m, rate = length_m(link), link.wanted_rate_mbps
    rates = set.intersection(*(set(port.rates_mbps) for port in ends)) if len(ends) == 2 else set()
    rate = rate or max(rates, default=None)
    if total_m is None or rate is None or len(ends) != 2:
        return
    rows = [
        (application, row)
        for application in catalog.applications.values()
        for row in application.reaches
        if application.rate_mbps == rate
        and application.fibers == 2
        and row.fiber in NEW_GRADES
        and row.launch == "any"
        and row.min_length_m <= total_m <= row.reach_m
    ]
    for application, row in sorted(rows, key=lambda pair: pair[1].reach_m)[:2]:
        yield Fix(
            label=f"Pull glass instead: {application.name} on {row.fiber}, a media converter at each native port",
            effort=Effort.PULL,
            edits=_in_glass(link, application.name, row.fiber, total_m, catalog),
        )


def _in_glass(link: Link, application: str, grade: str, total_m: float, catalog: Catalog) -> tuple[Edit, ...]:
    """Edits that put a chain of glass where the copper was; a native port becomes its converter's cage."""
    first, last = ports(link)
    cage = cage_for(catalog, application)
    rate = catalog.application(application).rate_mbps
    plain = build_link(
        link.name,
        LinkEnd(first.place, "", cage, (rate,)),
        LinkEnd(last.place, "", cage, (rate,)),
        application,
        (grade,),
        max(total_m - 4.0, 1.0),
        catalog,
    )
    spaces = tuple(dict.fromkeys(s for line in copper(link) for s in line.spaces))
    edits: list[Edit] = [Remove(element=e.id) for e in link.elements if e not in (first, last)]
    for port in (first, last):
        if port.cage == NATIVE:
            values = {"cage": cage, "rates_mbps": (rate,), "label": "media converter"}
            edits.append(SetFields(element=port.id, values=values))
    after = first.id
    for element in plain.elements[1:-1]:
        piece = element
        if isinstance(piece, Run) and spaces:
            piece = piece.model_copy(update={"spaces": spaces, "construction": construction_for(spaces, catalog)})
        edits.append(Insert(after=after, piece=piece))
        after = piece.id
    return tuple(edits)


def mixed_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Take the pieces of one kind out of a chain that mixes copper and fiber, the fewer first."""
    strange = [e.id for e in link.elements if e.kind in COPPER_KINDS]
    glassy = [e.id for e in link.elements if e.kind != "port" and e.kind not in COPPER_KINDS]
    for group, words in ((strange, "copper"), (glassy, "fiber")):
        yield Fix(
            label=f"Take the {words} out: {len(group)} piece{'s' * (len(group) > 1)}",
            effort=Effort.CORD * len(group),
            edits=tuple(Remove(element=one) for one in group),
        )


def jacket_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Cable whose jacket is made for all that it passes, without metal where power lies beside it."""
    for element in link.elements:
        if element.id not in finding.at:
            continue
        if isinstance(element, Twisted):
            for jacket in get_args(Jacket)[1:]:
                yield Fix(
                    label=f"Order {called(link, element)} with a jacket for '{jacket}'",
                    effort=Effort.PULL if element.fixed else Effort.CORD,
                    edits=(SetFields(element=element.id, values={"jacket": jacket}),),
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
