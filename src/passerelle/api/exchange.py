"""In and out: the plan file, the table of links, links from a table."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from fastapi import APIRouter, Request, status
from fastapi.responses import Response
from sqlalchemy.orm import Session

from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.schemas import ImportOut, ImportPreview, ImportRequest, PlanRequest, ProjectOut, RowId
from passerelle.api.state import database_of
from passerelle.api.views import project_view
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.exchange.ladder_table import HEAD, table
from passerelle.exchange.link_import import read_links
from passerelle.exchange.plan_file import PlanEntry, PlanFile, PlanFileError, PlanHistory, read_plan, write_plan
from passerelle.exchange.table_out import Cell, write_csv, write_xlsx
from passerelle.store import history
from passerelle.store import projects as stored
from passerelle.store.projects import StoredLink

router = APIRouter(tags=["exchange"], responses=PROBLEM_RESPONSES)
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/plan-schema")
def get_plan_schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return PlanFile.model_json_schema(mode="validation")


@router.get("/projects/{project_id}/plan", response_class=Response)
def download_plan(request: Request, project_id: RowId, with_history: bool = False) -> Response:
    """The project as a plan file (JSON), its history left out or in by choice."""
    with database_of(request).read() as session:
        item = stored.project(session, project_id)
        links = stored.links(session, project_id)
        log = _history_of(session, project_id, links) if with_history else None
        plant = stored.plant(session, project_id)
    text = write_plan(item.name, item.house, [s.link for s in links], log, plant)
    headers = {"Content-Disposition": f'attachment; filename="project-{project_id}.plan.json"'}
    return Response(text, media_type="application/json", headers=headers)


def _history_of(session: Session, project_id: int, links: list[StoredLink]) -> PlanHistory:
    entries = [vars(entry) for entry in history.whole(session, project_id)]
    return PlanHistory.model_validate({"numbers": [s.id for s in links], "entries": entries})


@router.post("/projects/open", status_code=status.HTTP_201_CREATED)
def open_plan(request: Request, wish: PlanRequest) -> ProjectOut:
    """Open a plan file as a project of its own: links, house rules, own figures, history where it has one."""
    plan = read_plan(wish.text, load_catalog())
    with database_of(request).write() as session:
        made = stored.create_project(session, plan.name, list(plan.links), plan.house_rules, plan.plant)
        if plan.history:
            own = [item.id for item in stored.links(session, made.id)]
            entries = [
                history.WholeEntry(
                    e.at, e.label, e.link_id, e.state, [c.model_dump(mode="json") for c in e.changes]
                )
                for e in plan.history.entries
            ]
            history.restore(session, made.id, entries, dict(zip(plan.history.numbers, own, strict=True)))
        return project_view(session, made)


def _entry(entry: PlanEntry) -> history.WholeEntry:
    changes = [change.model_dump(mode="json") for change in entry.changes]
    return history.WholeEntry(entry.at, entry.label, entry.link_id, entry.state, changes)


@router.post("/projects/{project_id}/plan")
def upload_plan(request: Request, project_id: RowId, wish: PlanRequest) -> ImportOut:
    """Add the links of a plan file to the project, as one entry of the history."""
    plan = read_plan(wish.text, load_catalog())
    with database_of(request).write() as session:
        added = stored.add_links(session, project_id, list(plan.links), f"import plan {plan.name}")
        after = project_view(session, stored.project(session, project_id))
    return ImportOut(added=len(added), project=after)


@router.get("/projects/{project_id}/links.{kind}", response_class=Response)
def download_links(request: Request, project_id: RowId, kind: Literal["csv", "xlsx"]) -> Response:
    """The list of links as a table."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        links = [item.link for item in stored.links(session, project_id)]
    rows = table(zip(links, figures_of(links, load_catalog(), house), strict=True))
    return table_response("links", project_id, kind, HEAD, rows)


def table_response(
    title: str, project_id: int, kind: Literal["csv", "xlsx"], head: Sequence[str], rows: Sequence[Sequence[Cell]]
) -> Response:
    """A table as a file to keep."""
    headers = {"Content-Disposition": f'attachment; filename="{title}-{project_id}.{kind}"'}
    if kind == "csv":
        return Response(write_csv(head, rows), media_type="text/csv; charset=utf-8", headers=headers)
    return Response(write_xlsx(title, head, rows), media_type=XLSX, headers=headers)


@router.post("/projects/{project_id}/import/preview")
def preview_import(request: Request, project_id: RowId, wish: ImportRequest) -> ImportPreview:
    """What a CSV table holds: matched columns, links with verdicts, every bad line. Nothing is stored."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
    found = read_links(wish.text, load_catalog(), wish.mapping, wish.unit)
    figures = figures_of(list(found.links), load_catalog(), house)
    return ImportPreview(
        columns=found.columns,
        mapping=found.mapping,
        problems=found.problems,
        names=tuple(link.name for link in found.links),
        verdicts=tuple(f.verdict_text for f in figures),
    )


@router.post("/projects/{project_id}/import")
def import_links(request: Request, project_id: RowId, wish: ImportRequest) -> ImportOut:
    """Add the links of a CSV table, as one entry of the history; nothing when a line is bad (422)."""
    found = read_links(wish.text, load_catalog(), wish.mapping, wish.unit)
    if found.problems:
        first = found.problems[0]
        raise PlanFileError(
            f"line {first.line}: {first.message}; {len(found.problems)} bad lines, nothing imported"
        )
    with database_of(request).write() as session:
        added = stored.add_links(session, project_id, list(found.links), f"import {len(found.links)} links")
        after = project_view(session, stored.project(session, project_id))
    return ImportOut(added=len(added), project=after)
