"""An answer before it is judged, and the ends that all answers share."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link, lines
from passerelle.core.parts.kinds.port import Port
from passerelle.core.rules.air import mildest_ingress
from passerelle.core.selection.wish import Medium, PortWish, Question

Kind = Literal["one link", "aggregated", "split port", "converter"]


@dataclass(frozen=True)
class Draft:
    """One way to answer: its links in order, the application, what it runs on, and how far that goes in m.

    ``new_cable``: its cable is bought and pulled; else it runs on what is there. ``count`` is how many times the
    first link stands side by side with itself. ``speed_mbps`` is what all links together carry, ``one_flow_mbps``
    what a single conversation gets.
    """

    key: str
    application: str
    fiber: tuple[str, ...]
    medium: Medium
    links: tuple[Link, ...]
    reach_m: float
    speed_mbps: int
    one_flow_mbps: int
    kind: Kind = "one link"
    count: int = 1
    new_cable: bool = True


def port_at(wish: PortWish, place: str, cage: str, rate_mbps: int, catalog: Catalog, label: str = "") -> Port:
    """The port at one end, in a box that stands its place."""
    return Port(
        place=place,
        label=label,
        cage=cage,
        rates_mbps=wish.rates_mbps or (rate_mbps,),
        coding_policy=wish.coding_policy,
        own_above_mbps=wish.own_above_mbps,
        make=wish.make,
        coldest_c=wish.coldest_c,
        hottest_c=wish.hottest_c,
        water=wish.water,
        dusty=wish.dusty,
        ingress=mildest_ingress(wish.water, wish.dusty, catalog),
    )


def coding_for(wish: PortWish) -> str:
    """The coding to order for a port: its own make where it insists on that."""
    return wish.make if wish.coding_policy in ("own only", "own above a rate") else ""


def link_name(question: Question) -> str:
    """What a link between the two places is called."""
    return f"{question.from_place} to {question.to_place}"[:120]


def notes_of(question: Question) -> str:
    """What a new link notes of its length."""
    off = question.tolerance_percent
    return f"Length estimated, ± {off:g} %: measure it before anything is ordered." if off else ""


def is_estimate(question: Question) -> bool:
    """Whether the length that is asked for was estimated."""
    return question.length_m is not None and question.tolerance_percent > 0


def stretched(link: Link, factor: float) -> Link:
    """The chain with its longest piece longer or shorter by a factor; an assembly is as long as it was bought."""
    pieces = [line for line in lines(link) if "made" not in type(line).model_fields]
    if not pieces or factor == 1.0:
        return link
    longest = max(pieces, key=lambda piece: piece.length_m or 0.0)
    length_m = round((longest.length_m or 0.0) * factor, 6)
    elements = tuple(e.model_copy(update={"length_m": length_m}) if e is longest else e for e in link.elements)
    return link.model_copy(update={"elements": elements})
