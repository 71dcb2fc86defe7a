"""A generated campus: outages in one pass against cutting each element, the plant through the api, memory."""

from __future__ import annotations

import json
import random
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import networkx as nx
from fastapi.testclient import TestClient

from passerelle.api.app import create_app
from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.build import LinkEnd, build_link
from passerelle.core.link.chain import Link
from passerelle.core.parts.kinds.run import Run
from passerelle.core.plant.outages import Rider, outage_of, outages, parts_of
from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.riders import laid
from passerelle.core.plant.site import Plant
from passerelle.store import projects
from passerelle.store.database import Database

PLACES, WAYS, CABLES, LINKS = 500, 1500, 2000, 10_000


def campus() -> tuple[Plant, list[Link]]:
    """A campus on a grid: 500 places, 1,500 ways, 2,000 cables along shortest ways, 10,000 links on them."""
    rng = random.Random(7)
    places = tuple(
        Place(id=f"p{i}", name=f"place {i}", east_m=i % 25 * 80, north_m=i // 25 * 80) for i in range(PLACES)
    )
    ends = {
        (i, i + step)
        for i in range(PLACES)
        for step in (1, 25, 26)
        if i + step < PLACES and (i % 25 < 24 or step == 25)
    }
    while len(ends) < WAYS:
        a, b = sorted(rng.sample(range(PLACES), 2))
        if b - a < 60:
            ends.add((a, b))
    ways = tuple(
        Way(id=f"w{n}", name=f"way {n}", start=f"p{a}", end=f"p{b}", length_m=80)
        for n, (a, b) in enumerate(sorted(ends)[:WAYS])
    )
    graph = nx.Graph()
    for way in ways:
        graph.add_edge(way.start, way.end, way=way.id)
    cables = []
    while len(cables) < CABLES:
        far = f"p{rng.randrange(1, PLACES)}"
        near = "p0" if rng.random() < 0.6 else f"p{rng.randrange(PLACES)}"
        if near == far or near not in graph or far not in graph or not nx.has_path(graph, near, far):
            continue
        path = nx.shortest_path(graph, near, far)
        along = tuple(graph.edges[a, b]["way"] for a, b in pairwise(path))
        name = f"cable {len(cables)}"
        cables.append(Cable(id=f"c{len(cables)}", name=name, ways=along, fiber=("OS2",), strands=24, slack_m=10))
    plant = Plant(places=places, ways=ways, cables=tuple(cables))
    return plant, [laid(link, plant) for link in _links(plant)]


def _links(plant: Plant) -> list[Link]:
    catalog = load_catalog()
    near, far = (LinkEnd("x", "1", "SFP+", (10_000,)) for _ in range(2))
    base = build_link("link", near, far, "10GBASE-LR", ("OS2",), 1, catalog)
    links = []
    for number in range(LINKS):
        cable = plant.cables[number % CABLES]
        path = plant.path_of[cable.id]
        first = 2 * (number // CABLES) + 1
        elements = []
        for element in base.elements:
            if isinstance(element, Run):
                element = element.model_copy(update={"part": cable.id, "positions": (first, first + 1)})
            elif element.kind == "port":
                at = path[0] if element is base.elements[0] else path[-1]
                element = element.model_copy(update={"place": plant.place_of[at].name})
            elements.append(element)
        links.append(base.model_copy(update={"name": f"link {number}", "elements": tuple(elements)}))
    return links


def riders_of(links: list[Link]) -> list[Rider]:
    """The links as the plant sees them."""
    riders = []
    for number, link in enumerate(links):
        run = next(e for e in link.elements if isinstance(e, Run))
        ends = link.elements[0].place, link.elements[-1].place  # type: ignore[union-attr]
        riders.append(Rider(number, link.name, *ends, 10_000, (run.part,), (run.positions,)))
    return riders


def timed(action: Callable[[], object]) -> float:
    """Seconds that one call takes."""
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


def report() -> list[tuple[str, bool]]:
    """All outages against each cut by itself; the rest for orientation."""
    answer = subprocess.run([sys.executable, __file__], capture_output=True, text=True, check=True)
    found = json.loads(answer.stdout.splitlines()[-1])
    all_s, each_s, bare_s, batch_s = (found[f"{name}_s"] for name in ("all", "each", "bare", "batch"))
    print(f"campus: {PLACES} places, {WAYS} ways, {CABLES} cables, {LINKS} links on {found['elements']} elements")
    print(f"  all outages {all_s:.2f} s; each cut by itself {each_s:.0f} s (from {found['sample']} of them)")
    print(f"  a bare pass over all links' parts {bare_s:.2f} s; all outages take {all_s / bare_s:.1f} times that")
    print(f"  review of all links in a batch {batch_s:.2f} s; all outages take {all_s / batch_s:.1f} times that")
    print(f"  the whole plant through the api {found['api_s']:.2f} s, one cure {found['cure_s']:.2f} s")
    print(f"  peak memory {found['peak_mb']:.0f} MB")
    ratio = each_s / all_s
    return [(f"all outages are {ratio:.0f} times faster than cutting each element (at least 20)", ratio >= 20)]


def measure() -> dict[str, float]:
    """The measures, in a process of their own."""
    plant, links = campus()
    riders = riders_of(links)
    all_s = min(timed(lambda: outages(plant, riders)) for _ in range(2))
    bare_s = timed(lambda: [parts_of(rider, plant) for rider in riders])
    parts = sorted({part for rider in riders for part in parts_of(rider, plant)})
    sample = parts[:: max(1, len(parts) // 12)]
    each_s = timed(lambda: [outage_of(part, plant, riders) for part in sample]) / len(sample) * len(parts)
    batch_s = timed(lambda: figures_of(links, load_catalog(), HouseRules()))
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "campus.sqlite")
        with database.write() as session:
            projects.create_project(session, "campus", links, HouseRules(), plant)
        client = TestClient(create_app(database), base_url="http://localhost")
        api_s = timed(lambda: client.get("/api/v1/projects/1/plant").raise_for_status())
        cut = "/api/v1/projects/1/plant/cures?kind=way&id=w0"
        cure_s = timed(lambda: client.get(cut).raise_for_status())
        database.close()
    peak_mb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    times = {
        "all_s": all_s,
        "bare_s": bare_s,
        "each_s": each_s,
        "batch_s": batch_s,
        "api_s": api_s,
        "cure_s": cure_s,
    }
    return {**times, "peak_mb": peak_mb, "elements": len(parts), "sample": len(sample)}


if __name__ == "__main__":
    print(json.dumps(measure()))
