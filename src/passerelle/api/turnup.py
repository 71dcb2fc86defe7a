"""Turn-up of links: steps, windows, ports as they are, a dark link, the network, the logbook."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Request, status
from sqlalchemy.orm import Session

from passerelle.api.boxes import wanted_of, why_not_reached
from passerelle.api.live import live_of, port_seen, secrets_of
from passerelle.api.problems import PROBLEM_RESPONSES
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import (
    BoxInTree,
    EndOut,
    ModuleOut,
    ModuleWish,
    NetworkOut,
    NoteWish,
    PortOfBox,
    PortWish,
    ReadWish,
    StepWish,
    TurnUpLink,
    TurnUpOut,
    TurnUpsOut,
)
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of, figures
from passerelle.core.catalog.turnup_figures import turnup_figures
from passerelle.core.errors import TurnUpError
from passerelle.core.events import Event, Stamp
from passerelle.core.findings import Severity
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, modules, place_at
from passerelle.core.plant.records import Box, BoxPort
from passerelle.core.plant.site import Plant
from passerelle.core.turned_up import Logged, PortSeen
from passerelle.core.turnup.bridges import BridgeLink
from passerelle.core.turnup.compared import Neighbor, lane_stands, module_differences
from passerelle.core.turnup.handover import TurnUp, drawn, newest, turn_up
from passerelle.core.turnup.logbook import LogLine, log_of, searched
from passerelle.core.turnup.module_memory import read_module
from passerelle.core.turnup.module_pages import pages_from
from passerelle.core.turnup.plan_network import AtBox, Warned, at_boxes, network_of, warnings_of
from passerelle.core.turnup.tree import tree_of, when_fails
from passerelle.core.turnup.windows import ErrorRate, corrected_words, proves
from passerelle.equipment.boxes import PortNow
from passerelle.equipment.credentials import CredentialsError
from passerelle.exchange.attachment import AttachmentError
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import attachment, put_records
from passerelle.store.stored import StoredLink

router = APIRouter(tags=["turn-up"], responses=PROBLEM_RESPONSES)
End = Literal["left", "right"]
ENDS: tuple[End, ...] = ("left", "right")
MOST_FAILURES = 200


@router.get("/links/{link_id}/turnup")
def get_turnup(request: Request, link_id: RowId) -> TurnUpOut:
    """A link at turn-up, with what its boxes said last."""
    with database_of(request).read() as session:
        return turnup_out(request, session, stored_links.link(session, link_id))


def turnup_out(request: Request, session: Session, item: StoredLink) -> TurnUpOut:
    """A stored link at turn-up."""
    house = stored.project(session, item.project_id).house
    plant = stored.plant(session, item.project_id)
    happened = [
        *events.of_links(session, item.project_id, [item.link.key]),
        *live_events(request, item.link, plant),
    ]
    at = at_boxes(item.link, plant.boxes)
    found = figures(item.link, house)
    warnings = _warnings(session, item, plant, house)
    told = turn_up(
        item.link,
        happened,
        catalog_of(house),
        house,
        neighbors(at),
        found=found,
        redundant=any(one.code in ("loop", "parallel") for one in warnings),
    )
    now = time.time()
    ends = tuple(_end(request, session, item, end, at.get(end)) for end in ENDS if item.link.elements)
    return TurnUpOut(
        revision=item.revision,
        plan_revision=stored.plant_revision(session, item.project_id),
        turnup=told,
        state=told.state,
        ends=ends,
        lanes=tuple(one for seen in told.seen.values() for one in lane_stands(seen, told.windows)),
        ages_s={end: max(0.0, now - seen.at.timestamp()) for end, seen in told.seen.items() if seen.at},
        live=tuple(end for end, seen in told.seen.items() if seen.key.startswith("live")),
        findings=tuple(f for f in found.findings if f.severity in (Severity.FAIL, Severity.DAMAGE)),
        warnings=warnings,
        log=tuple(log_of(events.of_links(session, item.project_id, [item.link.key])))[:60],
        errors=_errors(told),
        corrected=_corrected(told, ends),
    )


def _errors(told: TurnUp) -> dict[End, ErrorRate]:
    return {
        end: proves(seen.seconds, seen.rate_mbps, min(seen.errors, 10**9))
        for end, seen in told.seen.items()
        if seen.seconds and seen.rate_mbps and seen.errors is not None
    }


def _corrected(told: TurnUp, ends: Sequence[EndOut]) -> dict[End, str]:
    """What codewords of the error correction say, by end."""
    return {
        one.end: corrected_words(one.application, seen.corrected or 0, seen.uncorrected or 0)[0]
        for one in ends
        if (seen := told.seen.get(one.end)) and (seen.corrected is not None or seen.uncorrected is not None)
    }


def neighbors(at: Mapping[End, AtBox]) -> dict[End, Neighbor]:
    """What each end must see: the box and port at the other one."""
    found: dict[End, Neighbor] = {}
    for end, far in (("left", "right"), ("right", "left")):
        if end in at and far in at:
            found[end] = Neighbor(box=at[far].box.name, port=at[far].port.name)  # type: ignore[index]
    return found


def live_events(request: Request, link: Link, plant: Plant) -> list[Event]:
    """What the boxes of a link said last, as events that are not written down."""
    found: list[Event] = []
    for end, at in at_boxes(link, plant.boxes).items():
        box = live_of(request).of(at.box.address) if at.box.address else None
        now = box.ports.get(at.port.name) if box is not None else None
        if box is not None and now is not None and (now.admin or now.oper):
            counted = live_of(request).counted(box.address, now)
            found.append(port_seen(now, box, end, link, at.box.name, counted))
    return found


def with_live(request: Request, stored_events: Sequence[Event], link: Link, plant: Plant) -> list[Event]:
    """Events of a link with what its boxes said last, where that is newer than what was written down."""
    last = newest(drawn(link, stored_events))
    live = [
        one
        for one in live_events(request, link, plant)
        if isinstance(one, PortSeen) and not _older(one, last.get(one.end))
    ]
    return [*stored_events, *live]


def _older(one: PortSeen, other: PortSeen | None) -> bool:
    return other is not None and one.at is not None and other.at is not None and one.at < other.at


def _end(request: Request, session: Session, item: StoredLink, end: End, at: AtBox | None) -> EndOut:
    elements = item.link.elements
    piece = elements[0] if end == "left" else elements[-1]
    found = modules(item.link)
    module = (found[0] if end == "left" else found[-1]) if found else None
    known_fec = turnup_figures().correction_of(module.application) if module else None
    out = EndOut(
        end=end,
        correction=f"{known_fec.kind} ({known_fec.source.text})" if known_fec else "",
        place=place_at(item.link, piece) or f"{end} end",
        port_element=piece.id,
        module_element=module.id if module else "",
        application=module.application if module else "",
    )
    if at is None:
        return out
    why, live = why_not_reached(session, item.project_id, at.box), live_of(request).of(at.box.address)
    if not why:
        try:
            why = (
                ""
                if secrets_of(request).of(at.box.address)
                else "nobody typed how it is asked: on the page of boxes"
            )
        except CredentialsError as error:
            why = str(error)
    now = live.ports.get(at.port.name) if live else None
    problems = now.problems if now else []
    return out.model_copy(
        update={
            "box": at.box.id,
            "box_name": at.box.name,
            "port": at.port.name,
            "address": at.box.address,
            "reads": not why,
            "more": _more(now) if now else (),
            "why_not_read": why,
            "trouble": "; ".join(([live.trouble] if live and live.trouble else []) + problems),
        }
    )


def _more(now: PortNow) -> tuple[str, ...]:
    """What else a box says of a port, in words."""
    said = (
        f"spanning tree: {now.tree}" if now.tree else "",
        "in an aggregation" if now.aggregated else "",
        f"medium {now.mau}" if now.mau else "",
        "" if now.negotiation is None else f"negotiation {'on' if now.negotiation else 'off'}",
        f"power over the pairs: {now.powered}" if now.powered else "",
    )
    return tuple(one for one in said if one)


def _warnings(session: Session, item: StoredLink, plant: Plant, house: HouseRules) -> tuple[Warned, ...]:
    """What the network says of this link before it is plugged."""
    boxes = {at.box.id for at in at_boxes(item.link, plant.boxes).values()}
    if len(boxes) < 2:
        return ()
    links = [one.link for one in stored_links.links(session, item.project_id)]
    return tuple(one for one in _warned(links, plant, house) if item.link.name in one.links)


def _warned(links: Sequence[Link], plant: Plant, house: HouseRules) -> tuple[Warned, ...]:
    network = network_of(links, plant.boxes, house, catalog_of(house))
    grouped = []
    for link in links:
        at = at_boxes(link, plant.boxes)
        if len(at) == 2:
            grouped.append((link.name, at["left"].port.group, at["right"].port.group))
    return warnings_of(network, grouped)


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
            **_of(item, stamp),
            by="typed",
            box=at.box.name if at else "",
            port=at.port.name if at else "",
        )
        put_records(
            session, item.project_id, [record], f"{item.link.name}: the port at the {wish.end} end", item.id
        )
        return turnup_out(request, session, item)


def _of(item: StoredLink, stamp: Stamp) -> dict[str, Any]:
    return {
        "key": stamp.key(),
        "at": stamp.at,
        "who": stamp.who,
        "link": item.link.key,
        "link_name": item.link.name,
        "turned": item.link.turned,
    }


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
    """Tick a step, or say that it is not done after all."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        stamp = events.stamp(session)
        record = Logged(**wish.model_dump(), **_of(item, stamp), about="step")
        told = "done" if wish.done else "not done"
        put_records(session, item.project_id, [record], f"{item.link.name}: {wish.step}, {told}"[:300], item.id)
        return turnup_out(request, session, item)


