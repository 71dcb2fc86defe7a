"""A server in a process of its own, and its heartbeat beside that of a bare server on the same machine."""

from __future__ import annotations

import http.client
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path

BARE = """
import sys, uvicorn
async def application(scope, receive, send):
    if scope["type"] == "http":
        await send({"type": "http.response.start", "status": 204, "headers": []})
        await send({"type": "http.response.body", "body": b""})
uvicorn.run(application, port=int(sys.argv[1]), log_level="error", lifespan="off")
"""
SERVED = """
import sys
from pathlib import Path
import uvicorn
from passerelle.api.app import create_app
from passerelle.api.connections import PacedProtocol
from passerelle.api.passphrase import Gate
from passerelle.cli.serving import connection_settings
from passerelle.store.database import Database
port, path, words, slowest = int(sys.argv[1]), Path(sys.argv[2]), sys.argv[3], float(sys.argv[4])
PacedProtocol.slowest_s = slowest
application = create_app(Database(path), keeper=Gate(Path(words)) if words else None)
uvicorn.run(application, port=port, log_level="error", **connection_settings(()))
"""
CROWD = """
import sys, threading
from tests.api.attacked import sent
port, count, path, file = int(sys.argv[1]), int(sys.argv[2]), sys.argv[3], sys.argv[4]
body = open(file, "rb").read()
def ask(number):
    head = f"POST {path} HTTP/1.1\\r\\nContent-Type: application/json\\r\\nX-Work: job-{number}"
    sys.stdout.write(f"{sent(port, head, body, 300)[0]}\\n")
    sys.stdout.flush()
threads = [threading.Thread(target=ask, args=(number,)) for number in range(count)]
for thread in threads: thread.start()
for thread in threads: thread.join()
"""


@contextmanager
def crowd(port: int, count: int, path: str, body: Path) -> Iterator[Iterator[int]]:
    """The statuses, as they come, of so many clients in a process of their own that all ask the same at once."""
    given = [str(port), str(count), path, str(body)]
    process = subprocess.Popen([sys.executable, "-c", CROWD, *given], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    try:
        yield (int(line) for line in process.stdout)
    finally:
        process.kill()
        process.wait()


@contextmanager
def server(program: str, *given: object) -> Iterator[int]:
    """The port of a server that runs a program."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = int(free.getsockname()[1])
    process = subprocess.Popen([sys.executable, "-c", program, str(port), *map(str, given)])
    try:
        while True:
            with suppress(OSError), socket.create_connection(("127.0.0.1", port), 1):
                break
            assert process.poll() is None, "the server ended"
            time.sleep(0.05)
        yield port
    finally:
        process.kill()
        process.wait()


@contextmanager
def served(database: Path, words: Path | None = None, slowest_s: float = 30.0) -> Iterator[int]:
    """The port of the application over a database, behind a passphrase where its file is given."""
    with server(SERVED, database, words or "", slowest_s) as port:
        yield port


TIMES = 3
"""How often an attack is made while the heartbeat goes on."""


@dataclass
class Beats:
    """How long a light question took, again and again: of a server, and of a bare one beside it, in seconds."""

    served_s: list[float] = field(default_factory=list)
    bare_s: list[float] = field(default_factory=list)

    @property
    def apart_s(self) -> float:
        """By how much answers were slower than those of the bare server while each attack was made three times.

        What an attack does it does each time, and what the machine does by chance it does once or twice.
        """
        return sorted(self.served_s)[-TIMES] - sorted(self.bare_s)[-TIMES]


def beat_s(port: int, path: str) -> float:
    """Seconds until a question on a new connection is answered."""
    began = time.monotonic()
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    connection.request("GET", path)
    connection.getresponse().read()
    connection.close()
    return time.monotonic() - began


@contextmanager
def heartbeat(port: int, bare: int, path: str = "/api/v1/work/none") -> Iterator[Beats]:
    """Asks both servers all the while."""
    found, over = Beats(), threading.Event()

    def ask(at: int, into: list[float]) -> None:
        while not over.is_set():
            into.append(beat_s(at, path))
            time.sleep(0.02)

    threads = [
        threading.Thread(target=ask, args=(port, found.served_s)),
        threading.Thread(target=ask, args=(bare, found.bare_s)),
    ]
    for thread in threads:
        thread.start()
    try:
        time.sleep(0.2)
        yield found
        time.sleep(0.2)
    finally:
        over.set()
        for thread in threads:
            thread.join()


def sent(port: int, head: str, body: bytes = b"", timeout_s: float = 60.0) -> tuple[int, bytes]:
    """Status and answer of a request that is written as it stands; 0 where the connection was dropped."""
    with socket.create_connection(("127.0.0.1", port), timeout_s) as link:
        length = f"Content-Length: {len(body)}\r\n" if body else ""
        with suppress(OSError):  # the server may answer and close before it has read all
            link.sendall(f"{head}\r\nHost: localhost\r\n{length}\r\n".encode() + body)
        answer = http.client.HTTPResponse(link)
        try:
            answer.begin()
            return answer.status, answer.read()
        except (OSError, http.client.HTTPException):
            return 0, b""
