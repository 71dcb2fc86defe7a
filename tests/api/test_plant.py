"""The plant over the api: it is stored whole, links follow it, strands are taken once."""

from __future__ import annotations

import copy
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import undo

API = "/api/v1"


def plant(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"{API}/projects/1/plant").json()
    return found


def put(client: TestClient, changed: dict[str, Any], revision: int) -> Any:
    return client.put(f"{API}/projects/1/plant", json={"revision": revision, "plant": changed, "label": "test"})


def row(content: dict[str, Any], shelf: str, name: str) -> dict[str, Any]:
    found: dict[str, Any] = next(item for item in content["plant"][shelf] if item["id"] == name)
    return found


def test_a_longer_way_reaches_every_link_on_it_and_one_undo_takes_all_back(client: TestClient) -> None:
    before = {r["name"]: (r["length_m"], r["verdict"]) for r in client.get(f"{API}/projects/1/links").json()}
    content = plant(client)
    row(content, "ways", "quay 0")["length_m"] = "500 m"
    answer = put(client, content["plant"], content["revision"]).json()
    assert next(c["length_m"] for c in answer["cables"] if c["id"] == "crane 3") == 1375
    after = {r["name"]: (r["length_m"], r["verdict"]) for r in client.get(f"{API}/projects/1/links").json()}
    moved = {name for name in after if after[name] != before[name]}
    quay = {"Lock house, quay duct", "Lock house, dike duct", "Crane 1", "Crane 2", "Crane 3", "Tide station"}
    assert moved == quay
    assert after["Crane 1"] == (899, "fail")
    undo(client)
    again = {r["name"]: (r["length_m"], r["verdict"]) for r in client.get(f"{API}/projects/1/links").json()}
    assert again == before
    assert plant(client)["plant"] == {**content["plant"], "ways": plant(client)["plant"]["ways"]}


def test_two_tabs_cannot_overwrite_the_plant(client: TestClient) -> None:
    content = plant(client)
    first, second = copy.deepcopy(content), copy.deepcopy(content)
    row(first, "places", "tide")["name"] = "Tide gauge"
    row(second, "places", "pump")["name"] = "Pumps"
    assert put(client, first["plant"], content["revision"]).status_code == 200
    late = put(client, second["plant"], content["revision"])
    assert (late.status_code, "changed elsewhere" in late.json()["detail"]) == (409, True)
    assert row(plant(client), "places", "pump")["name"] == "Pump house"


@pytest.mark.parametrize(
    ("shelf", "name", "field", "value", "hint"),
    [
        ("ways", "dike", "end", "nowhere", "there is no place 'nowhere'"),
        ("ways", "dike", "length_m", "far", "'far' is not a length"),
        ("cables", "tide", "dead", [4], "strand 4 of Tide station, old cable is dead"),
        ("cables", "rows", "strands", 1, "strand 2 of Rows A to B: the cable has 1 to 1"),
        ("cables", "rows", "fiber", ["OM9"], "no fiber is called 'OM9'"),
        ("places", "lock", "id", "lock 2", "there is no place 'lock'"),
    ],
)
def test_what_cannot_be_is_named_and_nothing_is_stored(
    client: TestClient, shelf: str, name: str, field: str, value: object, hint: str
) -> None:
    before = plant(client)
    content = copy.deepcopy(before)
    row(content, shelf, name)[field] = value
    answer = put(client, content["plant"], content["revision"])
    assert answer.status_code == 422
    assert hint in answer.json()["detail"]
    assert plant(client) == before


def test_a_cable_in_use_is_not_thrown_away(client: TestClient) -> None:
    content = plant(client)
    content["plant"]["cables"] = [c for c in content["plant"]["cables"] if c["id"] != "rows"]
    answer = put(client, content["plant"], content["revision"])
    assert "'Rows A to B' rides on the cable 'rows'" in answer.json()["detail"]


def test_a_link_is_laid_on_free_strands_and_taken_off(client: TestClient) -> None:
    link = client.get(f"{API}/links/13").json()
    wish = {"revision": link["revision"], "element": "run-1", "part": "cold store"}
    laid = client.post(f"{API}/links/13/lay", json=wish).json()
    run = next(e for e in laid["link"]["elements"] if e["id"] == "run-1")
    assert (run["positions"], run["length_m"]) == ([3, 4], 185)
    assert len(run["fiber"]) == 4
    full = {"revision": client.get(f"{API}/links/12").json()["revision"], "element": "run-1", "part": "tide"}
    refused = client.post(f"{API}/links/12/lay", json=full)
    assert (refused.status_code, "0 strands free of 4" in refused.json()["detail"]) == (422, True)
    off = client.post(
        f"{API}/links/13/lay", json={"revision": laid["revision"], "element": "run-1", "part": ""}
    ).json()
    assert next(e for e in off["link"]["elements"] if e["id"] == "run-1")["part"] == ""


