"""Cures for too little and too much light."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from passerelle.core.budget.light import (
    LANE_MAXIMUM,
    LIGHT_DAMAGE,
    LIGHT_TOO_BRIGHT,
    LIGHT_UNDECIDED,
    LOSS_OVER_LIMIT,
    MARGIN_THIN,
)
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link, called, modules, place_at
from passerelle.core.link.compose import Joiner, Standing, compose
from passerelle.core.link.edits import Edit, Insert, Remove, SetFields
from passerelle.core.parts.face import NOTHING
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.part import OfFigures
from passerelle.core.parts.piece import NEW_STATES, Shape
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort
from passerelle.core.repairs.optics import medium_cures, module_cures


def pads(link: Link, catalog: Catalog) -> Iterator[tuple[float, tuple[Edit, ...]]]:
    """Each usual value of a fixed attenuator in dB, with the edits that put it in front of the far module."""
    ends = modules(link)
    if len(ends) != 2:
        return
    where = link.index(ends[1].id)
    far = compose(link, catalog).places[where]
    opening = far.left if isinstance(far, Standing) else NOTHING
    if opening.kind != "opening" or opening.polish is None or opening.is_array or where == 0:
        return
    after = link.elements[where - 1].id
    for value_db in catalog.attenuator.steps_db:
        shape = cast(Shape, opening.shape)
        pad = Attenuator(value_db=value_db, shape=shape, polish=opening.polish, plug_side="right")
        yield value_db, (Insert(after=after, piece=pad),)


@cures(LIGHT_TOO_BRIGHT, LIGHT_DAMAGE, LIGHT_UNDECIDED)
def attenuator_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """A fixed attenuator of each usual value in front of a module; the review keeps those that satisfy all."""
    for value_db, edits in pads(link, catalog):
        yield Fix(
            label=f"Put {value_db:g} dB attenuators on both fibers at {place_at(link, modules(link)[1])}",
            effort=Effort.ATTENUATOR,
            edits=edits,
        )
    yield from module_cures(link, finding, catalog)


@cures(LANE_MAXIMUM)
def sold_for_cure(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """A module that is sold to face the slower application."""
    module = link.element(finding.at[0])
    name = str(finding.facts["application"])
    if isinstance(module, Module):
        yield Fix(
            label=f"It is sold for {module.legs} x {name}",
            effort=Effort.SETTING,
            edits=(SetFields(element=module.id, values={"sold_for": name}),),
        )
    yield from attenuator_cures(link, finding, catalog)


@cures(LOSS_OVER_LIMIT, MARGIN_THIN)
def loss_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Take out an attenuator or a needless joint, use low-loss parts, other modules, other glass."""
    chain = compose(link, catalog)
    for standing in chain.parts:
        for of in [of for path in standing.part.paths[:1] for of in path.terms if isinstance(of, OfFigures)]:
            yield Fix(
                label=f"Take out the {of.expected_db:g} dB {standing.word}",
                effort=Effort.CLIP,
                edits=(Remove(element=standing.id),),
            )
    yield from _direct_cords(link)
    yield from _contract_splices(link, catalog)
    panels = [
        place
        for place in chain.places
        if isinstance(place, Joiner) and place.mating.term and place.mating.term.allowance == "mated pair"
    ]
    if panels:
        yield Fix(
            label=f"Use low-loss parts at {len(panels)} joint{'s' * (len(panels) > 1)}",
            effort=Effort.ADAPTER * len(panels),
            edits=tuple(SetFields(element=p.id, values={"loss_class": "mated pair, low-loss"}) for p in panels),
        )
    yield from medium_cures(link, finding, catalog)


def _contract_splices(link: Link, catalog: Catalog) -> Iterator[Fix]:
    """Of new cable so long that it has splices: a smaller loss of each of them is written into the contract."""
    least = catalog.allowance("splice, low-loss")
    for piece in link.elements:
        new = isinstance(piece, Run) and piece.state in NEW_STATES and piece.splice_class == "splice"
        if isinstance(piece, Run) and new and (piece.splices or (piece.length_m or 0.0) > catalog.reel_m > 0):
            yield Fix(
                label=f"Write at most {least.worst_db:g} dB a splice into the contract of {called(link, piece)}",
                effort=Effort.CORD,
                edits=(SetFields(element=piece.id, values={"splice_class": least.name}),),
            )


def _direct_cords(link: Link) -> Iterator[Fix]:
    """Where a cord leads into an adapter and on into another cord, one cord can do."""
    triples = zip(link.elements, link.elements[1:], link.elements[2:], strict=False)
    for first, joint, second in triples:
        if isinstance(first, Cord) and isinstance(joint, Panel) and isinstance(second, Cord):
            known = first.length_m is not None and second.length_m is not None
            crossings = (first.crossed, joint.keys == "aligned", second.crossed)
            values = {
                "right": second.right.model_dump(),
                "crossed": sum(crossings) % 2 == 1,
                "length_m": (first.length_m or 0) + (second.length_m or 0) if known else None,
            }
            yield Fix(
                label=f"Replace two cords and the adapter {joint.label} by one cord".replace("  ", " "),
                effort=Effort.CORD,
                edits=(
                    SetFields(element=first.id, values=values),
                    Remove(element=joint.id),
                    Remove(element=second.id),
                ),
            )
