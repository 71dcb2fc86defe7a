"""Layouts for a set of places compared: star, tapped chain, ring and tree over the ways that exist."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from itertools import pairwise
from typing import Literal

import networkx as nx

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.catalog.prices import came_with, prices_source, work_prices
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import PlantError
from passerelle.core.plant.routing import find_place
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen, Source, estimated

LayoutName = Literal["star", "tapped chain", "ring", "tree"]
FaultKind = Literal["way", "cabinet", "switch"]
GRADE, WAVELENGTH_NM = "OS2", 1310
RATES_MBPS = (1000, 10_000, 25_000, 40_000, 100_000)
LONG_CHAIN, LONG_RING = 8, 7  # the ring: recalled from IEEE 802.1D, maximum bridge diameter of the default timers
_MODULES = {
    1000: "1000BASE-LX10",
    10_000: "10GBASE-LR",
    25_000: "25GBASE-LR",
    40_000: "40GBASE-LR4",
    100_000: "100GBASE-LR4",
}
PORTS_PER_SWITCH, UPLINKS_PER_SWITCH = 24, 2
SWITCH = estimated("a core switch of 24 ports with two uplinks, one step faster than its fastest port")
OF_STANDARD = estimated("single-mode glass at 1310 nm; joints of each layout as usually built")


class LayoutMember(Frozen):
    """A place in a layout: the way of its light in m, its loss in dB, and the rate of its port in Mb/s."""

    place: str
    name: str
    length_m: float
    loss_db: float
    port_mbps: int


class LayoutHop(Frozen):
    """A cable of a layout from one place to the next: its length in m, the strands in it, and its ways."""

    start: str
    end: str
    length_m: float
    strands: int
    ways: tuple[str, ...]


class Layout(Frozen):
    """One layout: glass, joints, what one fault takes, what the core needs, and the price.

        ``cable_m`` is all cable, ``strand_m`` all glass in it, ``strands_at_core`` what arrives there. ``joints``
        counts mated pairs and splices.
    ``fault_takes`` is the most places that one fault leaves dark, ``fault_at`` where it is, ``dark`` those places.
        ``oversubscribed`` is all demand over what the core's ports of this layout carry.
    """

    name: LayoutName
    order: tuple[str, ...]
    cable_m: float
    strand_m: float
    strands_at_core: int
    joints: int
    longest: LayoutMember
    members: tuple[LayoutMember, ...]
    fault_takes: int
    fault_at: str
    fault_kind: FaultKind
    core_ports: int
    core_switches: int
    core_uplinks: int
    uplink_mbps: int
    oversubscribed: float
    cost: float
    why: str
    warnings: tuple[str, ...] = ()
    hops: tuple[LayoutHop, ...] = ()
    dark: tuple[str, ...] = ()


class Layouts(Frozen):
    """All layouts for the same places, the cheapest first, with what they rest on."""

    core: str
    places: tuple[str, ...]
    layouts: tuple[Layout, ...]
    sources: tuple[Source, ...]


@dataclass(frozen=True)
class _Hop:
    """A cable from one place to the next: its ways, length in m and strands."""

    start: str
    end: str
    ways: tuple[str, ...]
    length_m: float
    strands: int


def compare_layouts(
    plant: Plant,
    core: str,
    places: Sequence[str],
    catalog: Catalog,
    spare_percent: float = 20.0,
    *,
    strands: Literal[1, 2] = 2,
    listed: Mapping[str, float] | None = None,
) -> Layouts:
    """Star, tapped chain, ring and tree from a core to some places.

    Args:
        plant: places, ways and devices; rented and dead ways carry no new cable.
        core: the place where all comes together.
        places: the places to reach; empty for all where devices hang.
        catalog: attenuation and joints, at the most that the standard allows.
        spare_percent: spare strands in % of those used.
        strands: how many one link needs: two, or one with two wavelengths.
        listed: the project's price list; the made-up one without.

    Raises:
        PlantError: a place does not exist or no way leads there, or there is nothing to reach.
    """
    core = find_place(plant, core)
    wanted = [find_place(plant, place) for place in places] or [device.place for device in plant.devices]
    wanted = [place for place in dict.fromkeys(wanted) if place != core]
    if not wanted:
        raise PlantError("places", "name the places to reach, or hang devices on them first")
    sketch = _Sketch(plant, core, wanted, catalog, spare_percent, strands, listed or came_with())
    found = [sketch.star(), sketch.chain(), sketch.ring(), sketch.tree()]
    allowances = (catalog.allowance("mated pair").worst_source, catalog.allowance("splice").worst_source)
    sources = (catalog.fiber(GRADE).attenuation_source, *allowances, OF_STANDARD, SWITCH)
    return Layouts(
        core=core,
        places=tuple(wanted),
        layouts=tuple(sorted(found, key=lambda layout: layout.cost)),
        sources=(*sources, prices_source()),
    )


class _Sketch:
    """The ground that all layouts of one comparison share."""

    def __init__(
        self,
        plant: Plant,
        core: str,
        places: list[str],
        catalog: Catalog,
        spare_percent: float,
        strands: int,
        listed: Mapping[str, float],
    ) -> None:
        self.plant, self.core, self.places, self.spare = plant, core, places, spare_percent
        self.strands, self.listed, self.prices = strands, listed, work_prices(listed)
        fiber = catalog.fiber(GRADE)
        self.db_per_m = fiber.attenuation_db_per_km[WAVELENGTH_NM] / 1000
        self.pair_db, self.splice_db = (catalog.allowance(n).worst_db for n in ("mated pair", "splice"))
        self.graph = nx.Graph()
        for way in plant.ways:
            length_m = way.length_m + abs(way.rise_m)
            known = self.graph.get_edge_data(way.start, way.end)
            usable = way.state != "dead" and way.kind != "rented"
            if usable and (known is None or length_m < known["length_m"]):
                self.graph.add_edge(way.start, way.end, length_m=length_m, way=way.id)
        for place in places:
            self.path(core, place)

    def path(self, start: str, end: str) -> tuple[tuple[str, ...], float]:
        """The shortest ways between two places and their length in m."""
        try:
            length, walk = nx.single_source_dijkstra(self.graph, start, end, weight="length_m")
        except (nx.NetworkXNoPath, nx.NodeNotFound) as error:
            names = " to ".join(self.plant.place_of[place].name for place in (start, end))
            raise PlantError("places", f"no way leads from {names}: add one") from error
        return tuple(self.graph.edges[a, b]["way"] for a, b in pairwise(walk)), float(length)

    def star(self) -> Layout:
        hops = [self.hop(self.core, place, self.strands) for place in self.places]
        lengths = {hop.end: hop.length_m for hop in hops}
        return self.layout("star", hops, lengths, pairs=2, splices=0, ports=len(hops), active=0)

    def chain(self) -> Layout:
        order = self.visiting()
        hops, lengths, walked = [], {}, 0.0
        for here, onward in pairwise([self.core, *order]):
            hop = self.hop(here, onward, self.strands * len(order))
            walked += hop.length_m
            lengths[onward] = walked
            hops.append(hop)
        return self.layout("tapped chain", hops, lengths, pairs=2, splices=1, ports=len(order), active=0)

    def ring(self) -> Layout:
        order = self.visiting()
        stops = [self.core, *order]
        hops = [self.hop(here, onward, self.strands) for here, onward in pairwise(stops)]
        hops.append(self.home(order[-1], {way for hop in hops for way in hop.ways}))
        lengths: dict[str, float] = defaultdict(float)
        for hop in hops:
            for place in (hop.start, hop.end):
                lengths[place] = max(lengths[place], hop.length_m)
        return self.layout("ring", hops, lengths, pairs=2, splices=0, ports=2, active=len(order))

    def tree(self) -> Layout:
        def spread(hub: str) -> float:
            return self.path(self.core, hub)[1] + sum(self.path(hub, p)[1] for p in self.places if p != hub)

        hub = min(self.places, key=spread)
        hops = [self.hop(self.core, hub, self.strands)]
        hops += [self.hop(hub, place, self.strands) for place in self.places if place != hub]
        lengths = {hop.end: hop.length_m for hop in hops}
        return self.layout("tree", hops, lengths, pairs=2, splices=0, ports=1, active=1, hub=hub)

    def visiting(self) -> list[str]:
        """The places in the order of a walk that always goes to the nearest one left."""
        here, left, order = self.core, list(self.places), []
        while left:
            here = min(left, key=lambda place: (self.path(here, place)[1], place))
            left.remove(here)
            order.append(here)
        return order

    def home(self, last: str, used: set[str]) -> _Hop:
        """The way back of a ring, over ways that it has not used where that is possible."""
        spare = nx.Graph()
        for way in self.plant.ways:
            if way.state != "dead" and way.kind != "rented":
                weight = (way.length_m + abs(way.rise_m)) * (1000.0 if way.id in used else 1.0)
                known = spare.get_edge_data(way.start, way.end)
                if known is None or weight < known["weight"]:
                    spare.add_edge(way.start, way.end, weight=weight, way=way.id)
        walk = nx.dijkstra_path(spare, last, self.core, weight="weight")
        ways = tuple(spare.edges[a, b]["way"] for a, b in pairwise(walk))
        length_m = sum(self.plant.way_of[w].length_m + abs(self.plant.way_of[w].rise_m) for w in ways)
        return _Hop(last, self.core, ways, length_m, self.sold(self.strands))

    def hop(self, start: str, end: str, strands: int) -> _Hop:
        ways, length_m = self.path(start, end)
        return _Hop(start, end, ways, length_m, self.sold(strands))

    def sold(self, strands: int) -> int:
        """The next number of strands that is sold, spares included."""
        wanted = math.ceil(strands * (1 + self.spare / 100))
        sizes = plant_figures().sold_strands
        return next((size for size in sizes if size >= wanted), wanted)

    def port_mbps(self, place: str) -> int:
        """The port that the fastest device at a place asks for; 1 Gb/s where none hangs there."""
        fastest = max((d.rate_mbps for d in self.plant.devices if d.place == place), default=0)
        return next((rate for rate in RATES_MBPS if rate >= fastest), fastest)

    def demand_mbps(self, place: str) -> float:
        found = sum(d.count * d.rate_mbps for d in self.plant.devices if d.place == place)
        return float(found or self.port_mbps(place))

    def layout(
        self,
        name: LayoutName,
        hops: list[_Hop],
        lengths: dict[str, float],
        *,
        pairs: int,
        splices: int,
        ports: int,
        active: int,
        hub: str = "",
    ) -> Layout:
        members = tuple(self.member(place, lengths[place], pairs, splices) for place in self.places)
        fastest = max(member.port_mbps for member in members)
        uplink = next((rate for rate in RATES_MBPS if rate > fastest), RATES_MBPS[-1])
        switches = math.ceil(ports / PORTS_PER_SWITCH)
        carried = sum(m.port_mbps for m in members) if ports == len(members) else ports * fastest
        demand = sum(self.demand_mbps(place) for place in self.places)
        dark, at, kind = self.worst_fault(hops, {hub} if hub else set(self.places) if active else set())
        passive = name in ("star", "tapped chain")
        links = len(self.places) if passive else len(hops)
        return Layout(
            name=name,
            order=tuple(hop.end for hop in hops if hop.end != self.core),
            cable_m=sum(hop.length_m for hop in hops),
            strand_m=sum(hop.length_m * hop.strands for hop in hops),
            strands_at_core=sum(hop.strands for hop in hops if self.core in (hop.start, hop.end)),
            joints=links * (pairs + splices),
            longest=max(members, key=lambda member: member.loss_db),
            members=members,
            fault_takes=len(dark),
            fault_at=self.fault_name(kind, at),
            fault_kind=kind,
            core_ports=ports,
            core_switches=switches,
            core_uplinks=switches * UPLINKS_PER_SWITCH,
            uplink_mbps=uplink,
            oversubscribed=demand / carried,
            cost=self.cost(hops, splices, switches, active),
            why=self.why(name, hub, len(dark), kind),
            warnings=self.warnings(name),
            hops=tuple(LayoutHop(**asdict(hop)) for hop in hops),
            dark=dark,
        )

    def member(self, place: str, length_m: float, pairs: int, splices: int) -> LayoutMember:
        loss = length_m * self.db_per_m + pairs * self.pair_db + splices * self.splice_db
        name = self.plant.place_of[place].name
        return LayoutMember(
            place=place, name=name, length_m=length_m, loss_db=loss, port_mbps=self.port_mbps(place)
        )

    def worst_fault(self, hops: list[_Hop], active: set[str]) -> tuple[tuple[str, ...], str, FaultKind]:
        """The most places that one fault leaves without the core: a cut way, a burnt cabinet, a dead switch.

        A cabinet (any place that a cable passes or is tapped at) takes its cables with it; a switch is what joins
        the hops at a place of a ring or a tree. The place of the fault itself is not counted.
        """
        over: dict[tuple[FaultKind, str], list[_Hop]] = defaultdict(list)
        for hop in hops:
            for way in hop.ways:
                over["way", way].append(hop)
            for place in self.passed(hop):
                over["cabinet", place].append(hop)
            for place in {hop.start, hop.end} - {self.core}:
                over["switch" if place in active else "cabinet", place].append(hop)
        worst: tuple[tuple[str, ...], str, FaultKind] = ((), "", "way")
        for (kind, name), cut in over.items():
            left = nx.Graph()
            left.add_nodes_from([self.core, *self.places])
            left.add_edges_from((hop.start, hop.end) for hop in hops if hop not in cut)
            lit = nx.node_connected_component(left, self.core)
            dark = tuple(p for p in self.places if p not in lit and (kind == "way" or p != name))
            if len(dark) > len(worst[0]):
                worst = (dark, name, kind)
        return worst

    def passed(self, hop: _Hop) -> list[str]:
        """The places between the ends of a hop, in which its cable could burn."""
        at, found = hop.start, []
        for way_id in hop.ways:
            way = self.plant.way_of[way_id]
            at = way.end if at == way.start else way.start
            found.append(at)
        return [place for place in found if place not in (hop.start, hop.end, self.core)]

    def cost(self, hops: list[_Hop], splices: int, switches: int, active: int) -> float:
        """All cable, glass, joints, modules and switches by the project's price list."""
        prices = self.prices
        metres = sum(h.length_m * (prices.pull_per_m + prices.cable_per_m) for h in hops)
        glass = sum(h.length_m * h.strands * prices.strand_per_m for h in hops)
        modules = sum(2 * self.module_price(self.port_mbps(place)) for place in self.places)
        joints = len(self.places) * 2 * splices * prices.splice_each
        panels = sum(2 * math.ceil(h.strands / 2) * prices.panel_each for h in hops)
        return (
            metres
            + glass
            + modules
            + joints
            + panels
            + switches * prices.switch_each
            + active * prices.small_switch_each
        )

    def module_price(self, rate_mbps: int) -> float:
        return self.listed.get(f"module {_MODULES.get(rate_mbps, _MODULES[100_000])}", self.prices.module_each)

    def fault_name(self, kind: FaultKind, at: str) -> str:
        if not at:
            return ""
        if kind == "way":
            return self.plant.way_of[at].name
        return f"{'the switch at ' if kind == 'switch' else ''}{self.plant.place_of[at].name}"

    def warnings(self, name: LayoutName) -> tuple[str, ...]:
        """What a long chain or ring brings along."""
        count = len(self.places)
        if name == "tapped chain" and count > LONG_CHAIN:
            return (
                f"{count} places hang on one cable: a fault takes all behind it, and each closure is one to open "
                f"when it is sought. More than {LONG_CHAIN} are better split over two cables.",
            )
        if name == "ring" and count > LONG_RING:
            return (
                f"{count} switches stand in one ring: the usual timers of the spanning tree are made for at most "
                f"{LONG_RING} in a row. Split it, or take a ring protocol of the switches' make.",
            )
        return ()

    def why(self, name: LayoutName, hub: str, takes: int, kind: FaultKind) -> str:
        middle = self.plant.place_of[hub].name if hub else "a hub"
        words: dict[LayoutName, str] = {
            "star": "A cable of its own for each place: what fails there stays there.",
            "tapped chain": "One cable past all places, two strands leave it at each: little cable, many share it.",
            "ring": "From place to place and home again, a switch at each: loop prevention must be on first.",
            "tree": f"A trunk to {middle}, and a star from a switch there.",
        }
        fault = "no place" if takes == 0 else f"{takes} of {len(self.places)} places"
        what = {"way": "One cut way", "cabinet": "One burnt cabinet", "switch": "One dead switch"}[kind]
        return f"{words[name]} {what} takes {fault}."