@router.post("/links/{link_id}/turnup/log", status_code=status.HTTP_201_CREATED)
def note_on_link(request: Request, link_id: RowId, wish: NoteWish) -> TurnUpOut:
    """Add an entry to the logbook of a link."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        record = _note(session, item.project_id, wish, _of(item, events.stamp(session)))
        put_records(session, item.project_id, [record], f"{item.link.name}: {wish.words}"[:300], item.id)
        return turnup_out(request, session, item)


@router.post("/projects/{project_id}/log", status_code=status.HTTP_201_CREATED)
def note_on_project(request: Request, project_id: RowId, wish: NoteWish) -> list[LogLine]:
    """Add an entry to the logbook that concerns no single link."""
    with writing(request) as session:
        stamp = events.stamp(session)
        record = _note(session, project_id, wish, {"key": stamp.key(), "at": stamp.at, "who": stamp.who})
        put_records(session, project_id, [record], f"logbook: {wish.words}"[:300])
        return log_of(events.of_project(session, project_id))[:500]


def _note(session: Session, project_id: int, wish: NoteWish, of: dict[str, Any]) -> Logged:
    if wish.corrects:
        known = {event.key for event in events.of_project(session, project_id)}
        if wish.corrects not in known:
            raise TurnUpError("corrects", "the entry that it corrects is not in this logbook: reload the page")
    if wish.picture:
        _, kind = attachment(session, wish.picture)
        if not kind.startswith("image/"):
            raise AttachmentError("this file is no picture: send a PNG or JPEG")
    return Logged(**wish.model_dump(), **of)


@router.get("/projects/{project_id}/log")
def get_log(request: Request, project_id: RowId, q: Annotated[str, Query(max_length=200)] = "") -> list[LogLine]:
    """The logbook, newest first; ``q`` finds labels, places, serial numbers, persons, days and words."""
    with database_of(request).read() as session:
        happened = events.of_project(session, project_id)
        numbers = stored_links.numbers(session, project_id)
    lines = log_of(happened)
    named = [
        line.model_copy(update={"link_name": numbers.get(line.link, (0, line.link_name))[1]}) for line in lines
    ]
    return searched(named, q)[:500]


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
    warnings = _warned([item.link for item in items], plant, house)
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


@router.get("/projects/{project_id}/network")
def get_network(request: Request, project_id: RowId) -> NetworkOut:
    """The boxes of a project with the tree that is active between them, and what their bridges said of it."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        plant = stored.plant(session, project_id)
        links = [item.link for item in stored_links.links(session, project_id)]
        numbers = stored_links.numbers(session, project_id)
    network = network_of(links, plant.boxes, house, catalog_of(house))
    tree = tree_of(network)
    seen = _seen_states(request, plant)
    down = _down(request, plant)
    now = tree_of(network.model_copy(update={"links": tuple(_as_now(one, down) for one in network.links)}))
    by_name = {name: number for number, name in numbers.values()}
    few = network.links if len(network.links) <= MOST_FAILURES else ()
    return NetworkOut(
        boxes=tuple(_in_tree(request, box, plant) for box in plant.boxes),
        links=tuple(
            {
                "name": one.name,
                "id": by_name.get(one.name),
                "a": one.a.bridge,
                "a_port": one.a.port,
                "b": one.b.bridge,
                "b_port": one.b.port,
                "rate_mbps": one.rate_mbps,
                "group": one.group,
                "down": not _as_now(one, down).up,
            }
            for one in network.links
        ),
        tree=tree,
        failures=tuple(when_fails(network, one) for one in few),
        warnings=_warned(links, plant, house),
        seen_states=seen,
        differs=tuple(
            f"{one.bridge} port {one.port} says {said}, reckoned is {one.role}: a priority or a method differs"
            for one in now.ports
            if (said := seen.get(f"{one.bridge} {one.port}"))
            and one.forwards is not None
            and said in ("blocking", "forwarding")
            and (said == "forwarding") != one.forwards
        ),
        path_cost=house.path_cost,
    )


