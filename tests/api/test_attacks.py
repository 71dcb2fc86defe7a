"""Attacks on a server that is served as others reach it: whoever else asks meanwhile is answered."""

from __future__ import annotations

import http.client
import json
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from shutil import copyfile

import pytest

from passerelle.api.passphrase import write_passphrase
from tests.api.attacked import BARE, TIMES, beat_s, crowd, heartbeat, sent, served, server

MIB = 1024 * 1024
APART_S = 0.2
STARVED_S = 10.0
"""What nobody waits for a light answer, on however busy a machine."""
WORDS = "four made-up words here"
JSON_HEAD = "Content-Type: application/json"


@pytest.fixture(scope="module")
def bare() -> Iterator[int]:
    with server(BARE) as port:
        yield port


@pytest.fixture(scope="module")
def open_server(demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    """Nobody is asked for a passphrase: everybody is inside."""
    path = tmp_path_factory.mktemp("open") / "open.sqlite"
    with served(Path(copyfile(demo_file, path))) as port:
        beat_s(port, "/api/v1/projects/1/links")  # what is read once at the first question is read
        head = f"POST /api/v1/projects/1/import/preview HTTP/1.1\r\n{JSON_HEAD}"
        assert sent(port, head, json.dumps({"text": "from,to\n" + "A,B\n" * 3000}).encode())[0] == 200
        yield port


@pytest.fixture(scope="module")
def closed_server(demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    """Behind a passphrase; a client may take 0.5 s for 4 KiB."""
    folder = tmp_path_factory.mktemp("closed")
    write_passphrase(folder / "words", WORDS)
    path = Path(copyfile(demo_file, folder / "closed.sqlite"))
    with served(path, folder / "words", slowest_s=0.5) as port:
        beat_s(port, "/api/v1/session")
        yield port


def many_lists(size: int) -> bytes:
    """JSON that takes the parser seconds and a hundred times its size in memory."""
    return b'["\\u0001",' + b"[]," * (size // 3) + b"[]]"


@pytest.mark.parametrize("path", ["/api/v1/projects", "/api/v1/projects/open", "/api/v1/session", "/", "/assets/a"])
def test_without_a_session_no_body_is_read(closed_server: int, bare: int, path: str) -> None:
    with heartbeat(closed_server, bare) as beats:
        statuses = [
            sent(closed_server, f"POST {path} HTTP/1.1\r\n{JSON_HEAD}", many_lists(10 * MIB))[0] for _ in "abc"
        ]
    assert set(statuses) <= {401, 413, 0}
    assert beats.apart_s < APART_S


def test_a_passphrase_that_drips_is_given_up(closed_server: int) -> None:
    head = f"POST /api/v1/session HTTP/1.1\r\nHost: localhost\r\n{JSON_HEAD}\r\nContent-Length: 40\r\n\r\n"
    with socket.create_connection(("127.0.0.1", closed_server), 20) as link:
        link.sendall(head.encode() + b'{"pass')
        assert is_dropped(link)
    assert sent(closed_server, "GET /api/v1/session HTTP/1.1")[0] == 200


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/v1/projects", many_lists(7 * MIB)),
        ("/api/v1/projects/open", many_lists(10 * MIB)),
        ("/api/v1/projects/1/bulk/preview", b'{"links":[' + b'"a",' * 200_000 + b'"a"]}'),
        ("/api/v1/projects/1/bulk/preview", b'{"links":[' + b'"a",' * 4_000 + b'"a"]}'),
        ("/api/v1/projects/1/import/preview", json.dumps({"text": "from,to\n" + "a,\n" * 300_000}).encode()),
        ("/api/v1/projects/1/import/preview", json.dumps({"text": "é" * 15_000_000}).encode()),
        ("/api/v1/projects", b'{"name":' * 100_000),
    ],
    ids=["lists", "plan", "wrong", "few wrong", "bad lines", "one line", "nested"],
)
def test_whoever_else_asks_is_answered_while_a_large_body_is_read(
    open_server: int, bare: int, path: str, body: bytes
) -> None:
    with heartbeat(open_server, bare) as beats:
        answers = [sent(open_server, f"POST {path} HTTP/1.1\r\n{JSON_HEAD}", body) for _ in range(TIMES)]
    assert {status for status, _ in answers} <= {200, 400, 413, 422}, answers[0][1][:300]
    assert beats.apart_s < APART_S


def test_sixty_previews_at_once_leave_light_reads_and_stops_alone(
    open_server: int, bare: int, tmp_path: Path
) -> None:
    lines = "from,to,length,application,fiber\n" + "".join(f"A,B{n},90 m,10GBASE-SR,OM3\n" for n in range(3000))
    body = tmp_path / "body"
    body.write_text(json.dumps({"text": lines}))
    path = "/api/v1/projects/1/import/preview"
    with crowd(open_server, 60, path, body) as statuses:
        with heartbeat(open_server, bare) as burst:  # sixty come at once: they share the machine with the heartbeat
            told = [next(statuses) for _ in range(40)]
        with heartbeat(open_server, bare) as beats:  # two work, six wait
            time.sleep(1)
        for number in range(60):
            assert sent(open_server, f"DELETE /api/v1/work/job-{number} HTTP/1.1")[0] in (200, 404)
        told += list(statuses)
    assert len(told) == 60
    assert set(told) <= {200, 409, 503}
    assert told.count(503) >= 40
    assert beats.apart_s < APART_S
    assert max(burst.served_s) < STARVED_S


def test_what_is_too_much_says_when_to_come_again(open_server: int) -> None:
    answers: list[tuple[int, bytes]] = []
    body = json.dumps({"text": "from,to\n" + "a,b\n" * 100_000}).encode()
    head = f"POST /api/v1/projects/1/import/preview HTTP/1.1\r\n{JSON_HEAD}"
    threads = [threading.Thread(target=lambda: answers.append(sent(open_server, head, body))) for _ in range(30)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    refused = [json.loads(answer) for status, answer in answers if status == 503]
    assert refused
    assert all(one["retry_s"] >= 1 and f"{one['retry_s']} s" in one["detail"] for one in refused)


def opened(port: int, head: bytes) -> socket.socket:
    link = socket.create_connection(("127.0.0.1", port), 20)
    link.sendall(head)
    return link


def is_dropped(link: socket.socket) -> bool:
    """Whether the other side ends a connection; waits for it."""
    try:
        while link.recv(65536):
            pass
    except ConnectionError:
        return True
    except TimeoutError:
        return False
    return True


def test_heads_that_never_end_are_dropped_and_others_are_answered(closed_server: int, bare: int) -> None:
    with heartbeat(closed_server, bare, "/api/v1/session") as beats:
        for _ in range(TIMES):
            links = [opened(closed_server, b"GET / HTTP/1.1\r\nX-Slow: ") for _ in range(300)]
            links += [opened(closed_server, b"") for _ in range(50)]
            assert all(map(is_dropped, links))
    assert beats.apart_s < APART_S


def test_a_body_that_drips_is_dropped(closed_server: int) -> None:
    head = b"POST /api/v1/session HTTP/1.1\r\nHost: localhost\r\nContent-Length: 3000\r\n\r\n"
    link = opened(closed_server, head)
    dripped = 0
    try:
        for _ in range(60):
            link.sendall(b" ")
            dripped += 1
            time.sleep(0.1)
    except ConnectionError:
        pass
    assert dripped < 60
    link.close()


def test_a_reader_that_drips_is_dropped(open_server: int, demo_file: Path, tmp_path: Path) -> None:
    path = Path(copyfile(demo_file, tmp_path / "slow.sqlite"))
    with served(path, slowest_s=0.5) as port:
        link = socket.socket()
        link.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        link.settimeout(20)
        link.connect(("127.0.0.1", port))
        request = b"GET /api/v1/projects/1/plan HTTP/1.1\r\nHost: localhost\r\n\r\n"
        link.sendall(request * 40)  # more than the buffers between hold
        time.sleep(3)
        assert is_dropped(link)
        link.close()
        assert sent(port, "GET /api/v1/projects HTTP/1.1")[0] == 200


def test_a_patient_client_is_not_dropped(closed_server: int) -> None:
    """Small questions on one connection, each within the time, are progress, however little they move."""
    link = opened(closed_server, b"")
    for _ in range(6):
        link.sendall(b"GET /api/v1/session HTTP/1.1\r\nHost: localhost\r\n\r\n")
        answer = http.client.HTTPResponse(link)
        answer.begin()
        assert (answer.status, json.loads(answer.read())["asked"]) == (200, True)
        time.sleep(0.3)
    link.close()
