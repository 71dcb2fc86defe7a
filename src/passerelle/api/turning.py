"""A link at turn-up as it is shown: what was written down, with what its boxes said last."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Literal

from fastapi import Request
from sqlalchemy.orm import Session

from passerelle.api.boxes import why_not_reached
from passerelle.api.live import live_of, port_seen, secrets_of
from passerelle.api.schemas.turnup import (
    EndOut,
    TurnUpOut,
)
from passerelle.api.views import catalog_of, figures
from passerelle.core.catalog.turnup_figures import turnup_figures
from passerelle.core.events import Event, Stamp
from passerelle.core.findings import Severity
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, modules, place_at
from passerelle.core.plant.site import Plant
from passerelle.core.turned_up import PortSeen
from passerelle.core.turnup.compared import Neighbor, lane_stands
from passerelle.core.turnup.handover import TurnUp, drawn, newest, turn_up
from passerelle.core.turnup.logbook import log_of
from passerelle.core.turnup.plan_network import AtBox, Warned, at_boxes, network_of, warnings_of
from passerelle.core.turnup.windows import ErrorRate, corrected_words, proves
from passerelle.equipment.boxes import PortNow
from passerelle.equipment.credentials import CredentialsError
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.stored import StoredLink

End = Literal["left", "right"]
ENDS: tuple[End, ...] = ("left", "right")


def turnup_out(request: Request, session: Session, item: StoredLink) -> TurnUpOut:
    """A stored link at turn-up."""
    house = stored.project(session, item.project_id).house
    plant = stored.plant(session, item.project_id)
    written = events.of_links(session, item.project_id, [item.link.key])
    at = at_boxes(item.link, plant.boxes)
    found = figures(item.link, house)
    warnings = _warnings(session, item, plant, house)
    told = turn_up(
        item.link,
        with_live(request, written, item.link, plant),
        catalog_of(house),
        house,
        neighbors(at),
        found=found,
        redundant=any(one.code in ("loop", "parallel") for one in warnings),
    )
    now = events.now(session)
    ends = tuple(_end(request, session, item, end, at.get(end)) for end in ENDS if item.link.elements)
    return TurnUpOut(
        revision=item.revision,
        plan_revision=stored.plant_revision(session, item.project_id),
        turnup=told,
        state=told.state,
        ends=ends,
        lanes=tuple(one for seen in told.seen.values() for one in lane_stands(seen, told.windows)),
        ages_s={end: max(0.0, (now - seen.at).total_seconds()) for end, seen in told.seen.items() if seen.at},
        live=tuple(end for end, seen in told.seen.items() if seen.key.startswith("live")),
        findings=tuple(f for f in found.findings if f.severity in (Severity.FAIL, Severity.DAMAGE)),
        warnings=warnings,
        log=tuple(log_of(written))[:60],
        errors=_errors(told),
        corrected=_corrected(told, ends),
    )


def _errors(told: TurnUp) -> dict[End, ErrorRate]:
    return {
        end: proves(seen.seconds, seen.rate_mbps, seen.errors)
        for end, seen in told.seen.items()
        if seen.seconds and seen.rate_mbps and seen.errors is not None
    }


def _corrected(told: TurnUp, ends: Sequence[EndOut]) -> dict[End, str]:
    """What codewords of the error correction say, by end."""
    return {
        one.end: corrected_words(one.application, seen.corrected or 0, seen.uncorrected or 0)
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
    return tuple(one for one in warned(links, plant, house) if item.link.name in one.links)


def warned(links: Sequence[Link], plant: Plant, house: HouseRules) -> tuple[Warned, ...]:
    network = network_of(links, plant.boxes, house, catalog_of(house))
    grouped = []
    for link in links:
        at = at_boxes(link, plant.boxes)
        if len(at) == 2:
            grouped.append((link.name, at["left"].port.group, at["right"].port.group))
    return warnings_of(network, grouped)


def of_link(item: StoredLink, stamp: Stamp) -> dict[str, Any]:
    """What every entry of a link says of it."""
    return {
        "key": stamp.key(),
        "at": stamp.at,
        "who": stamp.who,
        "link": item.link.key,
        "link_name": item.link.name,
        "turned": item.link.turned,
    }
