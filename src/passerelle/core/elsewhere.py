"""What a change of a shared part does to the other links that stand on it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, SetFields, apply_edits
from passerelle.core.parts.registry import spec_of
from passerelle.core.sources import Frozen


class Elsewhere(Frozen):
    """Another link on the same part: its number and name, its verdict now, and after the change of the part."""

    link: int
    name: str
    before: Verdict
    after: Verdict

    @property
    def worse(self) -> bool:
        """Whether the change breaks it further."""
        return self.after.rank < self.before.rank


def elsewhere(
    link: Link, edits: Sequence[Edit], others: Mapping[int, Link], catalog: Catalog, house: HouseRules
) -> tuple[Elsewhere, ...]:
    """The links among others that share a part which the edits change, with their verdicts before and after.

    Args:
        link: the link that is edited.
        edits: what is done to it; only fields set on pieces of shared parts matter.
        others: the other links that stand on its parts, by number.
    """
    changed: dict[int, Link] = {}
    for edit in edits:
        if not isinstance(edit, SetFields):
            continue
        piece = link.element(edit.element)
        own = {spec_of(piece).seat(piece), "label"}
        values = {name: value for name, value in edit.values.items() if name not in own}
        if not piece.part or not values:
            continue
        for number, other in others.items():
            same = [e for e in other.elements if e.part == piece.part and e.kind == piece.kind]
            try:
                for element in same:
                    before = changed.get(number, other)
                    changed[number] = apply_edits(before, (SetFields(element=element.id, values=values),))
            except EditError:
                continue
    numbers = list(changed)
    now = figures_of([others[n] for n in numbers], catalog, house)
    then = figures_of([changed[n] for n in numbers], catalog, house)
    return tuple(
        Elsewhere(link=n, name=others[n].name, before=a.verdict, after=b.verdict)
        for n, a, b in zip(numbers, now, then, strict=True)
    )
