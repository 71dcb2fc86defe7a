"""What an answer costs: what its links come to on the bill of a project that has nothing else, and the work."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.materials.asked import scope_of
from passerelle.core.materials.bill import bill_of, price_each
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.need import Unit
from passerelle.core.parts.part import Mating
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.parts.registry import Element, part_of, spec_of
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen

SETTING_UP = "setting up an end"


class CostLine(Frozen):
    """One line of an answer: how many pieces or metres, the price of one, and whether it is work.

    Of material it is a line of the bill, spares and all; ``spares`` says how many of ``count`` those are.
    """

    item: str
    count: float
    price: float
    work: bool
    unit: Unit = "piece"
    spares: float = 0.0

    @property
    def total(self) -> float:
        """Count times price."""
        return round(self.count * self.price, 2)


class Cost(Frozen):
    """What an answer costs in the project's own units: pieces, work, both, and the lines."""

    material: float
    work: float
    total: float
    lines: tuple[CostLine, ...]


def cost_of(links: Sequence[Link], house: HouseRules, catalog: Catalog) -> Cost:
    """The cost of the links of one answer: the sum of their bill in a project of their own, and their work.

    What is in place already (its state says so) is neither bought nor worked on.

    Args:
        links: the chains; glass of several candidates counts as its first.
        house: its spares, slack and prices.
        catalog: what the links are made of.
    """
    scope = scope_of(tuple(enumerate(links, 1)), Plant(), house, catalog)
    bill = bill_of(scope)
    lines = [
        CostLine(
            item=line.words,
            count=line.to_order,
            price=line.each,
            work=False,
            unit=line.unit,
            spares=min(line.spares, line.to_order),
        )
        for line in bill.lines
        if line.to_order > 0
    ]
    work: Counter[str] = Counter()
    for link in links:
        for element in link.elements:
            if element.state in NEW_STATES:
                work.update(spec_of(element).work(element))
        work[SETTING_UP] += 2
    lines += [
        CostLine(item=item, count=count, price=price_each(item, scope), work=True)
        for item, count in work.items()
        if count
    ]
    worked = round(sum(line.total for line in lines if line.work), 2)
    return Cost(material=bill.total, work=worked, total=round(bill.total + worked, 2), lines=tuple(lines))


def as_there(
    links: Sequence[Link], catalog: Catalog, *, cable_is_there: bool, at_hand: Sequence[str]
) -> list[Link]:
    """Links with what is there already marked so: what stays in the building where the cable is, modules at hand.

    Args:
        links: the chains of an answer.
        catalog: what they are made of.
        cable_is_there: whether fixed cable, panels, outlets and splices exist, so that only the rest is new.
        at_hand: applications of modules that are used again, once for each.
    """
    left = Counter(at_hand)

    def state_of(element: Element) -> Element:
        there = cable_is_there and stays(element, catalog)
        if not there and isinstance(element, Module) and left[element.application] > 0:
            left[element.application] -= 1
            there = True
        return element.model_copy(update={"state": "existing"}) if there else element

    return [link.model_copy(update={"elements": tuple(state_of(e) for e in link.elements)}) for link in links]


def stays(element: Element, catalog: Catalog) -> bool:
    """Whether a piece stays in the building, so that it is there where its cable is."""
    part = part_of(element, catalog)
    return isinstance(part, Mating) or part.traits.fixed
