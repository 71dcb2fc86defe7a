"""Many at once, and a server that dies: what was confirmed is there, what was refused is counted.

For two minutes twenty people edit a link each, two import tables, one takes the plan file, and the server is killed
and started five times. Asked again is only what met a restart.
"""

from __future__ import annotations

import http.client
import json
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

NOT_NOW = (OSError, http.client.HTTPException)
"""What a request meets while the server is down or dies."""

PEOPLE, LINES, SECONDS = 20, 20_000, 120.0
PAUSE_S = 1.5  # of a person between two changes
KILLS_S = (3.0, 6.0, 9.0, 12.0, 118.0)
KINDS = [
    ("10GBASE-SR", "OM3", 90),
    ("10GBASE-LR", "OS2", 900),
    ("1000BASE-SX", "OM2", 200),
    ("1000BASE-LX10", "OS2", 4000),
]


@dataclass
class Tally:
    """What was seen."""

    confirmed: dict[int, int] = field(default_factory=dict)
    edits: int = 0
    refused: list[str] = field(default_factory=list)
    slowest_s: float = 0.0
    imports: int = 0
    exports: int = 0
    largest_mb: float = 0.0


class Server:
    """The real program over one file, killed and started anew."""

    def __init__(self, path: Path, serve: str = "demo") -> None:
        self.serve = serve
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.path = path
        self.up = threading.Event()
        self.start()

    def start(self) -> None:
        """Start it and wait until it answers."""
        program = str(Path(sys.executable).with_name("passerelle"))
        command = [program, self.serve, "--port", str(self.port), "--database", str(self.path)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        while True:
            try:
                self.call("/projects")
                break
            except NOT_NOW:
                time.sleep(0.1)
        self.up.set()

    def kill(self) -> None:
        """Kill it as a power cut would, and start it again."""
        self.up.clear()
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.start()

    def call(self, path: str, method: str = "GET", body: Any = None) -> Any:
        """One request; raises OSError where nobody answers."""
        data = None if body is None else json.dumps(body).encode()
        asked = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/v1{path}", data, {"Content-Type": "application/json"}, method=method
        )
        with urllib.request.urlopen(asked, timeout=300) as answer:
            return json.loads(answer.read())

    def memory_mb(self) -> float:
        """What it takes now, its own helpers included; what several share is counted once."""
        total = 0
        for folder in Path("/proc").glob("[0-9]*"):
            try:
                if int((folder / "stat").read_text().rsplit(")", 1)[1].split()[1]) == self.process.pid or (
                    folder.name == str(self.process.pid)
                ):
                    shares = (folder / "smaps_rollup").read_text().split("Pss:")[1]
                    total += int(shares.split()[0]) * 1024
            except (OSError, ValueError, IndexError):
                continue
        return total / 1e6


def soak() -> list[tuple[str, bool]]:
    """Runs it; answers with lines and whether each mark is met."""
    with tempfile.TemporaryDirectory() as folder:
        server, tally, over = Server(Path(folder) / "soak.sqlite"), Tally(), threading.Event()
        text = _table()
        people = [
            threading.Thread(target=_edit, args=(server, tally, over, n + 1), daemon=True) for n in range(PEOPLE)
        ]
        others = [
            *(threading.Thread(target=_import, args=(server, tally, over, text), daemon=True) for _ in range(2)),
            threading.Thread(target=_export, args=(server, tally, over), daemon=True),
        ]
        _prepare(server)
        began = time.monotonic()
        for thread in (*people, *others):
            thread.start()
        for at in KILLS_S:
            while time.monotonic() - began < at:
                time.sleep(0.5)
                tally.largest_mb = max(tally.largest_mb, server.memory_mb())
            server.kill()
        while time.monotonic() - began < SECONDS:
            time.sleep(0.5)
            tally.largest_mb = max(tally.largest_mb, server.memory_mb())
        over.set()
        for thread in people:
            thread.join()
        lost = _lost(server, tally)
        size = sum(path.stat().st_size for path in Path(folder).iterdir()) / 1e6
        server.process.kill()
        server.process.wait()
    return [
        (
            f"soak: {tally.edits} edits confirmed by {PEOPLE} people, slowest {tally.slowest_s:.1f} s; "
            f"{tally.imports} imports of {LINES} lines, {tally.exports} plan files; "
            f"memory at most {tally.largest_mb:.0f} MB, file {size:.0f} MB at the end",
            True,
        ),
        (
            f"soak: writes refused beyond restarts {len(tally.refused)} (aim 0) {'; '.join(tally.refused[:3])}",
            not tally.refused,
        ),
        (f"soak: confirmed writes lost {lost} (aim 0)", lost == 0),
    ]


def _prepare(server: Server) -> None:
    have = [row["id"] for row in server.call("/projects/1/links")]
    for number in range(len(have) + 1, PEOPLE + 1):
        server.call(f"/links/{have[number % len(have)]}/duplicate", "POST")


def _table() -> str:
    rows = ["from,to,length,application,fiber,pairs,splices"]
    for n in range(LINES):
        application, fiber, metres = KINDS[n % 4]
        rows.append(f"House {n % 97},Room {n},{metres + n % 37} m,{application},{fiber},{1 + n % 4},{n % 3}")
    return "\n".join(rows) + "\n"


def _edit(server: Server, tally: Tally, over: threading.Event, link: int) -> None:
    number = 0
    while not over.is_set():
        number += 1
        _one_edit(server, tally, link, number)
        time.sleep(PAUSE_S)


def _one_edit(server: Server, tally: Tally, link: int, number: int) -> None:
    while True:
        server.up.wait()
        began = time.monotonic()
        try:
            known = server.call(f"/links/{link}")
            edits = [{"op": "describe", "values": {"notes": str(number)}}]
            wish = {"revision": known["revision"], "label": "soak", "edits": edits}
            server.call(f"/links/{link}/edits", "POST", wish)
        except urllib.error.HTTPError as error:
            tally.refused.append(f"{error.code} {json.loads(error.read())['title']}")
            return
        except NOT_NOW:
            time.sleep(0.2)  # a restart: the same again
            continue
        tally.slowest_s = max(tally.slowest_s, time.monotonic() - began)
        tally.confirmed[link] = number
        tally.edits += 1
        return


def _import(server: Server, tally: Tally, over: threading.Event, text: str) -> None:
    while not over.is_set():
        server.up.wait()
        try:
            server.call("/projects/1/import", "POST", {"text": text})
        except urllib.error.HTTPError as error:
            tally.refused.append(f"import {error.code} {json.loads(error.read())['title']}")
        except NOT_NOW:
            time.sleep(0.2)
        else:
            tally.imports += 1
            return


def _export(server: Server, tally: Tally, over: threading.Event) -> None:
    while not over.is_set():
        server.up.wait()
        try:
            server.call("/projects/1/plan?with_history=true")
        except NOT_NOW:
            time.sleep(0.2)
        else:
            tally.exports += 1
            time.sleep(3 * PAUSE_S)


def _lost(server: Server, tally: Tally) -> int:
    """How many links are older than what was confirmed for them."""
    return sum(
        int(server.call(f"/links/{link}")["link"]["notes"] or 0) < number
        for link, number in tally.confirmed.items()
    )


if __name__ == "__main__":
    for line, _met in soak():
        print(line)
