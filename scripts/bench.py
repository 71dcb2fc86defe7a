"""Speed and memory as ratios in one run. Run by `make bench`; exits 1 when a ratio misses its mark.

Milliseconds are printed for orientation and gate nothing.
"""

from __future__ import annotations

import gzip
import itertools
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import bench_acceptance
import bench_browser
import bench_large
import bench_materials
import bench_pages
import bench_plant
import bench_polarity
import bench_soak
import bench_turnup
from bench_links import COUNT, diverse_links, many_links
from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy import insert, select

from passerelle.api.app import STATIC, create_app
from passerelle.core.batch import figures_of, forget_kinds
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.review import review
from passerelle.core.selection.question import answer
from passerelle.core.selection.wish import Question
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.plan_file import write_plan
from passerelle.store import projects
from passerelle.store.database import Database
from passerelle.store.tables import EntryRow

PROGRAM = str(Path(sys.executable).with_name("passerelle"))


def timed(action: Callable[[], object]) -> float:
    """Seconds that one call takes."""
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


def median_of(action: Callable[[], object], times: int) -> float:
    """Median seconds of several calls."""
    return statistics.median(timed(action) for _ in range(times))


def batch() -> list[tuple[str, bool]]:
    """The batch over even and diverse links, against the plain review of each by itself."""
    catalog, house = load_catalog(), HouseRules()
    even, diverse = list(many_links(COUNT)), list(diverse_links(COUNT))
    even_s, diverse_s = (min(_cold_s(links) for _ in range(3)) for links in (even, diverse))
    again_s = min(timed(lambda: figures_of(diverse, catalog, house)) for _ in range(3))
    some = diverse[:: COUNT // 400]
    plain_s = timed(lambda: [review(link, catalog, house, with_fixes=False, detail=False) for link in some])
    single_s = plain_s / len(some) * COUNT
    print(f"batch: {COUNT} even links {even_s:.2f} s, diverse {diverse_s:.2f} s, again {again_s:.2f} s")
    print(f"       the plain review of each of the diverse ones {single_s:.1f} s, without fixes and detail")
    return [
        (
            f"batch is {single_s / diverse_s:.1f} times faster than plain reviews (at least 3)",
            single_s >= 3 * diverse_s,
        ),
        (f"diverse links take {diverse_s / even_s:.2f} of even ones (at most 1.5)", diverse_s <= 1.5 * even_s),
    ]


def _cold_s(links: list[Link]) -> float:
    """Seconds of a batch that knows no kind yet."""
    forget_kinds()
    return timed(lambda: figures_of(links, load_catalog(), HouseRules()))


def commands() -> list[tuple[str, bool]]:
    """Commands as whole processes: the check of a plan beside reading its JSON, figures beside two imports."""
    marks = []
    with tempfile.TemporaryDirectory() as folder:
        for name, links in (("even", many_links(COUNT)), ("diverse", diverse_links(COUNT))):
            path = Path(folder) / f"{name}.json"
            path.write_text(write_plan(name, HouseRules(), [with_ids(link) for link in links]))
            bare_s = min(_json_s(path) for _ in range(3))
            whole_s = min(timed(lambda path=path: _run([PROGRAM, "check", str(path)])) for _ in range(2))
            ratio = whole_s / bare_s
            marks.append(
                (f"check of {COUNT} {name} links takes {ratio:.1f} times json.loads (at most 8)", ratio <= 8)
            )
    bare_s = min(timed(lambda: _run([sys.executable, "-c", "import pydantic, numpy"])) for _ in range(5))
    for words in (
        ["--help"],
        ["reach", "10GBASE-SR", "OM4"],
        ["budget", "--application", "10GBASE-SR", "--fiber", "OM3", "--length", "90m"],
    ):
        ratio = min(timed(lambda words=words: _run([PROGRAM, *words])) for _ in range(5)) / bare_s
        marks.append((f"'{' '.join(words)}' takes {ratio:.1f} times two imports (at most 2.5)", ratio <= 2.5))
    return marks


def _json_s(path: Path) -> float:
    """Seconds of reading a file's JSON and nothing else, in a process of its own without the cycle collector."""
    script = (
        "import gc, json, sys, time; gc.disable(); text = open(sys.argv[1]).read(); start = time.perf_counter();"
        "json.loads(text); print(time.perf_counter() - start)"
    )
    told = subprocess.run([sys.executable, "-c", script, str(path)], capture_output=True, text=True, check=True)
    return float(told.stdout)


def _run(command: list[str]) -> None:
    subprocess.run(command, stdout=subprocess.DEVNULL, check=False)


def selection() -> list[tuple[str, bool]]:
    """All answers for one requirement against the review of as many ready chains in a batch."""
    catalog, house = load_catalog(), HouseRules()
    wishes = [
        Question(from_place="A", to_place="B", length_m=20 + n * 7 % 900, rate_mbps=rate)
        for n in range(250)
        for rate in (1000, 10_000, 25_000, 100_000)
    ]
    answers = [answer(wish, catalog, house) for wish in wishes[:40]]
    found = sum(len(one.options) + len(one.ruled_out) for one in answers)
    chains = [option.link for one in answers for option in one.options]
    chains = list(itertools.islice(itertools.cycle(chains), found))
    asking = min(timed(lambda: [answer(wish, catalog, house) for wish in wishes[:40]]) for _ in range(2))
    ready = min(timed(lambda: [figures_of(chains[n::40], catalog, house) for n in range(40)]) for _ in range(2))
    whole = timed(lambda: [answer(wish, catalog, house) for wish in wishes])
    print(f"selection: {len(wishes)} requirements in {whole:.1f} s, {whole / len(wishes) * 1000:.1f} ms each")
    return [
        (f"all answers take {asking / ready:.1f} times a review of as many chains (at most 3)", asking <= 3 * ready)
    ]


def memory() -> list[tuple[str, bool]]:
    """Peak memory of a process that does nothing but the batch.

    Read from its own address space: what getrusage tells of a child includes the parent that it was started from.
    """
    script = (
        "import sys; sys.path.insert(0, 'scripts'); import bench_links as bench;"
        "from passerelle.core.batch import figures_of; from passerelle.core.house import HouseRules;"
        "figures_of(list(bench.many_links(bench.COUNT)), bench.load_catalog(), HouseRules());"
        "status = open('/proc/self/status').read();"
        "print(status.split('VmHWM:')[1].split()[0])"
    )
    answer = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    peak_mb = int(answer.stdout.split()[-1]) / 1024
    return [(f"peak memory of the batch is {peak_mb:.0f} MB (at most 300)", peak_mb <= 300)]


def edit() -> list[tuple[str, bool]]:
    """One edit through the api against an endpoint of the same app that commits one row."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "bench.sqlite")
        with database.write() as session:
            projects.create_project(session, "bench", demo_links(), HouseRules(), demo_plant())
        app = create_app(database)
        _commit_endpoint(app, database)
        client = TestClient(app, base_url="http://localhost")
        lengths = itertools.count(100)

        def one_edit() -> None:
            link = client.get("/api/v1/links/6").json()
            change = {"op": "set", "element": "run-1", "values": {"length_m": next(lengths)}}
            body = {"revision": link["revision"], "edits": [change]}
            edits.append(timed(lambda: client.post("/api/v1/links/6/edits", json=body).raise_for_status()))

        edits: list[float] = []
        for _ in range(40):
            one_edit()
        commit = median_of(lambda: client.post("/api/v1/bench-commit").raise_for_status(), 40)
        edited = statistics.median(edits)
        database.close()
    print(f"edit: {edited * 1000:.1f} ms; bare commit {commit * 1000:.1f} ms")
    return [(f"an edit takes {edited / commit:.2f} times a bare commit (at most 3)", edited <= 3 * commit)]


def _commit_endpoint(app: FastAPI, database: Database) -> None:
    def commit() -> dict[str, int]:
        with database.write() as session:
            row = session.scalars(select(EntryRow).limit(1)).first()
            values = {"project_id": 1, "label": "bench", "state": "dropped", "changes": [], "link_id": None}
            session.execute(insert(EntryRow).values(**values, at=row.at if row else time_now()))
        return {"ok": 1}

    app.router.routes = [r for r in app.router.routes if getattr(r, "path", "") != "/{path:path}"]
    app.post("/api/v1/bench-commit")(commit)


def time_now() -> object:
    """Now, as the history stores it."""
    return datetime.now(UTC).replace(tzinfo=None)


def script_size() -> list[tuple[str, bool]]:
    """The script that the first view loads."""
    names = list((STATIC / "assets").glob("index-*.js"))
    size_kb = sum(len(gzip.compress(path.read_bytes())) for path in names) / 1000
    return [(f"initial script is {size_kb:.0f} kB gzipped (under 300)", 0 < size_kb < 300)]


def main() -> int:
    """Run all and say what missed."""
    parts = (
        *(batch, commands, selection, memory, edit, bench_plant.report, bench_large.report),
        bench_polarity.polarity,
        bench_materials.materials,
        bench_acceptance.acceptance,
        bench_turnup.turnup,
        bench_pages.pages,
        *(script_size, bench_soak.soak),
    )
    marks = [mark for part in parts for mark in part()]
    bench_browser.report("the demo", demo_links(), demo_plant())
    bench_browser.lens(*bench_polarity.wide_and_narrow())
    bench_browser.report("5,000 links", list(diverse_links(5000)))
    for text, kept in marks:
        print(f"{'ok  ' if kept else 'MISS'} {text}")
    print(f"(peak memory of this run {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB)")
    return 0 if all(kept for _, kept in marks) else 1


if __name__ == "__main__":
    sys.exit(main())
