"""A copy of what has keys: every key becomes another one, the same wherever it stands.

New keys follow from the old ones and a ``salt`` that no other copy has, so that links, readings and the log of
one copy still mean the same pieces.
"""

from __future__ import annotations

from typing import Any

from passerelle.core.events import Delivered, Event, OrderPlaced, ReadingTaken
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import derived
from passerelle.core.plant.records import ROWS, SHELVES, Row
from passerelle.core.plant.site import Plant

Body = dict[str, Any]
_NAMES = ("of", "link", "piece", "corrects")
"""Fields of events that hold the key of something else."""


def other_key(key: str, salt: str) -> str:
    """The key that stands for another one in a copy; none stays none."""
    return derived(salt, key) if key else ""


def copied_link(link: Link, salt: str) -> Link:
    """The link with other keys; its readings go with it."""
    elements = tuple(e.model_copy(update={"key": other_key(e.key, salt)}) for e in link.elements)
    readings = tuple(
        reading.model_copy(
            update={
                "over": tuple(other_key(key, salt) for key in reading.over),
                "zero": other_key(reading.zero, salt),
            }
        )
        for reading in link.readings
    )
    update = {"key": other_key(link.key, salt), "elements": elements, "readings": readings}
    return link.model_copy(update=update)


def copied_plant(plant: Plant, salt: str) -> Plant:
    """The plant with other keys for its rows."""
    shelves: dict[str, tuple[Row, ...]] = {
        shelf: tuple(
            ROWS[shelf].model_validate(copied_body(row.model_dump(), salt)) for row in getattr(plant, shelf)
        )
        for shelf in SHELVES
    }
    return plant.model_copy(update=shelves)


def copied_event(event: Event, salt: str) -> Event:
    """An event of the copy: what happened stays, of the links and pieces that the copy has."""
    key = other_key(event.key, salt)
    if isinstance(event, OrderPlaced | Delivered):
        lines = tuple(
            line.model_copy(update={"keys": tuple(other_key(one, salt) for one in line.keys)})
            for line in event.lines
        )
        return event.model_copy(update={"key": key, "lines": lines})
    named: Body = {field: other_key(getattr(event, field), salt) for field in _NAMES if hasattr(event, field)}
    if isinstance(event, ReadingTaken):
        over = tuple(other_key(one, salt) for one in event.reading.over)
        zero = other_key(event.reading.zero, salt)
        named["reading"] = event.reading.model_copy(update={"over": over, "zero": zero})
    return event.model_copy(update={"key": key, **named})


def copied_body(body: Body, salt: str) -> Body:
    """A record of the log, of a link or of a row, with other keys."""
    made = dict(body)
    if made.get("key"):
        made["key"] = other_key(made["key"], salt)
    if isinstance(made.get("elements"), list):
        made["elements"] = [{**piece, "key": other_key(piece.get("key", ""), salt)} for piece in made["elements"]]
    if made.get("of"):
        made["of"] = other_key(made["of"], salt)
    if isinstance(made.get("cuts"), list | tuple):
        made["cuts"] = [{**cut, "of": other_key(cut.get("of", ""), salt)} for cut in made["cuts"]]
    if isinstance(made.get("ports"), list | tuple):
        made["ports"] = [{**port, "of": other_key(port.get("of", ""), salt)} for port in made["ports"]]
    return made
