"""In and out: the plan file, the table of links, links from a table."""

from __future__ import annotations

from typing import Any, Literal

from fastapi import APIRouter, Request
from fastapi.responses import Response

from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.schemas import ImportOut, ImportPreview, ImportRequest, PlanRequest, RowId
from passerelle.api.state import database_of
from passerelle.api.views import project_view
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.exchange.ladder_table import table, write_csv, write_xlsx
from passerelle.exchange.link_import import read_links
from passerelle.exchange.plan_file import PlanFile, PlanFileError, read_plan, write_plan
from passerelle.store import projects as stored

router = APIRouter(tags=["exchange"], responses=PROBLEM_RESPONSES)
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/plan-schema")
def get_plan_schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return PlanFile.model_json_schema(mode="validation")


@router.get("/projects/{project_id}/plan", response_class=Response)
def download_plan(request: Request, project_id: RowId) -> Response:
    """The project as a plan file (JSON)."""
    with database_of(request).read() as session:
        item = stored.project(session, project_id)
        text = write_plan(item.name, item.house, [s.link for s in stored.links(session, project_id)])
    headers = {"Content-Disposition": f'attachment; filename="project-{project_id}.plan.json"'}
    return Response(text, media_type="application/json", headers=headers)


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
    headers = {"Content-Disposition": f'attachment; filename="links-{project_id}.{kind}"'}
    if kind == "csv":
        return Response(write_csv(rows), media_type="text/csv; charset=utf-8", headers=headers)
    return Response(write_xlsx(rows), media_type=XLSX, headers=headers)


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
