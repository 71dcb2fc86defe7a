"""The layout stage: routes, diverse pairs, cures, layouts, capacity, sheets, power at the far end."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query, Request
from pydantic import BeforeValidator
from sqlalchemy.orm import Session

from passerelle.api.plant import plant_view
from passerelle.api.riding import riders_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId, RowNumber
from passerelle.api.schemas.plant import PlantOut, RouteRequest
from passerelle.api.state import database_of, writing
from passerelle.api.views import prices_of
from passerelle.core.catalog.plant_figures import PlantFigures, plant_figures
from passerelle.core.catalog.prices import work_prices
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import PlantError
from passerelle.core.plant.bending import BendLoss, bend_loss
from passerelle.core.plant.capacity import Capacity, capacity
from passerelle.core.plant.closures import ClosureSheet, closure_sheet
from passerelle.core.plant.diversity import Cure, DiversePair, cures, diverse_pair
from passerelle.core.plant.layouts import Layouts, compare_layouts
from passerelle.core.plant.outages import ElementKind, Rider, outage_of
from passerelle.core.plant.remote_power import Feed, FeedAnswer, SwitchPower, feeds, switch_power
from passerelle.core.plant.riders import cable_uses
from passerelle.core.plant.routing import Aim, Ground, Route, built, diverse_ground, route, routes
from passerelle.core.plant.scope_sheet import ScopeSheet, scope_sheet
from passerelle.core.plant.site import Plant
from passerelle.core.plant.wiring import device_pairs
from passerelle.core.units import parse_length, typed_number
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.stored import NotFoundError

router = api_router("layout")


@router.get("/plant-figures")
def get_plant_figures() -> PlantFigures:
    """The figures of ducts, pulls, bends, copper and prices, each with its source."""
    return plant_figures()


@router.get("/projects/{project_id}/plant/routes")
def get_routes(
    request: Request,
    project_id: RowId,
    start: str,
    end: str,
    strands: Annotated[int, Query(ge=1, le=6912)] = 2,
    grade: str = "OS2",
    apart_from: Annotated[list[RowNumber] | None, Query(max_length=20)] = None,
    new_ways: bool = False,
) -> list[Route]:
    """The routes between two places: least work, shortest, cheapest; apart from some links where they are named."""
    with database_of(request).read() as session:
        ground = _ground(session, project_id, strands, grade, tuple(apart_from or ()), new_ways)
    return routes(ground, start, end)


@router.post("/projects/{project_id}/plant/routes/build")
def build_route(request: Request, project_id: RowId, wish: RouteRequest) -> PlantOut:
    """Put what a route asks for on the plant, as planned, in one entry. 409 when it was changed meanwhile."""
    with writing(request) as session:
        ground = _ground(session, project_id, 2, wish.grade, wish.apart_from, wish.new_ways)
        found = route(ground, wish.start, wish.end, wish.aim)
        if found is None:
            raise PlantError("end", f"no way leads from {wish.start} to {wish.end}")
        after = built(ground.plant, found, wish.name, wish.strands, wish.grade)
        stored.set_plant(session, project_id, wish.revision, after, f"plan {wish.name}: {_aim(wish.aim)}")
        return plant_view(session, project_id)


@router.get("/projects/{project_id}/plant/diverse-pair")
def get_diverse_pair(request: Request, project_id: RowId, start: str, end: str) -> DiversePair | None:
    """The shortest two ways between two places that nothing takes together; null where there are none."""
    with database_of(request).read() as session:
        return diverse_pair(stored.plant(session, project_id), start, end)


@router.get("/projects/{project_id}/plant/cures")
def get_cures(request: Request, project_id: RowId, kind: ElementKind, id: str) -> list[Cure]:
    """For each end that one element leaves dark: the cheapest route that spares the element."""
    with database_of(request).read() as session:
        ground = _ground(session, project_id, 2, "", (), new_ways=True)
        riders = riders_of(session, project_id)
    return list(cures(ground, outage_of((kind, id), ground.plant, riders), riders))


@router.get("/projects/{project_id}/plant/layouts")
def get_layouts(
    request: Request,
    project_id: RowId,
    core: str,
    place: Annotated[list[str] | None, Query(max_length=200)] = None,
    strands: Annotated[Literal["1", "2"], Query()] = "2",
) -> Layouts:
    """Star, tapped chain, ring and tree for some places, or for all where devices hang."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        plant = stored.plant(session, project_id)
    return compare_layouts(
        plant,
        core,
        place or [],
        load_catalog(),
        house.strand_spares_percent,
        strands=1 if strands == "1" else 2,
        listed=prices_of(house),
    )


