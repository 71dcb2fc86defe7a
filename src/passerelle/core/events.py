"""What happened in the world: it is written down once and never rewritten; what was wrong is withdrawn.

Every kind of event is a record of its own in ``Event``. An event that withdraws another one can be withdrawn
itself, and then the first stands again: so undo and redo only add.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from passerelle.core.accepted import (
    Certified,
    Inspected,
    ReferenceTaken,
    ReferenceVoid,
    StrandsTraced,
    TraceTaken,
)
from passerelle.core.happening import Happening
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import turned_round
from passerelle.core.link.keys import Fresh
from passerelle.core.link.readings import Reading, turned
from passerelle.core.parts.piece import Key, Label
from passerelle.core.sources import Frozen
from passerelle.core.turned_up import FaultFound, HandedOver, Logged, Looked, PortSeen

UNDONE = "undone"


class Stamp(NamedTuple):
    """When something is written down and by whom, and where new keys are from."""

    at: datetime | None
    who: str
    key: Fresh


class ReadingTaken(Happening):
    """A reading of a link, by the link's key. ``turned``: the link was drawn from its other end then."""

    kind: Literal["reading"] = "reading"
    link: Key
    link_name: Annotated[str, Field(max_length=120)] = ""
    turned: bool = False
    reading: Reading


class Withdrawal(Happening):
    """An earlier event no longer counts, and why."""

    kind: Literal["withdrawal"] = "withdrawal"
    of: Key
    why: Label


class OrderedLine(Frozen):
    """A line of an order: the part in the bill's words, how much (less than zero where it is sent back), and the
    keys of the pieces and rows that asked for it.
    """

    words: Annotated[str, Field(min_length=1, max_length=300)]
    quantity: Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
    unit: Label = "piece"
    keys: Annotated[tuple[Key, ...], Field(max_length=200_000)] = ()


class OrderPlaced(Happening):
    """An order was placed. ``number`` counts the orders of the project."""

    kind: Literal["order"] = "order"
    number: Annotated[int, Field(ge=1, le=1_000_000)]
    note: Label = ""
    lines: Annotated[tuple[OrderedLine, ...], Field(max_length=20_000)]


class ArrivedLine(Frozen):
    """A line of a delivery: what was ordered, in the bill's words, how much of it came, for which pieces by their
    keys, and how it differs from what was ordered.
    """

    words: Annotated[str, Field(min_length=1, max_length=300)]
    quantity: Annotated[float, Field(gt=0, le=1e7, allow_inf_nan=False)]
    keys: Annotated[tuple[Key, ...], Field(max_length=200_000)] = ()
    differs: Annotated[str, Field(max_length=300)] = ""


class Delivered(Happening):
    """A delivery came. ``note`` is the number of its delivery note."""

    kind: Literal["delivery"] = "delivery"
    note: Label = ""
    lines: Annotated[tuple[ArrivedLine, ...], Field(max_length=20_000)]


OfLink = (
    ReadingTaken
    | Inspected
    | StrandsTraced
    | TraceTaken
    | Certified
    | Logged
    | PortSeen
    | Looked
    | FaultFound
    | HandedOver
)
"""Events that concern one link, by its key; entries of the logbook and hand-overs may have none."""
OfProject = OrderPlaced | Delivered | ReferenceTaken | ReferenceVoid
"""Events that concern no single link."""
Event = Annotated[
    ReadingTaken
    | Withdrawal
    | OrderPlaced
    | Delivered
    | ReferenceTaken
    | ReferenceVoid
    | Inspected
    | StrandsTraced
    | TraceTaken
    | Certified
    | Logged
    | PortSeen
    | Looked
    | FaultFound
    | HandedOver,
    Field(discriminator="kind"),
]
EVENT_KINDS = frozenset(
    {"reading", "withdrawal", "order", "delivery", "reference", "void", "inspection", "strands", "trace"}
    | {"certification", "log", "port", "look", "cure", "handover"}
)


def withdrawals(events: Sequence[Event]) -> dict[str, Withdrawal]:
    """The withdrawals that stand, by the key of what they withdraw; of several the newest.

    A withdrawal comes after what it withdraws, so from the newest to the oldest each is decided when it is met.
    """
    found: dict[str, Withdrawal] = {}
    for event in reversed(events):
        if isinstance(event, Withdrawal) and event.key not in found:
            found.setdefault(event.of, event)
    return found


def readings_by_link(events: Sequence[Event]) -> dict[str, list[tuple[ReadingTaken, str]]]:
    """The readings of each link by its key, oldest first, with why each was withdrawn (empty while it stands)."""
    gone = withdrawals(events)
    found: dict[str, list[tuple[ReadingTaken, str]]] = {}
    for event in events:
        if isinstance(event, ReadingTaken):
            why = gone[event.key].why if event.key in gone else ""
            found.setdefault(event.link, []).append((event, why))
    return found


def about(events: Sequence[Event], links: Collection[str]) -> list[Event]:
    """What happened to some links, by their keys, and what withdraws it."""
    keys, found = set[str](), list[Event]()
    for event in events:
        match event:
            case Withdrawal():
                wanted = event.of in keys
            case OrderPlaced() | Delivered() | ReferenceTaken() | ReferenceVoid():
                wanted = False
            case _:
                wanted = bool(event.link) and event.link in links
        if wanted:
            keys.add(event.key)
            found.append(event)
    return found


def standing(events: Sequence[Event]) -> Iterator[OrderPlaced | Delivered]:
    """The orders and deliveries that stand, oldest first."""
    for event in not_withdrawn(events):
        if isinstance(event, OrderPlaced | Delivered):
            yield event


def not_withdrawn(events: Sequence[Event]) -> Iterator[Event]:
    """What stands, oldest first, without the withdrawals."""
    gone = withdrawals(events)
    for event in events:
        if not isinstance(event, Withdrawal) and event.key not in gone:
            yield event


def with_readings(link: Link, taken: Iterable[tuple[ReadingTaken, str]]) -> Link:
    """The link with its readings, as it is drawn now."""
    readings = tuple(_as_drawn(link, event, why) for event, why in taken)
    return link.model_copy(update={"readings": readings}) if readings or link.readings else link


def _as_drawn(link: Link, event: ReadingTaken, why: str) -> Reading:
    reading = event.reading.model_copy(update={"withdrawn": why})
    if event.turned == link.turned:
        return reading
    return turned(turned_round(link.elements), link.elements, reading)


def events_between(
    before: Link, after: Link, known: Mapping[str, str], stamp: Stamp
) -> tuple[ReadingTaken | Withdrawal, ...]:
    """What happened to a link's readings between two states of it.

    Args:
        before, after: the link; readings are told apart by their ids.
        known: the key of the event of each reading that is written down already, by the reading's id.
        stamp: who writes, when, and keys for the new events.
    """
    was = {reading.id: reading.withdrawn for reading in before.readings}
    keys, found = dict(known), list[ReadingTaken | Withdrawal]()
    for reading in after.readings:
        if reading.id not in keys:
            keys[reading.id] = stamp.key()
            plain = reading.model_copy(update={"withdrawn": ""})
            found.append(
                ReadingTaken(
                    key=keys[reading.id],
                    at=stamp.at,
                    who=stamp.who,
                    link=after.key,
                    link_name=after.name,
                    turned=after.turned,
                    reading=plain,
                )
            )
        if reading.withdrawn and not was.get(reading.id):
            found.append(
                Withdrawal(key=stamp.key(), at=stamp.at, who=stamp.who, of=keys[reading.id], why=reading.withdrawn)
            )
    return tuple(found)
