"""Turn-up of links: steps that are ticked, ports that are read or typed, which port of which box an end is."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import Request, status

from passerelle.api.boxes import wanted_of
from passerelle.api.live import live_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import (
    ModuleOut,
    ModuleWish,
    PortOfBox,
    PortWish,
    ReadWish,
    StepWish,
    TurnUpLink,
    TurnUpOut,
    TurnUpsOut,
)
from passerelle.api.state import database_of, writing
from passerelle.api.turning import live_events, neighbors, of_link, turnup_out, warned, with_live
from passerelle.api.views import catalog_of, figures
from passerelle.core.errors import TurnUpError
from passerelle.core.events import Event
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import place_at
from passerelle.core.plant.records import Box, BoxPort
from passerelle.core.plant.site import Plant
from passerelle.core.turned_up import Logged, PortSeen
from passerelle.core.turnup.compared import module_differences
from passerelle.core.turnup.handover import turn_up
from passerelle.core.turnup.module_memory import read_module
from passerelle.core.turnup.module_pages import pages_from
from passerelle.core.turnup.plan_network import at_boxes
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import put_records
from passerelle.store.stored import StoredLink

router = api_router("turn-up", asks_devices=True)


@router.get("/links/{link_id}/turnup")
def get_turnup(request: Request, link_id: RowId) -> TurnUpOut:
    """A link at turn-up, with what its boxes said last."""
    with database_of(request).read() as session:
        return turnup_out(request, session, stored_links.link(session, link_id))


@router.post("/links/{link_id}/turnup/read")
def read_turnup(request: Request, link_id: RowId, wish: ReadWish) -> TurnUpOut:
    """Read both ends from their boxes; what was read is written down only where that is asked."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        plant = stored.plant(session, item.project_id)
        at = at_boxes(item.link, plant.boxes)
        rows = tuple({one.box.id: one.box for one in at.values()}.values())
        wanted = wanted_of(request, session, item.project_id, rows)
    live_of(request).read(wanted)
    if not wish.write_down:
        return get_turnup(request, link_id)
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        stamp = events.stamp(session)
        by = wish.by.model_dump()
        seen = [
            one.model_copy(update={"key": stamp.key(), "who": stamp.who, **by})
            for one in live_events(request, item.link, stored.plant(session, item.project_id))
            if isinstance(one, PortSeen)
        ]
        if not seen:
            raise TurnUpError("boxes", "no box of this link answered: type what its ports show")
        put_records(session, item.project_id, seen, f"{item.link.name}: ports as they were read", item.id)
        return turnup_out(request, session, item)


@router.post("/links/{link_id}/turnup/ports", status_code=status.HTTP_201_CREATED)
def put_port(request: Request, link_id: RowId, wish: PortWish) -> TurnUpOut:
    """Write down what a port showed."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        if len({lane.lane for lane in wish.lanes}) != len(wish.lanes):
            raise TurnUpError("lanes", "a lane stands twice: each has one reading")
        at = at_boxes(item.link, stored.plant(session, item.project_id).boxes).get(wish.end)
        stamp = events.stamp(session)
        record = PortSeen(
            **wish.model_dump(),
            **of_link(item, stamp),
            by="typed",
            box=at.box.name if at else "",
            port=at.port.name if at else "",
        )
        put_records(
            session, item.project_id, [record], f"{item.link.name}: the port at the {wish.end} end", item.id
        )
        return turnup_out(request, session, item)


@router.put("/links/{link_id}/turnup/box")
def put_port_of_box(request: Request, link_id: RowId, wish: PortOfBox) -> TurnUpOut:
    """Say which port of which box an end of a link is."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        if not item.link.elements:
            raise TurnUpError("end", "the link has no piece yet: draw its port first")
        plant = stored.plant(session, item.project_id)
        key = (item.link.elements[0] if wish.end == "left" else item.link.elements[-1]).key
        rows = tuple(_without(box, key) for box in plant.boxes)
        if wish.box:
            if wish.box not in {box.id for box in rows}:
                raise TurnUpError("box", f"there is no box '{wish.box}': add it on the page of boxes")
            if not wish.port.strip():
                raise TurnUpError("port", "the name of the port is missing: as the box calls it, such as 1/49")
            rows = tuple(_with(box, wish, key) if box.id == wish.box else box for box in rows)
        revision = stored.plant_revision(session, item.project_id)
        label = f"{item.link.name}: {wish.end} end at {wish.box or 'no box'} {wish.port}".strip()
        stored.set_plant(session, item.project_id, revision, plant.changed(boxes=rows), label)
        return turnup_out(request, session, stored_links.link(session, link_id))


