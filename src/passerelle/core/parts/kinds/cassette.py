"""A cassette: an array at its rear, duplex openings at its front."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.array_cable import fitting_pins, near_array
from passerelle.core.parts.arrays import ArrayOf, ArrayPolish, Inner, Pins, array_face, pairs_of
from passerelle.core.parts.face import DUPLEX, Face
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Part, Path, Spot, Traits
from passerelle.core.parts.piece import LOSS_CLASS_WORDS, LossClass, Piece
from passerelle.core.parts.spec import Alternative, Gap, KindSpec

FrontShape = Literal["LC", "SC"]
Side = Literal["left", "right"]
FrontNumber = Annotated[int, Field(ge=1, le=16)]


class Cassette(Piece):
    """A box in a panel: an array plug enters its ``rear``, duplex plugs its fronts; this link takes one ``front``.

    ``inner`` is which positions of the rear reach which front, ``rear_keys`` how the plug at the rear stands to the
    plug inside. The rear and the front are a mated pair each.
    """

    kind: Literal["cassette"] = "cassette"
    array: ArrayOf = "12"
    inner: Inner = "in order"
    front: FrontNumber = 1
    rear: Side = "right"
    rear_keys: Literal["aligned", "opposed"] = "opposed"
    rear_pins: Pins = "pins"
    rear_polish: ArrayPolish = "PC"
    front_shape: FrontShape = "LC"
    front_polish: Polish = "PC"
    loss_class: LossClass = "mated pair"

    @model_validator(mode="after")
    def _has_front(self) -> Cassette:
        count = len(pairs_of(self.array, self.inner))
        if self.front > count:
            raise ValueError(f"front: a cassette of {self.array} has {count} fronts, not a front {self.front}")
        return self


def _part(cassette: Cassette, _catalog: Catalog) -> Part:
    pairs = pairs_of(cassette.array, cassette.inner)
    key: Literal["up", "down"] = "up" if cassette.rear_keys == "aligned" else "down"
    rear = array_face("adapter", cassette.array, cassette.rear_polish, cassette.rear_pins, key, cassette.loss_class)
    front = Face(
        "adapter",
        cassette.front_shape,
        columns=DUPLEX,
        polish=cassette.front_polish,
        mated_as=cassette.loss_class,
    )
    faces = {"rear": rear, **{str(number): front for number in range(1, len(pairs) + 1)}}
    paths = tuple(
        Path(Spot("rear", position), Spot(str(number), side))
        for number, pair in enumerate(pairs, start=1)
        for side, position in enumerate(pair, start=1)
    )
    ends = str(cassette.front), "rear"
    enter, leave = ends if cassette.rear == "right" else ends[::-1]
    return Part(
        faces=faces,
        paths=paths,
        traits=Traits(realm="light", fixed=True, exchange="cassette"),
        enter=enter,
        leave=leave,
    )


def _alternatives(cassette: Cassette) -> Iterator[Alternative]:
    fronts = range(1, len(pairs_of(cassette.array, cassette.inner)) + 1)
    for front in fronts:
        if front != cassette.front:
            words = f"Plug into front {front} of {{name}}"
            yield Alternative(words=words, by="clip", values={"front": front})
    for inner in get_args(Inner):
        if inner != cassette.inner:
            words = f"Exchange {{name}} for one wired {inner}"
            yield Alternative(words=words, by="cassette", values={"inner": inner})
    other = "opposed" if cassette.rear_keys == "aligned" else "aligned"
    words = f"Exchange {{name}} for one with keys {other} at the rear"
    yield Alternative(words=words, by="cassette", values={"rear_keys": other})
    pins = "holes" if cassette.rear_pins == "pins" else "pins"
    told = "with pins" if pins == "pins" else "without pins"
    yield Alternative(
        words=f"Exchange {{name}} for one {told} at the rear", by="cassette", of="pins", values={"rear_pins": pins}
    )
    polish = "PC" if cassette.rear_polish == "APC" else "APC"
    told = "flat" if polish == "PC" else "angled"
    words = f"Exchange {{name}} for one {told} at the rear"
    yield Alternative(words=words, by="cassette", of="polish", values={"rear_polish": polish})


def other_side(side: Side) -> Side:
    """The side across."""
    return "left" if side == "right" else "right"


def _fitted(gap: Gap) -> Cassette:
    array, polish = near_array(gap)
    at_left = gap.left.is_array
    return Cassette(
        array=array,
        rear_polish=polish,
        rear="left" if at_left else "right",
        rear_pins=fitting_pins(gap.left if at_left else gap.right, "pins"),
        front_polish=gap.polish,
    )


def _needs(cassette: Cassette, _catalog: Catalog) -> tuple[Need, ...]:
    words = joined(
        "cassette",
        f"{cassette.array} fibers, {cassette.rear_polish}, rear plug with {cassette.rear_pins}",
        f"keys {cassette.rear_keys}",
        f"pairs {cassette.inner}",
        f"front {cassette.front_shape} {cassette.front_polish}",
        "" if cassette.loss_class == "mated pair" else LOSS_CLASS_WORDS[cassette.loss_class],
    )
    return (Need(words, 1, "cords and panels", "terminate", "joints", (("cassette", 1),)),)


SPEC = KindSpec(
    record=Cassette,
    order=32,
    word="cassette",
    title="cassette",
    part=_part,
    words={
        "label": "Label",
        "array": "Fibers at the rear",
        "inner": "Inside",
        "front": "Front",
        "rear": "Rear looks",
        "rear_keys": "Keys at the rear",
        "rear_pins": "Rear",
        "rear_polish": "Polish at the rear",
        "front_shape": "Front openings",
        "front_polish": "Polish at the front",
        "loss_class": "Loss class of each pair",
    },
    needs=_needs,
    joins=False,
    drawing="box",
    fitted=_fitted,
    turned=lambda cassette: cassette.model_copy(update={"rear": other_side(cassette.rear)}),
    alternatives=_alternatives,
    seat=lambda _piece: "front",
    skill=lambda _cassette: 1,
)
