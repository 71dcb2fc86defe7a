"""What is done outside the server's own process: tables, plans and maps read, placed and judged.

Every function takes ``tell`` first, and values that can travel; the database is opened where it is read.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session

from passerelle.api.laying import laid_links
from passerelle.api.rows import row_json
from passerelle.api.schemas.exchange import ImportPreview
from passerelle.api.schemas.plant import GeoOut, PlantTableOut
from passerelle.api.views import catalog_of
from passerelle.api.workroom import Tell, Wait
from passerelle.core.acceptance.proof import acceptance_of
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.copies import copied_event, copied_link
from passerelle.core.events import Event, about
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.keys import unkeyed
from passerelle.core.plant.riders import off_plant
from passerelle.core.plant.site import Plant
from passerelle.core.selection.wish import RankBy
from passerelle.exchange.geojson import GeoImport, read_geojson
from passerelle.exchange.ladder_table import table
from passerelle.exchange.link_import import FIELDS as LINK_FIELDS
from passerelle.exchange.link_import import read_links
from passerelle.exchange.long_text import LongText
from passerelle.exchange.plan_file import PlanFile, PlanFileError, copied_plan, read_plan, write_plan
from passerelle.exchange.plan_history import PlanHistory
from passerelle.exchange.plant_table import Kept, PlantTable, fields_of, read_plant_table
from passerelle.exchange.requirements import EXAMPLE, AnsweredTable, answer_lines
from passerelle.exchange.table_in import TableError, read_table, read_workbook
from passerelle.exchange.table_out import Cell
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.database import opened, reading
from passerelle.store.events import new_key, of_project
from passerelle.store.history import WholeEntry, whole
from passerelle.store.prepared import (
    Basis,
    MovedOnError,
    PreparedLinks,
    PreparedLog,
    add_prepared,
    basis,
    prepared,
    prepared_log,
    restore_log,
)

PART = 500


@dataclass(frozen=True)
class ReadyLinks:
    """Links made ready for a project: what to write, on what it rests, the plan with them, and their rows."""

    links: PreparedLinks
    on: Basis
    plant_after: Plant
    undecided: int
    rows: list[bytes]


def judged_rows(tell: Tell, links: Sequence[Link], house: HouseRules) -> list[bytes]:
    """The rows of links in the list, as JSON without their numbers."""
    rows: list[bytes] = []
    for start in range(0, len(links), PART):
        tell("judging", start, len(links))
        part = links[start : start + PART]
        found = figures_of(part, load_catalog(), house)
        rows += [row_json(link, figures, house) for link, figures in zip(part, found, strict=True)]
    return rows


def rows_of(tell: Tell, path: Path, project_id: int, numbers: Sequence[int]) -> list[tuple[int, int, bytes]]:
    """Number, revision and row of some links as they are stored; those that were removed since are left out."""
    with reading(path) as session:
        house = stored.project(session, project_id).house
        items = stored_links.links(session, project_id, only=numbers)
    rows = judged_rows(tell, [item.link for item in items], house)
    return [(item.id, item.revision, row) for item, row in zip(items, rows, strict=True)]


def _ready(
    tell: Tell, path: Path, project_id: int, new: Sequence[Link], happened: Sequence[Event] = ()
) -> ReadyLinks:
    """Links made ready; those with keys and readings come from elsewhere, with what happened there."""
    if not happened:
        new = [unkeyed(link) for link in new]
    tell("laying on the plan", 0, len(new))
    with reading(path) as session:
        on = basis(session, project_id)
        house = stored.project(session, project_id).house
        laid = laid_links(session, project_id, list(new))
    rows = judged_rows(tell, laid.links, house)
    tell("packing", len(new), len(new))
    return ReadyLinks(prepared(laid.links, happened), on, laid.plant, len(laid.undecided), rows)


def preview_links(
    tell: Tell, text: LongText, house: HouseRules, mapping: dict[str, str] | None, unit: str
) -> bytes:
    """What a table of links holds, and the verdict of each link, as the JSON of an ``ImportPreview``."""
    found = read_links(text.read(), catalog_of(house), mapping, unit, tell)
    tell("judging", 0, len(found.links))
    figures = figures_of(list(found.links), load_catalog(), house)
    preview = ImportPreview(
        columns=found.columns,
        mapping=found.mapping,
        unknown=found.unknown,
        fields=LINK_FIELDS,
        problems=found.problems,
        names=tuple(link.name for link in found.links),
        verdicts=tuple(f.verdict_text for f in figures),
    )
    return preview.model_dump_json().encode()


def ready_links(
    tell: Tell,
    path: Path,
    project_id: int,
    text: LongText,
    house: HouseRules,
    mapping: dict[str, str] | None,
    unit: str,
) -> ReadyLinks:
    """The links of a table, ready to be written; raises PlanFileError where a line is bad."""
    found = read_links(text.read(), catalog_of(house), mapping, unit, tell)
    if found.problems:
        first = found.problems[0]
        raise PlanFileError(
            f"line {first.line}: {first.message}; {len(found.problems)} bad lines, nothing imported"
        )
    return _ready(tell, path, project_id, found.links)


def ready_plan(tell: Tell, path: Path, project_id: int, text: LongText) -> tuple[str, ReadyLinks]:
    """The name of a plan file and its links, ready to be added to a project."""
    tell("reading the plan", 0, 0)
    plan = read_plan(text.read(), load_catalog())
    with reading(path) as session:
        house = stored.project(session, project_id).house
    _check_modules(plan, catalog_of(house))
    salt = new_key()
    new = [copied_link(off_plant(link), salt) for link in plan.links]
    there = {link.key for link in plan.links if link.key}
    happened = [copied_event(event, salt) for event in about(plan.events, there)]
    return plan.name, _ready(tell, path, project_id, new, happened)


def _check_modules(plan: PlanFile, shown: Catalog) -> None:
    """A plan's links may have modules from datasheets that this project does not have."""
    for sheet in plan.house_rules.own_modules:
        if sheet.name not in shown.applications:
            raise PlanFileError(
                f"the plan has a module of its own, '{sheet.name}', that this project does not have: add it from "
                "its datasheet on the Catalog page first, or open the plan as a project of its own"
            )


