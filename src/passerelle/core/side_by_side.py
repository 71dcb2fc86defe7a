"""Figures of very many links on all processors of the machine, for a process without threads.

Links of one kind go to one processor, so that each kind is judged once.
"""

from __future__ import annotations

import multiprocessing
import os
from collections import defaultdict
from collections.abc import Sequence

from passerelle.core.batch import Figures, figures_of, look
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link

MANY = 2000
"""Links from which a second process is worth its start."""

Given = tuple[Sequence[Link], Catalog, HouseRules]
_GIVEN: list[Given] = []
"""What the children find when they are forked: nothing needs to be sent to them."""


def figures_side_by_side(links: Sequence[Link], catalog: Catalog, house: HouseRules) -> list[Figures]:
    """As ``figures_of``, on as many processors as there are; a process that has threads must not call it."""
    count = min(os.cpu_count() or 1, len(links) // MANY + 1)
    if count < 2 or "fork" not in multiprocessing.get_all_start_methods():
        return figures_of(links, catalog, house)
    shares: dict[int, list[int]] = defaultdict(list)
    for number, link in enumerate(links):
        shares[hash(look(link)) % count].append(number)
    found: list[Figures | None] = [None] * len(links)
    _GIVEN.append((links, catalog, house))
    try:
        with multiprocessing.get_context("fork").Pool(count) as pool:
            for numbers, figures in zip(
                shares.values(), pool.map(_share, shares.values(), chunksize=1), strict=True
            ):
                for number, one in zip(numbers, figures, strict=True):
                    found[number] = one
    finally:
        _GIVEN.pop()
    return [one for one in found if one is not None]


def _share(numbers: list[int]) -> list[Figures]:
    links, catalog, house = _GIVEN[-1]
    return figures_of([links[number] for number in numbers], catalog, house)
