"""The plant of a project: places, ways, cables; how its strands are used; what one cut takes down."""

from __future__ import annotations

from collections import defaultdict
from itertools import combinations
from typing import Annotated

from fastapi import APIRouter, Query, Request
from sqlalchemy.orm import Session

from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.schemas import (
    CableRow,
    LayRequest,
    LinkOut,
    LinkPath,
    PlantOut,
    PlantRequest,
    RowId,
    SharedOut,
    WayRow,
)
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of, link_view
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.errors import PlantError
from passerelle.core.link.chain import modules, ports
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.cautions import cautions
from passerelle.core.plant.outages import Rider, outages, parts_of, shared
from passerelle.core.plant.pull_sheet import PullSheet, pull_sheet
from passerelle.core.plant.pulling import DEFAULT_FRICTION, duct_fill
from passerelle.core.plant.riders import StrandRow, cable_uses, cables_of, free_strands, strand_map
from passerelle.core.plant.site import Cable, Plant, Way, cable_length_m, check_plant_names
from passerelle.core.plant.strips import strip_plan
from passerelle.store import projects as stored
from passerelle.store.projects import StoredLink

router = APIRouter(tags=["plant"], responses=PROBLEM_RESPONSES)
MOST_SIDE_BY_SIDE = 30  # of more links between the same two places not every pair is compared


@router.get("/projects/{project_id}/plant")
def get_plant(request: Request, project_id: RowId) -> PlantOut:
    """The plant with the use of its strands, the fill of its ducts and the outage of every cut."""
    with database_of(request).read() as session:
        return plant_view(session, project_id)


@router.put("/projects/{project_id}/plant")
def set_plant(request: Request, project_id: RowId, wish: PlantRequest) -> PlantOut:
    """Change the plant and every link that rides on it, as one entry. 409 when it was changed meanwhile."""
    check_plant_names(wish.plant, load_catalog())
    with writing(request) as session:
        stored.set_plant(session, project_id, wish.revision, wish.plant, wish.label or "plant")
        return plant_view(session, project_id)


@router.get("/projects/{project_id}/plant/pull")
def get_pull_sheet(
    request: Request,
    project_id: RowId,
    cable: Annotated[list[str], Query(min_length=1, max_length=50)],
    friction: Annotated[float, Query(ge=0, le=2)] = DEFAULT_FRICTION,
) -> PullSheet:
    """The pull of one cable, or of a bundle: tension from both ends, bends, in how many pulls, what to mind."""
    with database_of(request).read() as session:
        return pull_sheet(stored.plant(session, project_id), cable, friction)


@router.get("/projects/{project_id}/plant/strands")
def get_strands(request: Request, project_id: RowId, cable: str) -> list[StrandRow]:
    """The strands of one cable by tube and color, with what each carries."""
    with database_of(request).read() as session:
        plant = stored.plant(session, project_id)
        links = [item.link for item in stored.links(session, project_id)]
    if cable not in plant.cable_of:
        raise PlantError("cable", f"there is no cable '{cable}'")
    colors = load_catalog().marks.strands
    return list(strand_map(plant.cable_of[cable], cable_uses(plant, links)[cable], colors))


@router.post("/links/{link_id}/lay")
def lay_link(request: Request, link_id: RowId, wish: LayRequest) -> LinkOut:
    """Put a run of a link on the lowest free strands of a cable, or take it off with an empty cable."""
    with writing(request) as session:
        item = stored.link(session, link_id)
        run = next((e for e in item.link.elements if e.id == wish.element), None)
        if not isinstance(run, Run):
            raise PlantError("element", f"'{item.link.name}' has no run '{wish.element}'")
        numbers: tuple[int, ...] = ()
        if wish.cable:
            plant = stored.plant(session, item.project_id)
            others = [other.link for other in stored.links(session, item.project_id) if other.id != link_id]
            tap = next((t for t in plant.taps_of.get(wish.cable, ()) if t.id == wish.tap), None)
            if wish.tap and tap is None:
                raise PlantError("tap", f"'{wish.cable}' has no tap '{wish.tap}'")
            numbers = free_strands(plant, others, wish.cable, run.strands, tap)
        values = {"cable": wish.cable, "strand_numbers": numbers}
        after = apply_edits(item.link, (SetFields(element=run.id, values=values),))
        where = f"lay on {wish.cable}" if wish.cable else "take off its cable"
        made = stored.change_link(session, link_id, wish.revision, after, f"{item.link.name}: {where}")
        return link_view(session, made)


def plant_view(session: Session, project_id: int) -> PlantOut:
    """The plant of a project with all that follows from it."""
    plant = stored.plant(session, project_id)
    items = stored.links(session, project_id)
    uses = cable_uses(plant, (item.link for item in items))
    shown = catalog_of(stored.project(session, project_id).house)
    riders = [rider_of(item, shown) for item in items]
    laid = [rider for rider in riders if rider.cables]
    return PlantOut(
        revision=stored.plant_revision(session, project_id),
        plant=plant,
        ways=tuple(_way_row(way, plant.cables_in[way.id]) for way in plant.ways),
        cables=tuple(
            CableRow(id=cable.id, length_m=cable_length_m(cable, plant), use=uses[cable.id])
            for cable in plant.cables
        ),
        outages=tuple(outages(plant, riders)),
        pairs=tuple(_pairs(laid, plant)),
        paths=tuple(
            LinkPath(link=r.id, ways=tuple(name for kind, name in parts_of(r, plant) if kind == "way"))
            for r in laid
        ),
        strips=strip_plan(plant),
        cautions={way.id: cautions([way]) for way in plant.ways},
    )


def rider_of(item: StoredLink, catalog: Catalog) -> Rider:
    """A stored link as the plant sees it; the catalog is that of its project."""
    ends = [port.place for port in ports(item.link)]
    rates = [catalog.application(m.application).rate_mbps for m in modules(item.link)]
    near, far = (ends[0], ends[-1]) if ends else ("", "")
    cables = cables_of(item.link)
    runs = {e.cable: e.strand_numbers for e in item.link.elements if isinstance(e, Run) and e.cable}
    strands = tuple(runs[cable] for cable in cables)
    return Rider(item.id, item.link.name, near, far, min(rates, default=0), cables, strands)


def _way_row(way: Way, inside: tuple[Cable, ...]) -> WayRow:
    measured = [cable.diameter_mm for cable in inside if cable.diameter_mm is not None]
    fill = duct_fill(measured, way.bore_mm, with_power=way.power_conductors) if way.bore_mm and measured else None
    metal = tuple(cable.id for cable in inside if cable.metal)
    return WayRow(
        id=way.id,
        cables=tuple(cable.id for cable in inside),
        fill=fill,
        unmeasured=len(inside) - len(measured),
        metal_by_power=metal if way.power_conductors else (),
    )


def _pairs(riders: list[Rider], plant: Plant) -> list[SharedOut]:
    """Links between the same ends on different cables, and what they share; of equal ones the first."""
    between: dict[frozenset[str], dict[tuple[str, ...], Rider]] = defaultdict(dict)
    for rider in riders:
        between[frozenset({rider.near, rider.far})].setdefault(rider.cables, rider)
    return [
        SharedOut(first=first.id, second=second.id, shared=shared(first, second, plant))
        for by_cables in between.values()
        for first, second in combinations(list(by_cables.values())[:MOST_SIDE_BY_SIDE], 2)
    ]
