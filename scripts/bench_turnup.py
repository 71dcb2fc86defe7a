"""Turn-up: boxes polled, the next look of a dark link, trees of many bridges, hand-overs of many links."""

from __future__ import annotations

import asyncio
import multiprocessing
import random
import resource
import statistics
import tempfile
import time
from collections.abc import Callable
from multiprocessing.synchronize import Event
from pathlib import Path
from typing import Any

import networkx as nx
from bench_browser import served
from bench_links import diverse_links
from chromium import CHROMIUM, FLAGS
from playwright.sync_api import sync_playwright
from pysnmp.hlapi.v3arch import asyncio as hlapi

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.turnup.belief import Answer, Case, Fault, Look, diagnose
from passerelle.core.turnup.bridges import Bridge, BridgeLink, LinkEnd, Network, path_cost
from passerelle.core.turnup.handover import handover_of
from passerelle.core.turnup.tree import tree_of
from passerelle.demo.network import demo_project
from passerelle.equipment.boxes import Poller, Wanted
from passerelle.equipment.credentials import Credentials
from passerelle.equipment.objects import oid
from passerelle.exchange.handover import Head, files_of, handover_pdf, signed_package, verified
from passerelle.exchange.plan_file import write_plan
from passerelle.exchange.signing import SigningKey

BOXES, PORTS, PLANNED = 20, 48, 12
BRIDGES, LINKS = 1000, 500
COMMUNITY = "bench"
_SENSORS = (("temperature", 8, 9), ("supply", 4, 8), ("transmit power", 6, 6), ("receive power", 6, 6))


def timed(work: Callable[[], object], runs: int = 3) -> float:
    """The middle of some runs, in seconds."""
    found = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def objects(number: int) -> dict[tuple[int, ...], Any]:
    """A box of 48 ports, each with a module of four sensors; no two boxes read alike."""
    chance = random.Random(number)
    found: dict[tuple[int, ...], Any] = {oid("system", "up_time"): 1000, oid("system", "name"): f"box {number}"}
    for port in range(1, PORTS + 1):
        found[*oid("interface", "name"), port] = f"1/{port}"
        found[*oid("interface", "admin"), port] = 1
        found[*oid("interface", "oper"), port] = chance.choice((1, 2))
        found[*oid("interface", "rate_mbps"), port] = 10_000
        found[*oid("interface", "errors_in"), port] = chance.randrange(100)
        found[*oid("interface", "octets_in"), port] = chance.randrange(10**9)
        found[*oid("entity", "alias"), 1000 + port, 0] = (1, 3, 6, 1, 2, 1, 2, 2, 1, 1, port)
        found[*oid("entity", "within"), 1000 + port] = 0
        found[*oid("entity", "within"), 2000 + port] = 1000 + port
        for n, (words, kind, scale) in enumerate(_SENSORS):
            sensor = 10_000 + 10 * port + n
            found[*oid("entity", "within"), sensor] = 2000 + port
            found[*oid("entity", "name"), sensor] = words
            found[*oid("sensor", "type"), sensor] = kind
            found[*oid("sensor", "scale"), sensor] = scale
            found[*oid("sensor", "precision"), sensor] = 0
            found[*oid("sensor", "value"), sensor] = chance.randrange(1000, 900_000)
            found[*oid("sensor", "status"), sensor] = 1
    return found


def _serve(numbers: list[int], ports: Any, stop: Event) -> None:
    from passerelle.standins.agent import Agents, Table

    agents = Agents()
    for number in numbers:
        made = objects(number)
        table = Table(lambda made=made: made, lambda _at, _value: None)
        table.refresh()
        table.refresh = lambda: None  # type: ignore[method-assign]  # they do not change: sorting is not measured
        ports[number] = agents.start(str(number), 0, table, community=COMMUNITY).port
    stop.wait()
    agents.stop()


async def _bare(ports: list[int], asked: list[tuple[int, ...]]) -> int:
    """The package by itself, asking the same objects of all boxes at once."""
    engine, secret = hlapi.SnmpEngine(), hlapi.CommunityData(COMMUNITY, mpModel=1)

    async def one(port: int) -> int:
        target = await hlapi.UdpTransportTarget.create(("127.0.0.1", port), timeout=2, retries=1)
        got = 0
        for at in range(0, len(asked), 20):
            some = [hlapi.ObjectType(hlapi.ObjectIdentity(name)) for name in asked[at : at + 20]]
            answer = await hlapi.get_cmd(
                engine,
                secret,
                target,
                hlapi.ContextData(),
                *some,
                lookupMib=False,
            )
            got += len(answer[3])
        return got

    count = sum(await asyncio.gather(*(one(port) for port in ports)))
    engine.close_dispatcher()
    return count


