"""Import and export: the plan file, the table of links, links from a table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Literal, TypeVar

from fastapi import Request, status
from fastapi.responses import Response
from sqlalchemy.orm import Session

from passerelle.api.errands import (
    ReadyLinks,
    Written,
    links_table,
    plan_text,
    preview_links,
    ready_links,
    ready_plan,
    ready_project,
    write_links,
    write_project,
)
from passerelle.api.gate import who_of
from passerelle.api.routing import api_router
from passerelle.api.rows import shelf_of
from passerelle.api.schemas.common import ProjectOut, RowId
from passerelle.api.schemas.exchange import ImportOut, ImportPreview, ImportRequest, PlanRequest
from passerelle.api.state import database_of
from passerelle.api.views import project_view
from passerelle.api.workroom import MANY, SMALL, key_of, workroom_of
from passerelle.core.house import HouseRules
from passerelle.exchange.ladder_table import HEAD
from passerelle.exchange.long_text import LongText
from passerelle.exchange.plan_file import PlanFile
from passerelle.exchange.sheet import Stamp
from passerelle.exchange.table_out import Cell, write_csv, write_xlsx
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.prepared import MovedOnError

router = api_router("exchange")
Made = TypeVar("Made")
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/plan-schema")
def get_plan_schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return PlanFile.model_json_schema(mode="validation")


@router.get("/projects/{project_id}/plan", response_class=Response)
def download_plan(request: Request, project_id: RowId, with_history: bool = False) -> Response:
    """The project as a plan file (JSON), its history left out or in by choice."""
    path, alone = database_of(request).path, _many(request, project_id)
    text = workroom_of(request).run(
        key_of(request), plan_text, path, project_id, with_history, alone=alone, way="out"
    )
    headers = {"Content-Disposition": f'attachment; filename="project-{project_id}.plan.json"'}
    return Response(text, media_type="application/json", headers=headers)


def _many(request: Request, project_id: int) -> bool:
    """Whether a project has so many links that reading them all is worth a process of its own."""
    with database_of(request).read() as session:
        return len(stored_links.revisions(session, project_id)) > MANY


@router.post("/projects/open", status_code=status.HTTP_201_CREATED)
def open_plan(request: Request, wish: PlanRequest) -> ProjectOut:
    """Open a plan file as a project of its own: links, house rules, own figures, history where it has one."""
    for chance in range(3):
        ready = _away(request, wish.text, ready_project, database_of(request).path)
        try:
            return _write(request, ready.rows, write_project, ready)
        except MovedOnError:  # the same file was opened by somebody else meanwhile
            if chance == 2:
                raise
    raise MovedOnError


@router.post("/projects/{project_id}/plan")
def upload_plan(request: Request, project_id: RowId, wish: PlanRequest) -> ImportOut:
    """Add the links of a plan file to the project, as one entry of the history."""

    def make() -> tuple[str, ReadyLinks]:
        name, ready = _away(request, wish.text, ready_plan, database_of(request).path, project_id)
        return f"import plan {name}", ready

    return add_ready(request, project_id, make)


def _away(request: Request, text: LongText, work: Callable[..., Made], *given: Any) -> Made:
    """Do work on a text, in a process of its own where the text is long; the text is given last."""
    return workroom_of(request).run(key_of(request), work, *given, text, alone=len(text) > SMALL)


def add_ready(request: Request, project_id: int, make: Callable[[], tuple[str, ReadyLinks]]) -> ImportOut:
    """Add links that are made ready outside the write lock; made ready anew where the project moved on meanwhile.

    Raises:
        MovedOnError: it moved on three times.
    """
    for chance in range(3):
        label, ready = make()
        try:
            return _added(request, project_id, label, ready)
        except MovedOnError:
            if chance == 2:
                raise
    raise MovedOnError


def _added(request: Request, project_id: int, label: str, ready: ReadyLinks) -> ImportOut:
    shown = _write(request, ready.rows, write_links, project_id, label, ready)
    return ImportOut(added=len(ready.rows), undecided=ready.undecided, project=shown)


def _write(request: Request, rows: Sequence[bytes], work: Callable[..., Written], *given: Any) -> ProjectOut:
    """Write what was made ready: many links by a helper, while the others wait for their turn, for in this process
    every row would wait for the threads of all others. What was judged on the way need not be judged again.
    """
    database = database_of(request)
    whole = database.path, who_of(request), *given
    made = workroom_of(request).write(work, *whole, turn=database.turn if len(rows) > MANY else None)
    kept = [(number, made.revision, row) for number, row in zip(made.numbers, rows, strict=True)]
    shelf_of(request).put(made.house_revision, kept)
    with database.read() as session:
        return project_view(session, stored.project(session, made.project_id))


@router.get("/projects/{project_id}/links.{kind}", response_class=Response)
def download_links(request: Request, project_id: RowId, kind: Literal["csv", "xlsx"]) -> Response:
    """The list of links as a table."""
    path, alone = database_of(request).path, _many(request, project_id)
    rows = workroom_of(request).run(key_of(request), links_table, path, project_id, alone=alone, way="out")
    return table_response("links", project_id, kind, HEAD, rows)


def stamp_of(session: Session, project_id: int, place: str = "") -> Stamp:
    """What stands at the foot of a project's printed pages: its name, a place, today, its revision."""
    owner = stored.project(session, project_id)
    return Stamp(owner.name, place, f"{events.now(session):%Y-%m-%d}", owner.revision)


def table_response(
    title: str, project_id: int, kind: Literal["csv", "xlsx"], head: Sequence[str], rows: Sequence[Sequence[Cell]]
) -> Response:
    """A table as a file to keep."""
    headers = {"Content-Disposition": f'attachment; filename="{title}-{project_id}.{kind}"'}
    if kind == "csv":
        return Response(write_csv(head, rows), media_type="text/csv; charset=utf-8", headers=headers)
    return Response(write_xlsx(title, head, rows), media_type=XLSX, headers=headers)


@router.post("/projects/{project_id}/import/preview", response_model=ImportPreview)
def preview_import(request: Request, project_id: RowId, wish: ImportRequest) -> Response:
    """What a CSV table holds: matched columns, links with verdicts, every bad line. Nothing is stored."""
    house = _house(request, project_id)
    given = wish.text, house, wish.mapping, wish.unit
    shown = workroom_of(request).run(key_of(request), preview_links, *given, alone=len(wish.text) > SMALL)
    return Response(shown, media_type="application/json")


@router.post("/projects/{project_id}/import")
def import_links(request: Request, project_id: RowId, wish: ImportRequest) -> ImportOut:
    """Add the links of a CSV table, as one entry of the history; nothing when a line is bad (422)."""

    def make() -> tuple[str, ReadyLinks]:
        house, path = _house(request, project_id), database_of(request).path
        given = path, project_id, wish.text, house, wish.mapping, wish.unit
        alone = len(wish.text) > SMALL
        ready = workroom_of(request).run(key_of(request), ready_links, *given, alone=alone)
        return f"import {len(ready.rows)} links", ready

    return add_ready(request, project_id, make)


def _house(request: Request, project_id: int) -> HouseRules:
    with database_of(request).read() as session:
        return stored.project(session, project_id).house
