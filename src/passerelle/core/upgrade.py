"""Older plans as today's: one way up, from a document to a document, for the store and for plan files.

A plan is a document of plain values: its links, house rules, plant, events, and its log with the records that the
log names. Each step knows only the two versions beside it and is never changed again.
"""

from __future__ import annotations

import copy
import hashlib
import json
from collections.abc import Callable, Iterator, Mapping
from typing import Any

from passerelle.core.catalog.prices import OwnPrice, with_plant_prices
from passerelle.core.errors import UpgradeError
from passerelle.core.link.keys import derived
from passerelle.core.link.readings import signature

Doc = dict[str, Any]
VERSION = 12
"""The version that this program writes."""
OLDEST = 1


def upgraded(plan: Doc, salt: str) -> Doc:
    """A plan of an older version as one of today; what is not shaped like a plan is left for its reader to refuse.

    Args:
        plan: the document with its ``version``; it is not changed.
        salt: what tells this plan from every other one: the keys that it gets follow from it.
    """
    plan = copy.copy(plan)
    while plan["version"] < VERSION:
        step = _STEPS.get(plan["version"])
        plan = {**(step(plan, salt) if step else plan), "version": plan["version"] + 1}
    return plan


def stepped(plan: Doc, salt: str, version: int = 6) -> Doc:
    """A plan one version further, for the store, which takes one step at a time."""
    return _STEPS[version](plan, salt)


def _records_apart(plan: Doc, _salt: str) -> Doc:
    """From 5: the steps of the log held their contents; now records do, each once."""
    log = plan.get("history")
    if not isinstance(log, dict) or not isinstance(log.get("entries"), list):
        return plan
    records: Doc = {}

    def named(body: object) -> str | None:
        if body is None:
            return None
        key = f"r{len(records) + 1}"
        records[key] = body
        return key

    def step(change: object) -> object:
        if not isinstance(change, dict):
            return change
        return {**change, **{side: named(change[side]) for side in ("before", "after") if side in change}}

    def entry(one: object) -> object:
        if not isinstance(one, dict) or not isinstance(one.get("changes"), list):
            return one
        return {**one, "changes": [step(change) for change in one["changes"]]}

    return {**plan, "history": {**log, "entries": [entry(one) for one in log["entries"]], "records": records}}


SHELVES = ("places", "ways", "cables", "taps", "devices", "orders")


def _keys_and_events(plan: Doc, salt: str) -> Doc:
    """From 6: everything gets its key, readings become events, the log tells rows of the plant apart."""
    links, log = plan.get("links"), plan.get("history")
    if not isinstance(links, list):
        return plan
    if not isinstance(log, dict) or not _is_log(log, len(links)):
        log = None  # where there is one it stays as it is, and its reader says what is wrong
    numbers = log["numbers"] if log else list(range(1, len(links) + 1))
    readings = _Readings(salt)
    history = None if log is None else _Log(log, salt, readings).upgraded()
    for number, link in zip(numbers, links, strict=True):
        readings.settle(number, link)
    plant, house = plan.get("plant"), plan.get("house_rules")
    if isinstance(plant, dict) and plant.get("prices"):
        house = _with_prices(house if isinstance(house, dict) else {}, plant["prices"])
    made = {
        **plan,
        "key": derived(salt),
        "links": [_link(link, number, salt) for number, link in zip(numbers, links, strict=True)],
        "events": readings.events,
    }
    if isinstance(plant, dict):
        made["plant"] = {
            shelf: [_row(row, shelf, salt) for row in rows] if isinstance(rows, list) else rows
            for shelf, rows in plant.items()
            if shelf != "prices"
        }
    if house is not None:
        made["house_rules"] = house
    if history is not None:
        made["history"] = history
    return made


def _is_log(log: Doc, links: int) -> bool:
    """Whether a log has the shape that a step needs; what has not is refused by its reader."""
    entries, records, numbers = log.get("entries"), log.get("records", {}), log.get("numbers")
    if not isinstance(entries, list) or not isinstance(numbers, list) or not isinstance(records, dict):
        return False
    if len(numbers) != links:
        return False
    changes = [entry.get("changes") if isinstance(entry, dict) else None for entry in entries]
    return all(isinstance(one, list) and all(isinstance(change, dict) for change in one) for one in changes)


