"""Heavy work beside the server: told, stopped, made anew when the project moved on, written in one short go."""

from __future__ import annotations

import json
import threading
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from passerelle.api import exchange
from passerelle.api.stopped import StoppedError
from passerelle.api.workroom import Tell, Workroom
from passerelle.core.errors import EditError, PlantError
from passerelle.demo.port_aubier import demo_links
from passerelle.store import links as stored_links
from passerelle.store.database import Database
from passerelle.store.trouble import BusyError
from tests.api.steps import API, seen, set_rules, undo

P = f"{API}/projects/1"
PLANS = Path(__file__).parents[1] / "exchange" / "plans"
SHEET = json.loads((PLANS / "v5.json").read_text(encoding="utf-8"))["house_rules"]["own_modules"][0]
HEAD = "from,to,length,application,fiber\n"


def lines(count: int, bad: str = "") -> str:
    return HEAD + "".join(f"House {n % 9},Room {n},{90 + n % 37} m,10GBASE-SR,OM3\n" for n in range(count)) + bad


def endless(tell: Tell, path: str) -> None:
    """Works on until it is stopped, and says so in a file."""
    Path(path).write_text("began")
    for n in range(10_000):
        tell("counting", n, 10_000)
        time.sleep(0.05)


def wrong(_tell: Tell) -> None:
    """Fails as readers do."""
    raise ValueError("line 7: no")


def test_a_job_tells_how_far_it_is_and_is_stopped(tmp_path: Path) -> None:
    room, mark = Workroom(), tmp_path / "mark"
    told: list[Any] = []

    def stop() -> None:
        while not told or told[-1][0] != "counting":
            if "k" in room._jobs:
                job = room.job("k")
                told.append((job.words, job.of))
            time.sleep(0.02)
        room.job("k").stopped = True

    thread = threading.Thread(target=stop)
    thread.start()
    with pytest.raises(StoppedError, match="nothing was changed"):
        room.run("k", endless, str(mark))
    thread.join()
    assert told[-1] == ("counting", 10_000)
    assert mark.read_text() == "began"


@pytest.mark.parametrize("alone", [True, False])
def test_what_goes_wrong_in_a_job_is_told_as_it_was(alone: bool) -> None:
    with pytest.raises(ValueError, match="line 7"):
        Workroom().run("", wrong, alone=alone)


def refused(_tell: Tell, which: int) -> None:
    """Fails with errors that ask for more than a message when they are made."""
    raise (PlantError("ways[a]", "no such way"), BusyError("x.sqlite"), EditError("length_m", "too long"))[which]


@pytest.mark.parametrize("which", range(3))
def test_an_error_keeps_its_words_and_its_field_on_the_way(which: int) -> None:
    with pytest.raises((PlantError, BusyError, EditError)) as here:
        Workroom().run("", refused, which, alone=False)
    with pytest.raises(type(here.value)) as there:
        Workroom().run("", refused, which)
    assert str(there.value) == str(here.value)
    assert vars(there.value) == vars(here.value)


def test_a_list_does_not_wait_for_two_long_imports(tmp_path: Path) -> None:
    room = Workroom()
    marks = [tmp_path / name for name in ("a", "b")]

    def begun(mark: Path) -> None:
        with suppress(StoppedError):
            room.run(mark.name, endless, str(mark))

    threads = [threading.Thread(target=begun, args=(mark,)) for mark in marks]
    for thread in threads:
        thread.start()
    while not all(mark.exists() for mark in marks):
        time.sleep(0.02)
    assert room.run("", doubled, 21, way="out") == 42
    for mark in marks:
        room.job(mark.name).stopped = True
    for thread in threads:
        thread.join()


def doubled(_tell: Tell, number: int) -> int:
    """Something short."""
    return 2 * number


