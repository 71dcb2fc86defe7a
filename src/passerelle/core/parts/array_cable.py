"""A cable with an array plug at each end: what a trunk and an array cord have in common."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from typing import Literal, get_args

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
from passerelle.core.parts.need import joined
from passerelle.core.parts.part import OfGlass, Part, Path, Spot, Traits
from passerelle.core.parts.piece import FiberCandidates, Glass, LengthBy, LengthM, Spaces
from passerelle.core.parts.spec import Alternative, Gap

Wiring = Literal["straight", "reversed", "pair-flipped", "pair-flipped, reversed"]


class ArrayCable(Glass):
    """A cable with an array plug at each end. ``wiring`` is where each position of one end comes out at the other.

    A key that is turned in the field turns ``straight`` into ``reversed`` and back: see ``changeable``.
    """

    length_m: LengthM | None = None
    length_estimated: bool = False
    length_by: LengthBy = "unsaid"
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
    changes: frozenset[Literal["pins", "key"]] = frozenset(
        what for what in ("pins", "key") if what in cable.changeable.split(" and ")
    )
    return Part(
        faces={
            "left": array_face("plug", cable.array, cable.polish, cable.left_pins),
            "right": array_face("plug", cable.array, cable.polish, cable.right_pins),
        },
        paths=_paths(cable.array, cable.wiring),
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


@cache
def _paths(name: ArrayName, wiring: Wiring) -> tuple[Path, ...]:
    """The fibers of a cable: one tuple for all of one kind, so that what follows from it is worked out once."""
    array = ARRAYS[name]
    size = array.rows * array.columns
    ends = wired(wiring, size)
    return tuple(
        Path(Spot("left", here), Spot("right", plug * size + ends[here - plug * size - 1]), (OfGlass(),))
        for here in array.positions
        for plug in [(here - 1) // size]
    )


def array_words(cable: ArrayCable) -> str:
    """An array cable as it is ordered: grade, fibers, wiring, polish, and the pins of its two ends."""
    pins = {"pins": "with pins", "holes": "without pins", "unknown": "pins to be said"}
    first, second = sorted((pins[cable.left_pins], pins[cable.right_pins]))
    return joined(
        " or ".join(cable.fiber) or "grade to be said",
        f"{cable.array} fibers",
        cable.wiring,
        cable.polish,
        first if first == second else f"one end {first}, one end {second}",
        "" if cable.jacket in ("general", "unknown") else f"jacket {cable.jacket}",
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


def wirings(cable: ArrayCable, by: Literal["cord", "pulled"]) -> Iterator[Alternative]:
    """Another wiring: by a key turned where a plug allows it, else by another cable; then the other pins."""
    word = "array cord" if by == "cord" else "trunk"
    verb = "Exchange {name} for" if by == "cord" else "Pull another trunk in the place of {name}:"
    turned = _key_turned(cable.wiring)
    if "key" in cable.changeable:
        yield Alternative(words="Turn one key of {name} over", by="key", values={"wiring": turned})
    for wiring in get_args(Wiring):
        if wiring != cable.wiring:
            yield Alternative(words=f"{verb} a {wiring} {word}", by=by, values={"wiring": wiring})


def ends_changed(cable: ArrayCable, by: Literal["cord", "pulled"]) -> Iterator[Alternative]:
    """Other pins at one end or at both, by a plug that allows it, else by another cable; another polish or size."""
    verb = "Exchange {name}" if by == "cord" else "Pull another trunk in the place of {name}"
    ends = {"left_pins": cable.left_pins, "right_pins": cable.right_pins}
    other: dict[str, Pins] = {name: "holes" if pins == "pins" else "pins" for name, pins in ends.items()}
    for names in (("left_pins",), ("right_pins",), ("left_pins", "right_pins")):
        values = {name: other[name] for name in names}
        told = " and ".join(f"{_INTO[other[name]]} its {name.partition('_')[0]} end" for name in names)
        if "pins" in cable.changeable:
            words = f"Change the pins of {{name}}: {told}"
            yield Alternative(words=words, by="pins", of="pins", values=values)
        else:
            yield Alternative(words=f"{verb}: {told}", by=by, of="pins", values=values)
    polish = "PC" if cable.polish == "APC" else "APC"
    told = "a flat" if polish == "PC" else "an angled"
    yield Alternative(words=f"{verb} for {told} one", by=by, of="polish", values={"polish": polish})
    for name in ARRAYS:
        if name != cable.array:
            yield Alternative(words=f"{verb} for one of {name} fibers", by=by, of="fibers", values={"array": name})


_INTO: dict[str, str] = {"pins": "pins at", "holes": "no pins at"}


def _key_turned(wiring: Wiring) -> Wiring:
    """A plug turned over within its key counts its positions from the other side."""
    n = 4  # any number of positions tells the wirings apart
    wanted = compose(wired(wiring, n), reversed_row(n))
    return next(one for one in get_args(Wiring) if wired(one, n) == wanted)


ARRAY_WORDS = {
    "label": "Label",
    "length_m": "Length",
    "length_estimated": "The length is an estimate",
    "length_by": "How the length is known",
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
