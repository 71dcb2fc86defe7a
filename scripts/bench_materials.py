"""The bill of many links beside the bare count of their pieces, and reels beside the bound and a plain rule."""

from __future__ import annotations

import random
import time
from collections import Counter
from collections.abc import Callable

from bench_links import COUNT, diverse_links

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import keyed
from passerelle.core.materials.asked import scope_of
from passerelle.core.materials.bill import bill_of
from passerelle.core.materials.reels import cutting_plan
from passerelle.core.materials.stock import PER_M, first_fit_decreasing, stock_of
from passerelle.core.plant.site import Plant

RUNS, WASTE_M, SOLD_M, ON_HAND_M = 60, 3.0, (500.0, 1000.0, 2000.0), (130.0, 75.0, 220.0)
KINDS = {"any": (20, 400), "long": (100, 450), "short": (30, 150), "near a reel": (240, 490)}


def seconds(action: Callable[[], object]) -> float:
    """How long one call takes."""
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


def materials() -> list[tuple[str, bool]]:
    """Both, reported; what is not proven is said."""
    _bill()
    for name, (low, high) in KINDS.items():
        _reels(name, low, high)
    return []


def _bill() -> None:
    links = [(n, keyed(link, iter(f"k{n}x{i}" for i in range(99)).__next__)) for n, link in enumerate(_links(), 1)]
    scope = scope_of(links, Plant(), HouseRules(), load_catalog())
    whole_s = min(seconds(lambda: bill_of(scope)) for _ in range(2))
    bare_s = min(seconds(lambda: Counter(e.kind for _, link in links for e in link.elements)) for _ in range(3))
    lines = bill_of(scope).lines
    pieces = sum(len(link.elements) for _, link in links)
    print(f"bill: {COUNT} diverse links of {pieces} pieces, {len(lines)} lines: {whole_s:.2f} s,")
    print(f"      {whole_s / bare_s:.0f} times the bare count of the pieces ({bare_s * 1000:.0f} ms)")


def _links() -> list[Link]:
    return list(diverse_links(COUNT))


def _reels(name: str, low: float, high: float) -> None:
    draws = random.Random(len(name))
    runs = [round(draws.uniform(low, high), 1) for _ in range(RUNS)]
    start = time.perf_counter()
    found = cutting_plan(runs, waste_per_run_m=WASTE_M, sold_reels_m=SOLD_M, on_hand_m=ON_HAND_M)
    took_s = time.perf_counter() - start
    stock = stock_of(runs, WASTE_M, SOLD_M, ON_HAND_M)
    plain = first_fit_decreasing(stock) or []
    proof = "proven" if found.proven else f"at most {found.gap_m:g} m above the least"
    print(
        f"reels: {RUNS} runs, {name}: {found.bought_m:g} m in {found.reels_opened} reels, {proof}, {took_s:.2f} s; "
        f"bound {found.least_bought_m:g} m; first-fit-decreasing {stock.bought(plain) / PER_M:g} m in {len(plain)}"
    )


if __name__ == "__main__":
    materials()
