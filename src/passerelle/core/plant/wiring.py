"""Which device hangs on which switch, and how long its pairs are."""

from __future__ import annotations

from collections import defaultdict

import networkx as nx

from passerelle.core.plant.site import Device, Plant


def device_lengths(plant: Plant) -> dict[str, list[tuple[Device, float]]]:
    """The devices that are fed over twisted pair, by the place of their switch, with the length of the pairs in m.

    The length is that of the shortest ways between the two places, 0 in the same place, and infinite where no way
    leads there.
    """
    graph = nx.Graph()
    graph.add_nodes_from(place.id for place in plant.places)
    for way in plant.ways:
        length_m = way.length_m + abs(way.rise_m)
        known = graph.get_edge_data(way.start, way.end)
        if way.state != "dead" and (known is None or length_m < known["length_m"]):
            graph.add_edge(way.start, way.end, length_m=length_m)
    found: dict[str, list[tuple[Device, float]]] = defaultdict(list)
    reach = {
        switch: nx.single_source_dijkstra_path_length(graph, switch, weight="length_m")
        for switch in dict.fromkeys(device.fed_from for device in plant.devices if device.fed_from)
    }
    for device in plant.devices:
        if device.fed_from:
            found[device.fed_from].append((device, float(reach[device.fed_from].get(device.place, float("inf")))))
    return dict(found)