def same_objects() -> list[tuple[int, ...]]:
    """What is asked of the planned ports of a box once it is known how it is built."""
    ports = range(1, PLANNED + 1)
    asked = [oid("system", "up_time"), oid("system", "name")]
    asked += [oid("bridge", name) for name in ("address", "priority", "protocol", "version", "path_cost")]
    columns = ("admin", "oper", "rate_mbps", "errors_in", "octets_in")
    asked += [(*oid("interface", column), port) for port in ports for column in columns]
    asked += [(*oid("mau", column), port, 1) for port in ports for column in ("type", "negotiation")]
    asked += [(*oid("aggregation", "attached"), port) for port in ports]
    asked += [(*oid("power", "status"), 1, port) for port in ports]
    for port in ports:
        for n in range(len(_SENSORS)):
            asked += [(*oid("sensor", column), 10_000 + 10 * port + n) for column in ("value", "status")]
        asked += [(*oid("entity", column), 2000 + port) for column in ("description", "serial", "model")]
    return [*asked, oid("neighbor", "name"), oid("neighbor", "port")]


def polling() -> tuple[str, bool]:
    """20 boxes of 48 ports in other processes: planned ports read, against the bare package asking the same."""
    context = multiprocessing.get_context("spawn")
    with context.Manager() as manager:
        ports, stop = manager.dict(), context.Event()
        halves = [list(range(n, BOXES, 2)) for n in range(2)]
        servers = [context.Process(target=_serve, args=(half, ports, stop), daemon=True) for half in halves]
        for server in servers:
            server.start()
        while len(ports) < BOXES:
            time.sleep(0.1)
        names = tuple(f"1/{n}" for n in range(1, PLANNED + 1))
        wanted = [Wanted(f"127.0.0.1:{port}", Credentials(community=COMMUNITY), names) for port in ports.values()]
        poller = Poller()
        start = time.perf_counter()
        first = poller.read(wanted)
        built = time.perf_counter() - start
        assert all(not box.trouble and len(box.ports) == PLANNED for box in first), [b.trouble for b in first]
        mine = timed(lambda: poller.read(wanted))
        asked = same_objects()
        plain = timed(lambda: asyncio.run(_bare(list(ports.values()), asked)))
        poller.close()
        stop.set()
        for server in servers:
            server.join(5)
    told = f"{mine:.2f} s, bare package asking the same {plain:.2f} s: {mine / plain:.2f} x (at most 1.5)"
    return (
        f"20 boxes of 48 ports, {PLANNED} planned each: {told}; the first time {built:.1f} s",
        mine / plain <= 1.5,
    )


def any_case(faults: int = 60, looks: int = 40) -> Case:
    """A case of many faults and looks, all different."""
    chance = random.Random(3)
    names = [f"f{n}" for n in range(faults)]
    made = []
    for number in range(looks):
        outcomes: dict[str, dict[str, float]] = {f"o{o}": {} for o in range(4)}
        for name in names:
            shares = [chance.random() ** 3 for _ in range(4)]
            for o, share in enumerate(shares):
                outcomes[f"o{o}"][name] = share / sum(shares)
        made.append(Look(name=f"t{number}", minutes=chance.uniform(1, 40), outcomes=outcomes))
    return Case(
        tuple(Fault(name=n, prior=chance.random(), cure_min=chance.uniform(2, 90)) for n in names), tuple(made)
    )


def next_look() -> str:
    """The next look for 60 faults and 40 looks after some answers, in the core."""
    case = any_case()
    seen = [Answer(test=f"t{n}", outcome="o1") for n in range(5)]
    return f"next look of 40 for 60 faults: {timed(lambda: diagnose(case, seen), 9) * 1e3:.1f} ms in the core"


