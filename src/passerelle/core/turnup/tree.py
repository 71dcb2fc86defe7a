"""The tree that is active by IEEE 802.1Q: root, roles of ports, what blocks, what a failure does.

The tree is the one that stands when all have settled: the root is the bridge of the least identifier, every other
bridge reaches it at least path cost, and of two ends of a link the one nearer to the root is designated. Ties are
broken by bridge identifier, then by port identifier (IEEE 802.1Q, spanning tree priority vectors).
"""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import networkx as nx

from passerelle.core.sources import Frozen
from passerelle.core.turnup.bridges import (
    SHORT_MOST_MBPS,
    Bridge,
    BridgeLink,
    CostMethod,
    LinkEnd,
    Network,
    PortRole,
    Role,
    Tree,
    checked,
    path_cost,
)


@dataclass(frozen=True)
class _Wire:
    """A link, or links that act as one, with the ends that stand for it."""

    a: LinkEnd
    b: LinkEnd
    cost_a: int
    cost_b: int
    members: tuple[BridgeLink, ...]

    def end(self, bridge: str) -> LinkEnd:
        return self.a if self.a.bridge == bridge else self.b

    def cost(self, end: LinkEnd) -> int:
        return self.cost_a if end is self.a else self.cost_b


def tree_of(network: Network) -> Tree:
    """The tree that is active once all have settled.

    Where the path-cost method is not known both are reckoned, and a role that differs is unknown. Where a bridge
    speaks another protocol, none, or drops the tree's frames, the roles of what it stands in a circle with are
    unknown; where all in a circle speak none, it is a loop. Time grows as n log n in bridges and links.

    Raises:
        TurnUpError: a network that cannot be what it says.

    Examples:
        >>> from passerelle.core.turnup.bridges import Bridge, BridgeLink, LinkEnd, Network
        >>> three = [Bridge(name=n, address=f"00:00:00:00:00:0{i}", protocol="RSTP") for i, n in enumerate("abc")]
        >>> ends = [("a", "1", "b", "1"), ("b", "2", "c", "1"), ("c", "2", "a", "2")]
        >>> wires = [
        ...     BridgeLink(a=LinkEnd(bridge=w, port=x), b=LinkEnd(bridge=y, port=z)) for w, x, y, z in ends
        ... ]
        >>> tree = tree_of(Network(bridges=tuple(three), links=tuple(wires), path_cost="long"))
        >>> tree.root, [(one.bridge, one.port) for one in tree.blocking]
        ('a', [('c', '1')])
    """
    checked(network)
    parts = _parts(network)
    found = [_of_part(part) for part in parts]
    order = {(end.bridge, end.port): n for n, link in enumerate(network.links) for end in (link.a, link.b)}
    part_of = {bridge.name: n for n, part in enumerate(parts) for bridge in part.bridges}
    apart = [one for one in network.links if part_of[one.a.bridge] != part_of[one.b.bridge]]
    down = [_disabled(end, link) for link in apart for end in (link.a, link.b)]
    told = [*(port for tree in found for port in tree.ports), *down]
    ports = sorted(told, key=lambda one: order[one.bridge, one.port])
    return Tree(
        root=found[0].root if found else None,
        roots=tuple(root for tree in found for root in tree.roots),
        ports=tuple(ports),
        unknown=tuple(dict.fromkeys(words for tree in found for words in tree.unknown)),
        loops=tuple(loop for tree in found for loop in tree.loops),
    )


def _parts(network: Network) -> list[Network]:
    """The parts that hang together by links that are up, the largest first: a doubt in one touches no other."""
    graph = nx.Graph()
    graph.add_nodes_from(bridge.name for bridge in network.bridges)
    graph.add_edges_from((link.a.bridge, link.b.bridge) for link in network.links if link.up)
    number = {name: n for n, part in enumerate(nx.connected_components(graph)) for name in part}
    bridges: dict[int, list[Bridge]] = defaultdict(list)
    links: dict[int, list[BridgeLink]] = defaultdict(list)
    for bridge in network.bridges:
        bridges[number[bridge.name]].append(bridge)
    for link in network.links:
        if number[link.a.bridge] == number[link.b.bridge]:  # one that is down may lead to a part that is apart
            links[number[link.a.bridge]].append(link)
    made = [
        network.model_copy(update={"bridges": tuple(some), "links": tuple(links[n])}) for n, some in bridges.items()
    ]
    return sorted(made, key=lambda part: -len(part.bridges))


