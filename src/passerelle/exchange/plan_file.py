"""The plan file: a project as one JSON document, with a format name and version."""

from __future__ import annotations

import json
import secrets
from collections import Counter
from collections.abc import Sequence
from itertools import count
from typing import Any, Literal

from pydantic import Field, ValidationError, model_validator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.copies import copied_event, copied_link, copied_plant
from passerelle.core.errors import CatalogError, EditError, PlantError, UpgradeError
from passerelle.core.events import (
    EVENT_KINDS,
    Event,
    Stamp,
    Withdrawal,
    events_between,
    readings_by_link,
    with_readings,
)
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.keys import keyed
from passerelle.core.link.names import check_names
from passerelle.core.parts.piece import Key
from passerelle.core.parts.registry import SPEC_OF
from passerelle.core.plant.records import SHELVES
from passerelle.core.plant.riders import check_taken, laid
from passerelle.core.plant.site import Plant, check_plant_names
from passerelle.core.sources import Frozen
from passerelle.core.upgrade import OLDEST, VERSION, upgraded
from passerelle.exchange.holdable import UnheldTextError, check_texts, held_json, suspect
from passerelle.exchange.plan_history import HistoryError, PlanHistory, check_history, copied_history

FORMAT = "passerelle-plan"
EVENTS_SINCE = 7
"""The version since which readings stand in the events of a file."""


class PlanFileError(ValueError):
    """A plan file that cannot be read. The message names the place in the file and what was expected."""


class PlanFile(Frozen):
    """A project's name, house rules and links, and its history by choice. Lengths in metres, losses in dB.

    ``key`` is the project's own for good. ``events`` are what happened, the readings among them: a link in a file
    has none itself. Version 1 had two house rules, no history, and pieces without protection classes and variable
    attenuators, version 2 no plant, version 3 a plant without positions, taps, devices and order lines, version 4
    no readings and no modules from datasheets, version 5 a history whose steps hold their contents, version 6 no
    keys, no events and no shared parts, version 7 no states of pieces, version 8 no instruments and no records of
    acceptance but plain readings, version 9 no boxes and no turn-up; they are brought up to
    date when they are read.
    """

    format: Literal["passerelle-plan"] = "passerelle-plan"
    version: Literal[12] = 12
    key: Key = ""
    name: str = Field(min_length=1, max_length=120)
    house_rules: HouseRules = Field(default_factory=HouseRules)
    links: tuple[Link, ...]
    plant: Plant = Field(default_factory=Plant)
    events: tuple[Event, ...] = ()
    history: PlanHistory | None = None

    @model_validator(mode="after")
    def _each_key_once(self) -> PlanFile:
        keys = [key for link in self.links for key in (link.key, *(e.key for e in link.elements))]
        rows = [row.key for shelf in SHELVES for row in getattr(self.plant, shelf)]
        counted = Counter(key for key in (*keys, *rows, *(event.key for event in self.events)) if key)
        if doubled := [key for key, count in counted.items() if count > 1]:
            raise ValueError(f"the key '{doubled[0]}' stands twice: leave a key out where it is not known")
        known = set[str]()
        for number, event in enumerate(self.events):
            if isinstance(event, Withdrawal) and event.of not in known:
                raise ValueError(f"events[{number}].of: there is no event '{event.of}' before it")
            known.add(event.key)
        return self

    @model_validator(mode="after")
    def _numbered(self) -> PlanFile:
        numbers = self.history.numbers if self.history else ()
        if self.history and (len(numbers) != len(self.links) or len(set(numbers)) != len(numbers)):
            raise ValueError("history.numbers: one number for each link, none of them twice")
        return self


def write_plan(
    name: str,
    house: HouseRules,
    links: list[Link],
    history: PlanHistory | None = None,
    plant: Plant | None = None,
    events: Sequence[Event] | None = None,
    key: str = "",
) -> str:
    """The plan file's text; without a history it is left out. Readings are written from the events, not the
    links.
    """
    if events is None:
        links, events = _with_events(links)
    bare = tuple(link.model_copy(update={"readings": ()}) for link in links)
    plan = PlanFile(
        key=key,
        name=name,
        house_rules=house,
        links=bare,
        history=history,
        plant=plant or Plant(),
        events=tuple(events),
    )
    content = plan.model_dump(mode="json")
    for link in content["links"]:
        del link["readings"]
    if history is None:
        del content["history"]
    return held_json(_laid_out(content)) + "\n"


def _with_events(links: Sequence[Link]) -> tuple[list[Link], list[Event]]:
    """Links with keys, counted through, and what their readings say as events that nobody wrote down yet."""
    numbers = count(1)

    def fresh() -> str:
        return f"k{next(numbers)}"

    if not any(link.readings for link in links):
        return list(links), []
    named = [keyed(link, fresh) for link in links]
    stamp = Stamp(None, "", fresh)
    bare = (link.model_copy(update={"readings": ()}) for link in named)
    found: list[Event] = [
        event for link, none in zip(named, bare, strict=True) for event in events_between(none, link, {}, stamp)
    ]
    return named, found


