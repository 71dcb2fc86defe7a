"""Who may speak to the application, and what every answer carries."""

from __future__ import annotations

import asyncio
from datetime import timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select
from starlette.types import Message

from passerelle.api.app import create_app
from passerelle.api.bodies import MIB, largest
from passerelle.api.doors import HEADERS
from passerelle.api.guesses import GuessLimits
from passerelle.api.passphrase import Gate, PassphraseError, write_passphrase
from passerelle.api.sessions import Sessions
from passerelle.store.database import Database
from passerelle.store.tables import WebSessionRow
from tests.api.steps import remove
from tests.clock import NOW, SetClock

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


class Seconds:
    """A monotonic clock that stands still until a test moves it on."""

    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


def entered(client: TestClient, said: str) -> tuple[int, int]:
    """Status and wait in seconds after a passphrase."""
    answer = client.post("/api/v1/session", json={"passphrase": said})
    return answer.status_code, int(answer.headers.get("Retry-After", 0))


def browser_at(address: str, database: Database, gate: Gate) -> TestClient:
    """A new browser that comes from an address."""
    application = create_app(database, keeper=gate)
    return TestClient(application, base_url="http://localhost", client=(address, 50_000))


def test_guessing_gets_slower_and_slower(database: Database, words: Path) -> None:
    now = Seconds()
    client = browser_at("192.0.2.1", database, Gate(words, now))
    waits = []
    for _ in range(4):
        status, wait = entered(client, "a wrong passphrase")
        assert status == 403
        assert entered(client, WORDS)[0] == 429  # not even the right one counts before the time
        waits.append(wait)
        now.now += wait
    assert waits == [1, 2, 4, 8]
    assert entered(client, WORDS) == (200, 0)
    assert entered(client, "a wrong passphrase")[1] == 1


def test_a_stranger_who_guesses_makes_nobody_else_wait(database: Database, words: Path) -> None:
    gate = Gate(words, Seconds())
    assert entered(browser_at("192.0.2.1", database, gate), "a wrong passphrase")[0] == 403
    assert entered(browser_at("192.0.2.1", database, gate), WORDS)[0] == 429
    assert entered(browser_at("192.0.2.2", database, gate), WORDS) == (200, 0)


def test_a_device_that_was_in_passes_where_a_stranger_guesses_from_its_own_address(
    database: Database, words: Path
) -> None:
    gate = Gate(words, Seconds())
    known = browser_at("192.0.2.1", database, gate)
    assert entered(known, WORDS) == (200, 0)
    known.delete("/api/v1/session")
    for host in range(1, 40):
        entered(browser_at(f"192.0.2.{host}", database, gate), "a wrong passphrase")
    assert entered(browser_at("192.0.2.200", database, gate), WORDS)[0] == 429  # over all there were too many
    assert entered(known, "a wrong passphrase") == (403, 1)  # its own mistakes count
    assert entered(known, WORDS)[0] == 429


def test_over_all_addresses_thirty_wrong_ones_are_free_and_one_more_each_ten_seconds() -> None:
    now = Seconds()
    limits = GuessLimits(now)
    for host in range(30):
        assert limits.wait_s(f"198.51.100.{host}") == 0
        limits.wrong(f"198.51.100.{host}")
    assert limits.wait_s("198.51.100.99") == pytest.approx(10)
    now.now += 9.9
    assert limits.wait_s("198.51.100.99") > 0
    now.now += 0.2
    assert limits.wait_s("198.51.100.99") == 0


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("2001:db8:0:1::1", "2001:db8:0:1:ffff::2", True),
        ("2001:db8:0:1::1", "2001:db8:0:2::1", False),
        ("192.0.2.1", "192.0.2.2", False),
        ("testclient", "testclient", True),
    ],
)
def test_an_address_counts_as_its_household(one: str, other: str, same: bool) -> None:
    limits = GuessLimits(Seconds())
    limits.wrong(one)
    assert (limits.wait_s(other) > 0) is same


def test_a_session_outlives_a_restart_and_ends_with_its_use_or_with_the_passphrase(
    database: Database, words: Path, tmp_path: Path, clock: SetClock
) -> None:
    gate = Gate(words)
    token = Sessions(database, gate.digest).open()

    def is_open(token: str, gate: Gate = gate) -> bool:
        return Sessions(database, gate.digest).is_open(token)

    assert is_open(token)
    assert not is_open(token[:-1] + "x")
    assert not is_open("")
    other = tmp_path / "other"
    write_passphrase(other, WORDS)
    assert not is_open(token, Gate(other))
    clock.pass_by(days=6)
    assert is_open(token)
    clock.pass_by(days=6, hours=23)
    assert is_open(token)
    clock.pass_by(days=7, minutes=1)
    assert not is_open(token)


def test_a_last_use_is_written_at_most_each_ten_minutes(database: Database, words: Path, clock: SetClock) -> None:
    sessions = Sessions(database, Gate(words).digest)
    token = sessions.open()

    def used_at() -> str:
        with database.read() as session:
            return f"{session.scalars(select(WebSessionRow)).one().used_at:%H:%M}"

    began = used_at()
    clock.pass_by(minutes=9)
    assert sessions.is_open(token)
    assert used_at() == began
    clock.pass_by(minutes=1)
    assert sessions.is_open(token)
    assert used_at() == f"{NOW + timedelta(minutes=10):%H:%M}"


def test_of_a_token_only_its_hash_is_kept(database: Database, words: Path) -> None:
    token = Sessions(database, Gate(words).digest).open()
    database.fold()
    assert token.encode() not in database.path.read_bytes()


def test_signing_out_ends_the_session_for_whoever_copied_its_cookie(database: Database, words: Path) -> None:
    client = browser_at("192.0.2.1", database, Gate(words))
    entered(client, WORDS)
    cookie = client.cookies["passerelle_session"]
    copied = {"Cookie": f"passerelle_session={cookie}"}
    assert client.get("/api/v1/projects", headers=copied).status_code == 200
    client.delete("/api/v1/session")
    assert client.get("/api/v1/projects", headers=copied).status_code == 401
    assert client.get("/api/v1/session", headers=copied).json() == {"asked": True, "open": False}


@pytest.mark.parametrize(
    "cookie", ["", "x", "a" * 43, "../" * 20, "%00" * 20, "Û" * 43, ";" * 50, "a" * 43 + "; passerelle_session=b"]
)
def test_a_forged_cookie_opens_nothing(database: Database, words: Path, cookie: str) -> None:
    client = browser_at("192.0.2.1", database, Gate(words))
    forged = {b"Cookie": b"passerelle_session=" + cookie.encode("latin-1")}
    assert client.get("/api/v1/projects", headers=forged).status_code == 401


def test_a_name_for_the_log_is_checked_like_a_body(client: TestClient) -> None:
    answer = client.post("/api/v1/projects", json={"name": "Lock"}, headers={"X-Who": "A%00B"})
    assert answer.status_code == 422
    assert "X-Who" in answer.json()["detail"]
    assert [one["name"] for one in client.get("/api/v1/projects").json()] == ["Port-Aubier"]
    fine = client.put("/api/v1/projects/1/name", json={"name": "Lock"}, headers={"X-Who": "Cr%C3%A9w 2"})
    assert fine.status_code == 200
    assert client.get("/api/v1/projects/1/history").json()[0]["who"] == "Créw 2"


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
