"""A pair of attenuators."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Mating, OfFigures, Part, Traits, duplex_paths
from passerelle.core.parts.piece import Piece, Shape
from passerelle.core.parts.spec import Gap, KindSpec
from passerelle.core.sources import derived

USUAL_DB = 5.0


class Attenuator(Piece):
    """A pair of attenuators, one on each fiber: a plug on one side, a receptacle on the other.

    A ``variable`` one is set to ``value_db`` with a meter, and locked.
    """

    kind: Literal["attenuator"] = "attenuator"
    value_db: Annotated[float, Field(gt=0, le=40, allow_inf_nan=False)]
    shape: Shape
    polish: Polish
    plug_side: Literal["left", "right"] = "left"
    variable: bool = False


def _part(pad: Attenuator, catalog: Catalog) -> Part:
    plug = Face("plug", pad.shape, polish=pad.polish)
    opening = Face("opening", pad.shape, polish=pad.polish, mated_as="mated pair, standard")
    ends = (plug, opening) if pad.plug_side == "left" else (opening, plug)
    return Part(
        faces=dict(zip(("left", "right"), ends, strict=True)),
        paths=duplex_paths(2, False, _loss(pad, catalog)),
        traits=Traits(
            realm="light", exchange="by hand", set_by_hand_db=pad.value_db if pad.variable else None, strands=0
        ),
    )


def _loss(pad: Attenuator, catalog: Catalog) -> OfFigures:
    figures = catalog.attenuator
    tolerance_db = figures.variable_tolerance_db if pad.variable else figures.tolerance_of(pad.value_db)
    source = figures.variable_source if pad.variable else figures.source
    return OfFigures(
        name="attenuator",
        what=f"{'variable ' if pad.variable else ''}attenuator {pad.value_db:g} dB ± {tolerance_db:g} dB",
        worst_db=pad.value_db + tolerance_db,
        worst_source=source,
        expected_db=pad.value_db,
        expected_source=derived("the value set with a meter" if pad.variable else "the value marked on the part"),
        least_db=max(0.0, pad.value_db - tolerance_db),
        least_source=source,
    )


def _turned(pad: Attenuator) -> Attenuator:
    return pad.model_copy(update={"plug_side": "right" if pad.plug_side == "left" else "left"})


def _fitted(gap: Gap) -> Attenuator:
    adapter = isinstance(gap.right_part, Mating) and gap.right_part.takes == "plug"
    towards_right = (gap.right.kind == "opening" or adapter) and gap.left.kind != "opening"
    side: Literal["left", "right"] = "right" if towards_right else "left"
    shape = gap.right_shape if towards_right else gap.left_shape
    return Attenuator(value_db=USUAL_DB, shape=shape, polish=gap.polish, plug_side=side)


def _needs(pad: Attenuator, _catalog: Catalog) -> tuple[Need, ...]:
    value = f"set to {pad.value_db:g} dB" if pad.variable else f"{pad.value_db:g} dB"
    words = joined(f"{'variable ' if pad.variable else ''}attenuator", value, f"{pad.shape} {pad.polish}")
    return (Need(words, 2, "cords and panels", "plug", "joints", (("attenuator", 1),)),)


SPEC = KindSpec(
    record=Attenuator,
    order=70,
    word="attenuator",
    title="attenuator",
    part=_part,
    words={
        "label": "Label",
        "value_db": "Value",
        "variable": "Variable",
        "shape": "Connector",
        "polish": "Polish",
        "plug_side": "Plug towards",
    },
    needs=_needs,
    joins=False,
    drawing="joint",
    fitted=_fitted,
    turned=_turned,
    units={"value_db": "dB"},
)