@router.get("/projects/{project_id}/plant/capacity")
def get_capacity(
    request: Request,
    project_id: RowId,
    growth: Annotated[
        float, BeforeValidator(typed_number), Query(ge=0, le=200)
    ] = plant_figures().growth.percent_a_year,
    years: Annotated[int, Query(ge=0, le=50)] = plant_figures().growth.years,
) -> Capacity:
    """Strands used, promised and spare, what to pull now for some years of growth, and when ducts are full."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        plant, links = _plant_and_riders(session, project_id)
    return capacity(plant, cable_uses(plant, links), growth, years, house.strand_spares_percent)


@router.get("/projects/{project_id}/plant/closure")
def get_closure(request: Request, project_id: RowId, place: str) -> ClosureSheet:
    """What is done with each strand of each cable at one place."""
    with database_of(request).read() as session:
        plant, links = stored.plant(session, project_id), [o.link for o in stored_links.links(session, project_id)]
    return closure_sheet(plant, links, place, load_catalog().marks.strands)


@router.get("/projects/{project_id}/plant/scope")
def get_scope(
    request: Request, project_id: RowId, cable: Annotated[list[str] | None, Query(max_length=200)] = None
) -> ScopeSheet:
    """The scope for a contractor: some cables, or all that are planned."""
    with database_of(request).read() as session:
        return scope_sheet(stored.plant(session, project_id), cable or ())


@router.get("/projects/{project_id}/plant/switch-power")
def get_switch_power(
    request: Request, project_id: RowId, budget_w: Annotated[float | None, Query(ge=0, le=1e6)] = None
) -> dict[str, SwitchPower]:
    """The devices that each switch feeds over twisted pair and their draw against a budget, by its place."""
    with database_of(request).read() as session:
        plant = stored.plant(session, project_id)
    names = {place.id: place.name for place in plant.places}
    return {switch: switch_power(devices, budget_w, names=names) for switch, devices in device_pairs(plant).items()}


@router.post("/remote-power")
def get_remote_power(feed: Feed) -> FeedAnswer:
    """A device fed over two conductors: what arrives over each size, and how far each reaches."""
    return FeedAnswer(feed=feed, rows=tuple(feeds(feed)))


@router.get("/bend-loss")
def get_bend_loss(
    radius_mm: Annotated[float, Query(gt=0, le=10_000)], grade: Annotated[list[str] | None, Query()] = None
) -> list[BendLoss]:
    """What one turn of a radius costs, for some grades or for all."""
    return [bend_loss(name, radius_mm) for name in grade or load_catalog().fibers]


@router.get("/length")
def get_length(text: Annotated[str, Query(max_length=60)]) -> float:
    """A length as it was typed, such as ``1250 ft``, in meters; for what is only looked up and not stored."""
    return parse_length(text)


def _plant_and_riders(session: Session, project_id: int) -> tuple[Plant, list[Rider]]:
    return stored.plant(session, project_id), riders_of(session, project_id)


def _ground(
    session: Session, project_id: int, strands: int, grade: str, apart_from: tuple[int, ...], new_ways: bool
) -> Ground:
    """What routes are searched in; strands may be of any grade of the family of ``grade``, or of any at all."""
    catalog = load_catalog()
    plant, links = _plant_and_riders(session, project_id)
    family = catalog.fiber(grade).family if grade else None
    grades = frozenset(name for name, fiber in catalog.fibers.items() if fiber.family == family)
    ground = Ground(
        plant,
        cable_uses(plant, links),
        strands,
        new_ways=new_ways,
        grades=grades if family else None,
        prices=work_prices(prices_of(stored.project(session, project_id).house)),
    )
    if not apart_from:
        return ground
    riders = [rider for rider in riders_of(session, project_id) if rider.id in apart_from]
    if len(riders) < len(set(apart_from)):
        raise NotFoundError("a link that the route should stay apart from is not in this project")
    return diverse_ground(ground, riders)


def _aim(aim: Aim) -> str:
    return f"{aim} route"
