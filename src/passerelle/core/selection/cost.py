"""What an answer costs: pieces and work by a price list, with what is there already left out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.parts.part import Mating
from passerelle.core.parts.piece import Line
from passerelle.core.parts.registry import Element, part_of, spec_of
from passerelle.core.sources import Frozen

_WORK = frozenset({"pulling, a metre", "splice, work", "setting up an end", "terminating twisted pair, an end"})


class CostLine(Frozen):
    """One item of an answer: how many (or metres), the price of one, and whether it is work."""

    item: str
    count: float
    price: float
    work: bool

    @property
    def total(self) -> float:
        """Count times price."""
        return self.count * self.price


class Cost(Frozen):
    """What an answer costs in the project's own units: pieces, work, both, and the lines."""

    material: float
    work: float
    total: float
    lines: tuple[CostLine, ...]


def cost_of(
    links: Sequence[Link],
    prices: Mapping[str, float],
    catalog: Catalog,
    *,
    cable_is_there: bool,
    at_hand: Sequence[str] = (),
) -> Cost:
    """The cost of the links of one answer.

    Members that are the same chain share one cable: it is bought and pulled once.

    Args:
        links: the chains; glass of several candidates counts as its first.
        prices: the price of every item (``passerelle.core.catalog.prices``).
        catalog: for the family of the glass.
        cable_is_there: whether fixed cable, panels, outlets and splices exist, so that only the rest is new.
        at_hand: applications of modules that are used again, once for each.
    """
    wanted: Counter[str] = Counter()
    pulled = False
    for link in links:
        runs = any(isinstance(e, Line) and e.pulled for e in link.elements)
        for element in link.elements:
            items = _items(element, catalog, cable_is_there)
            if pulled:
                items = {item: count for item, count in items.items() if not item.endswith("a metre")}
            wanted.update(items)
        pulled = pulled or runs
        wanted["setting up an end"] += 2
    for application in at_hand:
        item = f"module {application}"
        if wanted[item] > 0:
            wanted[item] -= 1
    lines = tuple(
        CostLine(item=item, count=count, price=prices[item], work=item in _WORK)
        for item, count in wanted.items()
        if count
    )
    material = sum(line.total for line in lines if not line.work)
    work = sum(line.total for line in lines if line.work)
    return Cost(material=material, work=work, total=material + work, lines=lines)


def _items(element: Element, catalog: Catalog, cable_is_there: bool) -> dict[str, float]:
    """What a new piece is bought as; nothing where it stays in the building and is there already."""
    items: dict[str, float] = (
        {} if cable_is_there and stays(element, catalog) else spec_of(element).buys(element, catalog)
    )
    return items


def stays(element: Element, catalog: Catalog) -> bool:
    """Whether a piece stays in the building, so that it is there where its cable is."""
    part = part_of(element, catalog)
    return isinstance(part, Mating) or part.traits.fixed
