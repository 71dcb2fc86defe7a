"""The plant of a project: places, ways, cables; how its strands are used; what one cut takes down."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from itertools import combinations
from typing import Annotated

from fastapi import Query, Request
from fastapi.responses import Response
from pydantic import BeforeValidator
from sqlalchemy.orm import Session

from passerelle.api.riding import riders_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId, VerdictChange
from passerelle.api.schemas.links import LinkOut
from passerelle.api.schemas.plant import (
    CableRow,
    LayRequest,
    LinkPath,
    PlantOut,
    PlantRequest,
    SharedOut,
    ShareRequest,
    WayRow,
)
from passerelle.api.state import database_of, writing
from passerelle.api.views import link_view
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import PlantError
from passerelle.core.house import HouseRules
from passerelle.core.kept import Kept
from passerelle.core.link.chain import Link, called, place_at
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.registry import Element
from passerelle.core.plant.cautions import cautions
from passerelle.core.plant.lying import lies, own_strands
from passerelle.core.plant.outages import Rider, outages, parts_of, shared
from passerelle.core.plant.pull_sheet import PullSheet, pull_sheet
from passerelle.core.plant.pulling import DEFAULT_FRICTION, duct_fill
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.riders import (
    OFF,
    StrandRow,
    cable_uses,
    free_strands,
    strand_map,
    taken,
    uses_of,
)
from passerelle.core.plant.shared import on_part, shared_from, shared_uses
from passerelle.core.plant.site import Plant, cable_length_m, check_plant_names
from passerelle.core.plant.strips import strip_plan
from passerelle.core.units import typed_number
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.stored import StoredLink

router = api_router("plant")
MOST_SIDE_BY_SIDE = 30  # of more links between the same two places not every pair is compared


@router.get("/projects/{project_id}/plant", response_model=PlantOut)
def get_plant(request: Request, project_id: RowId) -> Response:
    """The plant with the use of its strands, the fill of its ducts and the outage of every cut."""
    with database_of(request).read() as session:
        shown = plant_json(session, project_id)
    return Response(shown, media_type="application/json")


@router.put("/projects/{project_id}/plant", response_model=PlantOut)
def set_plant(request: Request, project_id: RowId, wish: PlantRequest) -> Response:
    """Change the plant and every link that rides on it, as one entry. 409 when it was changed meanwhile."""
    check_plant_names(wish.plant, load_catalog())
    with writing(request) as session:
        moved = stored.set_plant(session, project_id, wish.revision, wish.plant, wish.label or "plant")
        house = stored.project(session, project_id).house
        shown = plant_view(session, project_id)
    shown = shown.model_copy(update={"moved": _verdicts(moved, house)})
    return Response(shown.model_dump_json(), media_type="application/json")


def _verdicts(moved: list[tuple[int, Link, Link]], house: HouseRules) -> tuple[VerdictChange, ...]:
    """The links that a change of the plant moved, with their verdicts before and after."""
    old = figures_of([before for _, before, _ in moved], load_catalog(), house)
    new = figures_of([after for _, _, after in moved], load_catalog(), house)
    return tuple(
        VerdictChange(id=number, name=link.name, before=was.verdict_text, after=now.verdict_text)
        for (number, link, _), was, now in zip(moved, old, new, strict=True)
    )


@router.get("/projects/{project_id}/plant/pull")
def get_pull_sheet(
    request: Request,
    project_id: RowId,
    cable: Annotated[list[str], Query(min_length=1, max_length=50)],
    friction: Annotated[float, BeforeValidator(typed_number), Query(ge=0, le=2)] = DEFAULT_FRICTION,
) -> PullSheet:
    """The pull of one cable, or of a bundle: tension from both ends, bends, in how many pulls, what to mind."""
    with database_of(request).read() as session:
        return pull_sheet(stored.plant(session, project_id), cable, friction)


@router.get("/projects/{project_id}/plant/strands")
def get_strands(request: Request, project_id: RowId, cable: str) -> list[StrandRow]:
    """The strands of one cable by tube and color, with what each carries."""
    with database_of(request).read() as session:
        plant = stored.plant(session, project_id)
        links = riders_of(session, project_id)
    if cable not in plant.cable_of:
        raise PlantError("cable", f"there is no cable '{cable}'")
    colors = load_catalog().marks.strands
    return list(strand_map(plant.cable_of[cable], cable_uses(plant, links)[cable], colors))


@router.post("/links/{link_id}/lay")
def lay_link(request: Request, link_id: RowId, wish: LayRequest) -> LinkOut:
    """Put a piece of a link on a shared part, a run on the lowest free strands of a cable; or take it off."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        piece = _piece(item, wish.element)
        plant = stored.plant(session, item.project_id)
        others = [o.link for o in stored_links.links_on(session, item.project_id, [wish.part]) if o.id != link_id]
        values = _ride(wish, item.link, piece, plant, others) if wish.part else OFF
        after = apply_edits(item.link, (SetFields(element=piece.id, values=dict(values)),))
        where = f"lay on {wish.part}" if wish.part else f"take {called(item.link, piece)} off {piece.part}"
        made = stored_links.change_link(session, link_id, wish.revision, after, f"{item.link.name}: {where}")
        return link_view(session, made)


