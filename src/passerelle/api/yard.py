"""Reels and their cuts, labels, panels, the day of pulling, and the link as it is built."""

from __future__ import annotations

from ipaddress import ip_address
from typing import Annotated, Literal
from urllib.parse import urlsplit

from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import BeforeValidator
from sqlalchemy.orm import Session

from passerelle.api.exchange import stamp_of, table_response
from passerelle.api.materials import as_file, bill_in, scope_in
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.materials import (
    BuildOut,
    KeyOut,
    LabelRequest,
    LabelsOut,
    ReelMove,
    ReelRequest,
    ReelsOut,
    TakeReels,
)
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of
from passerelle.core.errors import MaterialError
from passerelle.core.materials.asked import Scope, scope_of
from passerelle.core.materials.build import built
from passerelle.core.materials.cuts import ReelPlan, moved, reel_plans, sold_m, taken_rows
from passerelle.core.materials.day import DayPlan, day_plan
from passerelle.core.materials.labels import give_labels, labelled
from passerelle.core.materials.panels import PanelFront, panel_fronts
from passerelle.core.materials.schools import SchoolsOut, schools
from passerelle.core.plant.pulling import DEFAULT_FRICTION
from passerelle.core.plant.records import Reel
from passerelle.core.plant.site import Plant, free_id
from passerelle.core.units import typed_number
from passerelle.exchange.materials_out import (
    LABEL_HEAD,
    REEL_HEAD,
    LabelGrid,
    day_pdf,
    label_rows,
    labels_pdf,
    panels_pdf,
    reel_rows,
    reels_pdf,
)
from passerelle.exchange.sheets_pdf import Unit
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.keys import found_key

router = api_router("yard")
PDF = "application/pdf"


@router.get("/projects/{project_id}/reels")
def get_reels(request: Request, project_id: RowId) -> ReelsOut:
    """The reels of each kind of cable with their cuts: as they were planned, else as they buy least."""
    with database_of(request).read() as session:
        return _reels_out(session, project_id)


def _reels_out(session: Session, project_id: int) -> ReelsOut:
    bill, scope, _ = bill_in(session, project_id)
    return ReelsOut(
        plans=reel_plans(scope, bill),
        sold_m=sold_m(scope.house),
        least_useful_m=scope.house.least_useful_m,
        currency=scope.house.currency,
    )


@router.post("/projects/{project_id}/reels/take")
def take_reels(request: Request, project_id: RowId, wish: TakeReels) -> ReelsOut:
    """Keep the proposed cuts of a cable as the plan; with ``anew`` give the kept ones up. Undo brings them back."""
    with writing(request) as session:
        plan, plant = _plan(session, project_id, wish.line)
        if wish.anew:
            own = [reel for reel in plant.reels if reel.line == wish.line]
            kept = [reel.model_copy(update={"cuts": ()}) for reel in own if reel.on_hand or reel.state != "planned"]
            rows = (*(reel for reel in plant.reels if reel.line != wish.line), *kept)
        else:
            rows = taken_rows(plan, plant)
        _put_reels(session, project_id, plant, rows, f"cuts of {wish.line[:120]}")
        return _reels_out(session, project_id)


@router.post("/projects/{project_id}/reels/move")
def move_cut(request: Request, project_id: RowId, wish: ReelMove) -> ReelsOut:
    """Put a cut on another reel, or on none; the proposal becomes the plan with it."""
    with writing(request) as session:
        plan, plant = _plan(session, project_id, wish.line)
        rows = moved(plan, plant, wish.of, wish.section, wish.to)
        _put_reels(session, project_id, plant, rows, "move a cut")
        return _reels_out(session, project_id)


