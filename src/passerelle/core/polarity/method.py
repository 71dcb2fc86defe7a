"""One consistent set of parts for a backbone of arrays: which trunks, adapters, cassettes and cords, at which end.

What it is called follows from its trunk; that it lights was found by composing its links.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import product
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.build_arrays import (
    Backbone,
    Keys,
    array_polish,
    duplex_link,
    parallel_link,
    trunk_array,
)
from passerelle.core.link.chain import Link
from passerelle.core.parts.array_cable import Wiring
from passerelle.core.parts.arrays import ARRAYS, ArrayName, Inner, pairs_of
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.piece import Label
from passerelle.core.polarity.sets import ANY_PORTS, complete
from passerelle.core.sources import Frozen, Source, derived

When = Literal["never", "now", "later"]
COMPOSED = derived("every link of the set composed from its positions, both directions, at every front")
NAMES: dict[Wiring, str] = {"reversed": "B", "straight": "A", "pair-flipped": "C"}
"""The letter that TIA-568.3-D gives a trunk of each wiring that is sold, the plainest to keep in stock first."""
USUAL_KEYS: dict[Wiring, Keys] = {"reversed": "aligned", "straight": "opposed", "pair-flipped": "opposed"}
"""Where both light: the adapters that a set of this trunk is usually sold with."""
NAMED = Source(body="TIA", document="TIA-568.3-D", clause="array cables", note="types of array cable")


class MethodWish(Frozen):
    """What will run on the backbone: a pair (``duplex``) and parallel lanes, each never, now or later."""

    duplex: Annotated[Label, Field(description="the application of a pair, empty for none")] = "10GBASE-SR"
    parallel: Annotated[Label, Field(description="the application over arrays, empty for none")] = "100GBASE-SR4"
    duplex_when: When = "now"
    parallel_when: When = "later"
    links: Annotated[int, Field(ge=1, le=10_000)] = 6
    like_cords: bool = True


class Move(Frozen):
    """What is exchanged when a trunk goes from pairs to parallel lanes: what, how many a trunk, what they cost."""

    what: str
    count: int
    price: float = 0.0


class TrunksLater(Frozen):
    """What the trunks of today carry later: how many ``links`` of an ``application``, and how many ``trunks`` as
    many links as today need.
    """

    application: str
    links: int
    trunks: int


class Method(Frozen):
    """A set of parts that lights for everything that is wished.

    ``letter`` is the type of its trunk by the standard, ``pinned`` which ends have pins, ``moves`` what changes
    from duplex to parallel, ``kinds`` how many different cords and cassettes are kept in stock. ``trunks`` are
    those that are bought now, ``later`` what they carry of what is wished later. ``samples`` are a
    pair and parallel lanes over it, as links to draw.
    """

    key: str
    letter: str
    backbone: Backbone
    array: ArrayName
    polish: str
    same_cords: bool
    same_cassettes: bool
    kinds: int
    pinned: str
    trunks: int
    later: TrunksLater | None = None
    moves: tuple[Move, ...]
    parts: tuple[str, ...]
    why: str
    samples: tuple[Link, ...] = ()


class MethodAnswer(Frozen):
    """The sets that light, the one that needs the fewest kinds of parts first, and what is mixed in the project."""

    methods: tuple[Method, ...]
    mixed: tuple[str, ...] = ()
    sources: tuple[Source, ...] = (COMPOSED, NAMED)


def methods(wish: MethodWish, links: Sequence[Link], catalog: Catalog, prices: Mapping[str, float]) -> MethodAnswer:
    """Every set of parts for a wish, and the warnings of a project whose trunks are of several wirings.

    Args:
        wish: what will run on the backbone.
        links: the links that the project has.
        catalog: for the applications.
        prices: of every item, in the project's units.

    Raises:
        CatalogError: an application that the catalog does not have.
    """
    return MethodAnswer(methods=tuple(_ordered(wish, catalog, prices)), mixed=mixed(links))


def mixed(links: Sequence[Link]) -> tuple[str, ...]:
    """Where trunks of one project are wired in several ways: cords of one set are wrong on the other."""
    by_wiring: dict[Wiring, list[str]] = {}
    for link in links:
        for piece in link.elements:
            if isinstance(piece, Trunk):
                by_wiring.setdefault(piece.wiring, []).append(link.name)
    if len(by_wiring) < 2:
        return ()
    told = "; ".join(f"{wiring}: {_few(names)}" for wiring, names in by_wiring.items())
    return (f"Trunks of {len(by_wiring)} wirings in one project: {told}. A cord of one set is wrong on the other.",)


def _few(names: Sequence[str]) -> str:
    return ", ".join(f"'{name}'" for name in names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")


def _ordered(wish: MethodWish, catalog: Catalog, prices: Mapping[str, float]) -> list[Method]:
    """The set of each trunk with the fewest different cords and cassettes, in the order of how few they are."""
    order = list(NAMES)
    found = [_method(wish, one, catalog, prices) for one in backbones(wish, catalog)]
    kept: dict[Wiring, Method] = {}
    for method in sorted(found, key=lambda m: (m.kinds, m.backbone.keys != USUAL_KEYS[m.backbone.wiring])):
        kept.setdefault(method.backbone.wiring, method)
    return sorted(
        kept.values(),
        key=lambda m: (wish.like_cords and not m.same_cords, m.kinds, order.index(m.backbone.wiring)),
    )


def backbones(wish: MethodWish, catalog: Catalog) -> Iterator[Backbone]:
    """For each trunk and each kind of adapter the set with which all that is wished lights, both ways."""
    duplex = wish.duplex if wish.duplex_when != "never" else ""
    parallel = wish.parallel if wish.parallel_when != "never" else ""
    if not duplex and not parallel:
        return
    optic = catalog.application(parallel) if parallel else None
    both: tuple[Keys, ...] = ("opposed",) if optic and array_polish(optic) == "APC" else ("aligned", "opposed")
    for wiring, keys in product(NAMES, both):
        found = complete(wiring, keys, duplex, parallel, trunk_array(optic) if optic else "12")
        if found is not None:
            yield found


def _method(wish: MethodWish, one: Backbone, catalog: Catalog, prices: Mapping[str, float]) -> Method:
    parallel = catalog.application(wish.parallel) if wish.parallel and wish.parallel_when != "never" else None
    duplex = bool(wish.duplex) and wish.duplex_when != "never"
    array: ArrayName = trunk_array(parallel) if parallel else "12"
    polish = array_polish(parallel) if parallel else "PC"
    duplex_cords = {one.near_crossed, one.far_crossed} if duplex else set()
    array_cords = {one.near_cord, one.far_cord} if parallel else set()
    cassettes = {one.near_inner, one.far_inner} if duplex else set()
    fronts = len(pairs_of(array, "in order"))
    return Method(
        key=", ".join(filter(None, (f"{one.wiring} trunk", f"keys {one.keys}"))),
        letter=NAMES[one.wiring],
        backbone=one,
        array=array,
        polish=polish,
        same_cords=len(duplex_cords) < 2 and len(array_cords) < 2,
        same_cassettes=len(cassettes) < 2,
        kinds=len(duplex_cords) + len(array_cords) + len(cassettes),
        pinned=_pinned(duplex, parallel is not None),
        trunks=trunks_now(wish, fronts),
        later=trunks_later(wish, fronts),
        moves=tuple(_moves(one, array, fronts, prices)) if duplex and parallel else (),
        parts=tuple(_parts(one, array, duplex, parallel is not None)),
        why=_why(duplex_cords, array_cords, cassettes),
        samples=tuple(_samples(wish, one, catalog)),
    )


def trunks_now(wish: MethodWish, fronts: int) -> int:
    """How many trunks carry what runs now, ``fronts`` pairs or one link of parallel lanes on each.

    What is wished later alone is bought for, too.

    >>> trunks_now(MethodWish(links=8), 6), trunks_now(MethodWish(links=8, duplex_when="never"), 6)
    (2, 8)
    """
    runs = {
        when: (wish.duplex_when == when and bool(wish.duplex), wish.parallel_when == when and bool(wish.parallel))
        for when in ("now", "later")
    }
    duplex, parallel = runs["now"] if any(runs["now"]) else runs["later"]
    return (-(-wish.links // fronts) if duplex else 0) + (wish.links if parallel else 0)


def trunks_later(wish: MethodWish, fronts: int) -> TrunksLater | None:
    """What the trunks that are bought now carry of what is wished later, where that is something else."""
    bought = trunks_now(wish, fronts)
    if wish.duplex_when == "now" and wish.duplex and wish.parallel_when == "later" and wish.parallel:
        return TrunksLater(application=wish.parallel, links=min(bought, wish.links), trunks=wish.links)
    if wish.parallel_when == "now" and wish.parallel and wish.duplex_when == "later" and wish.duplex:
        return TrunksLater(
            application=wish.duplex, links=min(bought * fronts, wish.links), trunks=-(-wish.links // fronts)
        )
    return None


def _samples(wish: MethodWish, one: Backbone, catalog: Catalog) -> Iterator[Link]:
    for application in (wish.duplex, wish.parallel):
        if application and (wish.duplex_when if application == wish.duplex else wish.parallel_when) != "never":
            yield laid_over(one, application, application, ANY_PORTS, None, catalog, beside=wish.parallel)


def _pinned(duplex: bool, parallel: bool) -> str:
    if duplex and parallel:
        return (
            "Trunks without pins behind cassettes with pins now; for parallel lanes the cords that replace the "
            "cassettes have pins at the trunk, or the trunk's plugs are of the kind whose pins can be changed."
        )
    return "Cassettes with pins, trunks without." if duplex else "Trunks with pins, cords without."


def _moves(one: Backbone, array: ArrayName, fronts: int, prices: Mapping[str, float]) -> Iterator[Move]:
    """A trunk that carried pairs carries lanes: cassettes and duplex cords go, adapters and array cords come."""
    yield Move(what="cassettes out, array adapters in their place", count=2, price=2 * prices["panel"])
    yield Move(what="duplex cords out", count=2 * fronts)
    ends = {"near": one.near_cord, "far": one.far_cord}
    for wiring in dict.fromkeys(ends.values()):
        count = sum(other == wiring for other in ends.values())
        each = prices["array cord, a fiber"] * len(ARRAYS[array].positions)
        yield Move(what=f"{wiring} array cords in, pins at the trunk", count=count, price=count * each)


def _parts(one: Backbone, array: ArrayName, duplex: bool, parallel: bool) -> Iterator[str]:
    yield f"trunk of {array} fibers, {one.wiring}"
    yield f"adapters with keys {one.keys}"
    if duplex:
        yield f"cassettes near: {one.near_inner}; far: {one.far_inner}; keys {one.keys} at the rear"
        crossed = {True: "crossed", False: "straight"}
        yield f"duplex cords near: {crossed[one.near_crossed]}; far: {crossed[one.far_crossed]}"
    if parallel:
        yield f"array cords near: {one.near_cord}; far: {one.far_cord}"


def _why(duplex_cords: set[bool], array_cords: set[Wiring], cassettes: set[Inner]) -> str:
    told = [
        f"{word} are alike at both ends" if len(kinds) < 2 else f"{word} differ between the ends"
        for word, kinds in (("duplex cords", duplex_cords), ("array cords", array_cords), ("cassettes", cassettes))
        if kinds
    ]
    text = "; ".join(told)
    return f"{text[0].upper()}{text[1:]}."


def laid_over(
    backbone: Backbone,
    application: str,
    name: str,
    ports: tuple[Port, Port],
    length_m: float | None,
    catalog: Catalog,
    *,
    front: int = 1,
    beside: str = "",
) -> Link:
    """A link over a trunk of a set: parallel lanes through adapters, or a pair through a front of its cassettes.

    Args:
        length_m: of the trunk, in m.
        beside: the parallel application that the trunk is made for, whose array and polish a pair shares.
    """
    optic = catalog.application(application)
    fiber = ("OS2",) if optic.family == "single-mode" else ("OM4",)
    if optic.array:
        return parallel_link(name, ports, optic, fiber, length_m, backbone=backbone)
    other = catalog.application(beside) if beside else None
    polishes = optic.polish, array_polish(other) if other else "PC"
    array = trunk_array(other) if other and other.array else "12"
    return duplex_link(
        name, ports, optic.name, fiber, length_m, backbone, array=array, front=front, polishes=polishes
    )