def _piece(item: StoredLink, element: str) -> Element:
    try:
        return item.link.element(element)
    except KeyError:
        raise PlantError("element", f"'{item.link.name}' has no piece '{element}': reload the link") from None


def _ride(wish: LayRequest, link: Link, piece: Element, plant: Plant, others: list[Link]) -> Mapping[str, object]:
    """The fields that put a piece on the part that is wished."""
    if not lies(piece):
        used = {number for part, number in taken(others) if part == wish.part}
        return on_part(piece, plant, wish.part, wish.positions, used)
    tap = next((t for t in plant.taps_of.get(wish.part, ()) if t.id == wish.tap), None)
    if wish.tap and tap is None:
        raise PlantError("tap", f"'{wish.part}' has no tap '{wish.tap}'")
    return {
        "part": wish.part,
        "positions": own_strands(link, piece) or free_strands(plant, others, wish.part, piece.width, tap),
    } | _as_it_lies(piece, wish.part, others)


def _as_it_lies(piece: Element, part: str, others: list[Link]) -> dict[str, object]:
    """What an array trunk is, where another link has it already: there is one trunk, and one truth about it."""
    if not isinstance(piece, Trunk):
        return {}
    there = next((e for o in others for e in o.elements if isinstance(e, Trunk) and e.part == part), None)
    names = ("wiring", "array", "polish", "left_pins", "right_pins")
    return {name: getattr(there, name) for name in names} if there else {}


@router.post("/links/{link_id}/share")
def share_piece(request: Request, link_id: RowId, wish: ShareRequest) -> LinkOut:
    """Make a piece of a link a shared part of the plan, on whose first position it stands: one entry."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        piece = _piece(item, wish.element)
        plant = stored.plant(session, item.project_id)
        after, part = shared_from(piece, plant, wish.name, place_at(item.link, piece), wish.count)
        values = on_part(piece, after, part, (), set())
        link = apply_edits(item.link, (SetFields(element=piece.id, values=values),))
        label = f"{item.link.name}: share {called(item.link, piece)} as {wish.name}"
        made = stored_links.replace_link(session, link_id, wish.revision, [link], label, plant_after=after)
        return link_view(session, made)


_SHOWN: Kept[bytes] = Kept(48)


def plant_json(session: Session, project_id: int) -> bytes:
    """The plant with all that follows from it as JSON, kept while neither it nor what rides on it changes."""
    seen = (stored.plant_revision(session, project_id), tuple(riders_of(session, project_id)))
    key = session.connection().engine.pool, project_id, seen
    return _SHOWN.get(key, lambda: plant_view(session, project_id).model_dump_json().encode())


def plant_view(session: Session, project_id: int) -> PlantOut:
    """The plant of a project with all that follows from it."""
    plant = stored.plant(session, project_id)
    riders = riders_of(session, project_id)
    on = taken(riders)
    uses = uses_of(plant, on)
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
        shared=shared_uses(plant, on),
    )


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