def _without(box: Box, key: str) -> Box:
    kept = tuple(port for port in box.ports if port.of != key)
    return box if len(kept) == len(box.ports) else box.model_copy(update={"ports": kept})


def _with(box: Box, wish: PortOfBox, key: str) -> Box:
    name = wish.port.strip()
    taken = next((port for port in box.ports if port.name == name), None)
    if taken is not None:
        raise TurnUpError("port", f"port {name} of {box.name} carries another link: choose a free one")
    return box.model_copy(update={"ports": (*box.ports, BoxPort(name=name, of=key, group=wish.group))})


@router.post("/links/{link_id}/turnup/steps", status_code=status.HTTP_201_CREATED)
def tick(request: Request, link_id: RowId, wish: StepWish) -> TurnUpOut:
    """Tick a step and those like it at once, or say that they are not done after all."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        stamp = events.stamp(session)
        said = wish.model_dump(exclude={"step", "also"})
        steps = tuple(dict.fromkeys((wish.step, *wish.also)))
        records = [Logged(**said, step=step, **of_link(item, stamp), about="step") for step in steps]
        told = "done" if wish.done else "not done"
        words = wish.step if len(steps) == 1 else f"{len(steps)} steps"
        put_records(session, item.project_id, records, f"{item.link.name}: {words}, {told}"[:300], item.id)
        return turnup_out(request, session, item)


@router.get("/projects/{project_id}/turnups")
def get_turnups(request: Request, project_id: RowId) -> TurnUpsOut:
    """How far the turn-up of each link is, and what the network says before anything is plugged."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        plant = stored.plant(session, project_id)
        items = stored_links.links(session, project_id)
        happened = events.of_project(session, project_id)
    by_link: dict[str, list[Event]] = {}
    for event in happened:
        by_link.setdefault(getattr(event, "link", ""), []).append(event)
    gone = [event for event in happened if event.kind == "withdrawal"]
    told = [_far(request, item, [*by_link.get(item.link.key, []), *gone], plant, house) for item in items]
    warnings = warned([item.link for item in items], plant, house)
    dark = sum(1 for one in told if one.state == "dark")
    return TurnUpsOut(links=tuple(told), dark=dark, warnings=warnings)


def _far(
    request: Request, item: StoredLink, happened: Sequence[Event], plant: Plant, house: HouseRules
) -> TurnUpLink:
    found = figures(item.link, house)
    at = at_boxes(item.link, plant.boxes)
    told = turn_up(
        item.link,
        with_live(request, happened, item.link, plant),
        catalog_of(house),
        house,
        neighbors(at),
        found=found,
        only_seen=True,
    )
    elements = item.link.elements
    ends = (elements[0], elements[-1]) if elements else ()
    return TurnUpLink(
        id=item.id,
        key=item.link.key,
        name=item.link.name,
        places=tuple(dict.fromkeys(place for end in ends if (place := place_at(item.link, end)))),
        state=told.state if not told.why_not else "no light",
        steps=len(told.steps),
        done=sum(1 for one in told.steps if one.done),
        ends_read=len(told.seen),
        differs=sum(1 for one in told.differences if one.severity != "note"),
        verdict=found.verdict_text,
    )


@router.post("/links/{link_id}/turnup/module")
def compare_module(request: Request, link_id: RowId, wish: ModuleWish) -> ModuleOut:
    """What a module's memory pages say, held against the module that is planned at an end. Nothing is stored."""
    seen = read_module(wish.layout, pages_from(wish.layout, wish.pages))  # type: ignore[arg-type]
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        house = stored.project(session, item.project_id).house
    return ModuleOut(seen=seen, differences=module_differences(item.link, catalog_of(house), wish.end, seen))