def _with_prices(house: Doc, prices: Mapping[str, float]) -> Doc:
    own = tuple(OwnPrice.model_validate(line) for line in house.get("own_prices", ()))
    return {**house, "own_prices": [line.model_dump(mode="json") for line in with_plant_prices(own, prices)]}


def _row(row: Any, shelf: str, salt: str) -> Any:
    if not isinstance(row, dict):
        return row
    made = {**row, "key": derived(salt, shelf, row.get("id"))}
    if shelf == "places":
        made["key_holder"] = row.get("key", "")
    return made


def _link(link: Any, number: int, salt: str) -> Any:
    if not isinstance(link, dict) or not isinstance(link.get("elements"), list):
        return link
    elements = [_piece(piece, number, position, salt) for position, piece in enumerate(link["elements"])]
    kept = {name: value for name, value in link.items() if name != "readings"}
    return {**kept, "key": derived(salt, "link", number), "elements": elements}


def _piece(piece: Any, number: int, position: int, salt: str) -> Any:
    if not isinstance(piece, dict):
        return piece
    made = {name: value for name, value in piece.items() if name not in ("cable", "strand_numbers")}
    if piece.get("cable"):
        made |= {"part": piece["cable"], "positions": piece.get("strand_numbers", [])}
    return {**made, "key": derived(salt, "link", number, piece.get("id") or f"at {position}")}


class _Readings:
    """Readings taken out of the links that held them, as events."""

    def __init__(self, salt: str) -> None:
        self.salt, self.events = salt, list[Doc]()
        self._standing: dict[tuple[int, str], str] = {}  # why each was withdrawn, empty while it stands
        self._newest: dict[tuple[int, str], str] = {}  # the newest withdrawal of each

    def seen(self, number: int, link: Doc | None, at: Any, who: str) -> list[str]:
        """Write down what a state of a link has that was not known; the keys of the new events."""
        new: list[str] = []
        for reading in (link or {}).get("readings") or ():
            if not isinstance(reading, dict):
                continue
            name = number, str(reading.get("id", ""))
            if name not in self._standing:
                new.append(self._taken(name, link or {}, reading, at, who))
            if reading.get("withdrawn") and not self._standing[name]:
                new.append(self._withdraw(name, reading["withdrawn"], at, who))
        return new

    def settle(self, number: int, link: Any) -> None:
        """Bring the readings of a link to what it says itself."""
        if not isinstance(link, dict):
            return
        self.seen(number, link, None, "")
        for reading in link.get("readings") or ():
            name = number, str(reading.get("id", ""))
            if self._standing[name] and not reading.get("withdrawn"):
                self.events.append(_withdrawal(self._key(*name, len(self.events)), self._newest[name], "undone"))

    def _key(self, *name: object) -> str:
        return derived(self.salt, "event", *name)

    def _taken(self, name: tuple[int, str], link: Doc, reading: Doc, at: Any, who: str) -> str:
        key, pieces = self._key(*name), link.get("elements") or []
        new = [_piece(piece, name[0], position, self.salt) for position, piece in enumerate(pieces)]
        over, fresh = _between(pieces, reading), False
        if over is not None:
            fresh = reading.get("signature") in list(_signatures_6([pieces[i] for i in over]))
        told = {**reading, "withdrawn": ""}
        if fresh and over is not None:
            told |= {"signature": signature([new[i] for i in over]), "over": [new[i]["key"] for i in over]}
        event = {"key": key, "at": at, "who": who, "kind": "reading", "turned": False, "reading": told}
        names = {"link": derived(self.salt, "link", name[0]), "link_name": link.get("name", "")}
        self.events.append({**event, **names})
        self._standing[name] = ""
        return key

    def _withdraw(self, name: tuple[int, str], why: str, at: Any, who: str) -> str:
        key = self._key(*name, len(self.events))
        self.events.append({**_withdrawal(key, self._key(*name), why), "at": at, "who": who})
        self._standing[name], self._newest[name] = why, key
        return key


