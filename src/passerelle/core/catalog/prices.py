"""What pieces and work cost: made-up defaults by item, and a project's own in their place."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping
from functools import cache, lru_cache
from importlib import resources
from typing import Annotated, Any

from pydantic import Field

from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.sources import Frozen, Source
from passerelle.core.units import format_rate

PriceValue = Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]


class OwnPrice(Frozen):
    """A project's price of one item, or of one line of its bill as a supplier quoted it, in its own units."""

    item: Annotated[str, Field(min_length=1, max_length=300)]
    price: PriceValue


class PriceLine(Frozen):
    """One item of the price list: what it costs here, what it came with, and whether the project set it."""

    item: str
    price: float
    came_with: float
    own: bool


@cache
def default_prices() -> Mapping[str, float]:
    """The made-up price of every item: pieces, work by the metre, and a module of each application."""
    raw = _raw()
    modules = {
        f"module {application.name}": _module(application, raw)
        for application in load_catalog().applications.values()
    }
    assemblies = {
        assembly_item(int(rate), row["made"]): float(price)
        for row in raw["assembly"]
        for rate, price in row["rates"].items()
    }
    return {**raw["item"], **assemblies, **modules}


def assembly_item(rate_mbps: int, made: str) -> str:
    """The item of the price list for a direct-attach assembly of a rate in Mb/s and a make."""
    return f"assembly {made}, {format_rate(rate_mbps)}"


@cache
def prices_source() -> Source:
    """Where the made-up prices are from."""
    return Source.model_validate(_raw()["source"])


def came_with(modules: Iterable[Application] = ()) -> Mapping[str, float]:
    """The made-up price of every item, with those of a project's own modules by their rate, family and reach."""
    raw = _raw()
    return {**default_prices(), **{f"module {one.name}": _module(one, raw) for one in modules}}


def price_list(own: Iterable[OwnPrice], modules: Iterable[Application] = ()) -> list[PriceLine]:
    """All items, each with the price that holds; ``modules`` are a project's own beside the catalog's."""
    mine = {line.item: line.price for line in own}
    return [
        PriceLine(item=item, price=mine.get(item, price), came_with=price, own=item in mine)
        for item, price in came_with(modules).items()
    ]


@lru_cache(maxsize=64)
def prices(own: tuple[OwnPrice, ...], modules: tuple[Application, ...] = ()) -> Mapping[str, float]:
    """The price of every item as it holds."""
    return {line.item: line.price for line in price_list(own, modules)}


class WorkPrices(Frozen):
    """What work on the plan and its pieces cost by the price list, in the project's units: by metre, and each."""

    trench_per_m: PriceValue
    duct_per_m: PriceValue
    tray_per_m: PriceValue
    pole_per_m: PriceValue
    pull_per_m: PriceValue
    cable_per_m: PriceValue
    strand_per_m: PriceValue
    splice_each: PriceValue
    panel_each: PriceValue
    switch_each: PriceValue
    small_switch_each: PriceValue
    module_each: PriceValue


_WORK_ITEMS: dict[str, tuple[str, ...]] = {
    "trench_per_m": ("trench, a metre",),
    "duct_per_m": ("duct, a metre",),
    "tray_per_m": ("tray, a metre",),
    "pole_per_m": ("poles, a metre",),
    "pull_per_m": ("pulling, a metre",),
    "cable_per_m": ("cable single-mode, a metre",),
    "strand_per_m": ("each strand of a cable, a metre",),
    "splice_each": ("splice", "splice, work"),
    "panel_each": ("panel",),
    "switch_each": ("switch of 24 ports",),
    "small_switch_each": ("small switch",),
    "module_each": ("module 10GBASE-LR",),
}


def work_prices(listed: Mapping[str, float]) -> WorkPrices:
    """The prices of routes and layouts from the one list: a splice is its protector and its work."""
    return WorkPrices(**{name: sum(listed[item] for item in items) for name, items in _WORK_ITEMS.items()})


def with_plant_prices(own: tuple[OwnPrice, ...], old: Mapping[str, float]) -> tuple[OwnPrice, ...]:
    """Own prices with those that older projects kept beside their plan, where the list has none of its own yet."""
    known = {line.item for line in own}
    moved = [
        OwnPrice(item=items[0], price=old[name])
        for name, items in _WORK_ITEMS.items()
        if name in old and len(items) == 1 and items[0] not in known
    ]
    return (*own, *moved)


def _raw() -> dict[str, Any]:
    path = resources.files("passerelle.core.catalog") / "data" / "prices.toml"
    return tomllib.loads(path.read_text(encoding="utf-8"))


def _module(application: Application, raw: dict[str, Any]) -> float:
    rows = sorted(raw["module"], key=lambda row: row["rate_mbps"])
    row = next((row for row in rows if row["rate_mbps"] >= application.rate_mbps), rows[-1])
    farthest_m = max((reach.reach_m for reach in application.reaches), default=0.0)
    if application.family == "multimode":
        price = row["multimode"]
    else:
        price = row["long"] if farthest_m > row["beyond_m"] else row["single_mode"]
    return float(price * (raw["single_strand_factor"] if application.fibers == 1 else 1))
