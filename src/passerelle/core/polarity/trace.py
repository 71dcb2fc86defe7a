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


_STRAIGHT, _CROSSED = straight(DUPLEX), reversed_row(DUPLEX)
_ALIGNED, _OPPOSED = mating(DUPLEX, keys_aligned=True), mating(DUPLEX, keys_aligned=False)


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
        return _ALIGNED if element.keys == "aligned" else _OPPOSED
    if isinstance(element, (Cord, Run, Splice)) and element.crossed:
        return _CROSSED
    return _STRAIGHT


def trace(link: Link, joints: tuple[Joint, ...], *, steps: bool = True) -> tuple[Lane, ...]:
    """Both lanes of a duplex link; nothing for one strand, or while the chain is not closed.

    Without ``steps`` the lanes only say whether they end on a receiver.
    """
    if any(piece.strands == 1 for piece in glass(link)):
        return ()
    ends = modules(link)
    if len(ends) != 2 or any(joint.kind == "open" for joint in joints):
        return ()
    inner = link.elements[link.index(ends[0].id) + 1 : link.index(ends[1].id)]
    there, back = inner, tuple(reversed(inner))
    return (_lane(ends[0], ends[1], there, steps=steps), _lane(ends[1], ends[0], back, steps=steps))


def _lane(sender: Module, receiver: Module, pieces: tuple[Element, ...], *, steps: bool) -> Lane:
    position, passed = TRANSMIT, []
    for element in pieces:
        leaves = piece_map(element)[position - 1]  # duplex maps are their own inverse: one map serves both ways
        if steps:
            passed.append(TraceStep(element=element.id, enters=position, leaves=leaves))
        position = leaves
    return Lane(sender=sender.id, receiver=receiver.id, steps=tuple(passed), lights=position == RECEIVE)


def polarity_findings(link: Link, lanes: tuple[Lane, ...]) -> list[Finding]:
    """A finding when a transmitter ends on a transmitter."""
    if all(lane.lights for lane in lanes):
        return []
    turning = [e for e in link.elements if piece_map(e) != _STRAIGHT]
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
