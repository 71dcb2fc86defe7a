"""Readings and modules from datasheets over the api: kept through undo, checked where they are used."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from passerelle.api.app import create_app
from passerelle.store.database import Database
from tests.api.steps import redo, set_rules, undo
from tests.clock import day
from tests.core.test_datasheets import SHEET
from tests.core.test_readings import WHOLE

API = "/api/v1"
READING = {**WHOLE, "taken_on": day(-73), "calibrated_on": day(-269), "value_db": 1.2, "wavelength_nm": 1310}


def link(client: TestClient, number: int) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"{API}/links/{number}").json()
    return found


def edit(client: TestClient, number: int, *edits: dict[str, Any]) -> Any:
    revision = link(client, number)["revision"]
    return client.post(f"{API}/links/{number}/edits", json={"revision": revision, "edits": list(edits)})


def rules(client: TestClient, **more: Any) -> Any:
    before = client.get(f"{API}/projects/1").json()["house_rules"]
    return set_rules(client, {**before, **more})


def test_a_reading_is_kept_by_undo_as_withdrawn_and_stands_again_by_redo(client: TestClient) -> None:
    made = edit(client, 6, {"op": "measure", "reading": READING}).json()
    assert (made["verdict_text"], len(made["link"]["readings"])) == ("pass as measured", 1)
    rows = {row["id"]: row for row in client.get(f"{API}/projects/1/links").json()}
    assert rows[6]["verdict_text"] == "pass as measured"
    undo(client)
    after = link(client, 6)
    assert [reading["withdrawn"] for reading in after["link"]["readings"]] == ["undone"]
    assert after["verdict_text"] == "pass"
    redo(client)
    assert link(client, 6)["verdict_text"] == "pass as measured"
    withdrawn = edit(client, 6, {"op": "withdraw", "reading": "reading-1", "why": "wrong cord"}).json()
    assert withdrawn["link"]["readings"][0]["withdrawn"] == "wrong cord"


def test_what_was_read_is_listed_also_when_its_link_is_gone(client: TestClient) -> None:
    made = edit(client, 6, {"op": "measure", "reading": READING}).json()
    client.delete(f"{API}/links/6", params={"revision": made["revision"]})
    events = {event["value_db"]: event for event in client.get(f"{API}/projects/1/events").json()}
    assert (events[1.2]["link"], events[1.2]["link_id"], events[1.2]["withdrawn"]) == ("Crane 3", None, "")
    assert [event["link_id"] for value, event in events.items() if value != 1.2] != [None]
    undo(client)
    assert next(e for e in client.get(f"{API}/projects/1/events").json() if e["value_db"] == 1.2)["link_id"] == 6


def test_readings_are_not_rewritten_and_not_copied(client: TestClient) -> None:
    edit(client, 6, {"op": "measure", "reading": READING})
    refused = edit(client, 6, {"op": "describe", "values": {"readings": []}})
    assert (refused.status_code, "one by one" in refused.json()["detail"]) == (422, True)
    copy = client.post(f"{API}/links/6/duplicate").json()
    assert copy["link"]["readings"] == []
    wrong = edit(client, 6, {"op": "measure", "reading": {**READING, "start": "run-9"}})
    assert (wrong.status_code, wrong.json()["errors"][0]["field"]) == (422, "start")


def test_a_module_from_its_datasheet_is_used_and_not_taken_out_while_it_is(client: TestClient) -> None:
    sheet = {**SHEET, "wavelengths_nm": [1550], "forms": ["SFP+"]}
    assert rules(client, own_modules=[sheet]).status_code == 200
    names = [one["name"] for one in client.get(f"{API}/projects/1/catalog").json()["applications"]]
    assert sheet["name"] in names
    assert sheet["name"] not in [one["name"] for one in client.get(f"{API}/catalog").json()["applications"]]
    prices = client.get(f"{API}/projects/1/prices").json()["lines"]
    assert any(line["item"] == f"module {sheet['name']}" for line in prices)
    edits = [{"op": "set", "element": f"module-{n}", "values": {"application": sheet["name"]}} for n in (1, 2)]
    used = edit(client, 15, *edits)
    assert used.status_code == 200
    refused = rules(client, own_modules=[])
    assert (refused.status_code, "exchange its modules first" in refused.json()["detail"]) == (422, True)
    plan = client.get(f"{API}/projects/1/plan").text
    again = client.post(f"{API}/projects/open", json={"text": plan})
    assert again.status_code == 201, again.text
    other = client.post(f"{API}/projects", json={"name": "other"}).json()["id"]
    refused = client.post(f"{API}/projects/{other}/plan", json={"text": plan})
    assert (refused.status_code, "add it from its datasheet" in refused.json()["detail"]) == (422, True)
    undo(client)
    assert rules(client, own_modules=[]).status_code == 200


def test_a_switch_reserves_by_class_over_the_api(client: TestClient) -> None:
    content = client.get(f"{API}/projects/1/plant").json()
    lock = next(d for d in content["plant"]["devices"] if d["id"] == "lock")
    lock["power_class"] = "class 8"
    body = {"revision": content["revision"], "plant": content["plant"]}
    assert client.put(f"{API}/projects/1/plant", json=body).status_code == 200
    power = client.get(f"{API}/projects/1/plant/switch-power?budget_w=300").json()["lock"]
    assert (power["reserved_w"], power["kept"]) == (4 * 90, False)
    assert power["devices"][0]["asked_by"] == "class at the switch"


def test_a_plan_opened_beside_its_project_is_a_copy_whose_log_moves_its_own_readings_only(
    client: TestClient,
) -> None:
    edit(client, 6, {"op": "measure", "reading": READING})
    text = client.get(f"{API}/projects/1/plan?with_history=true").text
    copies = [client.post(f"{API}/projects/open", json={"text": text}).json() for _ in range(2)]
    for copy in copies:
        entry = client.get(f"{API}/projects/{copy['id']}").json()["undo"]["entry"]
        client.post(f"{API}/projects/{copy['id']}/undo", params={"entry": entry})
        told = client.get(f"{API}/projects/{copy['id']}/events").json()
        assert [event["withdrawn"] for event in told if event["value_db"] == 1.2] == ["undone"]
        entry = client.get(f"{API}/projects/{copy['id']}").json()["redo"]["entry"]
        client.post(f"{API}/projects/{copy['id']}/redo", params={"entry": entry})
    keys = [
        {event["key"] for event in client.get(f"{API}/projects/{number}/events").json()}
        for number in (1, *(copy["id"] for copy in copies))
    ]
    assert len(set.union(*keys)) == sum(map(len, keys)), "no event stands in two projects"
    assert link(client, 6)["link"]["readings"][0]["withdrawn"] == ""
    added = client.post(f"{API}/projects/1/plan", json={"text": text}).json()
    newest = client.get(f"{API}/projects/1/links").json()[-added["added"] :]
    crane = next(row["id"] for row in newest if row["name"] == "Crane 3")
    assert [reading["value_db"] for reading in link(client, crane)["link"]["readings"]] == [1.2]
    assert link(client, crane)["verdict_text"] != "pass as measured", (
        "off its cable the reading stands for other glass"
    )


def test_a_plan_opened_where_its_project_is_not_keeps_every_key(client: TestClient, tmp_path: Path) -> None:
    edit(client, 6, {"op": "measure", "reading": READING})
    text = client.get(f"{API}/projects/1/plan?with_history=true").text
    elsewhere = Database(tmp_path / "elsewhere.sqlite")
    with TestClient(create_app(elsewhere), base_url="http://localhost") as other:
        number = other.post(f"{API}/projects/open", json={"text": text}).json()["id"]
        again = json.loads(other.get(f"{API}/projects/{number}/plan?with_history=true").text)
    first = json.loads(text)
    for part in ("key", "links", "plant", "events"):
        assert again[part] == first[part], part
    assert link(client, 6)["link"]["key"] == again["links"][5]["key"] != ""
    elsewhere.close()
