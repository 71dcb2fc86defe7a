"""What happened at turn-up: log entries, ports as they were seen, looks at a dark link, hand-overs. They are events
and never change.
"""

from __future__ import annotations

import re
from datetime import date, time
from typing import Annotated, Literal, TypeVar

from pydantic import BeforeValidator, Field

from passerelle.core.happening import Happening
from passerelle.core.parts.piece import Key, Label
from passerelle.core.sources import Frozen
from passerelle.core.units import typed_power

End = Literal["left", "right"]
LinkName = Annotated[str, Field(max_length=120)]
Dbm = Annotated[float, BeforeValidator(typed_power), Field(ge=-100, le=40, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=2**64)]
Hash = Annotated[str, Field(max_length=64, pattern="^[0-9a-f]*$")]


class Entry(Happening):
    """What every record of turn-up says: its link (empty for the project), by whom, when and where.

    ``turned``: the link was drawn from its other end then, so that left and right are the other way round.
    """

    link: Key | Literal[""] = ""
    link_name: LinkName = ""
    turned: bool = False
    operator: Label = ""
    taken_on: date | None = None
    at_time: time | None = None
    place: Label = ""


class Logged(Entry):
    """An entry of the logbook. ``step`` is the step of the plan that it ticks, ``corrects`` the key of an earlier
    entry that it puts right; ``picture`` the hash of an attachment.
    """

    kind: Literal["log"] = "log"
    about: Literal["step", "reading", "picture", "note"] = "note"
    step: Annotated[str, Field(max_length=200)] = ""
    done: bool = True
    words: Annotated[str, Field(max_length=2000)] = ""
    serial: Label = ""
    picture: Hash = ""
    corrects: Key | Literal[""] = ""


class LaneRead(Frozen):
    """What a lane of a module read: powers in dBm, ``dark`` where it sees no light; bias in mA."""

    lane: Annotated[int, Field(ge=1, le=16)] = 1
    tx_dbm: Dbm | None = None
    tx_off: bool = False
    rx_dbm: Dbm | None = None
    rx_dark: bool = False
    bias_ma: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] | None = None


class PortSeen(Entry):
    """A port of a link as it was seen, by the box or by eye. What was not read is None or empty."""

    kind: Literal["port"] = "port"
    end: End
    by: Literal["box", "typed"] = "typed"
    box: Label = ""
    port: Label = ""
    admin: Literal["up", "down", ""] = ""
    oper: Literal["up", "down", ""] = ""
    rate_mbps: Annotated[int, Field(ge=0, le=1_000_000)] | None = None
    errors: Count | None = None
    corrected: Count | None = None
    uncorrected: Count | None = None
    seconds: Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)] | None = None
    temperature_c: Annotated[float, Field(ge=-100, le=200, allow_inf_nan=False)] | None = None
    supply_v: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    lanes: Annotated[tuple[LaneRead, ...], Field(max_length=16)] = ()
    neighbor: Annotated[str, Field(max_length=200)] = ""
    neighbor_port: Annotated[str, Field(max_length=200)] = ""
    module: Annotated[str, Field(max_length=200)] = ""
    serial: Label = ""
    accepted: bool | None = None


class Looked(Entry):
    """An answer to a look at a dark link."""

    kind: Literal["look"] = "look"
    test: Annotated[str, Field(min_length=1, max_length=300)]
    outcome: Annotated[str, Field(min_length=1, max_length=60)]


_OTHER = {"left": "right", "right": "left"}


def _swapped(text: str) -> str:
    """A text with left and right exchanged."""
    return re.sub(r"\b(left|right)\b", lambda found: _OTHER[found.group()], text)


class FaultFound(Entry):
    """A cure that was tried at a dark link, and whether it was the fault: then the diagnosis is over."""

    kind: Literal["cure"] = "cure"
    fault: Annotated[str, Field(min_length=1, max_length=300)]
    words: Annotated[str, Field(max_length=400)] = ""
    helped: bool


class HandedOver(Entry):
    """A signed hand-over: what it is of, its revision, the digest of its package and the key that signed it.

    ``at_revision`` is the revision that the project had with it, 0 where that was not kept.
    """

    kind: Literal["handover"] = "handover"
    scope: Literal["link", "place", "project"] = "project"
    name: Annotated[str, Field(max_length=200)] = ""
    revision: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    digest: Annotated[str, Field(min_length=64, max_length=64, pattern="^[0-9a-f]+$")]
    package: Hash = ""
    at_revision: Annotated[int, Field(ge=0)] = 0
    signer: Label = ""
    public_key: Annotated[str, Field(max_length=64, pattern="^[0-9a-f]*$")] = ""


OfTurnUp = TypeVar("OfTurnUp", bound=Entry)
_SIDED = ("end", "test", "fault", "step")
"""Fields that say left or right."""


def as_drawn(entry: OfTurnUp, *, turned: bool) -> OfTurnUp:
    """An entry as a link is drawn now: left and right are exchanged where it was drawn from its other end.

    >>> looked = Looked(key="k", test="rx · left", outcome="dark")
    >>> as_drawn(looked, turned=True).test, as_drawn(looked, turned=False).test
    ('rx · right', 'rx · left')
    """
    if entry.turned == turned:
        return entry
    swapped = {name: _swapped(getattr(entry, name)) for name in _SIDED if hasattr(entry, name)}
    return entry.model_copy(update={**swapped, "turned": turned})
