"""Projects: their list, house rules, history and plan file."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response

from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.schemas import HistoryOut, ProjectOut, RowId, VerdictChange, WalkOut
from passerelle.api.views import entry_view, project_view
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.exchange.plan_file import write_plan
from passerelle.store import history
from passerelle.store import projects as stored
from passerelle.store.database import Database

router = APIRouter(tags=["projects"], responses=PROBLEM_RESPONSES)


def _database(request: Request) -> Database:
    database: Database = request.app.state.database
    return database


@router.get("/projects")
def list_projects(request: Request) -> list[ProjectOut]:
    """All projects in this database."""
    with _database(request).read() as session:
        return [project_view(session, item) for item in stored.projects(session)]


@router.get("/projects/{project_id}")
def get_project(request: Request, project_id: RowId) -> ProjectOut:
    """One project."""
    with _database(request).read() as session:
        return project_view(session, stored.project(session, project_id))


@router.put("/projects/{project_id}/house-rules")
def set_house_rules(request: Request, project_id: RowId, wish: HouseRules) -> ProjectOut:
    """Change the house rules, as one entry of the history."""
    label = f"house rules: margin {wish.margin_db:g} dB, offset launch from {wish.offset_launch_from_m:g} m"
    with _database(request).write() as session:
        return project_view(session, stored.set_house_rules(session, project_id, wish, label))


@router.post("/projects/{project_id}/house-rules/preview")
def preview_house_rules(request: Request, project_id: RowId, wish: HouseRules) -> list[VerdictChange]:
    """The links whose verdict other house rules would change. Nothing is stored."""
    with _database(request).read() as session:
        house = stored.project(session, project_id).house
        items = stored.links(session, project_id)
    links = [item.link for item in items]
    old_and_new = (figures_of(links, load_catalog(), rules) for rules in (house, wish))
    pairs = zip(items, *old_and_new, strict=True)
    return [
        VerdictChange(id=item.id, name=item.link.name, before=old.verdict_text, after=new.verdict_text)
        for item, old, new in pairs
        if old.verdict_text != new.verdict_text
    ]


@router.get("/projects/{project_id}/history")
def get_history(request: Request, project_id: RowId) -> list[HistoryOut]:
    """What was done, newest first."""
    with _database(request).read() as session:
        stored.project(session, project_id)
        return [entry_view(entry) for entry in history.entries(session, project_id)]


@router.post("/projects/{project_id}/undo")
def undo(request: Request, project_id: RowId) -> WalkOut:
    """Take back the newest change. 409 when there is none."""
    return _walk(request, project_id, forwards=False)


@router.post("/projects/{project_id}/redo")
def redo(request: Request, project_id: RowId) -> WalkOut:
    """Make the change again that was undone last. 409 when there is none."""
    return _walk(request, project_id, forwards=True)


@router.get("/projects/{project_id}/plan", response_class=Response)
def download_plan(request: Request, project_id: RowId) -> Response:
    """The project as a plan file (JSON)."""
    with _database(request).read() as session:
        item = stored.project(session, project_id)
        text = write_plan(item.name, item.house, [s.link for s in stored.links(session, project_id)])
    headers = {"Content-Disposition": f'attachment; filename="project-{project_id}.plan.json"'}
    return Response(text, media_type="application/json", headers=headers)


def _walk(request: Request, project_id: RowId, *, forwards: bool) -> WalkOut:
    with _database(request).write() as session:
        stored.project(session, project_id)
        step = history.redo if forwards else history.undo
        entry = step(session, project_id)
        after = project_view(session, stored.project(session, project_id))
        return WalkOut(entry=entry_view(entry), project=after)
