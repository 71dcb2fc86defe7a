"""The cure of a piece that arrived otherwise than it was ordered: it goes back, and the right one is ordered."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link, called
from passerelle.core.link.edits import SetFields
from passerelle.core.parts.piece import Line
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort
from passerelle.core.rules.inputs import ARRIVED_OTHERWISE


@cures(ARRIVED_OTHERWISE)
def send_back(link: Link, finding: Finding, _catalog: Catalog) -> Iterator[Fix]:
    """The piece as it was ordered, to be ordered again."""
    piece = link.element(finding.at[0])
    values = {one.field: one.model_dump()["value"] for one in piece.ordered}
    if isinstance(piece, Line) and piece.way_m is not None and piece.way_m == values.get("length_m"):
        values["way_m"] = None
    label = f"Send {called(link, piece)} back and order it again"
    edit = SetFields(element=piece.id, values={**values, "state": "planned", "ordered": ()})
    yield Fix(label=label, effort=Effort.CORD, edits=(edit,))
