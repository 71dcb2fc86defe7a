"""What a cable passes through in its ways: what its jacket must stand, and what must not lie beside it."""

from __future__ import annotations

from collections.abc import Iterable

from passerelle.core.catalog.records import SPACES, Space
from passerelle.core.plant.site import Way

_SPACES_OF: dict[str, tuple[Space, ...]] = {
    "tray": ("indoors",),
    "riser": ("riser",),
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
