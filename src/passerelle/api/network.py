"""The network of a project: its boxes, the tree that is active between them, and what their bridges said of it."""

from __future__ import annotations

from fastapi import Request

from passerelle.api.live import live_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import (
    BoxInTree,
    NetworkOut,
)
from passerelle.api.state import database_of
from passerelle.api.turning import warned
from passerelle.api.views import catalog_of
from passerelle.core.plant.records import Box
from passerelle.core.plant.site import Plant
from passerelle.core.turnup.bridges import BridgeLink
from passerelle.core.turnup.plan_network import network_of
from passerelle.core.turnup.tree import tree_of, when_fails
from passerelle.store import links as stored_links
from passerelle.store import projects as stored

router = api_router("boxes")
MOST_FAILURES = 200


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
        warnings=warned(links, plant, house),
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
