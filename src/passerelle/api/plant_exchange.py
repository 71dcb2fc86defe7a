"""The plant in and out: tables of its shelves, GeoJSON, the plan as a drawing, sheets as PDF."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import BeforeValidator

from passerelle.api.errands import map_laid, map_previewed, table_laid, table_previewed
from passerelle.api.exchange import stamp_of, table_response
from passerelle.api.plant import plant_view
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.plant import GeoOut, GeoRequest, PlantOut, PlantTableOut, PlantTableRequest
from passerelle.api.state import database_of, writing
from passerelle.api.workroom import SMALL, key_of, workroom_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.plant.closures import closure_sheet
from passerelle.core.plant.pull_sheet import pull_sheet
from passerelle.core.plant.pulling import DEFAULT_FRICTION
from passerelle.core.plant.scope_sheet import scope_sheet
from passerelle.core.units import typed_number
from passerelle.exchange.geojson import write_geojson
from passerelle.exchange.long_text import LongText
from passerelle.exchange.plan_drawing import as_pdf, as_svg, draw_plan
from passerelle.exchange.plant_table import (
    Kept,
    plant_rows,
    strand_rows,
)
from passerelle.exchange.sheets_pdf import Unit, closure_pdf, pull_pdf, scope_pdf
from passerelle.exchange.table_in import TableError, unpacked_bytes
from passerelle.store import links as stored_links
from passerelle.store import projects as stored

router = api_router("plant exchange")
Made = TypeVar("Made")
GEOJSON = "application/geo+json"
PDF = "application/pdf"


@router.get("/projects/{project_id}/plant/tables/{shelf}.{kind}", response_class=Response)
def download_table(request: Request, project_id: RowId, shelf: Kept, kind: Literal["csv", "xlsx"]) -> Response:
    """One shelf of the plant as a table."""
    with database_of(request).read() as session:
        plant = stored.plant(session, project_id)
        links = [item.link for item in stored_links.links(session, project_id)]
    head, rows = strand_rows(plant, links, load_catalog()) if shelf == "strands" else plant_rows(plant, shelf)
    return table_response(shelf, project_id, kind, head, rows)


@router.post("/projects/{project_id}/plant/tables/preview", response_model=PlantTableOut)
def preview_table(request: Request, project_id: RowId, wish: PlantTableRequest) -> Response:
    """What a table would add and change, and every bad line. Nothing is stored."""
    return _json(_laid(request, project_id, wish, table_previewed)[0])


@router.post("/projects/{project_id}/plant/tables")
def import_table(request: Request, project_id: RowId, wish: PlantTableRequest) -> PlantOut:
    """Lay a table over the plant, as one entry of the history; nothing when a line is bad (422)."""
    found, revision = _laid(request, project_id, wish, table_laid)
    if found.plant is None:
        first = found.problems[0]
        raise TableError(f"line {first.line}: {first.message}; {len(found.problems)} bad lines, nothing imported")
    count = len(found.added) + len(found.changed)
    with writing(request) as session:
        stored.set_plant(session, project_id, revision, found.plant, f"import {count} {wish.shelf}")
        return plant_view(session, project_id)


def _laid(
    request: Request, project_id: int, wish: PlantTableRequest, work: Callable[..., Made]
) -> tuple[Made, int]:
    """What some work makes of a table and the plant, and the revision of the plant that it was given."""
    with database_of(request).read() as session:
        plant, revision = stored.plant(session, project_id), stored.plant_revision(session, project_id)
        links = [item.link for item in stored_links.links(session, project_id)] if wish.shelf == "strands" else []
    given = wish.text, wish.workbook, wish.shelf, plant, links, wish.mapping, wish.unit
    alone = len(wish.text) > SMALL or _is_large_workbook(wish.workbook)
    return workroom_of(request).run(key_of(request), work, *given, alone=alone), revision


def _is_large_workbook(workbook: LongText) -> bool:
    """Whether a workbook takes seconds to read; a sheet is mostly markup."""
    return len(workbook) > 10 * SMALL or unpacked_bytes(workbook.read()) > 10 * SMALL


@router.get("/projects/{project_id}/plant/geojson", response_class=Response)
def download_geojson(request: Request, project_id: RowId) -> Response:
    """Places and ways with positions in degrees, as GeoJSON."""
    with database_of(request).read() as session:
        text = write_geojson(stored.plant(session, project_id))
    return _file(text, GEOJSON, f"plant-{project_id}.geojson")


@router.post("/projects/{project_id}/plant/geojson/preview", response_model=GeoOut)
def preview_geojson(request: Request, project_id: RowId, wish: GeoRequest) -> Response:
    """What a GeoJSON text would add. Nothing is stored."""
    return _json(_map(request, project_id, wish, map_previewed)[0])


def _json(content: bytes) -> Response:
    return Response(content, media_type="application/json")


@router.post("/projects/{project_id}/plant/geojson")
def import_geojson(request: Request, project_id: RowId, wish: GeoRequest) -> PlantOut:
    """Lay the points and lines of a GeoJSON text over the plant, as one entry of the history."""
    found, revision = _map(request, project_id, wish, map_laid)
    label = f"import {len(found.places)} places and {len(found.ways)} ways"
    with writing(request) as session:
        stored.set_plant(session, project_id, revision, found.plant, label)
        return plant_view(session, project_id)


def _map(request: Request, project_id: int, wish: GeoRequest, work: Callable[..., Made]) -> tuple[Made, int]:
    with database_of(request).read() as session:
        plant, revision = stored.plant(session, project_id), stored.plant_revision(session, project_id)
    given = wish.text, plant, wish.slack_percent
    return workroom_of(request).run(key_of(request), work, *given, alone=len(wish.text) > SMALL), revision


@router.get("/projects/{project_id}/plant/plan.{kind}", response_class=Response)
def download_plan_drawing(
    request: Request, project_id: RowId, kind: Literal["svg", "pdf"], unit: Unit = "m"
) -> Response:
    """The strip plan as a drawing."""
    with database_of(request).read() as session:
        name = stored.project(session, project_id).name
        plant = stored.plant(session, project_id)
    colors = {grade: fiber.jacket_colors for grade, fiber in load_catalog().fibers.items()}
    drawing = draw_plan(plant, name, colors, unit)
    if kind == "svg":
        return _file(as_svg(drawing), "image/svg+xml", f"plan-{project_id}.svg")
    return _file(as_pdf(drawing), PDF, f"plan-{project_id}.pdf")


@router.get("/projects/{project_id}/plant/pull.pdf", response_class=Response)
def download_pull(
    request: Request,
    project_id: RowId,
    cable: Annotated[list[str], Query(min_length=1, max_length=50)],
    friction: Annotated[float, BeforeValidator(typed_number), Query(ge=0, le=2)] = DEFAULT_FRICTION,
    unit: Unit = "m",
) -> Response:
    """The pull sheet of one cable or of a bundle."""
    with database_of(request).read() as session:
        sheet = pull_sheet(stored.plant(session, project_id), cable, friction)
        stamp = stamp_of(session, project_id)
    return _file(pull_pdf(sheet, unit, stamp), PDF, "pull.pdf")


@router.get("/projects/{project_id}/plant/closure.pdf", response_class=Response)
def download_closure(request: Request, project_id: RowId, place: str) -> Response:
    """The strands at one place."""
    with database_of(request).read() as session:
        links = [item.link for item in stored_links.links(session, project_id)]
        order = load_catalog().marks.strands
        sheet = closure_sheet(stored.plant(session, project_id), links, place, order)
        stamp = stamp_of(session, project_id, sheet.name)
    return _file(closure_pdf(sheet, stamp), PDF, "strands.pdf")


@router.get("/projects/{project_id}/plant/scope.pdf", response_class=Response)
def download_scope(
    request: Request,
    project_id: RowId,
    cable: Annotated[list[str] | None, Query(max_length=200)] = None,
    unit: Unit = "m",
) -> Response:
    """The scope for a contractor."""
    with database_of(request).read() as session:
        name = stored.project(session, project_id).name
        sheet = scope_sheet(stored.plant(session, project_id), cable or ())
        stamp = stamp_of(session, project_id)
    return _file(scope_pdf(sheet, f"Scope of work: {name}", unit, stamp), PDF, "scope.pdf")


def _file(content: str | bytes, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)
