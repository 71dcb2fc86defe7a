"""A breakout cord: an array plug at one end, duplex legs at the other."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from passerelle.core.catalog.material_figures import sold_cord_m
from passerelle.core.catalog.records import Jacket, Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.array_cable import fitting_pins, near_array
from passerelle.core.parts.arrays import ARRAYS, ArrayOf, ArrayPolish, Inner, Pins, array_face, pairs_of
from passerelle.core.parts.face import DUPLEX, Face
from passerelle.core.parts.kinds.cassette import Side, other_side
from passerelle.core.parts.kinds.cord import USUAL_M, grade_names, grade_words, length_words
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import OfGlass, Part, Path, Spot, Traits
from passerelle.core.parts.piece import FiberCandidates, Glass, LengthM, Shape, Spaces
from passerelle.core.parts.spec import Alternative, Gap, KindSpec


class Breakout(Glass):
    """A cord with one array plug (``head``) and duplex legs; this link takes one ``leg`` of it.

    ``inner`` is which positions of the head reach which leg.
    """

    kind: Literal["breakout"] = "breakout"
    length_m: LengthM | None = None
    fiber: FiberCandidates = ()
    array: ArrayOf = "8"
    inner: Inner = "outside in"
    leg: Annotated[int, Field(ge=1, le=16)] = 1
    head: Side = "left"
    head_pins: Pins = "holes"
    head_polish: ArrayPolish = "PC"
    leg_shape: Shape = "LC"
    leg_polish: Polish = "PC"
    spaces: Spaces = ()
    jacket: Jacket = "general"

    @model_validator(mode="after")
    def _has_leg(self) -> Breakout:
        count = len(pairs_of(self.array, self.inner))
        if self.leg > count:
            raise ValueError(f"leg: a breakout of {self.array} fibers has {count} legs, not a leg {self.leg}")
        return self


def _part(cord: Breakout, _catalog: Catalog) -> Part:
    pairs = pairs_of(cord.array, cord.inner)
    leg = Face("plug", cord.leg_shape, columns=DUPLEX, polish=cord.leg_polish)
    head = array_face("plug", cord.array, cord.head_polish, cord.head_pins)
    ends = "head", str(cord.leg)
    enter, leave = ends if cord.head == "left" else ends[::-1]
    return Part(
        faces={"head": head, **{str(number): leg for number in range(1, len(pairs) + 1)}},
        paths=tuple(
            Path(Spot("head", position), Spot(str(number), side), (OfGlass(),))
            for number, pair in enumerate(pairs, start=1)
            for side, position in enumerate(pair, start=1)
        ),
        traits=Traits(
            realm="light",
            line=True,
            length_m=cord.length_m,
            strands=DUPLEX,
            grades=cord.fiber,
            stays_indoors=True,
            spaces=cord.spaces,
            jacket=cord.jacket,
        ),
        enter=enter,
        leave=leave,
    )


def _alternatives(cord: Breakout) -> Iterator[Alternative]:
    for leg in range(1, len(pairs_of(cord.array, cord.inner)) + 1):
        if leg != cord.leg:
            yield Alternative(words=f"Plug leg {leg} of {{name}}", by="clip", values={"leg": leg})
    for inner in get_args(Inner):
        if inner != cord.inner:
            words = f"Exchange {{name}} for one wired {inner}"
            yield Alternative(words=words, by="cord", values={"inner": inner})
    pins = "holes" if cord.head_pins == "pins" else "pins"
    told = "with pins" if pins == "pins" else "without pins"
    yield Alternative(words=f"Exchange {{name}} for one {told}", by="cord", of="pins", values={"head_pins": pins})
    polish = "PC" if cord.head_polish == "APC" else "APC"
    told = "flat" if polish == "PC" else "angled"
    words = f"Exchange {{name}} for one {told} at the array"
    yield Alternative(words=words, by="cord", of="polish", values={"head_polish": polish})
    for name in ARRAYS:
        if name != cord.array:
            words = f"Exchange {{name}} for one of {name} fibers"
            yield Alternative(words=words, by="cord", of="fibers", values={"array": name})


def _fitted(gap: Gap) -> Breakout:
    array, polish = near_array(gap)
    at_right = gap.right.is_array
    return Breakout(
        length_m=USUAL_M,
        fiber=gap.grades,
        array=array,
        head="right" if at_right else "left",
        head_polish=polish,
        head_pins=fitting_pins(gap.right if at_right else gap.left, "holes"),
        leg_shape=gap.left_shape if at_right else gap.right_shape,
        leg_polish=gap.polish,
    )


def _needs(cord: Breakout, _catalog: Catalog) -> tuple[Need, ...]:
    words = joined(
        "breakout cord",
        grade_words(cord),
        f"{cord.array} fibers, {cord.head_polish}, head with {cord.head_pins}",
        f"legs {cord.inner}",
        f"{cord.leg_shape} {cord.leg_polish}",
        length_words(cord.length_m, sold_cord_m),
    )
    return (Need(words, 1, "cords and panels", "plug", "cords", (("breakout cord", 1),)),)


SPEC = KindSpec(
    record=Breakout,
    order=24,
    word="breakout",
    title="breakout cord",
    part=_part,
    words={
        "label": "Label",
        "length_m": "Length",
        "fiber": "Grade",
        "array": "Fibers",
        "inner": "Inside",
        "leg": "Leg",
        "head": "Array end looks",
        "head_pins": "Array end",
        "head_polish": "Polish of the array",
        "leg_shape": "Plugs of the legs",
        "leg_polish": "Polish of the legs",
        "spaces": "Passes through",
        "jacket": "Jacket",
    },
    needs=_needs,
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=lambda cord: cord.model_copy(update={"head": other_side(cord.head)}),
    names=grade_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers"},
    alternatives=_alternatives,
    seat=lambda _piece: "leg",
    skill=lambda _cord: 1,
)
