"""A pigtail."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from passerelle.core.catalog.material_figures import sold_cord_m
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import BARE
from passerelle.core.parts.kinds.cord import grade_names, grade_words, length_words, plug_face, plug_words
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Mating, OfGlass, Part, Traits, duplex_paths
from passerelle.core.parts.piece import FiberCandidates, LengthM, Paired, Plug, Strands
from passerelle.core.parts.spec import Gap, KindSpec

USUAL_M = 1.5


class Pigtail(Paired):
    """A short pair of fibers with a plug at exactly one end; the other is bare, to be spliced."""

    kind: Literal["pigtail"] = "pigtail"
    length_m: LengthM | None = None
    fiber: FiberCandidates = ()
    left: Plug | None = None
    right: Plug | None = None
    strands: Strands = 2

    @model_validator(mode="after")
    def _one_plug(self) -> Pigtail:
        if (self.left is None) == (self.right is None):
            raise ValueError("a pigtail has a plug at one end and bare fiber at the other: give one plug")
        return self


def _part(pigtail: Pigtail, _catalog: Catalog) -> Part:
    return Part(
        faces={
            "left": plug_face(pigtail.left, pigtail.strands) if pigtail.left else BARE,
            "right": plug_face(pigtail.right, pigtail.strands) if pigtail.right else BARE,
        },
        paths=duplex_paths(pigtail.strands, False, OfGlass()),
        traits=Traits(
            realm="light",
            line=True,
            length_m=pigtail.length_m,
            strands=pigtail.strands,
            grades=pigtail.fiber,
            fixed=True,
            exchange="terminated",
        ),
    )


def _turned(pigtail: Pigtail) -> Pigtail:
    return pigtail.model_copy(update={"left": pigtail.right, "right": pigtail.left})


def _fitted(gap: Gap) -> Pigtail:
    behind_splice = isinstance(gap.left_part, Mating) and gap.left_part.takes == "bare"
    if gap.left.kind == "bare" or behind_splice:
        plugs = {"left": None, "right": Plug(shape=gap.right_shape, polish=gap.polish)}
    else:
        plugs = {"left": Plug(shape=gap.left_shape, polish=gap.polish), "right": None}
    return Pigtail(length_m=USUAL_M, fiber=gap.grades, strands=gap.strands, **plugs)


def _needs(pigtail: Pigtail, _catalog: Catalog) -> tuple[Need, ...]:
    """One for each strand."""
    plug = plug_words(pigtail.left or pigtail.right)
    words = joined("pigtail", grade_words(pigtail), plug, length_words(pigtail.length_m, sold_cord_m))
    return (Need(words, pigtail.strands, "splicing and closures", "terminate", "joints", (("pigtail", 1),)),)


SPEC = KindSpec(
    record=Pigtail,
    order=60,
    word="pigtail",
    title="pigtail",
    part=_part,
    words={"label": "Label", "length_m": "Length", "fiber": "Grade", "strands": "Strands"},
    needs=_needs,
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=_turned,
    names=grade_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers"},
)
