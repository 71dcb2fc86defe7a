"""Chains over arrays: parallel lanes and pairs over a trunk that is there or new."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import cast

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.build import NEW_GRADES, cage_for, form_for
from passerelle.core.link.build_arrays import (
    Backbone,
    Keys,
    duplex_link,
    parallel_link,
    trunk_array,
    usual_backbone,
)
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.array_cable import ArrayCable
from passerelle.core.parts.kinds.cassette import Cassette
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.piece import Shape
from passerelle.core.parts.registry import Element
from passerelle.core.polarity.sets import complete
from passerelle.core.rules.air import mildest_class
from passerelle.core.selection.drafts import Draft, coding_for, is_estimate, link_name, notes_of, port_at
from passerelle.core.selection.glass_chains import is_one_cord, reach_on
from passerelle.core.selection.wish import PortWish, Question

LOW_LOSS = "mated pair, low-loss"
WORST_PAIR_DB = 0.75  # TIA-568.3-D, the allowance "mated pair"; it only decides what is tried
ROOM_DB = 1.25


def array_drafts(question: Question, catalog: Catalog) -> Iterator[Draft]:
    """Every application over arrays of the speed, and pairs over a trunk that is there."""
    if question.strands == 1:
        return
    yield from _parallel(question, catalog)
    yield from _pairs(question, catalog)


def grades_on(application: Application, question: Question) -> Iterator[tuple[str, ...]]:
    """The glass that an application runs on here: what lies there in the trunk, else new cable."""
    if question.trunk and question.fiber:
        yield question.fiber
    elif not question.fiber:
        grades = (question.grade,) if question.grade else NEW_GRADES
        yield from ((row.fiber,) for row in application.reaches if row.fiber in grades and row.launch == "any")


def _parallel(question: Question, catalog: Catalog) -> Iterator[Draft]:
    for application in catalog.applications.values():
        if application.array is None or application.rate_mbps != question.rate_mbps:
            continue
        if not is_wanted(application, question, catalog, question.near, question.far):
            continue
        for fiber in grades_on(application, question):
            backbone = _backbone(question, application, catalog)
            if backbone is not None:
                yield from _with_low_loss(_over_trunk(question, application, fiber, backbone, catalog), application)


def is_wanted(
    application: Application, question: Question, catalog: Catalog, near: PortWish, far: PortWish | None
) -> bool:
    """Whether the question leaves the application open and the cages take its module."""
    if question.application not in ("", application.name) or application.family not in question.media:
        return False
    return all(form_for(application, wish.cage, catalog) for wish in (near, far) if wish)


def _backbone(question: Question, application: Application, catalog: Catalog) -> Backbone | None:
    """The set of parts for a trunk that is there, else the usual one; None where none lights on that trunk."""
    angled = application.polish == "APC"
    if not question.trunk:
        return usual_backbone(angled)
    keys: Keys = "opposed" if angled or question.trunk_wiring != "reversed" else "aligned"
    lanes = application.name if application.array else ""
    return complete(question.trunk_wiring, keys, "" if lanes else application.name, lanes, question.trunk)


def _over_trunk(
    question: Question, application: Application, fiber: tuple[str, ...], backbone: Backbone, catalog: Catalog
) -> Draft:
    one_cord = is_one_cord(question) and not question.trunk
    array = question.trunk or trunk_array(application)
    ports = _ports(question, application, catalog)
    link = parallel_link(
        link_name(question),
        ports,
        application,
        fiber,
        question.length_m,
        backbone=backbone,
        cord_only=one_cord,
    )
    link = _of_array(link, array)
    what = "one array cord" if one_cord else f"{'the' if question.trunk else 'a'} {backbone.wiring} trunk"
    return _draft(question, application, fiber, dressed(link, question, catalog), f"over {what}", catalog)


def _of_array(link: Link, array: str) -> Link:
    cables = [e for e in link.elements if isinstance(e, ArrayCable) and e.array != array]
    return apply_edits(link, tuple(SetFields(element=e.id, values={"array": array}) for e in cables))


def _draft(
    question: Question, application: Application, fiber: tuple[str, ...], link: Link, how: str, catalog: Catalog
) -> Draft:
    return Draft(
        key=f"{application.name} on {' or '.join(fiber)}, {how}",
        application=application.name,
        fiber=fiber,
        medium=application.family,
        links=(link,),
        reach_m=reach_on(application, fiber, catalog),
        speed_mbps=application.rate_mbps,
        one_flow_mbps=application.rate_mbps,
        new_cable=not question.trunk,
    )


def _with_low_loss(draft: Draft, application: Application) -> Iterator[Draft]:
    """The draft, and once more with low-loss joints where two at the standard maximum may take too much."""
    yield draft
    link = draft.links[0]
    classed = [e.id for e in link.elements if "loss_class" in type(e).model_fields]
    limits = [row.max_insertion_loss_db for row in map(application.row, draft.fiber) if row]
    pairs = sum(2 if isinstance(e, Cassette) else 1 for e in link.elements if e.id in classed)
    if classed and limits and pairs * WORST_PAIR_DB > min(limits) - ROOM_DB:
        edits = tuple(SetFields(element=i, values={"loss_class": LOW_LOSS}) for i in classed)
        yield replace(draft, key=f"{draft.key}, low-loss", links=(apply_edits(link, edits), *draft.links[1:]))


def _pairs(question: Question, catalog: Catalog) -> Iterator[Draft]:
    """A pair over a trunk that is there, through cassettes."""
    if not question.trunk or not question.fiber:
        return
    for application in catalog.applications.values():
        fits = application.fibers == 2 and application.rate_mbps == question.rate_mbps and not application.grid
        if not fits or not is_wanted(application, question, catalog, question.near, question.far):
            continue
        backbone = _backbone(question, application, catalog)
        if backbone is None or question.trunk == "2 x 12":
            continue
        angled = "APC" if application.family == "single-mode" else "PC"
        link = duplex_link(
            link_name(question),
            _ports(question, application, catalog),
            application.name,
            question.fiber,
            question.length_m,
            backbone if angled == "PC" else backbone.model_copy(update={"keys": "opposed"}),
            array=question.trunk,
            polishes=(application.polish, "PC" if angled == "PC" else "APC"),
            at_module=cast(Shape, catalog.form(application.forms[0]).connector),
        )
        how = f"through cassettes on the {question.trunk_wiring} trunk"
        draft = _draft(question, application, question.fiber, dressed(link, question, catalog), how, catalog)
        yield from _with_low_loss(draft, application)


def _ports(question: Question, application: Application, catalog: Catalog) -> tuple[Port, Port]:
    usual = cage_for(catalog, application.name)
    near, far = (
        port_at(wish, place, wish.cage or usual, application.rate_mbps, catalog)
        for wish, place in ((question.near, question.from_place), (question.far, question.to_place))
    )
    return near, far


def dressed(link: Link, question: Question, catalog: Catalog, *, fast_is_near: bool = True) -> Link:
    """The link with its notes, the coding and temperature class of each end, and what its way passes."""
    wishes = (question.near, question.far) if fast_is_near else (question.far, question.near)
    last = len(link.elements) - 1
    elements: list[Element] = []
    for position, element in enumerate(link.elements):
        wish = wishes[0] if position < last / 2 else wishes[1]
        if isinstance(element, Module):
            element = element.model_copy(
                update={
                    "coding": coding_for(wish),
                    "temperature_class": mildest_class(wish.coldest_c, wish.hottest_c, catalog),
                }
            )
        elif isinstance(element, Trunk):
            update = {"length_estimated": is_estimate(question), "spaces": question.spaces}
            element = element.model_copy(update=update)
        elements.append(element)
    update = {
        "elements": tuple(elements),
        "wanted_rate_mbps": question.rate_mbps,
        "notes": notes_of(question),
    }
    return link.model_copy(update=update)
