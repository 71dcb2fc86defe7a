"""Cures for links without glass, and for cables in the wrong surroundings."""

from __future__ import annotations

from collections.abc import Iterator
from typing import get_args

from passerelle.core.catalog.copper_figures import CATEGORIES, copper_figures
from passerelle.core.catalog.records import Jacket
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.build import NEW_GRADES, LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link, called, length_m, place_at, ports
from passerelle.core.link.compose import Standing, compose
from passerelle.core.link.edits import Edit, Insert, Remove, SetFields
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort
from passerelle.core.rules.air import TEMPERATURE_OUTSIDE, TEMPERATURE_UNKNOWN
from passerelle.core.rules.coding import CODING_REFUSED, CODING_UNKNOWN
from passerelle.core.rules.copper import COPPER_CATEGORY, COPPER_CONDITIONAL, COPPER_MEETS_GLASS, COPPER_TOO_LONG
from passerelle.core.rules.inside import JACKET_TOO_FAR_INSIDE
from passerelle.core.rules.port import NATIVE, plugged
from passerelle.core.rules.spaces import (
    CONSTRUCTION_UNKNOWN,
    COPPER_BETWEEN_BUILDINGS,
    JACKET_INDOORS,
    JACKET_NOT_RATED,
    JACKET_UNKNOWN,
    METAL_BESIDE_POWER,
    construction_for,
)


@cures(COPPER_TOO_LONG, COPPER_CATEGORY, COPPER_CONDITIONAL)
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


@cures(COPPER_BETWEEN_BUILDINGS)
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
    spaces = tuple(dict.fromkeys(s for line in compose(link, catalog).copper for s in line.traits.spaces))
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


@cures(COPPER_MEETS_GLASS)
def mixed_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Take the pieces of one kind out of a chain that mixes copper and fiber, the fewer first."""
    places = compose(link, catalog).places
    realms = {p.id: p.traits.realm if isinstance(p, Standing) else p.mating.realm for p in places}
    strange = [name for name, realm in realms.items() if realm == "copper"]
    glassy = [name for name, realm in realms.items() if realm == "light"]
    for group, words in ((strange, "copper"), (glassy, "fiber")):
        yield Fix(
            label=f"Take the {words} out: {len(group)} piece{'s' * (len(group) > 1)}",
            effort=Effort.CORD * len(group),
            edits=tuple(Remove(element=one) for one in group),
        )


@cures(
    JACKET_NOT_RATED,
    JACKET_INDOORS,
    JACKET_TOO_FAR_INSIDE,
    JACKET_UNKNOWN,
    METAL_BESIDE_POWER,
    CONSTRUCTION_UNKNOWN,
)
def jacket_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Cable whose jacket is made for all that it passes, without metal where power lies beside it."""
    for line in compose(link, catalog).lines:
        if line.id not in finding.at:
            continue
        name = called(link, line.piece)
        if line.traits.construction is not None:
            for made in catalog.constructions.values():
                if made.name != line.traits.construction:
                    yield Fix(
                        label=f"Order {name} as '{made.name}'",
                        effort=Effort.PULL,
                        edits=(SetFields(element=line.id, values={"construction": made.name}),),
                    )
        elif "jacket" in type(line.piece).model_fields:
            for jacket in get_args(Jacket)[1:]:
                yield Fix(
                    label=f"Order {name} with a jacket for '{jacket}'",
                    effort=Effort.PULL if line.traits.fixed else Effort.CORD,
                    edits=(SetFields(element=line.id, values={"jacket": jacket}),),
                )


@cures(TEMPERATURE_OUTSIDE, TEMPERATURE_UNKNOWN)
def temperature_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """The same module, or assembly, in a wider temperature class."""
    for standing in compose(link, catalog).parts:
        if standing.id in finding.at and standing.traits.temperature_class is not None:
            for name in ("extended", "industrial"):
                where = place_at(link, standing.piece)
                yield Fix(
                    label=f"Exchange the {standing.word} at {where} for one of the {name} class",
                    effort=Effort.MODULE,
                    edits=(SetFields(element=standing.id, values={"temperature_class": name}),),
                )


@cures(CODING_REFUSED, CODING_UNKNOWN)
def coding_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """What is plugged into a port in the coding that it accepts, of an assembly that end."""
    for one in plugged(compose(link, catalog), catalog):
        if one.port.id in finding.at and one.piece.id in finding.at and one.socket.make:
            where = one.socket.place or one.socket.label or "this port"
            field = "coding" if one.edge == "edge" else f"{one.edge}_coding"
            yield Fix(
                label=f"Exchange the {one.piece.word} at {where} for one coded {one.socket.make}",
                effort=Effort.MODULE,
                edits=(SetFields(element=one.piece.id, values={field: one.socket.make}),),
            )
