"""Maps of positions. A part, and a mating, takes each position at one face to a position at the other.

A map is a tuple: entry ``i - 1`` is where position ``i`` ends. Duplex is the row of two: A is 1, B is 2.
Geometry decides; names such as "crossed" follow from it (TIA-568.3-D, polarity).
"""

from __future__ import annotations

from collections.abc import Iterable

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


def pair_flipped(n: int) -> Map:
    """The two positions of each pair of neighbors change places.

    >>> pair_flipped(4)
    (2, 1, 4, 3)
    """
    return tuple(position + 1 if position % 2 else position - 1 for position in range(1, n + 1))


def mating(columns: int, keys_aligned: bool, rows: int = 1, plugs: int = 1) -> Map:
    """What meets what where two faces of ``plugs`` with ``rows`` of ``columns`` are pressed together.

    Keys aligned mirror each row: i meets m + 1 - i, and in the second row m + i meets 2m + 1 - i. Keys opposed keep
    the columns and turn the rows over: of one row i meets i, of two i meets m + i.

    >>> mating(3, True, rows=2), mating(3, False, rows=2)
    ((3, 2, 1, 6, 5, 4), (4, 5, 6, 1, 2, 3))
    """
    first = range(1, columns + 1)
    met = [
        row * columns + columns + 1 - i if keys_aligned else (rows - 1 - row) * columns + i
        for row in range(rows)
        for i in first
    ]
    return tuple(plug * rows * columns + position for plug in range(plugs) for position in met)


def compose(first: Map, second: Map) -> Map:
    """First one map, then the other.

    Raises:
        ValueError: the two faces do not have the same number of positions.
    """
    if len(first) != len(second):
        raise ValueError(f"{len(first)} positions cannot meet {len(second)}")
    return tuple(second[position - 1] for position in first)


def inverse(one: Map) -> Map:
    """The same map from the other face.

    >>> inverse((2, 3, 1))
    (3, 1, 2)
    """
    found = [0] * len(one)
    for position, ends in enumerate(one, start=1):
        found[ends - 1] = position
    return tuple(found)


def total(maps: Iterable[Map], n: int) -> Map:
    """All maps, one after the other, from ``n`` positions on."""
    found = straight(n)
    for one in maps:
        found = compose(found, one)
    return found
