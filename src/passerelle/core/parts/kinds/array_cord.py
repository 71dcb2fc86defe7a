"""An array cord."""

from __future__ import annotations

from itertools import chain
from typing import Literal

from passerelle.core.catalog.material_figures import sold_cord_m
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
from passerelle.core.parts.kinds.cord import USUAL_M, grade_names, length_words
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Part
from passerelle.core.parts.spec import Gap, KindSpec


class ArrayCord(ArrayCable):
    """A flexible cable with an array plug at each end, exchanged by hand; its plugs usually have no pins."""

    kind: Literal["array-cord"] = "array-cord"


def _part(cord: ArrayCord, _catalog: Catalog) -> Part:
    return array_cable_part(cord, fixed=False)


def _needs(cord: ArrayCord, _catalog: Catalog) -> tuple[Need, ...]:
    words = joined("array cord", array_words(cord), length_words(cord.length_m, sold_cord_m))
    return (Need(words, 1, "cords and panels", "plug", "cords", (("array cord, a fiber", cord.width),)),)


def _fitted(gap: Gap) -> ArrayCord:
    array, polish = near_array(gap)
    return ArrayCord(
        length_m=USUAL_M,
        fiber=gap.grades,
        array=array,
        polish=polish,
        wiring="reversed",
        left_pins=fitting_pins(gap.left, "holes"),
        right_pins=fitting_pins(gap.right, "holes"),
    )


SPEC = KindSpec(
    record=ArrayCord,
    order=22,
    word="array cord",
    title="array cord",
    part=_part,
    words=ARRAY_WORDS,
    needs=_needs,
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=lambda cord: cord.model_copy(update=pins_exchanged(cord)),
    names=grade_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers"},
    alternatives=lambda cord: chain(wirings(cord, "cord"), ends_changed(cord, "cord")),
    skill=lambda _cord: 1,
)
