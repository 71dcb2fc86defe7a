"""What a chain costs: pieces and work by a price list, with what is there already left out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.elements import Attenuator, Cord, Module, Panel, Pigtail, Run, Splice
from passerelle.core.sources import Frozen


class CostLine(Frozen):
    """One item of a chain: how many (or metres), the price of one, and whether it is work."""

    item: str
    count: float
    price: float
    work: bool

    @property
    def total(self) -> float:
        """Count times price."""
        return self.count * self.price


class Cost(Frozen):
    """What a chain costs in the project's own units: pieces, work, both, and the lines."""

    material: float
    work: float
    total: float
    lines: tuple[CostLine, ...]


def cost_of(link: Link, prices: Mapping[str, float], catalog: Catalog, *, glass_is_there: bool) -> Cost:
    """The cost of a chain.

    Args:
        link: the chain; glass of several candidates counts as its first.
        prices: the price of every item (``passerelle.core.catalog.prices``).
        catalog: for the family of the glass.
        glass_is_there: whether fixed cable, panels and splices exist, so that only optics and cords are new.
    """
    wanted: Counter[str] = Counter()
    for element in link.elements:
        if isinstance(element, Module):
            wanted[f"module {element.application}"] += 1
        elif isinstance(element, Cord):
            family = catalog.fiber(element.fiber[0]).family if element.fiber else "single-mode"
            wanted["offset-launch cord" if element.offset_launch else f"cord {family}"] += 1
        elif isinstance(element, Attenuator):
            wanted["attenuator"] += 2
        elif not glass_is_there:
            wanted.update(_fixed(element, catalog))
    wanted["setting up an end"] += 2
    lines = tuple(
        CostLine(item=item, count=count, price=prices[item], work=_is_work(item)) for item, count in wanted.items()
    )
    material = sum(line.total for line in lines if not line.work)
    work = sum(line.total for line in lines if line.work)
    return Cost(material=material, work=work, total=material + work, lines=lines)


def _fixed(element: object, catalog: Catalog) -> dict[str, float]:
    if isinstance(element, Run):
        family = catalog.fiber(element.fiber[0]).family if element.fiber else "single-mode"
        metres = element.length_m or 0.0
        return {f"cable {family}, a metre": metres, "pulling, a metre": metres}
    if isinstance(element, Panel):
        return {"panel": 1}
    if isinstance(element, Pigtail):
        return {"pigtail": 2}
    if isinstance(element, Splice):
        return {"splice": 2, "splice, work": 2}
    return {}


def _is_work(item: str) -> bool:
    return item in ("pulling, a metre", "splice, work", "setting up an end")
