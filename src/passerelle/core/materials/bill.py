"""The bill of a project: what is asked for, with spares, less what is at hand and what is ordered already."""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import computed_field

from passerelle.core.catalog.prices import came_with
from passerelle.core.house import HouseRules, SpareRule
from passerelle.core.materials.asked import Asked, Asker, Scope, asked_for, by_words, lacks
from passerelle.core.materials.lengths import OrderLength, least_sure
from passerelle.core.parts.need import WHERE, Need, SpareClass, Unit, When, Where
from passerelle.core.parts.piece import LengthBy
from passerelle.core.sources import Frozen

PriceBy = Literal["quoted", "own list", "estimate", "no price"]
AT_LEAST: dict[SpareClass, int] = {"cords": 1, "modules": 1}
"""Classes of which one is always spare, where the house has no rule of its own."""
NO_SPARES: tuple[SpareClass, ...] = ("boxes", "cable")
"""Classes without spares where the house has no rule: a cable's spare is in its length and its strands."""


class AskedBy(Frozen):
    """Who asks for how much of a line: a piece of a link, a row of the plan, or the project.

    ``again``: it came, went back, and is on order again.
    """

    key: str
    words: str
    quantity: float
    place: str = ""
    link: int = 0
    link_name: str = ""
    element: str = ""
    shelf: str = ""
    row: str = ""
    length: OrderLength | None = None
    again: bool = False


class BillLine(Frozen):
    """A line of the bill. Quantities are pieces or m, as ``unit`` says; prices in the project's own units.

    ``needed`` is what the pieces ask for, ``spares`` come on top, ``at_hand`` is taken off. ``quantity`` is what
    follows, or what a person set, with the reason ``why``; ``computed`` is it before that. ``ordered`` stands in
    orders that were placed, less what came and went back; ``to_order`` is the rest: less than zero where more was
    ordered than is wanted now. ``bought_as`` are the reels that a kept plan of cuts buys.
    ``by`` is how the least sure length of it is known; ``caution`` says what to do before it is ordered.
    """

    words: str
    where: Where
    when: When
    unit: Unit
    needed: float
    spares: float
    at_hand: float
    computed: float
    quantity: float
    why: str
    ordered: float
    to_order: float
    each: float
    price_by: PriceBy
    by: LengthBy
    caution: str
    bought_as: str
    asked: tuple[AskedBy, ...]

    @computed_field  # type: ignore[prop-decorator]
    @property
    def total(self) -> float:
        """What is still to be ordered, priced; what is sent back counts for nothing."""
        return round(max(0.0, self.to_order) * self.each, 2)


class Missing(Frozen):
    """What is missing of a piece before it can be ordered."""

    what: str
    asker: AskedBy


class Share(Frozen):
    """A share of the bill's sum: of a link, a place or a stage of building."""

    name: str
    total: float
    link: int = 0


class Bill(Frozen):
    """The whole bill, grouped by where its lines are bought or made. ``total`` is that of what is to be ordered."""

    lines: tuple[BillLine, ...]
    missing: tuple[Missing, ...]
    total: float
    quoted: float
    by_link: tuple[Share, ...]
    by_place: tuple[Share, ...]
    by_stage: tuple[Share, ...]
    unused_overrides: tuple[str, ...] = ()


def bill_of(scope: Scope, ordered: Mapping[str, float] | None = None) -> Bill:
    """The bill of a project.

    Args:
        scope: links, plan, house and catalog, with the keys of what was ordered.
        ordered: how much of each line stands in orders that were placed, by its words.
    """
    ordered = ordered or {}
    wanted = by_words(asked_for(scope))
    for words in ordered:
        wanted.setdefault(words, [])
    set_by_hand = {line.line: line for line in scope.plant.orders if line.line}
    at_hand: dict[str, float] = defaultdict(float)
    for row in scope.plant.stock:
        at_hand[row.line] += row.count
    for reel in scope.plant.reels:
        cut_m = sum(cut.length_m for cut in reel.cuts)
        if reel.on_hand and cut_m <= reel.holds_m:
            at_hand[reel.line] += cut_m
    prices = _Prices(scope)
    lines = [
        _line(words, asked, scope, ordered.get(words, 0.0), at_hand[words], set_by_hand.get(words), prices)
        for words, asked in wanted.items()
    ]
    lines.sort(key=lambda line: (WHERE.index(line.where), line.words))
    return Bill(
        lines=tuple(lines),
        missing=tuple(Missing(what=lack.what, asker=_told(lack.asker, 1)) for lack in lacks(scope)),
        total=round(sum(line.total for line in lines), 2),
        quoted=round(sum(line.total for line in lines if line.price_by == "quoted"), 2),
        by_link=_shares(lines, lambda one: (one.link_name or one.words, one.link)),
        by_place=_shares(lines, lambda one: (one.place or "no place", 0)),
        by_stage=_by_stage(lines),
        unused_overrides=tuple(words for words in set_by_hand if words not in wanted),
    )


def price_each(item: str, scope: Scope) -> float:
    """The price of one of an item of the price list."""
    return _Prices(scope).item(item)


def price_of(need: Need, scope: Scope) -> float:
    """The price of all that a need asks for."""
    return round(_Prices(scope).of(need)[0] * need.quantity, 2)


