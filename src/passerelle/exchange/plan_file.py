"""The plan file: a project as one JSON document, with a format name and version."""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import Field, ValidationError, model_validator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, EditError, PlantError
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.names import check_names
from passerelle.core.parts.registry import SPEC_OF
from passerelle.core.plant.riders import check_strands, laid
from passerelle.core.plant.site import Plant, check_plant_names
from passerelle.core.sources import Frozen
from passerelle.exchange.holdable import UnheldTextError, check_texts, held_json
from passerelle.exchange.plan_history import HistoryError, PlanHistory, check_history, with_records

FORMAT = "passerelle-plan"
VERSION = 6
OLDER = (1, 2, 3, 4, 5)


class PlanFileError(ValueError):
    """A plan file that cannot be read. The message names the place in the file and what was expected."""


class PlanFile(Frozen):
    """A project's name, house rules and links, and its history by choice. Lengths in metres, losses in dB.

    Version 1 had two house rules, no history, and pieces without protection classes and variable attenuators,
    version 2 no plant, version 3 a plant without positions, taps, devices and order lines, version 4 no readings
    and no modules from datasheets, version 5 a history whose steps hold their contents; they are read as a version
    6 that leaves these out.
    """

    format: Literal["passerelle-plan"] = "passerelle-plan"
    version: Literal[6] = 6
    name: str = Field(min_length=1, max_length=120)
    house_rules: HouseRules = Field(default_factory=HouseRules)
    links: tuple[Link, ...]
    plant: Plant = Field(default_factory=Plant)
    history: PlanHistory | None = None

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
) -> str:
    """The plan file's text; without a history it is left out."""
    plan = PlanFile(name=name, house_rules=house, links=tuple(links), history=history, plant=plant or Plant())
    content = plan.model_dump(mode="json")
    if history is None:
        del content["history"]
    return held_json(_laid_out(content)) + "\n"


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
        check_texts(raw)
    except UnheldTextError as error:
        raise PlanFileError(str(error)) from error
    _check_head(raw)
    if raw["version"] in OLDER:
        raw = {**raw, "version": VERSION}
        if isinstance(raw.get("history"), dict):
            raw["history"] = with_records(raw["history"])
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
        check_strands(links, plan.plant)
        links = tuple(laid(link, plan.plant) for link in links)
    except PlantError as error:
        raise PlanFileError(f"plant.{error.field}: {error}") from error
    try:
        if plan.history:
            check_history(plan.history, links, plan.plant, plan.house_rules, catalog)
    except HistoryError as error:
        raise PlanFileError(str(error)) from error
    return plan.model_copy(update={"links": links})


def _check_head(raw: Any) -> None:
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise PlanFileError(f'this is not a plan file: it must be an object with "format": "{FORMAT}"')
    version = raw.get("version")
    if type(version) is not int or version not in (*OLDER, VERSION):
        known = ", ".join(map(str, (*OLDER, VERSION)))
        raise PlanFileError(f"version: this program reads versions {known}, not {version!r}")


def _path(location: tuple[int | str, ...]) -> str:
    """``links[3].elements[2].length_m`` from the pieces that the validator gives."""
    changes = {"link", "project", "name", "plant"}
    path = ""
    for part in location:
        if isinstance(part, int):
            path += f"[{part}]"
        elif not (path.endswith("]") and part in changes | SPEC_OF.keys()):  # a union's tag is no place in the file
            path += f".{part}" if path else part
    return path