def test_a_module_that_left_the_project_meanwhile_is_not_put_in(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = {**SHEET, "name": "long one"}
    before = seen(client)["house_rules"]
    set_rules(client, {**before, "own_modules": [sheet]}).raise_for_status()
    known = client.get(f"{API}/links/1").json()
    module = next(e for e in known["link"]["elements"] if e["kind"] == "module")
    ready = stored_links.ready_change

    def slow(*given: Any) -> Any:
        made = ready(*given)
        set_rules(client, before).raise_for_status()
        return made

    monkeypatch.setattr(stored_links, "ready_change", slow)
    edits = [{"op": "set", "element": module["id"], "values": {"application": "long one", "form": ""}}]
    answer = client.post(f"{API}/links/1/edits", json={"revision": known["revision"], "label": "", "edits": edits})
    assert answer.status_code == 422
    assert client.get(f"{API}/links/1").json()["revision"] == known["revision"]


def test_a_long_table_is_read_elsewhere_and_listed_at_once(client: TestClient, database: Database) -> None:
    text = lines(3000)
    answer = client.post(f"{P}/import", json={"text": text}, headers={"X-Work": "mine"})
    assert answer.json()["added"] == 3000
    rows = client.get(f"{P}/links").json()
    assert len(rows) == 3000 + len(demo_links())
    assert rows[-1]["name"] == "House 2 to Room 2999"
    one = client.get(f"{API}/links/{rows[-1]['id']}").json()
    assert (rows[-1]["verdict"], rows[-1]["margin_db"]) == (one["review"]["verdict"], one["review"]["margin_db"])
    assert client.get(f"{API}/work/mine").status_code == 404
    undo(client)
    assert len(client.get(f"{P}/links").json()) == len(demo_links())
    bad = client.post(f"{P}/import", json={"text": lines(3000, "A,B,far,10GBASE-SR,OM3\n")})
    assert bad.status_code == 422
    assert "line 3002" in bad.json()["detail"]


def test_links_are_made_ready_anew_when_the_rules_moved_meanwhile(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    ready, moved = exchange.ready_links, []

    def slow(*given: Any) -> Any:
        made = ready(*given)
        if not moved:
            moved.append(True)
            rules = {**seen(client)["house_rules"], "margin_db": 4}
            wish = {"revision": seen(client)["house_revision"]}
            client.put(f"{P}/house-rules", json=rules, params=wish).raise_for_status()
        return made

    monkeypatch.setattr(exchange, "ready_links", slow)
    assert client.post(f"{P}/import", json={"text": lines(3)}).json()["added"] == 3
    row = client.get(f"{P}/links").json()[-1]
    assert row["verdict"] == client.get(f"{API}/links/{row['id']}").json()["review"]["verdict"]


def test_a_plan_of_many_links_goes_out_and_comes_in_with_its_log(client: TestClient) -> None:
    client.post(f"{P}/import", json={"text": lines(400)}).raise_for_status()
    text = client.get(f"{P}/plan?with_history=true").text
    assert len(text) < 400 * 7000
    opened = client.post(f"{API}/projects/open", json={"text": text}).json()
    assert len(client.get(f"{API}/projects/{opened['id']}/links").json()) == 400 + len(demo_links())
    undo(client, opened["id"]).raise_for_status()
    assert len(client.get(f"{API}/projects/{opened['id']}/links").json()) == len(demo_links())


def test_the_database_is_compacted_without_forgetting(client: TestClient) -> None:
    client.post(f"{P}/import", json={"text": lines(400)}).raise_for_status()
    undo(client)
    for link in (1, 2):
        known = client.get(f"{API}/links/{link}").json()
        client.delete(f"{API}/links/{link}", params={"revision": known["revision"]}).raise_for_status()
    before = client.get(f"{API}/storage").json()
    log = client.get(f"{P}/history").json()
    after = client.post(f"{API}/storage/compact").json()
    assert after["all_bytes"] < before["all_bytes"]
    assert after["free_bytes"] == 0
    assert client.get(f"{P}/history").json() == log
    undo(client).raise_for_status()
    assert client.get(f"{API}/links/2").json()["link"]["name"]
