"""The way of the light as maps of positions: one for each piece and each joint between the two ends of a link.

A map has entry 0 for each position that leads nowhere and for 0 itself, so that what is lost stays lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from passerelle.core.link.compose import Chain, Joint, Standing
from passerelle.core.parts.part import Part
from passerelle.core.remembered import by_identity

Positions = NDArray[np.intp]
Partial = tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Hop:
    """One map on the way: of the piece ``at``, or of the bare joint between two pieces where that is empty."""

    at: str
    map: Partial


def hops(chain: Chain) -> tuple[Hop, ...]:
    """The maps from the left end's optics to the right end's, in their order; the link has two ends and no gap."""
    first, last = chain.ends
    found: list[Hop] = []
    for joint in chain.joints:
        if joint.left is None or joint.right is None:
            continue
        if joint.left.position < first.position or joint.right.position > last.position:
            continue
        found.append(Hop(joint.via.id if joint.via else "", met(joint)))
        if joint.right is not last:
            found.append(Hop(joint.right.id, through(joint.right)))
    return tuple(found)


def met(joint: Joint) -> Partial:
    """The map of a joint; nothing passes where the two faces do not fit each other."""
    try:
        ends = joint.map
    except ValueError:
        return (0,) * (joint.left_face.size + 1)
    right = set(joint.right_face.positions) if joint.right_face.filled else None
    return (0, *(there if right is None or there in right else 0 for there in ends))


def through(standing: Standing) -> Partial:
    """The map of a piece in its place, from its left face to its right one."""
    return _through(standing.part, (standing.enter, standing.leave))


@by_identity
def _through(part: Part, ends: tuple[str, str]) -> Partial:
    enter, leave = ends
    found = [0] * (part.face(enter).size + 1)
    for path in part.paths:
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


def _between(chain: Chain) -> list[tuple[Standing, Joint | None]]:
    """The parts from left to right, each with the joint at its left; None for the first."""
    joints = {joint.right.position: joint for joint in chain.joints if joint.right and joint.left}
    return [(part, joints.get(part.position)) for part in chain.parts]


def _image(one: Partial, positions: set[int]) -> set[int]:
    return {one[position] for position in positions if position < len(one)} - {0}


def follow(maps: Positions, starts: Positions) -> Positions:
    """Where light goes in n links at once.

    Args:
        maps: shape (n, steps, width): entry ``[link, step, position]`` is the next position, 0 where there is none.
        starts: shape (n, lanes): the positions at which it starts.

    Returns:
        Shape (n, steps + 1, lanes): the position before each step, and at the end.

    >>> follow(np.array([[[0, 2, 1], [0, 0, 1]]]), np.array([[1, 2]]))[0].tolist()
    [[1, 2], [2, 1], [1, 0]]
    """
    n, steps, width = maps.shape
    rows = np.arange(n)[:, None] * width
    found = np.empty((n, steps + 1, starts.shape[1]), dtype=np.intp)
    found[:, 0] = starts
    for step in range(steps):
        flat = maps[:, step].ravel()
        found[:, step + 1] = flat[rows + found[:, step]]
    return found


def stacked(links: Sequence[Sequence[Partial]]) -> Positions:
    """The maps of n links as one array of shape (n, steps, width); shorter ones end in steps that change nothing.

    Links share most of their maps: each different one becomes a row of a table, and a link a row of numbers.
    """
    steps = max(map(len, links), default=0)
    width = max((len(one) for link in links for one in link), default=1)
    stay: Partial = tuple(range(width))
    numbers: dict[Partial, int] = {stay: 0}
    rows = [[numbers.setdefault(one, len(numbers)) for one in link] for link in links]
    index = np.zeros((len(links), steps), dtype=np.intp)
    for row, link in enumerate(rows):
        index[row, : len(link)] = link
    table = np.zeros((len(numbers), width), dtype=np.intp)
    for one, number in numbers.items():
        table[number, : len(one)] = one
    found: Positions = table[index]
    return found
