"""Chains of glass: every application of the wanted speed on the glass that is there, or on new glass."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from passerelle.core.budget.carries import carries
from passerelle.core.catalog.records import Application, Space
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.build import NEW_GRADES, LinkEnd, build_link, cage_for, form_for
from passerelle.core.link.chain import Link, glass
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.registry import Element
from passerelle.core.rules.air import mildest_class
from passerelle.core.rules.spaces import construction_for, one_room
from passerelle.core.selection.drafts import Draft, coding_for, is_estimate, link_name, notes_of, port_at
from passerelle.core.selection.wish import PortWish, Question

CORD_ONLY_M = 20.0
GRID_SHOWN_NM = 1550
CONTRACT: Literal["splice, low-loss"] = "splice, low-loss"
"""New cable of several reels: what its splices may lose is written into the contract."""
CLEARER, CLEARER_NM, CLEARER_FROM_M = "OS2 (G.652.D)", (1530, 1565), 10_000.0


def glass_drafts(question: Question, catalog: Catalog, house: HouseRules) -> Iterator[Draft]:
    """One draft for each application of the speed that the cages take, on each glass that it would run on.

    Glass that is there comes first; new cable beside it is an answer too.

    Args:
        question: what is asked.
        catalog: the catalog as the house counts.
        house: for how joints are made.
    """
    if question.fiber:
        fresh = question.model_copy(update={"fiber": ()})
        for draft in _drafts(question, catalog, house):
            yield replace(draft, new_cable=False)
        for draft in _drafts(fresh, catalog, house):
            yield replace(draft, key=f"{draft.key}, new cable")
    else:
        yield from _drafts(question, catalog, house)


def _drafts(question: Question, catalog: Catalog, house: HouseRules) -> Iterator[Draft]:
    for application, fiber in _pairs(question, catalog):
        yield Draft(
            key=f"{application.name} on {' or '.join(fiber)}",
            application=application.name,
            fiber=fiber,
            medium=application.family,
            links=(_chain(question, application, fiber, catalog, house),),
            reach_m=reach_on(application, fiber, catalog),
            speed_mbps=application.rate_mbps,
            one_flow_mbps=application.rate_mbps,
        )


def reach_on(application: Application, fiber: tuple[str, ...], catalog: Catalog) -> float:
    """How far in m the application goes on the poorest grade that the glass may be; 0 where it has no row."""
    found = [carries(application, grade, catalog) for grade in fiber]
    return min((carried.reach_m for carried in found if carried), default=0.0)


def _pairs(question: Question, catalog: Catalog) -> Iterator[tuple[Application, tuple[str, ...]]]:
    cages = (question.near.cage, question.far.cage)
    for application in catalog.applications.values():
        second_side = application.partner is not None and application.partner < application.name
        if application.rate_mbps != question.rate_mbps or application.fibers != question.strands or second_side:
            continue
        if question.application not in ("", application.name) or application.family not in question.media:
            continue
        if application.grid and not question.application and application.wavelength_nm != GRID_SHOWN_NM:
            continue  # the colors of a grid are alike: one stands for all
        if not all(form_for(application, cage, catalog) for cage in cages):
            continue
        if question.fiber:
            yield application, question.fiber
        else:
            grades = (question.grade,) if question.grade else NEW_GRADES
            rows = (row for row in application.reaches if row.fiber in grades and row.launch == "any")
            yield from ((application, (row.fiber,)) for row in rows)
            if not question.grade and _clearer_glass_helps(application, question):
                yield application, (CLEARER,)


def _clearer_glass_helps(application: Application, question: Question) -> bool:
    """Whether new cable of G.652.D is another answer: on long ways at 1530 to 1565 nm it loses less than OS2."""
    row = application.row(CLEARER)
    there = all(CLEARER_NM[0] <= nm <= CLEARER_NM[1] for nm in application.wavelengths_nm)
    long = question.longest_m is not None and question.longest_m > CLEARER_FROM_M
    return row is not None and there and long


def is_one_cord(question: Question) -> bool:
    """Whether a bare cord from port to port is an answer: a few metres in one room or rack, nothing there yet."""
    short = question.longest_m is not None and question.longest_m <= CORD_ONLY_M
    return short and not question.fiber and one_room(question.spaces)


def _chain(
    question: Question, application: Application, fiber: tuple[str, ...], catalog: Catalog, house: HouseRules
) -> Link:
    plain = _template(
        application.name,
        fiber,
        question.near,
        question.far,
        is_one_cord(question),
        _is_spliced(question, house),
        question.spaces if not question.fiber else (),
        catalog,
    )
    longest = max(glass(plain), key=lambda piece: isinstance(piece, Run))
    elements: list[Element] = []
    for position, element in enumerate(plain.elements):
        if element is longest:
            element = element.model_copy(
                update={"length_m": question.length_m, "length_estimated": is_estimate(question)}
            )
            if isinstance(element, Run) and house.joint_school == "mounted on site":
                element = element.model_copy(update={"mounted": True})
            if isinstance(element, Run) and not question.fiber and _is_longer(question, house.reel_m):
                element = element.model_copy(update={"splice_class": CONTRACT})
        elif isinstance(element, Port):
            place = question.to_place if position else question.from_place
            element = element.model_copy(update={"place": place})
        elements.append(element)
    return plain.model_copy(
        update={"name": link_name(question), "notes": notes_of(question), "elements": tuple(elements)}
    )


def _is_spliced(question: Question, house: HouseRules) -> bool:
    """Whether a run is cable with pigtails: by the school, or because no plugged cable is made that long."""
    plugged = house.joint_school == "pre-terminated" and not question.fiber
    return house.joint_school == "spliced" or (plugged and _is_longer(question, house.plugged_most_m))


def _is_longer(question: Question, limit_m: float) -> bool:
    return limit_m > 0 and question.longest_m is not None and question.longest_m > limit_m


@lru_cache(maxsize=4096)
def _template(
    name: str,
    fiber: tuple[str, ...],
    near: PortWish,
    far: PortWish,
    cord_only: bool,
    pigtails: bool,
    spaces: tuple[Space, ...],
    catalog: Catalog,
) -> Link:
    """The chain without names and length: the same for all distances and places."""
    application = catalog.application(name)
    usual = cage_for(catalog, name)
    cages = (near.cage or usual, far.cage or usual)
    rate = application.rate_mbps
    link = build_link(
        "-",
        LinkEnd("", "", cages[0], (rate,)),
        LinkEnd("", "", cages[1], (rate,)),
        name,
        fiber,
        None,
        catalog,
        cord_only=cord_only,
        pigtails=pigtails,
        wanted_rate_mbps=rate,
    )
    offset = {catalog.fiber(g).family for g in fiber} == {"multimode"} and all(
        row is not None and row.launch == "offset-launch" for row in map(application.row, fiber)
    )
    last = len(link.elements) - 1
    elements: list[Element] = []
    for position, element in enumerate(link.elements):
        wish, cage = (near, cages[0]) if position < last / 2 else (far, cages[1])
        if isinstance(element, Port):
            element = port_at(wish, "", cage, rate, catalog).model_copy(update={"id": element.id})
        elif isinstance(element, Module):
            form = form_for(application, cage, catalog)
            element = element.model_copy(
                update={
                    "form": "" if form == application.forms[0] else form,
                    "coding": coding_for(wish),
                    "temperature_class": mildest_class(wish.coldest_c, wish.hottest_c, catalog),
                }
            )
        elif isinstance(element, Run) and spaces:
            element = element.model_copy(
                update={"spaces": spaces, "construction": construction_for(spaces, catalog)}
            )
        elif isinstance(element, Cord) and cord_only:
            element = element.model_copy(update={"spaces": spaces})
        elif isinstance(element, Cord):
            leg = {2: "left", last - 2: "right"}.get(position) if offset else None
            element = element.model_copy(update={"offset_launch": leg, "matches_run": len(fiber) > 1})
        elements.append(element)
    return link.model_copy(update={"elements": tuple(elements)})
