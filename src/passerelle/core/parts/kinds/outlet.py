"""An 8-way jack in a panel or in the wall."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.need import Need
from passerelle.core.parts.part import Mating
from passerelle.core.parts.piece import Piece
from passerelle.core.parts.spec import KindSpec, alike


class Outlet(Piece):
    """An 8-way jack in a panel or in the wall."""

    kind: Literal["outlet"] = "outlet"


def _part(_outlet: Outlet, _catalog: Catalog) -> Mating:
    return Mating(takes="contacts", realm="copper", word="outlet")


SPEC = KindSpec(
    record=Outlet,
    order=100,
    word="outlet",
    title="outlet",
    part=_part,
    words={"label": "Label"},
    needs=lambda _outlet, _catalog: (
        Need("outlet, 8-way jack", 1, "cords and panels", "terminate", "joints", (("outlet", 1),)),
    ),
    joins=True,
    in_frames=True,
    drawing="joint",
    fitted=lambda _gap: Outlet(),
    turned=alike,
)
