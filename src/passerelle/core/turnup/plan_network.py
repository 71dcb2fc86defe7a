"""The network of a plan: its boxes and the links whose both ends are ports of boxes, as bridges and links."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, modules
from passerelle.core.plant.records import Box, BoxPort
from passerelle.core.sources import Frozen
from passerelle.core.turnup.bridges import Bridge, BridgeLink, LinkEnd, Network, Tree
from passerelle.core.turnup.tree import tree_of
from passerelle.core.units import format_rate

End = Literal["left", "right"]


class AtBox(Frozen):
    """The port of a box that an end of a link is."""

    box: Box
    port: BoxPort


class Warned(Frozen):
    """What is said before the second plug: links by name, in words, and what to do."""

    code: Literal["loop", "parallel", "aggregation", "unidirectional"]
    severity: Literal["fail", "caution", "note"]
    links: tuple[str, ...]
    words: str
    do: str


def at_boxes(link: Link, boxes: Iterable[Box]) -> dict[End, AtBox]:
    """The ports of boxes that the ends of a link are."""
    if not link.elements:
        return {}
    keys: dict[str, End] = {link.elements[-1].key: "right", link.elements[0].key: "left"}
    held = [(box, port) for box in boxes for port in box.ports if port.of and port.of in keys]
    return {keys[port.of]: AtBox(box=box, port=port) for box, port in held}


def network_of(links: Sequence[Link], boxes: Sequence[Box], house: HouseRules, catalog: Catalog) -> Network:
    """The boxes of a plan and the links between them; other links end at no box and are left out."""
    at: dict[str, tuple[Box, BoxPort]] = {port.of: (box, port) for box in boxes for port in box.ports}
    found = []
    for link in links:
        if not link.elements:
            continue
        ends = [at.get(link.elements[0].key), at.get(link.elements[-1].key)]
        if None in ends:
            continue
        (a, a_port), (b, b_port) = ends  # type: ignore[misc]
        group = f"{a_port.group} {b_port.group}" if a_port.group and b_port.group else ""
        found.append(
            BridgeLink(
                name=link.name,
                a=_end(a, a_port),
                b=_end(b, b_port),
                rate_mbps=_rate(link, catalog),
                group=group,
            )
        )
    bridges = tuple(
        Bridge(
            name=box.name,
            priority=box.priority,
            address=box.bridge_address,
            protocol=box.protocol,
            filters=box.filters,
        )
        for box in boxes
    )
    method = None if house.path_cost == "unknown" else house.path_cost
    return Network(bridges=bridges, links=tuple(found), path_cost=method)


def _end(box: Box, port: BoxPort) -> LinkEnd:
    return LinkEnd(bridge=box.name, port=port.name)


def _rate(link: Link, catalog: Catalog) -> int:
    rates = [catalog.application(one.application).rate_mbps for one in modules(link)]
    return min(rates, default=link.wanted_rate_mbps or 1000)


def warnings_of(network: Network, grouped: Sequence[tuple[str, str, str]] = ()) -> tuple[Warned, ...]:
    """What must be said before a second plug goes in.

    Args:
        network: of the plan.
        grouped: link name with the aggregation of its left and of its right port, of links where one has one.
    """
    known = {bridge.name: bridge for bridge in network.bridges}
    between: dict[tuple[str, str], list[BridgeLink]] = defaultdict(list)
    for link in network.links:
        first, last = sorted((link.a.bridge, link.b.bridge))
        between[first, last].append(link)
    found = [_one_sided(one) for one in grouped if bool(one[1]) != bool(one[2])]
    tree = tree_of(network)
    for (a, b), several in between.items():
        alone = {link.group or link.name for link in several}
        if len(several) < 2 or len(alone) < 2:
            continue
        names = tuple(link.name for link in several)
        spoken = {known[a].protocol, known[b].protocol}
        if spoken <= {"RSTP", "STP", "MSTP"}:
            found.append(_side_by_side(several, (a, b), tree))
        elif "none" in spoken and spoken <= {"none"}:
            words = f"{len(several)} links between {a} and {b} and no tree: the second plug makes a loop."
            do = "Switch spanning tree or an aggregation on at both ends before the second plug goes in."
            found.append(Warned(code="loop", severity="fail", links=names, words=words, do=do))
        else:
            words = (
                f"{len(several)} links between {a} and {b}, and the tree there is not known: a loop is possible."
            )
            do = "Ask which tree protocol both ends speak, before the second plug goes in."
            found.append(Warned(code="loop", severity="caution", links=names, words=words, do=do))
    return tuple(found)


def _side_by_side(several: Sequence[BridgeLink], between: tuple[str, str], tree: Tree) -> Warned:
    """Links that the tree keeps from making a loop: which of them waits, and whether that is the slow one."""
    names = tuple(link.name for link in several)
    words = f"{len(several)} links run side by side between {between[0]} and {between[1]}: "
    do = "Aggregate them at both ends where both are to carry, and ask for remote fault signalling."
    ends = {link.name: [tree.role(end.bridge, end.port) for end in (link.a, link.b)] for link in several}
    waits = [link for link in several if any(one and one.role == "alternate" for one in ends[link.name])]
    carries = [link for link in several if link not in waits]
    if not waits or any(one is None or one.role == "unknown" for pair in ends.values() for one in pair):
        words += "the tree blocks all but one of them, which one is not known."
        return Warned(code="parallel", severity="note", links=names, words=words, do=do)
    said = " and ".join(f"{link.name} ({format_rate(link.rate_mbps)})" for link in waits)
    fastest = max(link.rate_mbps for link in waits)
    if carries and fastest > max(link.rate_mbps for link in carries):
        words += f"the tree blocks {said}, which is the fast one."
        return Warned(
            code="parallel",
            severity="caution",
            links=names,
            words=words,
            do=f"Lower the path cost of the fast one, or the priority of the root. {do}",
        )
    slow = bool(carries) and fastest < max(link.rate_mbps for link in carries)
    words += f"the tree blocks {said}{', the slow one' if slow else ''}."
    return Warned(code="parallel", severity="note", links=names, words=words, do=do)


def _one_sided(one: tuple[str, str, str]) -> Warned:
    words = f"{one[0]} is in an aggregation at one end only."
    do = "Both ends need it alike, with LACP, so that a strand that breaks takes the member out at both."
    return Warned(code="aggregation", severity="fail", links=(one[0],), words=words, do=do)
