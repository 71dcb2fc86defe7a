"""A run: the fixed cable."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from passerelle.core.catalog.records import Jacket
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import BARE
from passerelle.core.parts.kinds.cord import family_of, grade_names, plug_face
from passerelle.core.parts.part import OfGlass, Part, Traits, duplex_paths
from passerelle.core.parts.piece import FiberCandidates, Label, LengthM, Paired, Plug, Spaces, Strands
from passerelle.core.parts.spec import Alternative, Gap, KindSpec, Names


class Run(Paired):
    """The fixed cable. An end without a plug is bare fiber; ``construction`` is empty while it is not known.

    ``jacket`` is the rating that is printed on it, beside what its construction is usually made for.
    A run may be a cable of the plan (``part``), on the strands of some ``positions``; its length and glass then
    follow the plan.
    """

    kind: Literal["run"] = "run"
    length_m: LengthM | None = None
    length_estimated: bool = False
    fiber: FiberCandidates = ()
    left: Plug | None = None
    right: Plug | None = None
    crossed: bool = False
    strands: Strands = 2
    construction: Label = ""
    spaces: Spaces = ()
    jacket: Jacket = "unknown"

    @property
    def pulled(self) -> bool:
        """Fixed cable is pulled."""
        return True


def _part(run: Run, _catalog: Catalog) -> Part:
    return Part(
        faces={
            "left": plug_face(run.left, run.strands) if run.left else BARE,
            "right": plug_face(run.right, run.strands) if run.right else BARE,
        },
        paths=duplex_paths(run.strands, run.crossed, OfGlass()),
        traits=Traits(
            realm="light",
            line=True,
            length_m=run.length_m,
            length_estimated=run.length_estimated,
            strands=run.strands,
            grades=run.fiber,
            fixed=True,
            exchange="pulled",
            spaces=run.spaces,
            jacket=run.jacket,
            construction=run.construction,
            turns_by_hand=bool(run.left or run.right),
        ),
    )


def ends_swapped(glass: Run) -> Run:
    """The piece turned round."""
    return glass.model_copy(update={"left": glass.right, "right": glass.left})


def _names(run: Run, catalog: Catalog) -> Names:
    yield from grade_names(run, catalog)
    if run.construction:
        yield "construction", lambda: catalog.construction(run.construction)


def _buys(run: Run, catalog: Catalog) -> dict[str, float]:
    metres = run.length_m or 0.0
    return {f"cable {family_of(run, catalog)}, a metre": metres, "pulling, a metre": metres}


def _alternatives(run: Run) -> Iterator[Alternative]:
    if run.strands == 2 and (run.left or run.right):
        words = "Swap the two plugs at one end of {name}"
        yield Alternative(words=words, by="plugs", values={"crossed": not run.crossed})


def _fitted(gap: Gap) -> Run:
    """A run is spliced to bare fiber and plugged into anything else."""
    left = None if gap.left.kind == "bare" else Plug(shape=gap.left_shape, polish=gap.polish)
    right = None if gap.right.kind == "bare" else Plug(shape=gap.right_shape, polish=gap.polish)
    return Run(fiber=gap.grades, strands=gap.strands, left=left, right=right)


SPEC = KindSpec(
    record=Run,
    order=40,
    word="run",
    title="run",
    part=_part,
    words={
        "label": "Label",
        "length_m": "Length",
        "length_estimated": "The length is an estimate",
        "fiber": "Grade",
        "strands": "Strands",
        "crossed": "Pair",
        "construction": "How it is built",
        "jacket": "Printed jacket",
        "spaces": "Passes through",
    },
    buys=_buys,
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=ends_swapped,
    names=_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers", "construction": "constructions"},
    any_position=True,
    alternatives=_alternatives,
)
