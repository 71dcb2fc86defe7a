"""What is built of a link, piece by piece: length with slack, state, label, what is bought for it."""

from __future__ import annotations

from collections.abc import Mapping

from passerelle.core.link.chain import Link
from passerelle.core.materials.asked import Scope, cable_needs
from passerelle.core.materials.labels import LabelEnd, Labelled, labelled
from passerelle.core.materials.lengths import OrderLength, cable_length, run_length
from passerelle.core.parts.piece import Line, State
from passerelle.core.parts.registry import Element, arrived_words, spec_of
from passerelle.core.plant.records import Row
from passerelle.core.sources import Frozen


class BuiltPiece(Frozen):
    """A piece as it is built: lengths in m, ``of`` names the row of the plan that it is, by shelf and id.

    ``made``: it comes from the factory at its length, so that nothing of it is cut off.
    ``key`` is that of what is bought and labelled: of a shared piece its row's.
    """

    element: str
    key: str
    shelf: str
    of: str
    state: State
    length: OrderLength | None
    made: bool
    buys: tuple[str, ...]
    label: str
    kept: bool
    ends: tuple[LabelEnd, ...]
    arrived: tuple[str, ...]


def built(number: int, link: Link, scope: Scope) -> tuple[BuiltPiece, ...]:
    """Each piece of a link as it is built."""
    told = {one.key: one for one in labelled(scope)}
    return tuple(_piece(element, scope, told) for element in link.elements)


def _piece(element: Element, scope: Scope, told: Mapping[str, Labelled]) -> BuiltPiece:
    plant = scope.plant
    cable, part = plant.cable_of.get(element.part), plant.shared_of.get(element.part)
    frame = plant.frame_of.get(element.part)
    row: Row | None = cable or part or frame
    key = row.key if row is not None else element.key
    length = None
    if cable is not None:
        length = cable_length(cable, plant, scope.house)
        needs = cable_needs(cable, length, scope)
    else:
        if isinstance(element, Line) and element.pulled and element.length_m is not None:
            length = run_length(element.length_m, element.known_by, scope.house)
        needs = spec_of(element).needs(element, scope.catalog)
    label = told.get(key)
    return BuiltPiece(
        element=element.id,
        key=key,
        shelf="cables" if cable else "parts" if part else "frames" if frame else "",
        of=row.id if row is not None else "",
        state=element.state,
        length=length,
        made=any(need.where == "made to length" for need in needs),
        buys=tuple(f"{need.quantity:g} {'m' if need.unit == 'm' else 'x'} {need.words}" for need in needs),
        label=label.label if label else "",
        kept=label.kept if label else False,
        ends=label.ends if label else (),
        arrived=arrived_words(element),
    )
