"""Who may speak to the application, and what every answer carries."""

from __future__ import annotations

import asyncio
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from starlette.types import Message

from passerelle.api import passphrase
from passerelle.api.app import create_app
from passerelle.api.doors import HEADERS, MIB, largest
from passerelle.api.passphrase import Gate, PassphraseError, write_passphrase
from passerelle.store.database import Database
from tests.api.steps import remove

WORDS = "four made-up words here"


@pytest.mark.parametrize("host", ["evil.example", "localhost.evil.example", "", "127.0.0.1.evil.example:8000", "["])
def test_a_request_addressed_to_another_name_is_refused(client: TestClient, host: str) -> None:
    for call in (client.get("/api/v1/projects", headers={"Host": host}), client.get("/", headers={"Host": host})):
        assert call.status_code == 421
        assert "--host NAME" in call.json()["detail"]


@pytest.mark.parametrize("host", ["localhost", "localhost:8123", "127.0.0.1:1", "[::1]:8000", "LOCALHOST"])
def test_loopback_names_are_answered_on_any_port(client: TestClient, host: str) -> None:
    assert client.get("/api/v1/projects", headers={"Host": host}).status_code == 200


def test_a_name_that_was_given_is_answered(database: Database) -> None:
    client = TestClient(create_app(database, hosts=["Plans.example"]), base_url="http://plans.example:8000")
    assert client.get("/api/v1/projects").status_code == 200
    assert client.get("/api/v1/projects", headers={"Host": "other.example"}).status_code == 421


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://localhost:9999"},
        {"Sec_Fetch_Site": "cross-site"},
        {"Sec_Fetch_Site": "same-site"},
    ],
)
def test_a_page_of_elsewhere_changes_nothing_not_even_without_a_body(
    client: TestClient, headers: dict[str, str]
) -> None:
    remove(client, 1)
    before = client.get("/api/v1/projects/1/history").json()
    elsewhere = {key.replace("_", "-"): value for key, value in headers.items()}
    entry = {"entry": before[0]["id"]}
    assert client.post("/api/v1/projects/1/undo", params=entry, headers=elsewhere).status_code == 403
    assert client.post("/api/v1/links/2/duplicate", headers=elsewhere).status_code == 403
    assert client.get("/api/v1/projects/1/history").json() == before
    own = {"Origin": "http://localhost", "Sec-Fetch-Site": "same-origin"}
    assert client.post("/api/v1/projects/1/undo", params=entry, headers=own).status_code == 200


@pytest.mark.parametrize("path", ["/", "/api/v1/projects", "/api/v1/nothing", "/links/1", "/api/v1/projects/99"])
def test_every_answer_keeps_strange_scripts_and_frames_out(client: TestClient, path: str) -> None:
    for answer in (client.get(path), client.get(path, headers={"Host": "evil.example"})):
        assert all(answer.headers[name] == value for name, value in HEADERS.items())
    policy = HEADERS["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy


def test_a_fault_of_the_program_is_a_problem_with_the_same_headers(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_args: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("passerelle.api.projects.project_view", broken)
    client = TestClient(create_app(database), base_url="http://localhost", raise_server_exceptions=False)
    answer = client.get("/api/v1/projects")
    assert answer.status_code == 500
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_a_body_over_the_size_is_refused_before_it_is_read(client: TestClient) -> None:
    said = client.post("/api/v1/projects", content=b"{}", headers={"Content-Length": str(250 * MIB)})
    assert said.status_code == 413
    assert "8 MiB" in said.json()["detail"]


def test_a_body_without_a_size_is_read_no_further_than_the_size(database: Database) -> None:
    sent, answered = 0, []

    async def receive() -> Message:
        nonlocal sent
        sent += 1
        return {"type": "http.request", "body": b" " * MIB, "more_body": True}

    async def send(message: Message) -> None:
        answered.append(message)

    headers = [(b"host", b"localhost"), (b"content-type", b"application/json")]
    scope = {"type": "http", "method": "POST", "path": "/api/v1/projects", "headers": headers, "query_string": b""}
    asyncio.run(create_app(database)(scope, receive, send))
    assert answered[0]["status"] == 413
    assert sent == 9


def test_plans_and_tables_may_be_larger_than_a_change() -> None:
    assert largest("/api/v1/projects/open") == largest("/api/v1/projects/7/plan") == 128 * MIB
    assert largest("/api/v1/projects/7/import/preview") == largest("/api/v1/projects/7/plant/geojson") == 32 * MIB
    assert largest("/api/v1/links/7/edits") == largest("/api/v1/projects/7/planet") == 8 * MIB


@pytest.fixture
def words(tmp_path: Path) -> Path:
    path = tmp_path / "words"
    write_passphrase(path, WORDS)
    return path


def test_behind_a_passphrase_nothing_is_told_before_it_is_said(database: Database, words: Path) -> None:
    client = TestClient(create_app(database, keeper=Gate(words)), base_url="http://localhost")
    for answer in (client.get("/api/v1/projects"), client.post("/api/v1/projects/1/undo")):
        assert answer.status_code == 401
    assert client.get("/api/v1/session").json() == {"asked": True, "open": False}
    assert client.get("/").status_code in (200, 404)  # the page that asks for it, where it is built
    made = client.post("/api/v1/session", json={"passphrase": WORDS})
    assert made.json() == {"asked": True, "open": True}
    assert "HttpOnly" in made.headers["set-cookie"]
    assert "samesite=strict" in made.headers["set-cookie"].lower()
    assert client.get("/api/v1/projects").status_code == 200
    client.delete("/api/v1/session")
    assert client.get("/api/v1/projects").status_code == 401


def test_guessing_gets_slower_and_slower(database: Database, words: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    now = [1000.0]
    monkeypatch.setattr(passphrase.time, "monotonic", lambda: now[0])
    client = TestClient(create_app(database, keeper=Gate(words)), base_url="http://localhost")

    def tried(said: str) -> tuple[int, int]:
        answer = client.post("/api/v1/session", json={"passphrase": said})
        return answer.status_code, int(answer.headers.get("Retry-After", 0))

    waits = []
    for _ in range(4):
        status, wait = tried("a wrong passphrase")
        assert status == 403
        assert tried(WORDS)[0] == 429  # not even the right one counts before the time
        waits.append(wait)
        now[0] += wait
    assert waits == [1, 2, 4, 8]
    assert tried(WORDS) == (200, 0)
    assert tried("a wrong passphrase")[1] == 1


def test_a_session_signed_elsewhere_or_with_another_passphrase_opens_nothing(tmp_path: Path, words: Path) -> None:
    signed = Gate(words).session(WORDS)
    assert Gate(words).knows(signed)  # also after a restart
    assert not Gate(words).knows(signed + "x")
    other = tmp_path / "other"
    write_passphrase(other, WORDS)
    assert not Gate(other).knows(signed)


def test_a_passphrase_file_that_will_not_do_says_the_way(tmp_path: Path, words: Path) -> None:
    plain = tmp_path / "plain"
    plain.write_text("hunter2hunter2")
    with pytest.raises(PassphraseError, match="passerelle passphrase"):
        Gate(plain)
    with pytest.raises(PassphraseError, match="passerelle passphrase"):
        Gate(tmp_path / "none")
    words.chmod(0o644)
    with pytest.raises(PassphraseError, match="chmod 600"):
        Gate(words)
    with pytest.raises(PassphraseError, match="at least 12"):
        write_passphrase(plain, "short")