def test_a_strand_is_not_taken_twice_by_hand_or_by_a_copy(client: TestClient) -> None:
    link = client.get(f"{API}/links/13").json()
    values = {"part": "cold store", "positions": [2, 3]}
    body = {"revision": link["revision"], "edits": [{"op": "set", "element": "run-1", "values": values}]}
    answer = client.post(f"{API}/links/13/edits", json=body)
    assert answer.status_code == 422
    assert "strand 2 of Cold store, orange would carry both" in answer.json()["detail"]
    copied = client.post(f"{API}/links/7/duplicate").json()
    assert next(e for e in copied["link"]["elements"] if e["id"] == "run-1")["part"] == ""


def test_the_false_diversity_at_the_lock_is_told(client: TestClient) -> None:
    content = plant(client)
    told = [(p["first"], p["second"], p["shared"]["ways"]) for p in content["pairs"]]
    assert [one for one in told if one[2] != ["floor"]] == [(2, 3, ["quay 0"])]
    worst = content["outages"][0]
    assert sum(end["dark"] for end in worst["ends"]) == 5
    fill = next(w for w in content["ways"] if w["id"] == "quay 0")["fill"]
    assert fill["share"] > fill["limit"]
    assert next(w for w in content["ways"] if w["id"] == "trench")["metal_by_power"] == ["scale old"]


def without_keys(rows: Any) -> Any:
    bare = [{name: value for name, value in row.items() if name != "key"} for row in rows or ()]
    return [{**row, "cuts": [{**c, "of": ""} for c in row["cuts"]]} if "cuts" in row else row for row in bare]


def test_the_plant_leaves_and_comes_back_with_the_plan(client: TestClient) -> None:
    client.post(f"{API}/projects/1/links", json={"from_place": "A", "to_place": "B", "rate_mbps": 1000})
    text = client.get(f"{API}/projects/1/plan?with_history=true").text
    opened = client.post(f"{API}/projects/open", json={"text": text}).json()
    again = client.get(f"{API}/projects/{opened['id']}/plant").json()
    copy, first = ({k: without_keys(v) for k, v in of["plant"].items()} for of in (again, plant(client)))
    assert copy == first
    assert not {r["key"] for r in again["plant"]["ways"]} & {r["key"] for r in plant(client)["plant"]["ways"]}
    assert [c["use"]["taken"] for c in again["cables"]] == [c["use"]["taken"] for c in plant(client)["cables"]]
    assert len(again["outages"]) == len(plant(client)["outages"])


def test_a_length_set_by_hand_takes_the_run_off_its_cable(client: TestClient) -> None:
    link = client.get(f"{API}/links/6").json()
    body = {"revision": link["revision"], "edits": [{"op": "set", "element": "run-1", "values": {"length_m": 700}}]}
    made = client.post(f"{API}/links/6/edits", json=body).json()
    run = next(e for e in made["link"]["elements"] if e["id"] == "run-1")
    assert (run["length_m"], run["part"], run["positions"]) == (700, "", [])
    assert next(c["use"]["free"] for c in plant(client)["cables"] if c["id"] == "crane 3") == 12
    client.post(f"{API}/projects/1/bulk", json={"links": [11], "change": {"change": "grade", "grade": "OM3"}})
    assert next(c["use"]["taken"] for c in plant(client)["cables"] if c["id"] == "rows") == {}
    for _ in range(2):
        undo(client)
    assert next(c["use"]["taken"] for c in plant(client)["cables"] if c["id"] == "rows") == {
        "1": "Rows A to B",
        "2": "Rows A to B",
    }


def test_the_strand_sheet_names_what_each_strand_carries(client: TestClient) -> None:
    rows = client.get(f"{API}/projects/1/plant/strands?cable=tide").json()
    assert [(r["color"], r["use"]) for r in rows] == [
        ("blue", "dead"),
        ("orange", "dead"),
        ("green", "dead"),
        ("brown", "Tide station"),
    ]
    gone = client.get(f"{API}/projects/1/plant/strands?cable=nothing")
    assert (gone.status_code, gone.json()["detail"]) == (422, "there is no cable 'nothing'")


def test_the_pull_sheet_of_a_rented_pair_is_refused(client: TestClient) -> None:
    assert client.get(f"{API}/projects/1/plant/pull?cable=lock%20quay").json()["start_at"] == "Harbor office"
    refused = client.get(f"{API}/projects/1/plant/pull?cable=road%20pair")
    assert (refused.status_code, "not pulled through" in refused.json()["detail"]) == (422, True)
    assert client.get(f"{API}/projects/1/plant/pull?cable=lock%20quay&friction=nan").status_code == 422
