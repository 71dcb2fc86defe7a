"""Array plugs: rows of fibers in one ferrule, the positions that hold one, and the counts that are declined.

Positions are counted on the face, its key up, from left to right and row by row (IEC 61754-7, TIA-604-5).
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any, Literal, get_args

from pydantic import BeforeValidator

from passerelle.core.parts.face import Face, Key
from passerelle.core.sources import Frozen

ArrayName = Literal["8", "12", "16", "24", "32", "2 x 12"]
ArrayShape = Literal["MPO", "MPO-16"]
Pins = Literal["pins", "holes", "unknown"]
ArrayPolish = Literal["PC", "APC"]
CHANGEABLE = Literal["nothing", "pins", "key", "pins and key"]
DECLINED = ("36", "48", "60", "72")


class Array(Frozen):
    """An array end: ``plugs`` side by side, each of ``rows`` of ``columns``; ``filled`` where some are empty."""

    name: ArrayName
    shape: ArrayShape
    rows: int
    columns: int
    filled: tuple[int, ...] = ()
    plugs: int = 1

    @property
    def positions(self) -> tuple[int, ...]:
        """The positions that hold a fiber."""
        return self.filled or tuple(range(1, self.plugs * self.rows * self.columns + 1))


ARRAYS: dict[str, Array] = {
    array.name: array
    for array in (
        Array(name="8", shape="MPO", rows=1, columns=12, filled=(1, 2, 3, 4, 9, 10, 11, 12)),
        Array(name="12", shape="MPO", rows=1, columns=12),
        Array(name="16", shape="MPO-16", rows=1, columns=16),
        Array(name="24", shape="MPO", rows=2, columns=12),
        Array(name="32", shape="MPO-16", rows=2, columns=16),
        Array(name="2 x 12", shape="MPO", rows=1, columns=12, plugs=2),
    )
}
"""Every array end that a link can have. Those of 16 have their key beside the middle: they enter no other."""
SHAPES: tuple[ArrayShape, ...] = get_args(ArrayShape)


def _taken(value: Any) -> Any:
    """The name of an array from what people type; larger counts are named and declined."""
    name = str(value).strip() if isinstance(value, int | str) and not isinstance(value, bool) else value
    if name in DECLINED:
        raise ValueError(
            f"arrays of {name} fibers exist (three rows of 12 and more), and no application here uses one: their "
            "loss and positions are the maker's own. Draw the 12 or 24 fibers of one unit that break out of it"
        )
    return name


ArrayOf = Annotated[ArrayName, BeforeValidator(_taken)]
"""How many fibers an array end holds; a number is taken as its name."""


@lru_cache(maxsize=1024)
def array_face(
    kind: Literal["plug", "opening", "adapter"],
    name: str,
    polish: ArrayPolish,
    pins: Pins,
    key: Key | None = None,
    mated_as: str = "",
) -> Face:
    """The face of an array end.

    >>> array_face("plug", "8", "PC", "holes").positions[4]
    9
    """
    array = ARRAYS[name]
    return Face(
        kind,
        array.shape,
        rows=array.rows,
        columns=array.columns,
        plugs=array.plugs,
        filled=array.filled,
        polish=polish,
        pins={"pins": True, "holes": False, "unknown": None}[pins],
        key=key,
        mated_as=mated_as,
    )


Inner = Literal["in order", "ports reversed", "pairs flipped", "outside in"]


def pairs_of(name: str, inner: Inner) -> tuple[tuple[int, int], ...]:
    """Which positions of an array reach A and B of each duplex front, first front first.

    >>> pairs_of("8", "outside in")
    ((1, 12), (2, 11), (3, 10), (4, 9))
    >>> pairs_of("12", "ports reversed")[0], pairs_of("12", "pairs flipped")[0]
    ((11, 12), (2, 1))
    """
    there = ARRAYS[name].positions
    if inner == "outside in":
        half = len(there) // 2
        return tuple(zip(there[:half], reversed(there[half:]), strict=True))
    ordered = list(zip(there[::2], there[1::2], strict=True))
    if inner == "ports reversed":
        return tuple(reversed(ordered))
    return tuple((b, a) if inner == "pairs flipped" else (a, b) for a, b in ordered)


def name_of(face: Face) -> ArrayName | None:
    """The array that a face is; a row that holds fibers at all positions where nothing else is said."""
    for array in ARRAYS.values():
        size = (array.shape, array.rows, array.columns, array.plugs, array.filled)
        if size == (face.shape, face.rows, face.columns, face.plugs, face.filled):
            return array.name
    return None
