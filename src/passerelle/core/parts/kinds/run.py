"""A run: the fixed cable."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.records import Jacket
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import BARE
from passerelle.core.parts.kinds.cord import (
    ends_words,
    family_of,
    grade_names,
    grade_words,
    length_words,
    plug_face,
    plug_words,
)
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import OfGlass, Part, Traits, duplex_paths
from passerelle.core.parts.piece import FiberCandidates, Label, LengthBy, LengthM, Paired, Plug, Spaces, Strands
from passerelle.core.parts.spec import Alternative, Gap, KindSpec, Names


class Run(Paired):
    """The fixed cable. An end without a plug is bare fiber; ``construction`` is empty while it is not known.

    ``jacket`` is the rating that is printed on it, beside what its construction is usually made for.
    ``splices`` is how many it has on its way that are not drawn; None where nobody knows;
    ``splice_class`` what each of them may lose: the standard maximum, or less by contract.
    ``mounted``: its plugs are mounted on site, not made in the factory with the cable.
    A run may be a cable of the plan (``part``), on the strands of some ``positions``; its length and glass then
    follow the plan.
    """

    kind: Literal["run"] = "run"
    length_m: LengthM | None = None
    length_estimated: bool = False
    length_by: LengthBy = "unsaid"
    fiber: FiberCandidates = ()
    left: Plug | None = None
    right: Plug | None = None
    crossed: bool = False
    strands: Strands = 2
    mounted: bool = False
    splices: Annotated[int, Field(ge=0, le=500)] | None = None
    splice_class: Literal["splice", "splice, low-loss"] = "splice"
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
            splices=run.splices,
            spliced_by_length=True,
            splice_class=run.splice_class,
        ),
    )


def ends_swapped(glass: Run) -> Run:
    """The piece turned round."""
    return glass.model_copy(update={"left": glass.right, "right": glass.left})


def _names(run: Run, catalog: Catalog) -> Names:
    yield from grade_names(run, catalog)
    if run.construction:
        yield "construction", lambda: catalog.construction(run.construction)


def _needs(run: Run, catalog: Catalog) -> tuple[Need, ...]:
    """Bare cable by the metre and the connectors that are mounted on it, or a cable made with its plugs."""
    plugs = [plug for plug in (run.left, run.right) if plug]
    contract = f"at most {catalog.allowance(run.splice_class).worst_db:g} dB a splice by contract"
    glass = joined(
        cable_words(grade_words(run), run.strands, run.construction, run.jacket),
        "" if run.splice_class == "splice" else contract,
    )
    metre = (f"cable {family_of(run, catalog)}, a metre", 1.0)
    metres = run.length_m or 0.0
    if plugs and not run.mounted:
        ends = ends_words(plug_words(run.left), plug_words(run.right))
        made = joined(f"cable made to length, {glass}", ends, length_words(run.length_m, lambda m: m))
        prices = ((metre[0], metres), ("factory end, a fiber", float(len(plugs) * run.strands)))
        return (Need(made, 1, "made to length", "pull", "cable", prices, length_m=run.length_m),)
    bare = Need(f"cable, {glass}", metres, "cable by the reel", "pull", "cable", (metre,), unit="m")
    mounted = tuple(
        Need(
            joined(f"connector to mount, {plug_words(plug)}", grade_words(run)),
            run.strands,
            "splicing and closures",
            "terminate",
            "joints",
            (("connector mounted on site", 1),),
        )
        for plug in plugs
    )
    return (bare, *mounted)


def cable_words(grades: str, strands: int, construction: str, jacket: str) -> str:
    """What a cable is, as a reel of it is called."""
    told = "" if jacket == "unknown" else f"jacket {jacket}"
    return joined(grades, f"{strands} strands", construction or "construction to be said", told)


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
        "length_by": "How the length is known",
        "fiber": "Grade",
        "strands": "Strands",
        "crossed": "Pair",
        "mounted": "Its plugs are mounted on site",
        "construction": "How it is built",
        "jacket": "Printed jacket",
        "splices": "Splices on its way",
        "splice_class": "A splice may lose",
        "spaces": "Passes through",
    },
    needs=_needs,
    work=lambda run: {"pulling, a metre": run.length_m or 0.0},
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
