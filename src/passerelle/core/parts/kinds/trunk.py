"""An array trunk: the fixed cable with an array plug at each end."""

from __future__ import annotations

from itertools import chain
from typing import Literal

from passerelle.core.catalog.records import Jacket
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.array_cable import (
    ARRAY_WORDS,
    ArrayCable,
    array_cable_part,
    array_words,
    ends_changed,
    fitting_pins,
    near_array,
    pins_exchanged,
    wirings,
)
from passerelle.core.parts.arrays import Pins
from passerelle.core.parts.kinds.cord import grade_names, length_words
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Part
from passerelle.core.parts.piece import Label
from passerelle.core.parts.spec import Gap, KindSpec, Names


class Trunk(ArrayCable):
    """An array trunk, made in the factory and pulled. Fixed cable usually carries the pins, cords do not."""

    kind: Literal["trunk"] = "trunk"
    left_pins: Pins = "pins"
    right_pins: Pins = "pins"
    construction: Label = ""
    jacket: Jacket = "unknown"

    @property
    def pulled(self) -> bool:
        """Fixed cable is pulled."""
        return True


def _part(trunk: Trunk, _catalog: Catalog) -> Part:
    return array_cable_part(trunk, fixed=True, construction=trunk.construction)


def _names(trunk: Trunk, catalog: Catalog) -> Names:
    yield from grade_names(trunk, catalog)
    if trunk.construction:
        yield "construction", lambda: catalog.construction(trunk.construction)


def _needs(trunk: Trunk, _catalog: Catalog) -> tuple[Need, ...]:
    construction = trunk.construction or "construction to be said"
    words = joined(
        "array trunk made to length", array_words(trunk), construction, length_words(trunk.length_m, lambda m: m)
    )
    glass_m = (trunk.length_m or 0.0) * trunk.width
    prices = (("array trunk, a metre and fiber", glass_m), ("array trunk, an end", 2.0))
    return (Need(words, 1, "made to length", "pull", "cable", prices, length_m=trunk.length_m),)


def _fitted(gap: Gap) -> Trunk:
    array, polish = near_array(gap)
    return Trunk(
        fiber=gap.grades,
        array=array,
        polish=polish,
        left_pins=fitting_pins(gap.left, "pins"),
        right_pins=fitting_pins(gap.right, "pins"),
    )


SPEC = KindSpec(
    record=Trunk,
    order=42,
    word="trunk",
    title="array trunk",
    part=_part,
    words={**ARRAY_WORDS, "construction": "How it is built"},
    needs=_needs,
    work=lambda trunk: {"pulling, a metre": trunk.length_m or 0.0},
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=lambda trunk: trunk.model_copy(update=pins_exchanged(trunk)),
    names=_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers", "construction": "constructions"},
    any_position=True,
    alternatives=lambda trunk: chain(wirings(trunk, "pulled"), ends_changed(trunk, "pulled")),
)