class _Prices:
    """What one unit of a line costs: as it was quoted, else by the items of the price list."""

    def __init__(self, scope: Scope) -> None:
        self._own = {line.item: line.price for line in scope.house.own_prices}
        own_modules = (scope.catalog.application(sheet.name) for sheet in scope.house.own_modules)
        self._came_with = came_with(own_modules)

    def item(self, item: str) -> float:
        """The price of one of an item, as it holds; zero where the list does not have it."""
        return self._own.get(item, self._came_with.get(item, 0.0))

    def of(self, need: Need) -> tuple[float, PriceBy]:
        """The price of one unit, and whether a supplier quoted it."""
        if need.words in self._own:
            return self._own[need.words], "quoted"
        if not need.prices:
            return 0.0, "no price"
        each = sum(self.item(item) * count for item, count in need.prices)
        own = all(item in self._own for item, _ in need.prices)
        return round(each, 4), "own list" if own else "estimate"


_NOTHING = Need("", 0, "cords and panels", "plug", "boxes")


def _line(
    words: str,
    asked: Sequence[Asked],
    scope: Scope,
    ordered: float,
    at_hand: float,
    by_hand: object,
    prices: _Prices,
) -> BillLine:
    need = asked[0].need if asked else _NOTHING._replace(words=words)
    needed = round(sum(one.need.quantity for one in asked), 6)
    extra = spares(need, needed, [one.asker.place for one in asked], scope.house) if asked else 0
    computed = max(0.0, round(needed + extra - at_hand, 6))
    count = getattr(by_hand, "count", None)
    quantity = computed if count is None else float(count)
    ordered = round(ordered - sum(one.need.quantity * one.gone_back for one in asked), 6)
    each, price_by = prices.of(need)
    by = least_sure(one.length.by for one in asked if one.length)
    return BillLine(
        words=words,
        where=need.where,
        when=need.when,
        unit=need.unit,
        needed=needed,
        spares=extra,
        at_hand=min(at_hand, needed + extra),
        computed=computed,
        quantity=quantity,
        why=getattr(by_hand, "why", ""),
        ordered=ordered,
        to_order=round(quantity - ordered, 6),
        each=each,
        price_by=price_by,
        by=by,
        caution=_caution(need, by, any(one.length for one in asked)),
        bought_as=_reels(words, scope),
        asked=tuple(_told(one.asker, one.need.quantity, one.length, again=one.again) for one in asked),
    )


def _reels(words: str, scope: Scope) -> str:
    """The reels that a kept plan of cuts buys of a line: ``2 x 1000 m``."""
    lengths = Counter(
        reel.length_m for reel in scope.plant.reels if reel.line == words and not reel.on_hand and reel.cuts
    )
    return ", ".join(f"{count} x {length:g} m" for length, count in sorted(lengths.items()))


def _caution(need: Need, by: LengthBy, has_length: bool) -> str:
    if need.where == "made to length" and has_length and by in ("guess", "unsaid"):
        known = "is a guess" if by == "guess" else "does not say how it is known"
        return (
            f"Its length {known}: a factory-made cable cannot be cut longer. Measure the way with a wheel or a "
            "pulled tape and say so, or have the ends spliced on site."
        )
    return ""


def _told(asker: Asker, quantity: float, length: OrderLength | None = None, *, again: bool = False) -> AskedBy:
    # Trusted values: a large project has a hundred thousand of these, and nobody typed them.
    return AskedBy.model_construct(**asker._asdict(), quantity=quantity, length=length, again=again)


def spares(need: Need, needed: float, places: Sequence[str], house: HouseRules) -> float:
    """How many spares a line gets, by the rule of its class.

    Args:
        need: the line, for its class and unit.
        needed: how much is asked for.
        places: where each of those who ask stands.
        house: its rules.

    >>> spares(Need("cord", 1, "cords and panels", "plug", "cords"), 12, ["a"] * 12, HouseRules())
    3
    """
    if needed <= 0:
        return 0
    rule = spare_rule(need.spares, house)
    count = max(math.ceil(round(needed * rule.percent / 100, 6)), rule.at_least)
    if rule.far_site:
        common = Counter(places).most_common(1)[0][0] if places else ""
        count = max(count, len({place for place in places if place != common}))
    return count


def spare_rule(of: SpareClass, house: HouseRules) -> SpareRule:
    """The rule of a class: the house's own, else its share and one at least of cords and modules."""
    own = next((rule for rule in house.spares if rule.of == of), None)
    if own is not None:
        return own
    percent = 0.0 if of in NO_SPARES else house.spares_percent
    return SpareRule(of=of, percent=percent, at_least=AT_LEAST.get(of, 0) if percent else 0)


def _shares(lines: Sequence[BillLine], name: object) -> tuple[Share, ...]:
    """The sum shared among those who ask, each line by how much each asks for; what nobody asks for apart."""
    sums: dict[tuple[str, int], float] = defaultdict(float)
    assert callable(name)
    for line in lines:
        asked, total = sum(one.quantity for one in line.asked), line.total
        if not total:
            continue
        for one in line.asked:
            sums[name(one)] += total * one.quantity / asked if asked else 0.0
        if line.asked and not asked:
            sums[name(line.asked[0])] += total
    return tuple(
        Share(name=called, link=link, total=round(total, 2))
        for (called, link), total in sorted(sums.items(), key=lambda item: -item[1])
        if total
    )


def _by_stage(lines: Sequence[BillLine]) -> tuple[Share, ...]:
    sums: dict[When, float] = defaultdict(float)
    for line in lines:
        sums[line.when] += line.total
    return tuple(Share(name=when, total=round(total, 2)) for when, total in sums.items() if total)