@router.put("/projects/{project_id}/reels")
def set_reel(request: Request, project_id: RowId, wish: ReelRequest) -> ReelsOut:
    """A reel by hand: one on hand, one more to buy, what its factory report says, or take one out."""
    with writing(request) as session:
        plant = stored.plant(session, project_id)
        known = next((reel for reel in plant.reels if reel.id == wish.row), None) if wish.row else None
        if wish.row and known is None:
            raise MaterialError("row", f"there is no reel '{wish.row}': reload the page")
        others = [reel for reel in plant.reels if reel is not known]
        if wish.remove:
            rows = tuple(others)
        else:
            made = _reel(wish, known, plant)
            rows = tuple(made if reel is known else reel for reel in plant.reels) if known else (*others, made)
        _put_reels(session, project_id, plant, rows, f"reel {wish.name}")
        return _reels_out(session, project_id)


def _reel(wish: ReelRequest, known: Reel | None, plant: Plant) -> Reel:
    values = wish.model_dump(exclude={"row", "remove"})
    if wish.delivered_m is not None:
        values["state"] = "delivered"
    if known is not None:
        return Reel.model_validate({**known.model_dump(), **values})
    return Reel(id=free_id("reel", {reel.id for reel in plant.reels}), **values)


def _plan(session: Session, project_id: int, line: str) -> tuple[ReelPlan, Plant]:
    bill, scope, _ = bill_in(session, project_id)
    plan = next((plan for plan in reel_plans(scope, bill) if plan.line == line), None)
    if plan is None:
        raise MaterialError("line", "no cable of this kind is cut from a reel: reload the page")
    return plan, scope.plant


def _put_reels(session: Session, project_id: int, plant: Plant, rows: tuple[Reel, ...], label: str) -> None:
    revision = stored.plant_revision(session, project_id)
    stored.set_plant(session, project_id, revision, plant.changed(reels=rows), label)


@router.get("/projects/{project_id}/reels.{kind}", response_class=Response)
def download_reels(
    request: Request, project_id: RowId, kind: Literal["csv", "xlsx", "pdf", "json"], unit: Unit = "m"
) -> Response:
    """The cuts as a table, a sheet, or JSON."""
    with database_of(request).read() as session:
        told, stamp = _reels_out(session, project_id), stamp_of(session, project_id)
    if kind in ("csv", "xlsx"):
        return table_response("reels", project_id, kind, REEL_HEAD, reel_rows(told.plans))
    if kind == "json":
        return as_file(told.model_dump_json(indent=1), "application/json", f"reels-{project_id}.json")
    return as_file(reels_pdf(told.plans, unit, stamp), PDF, f"reels-{project_id}.pdf")


@router.get("/projects/{project_id}/labels")
def get_labels(request: Request, project_id: RowId, place: str = "") -> LabelsOut:
    """All that carries a label, of one place or of all, with those that were given."""
    with database_of(request).read() as session:
        scope, _ = scope_in(session, project_id)
    return _labels_out(request, scope, place)


def _labels_out(request: Request, scope: Scope, place: str = "") -> LabelsOut:
    found = labelled(scope)
    base = _base(request, scope)
    return LabelsOut(
        labels=tuple(one for one in found if not place or place in one.places),
        places=tuple(sorted({name for one in found for name in one.places if name})),
        base_address=base,
        loopback=_is_loopback(base),
    )


def _base(request: Request, scope: Scope) -> str:
    """Where this installation is reached: what the house says, else the address by which it was asked."""
    return (scope.house.base_address or str(request.base_url)).rstrip("/")


def _is_loopback(address: str) -> bool:
    host = urlsplit(address).hostname or ""
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host in ("localhost", "testserver")


@router.post("/projects/{project_id}/labels")
def put_labels(request: Request, project_id: RowId, wish: LabelRequest) -> LabelsOut:
    """Give an identifier to all that has none, or to some by their keys: one entry of the log."""
    with writing(request) as session:
        scope, _ = scope_in(session, project_id)
        new = give_labels(scope, wish.keys)
        if new:
            plant, revision = scope.plant, stored.plant_revision(session, project_id)
            changed = plant.changed(labels=(*plant.labels, *new))
            stored.set_plant(session, project_id, revision, changed, f"{len(new)} labels")
            scope, _ = scope_in(session, project_id)
    return _labels_out(request, scope)


