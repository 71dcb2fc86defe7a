"""What an answer costs: pieces and work by a price list, with what is there already left out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from passerelle.core.catalog.prices import assembly_item
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.elements import (
    Assembly,
    Attenuator,
    Cord,
    Element,
    Jack,
    Module,
    Outlet,
    Panel,
    Pigtail,
    Port,
    Run,
    Splice,
    Twisted,
)
from passerelle.core.sources import Frozen

_WORK = frozenset({"pulling, a metre", "splice, work", "setting up an end", "terminating twisted pair, an end"})
BOXES = ("media converter", "small switch")


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
        runs = any(isinstance(e, Run) or (isinstance(e, Twisted) and e.fixed) for e in link.elements)
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
    match element:
        case Port():
            items: dict[str, float] = {element.label: 1} if element.label in BOXES else {}
            if element.water != "dry":
                items["cabinet against water"] = 1
            return items
        case Module():
            return {f"module {element.application}": 1}
        case Cord():
            family = catalog.fiber(element.fiber[0]).family if element.fiber else "single-mode"
            return {"offset-launch cord" if element.offset_launch else f"cord {family}": 1}
        case Attenuator():
            return {"attenuator": 2}
        case Jack():
            return {f"plug-in twisted-pair module, {element.form}": 1}
        case Assembly():
            return {assembly_item(element.rate_mbps * element.legs, element.made): 1}
        case Twisted() if not element.fixed:
            return {"twisted cord": 1}
        case _:
            return {} if cable_is_there else _fixed(element, catalog)


def _fixed(element: Element, catalog: Catalog) -> dict[str, float]:
    match element:
        case Run():
            family = catalog.fiber(element.fiber[0]).family if element.fiber else "single-mode"
            metres = element.length_m or 0.0
            return {f"cable {family}, a metre": metres, "pulling, a metre": metres}
        case Twisted():
            metres = element.length_m or 0.0
            return {
                "twisted cable, a metre": metres,
                "pulling, a metre": metres,
                "terminating twisted pair, an end": 2,
            }
        case Outlet():
            return {"outlet": 1}
        case Panel():
            return {"panel": 1}
        case Pigtail():
            return {"pigtail": 2}
        case Splice():
            return {"splice": 2, "splice, work": 2}
        case _:
            return {}
