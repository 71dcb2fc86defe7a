"""A kind of piece that the program does not have: an armored tail of one strand count, with a clip loss of its own.

It is described here and nowhere else, to show that a kind is one module.
"""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need
from passerelle.core.parts.part import OfFigures, OfGlass, Part, Traits, duplex_paths
from passerelle.core.parts.piece import FiberCandidates, Glass, LengthM, Plug, Spaces, Strands
from passerelle.core.parts.spec import Gap, KindSpec, Names
from passerelle.core.sources import estimated

CLIP = estimated("a made-up clip, for a test")
CLIP_DB = 0.4


class Furcation(Glass):
    """An armored tail with plugs at both ends; its clips lose light of their own. ``crossed`` turns the pair."""

    kind: Literal["furcation"] = "furcation"
    length_m: LengthM | None = None
    fiber: FiberCandidates = ()
    left: Plug
    right: Plug
    strands: Strands = 2
    crossed: bool = False
    spaces: Spaces = ()


def _part(tail: Furcation, _catalog: Catalog) -> Part:
    clip = OfFigures("attenuator", "clips", CLIP_DB, CLIP, CLIP_DB / 2, CLIP, 0.0, CLIP)
    return Part(
        faces={
            "left": Face("plug", tail.left.shape, columns=tail.strands, polish=tail.left.polish),
            "right": Face("plug", tail.right.shape, columns=tail.strands, polish=tail.right.polish),
        },
        paths=duplex_paths(tail.strands, tail.crossed, OfGlass(), clip),
        traits=Traits(
            realm="light",
            line=True,
            length_m=tail.length_m,
            strands=tail.strands,
            grades=tail.fiber,
            turns_by_hand=True,
            spaces=tail.spaces,
            jacket="general",
        ),
    )


def _names(tail: Furcation, catalog: Catalog) -> Names:
    for grade in tail.fiber:
        yield "fiber", lambda grade=grade: catalog.fiber(grade)  # type: ignore[misc]


def _fitted(gap: Gap) -> Furcation:
    left, right = (Plug(shape=shape, polish=gap.polish) for shape in (gap.left_shape, gap.right_shape))
    return Furcation(length_m=3.0, fiber=gap.grades, left=left, right=right, strands=gap.strands)


SPEC = KindSpec(
    record=Furcation,
    order=25,
    word="furcation",
    title="armored tail",
    part=_part,
    words={"label": "Label", "length_m": "Length", "fiber": "Grade", "crossed": "Pair", "spaces": "Passes through"},
    needs=lambda _tail, _catalog: (
        Need("armored tail", 1, "cords and panels", "plug", "cords", (("cord single-mode", 2),)),
    ),
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=lambda tail: tail.model_copy(update={"left": tail.right, "right": tail.left}),
    names=_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers"},
    skill=lambda _tail: 1,
)