def _withdrawal(key: str, of: str, why: str) -> Doc:
    return {"key": key, "at": None, "who": "", "kind": "withdrawal", "of": of, "why": why}


_JOINS_6 = {"panel", "splice", "outlet"}
_QUIET_6 = {"label", "construction", "jacket", "spaces", "matches_run", "asks_angled"}


def _between(pieces: list[Doc], reading: Doc) -> range | None:
    """The positions of the pieces that a reading stood for in version 6."""
    ids = [piece.get("id") for piece in pieces]
    if reading.get("start") not in ids or reading.get("end") not in ids:
        return None
    first, last = ids.index(reading["start"]), ids.index(reading["end"])
    if first > last:
        return None
    if reading.get("near_joint") and first > 0 and pieces[first - 1]["kind"] in _JOINS_6:
        first -= 1
    if reading.get("far_joint") and last + 1 < len(pieces) and pieces[last + 1]["kind"] in _JOINS_6:
        last += 1
    return range(first, last + 1)


def _signatures_6(pieces: list[Doc]) -> Iterator[str]:
    """What a reading of these pieces was signed with: by version 6, and by those before a length could be a
    guess.
    """
    for left_out in (_QUIET_6, _QUIET_6 | {"length_estimated"}):
        content = [{k: v for k, v in piece.items() if k not in left_out} for piece in pieces]
        if left_out is _QUIET_6 or not any(piece.get("length_estimated") for piece in pieces):
            yield hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()[:16]


class _Log:
    """The log of version 6 as one of version 7."""

    def __init__(self, log: Doc, salt: str, readings: _Readings) -> None:
        self.log, self.salt, self.readings = log, salt, readings
        self.records: Doc = {}

    def upgraded(self) -> Doc:
        """The log with new records."""
        entries = [self._entry(place, entry) for place, entry in enumerate(self.log["entries"])]
        return {**self.log, "entries": entries, "records": self.records}

    def _entry(self, place: int, entry: Doc) -> Doc:
        where = f"history.entries[{place}].changes"
        changes = [
            new for n, change in enumerate(entry["changes"]) for new in self._change(change, entry, f"{where}[{n}]")
        ]
        return {**entry, "changes": changes}

    def _change(self, change: Doc, entry: Doc, where: str) -> Iterator[Doc]:
        before, after = (self._body(change.get(side), f"{where}.{side}") for side in ("before", "after"))
        if change.get("entity") == "link":
            yield from self._link_change(change, before, after, entry)
        elif change.get("entity") == "plant" and "places" in {**(before or {}), **(after or {})}:
            yield from self._row_changes(before or {}, after or {})
        else:
            yield {**change, "before": self._named(before), "after": self._named(after)}

    def _link_change(self, change: Doc, before: Doc | None, after: Doc | None, entry: Doc) -> Iterator[Doc]:
        number = change["link_id"]
        at, who = entry.get("at"), entry.get("who", "")
        self.readings.seen(number, before, None, "")
        events = self.readings.seen(number, after, at, who)
        sides = {
            side: self._named(None if body is None else _link(body, number, self.salt))
            for side, body in (("before", before), ("after", after))
        }
        if sides["before"] != sides["after"]:
            yield {**change, **sides}
        if before is not None:
            for key in events:
                step = {"entity": "event", "link_id": number, "event": key, "stands": True}
                yield {**step, "before": None, "after": None}

    def _row_changes(self, before: Doc, after: Doc) -> Iterator[Doc]:
        for shelf in SHELVES:
            old = {row["id"]: (place, row) for place, row in enumerate(before.get(shelf) or ())}
            new = {row["id"]: (place, row) for place, row in enumerate(after.get(shelf) or ())}
            for name in dict.fromkeys([*old, *new]):
                was, now = old.get(name), new.get(name)
                if was == now:
                    continue
                sides = {
                    side: self._named(None if at is None else _row(at[1], shelf, self.salt))
                    for side, at in (("before", was), ("after", now))
                }
                places = {"was": (was or now or (0,))[0], "position": (now or was or (0,))[0]}
                yield {"entity": "row", "shelf": shelf, "row": name, **places, **sides}

    def _body(self, name: str | None, where: str) -> Doc | None:
        if name is None:
            return None
        body = self.log["records"].get(name)
        if not isinstance(body, dict):
            raise UpgradeError(f"{where}: there is no record '{name}' in history.records")
        return body

    def _named(self, body: Doc | None) -> str | None:
        if body is None:
            return None
        text = json.dumps(body, sort_keys=True, separators=(",", ":"))
        name = hashlib.blake2b(text.encode(), digest_size=16).hexdigest()
        self.records[name] = body
        return name


