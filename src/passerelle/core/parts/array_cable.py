"""A cable with an array plug at each end: what a trunk and an array cord have in common."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.records import Jacket
from passerelle.core.parts.arrays import (
    ARRAYS,
    CHANGEABLE,
    ArrayName,
    ArrayOf,
    ArrayPolish,
    Pins,
    array_face,
    name_of,
)
from passerelle.core.parts.face import Face
from passerelle.core.parts.maps import Map, compose, pair_flipped, reversed_row, straight
from passerelle.core.parts.part import OfGlass, Part, Path, Spot, Traits
from passerelle.core.parts.piece import FiberCandidates, Glass, LengthM, Spaces
from passerelle.core.parts.spec import Gap

Wiring = Literal["straight", "reversed", "pair-flipped", "pair-flipped, reversed"]


class ArrayCable(Glass):
    """A cable with an array plug at each end. ``wiring`` is where each position of one end comes out at the other.

    A key that is turned in the field turns ``straight`` into ``reversed`` and back: see ``changeable``.
    """

    length_m: LengthM | None = None
    length_estimated: bool = False
    fiber: FiberCandidates = ()
    array: ArrayOf = "12"
    wiring: Wiring = "straight"
    polish: ArrayPolish = "PC"
    left_pins: Pins = "holes"
    right_pins: Pins = "holes"
    changeable: CHANGEABLE = "nothing"
    spaces: Spaces = ()
    jacket: Jacket = "general"

    @property
    def width(self) -> int:
        """How many fibers it has."""
        return len(ARRAYS[self.array].positions)


def wired(wiring: Wiring, n: int) -> Map:
    """Where each of ``n`` positions of the left plug comes out at the right one.

    Straight keeps them, reversed takes i to n + 1 - i, pair-flipped exchanges neighbors (TIA-568.3-D, array cables
    of type A, B and C); two rows are counted through, 1 to 24 or 1 to 32.

    >>> wired("reversed", 4), wired("pair-flipped, reversed", 4)
    ((4, 3, 2, 1), (3, 4, 1, 2))
    """
    pairs = pair_flipped(n) if wiring.startswith("pair-flipped") else straight(n)
    return compose(pairs, reversed_row(n)) if wiring.endswith("reversed") else pairs


def array_cable_part(cable: ArrayCable, fixed: bool, construction: str | None = None) -> Part:
    """What the rules see of it. Plugs side by side are wired each by itself."""
    array = ARRAYS[cable.array]
    size = array.rows * array.columns
    ends = wired(cable.wiring, size)
    paths = tuple(
        Path(Spot("left", here), Spot("right", plug * size + ends[here - plug * size - 1]), (OfGlass(),))
        for here in array.positions
        for plug in [(here - 1) // size]
    )
    changes: frozenset[Literal["pins", "key"]] = frozenset(
        what for what in ("pins", "key") if what in cable.changeable.split(" and ")
    )
    return Part(
        faces={
            "left": array_face("plug", cable.array, cable.polish, cable.left_pins),
            "right": array_face("plug", cable.array, cable.polish, cable.right_pins),
        },
        paths=paths,
        traits=Traits(
            realm="light",
            line=True,
            length_m=cable.length_m,
            length_estimated=cable.length_estimated,
            strands=cable.width,
            grades=cable.fiber,
            stays_indoors=not fixed,
            fixed=fixed,
            exchange="pulled" if fixed else "cord",
            changes=changes,
            spaces=cable.spaces,
            jacket=cable.jacket,
            construction=construction,
        ),
    )


def pins_exchanged(cable: ArrayCable) -> dict[str, object]:
    """The fields of its ends when it is turned round; each wiring is its own inverse."""
    return {"left_pins": cable.right_pins, "right_pins": cable.left_pins}


def near_array(gap: Gap) -> tuple[ArrayName, ArrayPolish]:
    """The array and the polish of what stands beside a gap; a row of 12, flat, where none does."""
    face = next((one for one in (gap.left, gap.right) if name_of(one)), None)
    if face is None:
        return "12", "PC"
    return name_of(face) or "12", "APC" if face.polish == "APC" else "PC"


def fitting_pins(face: Face, otherwise: Pins) -> Pins:
    """The pins that meet a face: holes for pins."""
    return otherwise if face.pins is None else "holes" if face.pins else "pins"


ARRAY_WORDS = {
    "label": "Label",
    "length_m": "Length",
    "length_estimated": "The length is an estimate",
    "fiber": "Grade",
    "array": "Fibers",
    "wiring": "Positions",
    "polish": "Polish",
    "left_pins": "Left end",
    "right_pins": "Right end",
    "changeable": "Changed in the field",
    "spaces": "Passes through",
    "jacket": "Jacket",
}
"""The words of the fields of an array cable."""