def _laid_out(value: Any, depth: int = 0) -> str:
    """JSON with one line for each link, record or entry, so that a large plan stays small and can be compared."""
    held: list[tuple[str, Any]] = []
    if isinstance(value, dict) and depth < 2:
        held = [(json.dumps(key, ensure_ascii=False) + ": ", one) for key, one in value.items()]
    elif isinstance(value, list) and depth < 3 and any(isinstance(one, dict) for one in value):
        held = [("", one) for one in value]
    if not held:
        return json.dumps(value, ensure_ascii=False, separators=(", ", ": ") if depth < 2 else (",", ":"))
    begin, end = "{}" if isinstance(value, dict) else "[]"
    pad = "\n" + " " * (depth + 1)
    lines = ",".join(
        f"{pad}{key}{_laid_out(one, 3 if isinstance(value, list) else depth + 1)}" for key, one in held
    )
    return begin + lines + "\n" + " " * depth + end


def read_plan(text: str, catalog: Catalog) -> PlanFile:
    """Read a plan file's text; every name in it must be in the catalog.

    Raises:
        PlanFileError: not JSON, not a plan file, another version, a field that is wrong, an unknown name.
    """
    try:
        raw = json.loads(text)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise PlanFileError(f"{where}: this is not JSON: {error.msg}") from error
    except RecursionError as error:
        raise PlanFileError("the file is nested too deeply to be a plan file") from error
    except ValueError as error:
        raise PlanFileError("a number in the file has thousands of digits: that is no measure") from error
    try:
        if suspect(text):
            check_texts(raw)
    except UnheldTextError as error:
        raise PlanFileError(str(error)) from error
    _check_head(raw)
    raw = _today(raw)
    try:
        plan = PlanFile.model_validate(raw)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        where = _path(first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        raise PlanFileError(f"{where}: {message}" if where else message) from error
    try:
        shown = house_catalog(catalog, plan.house_rules)
    except CatalogError as error:
        raise PlanFileError(f"house_rules.own_figures: {error}") from error
    links = tuple(with_ids(link) for link in plan.links)
    for number, link in enumerate(links):
        try:
            check_names(link, shown)
        except EditError as error:
            raise PlanFileError(f"links[{number}] '{link.name}', {error.field}: {error}") from error
    try:
        check_plant_names(plan.plant, catalog)
        check_taken(links, plan.plant)
        links = tuple(laid(link, plan.plant) for link in links)
    except PlantError as error:
        raise PlanFileError(f"plant.{error.field}: {error}") from error
    try:
        if plan.history:
            check_history(plan.history, links, plan.plant, plan.house_rules, catalog, plan.events)
    except HistoryError as error:
        raise PlanFileError(str(error)) from error
    taken = readings_by_link(plan.events)
    return plan.model_copy(
        update={"links": tuple(with_readings(link, taken.get(link.key, ()) if link.key else ()) for link in links)}
    )


def copied_plan(plan: PlanFile, salt: str) -> PlanFile:
    """The plan as a copy: the same links, readings and log under other keys."""
    history = None if plan.history is None else copied_history(plan.history, salt)
    return plan.model_copy(
        update={
            "key": "",
            "links": tuple(copied_link(link, salt) for link in plan.links),
            "plant": copied_plant(plan.plant, salt),
            "events": tuple(copied_event(event, salt) for event in plan.events),
            "history": history,
        }
    )


def _today(raw: dict[str, Any]) -> dict[str, Any]:
    """A plan of any version as one of today's; since events are told, none may hold readings in its links."""
    if raw["version"] >= EVENTS_SINCE:
        _check_no_readings(raw)
    if raw["version"] < VERSION:
        try:
            return upgraded(raw, secrets.token_hex(8))
        except UpgradeError as error:
            raise PlanFileError(str(error)) from error
        except (AttributeError, KeyError, TypeError, ValueError) as error:
            raise PlanFileError(
                f"a plan of version {raw['version']} is not as that version was: {type(error).__name__} {error}"
            ) from error
    return raw


def _check_no_readings(raw: dict[str, Any]) -> None:
    links = raw.get("links")
    for number, link in enumerate(links if isinstance(links, list) else ()):
        if isinstance(link, dict) and link.get("readings"):
            raise PlanFileError(f"links[{number}].readings: readings stand in the file's events, not in its links")


def _check_head(raw: Any) -> None:
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise PlanFileError(f'this is not a plan file: it must be an object with "format": "{FORMAT}"')
    version = raw.get("version")
    if type(version) is not int or not OLDEST <= version <= VERSION:
        known = ", ".join(map(str, range(OLDEST, VERSION + 1)))
        raise PlanFileError(f"version: this program reads versions {known}, not {version!r}")


def _path(location: tuple[int | str, ...]) -> str:
    """``links[3].elements[2].length_m`` from the pieces that the validator gives."""
    changes = {"link", "project", "name", "row", "event"} | EVENT_KINDS
    path = ""
    for part in location:
        if isinstance(part, int):
            path += f"[{part}]"
        elif not (path.endswith("]") and part in changes | SPEC_OF.keys()):  # a union's tag is no place in the file
            path += f".{part}" if path else part
    return path
