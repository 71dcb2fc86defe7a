"""What an array plug is, from what a scope and an eye see of it: its rows, its pins, its key."""

from __future__ import annotations

from typing import Literal, cast

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.parts.arrays import ARRAYS, SHAPES, ArrayName, ArrayPolish, Pins, array_face
from passerelle.core.polarity.table import FaceSeen, face_seen
from passerelle.core.rules.arrays import MPO, PINS
from passerelle.core.sources import Frozen, Source

Rows = Literal[0, 1, 2]
SeenPins = Literal["", "pins", "holes"]
SeenKey = Literal["", "in the middle", "beside the middle"]


class ArraySeen(Frozen):
    """The arrays that a plug may be, each as its face is seen, what it meets, and what to look at next."""

    candidates: tuple[ArrayName, ...]
    faces: tuple[FaceSeen, ...]
    meets: tuple[str, ...]
    next_look: str
    sources: tuple[Source, ...] = (MPO, PINS)


def array_seen(
    shape: str, rows: Rows = 0, pins: SeenPins = "", key: SeenKey = "", fibers: int = 0, angled: bool | None = None
) -> ArraySeen | None:
    """What an array plug may be; None where what was seen is no array.

    >>> array_seen("MPO", rows=1, pins="pins").candidates
    ('8', '12')
    """
    if shape not in SHAPES and not rows and not key:
        return None
    wanted = {"in the middle": "MPO", "beside the middle": "MPO-16"}.get(key, shape)
    left = [
        array
        for array in ARRAYS.values()
        if array.plugs == 1
        and (wanted not in SHAPES or array.shape == wanted)
        and (not rows or array.rows == rows)
        and (not fibers or len(array.positions) == fibers)
    ]
    polish: ArrayPolish = "APC" if angled else "PC"
    drawn = {"": "unknown", "pins": "pins", "holes": "holes"}[pins]
    return ArraySeen(
        candidates=tuple(array.name for array in left),
        faces=tuple(
            face_seen(
                array_face("plug", array.name, polish, cast(Pins, drawn)),
                load_catalog(),
                element="",
                side="left",
                name=array.name,
            )
            for array in left
        ),
        meets=tuple(_meets(pins, wanted, angled)),
        next_look=_next(tuple(array.name for array in left), rows, pins, key),
    )


def _meets(pins: SeenPins, shape: str, angled: bool | None) -> list[str]:
    told = []
    if pins == "pins":
        told.append("It has pins: what meets it must have none. Two with pins break each other.")
    if pins == "holes":
        told.append("It has no pins: what meets it must have them. Two without are not aligned.")
    if shape == "MPO-16":
        told.append("Its key is beside the middle: it enters no adapter for rows of 12.")
    if angled:
        told.append("It is angled: only an angled one may meet it, in an adapter with keys opposed.")
    return told


def _next(left: tuple[ArrayName, ...], rows: Rows, pins: SeenPins, key: SeenKey) -> str:
    if not left:
        return "No array is like that: count the rows again, and see where the key stands."
    if not key and len({ARRAYS[name].shape for name in left}) > 1:
        return "See whether the key stands in the middle of the plug or beside it."
    if not rows and len({ARRAYS[name].rows for name in left}) > 1:
        return "Count the rows through a video scope: one or two."
    if not pins:
        return "See whether two steel pins stand out beside the fibers, or two holes are there."
    if set(left) == {"8", "12"}:
        return "See through the scope whether positions 5 to 8 hold a fiber: eight fibers leave them empty."
    return ""
