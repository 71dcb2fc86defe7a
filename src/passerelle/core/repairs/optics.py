"""Cures by other modules, by settings, and as a last resort by other glass."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.build import NEW_GRADES
from passerelle.core.link.bulk import all_glass
from passerelle.core.link.chain import Link, modules, place_at, ports
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Edit, SetFields
from passerelle.core.parts.kinds.module import Module
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort
from passerelle.core.rules.air import INGRESS_TOO_LOW, INGRESS_UNKNOWN
from passerelle.core.rules.launch import LAUNCH_OFFSET_MISSING
from passerelle.core.rules.mating import PANEL_CLASS_NOT_FOR_GLASS
from passerelle.core.rules.port import (
    APPLICATION_DIFFERS,
    APPLICATION_MIXED,
    CAGE_FORM,
    PAIR_SAME_SIDE,
    SPEED_BELOW_WANTED,
    SPEED_ENDS_DIFFER,
    SPEED_PORT,
)
from passerelle.core.rules.reach import FIBER_NOT_FOR_APPLICATION, REACH_EXCEEDED


@cures(SPEED_ENDS_DIFFER, SPEED_PORT, APPLICATION_DIFFERS, APPLICATION_MIXED, CAGE_FORM, PAIR_SAME_SIDE)
def module_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Exchange one module for the like of the other, or both for another application."""
    ends = modules(link)
    if len(ends) != 2:
        return
    yield from _listed_too(link, ends)
    a, b = ends
    partners = [catalog.application(m.application).partner for m in ends]
    if a.application == b.application and partners[0]:
        yield _exchange(link, (a,), partners[0])
        yield _exchange(link, (b,), partners[0])
    elif a.application != b.application:
        yield _exchange(link, (a,), b.application)
        yield _exchange(link, (b,), a.application)
    for application in _candidates(link, ends, catalog):
        yield _exchange(link, tuple(m for m in ends if m.application != application.name), application.name)


def _listed_too(link: Link, ends: tuple[Module, ...]) -> Iterator[Fix]:
    """Run a module as another application that it lists: a setting, nothing is exchanged."""
    for one in ends:
        for name in one.also:
            also = tuple(n for n in (*one.also, one.application) if n != name)
            yield Fix(
                label=f"Set the module at {place_at(link, one)} to {name}, which it lists too",
                effort=Effort.SETTING,
                edits=(SetFields(element=one.id, values={"application": name, "also": also, "form": ""}),),
            )


@cures(SPEED_BELOW_WANTED, FIBER_NOT_FOR_APPLICATION, REACH_EXCEEDED, LAUNCH_OFFSET_MISSING)
def medium_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Other modules on the glass that is there; failing that, the cable pulled again in another grade."""
    yield from module_cures(link, finding, catalog)
    ends = modules(link)
    if len(ends) != 2:
        return
    for application in _candidates(link, ends, catalog, keep_current=True):
        for grade in _one_grade_a_reach(application):
            edits = (*_set_application(ends, application.name), *all_glass(link, grade, catalog))
            cords = compose(link, catalog).glass
            pulled = any(cord.traits.fixed for cord in cords)
            what = (
                "Pull it again in" if pulled else f"Exchange {'the cord' if len(cords) == 1 else 'the cords'} for"
            )
            yield Fix(
                label=f"{what} {grade}, with {application.name} at both ends",
                effort=(Effort.PULL if pulled else Effort.CORD * len(cords)) + application.rate_mbps // 1000,
                edits=edits,
            )


@cures(INGRESS_TOO_LOW, INGRESS_UNKNOWN)
def ingress_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """The same port in a box or cabinet of a tighter class, the plainest first."""
    for port in ports(link):
        if port.id in finding.at:
            for name in catalog.ingress_classes:
                if name != port.ingress:
                    yield Fix(
                        label=f"Put the box at {port.place or port.label or 'this end'} into an {name} cabinet",
                        effort=Effort.CABINET,
                        edits=(SetFields(element=port.id, values={"ingress": name}),),
                    )


@cures(PANEL_CLASS_NOT_FOR_GLASS)
def grade_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """The panel in the class of the house's profile."""
    for element_id in finding.at:
        yield Fix(
            label="Count this panel by the house's allowance profile",
            effort=Effort.SETTING,
            edits=(SetFields(element=element_id, values={"loss_class": "mated pair"}),),
        )


def _candidates(
    link: Link, ends: tuple[Module, ...], catalog: Catalog, keep_current: bool = False
) -> list[Application]:
    """Applications that both ports can run, at the wanted rate or more, fastest need first."""
    common: set[int] | None = None
    for port in ports(link):
        common = set(port.rates_mbps) if common is None else common & set(port.rates_mbps)
    current = {m.application for m in ends}
    strands = min((catalog.application(name).fibers for name in current), default=2)
    wanted = link.wanted_rate_mbps or min((catalog.application(name).rate_mbps for name in current), default=0)
    found = [
        application
        for application in catalog.applications.values()
        if application.rate_mbps in (common or ())
        and application.fibers == strands
        and application.partner is None
        and application.rate_mbps >= wanted
        and (keep_current or current != {application.name})
    ]
    return sorted(found, key=lambda application: application.rate_mbps)


def _one_grade_a_reach(application: Application) -> list[str]:
    """The newest grades worth pulling: the ones with the longest row of their family."""
    return [row.fiber for row in application.reaches if row.fiber in NEW_GRADES and row.launch == "any"]


def _set_application(ends: tuple[Module, ...], name: str) -> tuple[Edit, ...]:
    return tuple(SetFields(element=m.id, values={"application": name}) for m in ends if m.application != name)


def _exchange(link: Link, changed: tuple[Module, ...], name: str) -> Fix:
    where = "both modules" if len(changed) == 2 else f"the module at {place_at(link, changed[0])}"
    return Fix(
        label=f"Exchange {where} for {name}",
        effort=Effort.MODULE * len(changed),
        edits=_set_application(changed, name),
    )
