"""Projects: their list, house rules, history and plan file."""

from __future__ import annotations

from pathlib import Path

from fastapi import Request, status
from sqlalchemy.orm import Session

from passerelle.api.routing import api_router
from passerelle.api.schemas.common import ProjectOut, RowId, Seen, VerdictChange
from passerelle.api.schemas.projects import EventOut, HistoryOut, WalkOut
from passerelle.api.state import database_of, writing
from passerelle.api.views import entry_view, event_view, project_view
from passerelle.api.workroom import MANY, Tell, key_of, workroom_of
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import CatalogError
from passerelle.core.events import readings_by_link
from passerelle.core.house import HouseRules, describe_change, house_catalog
from passerelle.core.link.chain import modules
from passerelle.exchange.plan_history import ProjectName
from passerelle.store import history
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.database import reading
from passerelle.store.events import of_project
from passerelle.store.stored import NotFoundError

router = api_router("projects")


@router.get("/projects")
def list_projects(request: Request) -> list[ProjectOut]:
    """All projects in this database."""
    with database_of(request).read() as session:
        return [project_view(session, item) for item in stored.projects(session)]


@router.post("/projects", status_code=status.HTTP_201_CREATED)
def create_project(request: Request, wish: ProjectName) -> ProjectOut:
    """Start an empty project with the default house rules."""
    with writing(request) as session:
        return project_view(session, stored.create_project(session, wish.name, [], HouseRules()))


@router.put("/projects/{project_id}/name")
def rename_project(request: Request, project_id: RowId, wish: ProjectName) -> ProjectOut:
    """Give a project another name, as one entry of the history."""
    with writing(request) as session:
        return project_view(session, stored.rename_project(session, project_id, wish.name))


@router.post("/projects/{project_id}/copy", status_code=status.HTTP_201_CREATED)
def copy_project(request: Request, project_id: RowId, wish: ProjectName) -> ProjectOut:
    """A project of its own with the links, plan and house rules of another."""
    with writing(request) as session:
        return project_view(session, stored.copy_project(session, project_id, wish.name))


@router.delete("/projects/{project_id}")
def remove_project(request: Request, project_id: RowId) -> ProjectOut:
    """Take a project out of the list; it can be brought back."""
    with writing(request) as session:
        return project_view(session, stored.set_removed(session, project_id, removed=True))


@router.post("/projects/{project_id}/restore")
def restore_project(request: Request, project_id: RowId) -> ProjectOut:
    """Bring a removed project back, with all that was in it."""
    with writing(request) as session:
        return project_view(session, stored.set_removed(session, project_id, removed=False))


@router.get("/removed-projects")
def list_removed_projects(request: Request) -> list[ProjectOut]:
    """The projects that were removed and can be brought back."""
    with database_of(request).read() as session:
        return [project_view(session, item) for item in stored.removed_projects(session)]


@router.get("/projects/{project_id}")
def get_project(request: Request, project_id: RowId) -> ProjectOut:
    """One project."""
    with database_of(request).read() as session:
        return project_view(session, stored.project(session, project_id))


@router.put("/projects/{project_id}/house-rules")
def set_house_rules(request: Request, project_id: RowId, wish: HouseRules, revision: Seen) -> ProjectOut:
    """Change the house rules and own figures, as one entry of the history. 409 when they were changed meanwhile."""
    house_catalog(load_catalog(), wish)
    with writing(request) as session:
        _check_modules_in_use(session, project_id, wish)
        label = describe_change(stored.project(session, project_id).house, wish)
        return project_view(session, stored.set_house_rules(session, project_id, wish, label, revision))


@router.post("/projects/{project_id}/house-rules/preview")
def preview_house_rules(request: Request, project_id: RowId, wish: HouseRules) -> list[VerdictChange]:
    """The links whose verdict other house rules would change. Nothing is stored."""
    house_catalog(load_catalog(), wish)
    with database_of(request).read() as session:
        alone = len(stored_links.revisions(session, project_id)) > MANY
    given = database_of(request).path, project_id, wish
    return workroom_of(request).run(key_of(request), changed_verdicts, *given, alone=alone, way="out")


