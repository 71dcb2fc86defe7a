"""A splice."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.need import Need
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


PROTECTORS = Need("splice protector", 2, "splicing and closures", "terminate", "joints", (("splice", 1),))
"""One for each strand of a pair."""

SPEC = KindSpec(
    record=Splice,
    order=50,
    word="splice",
    title="splice",
    part=_part,
    words={"label": "Label", "crossed": "Pair"},
    needs=lambda _splice, _catalog: (PROTECTORS,),
    work=lambda _splice: {"splice, work": 2},
    joins=True,
    drawing="joint",
    fitted=lambda _gap: Splice(),
    turned=alike,
    alternatives=lambda splice: iter(
        [Alternative(words="Cross the pair in {name}", by="terminated", values={"crossed": not splice.crossed})]
    ),
    skill=lambda _splice: 3,
)
