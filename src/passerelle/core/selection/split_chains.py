"""Ports that are split by optics: one fast module, and a link for each host on a leg."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.build import cage_for, form_for
from passerelle.core.link.build_arrays import leg_link
from passerelle.core.link.chain import Link
from passerelle.core.parts.kinds.module import Module
from passerelle.core.selection.array_chains import dressed, grades_on, is_wanted
from passerelle.core.selection.drafts import Draft, link_name, port_at
from passerelle.core.selection.glass_chains import is_one_cord, reach_on
from passerelle.core.selection.wish import Question


def split_drafts(question: Question, catalog: Catalog) -> Iterator[Draft]:
    """A fast port split by optics over slower ones: asked from either side, at the speed of a leg."""
    if question.trunk or question.fiber or question.strands == 1:
        return
    for fast in catalog.applications.values():
        for split in fast.splits:
            slow = catalog.application(split.speaks)
            if slow.rate_mbps != question.rate_mbps or question.hosts > split.legs:
                continue
            for fast_is_near in (True, False):
                ends = (question.near, question.far) if fast_is_near else (question.far, question.near)
                if not ends[0].cage or not is_wanted(fast, question, catalog, ends[0], None):
                    continue
                if form_for(slow, ends[1].cage, catalog):
                    yield from _legs(question, fast, slow, split.legs, catalog, fast_is_near=fast_is_near)
                    break


def _legs(
    question: Question, fast: Application, slow: Application, legs: int, catalog: Catalog, *, fast_is_near: bool
) -> Iterator[Draft]:
    for fiber in grades_on(fast, question):
        if not slow.rows(fiber[0]):
            continue
        links = tuple(
            _leg(question, (fast, slow), fiber, (legs, number), catalog, fast_is_near=fast_is_near)
            for number in range(1, question.hosts + 1)
        )
        yield Draft(
            key=f"{fast.name} split into {legs}, {slow.name} on {fiber[0]}",
            application=slow.name,
            fiber=fiber,
            medium=fast.family,
            links=links,
            reach_m=min(reach_on(fast, fiber, catalog), reach_on(slow, fiber, catalog)),
            speed_mbps=slow.rate_mbps,
            one_flow_mbps=slow.rate_mbps,
            kind="split port",
        )


def _leg(
    question: Question,
    optics: tuple[Application, Application],
    fiber: tuple[str, ...],
    leg: tuple[int, int],
    catalog: Catalog,
    *,
    fast_is_near: bool,
) -> Link:
    fast, slow = optics
    wishes = (question.near, question.far) if fast_is_near else (question.far, question.near)
    places = (question.from_place, question.to_place)
    here, there = places if fast_is_near else places[::-1]
    ports = (
        port_at(wishes[0], here, wishes[0].cage, fast.rate_mbps, catalog).model_copy(
            update={"splits": wishes[0].splits, "rates_mbps": _with(wishes[0].rates_mbps, fast.rate_mbps)}
        ),
        port_at(wishes[1], there, wishes[1].cage or cage_for(catalog, slow.name), slow.rate_mbps, catalog),
    )
    name = link_name(question) if question.hosts == 1 else f"{link_name(question)[:100]}, leg {leg[1]}"
    form = form_for(fast, wishes[0].cage, catalog)
    made = leg_link(
        name,
        ports,
        fast,
        slow,
        fiber,
        question.length_m,
        legs=leg[0],
        leg=leg[1],
        form="" if form == fast.forms[0] else form,
        over_trunk=not is_one_cord(question),
    )
    return dressed(_sold_for(made, fast, slow), question, catalog, fast_is_near=fast_is_near)


def _sold_for(link: Link, fast: Application, slow: Application) -> Link:
    """The link with a module that is sold to face the slower one, where its clause lets it be too bright."""
    if fast.tx_power_dbm.max <= slow.rx_power_dbm.overload:
        return link
    elements = (
        e.model_copy(update={"sold_for": slow.name}) if isinstance(e, Module) and e.legs > 1 else e
        for e in link.elements
    )
    return link.model_copy(update={"elements": tuple(elements)})


def _with(rates: tuple[int, ...], rate: int) -> tuple[int, ...]:
    return rates if not rates or rate in rates else (*rates, rate)
