"""What arrives: matched with what was ordered, for which pieces, and how it differs from what they are."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Any

from pydantic import Field, ValidationError

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, MaterialError
from passerelle.core.events import ArrivedLine, Event, OrderPlaced, standing
from passerelle.core.materials.bill import AskedBy, Bill, BillLine
from passerelle.core.parts.array_cable import ArrayCable
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.piece import Label, LengthM, Line, Ordered, Piece, Plug
from passerelle.core.parts.registry import Element
from passerelle.core.plant.records import Cable
from passerelle.core.sources import Frozen


class Orders(Frozen):
    """What the orders and deliveries of a project come to: quantities by the words of a line.

    ``keys`` are the pieces that stood in an order, ``came`` is how many deliveries name each. ``numbers`` is the
    highest number that an order had, whether it stands or not: none is given again.
    """

    ordered: dict[str, float]
    arrived: dict[str, float]
    keys: frozenset[str]
    came: dict[str, int]
    numbers: int

    def open(self, words: str) -> float:
        """How much of a line was ordered and has not come."""
        return max(0.0, round(self.ordered.get(words, 0.0) - self.arrived.get(words, 0.0), 6))


def orders_of(events: Sequence[Event]) -> Orders:
    """The orders and deliveries that stand, summed up."""
    ordered: dict[str, float] = {}
    arrived: dict[str, float] = {}
    keys, came = set[str](), Counter[str]()
    for event in standing(events):
        into = ordered if isinstance(event, OrderPlaced) else arrived
        for line in event.lines:
            into[line.words] = round(into.get(line.words, 0.0) + line.quantity, 6)
        named = {key for line in event.lines for key in line.keys}
        if isinstance(event, OrderPlaced):
            keys |= named
        else:
            came.update(named)
    numbers = max((event.number for event in events if isinstance(event, OrderPlaced)), default=0)
    return Orders(
        ordered={words: count for words, count in ordered.items() if count},
        arrived=arrived,
        keys=frozenset(keys),
        came=dict(came),
        numbers=numbers,
    )


class Arrival(Frozen):
    """A line of a delivery note: the bill's line, how much came, and what is otherwise than it was ordered.

    ``length_m`` in m. Where nothing differs all four are left out.
    """

    line: Annotated[str, Field(min_length=1, max_length=300)]
    quantity: Annotated[float, Field(gt=0, le=1e7, allow_inf_nan=False)]
    grade: Label = ""
    length_m: LengthM | None = None
    polish: Label = ""
    coding: Label = ""

    @property
    def differs(self) -> str:
        """What is otherwise, in words."""
        told = (self.grade, f"{self.length_m:g} m" if self.length_m is not None else "", self.polish, self.coding)
        return ", ".join(word for word in told if word)


class Matched(Frozen):
    """A line of a delivery note with the line of the bill that it is, the keys of the pieces that get it, and what
    is otherwise in words. ``told`` says where more came than was ordered.
    """

    arrival: Arrival
    keys: tuple[str, ...]
    differs: str = ""
    told: str = ""


class NoteRead(Frozen):
    """A delivery note held against what is ordered: what matches, and what does not, each with its reason."""

    matched: tuple[Matched, ...]
    unmatched: tuple[tuple[Arrival, str], ...]


def matched(arrivals: Iterable[Arrival], bill: Bill, orders: Orders) -> NoteRead:
    """Match a delivery with the orders, line by line; those that wait longest get it first.

    A piece has arrived when all that it asks of the line is there, with what was left over before.
    """
    lines = {_plain(line.words): line for line in bill.lines}
    waiting = {line.words: [(o.key, o.quantity) for o in line.asked if _waits(o, orders)] for line in bill.lines}
    left = {line.words: _left_over(line, orders) for line in bill.lines}
    came: dict[str, float] = defaultdict(float, orders.arrived)
    found: list[Matched] = []
    loose: list[tuple[Arrival, str]] = []
    for arrival in arrivals:
        line = lines.get(_plain(arrival.line))
        if line is None:
            loose.append((arrival, "no line of the bill has these words"))
        elif line.words not in orders.ordered:
            loose.append((arrival, "it is on the bill and was not ordered: place the order first"))
        elif line.unit == "piece" and arrival.quantity % 1:
            loose.append((arrival, f"pieces come whole: {arrival.quantity:g} is no number of pieces"))
        else:
            came[line.words] = round(came[line.words] + arrival.quantity, 6)
            left[line.words] += arrival.quantity
            keys: list[str] = []
            while waiting[line.words] and waiting[line.words][0][1] <= left[line.words] + 1e-6:
                key, amount = waiting[line.words].pop(0)
                left[line.words] -= amount
                keys.append(key)
            told = _too_many(line, came[line.words], orders)
            found.append(_match(arrival, line.words, tuple(dict.fromkeys(keys)), told))
    return NoteRead(matched=tuple(found), unmatched=tuple(loose))


def _too_many(line: BillLine, came: float, orders: Orders) -> str:
    ordered = orders.ordered[line.words]
    if came <= ordered + 1e-6:
        return ""
    unit = " m" if line.unit == "m" else ""
    more = f"{came - ordered:g}{unit} more"
    return f"{ordered:g}{unit} were ordered, {came:g}{unit} came: {more}. Keep them or send them back."


def as_ordered_arrivals(bill: Bill, orders: Orders) -> tuple[Arrival, ...]:
    """All that was ordered and has not come, as if it had come as it was ordered."""
    return tuple(
        Arrival(line=line.words, quantity=orders.open(line.words)) for line in bill.lines if orders.open(line.words)
    )


def _left_over(line: BillLine, orders: Orders) -> float:
    """What came of a line and went to no piece yet."""
    given = sum(one.quantity * orders.came.get(one.key, 0) for one in line.asked)
    return max(0.0, orders.arrived.get(line.words, 0.0) - given)


def _match(arrival: Arrival, words: str, keys: tuple[str, ...], told: str) -> Matched:
    named = arrival.model_copy(update={"line": words})
    return Matched(arrival=named, keys=keys, differs=named.differs, told=told)


def _plain(words: str) -> str:
    return " ".join(words.lower().split())


def _waits(one: AskedBy, orders: Orders) -> bool:
    """Whether a piece stands in an order and has not come, or came, went back and is on order again."""
    return one.key in orders.keys and (one.key not in orders.came or one.again)


def delivery_lines(found: NoteRead) -> tuple[ArrivedLine, ...]:
    """What is written down of a delivery."""
    return tuple(
        ArrivedLine(
            words=one.arrival.line, quantity=one.arrival.quantity, keys=one.keys, differs=one.arrival.differs
        )
        for one in found.matched
    )


def arrived(piece: Element, arrival: Arrival, catalog: Catalog) -> Element:
    """A piece as it arrived: judged so from now on, with what was ordered kept beside it.

    Raises:
        MaterialError: it has nothing of the kind that differs, or no such grade or polish exists.
    """
    update = _differences(piece, arrival, catalog)
    kept = {one.field: one for one in piece.ordered}
    for name in update:
        kept.setdefault(name, Ordered(field=name, value=getattr(piece, name)))
    if "length_m" in update and isinstance(piece, Line) and piece.way_m is None and _comes_at_its_length(piece):
        update = {**update, "way_m": piece.length_m}  # what it was ordered for is the way that it must reach
    made = {**piece.model_dump(), **update, "state": "delivered", "ordered": tuple(kept.values())}
    try:
        return type(piece).model_validate(made)
    except ValidationError as error:
        what = error.errors(include_url=False)[0]
        raise MaterialError(
            f"{arrival.line}: {'.'.join(map(str, what['loc']))}", f"'{arrival.differs}' cannot be: {what['msg']}"
        ) from error


def _comes_at_its_length(piece: Line) -> bool:
    """Whether a line is made with its ends, and reaches or does not: an assembly, or cable with factory plugs."""
    if isinstance(piece, Run):
        return bool(piece.left or piece.right) and not piece.mounted
    return isinstance(piece, Assembly) or (piece.pulled and isinstance(piece, ArrayCable))


def arrived_cable(cable: Cable, arrival: Arrival, catalog: Catalog) -> Cable:
    """A cable of the plan as it arrived: of a grade, and of a length that was bought."""
    update: dict[str, Any] = {"state": "delivered"}
    kept = {one.field: one for one in cable.ordered}
    if arrival.grade:
        update["fiber"] = _grade(arrival, catalog)
        kept.setdefault("fiber", Ordered(field="fiber", value=cable.fiber))
    if arrival.length_m is not None:
        update["sold_length_m"] = arrival.length_m
    return cable.model_copy(update={**update, "ordered": tuple(kept.values())})


def _grade(arrival: Arrival, catalog: Catalog) -> tuple[str, ...]:
    try:
        return (catalog.fiber(arrival.grade).name,)
    except CatalogError as error:
        raise MaterialError(f"{arrival.line}: grade", str(error)) from error


def _differences(piece: Piece, arrival: Arrival, catalog: Catalog) -> Mapping[str, Any]:
    """The fields of a piece that are otherwise."""
    fields = type(piece).model_fields
    update: dict[str, Any] = {}
    if arrival.grade:
        _has("fiber", fields, piece, arrival.grade)
        update["fiber"] = _grade(arrival, catalog)
    if arrival.length_m is not None:
        _has("length_m", fields, piece, f"{arrival.length_m:g} m")
        update["length_m"] = arrival.length_m
    if arrival.coding:
        _has("coding", fields, piece, arrival.coding)
        update["coding"] = arrival.coding
    if arrival.polish:
        update |= _polished(piece, arrival.polish)
        _has(next(iter(update), "polish"), fields, piece, arrival.polish)
    return {name: value for name, value in update.items() if value != getattr(piece, name)}


def _has(name: str, fields: Mapping[str, object], piece: Piece, value: str) -> None:
    if name not in fields:
        raise MaterialError(name, f"a {piece.kind} has no {name.removesuffix('_m')} to be {value}")


def _polished(piece: Piece, polish: str) -> dict[str, Any]:
    """The ends of a cord, or the face of a box, with another polish."""
    if "polish" in type(piece).model_fields:
        return {"polish": polish}
    ends = {side: getattr(piece, side, None) for side in ("left", "right")}
    return {side: {"shape": plug.shape, "polish": polish} for side, plug in ends.items() if isinstance(plug, Plug)}