def changed_verdicts(_tell: Tell, path: Path, project_id: int, wish: HouseRules) -> list[VerdictChange]:
    """The links whose verdict other house rules change; raises CatalogError where links have a module of theirs."""
    with reading(path) as session:
        _check_modules_in_use(session, project_id, wish)
        house = stored.project(session, project_id).house
        items = stored_links.links(session, project_id)
    links = [item.link for item in items]
    old_and_new = (figures_of(links, load_catalog(), rules) for rules in (house, wish))
    pairs = zip(items, *old_and_new, strict=True)
    return [
        VerdictChange(id=item.id, name=item.link.name, before=old.verdict_text, after=new.verdict_text)
        for item, old, new in pairs
        if old.verdict_text != new.verdict_text
    ]


def _check_modules_in_use(session: Session, project_id: int, wish: HouseRules) -> None:
    """A module that links still have cannot be taken out of the project or renamed."""
    kept = {sheet.name for sheet in wish.own_modules}
    gone = {sheet.name for sheet in stored.project(session, project_id).house.own_modules} - kept
    if not gone:
        return
    for item in stored_links.links(session, project_id):
        for module in modules(item.link):
            for name in gone & {module.application, *module.also}:
                raise CatalogError(f"'{item.link.name}' has a {name}: exchange its modules first, then take it out")


@router.get("/projects/{project_id}/history")
def get_history(request: Request, project_id: RowId) -> list[HistoryOut]:
    """What was done, newest first."""
    with database_of(request).read() as session:
        stored.project(session, project_id)
        return [entry_view(entry) for entry in history.entries(session, project_id)]


@router.get("/projects/{project_id}/events")
def get_events(request: Request, project_id: RowId) -> list[EventOut]:
    """What was read in the project, newest first; also of links that were removed since."""
    with database_of(request).read() as session:
        numbers = stored_links.numbers(session, project_id)
        read = readings_by_link(of_project(session, project_id))
    told = [(event, why) for taken in read.values() for event, why in taken]
    told.sort(key=lambda pair: str(pair[0].at or ""), reverse=True)
    return [event_view(event, why, numbers.get(event.link)) for event, why in told]


@router.post("/projects/{project_id}/undo")
def undo(request: Request, project_id: RowId, entry: Seen) -> WalkOut:
    """Take back the newest change. 409 when there is none, or when it is not the one that the person saw."""
    return _walk(request, project_id, entry, forwards=False)


@router.post("/projects/{project_id}/redo")
def redo(request: Request, project_id: RowId, entry: Seen) -> WalkOut:
    """Make the change again that was undone last. 409 when there is none, or it is not the one that was seen."""
    return _walk(request, project_id, entry, forwards=True)


@router.post("/projects/{project_id}/history/{entry_id}/return")
def return_to(request: Request, project_id: RowId, entry_id: RowId, newest: Seen) -> WalkOut:
    """Bring back the state after an earlier entry, as a new entry. 409 when that entry is not in force, or when the
    newest one in force is not the one that the person saw.
    """
    with writing(request) as session:
        stored.project(session, project_id)
        entry = history.return_to(session, project_id, entry_id, newest)
        after = project_view(session, stored.project(session, project_id))
        return WalkOut(entry=entry_view(entry), show_link=_still_there(session, entry.link_id), project=after)


def _still_there(session: Session, link_id: int | None) -> int | None:
    """The number of a link, if the project still has it."""
    try:
        return None if link_id is None else stored_links.link(session, link_id).id
    except NotFoundError:
        return None


def _walk(request: Request, project_id: RowId, seen: int, *, forwards: bool) -> WalkOut:
    with writing(request) as session:
        stored.project(session, project_id)
        step = history.redo if forwards else history.undo
        entry = step(session, project_id, seen)
        after = project_view(session, stored.project(session, project_id))
        return WalkOut(entry=entry_view(entry), show_link=_still_there(session, entry.link_id), project=after)
