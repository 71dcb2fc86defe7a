"""Following the light by positions, from each transmitter to where it ends."""

from __future__ import annotations

from passerelle.core.findings import Finding, fail
from passerelle.core.link.chain import Link, glass, modules
from passerelle.core.link.elements import Cord, Element, Module, Panel, Run, Splice
from passerelle.core.match.joints import Joint
from passerelle.core.polarity.positions import Map, mating, reversed_row, straight
from passerelle.core.sources import Frozen, Source

DUPLEX = 2
TRANSMIT, RECEIVE = 1, 2  # by symmetry the other choice gives the same answer
GEOMETRY = Source(
    body="TIA",
    document="TIA-568.3-D",
    clause="duplex polarity",
    note="by composition of positions A and B along the chain",
)


class TraceStep(Frozen):
    """Positions of one fiber where it enters and leaves a piece (1 is A, 2 is B)."""

    element: str
    enters: int
    leaves: int


class Lane(Frozen):
    """The way of one transmitter's light and whether it ends on a receiver."""

    sender: str
    receiver: str
    steps: tuple[TraceStep, ...]
    lights: bool


def piece_map(element: Element) -> Map:
    """Positions from the left face of a piece to its right one; couplers mirror when keys are aligned."""
    if isinstance(element, Panel):
        return mating(DUPLEX, keys_aligned=element.keys == "aligned")
    if isinstance(element, Cord | Run | Splice) and element.crossed:
        return reversed_row(DUPLEX)
    return straight(DUPLEX)


def trace(link: Link, joints: tuple[Joint, ...]) -> tuple[Lane, ...]:
    """Both lanes of a duplex link; nothing for one strand, or while the chain is not closed."""
    if any(piece.strands == 1 for piece in glass(link)):
        return ()
    ends = modules(link)
    if len(ends) != 2 or any(joint.kind == "open" for joint in joints):
        return ()
    inner = link.elements[link.index(ends[0].id) + 1 : link.index(ends[1].id)]
    return (_lane(ends[0], ends[1], inner), _lane(ends[1], ends[0], tuple(reversed(inner))))


def _lane(sender: Module, receiver: Module, pieces: tuple[Element, ...]) -> Lane:
    position, steps = TRANSMIT, []
    for element in pieces:
        leaves = piece_map(element)[position - 1]  # duplex maps are their own inverse: one map serves both ways
        steps.append(TraceStep(element=element.id, enters=position, leaves=leaves))
        position = leaves
    return Lane(sender=sender.id, receiver=receiver.id, steps=tuple(steps), lights=position == RECEIVE)


def polarity_findings(link: Link, lanes: tuple[Lane, ...]) -> list[Finding]:
    """A finding when a transmitter ends on a transmitter."""
    if all(lane.lights for lane in lanes):
        return []
    turning = [e for e in link.elements if piece_map(e) != straight(DUPLEX)]
    return [
        fail(
            "polarity.dark",
            tuple(lane.sender for lane in lanes),
            "Each transmitter faces the other transmitter: the link stays dark.",
            f"{len(turning)} crossings between the modules ({', '.join(_name(e) for e in turning) or 'none'}); "
            "an odd number is needed for transmit to end on receive. Adapters with aligned keys cross too.",
            GEOMETRY,
        )
    ]


def _name(element: Element) -> str:
    return element.label or {"panel": "adapter"}.get(element.kind, element.kind)