def _of_part(network: Network) -> Tree:
    loops, doubts = _doubts(network)
    methods: tuple[CostMethod, ...] = (network.path_cost,) if network.path_cost else ("long", "short")
    trees = [_reckoned(network, method) for method in methods]
    ports, unknown = trees[0].ports, list(doubts.values()) + list(trees[0].unknown)
    if len(trees) == 2:
        ports, said = _alike(ports, trees[1].ports)
        if said:
            unknown.append(f"nobody said which path-cost method is in use, and it decides the role of {said}: ask")
    if "short" in methods and any(link.up and link.rate_mbps > SHORT_MOST_MBPS for link in network.links):
        ports, said = _alike(ports, _reckoned(network, "short", fastest=1).ports)
        if said:
            unknown.append(
                f"the short method lists no cost beyond 10 Gb/s, and it decides the role of {said}: enter the "
                "costs of these ports"
            )
    ports, numbers = _alike_numbers(network, ports)
    unknown += numbers
    if doubts:
        far = _far_ends(network)
        ports = tuple(
            _unknown(one) if one.bridge in doubts and far[one.bridge, one.port] in doubts else one for one in ports
        )
    root = _certain_root(network, trees[0].root) if doubts else trees[0].root
    return Tree(
        root=root, roots=() if root is None else (root,), ports=ports, unknown=tuple(unknown), loops=tuple(loops)
    )


def _certain_root(network: Network, root: str | None) -> str | None:
    """The root in spite of a doubt: where it speaks, and all that speak reach it without those in doubt."""
    filtered = {end.bridge for link in network.links if link.up for end in (link.a, link.b) if end.filters}
    silent = {one.name for one in network.bridges if _why_unknown(one, one.name in filtered)}
    if root is None or root in silent:
        return None
    links = [one for one in network.links if not {one.a.bridge, one.b.bridge} & silent]
    rest = {one.name for one in network.bridges} - silent
    return root if rest <= _reached(links, root) else None


def _alike(ports: tuple[PortRole, ...], others: Sequence[PortRole]) -> tuple[tuple[PortRole, ...], str]:
    """Ports with those unknown that have another role among the others, and which those are."""
    other = {(one.bridge, one.port): one.role for one in others}
    known = [one for one in ports if one.role != "unknown"]
    differ = {(one.bridge, one.port) for one in known if other[one.bridge, one.port] != one.role}
    ports = tuple(_unknown(one) if (one.bridge, one.port) in differ else one for one in ports)
    return ports, ", ".join(sorted(f"{bridge} port {port}" for bridge, port in differ if port)[:4])


def _alike_numbers(network: Network, ports: tuple[PortRole, ...]) -> tuple[tuple[PortRole, ...], list[str]]:
    """Parallel links whose ports end in the same number, such as 1/1 and 2/1: which of them blocks is not known."""
    beside: dict[tuple[str, str], list[BridgeLink]] = defaultdict(list)
    for link in network.links:
        if link.up and not link.group:
            first, last = sorted((link.a.bridge, link.b.bridge))
            beside[first, last].append(link)
    open_ports = set[tuple[str, str]]()
    said: list[str] = []
    for pair, links in beside.items():
        for name in pair:
            ends = [end for link in links for end in (link.a, link.b) if end.bridge == name]
            names = {end.port for end in ends if [one.number for one in ends].count(end.number) > 1}
            if len(names) > 1:
                open_ports |= {(end.bridge, end.port) for link in links for end in (link.a, link.b)}
                said.append(
                    f"ports {' and '.join(sorted(names)[:4])} of {name} end in the same number: enter the "
                    "port numbers that it uses itself"
                )
    found = tuple(
        _unknown(one) if (one.bridge, one.port) in open_ports and one.role != "disabled" else one for one in ports
    )
    return found, list(dict.fromkeys(said))


def _unknown(one: PortRole) -> PortRole:
    kept = one.role == "disabled"
    return one if kept else one.model_copy(update={"role": "unknown", "forwards": None, "cost_to_root": None})


def _far_ends(network: Network) -> dict[tuple[str, str], str]:
    found = {}
    for link in network.links:
        found[link.a.bridge, link.a.port] = link.b.bridge
        found[link.b.bridge, link.b.port] = link.a.bridge
    return found


def _circles(links: Sequence[BridgeLink], names: Sequence[str]) -> list[set[str]]:
    """Bridges that stand in circles, by parts that no single link holds together; parallel links make a circle."""
    graph = nx.MultiGraph()
    graph.add_nodes_from(names)
    seen = set[tuple[str, str, str]]()
    for link in links:
        first, last = sorted((link.a.bridge, link.b.bridge))
        pair = (first, last, link.group)
        if link.group and pair in seen:
            continue
        seen.add(pair)
        graph.add_edge(link.a.bridge, link.b.bridge)
    simple = nx.Graph(graph)
    many = [(a, b) for a, b in simple.edges if a == b or graph.number_of_edges(a, b) > 1]
    bridges = [edge for edge in nx.bridges(simple) if graph.number_of_edges(*edge) == 1]
    simple.remove_edges_from(bridges)
    doubled = {node for edge in many for node in edge}
    return [part for part in nx.connected_components(simple) if len(part) > 1 or part & doubled]


