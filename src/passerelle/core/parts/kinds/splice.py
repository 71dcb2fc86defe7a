"""A splice."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.part import Mating, OfAllowance
from passerelle.core.parts.piece import Piece
from passerelle.core.parts.spec import Alternative, KindSpec, alike


class Splice(Piece):
    """Two bare pairs joined for good."""

    kind: Literal["splice"] = "splice"
    crossed: bool = False


def _part(splice: Splice, _catalog: Catalog) -> Mating:
    return Mating(
        takes="bare",
        realm="light",
        word="splice",
        crossed=splice.crossed,
        term=OfAllowance("splice", "splice"),
        exchange="terminated",
    )


SPEC = KindSpec(
    record=Splice,
    order=50,
    word="splice",
    title="splice",
    part=_part,
    words={"label": "Label", "crossed": "Pair"},
    buys=lambda _splice, _catalog: {"splice": 2, "splice, work": 2},
    joins=True,
    drawing="joint",
    fitted=lambda _gap: Splice(),
    turned=alike,
    alternatives=lambda splice: iter(
        [Alternative(words="Cross the pair in {name}", by="terminated", values={"crossed": not splice.crossed})]
    ),
    skill=lambda _splice: 3,
)
