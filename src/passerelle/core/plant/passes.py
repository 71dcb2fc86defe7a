"""What a cable passes in its ways: what its jacket must stand, what lies beside it, which ways run side by side."""

from __future__ import annotations

from collections.abc import Iterable

from passerelle.core.catalog.records import SPACES, Space
from passerelle.core.plant.records import Way

_SPACES_OF: dict[str, tuple[Space, ...]] = {
    "tray": ("indoors",),
    "riser": ("riser",),
    "conduit": ("indoors",),
    "duct": ("duct", "between buildings"),
    "trench": ("buried", "between buildings"),
    "aerial": ("aerial", "between buildings"),
    "rented": ("between buildings",),
}


def spaces_of(ways: Iterable[Way]) -> tuple[Space, ...]:
    """What these ways are, with their water and the power beside them, in the order of the catalog."""
    found: set[Space] = set()
    for way in ways:
        found.update(_SPACES_OF.get(way.kind, ()))
        if way.wet:
            found.add("wet")
        if way.power_conductors:
            found.add("beside power")
    return tuple(space for space in SPACES if space in found)


def side_by_side(first: Iterable[Way], second: Iterable[Way]) -> tuple[str, ...]:
    """A doubt for each way of the second that runs between the same two places as one of the first.

    The plan has them as two ways; whether one trench or one hole in a wall carries both is seen on site only.
    """
    known: dict[frozenset[str], Way] = {frozenset({way.start, way.end}): way for way in first}
    found = []
    for way in second:
        twin = known.get(frozenset({way.start, way.end}))
        if twin is not None and twin.id != way.id:
            found.append(
                f"{twin.name} and {way.name} run between the same two places: if one trench or one hole in a wall "
                "carries both, they are one path. Look before you rely on it."
            )
    return tuple(dict.fromkeys(found))