@router.get("/projects/{project_id}/labels.{kind}", response_class=Response)
def download_labels(
    request: Request,
    project_id: RowId,
    kind: Literal["csv", "xlsx", "pdf", "json"],
    grid: Annotated[LabelGrid, Query()],
) -> Response:
    """Labels as sheets with a grid of one's own, as a table for a printer's program, or as JSON."""
    with database_of(request).read() as session:
        scope, _ = scope_in(session, project_id)
    found = [one for one in labelled(scope) if not grid.place or grid.place in one.places]
    base = _base(request, scope)
    if kind in ("csv", "xlsx"):
        return table_response("labels", project_id, kind, LABEL_HEAD, label_rows(found, base))
    if kind == "json":
        told = _labels_out(request, scope, grid.place)
        return as_file(told.model_dump_json(indent=1), "application/json", f"labels-{project_id}.json")
    return as_file(labels_pdf(found, base, grid), PDF, f"labels-{project_id}.pdf")


@router.get("/projects/{project_id}/panels")
def get_panels(request: Request, project_id: RowId, place: str = "") -> list[PanelFront]:
    """The fronts of panels: each port with its label, the strands behind it, and where it leads."""
    with database_of(request).read() as session:
        scope, _ = scope_in(session, project_id)
    return list(panel_fronts(scope, place))


@router.get("/projects/{project_id}/panels.pdf", response_class=Response)
def download_panels(request: Request, project_id: RowId, place: str = "") -> Response:
    """The fronts of panels as a sheet."""
    with database_of(request).read() as session:
        scope, _ = scope_in(session, project_id)
        stamp = stamp_of(session, project_id, place)
    return as_file(panels_pdf(panel_fronts(scope, place), stamp), PDF, "panels.pdf")


@router.get("/projects/{project_id}/pull-day")
def get_day(
    request: Request,
    project_id: RowId,
    cable: Annotated[list[str] | None, Query(max_length=100)] = None,
    friction: Annotated[float, BeforeValidator(typed_number), Query(ge=0, le=2)] = DEFAULT_FRICTION,
) -> DayPlan:
    """A day of pulling: these cables, or all that are still to be pulled."""
    with database_of(request).read() as session:
        return day_plan(stored.plant(session, project_id), cable or (), friction)


@router.get("/projects/{project_id}/pull-day.pdf", response_class=Response)
def download_day(
    request: Request,
    project_id: RowId,
    cable: Annotated[list[str] | None, Query(max_length=100)] = None,
    friction: Annotated[float, BeforeValidator(typed_number), Query(ge=0, le=2)] = DEFAULT_FRICTION,
    unit: Unit = "m",
) -> Response:
    """The plan of a day of pulling as a sheet."""
    with database_of(request).read() as session:
        plan = day_plan(stored.plant(session, project_id), cable or (), friction)
        stamp = stamp_of(session, project_id)
    return as_file(day_pdf(plan, unit, stamp), PDF, "pull-day.pdf")


@router.get("/links/{link_id}/build")
def get_build(request: Request, link_id: RowId) -> BuildOut:
    """A link as it is built: length with slack, state, label, and what is bought for each piece."""
    scope, number = _one(request, link_id)
    return BuildOut(pieces=built(number, scope.links[0][1], scope))


@router.get("/links/{link_id}/schools")
def get_schools(request: Request, link_id: RowId) -> SchoolsOut:
    """Three ways to make the ends of a link's run, side by side."""
    scope, number = _one(request, link_id)
    return schools(number, scope.links[0][1], scope)


def _one(request: Request, link_id: int) -> tuple[Scope, int]:
    """A scope of one link on its plan."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        house = stored.project(session, item.project_id).house
        plant = stored.plant(session, item.project_id)
    return scope_of([(item.id, item.link)], plant, house, catalog_of(house)), item.id


@router.get("/keys/{key}")
def open_key(request: Request, key: str) -> KeyOut:
    """What a permanent key is, as the code on a label says it. 404 where nothing has it any more."""
    with database_of(request).read() as session:
        found = found_key(session, key)
    return KeyOut(project=found.project, link=found.link, element=found.element, shelf=found.shelf, row=found.row)
