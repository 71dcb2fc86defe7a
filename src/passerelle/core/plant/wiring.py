"""Which device hangs on which switch, and how long its pairs are."""

from __future__ import annotations

from collections import defaultdict
from itertools import pairwise
from typing import NamedTuple

import networkx as nx

from passerelle.core.plant.records import Device
from passerelle.core.plant.site import Plant


class Pairs(NamedTuple):
    """The twisted pairs to a device: their length in m, and whether they hang between poles on the way."""

    device: Device
    length_m: float
    aerial: bool = False


def device_pairs(plant: Plant) -> dict[str, list[Pairs]]:
    """The devices that are fed over twisted pair, by the place of their switch, with their pairs.

    The length is that of the shortest ways between the two places, 0 in the same place, and infinite where no way
    leads there.
    """
    graph = nx.Graph()
    graph.add_nodes_from(place.id for place in plant.places)
    for way in plant.ways:
        length_m = way.length_m + abs(way.rise_m)
        known = graph.get_edge_data(way.start, way.end)
        if way.state != "dead" and (known is None or length_m < known["length_m"]):
            graph.add_edge(way.start, way.end, length_m=length_m, aerial=way.kind == "aerial")
    found: dict[str, list[Pairs]] = defaultdict(list)
    reach = {
        switch: nx.single_source_dijkstra(graph, switch, weight="length_m")
        for switch in dict.fromkeys(device.fed_from for device in plant.devices if device.fed_from)
    }
    for device in plant.devices:
        if device.fed_from:
            lengths, paths = reach[device.fed_from]
            steps = pairwise(paths.get(device.place, ()))
            aerial = any(graph.edges[step]["aerial"] for step in steps)
            length_m = float(lengths.get(device.place, float("inf")))
            found[device.fed_from].append(Pairs(device, length_m, aerial))
    return dict(found)