def _doubts(network: Network) -> tuple[list[tuple[str, ...]], dict[str, str]]:
    """Loops, and bridges whose place in the tree is not known, with the reason."""
    up = [link for link in network.links if link.up]
    known = {bridge.name: bridge for bridge in network.bridges}
    circles = _circles(up, list(known))
    filtered = {end.bridge for link in up for end in (link.a, link.b) if end.filters}
    loops: list[tuple[str, ...]] = []
    doubts: dict[str, str] = {}
    for circle in circles:
        members = [known[name] for name in sorted(circle)]
        if all(one.protocol == "none" for one in members):
            loops.append(tuple(one.name for one in members))
            doubts |= dict.fromkeys(circle, f"{_names(members)} go round and none of them speaks a tree: a loop")
            continue
        for one in members:
            why = _why_unknown(one, one.name in filtered)
            if why:
                doubts |= dict.fromkeys(circle, why)
    kinds = {one.protocol for one in network.bridges if one.protocol in ("RSTP", "STP", "MSTP")}
    if "MSTP" in kinds and len(kinds) > 1 and circles:
        why = "some speak MSTP and some do not: a region counts costs inside apart, which is not reckoned here"
        doubts |= {name: why for circle in circles for name in circle}
    return loops, doubts


def _why_unknown(one: Bridge, filtered: bool) -> str:
    if one.filters or filtered:
        return f"{one.name} drops the frames of the tree at a port: nothing may block there, a loop is possible"
    match one.protocol:
        case "none":
            return f"{one.name} speaks no tree: whether it passes the frames of the others on is not known"
        case "other":
            return f"{one.name} speaks another tree protocol: its roles are not reckoned here"
        case "unknown":
            return f"nobody said which tree protocol {one.name} speaks: ask, then say it"
        case _:
            return ""


def _names(members: Sequence[Bridge]) -> str:
    return " and ".join(one.name for one in members)


def _wires(network: Network, method: CostMethod, fastest: int) -> Iterator[_Wire]:
    groups: dict[tuple[str, str, str], list[BridgeLink]] = defaultdict(list)
    for number, link in enumerate(network.links):
        if link.up:
            first, last = sorted((link.a.bridge, link.b.bridge))
            groups[first, last, link.group or f"#{number}"].append(link)
    for members in groups.values():
        lead = min(members, key=lambda one: one.a.number)
        rate = sum(one.rate_mbps for one in members)
        cost = path_cost(rate, method, fastest)
        yield _Wire(lead.a, lead.b, lead.a.cost or cost, lead.b.cost or cost, tuple(members))


def _reckoned(network: Network, method: CostMethod, fastest: int = 2) -> Tree:
    """The tree by one method of cost; each part of the network that hangs together has a root of its own."""
    ids, doubts = _identifiers(network)
    wires = list(_wires(network, method, fastest))
    at: dict[str, list[_Wire]] = defaultdict(list)
    for wire in wires:
        at[wire.a.bridge].append(wire)
        if wire.b.bridge != wire.a.bridge:
            at[wire.b.bridge].append(wire)
    cost, roots = _costs(ids, at)
    through = {name: _root_port(name, at[name], cost, ids) for name in ids if name not in roots}
    roles = [_roles(wire, cost, ids, through) for wire in wires]
    ports = [role for pair in roles for role in pair]
    ports += [_disabled(end, link) for link in network.links if not link.up for end in (link.a, link.b)]
    if doubts:
        ports = [_unknown(one) for one in ports]
    return Tree(root=roots[0] if roots and not doubts else None, ports=tuple(ports), unknown=doubts)


def _identifiers(network: Network) -> tuple[dict[str, tuple[int, int]], tuple[str, ...]]:
    """Identifiers by name. One without an address is only told apart by its priority."""
    ids = {one.name: one.number or (one.priority, 2**48) for one in network.bridges}
    twice: dict[tuple[int, int], list[str]] = defaultdict(list)
    for name, number in ids.items():
        twice[number].append(name)
    doubts = [
        f"{' and '.join(names[:4])} cannot be told apart: say their addresses, the least one decides"
        for names in twice.values()
        if len(names) > 1
    ]
    missing = [one for one in network.bridges if one.number is None]
    for one in missing:
        rivals = [other for other in network.bridges if other is not one and other.priority == one.priority]
        if rivals and not doubts:
            doubts.append(f"{one.name} has no address: say it, the least one decides among equal priorities")
    return ids, tuple(doubts)


