"""Chains without glass: direct-attach assemblies, and twisted pair from native ports or plug-in modules."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from typing import Literal

from passerelle.core.catalog.copper_figures import AssemblyRow, Category, copper_figures
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.jack import Jack
from passerelle.core.parts.kinds.outlet import Outlet
from passerelle.core.parts.kinds.twisted import Twisted
from passerelle.core.parts.registry import Element
from passerelle.core.rules.air import mildest_class
from passerelle.core.rules.made_length import dressing_m
from passerelle.core.rules.port import NATIVE
from passerelle.core.rules.spaces import jacket_for, one_room
from passerelle.core.selection.drafts import Draft, coding_for, is_estimate, link_name, notes_of, port_at
from passerelle.core.selection.wish import PortWish, Question

CORD_M, CORD_ONLY_M = 2.0, 10.0
Socket = Literal["native", "module"]


def copper_drafts(question: Question, catalog: Catalog) -> Iterator[Draft]:
    """Every assembly and every twisted-pair channel of the speed that the two ports could take."""
    if "direct attach" in question.media:
        yield from _assemblies(question, catalog)
    if "twisted pair" in question.media:
        yield from _channels(question, catalog)


def _assemblies(question: Question, catalog: Catalog) -> Iterator[Draft]:
    for row in copper_figures().assembly:
        if row.rate_mbps != question.rate_mbps or (row.legs > 1 and row.legs < question.hosts):
            continue
        if row.made == "active optical" and "between buildings" in question.spaces:
            continue  # it is a bare cord
        pairs = [(row.form, row.leg_form or row.form)]
        if row.leg_form:
            pairs.append((row.leg_form, row.form))
        for forms in pairs:
            cages = [
                wish.cage or next(c.name for c in catalog.cages.values() if form in c.accepts)
                for wish, form in zip((question.near, question.far), forms, strict=True)
            ]
            if not all(form in catalog.cage(cage).accepts for form, cage in zip(forms, cages, strict=True)):
                continue
            first = _assembled(question, row, forms, cages, catalog)
            legs = _each_leg(first, question.hosts) if row.legs > 1 else (first,)
            yield Draft(
                key=f"{row.name}, {row.made}",
                application=row.name,
                fiber=(row.made,),
                medium="direct attach",
                links=legs,
                reach_m=row.reach_m,
                speed_mbps=row.rate_mbps,
                one_flow_mbps=row.rate_mbps,
                kind="split port" if row.legs > 1 else "one link",
            )
            break


def _each_leg(link: Link, hosts: int) -> tuple[Link, ...]:
    """The link of each leg that has a host; the assembly is bought once."""
    if hosts == 1:
        return (link,)
    names = (f"{link.name[:100]}, leg {number}" for number in range(1, hosts + 1))
    return tuple(link.model_copy(update={"name": name}) for name in names)


def _assembled(
    question: Question, row: AssemblyRow, forms: tuple[str, str], cages: list[str], catalog: Catalog
) -> Link:
    near, far = question.near, question.far
    cold = [c for c in (near.coldest_c, far.coldest_c) if c is not None]
    hot = [c for c in (near.hottest_c, far.hottest_c) if c is not None]
    way_m = question.longest_m
    line = Assembly(
        length_m=sold_length_m(way_m),
        way_m=way_m,
        way_guessed=is_estimate(question),
        made=row.made,
        left_form=forms[0],
        right_form=forms[1],
        rate_mbps=row.rate_mbps,
        legs=row.legs,
        left_coding=coding_for(near),
        right_coding=coding_for(far),
        temperature_class=mildest_class(min(cold, default=None), max(hot, default=None), catalog),
        spaces=question.spaces,
    )
    return _between(question, cages, [line], catalog)


def sold_length_m(way_m: float | None) -> float | None:
    """The next length in m in which an assembly is sold that reaches and can be dressed.

    The longest one where that only reaches; the way itself where none does, so that what is ruled out says how far
    it would have to go.
    """
    if way_m is None:
        return None
    sold = copper_figures().assembly_lengths.values_m
    dressed = next((length for length in sold if length >= way_m + dressing_m(way_m)), None)
    return dressed if dressed is not None else max(way_m, max(sold) if way_m <= max(sold) else 0.0)


def _channels(question: Question, catalog: Catalog) -> Iterator[Draft]:
    figures = copper_figures()
    rate = question.rate_mbps
    category: Category = question.category or ("Category 6A" if rate <= 10_000 else "Category 8")
    row = figures.twisted_row(rate, category)
    form: Literal["SFP", "SFP+"] = "SFP" if rate <= 1000 else "SFP+"
    usual = figures.jack_row(form, rate)
    known = any(one.rate_mbps == rate for one in figures.twisted)
    if not known:
        return
    told: set[int] = set()
    for sockets in product(
        *(_sockets(wish, form, usual is not None, catalog) for wish in (question.near, question.far))
    ):
        modules = sockets.count("module")
        if modules in told:
            continue
        told.add(modules)
        words = {0: "", 1: ", a plug-in module at one end", 2: ", plug-in modules at both ends"}[modules]
        reach_m = row.reach_m if row else 0.0
        name = row.name if row else f"{question.rate_mbps // 1000}GBASE-T"
        yield Draft(
            key=f"{name} on {category}{words}",
            application=name,
            fiber=(category,),
            medium="twisted pair",
            links=(_channel(question, category, sockets, form, catalog),),
            reach_m=min(reach_m, usual.reach_m) if modules and usual else reach_m,
            speed_mbps=rate,
            one_flow_mbps=rate,
            new_cable=question.category is None,
        )


def _sockets(wish: PortWish, form: str, made: bool, catalog: Catalog) -> list[Socket]:
    """How twisted pair meets a port: natively, by a plug-in module, or not at all."""
    if wish.cage == NATIVE:
        return ["native"]
    if not wish.cage:
        return ["native", "module"] if made else ["native"]
    return ["module"] if made and form in catalog.cage(wish.cage).accepts else []


def _channel(
    question: Question,
    category: Category,
    sockets: tuple[Socket, ...],
    form: Literal["SFP", "SFP+"],
    catalog: Catalog,
) -> Link:
    jacket = jacket_for(question.spaces)
    line = Twisted(
        length_m=question.length_m,
        length_estimated=is_estimate(question),
        category=category,
        spaces=question.spaces,
        jacket=jacket,
    )
    cord = Twisted(length_m=CORD_M, category=category)
    short = question.longest_m is not None and question.longest_m <= CORD_ONLY_M and not question.category
    short = short and one_room(question.spaces)
    if short:
        middle: list[Element] = [line]
    else:
        middle = [cord, Outlet(label="P1"), line.model_copy(update={"fixed": True}), Outlet(label="P2"), cord]
    cages: list[str] = []
    for position, (wish, socket) in enumerate(zip((question.near, question.far), sockets, strict=True)):
        cages.append(wish.cage or (NATIVE if socket == "native" else form))
        if socket == "module":
            jack = Jack(
                form=form,
                coding=coding_for(wish),
                temperature_class=mildest_class(wish.coldest_c, wish.hottest_c, catalog),
            )
            middle.insert(len(middle) if position else 0, jack)
    return _between(question, cages, middle, catalog)


def _between(question: Question, cages: list[str], middle: list[Element], catalog: Catalog) -> Link:
    rate = question.rate_mbps
    return with_ids(
        Link(
            name=link_name(question),
            wanted_rate_mbps=rate,
            notes=notes_of(question),
            elements=(
                port_at(question.near, question.from_place, cages[0], rate, catalog),
                *middle,
                port_at(question.far, question.to_place, cages[1], rate, catalog),
            ),
        )
    )
