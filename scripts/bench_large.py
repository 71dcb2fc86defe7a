"""Twenty thousand links as people draw them, a fifth of them on a campus, through the real program.

First rows after a start, an edit beside one in an empty project, the list anew, memory after export and import.
"""

from __future__ import annotations

import statistics
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import bench_plant
from bench_links import diverse_links
from bench_soak import Server

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.build import LinkEnd, build_link
from passerelle.core.link.chain import Link
from passerelle.store import projects
from passerelle.store.database import Database

LINKS, ON_PLANT = 20_000, 4_000
FIRST_ROWS_S, MEMORY_MB, EDIT_TIMES = 2.0, 350, 2.0


def report() -> list[tuple[str, bool]]:
    """The measures and whether each is met."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.sqlite"
        _fill(path)
        server = Server(path, "serve")
        try:
            return list(_measures(server))
        finally:
            server.process.kill()
            server.process.wait()


def _fill(path: Path) -> None:
    plant, riding = bench_plant.campus()
    database = Database(path)
    with database.write() as session:
        links = [*riding[:ON_PLANT], *diverse_links(LINKS - ON_PLANT)]
        projects.create_project(session, "large", links, HouseRules(), plant)
        projects.create_project(session, "small", [_one()], HouseRules())
    database.close()


def _one() -> Link:
    near, far = (LinkEnd(place, "1", "SFP+", (10_000,)) for place in ("A", "B"))
    return build_link("one", near, far, "10GBASE-LR", ("OS2",), 300, load_catalog())


def _measures(server: Server) -> Iterator[tuple[str, bool]]:
    page = "/projects/1/links/page?after=0&most=200"
    first_s = timed(lambda: server.call(page))
    yield (
        f"{LINKS} links: first rows {first_s:.2f} s after a start (at most {FIRST_ROWS_S})",
        first_s <= FIRST_ROWS_S,
    )
    whole_s = timed(lambda: server.call("/projects/1/links"))
    server.kill()
    again_s = timed(lambda: server.call("/projects/1/links"))
    yield f"{LINKS} links: all rows judged in {whole_s:.1f} s, after another start read in {again_s:.2f} s", True
    riding, alone = (_edits_s(server, number) for number in (5, LINKS + 1))
    told = f"an edit on the plant {riding * 1000:.0f} ms among {LINKS} links, {alone * 1000:.0f} ms among none"
    yield f"{told}: {riding / alone:.2f} times (at most {EDIT_TIMES:g})", riding <= EDIT_TIMES * alone
    seen = server.call("/projects/1")["revision"]
    _edits_s(server, 5, times=1)
    news_s = timed(lambda: server.call(f"/projects/1/links/news?since={seen}"))
    yield f"the news of the list after it: {news_s * 1000:.0f} ms", True
    largest = _exchanged(server)
    yield (
        f"memory of all its processes after export and import {largest:.0f} MB (at most {MEMORY_MB})",
        (largest <= MEMORY_MB),
    )


def _edits_s(server: Server, link: int, times: int = 25) -> float:
    def one(number: int) -> float:
        known = server.call(f"/links/{link}")
        wish = {"revision": known["revision"], "edits": [{"op": "describe", "values": {"notes": f"note {number}"}}]}
        return timed(lambda: server.call(f"/links/{link}/edits", "POST", wish))

    return statistics.median(one(number) for number in range(times))


def _exchanged(server: Server) -> float:
    """Megabytes once the plan was written, read as another project, and plant and list were looked at."""
    address = f"http://127.0.0.1:{server.port}/api/v1/projects/1/plan?with_history=true"
    with urllib.request.urlopen(address, timeout=600) as answer:
        text = answer.read().decode()
    server.call("/projects/open", "POST", {"text": text})
    for path in ("/projects/1/plant", "/projects/1/links", "/projects/3/links/page"):
        server.call(path)
    time.sleep(2)
    return server.memory_mb()


def timed(action: Callable[[], Any]) -> float:
    """Seconds that one call takes."""
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


if __name__ == "__main__":
    for line, met in report():
        print("ok  " if met else "MISS", line)