def _costs(ids: dict[str, tuple[int, int]], at: dict[str, list[_Wire]]) -> tuple[dict[str, int], list[str]]:
    """Cost to the root of each bridge, and the root of each part, the least identifier first."""
    cost: dict[str, int] = {}
    roots = []
    for start in sorted(ids, key=ids.__getitem__):
        if start in cost:
            continue
        roots.append(start)
        todo = [(0, ids[start], start)]
        while todo:
            so_far, _, name = heapq.heappop(todo)
            if name in cost:
                continue
            cost[name] = so_far
            for wire in at[name]:
                far = wire.b if wire.a.bridge == name else wire.a
                if far.bridge not in cost:
                    heapq.heappush(todo, (so_far + wire.cost(far), ids[far.bridge], far.bridge))
    return cost, roots


def _root_port(
    name: str, wires: Sequence[_Wire], cost: dict[str, int], ids: dict[str, tuple[int, int]]
) -> LinkEnd | None:
    """The port through which a bridge reaches the root: least cost, then designated bridge, its port, own port."""
    best: tuple[tuple[object, ...], LinkEnd] | None = None
    for wire in wires:
        if wire.a.bridge == wire.b.bridge:
            continue
        own = wire.end(name)
        far = wire.b if own is wire.a else wire.a
        vector = (cost[far.bridge] + wire.cost(own), ids[far.bridge], far.number, own.number)
        if best is None or vector < best[0]:
            best = (vector, own)
    return best[1] if best else None


def _roles(
    wire: _Wire, cost: dict[str, int], ids: dict[str, tuple[int, int]], through: dict[str, LinkEnd | None]
) -> list[PortRole]:
    def rank(end: LinkEnd) -> tuple[object, ...]:
        return cost[end.bridge], ids[end.bridge], end.number

    near, far = sorted((wire.a, wire.b), key=rank)
    roles: dict[int, Role] = {id(near): "designated"}
    if far.bridge == near.bridge:
        roles[id(far)] = "backup"
    else:
        roles[id(far)] = "root" if through.get(far.bridge) is far else "alternate"
    found = []
    for member in wire.members:
        for end, lead in ((member.a, wire.a), (member.b, wire.b)):
            if member.a.bridge != wire.a.bridge:  # a member that is drawn the other way round
                lead = wire.b if lead is wire.a else wire.a
            role = roles[id(lead)]
            here = cost[end.bridge] if role != "alternate" else cost[near.bridge] + wire.cost(far)
            found.append(
                PortRole(
                    bridge=end.bridge,
                    port=end.port,
                    link=member.name,
                    role=role,
                    forwards=role in ("root", "designated"),
                    cost_to_root=here,
                )
            )
    return found


def _disabled(end: LinkEnd, link: BridgeLink) -> PortRole:
    return PortRole(bridge=end.bridge, port=end.port, link=link.name, role="disabled", forwards=False)


class Failed(Frozen):
    """What happens when a link fails: ports that begin to forward, bridges that are cut off from the root."""

    link: str
    opens: tuple[PortRole, ...]
    cut_off: tuple[str, ...]
    unknown: tuple[str, ...] = ()


def when_fails(network: Network, link: BridgeLink) -> Failed:
    """What the tree does when a link fails; members of an aggregation that are left carry on."""
    part = next((one for one in _parts(network) if link in one.links), None)
    if part is None:  # it is down already, and leads to what is apart
        return Failed(link=link.name, opens=(), cut_off=())
    before = _of_part(part)
    links = tuple(one.model_copy(update={"up": False}) if one == link else one for one in part.links)
    after = tree_of(part.model_copy(update={"links": links}))
    was = {(one.bridge, one.port): one.forwards for one in before.ports}
    opens = tuple(one for one in after.ports if one.forwards and was.get((one.bridge, one.port)) is False)
    cut = tuple(name for name in _reached(part.links) - _reached(links, before.root) if before.root)
    return Failed(link=link.name, opens=opens, cut_off=tuple(sorted(cut)), unknown=after.unknown)


def _reached(links: Sequence[BridgeLink], start: str | None = None) -> set[str]:
    """Bridges that links lead to, or those that hang together with one of them."""
    near: dict[str, set[str]] = defaultdict(set)
    for link in links:
        if link.up:
            near[link.a.bridge].add(link.b.bridge)
            near[link.b.bridge].add(link.a.bridge)
    if start is None:
        return set(near)
    found, todo = {start}, [start]
    while todo:
        for name in near[todo.pop()] - found:
            found.add(name)
            todo.append(name)
    return found
