"""Twisted pair: a cord, or the cable between two outlets."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.copper_figures import Category
from passerelle.core.catalog.material_figures import sold_cord_m
from passerelle.core.catalog.records import Jacket, Space
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.kinds.cord import length_words
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Part, Path, Spot, Traits
from passerelle.core.parts.piece import LengthBy, LengthM, Line, Spaces
from passerelle.core.parts.spec import KindSpec, alike

USUAL_M = 2.0
PLUG = Face("contacts", "plug", columns=8)
OUTDOOR: frozenset[Space] = frozenset({"duct", "buried", "aerial", "wet", "sunlight"})
"""What twisted pair with an outdoor jacket is usually made for."""


class Twisted(Line):
    """A twisted-pair cord, or with ``fixed`` the cable between two outlets, with an 8-way plug or jack at each end.

    ``jacket`` is the rating that is printed on it.
    """

    kind: Literal["twisted"] = "twisted"
    length_m: LengthM | None = None
    length_estimated: bool = False
    length_by: LengthBy = "unsaid"
    category: Category = "Category 6A"
    fixed: bool = False
    jacket: Jacket = "general"
    spaces: Spaces = ()

    @property
    def pulled(self) -> bool:
        """Whether it is fixed cable."""
        return self.fixed


def _part(line: Twisted, _catalog: Catalog) -> Part:
    return Part(
        faces={"left": PLUG, "right": PLUG},
        paths=tuple(Path(Spot("left", n), Spot("right", n)) for n in range(1, 9)),
        traits=Traits(
            realm="copper",
            line=True,
            length_m=line.length_m,
            length_estimated=line.length_estimated,
            category=line.category,
            fixed=line.fixed,
            exchange="pulled" if line.fixed else "cord",
            conductors=True,
            outdoor_rated=OUTDOOR,
            spaces=line.spaces,
            jacket=line.jacket,
        ),
    )


def _needs(line: Twisted, _catalog: Catalog) -> tuple[Need, ...]:
    jacket = "" if line.jacket == "general" else f"jacket {line.jacket}"
    if line.fixed:
        words, price = joined("twisted-pair cable", line.category, jacket), (("twisted cable, a metre", 1.0),)
        return (Need(words, line.length_m or 0.0, "cable by the reel", "pull", "cable", price, unit="m"),)
    words = joined("twisted-pair cord", line.category, length_words(line.length_m, sold_cord_m), jacket)
    return (Need(words, 1, "cords and panels", "plug", "cords", (("twisted cord", 1),)),)


def _work(line: Twisted) -> dict[str, float]:
    if not line.fixed:
        return {}
    return {"pulling, a metre": line.length_m or 0.0, "terminating twisted pair, an end": 2}


SPEC = KindSpec(
    record=Twisted,
    order=90,
    word="twisted",
    title="twisted pair",
    part=_part,
    words={
        "label": "Label",
        "length_m": "Length",
        "length_estimated": "The length is an estimate",
        "length_by": "How the length is known",
        "category": "Category",
        "fixed": "Fixed cable",
        "jacket": "Jacket",
        "spaces": "Passes through",
    },
    needs=_needs,
    work=_work,
    joins=False,
    drawing="cable",
    fitted=lambda _gap: Twisted(length_m=USUAL_M),
    turned=alike,
    units={"length_m": "m"},
    skill=lambda line: 2 if line.fixed else 0,
)
