"""A conversion cassette: arrays of one size at its rear, of another at its front."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, model_validator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.array_cable import fitting_pins
from passerelle.core.parts.arrays import ARRAYS, ArrayName, ArrayPolish, Pins, array_face
from passerelle.core.parts.face import Key
from passerelle.core.parts.kinds.cassette import Side, other_side
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Part, Path, Spot, Traits
from passerelle.core.parts.piece import LOSS_CLASS_WORDS, LossClass, Piece
from passerelle.core.parts.spec import Alternative, Gap, KindSpec

Converts = Literal["2 x 12 to 3 x 8", "2 x 12 to 24", "24 to 3 x 8"]
_ENDS: dict[str, tuple[ArrayName, ArrayName, int]] = {
    "2 x 12 to 3 x 8": ("2 x 12", "8", 3),
    "2 x 12 to 24": ("2 x 12", "24", 1),
    "24 to 3 x 8": ("24", "8", 3),
}
"""The array at the rear, that of each front, and how many fronts there are."""


class Conversion(Piece):
    """A cassette from arrays to arrays; this link takes one ``front``. Fibers keep their order from rear to fronts.

    Each front of eight takes the next eight fibers of the rear, four on 1 to 4 and four on 9 to 12. The rear and
    the front are a mated pair each.
    """

    kind: Literal["conversion"] = "conversion"
    converts: Converts = "2 x 12 to 3 x 8"
    front: Annotated[int, Field(ge=1, le=3)] = 1
    rear: Side = "right"
    rear_keys: Literal["aligned", "opposed"] = "opposed"
    front_keys: Literal["aligned", "opposed"] = "aligned"
    rear_pins: Pins = "pins"
    front_pins: Pins = "pins"
    polish: ArrayPolish = "PC"
    loss_class: LossClass = "mated pair"

    @model_validator(mode="after")
    def _has_front(self) -> Conversion:
        count = _ENDS[self.converts][2]
        if self.front > count:
            raise ValueError(f"front: a conversion {self.converts} has {count} fronts, not a front {self.front}")
        return self


def _key(keys: Literal["aligned", "opposed"]) -> Key:
    return "up" if keys == "aligned" else "down"


def _part(box: Conversion, _catalog: Catalog) -> Part:
    behind, ahead, count = _ENDS[box.converts]
    fibers, fronts = ARRAYS[behind].positions, ARRAYS[ahead].positions
    rear = array_face("adapter", behind, box.polish, box.rear_pins, _key(box.rear_keys), box.loss_class)
    front = array_face("adapter", ahead, box.polish, box.front_pins, _key(box.front_keys), box.loss_class)
    paths = tuple(
        Path(Spot("rear", fibers[number * len(fronts) + at]), Spot(str(number + 1), position))
        for number in range(count)
        for at, position in enumerate(fronts)
    )
    ends = str(box.front), "rear"
    enter, leave = ends if box.rear == "right" else ends[::-1]
    return Part(
        faces={"rear": rear, **{str(number): front for number in range(1, count + 1)}},
        paths=paths,
        traits=Traits(realm="light", fixed=True, exchange="cassette"),
        enter=enter,
        leave=leave,
    )


def _alternatives(box: Conversion) -> Iterator[Alternative]:
    for at in ("rear", "front"):
        keys = "opposed" if getattr(box, f"{at}_keys") == "aligned" else "aligned"
        words = f"Exchange {{name}} for one with keys {keys} at the {at}"
        yield Alternative(words=words, by="cassette", values={f"{at}_keys": keys})
        pins = "holes" if getattr(box, f"{at}_pins") == "pins" else "pins"
        told = "with pins" if pins == "pins" else "without pins"
        words = f"Exchange {{name}} for one {told} at the {at}"
        yield Alternative(words=words, by="cassette", of="pins", values={f"{at}_pins": pins})


def _fitted(gap: Gap) -> Conversion:
    at_left = gap.left.is_array and (gap.left.plugs > 1 or gap.left.rows > 1)
    rear, front = (gap.left, gap.right) if at_left else (gap.right, gap.left)
    return Conversion(
        converts="24 to 3 x 8" if rear.rows > 1 else "2 x 12 to 3 x 8",
        rear="left" if at_left else "right",
        rear_pins=fitting_pins(rear, "pins"),
        front_pins=fitting_pins(front, "pins"),
        polish="APC" if "APC" in (rear.polish, front.polish) else "PC",
    )


def _needs(box: Conversion, _catalog: Catalog) -> tuple[Need, ...]:
    words = joined(
        "conversion cassette",
        box.converts,
        box.polish,
        f"keys {box.rear_keys} at the rear, {box.front_keys} at the front",
        f"rear with {box.rear_pins}, front with {box.front_pins}",
        "" if box.loss_class == "mated pair" else LOSS_CLASS_WORDS[box.loss_class],
    )
    return (Need(words, 1, "cords and panels", "terminate", "joints", (("conversion cassette", 1),)),)


SPEC = KindSpec(
    record=Conversion,
    order=34,
    word="conversion cassette",
    title="conversion cassette",
    part=_part,
    words={
        "label": "Label",
        "converts": "Converts",
        "front": "Front",
        "rear": "Rear looks",
        "rear_keys": "Keys at the rear",
        "front_keys": "Keys at the front",
        "rear_pins": "Rear",
        "front_pins": "Front plugs",
        "polish": "Polish",
        "loss_class": "Loss class of each pair",
    },
    needs=_needs,
    joins=False,
    drawing="box",
    fitted=_fitted,
    turned=lambda box: box.model_copy(update={"rear": other_side(box.rear)}),
    alternatives=_alternatives,
    seat=lambda _piece: "front",
    skill=lambda _box: 1,
)