@dataclass(frozen=True)
class Written:
    """What was written: the project, its links' numbers, and the revisions that they and the house rules have."""

    project_id: int
    numbers: list[int]
    revision: int
    house_revision: int


def write_links(wait: Wait, path: Path, who: str, project_id: int, label: str, ready: ReadyLinks) -> Written:
    """Add links that were made ready, as one entry of the history; raises MovedOnError."""
    with opened(path) as database:
        wait()
        with database.write(who) as session:
            numbers = add_prepared(session, project_id, ready.links, label, ready.on, ready.plant_after)
            return _written(session, project_id, numbers)


def write_project(wait: Wait, path: Path, who: str, ready: ReadyProject) -> Written:
    """Make a project of a plan file that was made ready, with its log where it has one."""
    with opened(path) as database:
        wait()
        with database.write(who) as session:
            happened = [event.key for event in ready.links.events]
            if stored.has_key(session, ready.key) or stored.has_any_key(session, ready.links.keys, happened):
                raise MovedOnError
            made = stored.create_project(session, ready.name, [], ready.house, ready.plant, ready.key)
            numbers = add_prepared(session, made.id, ready.links, None)
            if ready.log:
                restore_log(session, made.id, ready.log, numbers)
            return _written(session, made.id, numbers)


def _written(session: Session, project_id: int, numbers: list[int]) -> Written:
    revision = stored_links.link(session, numbers[0]).revision if numbers else 0
    return Written(project_id, numbers, revision, stored.project(session, project_id).house_revision)


@dataclass(frozen=True)
class ReadyProject:
    """A plan file made ready to become a project: what stands beside its links, the links, their rows, its log."""

    key: str
    name: str
    house: HouseRules
    plant: Plant
    links: PreparedLinks
    rows: list[bytes]
    log: PreparedLog | None


def ready_project(tell: Tell, path: Path, text: LongText) -> ReadyProject:
    """A plan file as a project, ready to be written: the project that it was, or a copy where that is here
    already.
    """
    tell("reading the plan", 0, 0)
    plan = read_plan(text.read(), load_catalog())
    with reading(path) as session:
        here = not plan.key or stored.has_key(session, plan.key)
        here = here or stored.has_any_key(session, *_keys(plan))
    if here:
        plan = copied_plan(plan, new_key())
    log = _log(plan.history) if plan.history else None
    rows = judged_rows(tell, plan.links, plan.house_rules)
    links = prepared(plan.links, plan.events)
    return ReadyProject(plan.key or new_key(), plan.name, plan.house_rules, plan.plant, links, rows, log)


def _keys(plan: PlanFile) -> tuple[list[str], list[str]]:
    """The keys of the links and of the events of a plan."""
    return [link.key for link in plan.links], [event.key for event in plan.events]


def _log(log: PlanHistory) -> PreparedLog:
    entries = [
        WholeEntry(e.at, e.label, e.link_id, e.state, [c.model_dump(mode="json") for c in e.changes], e.who)
        for e in log.entries
    ]
    return prepared_log(log.numbers, entries, log.records)


