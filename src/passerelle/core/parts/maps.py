"""Maps of positions. A part, and a mating, takes each position at one face to a position at the other.

A map is a tuple: entry ``i - 1`` is where position ``i`` ends. Duplex is the row of two: A is 1, B is 2.
Geometry decides; names such as "crossed" follow from it (TIA-568.3-D, polarity).
"""

from __future__ import annotations

Map = tuple[int, ...]


def straight(n: int) -> Map:
    """Each position ends on itself."""
    return tuple(range(1, n + 1))


def reversed_row(n: int) -> Map:
    """Position ``i`` ends on ``n + 1 - i``.

    >>> reversed_row(4)
    (4, 3, 2, 1)
    """
    return tuple(range(n, 0, -1))


def mating(n: int, keys_aligned: bool) -> Map:
    """One row of ``n`` in an adapter: keys aligned mirror the row, keys opposed keep it."""
    return reversed_row(n) if keys_aligned else straight(n)


def compose(first: Map, second: Map) -> Map:
    """First one map, then the other.

    Raises:
        ValueError: the two faces do not have the same number of positions.
    """
    if len(first) != len(second):
        raise ValueError(f"{len(first)} positions cannot meet {len(second)}")
    return tuple(second[position - 1] for position in first)