def _states(plan: Doc, _salt: str) -> Doc:
    """From 7: pieces and parts have a state, of which pulled is installed; a piece on a cable has that of its
    cable.
    """
    plant, log = plan.get("plant"), plan.get("history")
    cables = plant.get("cables") if isinstance(plant, dict) else None
    states = {
        row["id"]: _state(row.get("state"))
        for row in (cables if isinstance(cables, list) else ())
        if isinstance(row, dict) and isinstance(row.get("id"), str)
    }
    made = dict(plan)
    if isinstance(plan.get("links"), list):
        made["links"] = [with_states(link, states) for link in plan["links"]]
    if isinstance(plant, dict):
        made["plant"] = {
            shelf: [with_states(row, states) for row in rows] if isinstance(rows, list) else rows
            for shelf, rows in plant.items()
        }
    if isinstance(log, dict) and isinstance(log.get("records"), dict):
        records = {name: with_states(body, states) for name, body in log["records"].items()}
        made["history"] = {**log, "records": records}
    return made


def _state(said: Any) -> Any:
    return "installed" if said == "pulled" else said or "existing"


def with_states(body: Any, cables: Mapping[str, Any]) -> Any:
    """A link, a row of the plan, or a record of the log of version 7, as version 8 has it.

    Args:
        cables: the state of each cable by its id.
    """
    if not isinstance(body, dict):
        return body
    made = dict(body)
    if made.get("state") == "pulled":
        made["state"] = "installed"
    if isinstance(made.get("elements"), list):
        made["elements"] = [
            {**piece, "state": cables[piece["part"]]}
            if isinstance(piece, dict) and isinstance(piece.get("part"), str) and piece["part"] in cables
            else piece
            for piece in made["elements"]
        ]
    return made


def _instruments(plan: Doc, _salt: str) -> Doc:
    """From 8: a reading says with which instrument it was taken; one from before counts by what was asked then."""
    events = plan.get("events")
    return {**plan, "events": [with_before(event) for event in events]} if isinstance(events, list) else plan


def with_before(event: Any) -> Any:
    """An event of version 8 as version 9 has it."""
    if not isinstance(event, dict) or event.get("kind") != "reading" or not isinstance(event.get("reading"), dict):
        return event
    return {**event, "reading": {**event["reading"], "recorded_before": True}}


ZERO_UNKNOWN = "not recorded: taken before references were kept"


def _zeros(plan: Doc, _salt: str) -> Doc:
    """From 11: a reading names its reference; one from before counts as it did, and its certificate says so."""
    events = plan.get("events")
    return {**plan, "events": [with_zero(event) for event in events]} if isinstance(events, list) else plan


def with_zero(event: Any) -> Any:
    """An event of version 11 as version 12 has it."""
    if not isinstance(event, dict) or event.get("kind") != "reading" or not isinstance(event.get("reading"), dict):
        return event
    if event["reading"].get("zero") or event["reading"].get("recorded_before"):
        return event
    return {**event, "reading": {**event["reading"], "tester_zero": ZERO_UNKNOWN}}


_STEPS: dict[int, Callable[[Doc, str], Doc]] = {
    5: _records_apart,
    6: _keys_and_events,
    7: _states,
    8: _instruments,
    11: _zeros,
}