def _down(request: Request, plant: Plant) -> set[tuple[str, str]]:
    """Ports that were seen without link."""
    found = set()
    for box in plant.boxes:
        now = live_of(request).of(box.address) if box.address else None
        found |= {(box.name, name) for name, port in (now.ports.items() if now else ()) if port.oper == "down"}
    return found


def _as_now(link: BridgeLink, down: set[tuple[str, str]]) -> BridgeLink:
    ends = {(link.a.bridge, link.a.port), (link.b.bridge, link.b.port)}
    return link.model_copy(update={"up": False}) if ends & down else link


def _seen_states(request: Request, plant: Plant) -> dict[str, str]:
    found = {}
    for box in plant.boxes:
        now = live_of(request).of(box.address) if box.address else None
        for name, port in now.ports.items() if now else ():
            if port.tree:
                found[f"{box.name} {name}"] = port.tree
    return found


def _in_tree(request: Request, box: Box, plant: Plant) -> BoxInTree:
    now = live_of(request).of(box.address) if box.address else None
    said = ""
    if now is not None and now.protocol:
        said = (
            f"says {now.protocol}, priority {now.priority}, {now.bridge_address}, path cost {now.path_cost or '?'}"
        )
    place = plant.place_of[box.place].name if box.place in plant.place_of else ""
    return BoxInTree(name=box.name, place=place, kind=box.kind, protocol=box.protocol, seen=said)


@router.post("/links/{link_id}/turnup/module")
def compare_module(request: Request, link_id: RowId, wish: ModuleWish) -> ModuleOut:
    """What a module's memory pages say, held against the module that is planned at an end. Nothing is stored."""
    seen = read_module(wish.layout, pages_from(wish.layout, wish.pages))  # type: ignore[arg-type]
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        house = stored.project(session, item.project_id).house
    return ModuleOut(seen=seen, differences=module_differences(item.link, catalog_of(house), wish.end, seen))
