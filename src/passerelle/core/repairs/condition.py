"""The cure of a piece that cannot be used: another one of its kind is ordered for its place."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link, called
from passerelle.core.link.edits import SetFields
from passerelle.core.parts.part import Mating
from passerelle.core.parts.registry import part_of
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort
from passerelle.core.rules.condition import PIECE_DEAD


@cures(PIECE_DEAD)
def replace_dead(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """A new piece like it; of one that stands for a part of the site plan the plan decides."""
    piece = link.element(finding.at[0])
    if piece.part:
        return
    part = part_of(piece, catalog)
    pulled = not isinstance(part, Mating) and part.traits.fixed and hasattr(piece, "length_m")
    label = f"Replace {called(link, piece)} with a new one like it"
    edit = SetFields(element=piece.id, values={"state": "planned"})
    yield Fix(label=label, effort=Effort.PULL if pulled else Effort.CORD, edits=(edit,))
