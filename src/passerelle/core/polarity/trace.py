"""Following the light by positions, from each transmitter to where it ends."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Joiner, Standing
from passerelle.core.parts.part import Spot
from passerelle.core.sources import Frozen, Source

POLARITY_DARK = Rule("polarity.dark", "match")

DUPLEX = 2
TRANSMIT = 1
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


def trace(chain: Chain, *, steps: bool = True) -> tuple[Lane, ...]:
    """The lanes of a link, from each transmitter; nothing where a strand carries both ways, or while it is open.

    Without ``steps`` the lanes only say whether they end on a receiver.
    """
    if any(line.traits.strands == 1 for line in chain.glass) or len(chain.ends) != 2 or not chain.closed:
        return ()
    first, last = chain.ends
    if len(first.part.face("optics").positions) != len(last.part.face("optics").positions):
        return ()
    inner = chain.places[first.position + 1 : last.position]
    return (*_lanes(first, last, inner, steps=steps), *_lanes(last, first, inner[::-1], steps=steps))


def _lanes(
    sender: Standing, receiver: Standing, places: tuple[Standing | Joiner, ...], *, steps: bool
) -> Iterator[Lane]:
    rightward = sender.position < receiver.position
    optics, hears = sender.traits.optics, receiver.traits.optics
    assert optics is not None  # only such parts are ends
    assert hears is not None
    count = len(sender.part.face("optics").positions)
    for start in optics.sends:
        position: int | None = start
        passed: list[TraceStep] = []
        for place in places:
            if position is None:
                break
            leaves = _beyond(place, position, count, rightward)
            if isinstance(place, Standing):
                count = len(place.face("right" if rightward else "left").positions)
            if steps and leaves is not None:
                passed.append(TraceStep(element=place.id, enters=position, leaves=leaves))
            position = leaves
        lights = position in hears.hears
        yield Lane(sender=sender.id, receiver=receiver.id, steps=tuple(passed), lights=lights)


def _beyond(place: Standing | Joiner, position: int, count: int, rightward: bool) -> int | None:
    """The position at which light leaves what it entered at a position; None where it ends there."""
    if isinstance(place, Joiner):
        return place.mating.map_of(count)[position - 1]
    enter, leave = (place.enter, place.leave) if rightward else (place.leave, place.enter)
    spot = place.part.through(Spot(enter, position), leave)
    return spot.position if spot else None


def turns(chain: Chain) -> tuple[Standing | Joiner, ...]:
    """What brings a transmitter's position to another one on its way."""
    return tuple(
        place
        for place in chain.places
        if (isinstance(place, Joiner) or place.traits.realm == "light")
        and place not in chain.ends
        and _beyond(place, TRANSMIT, DUPLEX, rightward=True) not in (TRANSMIT, None)
    )


def polarity_findings(chain: Chain, lanes: tuple[Lane, ...]) -> list[Finding]:
    """A finding when a transmitter ends on a transmitter."""
    if all(lane.lights for lane in lanes):
        return []
    turning = turns(chain)
    return [
        POLARITY_DARK.fail(
            tuple(dict.fromkeys(lane.sender for lane in lanes)),
            "Each transmitter faces the other transmitter: the link stays dark.",
            f"{len(turning)} crossings between the modules ({', '.join(_name(p) for p in turning) or 'none'}); "
            "an odd number is needed for transmit to end on receive. Adapters with aligned keys cross too.",
            GEOMETRY,
        ).of(crossings=len(turning))
    ]


def _name(place: Standing | Joiner) -> str:
    return place.piece.label or (place.mating.word if isinstance(place, Joiner) else place.word)