def links_table(tell: Tell, path: Path, project_id: int) -> list[list[Cell]]:
    """The lines of the table of links."""
    tell("judging", 0, 0)
    with reading(path) as session:
        house = stored.project(session, project_id).house
        links = [item.link for item in stored_links.links(session, project_id)]
    catalog = house_catalog(load_catalog(), house)
    said = [acceptance_of(link, catalog, house) for link in links]
    return [list(row) for row in table(zip(links, figures_of(links, load_catalog(), house), said, strict=True))]


def plan_text(tell: Tell, path: Path, project_id: int, with_history: bool) -> str:
    """A project as the text of a plan file."""
    tell("writing the plan", 0, 0)
    with reading(path) as session:
        item = stored.project(session, project_id)
        links = stored_links.links(session, project_id)
        entries, records = whole(session, project_id) if with_history else ([], {})
        plant, happened = stored.plant(session, project_id), of_project(session, project_id)
    log = None
    if with_history:
        told = [vars(entry) for entry in entries]
        content = {"numbers": [s.id for s in links], "records": records, "entries": told}
        log = PlanHistory.model_validate(content)
    return write_plan(item.name, item.house, [s.link for s in links], log, plant, happened, item.key)


def ready_answers(
    tell: Tell,
    path: Path,
    project_id: int,
    text: LongText,
    lines: Sequence[int],
    mapping: dict[str, str] | None,
    unit: str,
    rank_by: RankBy,
) -> ReadyLinks:
    """The best answers of some lines of a table of requirements, ready to be written; raises TableError."""
    with reading(path) as session:
        house, plant = stored.project(session, project_id).house, stored.plant(session, project_id)
    table = read_table(text.read(), EXAMPLE)
    chosen = tuple(line for line in table.lines if line[0] in set(lines))
    links: list[Link] = []
    for start in range(0, len(chosen), 20):
        tell("answering", start, len(chosen))
        part = table.model_copy(update={"lines": chosen[start : start + 20]})
        count = len(part.lines)
        found = answer_lines(part, 0, count, load_catalog(), house, mapping, unit, rank_by, plant)
        best = [one.best for one in found.answered if one.best]
        if found.problems or len(best) < count:
            _refuse(found.problems)
        links += [link for option in best for link in option.all_links]
    if len(chosen) < len(set(lines)):
        _refuse(())
    return _ready(tell, path, project_id, links)


def _refuse(problems: Sequence[Any]) -> None:
    why = f"line {problems[0].line}: {problems[0].message}" if problems else "a line has no answer"
    raise TableError(f"{why}; nothing was added: choose lines that have an answer")


def map_laid(tell: Tell, text: LongText, plant: Plant, slack_percent: float) -> GeoImport:
    """A GeoJSON text laid over a plant."""
    tell("reading the map", 0, 0)
    return read_geojson(text.read(), plant, slack_percent)


def table_laid(
    tell: Tell,
    text: LongText,
    workbook: LongText,
    shelf: Kept,
    plant: Plant,
    links: Sequence[Link],
    mapping: dict[str, str] | None,
    unit: str,
) -> PlantTable:
    """A table laid over one shelf of a plant."""
    tell("reading the table", 0, 0)
    example = ",".join(fields_of(shelf)[:6])
    table = read_workbook(workbook.read(), example) if workbook else read_table(text.read(), example)
    return read_plant_table(table, shelf, plant, list(links), load_catalog(), mapping, unit)


def table_previewed(tell: Tell, text: LongText, workbook: LongText, shelf: Kept, *given: Any) -> bytes:
    """What a table would add and change, as the JSON of a ``PlantTableOut``; given as ``table_laid`` is."""
    found = table_laid(tell, text, workbook, shelf, *given)
    preview = PlantTableOut(
        fields=fields_of(shelf),
        columns=found.columns,
        mapping=found.mapping,
        added=found.added,
        changed=found.changed,
        problems=found.problems,
    )
    return preview.model_dump_json().encode()


def map_previewed(tell: Tell, text: LongText, plant: Plant, slack_percent: float) -> bytes:
    """What a GeoJSON text would add, as the JSON of a ``GeoOut``."""
    found = map_laid(tell, text, plant, slack_percent)
    return GeoOut.model_validate(found.model_dump(exclude={"plant"})).model_dump_json().encode()


def answered(
    tell: Tell,
    text: LongText,
    first: int,
    count: int,
    house: HouseRules,
    mapping: dict[str, str] | None,
    unit: str,
    rank_by: RankBy,
    plant: Plant,
) -> AnsweredTable:
    """The best answers of some lines of a table of requirements; raises TableError."""
    tell("answering", 0, count)
    table = read_table(text.read(), EXAMPLE)
    return answer_lines(table, first, count, load_catalog(), house, mapping, unit, rank_by, plant)
