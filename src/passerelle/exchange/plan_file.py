"""The plan file: a project as one JSON document, with a format name and version."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, Field, ValidationError, model_validator

from passerelle.core.catalog.shelves import Catalog, CatalogError
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import EditError
from passerelle.core.link.names import check_names
from passerelle.core.plant.riders import check_strands, laid
from passerelle.core.plant.site import Plant, PlantError, check_plant_names
from passerelle.core.sources import Frozen

FORMAT = "passerelle-plan"
VERSION = 4
OLDER = (1, 2, 3)


class PlanFileError(ValueError):
    """A plan file that cannot be read. The message names the place in the file and what was expected."""


class LinkStep(Frozen):
    """What an entry of the history did to one link; None where the link did not exist."""

    entity: Literal["link"] = "link"
    link_id: int
    position: int
    before: Link | None
    after: Link | None


class RulesStep(Frozen):
    """What an entry did to the house rules."""

    entity: Literal["project"] = "project"
    before: HouseRules
    after: HouseRules


class ProjectName(Frozen):
    """A project's name."""

    name: str = Field(min_length=1, max_length=120)


class NameStep(Frozen):
    """What an entry did to the project's name."""

    entity: Literal["name"] = "name"
    before: ProjectName
    after: ProjectName


class PlantStep(Frozen):
    """What an entry did to the plant."""

    entity: Literal["plant"] = "plant"
    before: Plant
    after: Plant


class PlanEntry(Frozen):
    """One entry of the history: when, what in words, and what it did."""

    at: AwareDatetime
    label: str = Field(max_length=300)
    link_id: int | None = None
    state: Literal["done", "undone", "dropped"]
    changes: tuple[Annotated[LinkStep | RulesStep | NameStep | PlantStep, Field(discriminator="entity")], ...]


class PlanHistory(Frozen):
    """The history of a project, oldest first. ``numbers`` are those of the plan's links, in their order."""

    numbers: tuple[int, ...]
    entries: tuple[PlanEntry, ...]


class PlanFile(Frozen):
    """A project's name, house rules and links, and its history by choice. Lengths in metres, losses in dB.

    Version 1 had two house rules, no history, and pieces without protection classes and variable attenuators,
    version 2 no plant, version 3 a plant without positions, taps, devices and order lines; they are read as a
    version 4 that leaves these out.
    """

    format: Literal["passerelle-plan"] = "passerelle-plan"
    version: Literal[4] = 4
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
    return json.dumps(content, indent=1, ensure_ascii=False) + "\n"


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
    _check_head(raw)
    if raw["version"] in OLDER:
        raw = {**raw, "version": VERSION}
    try:
        plan = PlanFile.model_validate(raw)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        where = _path(first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        raise PlanFileError(f"{where}: {message}" if where else message) from error
    links = tuple(with_ids(link) for link in plan.links)
    for number, link in enumerate(links):
        try:
            check_names(link, catalog)
        except EditError as error:
            raise PlanFileError(f"links[{number}] '{link.name}', {error.field}: {error}") from error
    try:
        check_plant_names(plan.plant, catalog)
        check_strands(links, plan.plant)
        links = tuple(laid(link, plan.plant) for link in links)
    except PlantError as error:
        raise PlanFileError(f"plant.{error.field}: {error}") from error
    try:
        house_catalog(catalog, plan.house_rules)
    except CatalogError as error:
        raise PlanFileError(f"house_rules.own_figures: {error}") from error
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
    pieces = {"port", "module", "cord", "panel", "run", "splice", "pigtail", "attenuator"}
    path = ""
    for part in location:
        if isinstance(part, int):
            path += f"[{part}]"
        elif not (path.endswith("]") and part in changes | pieces):  # a union's tag is no place in the file
            path += f".{part}" if path else part
    return path
