"""Following the light by positions, from each transmitter to where it ends."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from passerelle.core.link.compose import Chain, Joiner, Standing
from passerelle.core.link.hops import Hop, Partial, Positions, back, follow, hops, maps_of, stacked
from passerelle.core.parts.part import Optics
from passerelle.core.sources import Frozen

Group = tuple[tuple[int, ...], tuple[int, ...]]


class TraceStep(Frozen):
    """Positions of one fiber where it enters and leaves a piece, as its light goes (of a pair 1 is A, 2 is B)."""

    element: str
    enters: int
    leaves: int


class Lane(Frozen):
    """The way of one transmitter's light.

    Lane ``number`` of ``sender`` starts at position ``start`` of its opening and ends at ``ends`` of the
    ``receiver``'s, None where it is lost: at the piece ``lost_at``. It ``lights`` where that is a position that
    listens; ``heard_as`` is the number of the lane that listens there.
    """

    sender: str
    receiver: str
    number: int = 1
    start: int
    ends: int | None
    heard_as: int | None = None
    lost_at: str = ""
    steps: tuple[TraceStep, ...]
    lights: bool


@dataclass(frozen=True, slots=True)
class Followed:
    """The light of one direction: each lane's position at the start, before each step of its way, at the end."""

    sender: Standing
    receiver: Standing
    way: tuple[Hop, ...]
    hears: tuple[int, ...]
    passed: tuple[tuple[int, ...], ...]


def trace(chain: Chain, *, steps: bool = True) -> tuple[Lane, ...]:
    """The lanes of a link, from each transmitter; nothing where a strand carries both ways, or while it is open.

    Of a split port the leg is taken that lights, where none is said. Without ``steps`` the lanes only say where
    they end.
    """
    return tuple(lane for one in followed(chain) for lane in _lanes(one, steps=steps))


def followed(chain: Chain) -> tuple[Followed, ...]:
    """The light of both directions, nothing where it is not traced."""
    if not is_traced(chain):
        return ()
    first, last = chain.ends
    there = hops(chain)
    around = _around(chain, there)
    here, far = _legs(first, last, there, around)
    return (_follow(first, last, there, here[0], far[1]), _follow(last, first, around, far[0], here[1]))


def _follow(
    sender: Standing, receiver: Standing, way: tuple[Hop, ...], sends: tuple[int, ...], hears: tuple[int, ...]
) -> Followed:
    found = follow(stacked([[hop.map for hop in way]]), np.array([sends]))[0]
    return Followed(sender, receiver, way, hears, tuple(map(tuple, found.T.tolist())))


def is_traced(chain: Chain) -> bool:
    """Whether the link has two ends that send and listen at different positions, and no gap between them."""
    if len(chain.ends) != 2 or not chain.closed or any(line.traits.strands == 1 for line in chain.glass):
        return False
    return all(end.traits.optics and end.traits.optics.sends != end.traits.optics.hears for end in chain.ends)


def _around(chain: Chain, there: tuple[Hop, ...]) -> tuple[Hop, ...]:
    """The same way from the other end."""
    sizes = [len(hop.map) - 1 for hop in there[1:]] + [chain.ends[1].left.size]
    return tuple(Hop(hop.at, back(hop.map, size)) for hop, size in zip(there, sizes, strict=True))[::-1]


def _optics(end: Standing) -> Optics:
    assert end.traits.optics is not None  # only such parts are ends
    return end.traits.optics


def _legs(first: Standing, last: Standing, there: Sequence[Hop], around: Sequence[Hop]) -> tuple[Group, Group]:
    """Which legs of split ports face each other: the first two that light both ways, else the first."""
    groups = [(here, far) for here in _optics(first).groups for far in _optics(last).groups]
    if len(groups) > 1:
        for here, far in groups:
            if _all_heard(there, here[0], far[1]) and _all_heard(around, far[0], here[1]):
                return here, far
    return groups[0]


def _all_heard(way: Sequence[Hop], sends: tuple[int, ...], hears: tuple[int, ...]) -> bool:
    return set(ends_of([hop.map for hop in way], sends)) <= set(hears)


def ends_of(maps: Sequence[Partial], starts: tuple[int, ...]) -> tuple[int, ...]:
    """Where light ends that starts at these positions, 0 where it is lost."""
    found = follow(stacked([maps]), np.array([starts]))
    return tuple(found[0, -1].tolist())


def ends_of_all(chains: Sequence[Chain], positions: int) -> Positions:
    """Where every position of the left end's opening ends at the right end's, for n links at once.

    Args:
        chains: links with two ends and no gap.
        positions: how many positions each opening has.

    Returns:
        Shape (n, positions): the position at the right end, 0 where the light is lost.
    """
    maps = stacked([maps_of(chain) for chain in chains])
    starts = np.broadcast_to(np.arange(1, positions + 1), (len(chains), positions))
    return follow(maps, starts)[:, -1]


def _lanes(one: Followed, *, steps: bool) -> Iterator[Lane]:
    for number, passed in enumerate(one.passed, start=1):
        end = passed[-1] or None
        yield Lane(
            sender=one.sender.id,
            receiver=one.receiver.id,
            number=number,
            start=passed[0],
            ends=end,
            heard_as=one.hears.index(end) + 1 if end in one.hears else None,
            lost_at="" if end else lost_at(one, passed),
            steps=tuple(_steps(one.way, passed)) if steps else (),
            lights=end in one.hears,
        )


def _steps(way: tuple[Hop, ...], passed: tuple[int, ...]) -> Iterator[TraceStep]:
    for hop, enters, leaves in zip(way, passed, passed[1:], strict=False):
        if hop.at and enters and leaves:
            yield TraceStep(element=hop.at, enters=enters, leaves=leaves)


def lost_at(one: Followed, passed: tuple[int, ...]) -> str:
    """The piece at which a lane is lost: of a bare joint the piece behind it."""
    lost = passed.index(0) - 1
    return next((hop.at for hop in one.way[lost:] if hop.at), one.receiver.id)


def entered_at(chain: Chain, lane: Lane) -> int:
    """The position at which a lane enters the piece where it is lost; 0 where it does not come so far."""
    for one in followed(chain):
        if one.sender.id == lane.sender:
            passed = one.passed[lane.number - 1]
            return passed[passed.index(0) - 1] if 0 in passed else 0
    return 0


def turns(chain: Chain) -> tuple[Standing | Joiner, ...]:
    """What brings one position of a pair to the other on its way, between the two ends."""
    turning = {hop.at for hop in hops(chain) if hop.map[1:] == (2, 1)}
    return tuple(place for place in chain.places if place.id in turning)
