"""A cord."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache, partial
from typing import Literal

from passerelle.core.catalog.material_figures import sold_cord_m
from passerelle.core.catalog.records import Jacket, Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import OfGlass, Part, Traits, duplex_paths
from passerelle.core.parts.piece import FiberCandidates, Glass, LengthM, Paired, Plug, Spaces, Strands
from passerelle.core.parts.spec import Alternative, Gap, KindSpec, Names

USUAL_M = 2.0


Clip = Literal["flips", "fixed", "single plugs"]


class Cord(Paired):
    """A flexible cable. ``crossed``: position A at one plug is position B at the other (two strands).

    ``clip`` is whether its pair can be crossed by hand: a clip that opens, one that does not, or two single plugs.
    ``offset_launch`` makes it a mode-conditioning cord and names the end with the single-mode leg, which
    belongs on a transmitter; ``fiber`` is then the multimode grade that the cord is made for.
    ``matches_run``: the cord is bought when the grade of the run has been read, to match it; until then it has
    the candidates of the run, and whichever of them the run is, the cord is too.
    ``spaces`` is what it passes and ``jacket`` what it is rated for: a cord is made for indoors.
    """

    kind: Literal["cord"] = "cord"
    length_m: LengthM | None = None
    length_estimated: bool = False
    fiber: FiberCandidates = ()
    left: Plug
    right: Plug
    crossed: bool = True
    clip: Clip = "flips"
    strands: Strands = 2
    offset_launch: Literal["left", "right"] | None = None
    matches_run: bool = False
    spaces: Spaces = ()
    jacket: Jacket = "general"


def plug_face(plug: Plug, strands: int) -> Face:
    """The face of a plug that holds this many strands."""
    return _face(plug.shape, plug.polish, strands)


@cache
def _face(shape: str, polish: Polish, strands: int) -> Face:
    return Face("plug", shape, columns=strands, polish=polish)


def _part(cord: Cord, _catalog: Catalog) -> Part:
    return Part(
        faces={"left": plug_face(cord.left, cord.strands), "right": plug_face(cord.right, cord.strands)},
        paths=duplex_paths(cord.strands, cord.crossed, OfGlass()),
        traits=Traits(
            realm="light",
            line=True,
            length_m=cord.length_m,
            length_estimated=cord.length_estimated,
            strands=cord.strands,
            grades=cord.fiber,
            stays_indoors=True,
            turns_by_hand=cord.clip != "fixed",
            spaces=cord.spaces,
            jacket=cord.jacket,
            offset_launch=cord.offset_launch,
        ),
    )


def _alternatives(cord: Cord) -> Iterator[Alternative]:
    other = {"crossed": not cord.crossed}
    if cord.strands == 1:
        return
    if cord.clip == "flips":
        yield Alternative(words="Flip one duplex clip on {name}", by="clip", values=other)
    elif cord.clip == "single plugs":
        yield Alternative(words="Exchange the two single plugs at one end of {name}", by="clip", values=other)
    else:
        kind = "straight" if cord.crossed else "crossed"
        yield Alternative(
            words=f"Exchange {{name}} for a {kind} cord: its clip cannot be turned", by="cord", values=other
        )


def _turned(cord: Cord) -> Cord:
    leg = {"left": "right", "right": "left", None: None}[cord.offset_launch]
    return cord.model_copy(update={"left": cord.right, "right": cord.left, "offset_launch": leg})


def _needs(cord: Cord, catalog: Catalog) -> tuple[Need, ...]:
    crossing = "A-to-B (ordinary)" if cord.crossed else "A-to-A"
    words = joined(
        "offset-launch cord" if cord.offset_launch else "cord",
        grade_words(cord),
        ends_words(plug_words(cord.left), plug_words(cord.right)),
        f"duplex, {crossing}" if cord.strands == 2 else "one strand",
        length_words(cord.length_m, sold_cord_m),
        "" if cord.jacket == "general" else f"jacket {cord.jacket}",
    )
    item = "offset-launch cord" if cord.offset_launch else f"cord {family_of(cord, catalog)}"
    longer_m = max(0.0, sold_cord_m(cord.length_m) - CORD_M) if cord.length_m is not None else 0.0
    prices = ((item, 1.0), *(((LONGER_CORD, longer_m),) if longer_m else ()))
    return (Need(words, 1, "cords and panels", "plug", "cords", prices),)


CORD_M, LONGER_CORD = 2.0, "cord, each metre beyond 2"
"""A cord of the price list has this length in m; what is longer costs more by the metre."""


def grade_words(glass: Glass) -> str:
    """The grade as it is ordered."""
    return " or ".join(glass.fiber) or "grade to be said"


def plug_words(plug: Plug | None) -> str:
    """A plug as it is ordered; bare fiber for none."""
    return f"{plug.shape} {plug.polish}" if plug else "bare"


def ends_words(one: str, other: str) -> str:
    """The two ends of a cable, the same whichever way it lies.

    >>> ends_words("SC APC", "LC UPC")
    'LC UPC to SC APC'
    """
    first, second = sorted((one, other))
    return f"{first} to {second}"


def length_words(length_m: float | None, sold: Callable[[float], float]) -> str:
    """The length as it is sold."""
    return "length to be said" if length_m is None else f"{sold(length_m):g} m"


def family_of(glass: Glass, catalog: Catalog) -> str:
    """The family of its first candidate grade; single-mode where nothing is known of it."""
    return catalog.fiber(glass.fiber[0]).family if glass.fiber else "single-mode"


def grade_names(glass: Glass, catalog: Catalog) -> Names:
    """The grades that the catalog must have."""
    for grade in glass.fiber:
        yield "fiber", partial(catalog.fiber, grade)


def _fitted(gap: Gap) -> Cord:
    return Cord(
        length_m=USUAL_M,
        fiber=gap.grades,
        left=Plug(shape=gap.left_shape, polish=gap.polish),
        right=Plug(shape=gap.right_shape, polish=gap.polish),
        strands=gap.strands,
        crossed=gap.strands == 2,
    )


SPEC = KindSpec(
    record=Cord,
    order=20,
    word="cord",
    title="cord",
    part=_part,
    words={
        "label": "Label",
        "length_m": "Length",
        "length_estimated": "The length is an estimate",
        "fiber": "Grade",
        "strands": "Strands",
        "crossed": "Pair",
        "clip": "Clip",
        "offset_launch": "Mode conditioning",
        "matches_run": "Bought to match the run",
        "spaces": "Passes through",
        "jacket": "Jacket",
    },
    needs=_needs,
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=_turned,
    names=grade_names,
    units={"length_m": "m"},
    shelves={"fiber": "fibers"},
    alternatives=_alternatives,
    skill=lambda _cord: 1,
)