ANSWER = """() => new Promise((done) => {
  const button = [...document.querySelectorAll("[data-look='worked'] button")][0];
  const start = performance.now();
  new MutationObserver((_, watch) => {
    if (document.querySelector("[data-answer='worked']")) {
      watch.disconnect();
      requestAnimationFrame(() => done(performance.now() - start));
    }
  }).observe(document.querySelector("main"), { subtree: true, childList: true, characterData: true });
  button.click();
})"""


def in_browser() -> str:
    """From an answer to the next look on the screen: 61 faults and 40 looks, the answer stored between."""
    times = []
    with served(*demo_project()) as address, sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(base_url=address)
        page.goto("/turnup/11")
        page.get_by_role("button", name="It is dark").click()
        for _ in range(9):
            page.locator("[data-look='worked'] button").first.wait_for()
            page.wait_for_timeout(300)
            times.append(page.evaluate(ANSWER))
            page.locator("[data-answer='worked'] button").click()
        browser.close()
    told = f"{min(times):.0f} to {max(times):.0f} ms, middle {statistics.median(times):.0f} (aim 100)"
    return f"answer to next look in the browser: {told}"


def trees() -> tuple[str, bool]:
    """The tree of 1,000 bridges against shortest paths of a plain graph library over the same graph."""
    chance = random.Random(4)
    ends = [(n, chance.randrange(n)) for n in range(1, BRIDGES)]
    ends += [tuple(chance.sample(range(BRIDGES), 2)) for _ in range(BRIDGES // 2)]  # type: ignore[misc]
    used = [0] * BRIDGES
    links = []
    for a, b in ends:
        used[a], used[b] = used[a] + 1, used[b] + 1
        left, right = LinkEnd(bridge=f"b{a}", port=str(used[a])), LinkEnd(bridge=f"b{b}", port=str(used[b]))
        links.append(BridgeLink(a=left, b=right, rate_mbps=chance.choice((1000, 10_000, 100_000))))
    bridges = [Bridge(name=f"b{n}", address=f"{n:012x}", protocol="RSTP") for n in range(BRIDGES)]
    found = Network(bridges=tuple(bridges), links=tuple(links), path_cost="long")

    def plain() -> dict[str, float]:
        graph = nx.MultiGraph()
        for link in found.links:
            graph.add_edge(link.a.bridge, link.b.bridge, weight=path_cost(link.rate_mbps, "long"))
        return dict(nx.single_source_dijkstra_path_length(graph, "b0"))

    costs = plain()
    tree = tree_of(found)
    assert tree.root == "b0"
    roots = {one.bridge: one.cost_to_root for one in tree.ports if one.role == "root"}
    assert all(costs[name] == cost for name, cost in roots.items())
    mine, other = timed(lambda: tree_of(found)), timed(plain)
    told = f"{mine * 1e3:.0f} ms, distances alone by a graph library {other * 1e3:.0f} ms: {mine / other:.1f} x"
    return f"tree of 1,000 bridges, {len(links)} links: {told} (at most 12)", mine / other <= 12


def handovers() -> str:
    """A hand-over of 500 diverse links: reckoned, printed, signed, and checked."""
    catalog, house = load_catalog(), HouseRules()
    links = list(diverse_links(LINKS))
    head = Head("project", "", "bench", 1, "bench", "2026-11-26")
    with tempfile.TemporaryDirectory() as folder:
        key = SigningKey.beside(Path(folder) / "bench.sqlite")
        start = time.perf_counter()
        told = [handover_of(link, [], catalog, house) for link in links]
        reckoned = time.perf_counter() - start
        files = files_of(write_plan("bench", house, links), told, [], {})
        body, _ = signed_package(
            files, head, lambda digest, public: handover_pdf(head, told, [], digest, public), key
        )
        whole = time.perf_counter() - start
        start = time.perf_counter()
        assert verified(body, key=key.public).proven
        checked = time.perf_counter() - start
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return (
        f"hand-over of {LINKS} diverse links: {reckoned:.1f} s reckoned, {whole:.1f} s with sheet and signature, "
        f"{len(body) / 2**20:.1f} MiB, checked in {checked:.2f} s, {peak:.0f} MiB at most in this process"
    )


def turnup() -> list[tuple[str, bool]]:
    """All four; the first two have a mark to keep."""
    told = [polling(), trees()]
    print(next_look())
    print(in_browser())
    print(handovers())
    return told


if __name__ == "__main__":
    for words, kept in turnup():
        print(words, "" if kept else "MISSED")
