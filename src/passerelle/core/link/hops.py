"""The way of the light as maps of positions: one for each piece and each joint between the two ends of a link.

A map has entry 0 for each position that leads nowhere and for 0 itself, so that what is lost stays lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from passerelle.core.link.compose import Chain, Joint, Standing, map_between
from passerelle.core.parts.face import Face
from passerelle.core.parts.part import Mating, Path
from passerelle.core.remembered import MOST_KEPT, by_identity

Positions = NDArray[np.intp]
Partial = tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Hop:
    """One map on the way: of the piece ``at``, or of the bare joint between two pieces where that is empty."""

    at: str
    map: Partial


def hops(chain: Chain) -> tuple[Hop, ...]:
    """The maps from the left end's optics to the right end's, in their order; the link has two ends and no gap."""
    return tuple(Hop(at, one) for at, one in _way(chain))


def maps_of(chain: Chain) -> list[Partial]:
    """The same maps alone."""
    return [one for _, one in _way(chain)]


def _way(chain: Chain) -> list[tuple[str, Partial]]:
    """A plain loop without calls for what was seen before: it runs over each joint of ten thousand links."""
    first, last = chain.ends
    begin, end = first.position, last.position
    found: list[tuple[str, Partial]] = []
    for joint in chain.joints:
        left, right, via = joint.left, joint.right, joint.via
        if left is None or right is None or left.position < begin or right.position > end:
            continue
        here, there, mating = left.right, right.left, via.mating if via else None
        seen = _MET.get((id(here), id(there), id(mating)))
        known = seen is not None and seen[0] is here and seen[1] is there and seen[2] is mating
        found.append((via.id if via else "", seen[3] if known and seen else met(joint)))
        if right.position != end:
            found.append((right.id, through(right)))
    return found


def met(joint: Joint) -> Partial:
    """The map of a joint; nothing passes where the two faces do not fit each other."""
    left, right, via = joint.left_face, joint.right_face, joint.via.mating if joint.via else None
    key = id(left), id(right), id(via)
    found = _MET.get(key)
    if found is not None and found[0] is left and found[1] is right and found[2] is via:
        return found[3]
    ends = _met(left, right, via)
    if len(_MET) >= MOST_KEPT:
        _MET.clear()
    _MET[key] = left, right, via, ends
    return ends


def _met(left: Face, right: Face, via: Mating | None) -> Partial:
    try:
        ends = map_between(left, right, via)
    except ValueError:
        return (0,) * (left.size + 1)
    filled = set(right.positions) if right.filled else None
    return (0, *(there if filled is None or there in filled else 0 for there in ends))


_MET: dict[tuple[int, int, int], tuple[Face, Face, Mating | None, Partial]] = {}
"""Joints seen last, for these very faces: they never change, and comparing them costs more than the map."""


def through(standing: Standing) -> Partial:
    """The map of a piece in its place, from its left face to its right one."""
    return _through(standing.part.paths, (standing.enter, standing.leave, standing.left.size))


@by_identity
def _through(paths: tuple[Path, ...], ends: tuple[str, str, int]) -> Partial:
    enter, leave, size = ends
    found = [0] * (size + 1)
    for path in paths:
        for a, b in ((path.a, path.b), (path.b, path.a)):
            if a.face == enter and b.face == leave and not found[a.position]:
                found[a.position] = b.position
    return tuple(found)


def back(one: Partial, size: int) -> Partial:
    """The same map the other way round, for a face of ``size`` positions.

    >>> back((0, 2, 3, 0), 3)
    (0, 0, 1, 2)
    """
    found = [0] * (size + 1)
    for position, there in enumerate(one):
        if there:
            found[there] = position
    return tuple(found)


def used_positions(chain: Chain, standing: Standing) -> tuple[int, ...]:
    """The positions of a part's left face that both ends of a chain reach, else those that the left end does.

    A cassette at one end lets one pair through, so that of a trunk only two positions are used. Where neither end
    reaches one, all that hold a fiber are.
    """
    left: set[int] = set()
    right: set[int] = set(standing.right.positions)
    for place, joint in _between(chain):
        if place.position > standing.position:
            break
        left = set(place.left.positions) if joint is None else _image(met(joint), left)
        if place is standing:
            break
        left = _image(through(place), left)
    after = [pair for pair in _between(chain) if pair[0].position > standing.position]
    if after:
        right = set(after[-1][0].right.positions)
    for place, joint in reversed(after):
        entered = _image(back(through(place), place.right.size), right)
        right = entered if joint is None else _image(back(met(joint), joint.right_face.size), entered)
    mine = through(standing)
    both = {position for position in left if mine[position] in right}
    return tuple(sorted(both or left or standing.left.positions))


def sent_to(chain: Chain, standing: Standing, going: Literal["right", "left"]) -> tuple[int, ...]:
    """The positions at which the light that one end sends enters a part, at its face that looks to that end.

    Nothing where the chain does not have two ends, or nothing arrives.
    """
    if len(chain.ends) != 2:
        return ()
    pairs = list(_between(chain))
    sender = chain.ends[0] if going == "right" else chain.ends[1]
    positions = set(sender.traits.optics.sends if sender.traits.optics else ())
    if going == "right":
        for place, joint in pairs:
            if place.position <= sender.position or joint is None:
                continue
            positions = _image(met(joint), positions)
            if place is standing:
                return tuple(sorted(positions))
            positions = _image(through(place), positions)
        return ()
    for (place, joint), (before, _) in zip(reversed(pairs), [*reversed(pairs[:-1]), (None, None)], strict=True):
        if place.position <= sender.position and place is not sender:
            positions = _image(back(through(place), place.right.size), positions)
        if joint is None or before is None or place.position > sender.position:
            continue
        positions = _image(back(met(joint), joint.right_face.size), positions)
        if before is standing:
            return tuple(sorted(positions))
    return ()


def _between(chain: Chain) -> list[tuple[Standing, Joint | None]]:
    """The parts from left to right, each with the joint at its left; None for the first."""
    joints = {joint.right.position: joint for joint in chain.joints if joint.right and joint.left}
    return [(part, joints.get(part.position)) for part in chain.parts]


def _image(one: Partial, positions: set[int]) -> set[int]:
    return {one[position] for position in positions if position < len(one)} - {0}


class Ways(NamedTuple):
    """The ways of n links: a ``table`` of different maps, shape (maps, width), and the row of it for each step.

    Entry ``[map, position]`` of the table is the next position, 0 where there is none; ``steps`` has the shape
    (n, steps).
    """

    table: Positions
    steps: Positions


def follow(ways: Ways, starts: Positions) -> Positions:
    """Where light goes in n links at once.

    Args:
        ways: their maps, step by step.
        starts: shape (n, lanes): the positions at which it starts.

    Returns:
        Shape (n, steps + 1, lanes): the position before each step, and at the end.

    >>> follow(stacked([[(0, 2, 1), (0, 0, 1)]]), np.array([[1, 2]]))[0].tolist()
    [[1, 2], [2, 1], [1, 0]]
    """
    n, steps = ways.steps.shape
    flat, rows = ways.table.ravel(), ways.steps * ways.table.shape[1]
    found = np.empty((n, steps + 1, starts.shape[1]), dtype=np.intp)
    found[:, 0] = here = starts
    for step in range(steps):
        found[:, step + 1] = here = flat[rows[:, step, None] + here]
    return found


def stacked(links: Sequence[Sequence[Partial]]) -> Ways:
    """The maps of n links as one table; shorter links end in steps that change nothing.

    Links share most of their maps, and the same map is one object: it is told by its identity.
    """
    steps = max(map(len, links), default=0)
    width = max((len(one) for link in links for one in link), default=1)
    stay: Partial = tuple(range(width))
    different: dict[int, Partial] = {id(stay): stay}
    different.update((id(one), one) for link in links for one in link)
    numbers = {own: number for number, own in enumerate(different)}
    rows = [[numbers[id(one)] for one in link] + [0] * (steps - len(link)) for link in links]
    table = np.zeros((len(different), width), dtype=np.intp)
    for number, one in enumerate(different.values()):
        table[number, : len(one)] = one
    return Ways(table, np.array(rows, dtype=np.intp).reshape(len(links), steps))
