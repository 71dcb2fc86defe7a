"""The plan file: a project as one JSON document, with a format name and version."""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import Field, ValidationError

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import EditError
from passerelle.core.link.names import check_names
from passerelle.core.sources import Frozen

FORMAT = "passerelle-plan"
VERSION = 1


class PlanFileError(ValueError):
    """A plan file that cannot be read. The message names the place in the file and what was expected."""


class PlanFile(Frozen):
    """A project's name, house rules and links. Lengths in metres, losses in dB."""

    format: Literal["passerelle-plan"] = "passerelle-plan"
    version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    house_rules: HouseRules = Field(default_factory=HouseRules)
    links: tuple[Link, ...]


def write_plan(name: str, house: HouseRules, links: list[Link]) -> str:
    """The plan file's text."""
    plan = PlanFile(name=name, house_rules=house, links=tuple(links))
    return json.dumps(plan.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


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
    try:
        plan = PlanFile.model_validate(raw)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        raise PlanFileError(f"{_path(first['loc'])}: {first['msg']}") from error
    links = tuple(with_ids(link) for link in plan.links)
    for number, link in enumerate(links):
        try:
            check_names(link, catalog)
        except EditError as error:
            raise PlanFileError(f"links[{number}] '{link.name}', {error.field}: {error}") from error
    return plan.model_copy(update={"links": links})


def _check_head(raw: Any) -> None:
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise PlanFileError(f'this is not a plan file: it must be an object with "format": "{FORMAT}"')
    if raw.get("version") != VERSION:
        raise PlanFileError(f"version: this program reads version {VERSION}, not {raw.get('version')!r}")


def _path(location: tuple[int | str, ...]) -> str:
    """``links[3].elements[2].length_m`` from the pieces that the validator gives."""
    kinds = {"port", "module", "cord", "panel", "run", "splice", "pigtail", "attenuator"}
    path = ""
    for part in location:
        if isinstance(part, int):
            path += f"[{part}]"
        elif not (path.endswith("]") and part in kinds):
            path += f".{part}" if path else part
    return path
