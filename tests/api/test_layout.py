"""The layout stage over the api: routes that are planned, cures, taps, tables and GeoJSON, sheets."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import set_rules, undo

API = "/api/v1"
PLANT = f"{API}/projects/1/plant"


def plant(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get(PLANT).json()
    return found


def build(client: TestClient, **more: object) -> Any:
    wish = {"revision": plant(client)["revision"], "start": "office", "end": "lock", "name": "second", **more}
    return client.post(f"{PLANT}/routes/build", json=wish)


def test_a_planned_second_path_is_diverse_and_one_undo_takes_it_back(client: TestClient) -> None:
    found = client.get(f"{PLANT}/routes?start=office&end=lock&apart_from=2").json()
    assert [(r["diverse"], r["shared"]) for r in found] == [(False, ["Quay pit", "Quay duct, first 60 m"])]
    made = build(client, apart_from=[2], new_ways=True).json()
    cable = next(c for c in made["plant"]["cables"] if c["id"] == "second")
    assert cable["state"] == "planned"
    link = client.get(f"{API}/links/3").json()
    body = {"revision": link["revision"], "element": "run-1", "part": "second"}
    laid = client.post(f"{API}/links/3/lay", json=body)
    assert laid.status_code == 200
    pair = next(p for p in plant(client)["pairs"] if (p["first"], p["second"]) == (2, 3))
    assert pair["shared"] == {"ways": [], "cables": [], "places": []}
    for _ in range(2):
        undo(client)
    assert all(c["id"] != "second" for c in plant(client)["plant"]["cables"])


def test_a_route_is_not_planned_over_a_plant_that_changed(client: TestClient) -> None:
    assert build(client, revision=999, apart_from=[2], new_ways=True).status_code == 409
    assert build(client, end="nowhere").status_code == 422
    assert client.get(f"{PLANT}/routes?start=office&end=lock&apart_from=999").status_code == 404


def test_the_worst_cut_has_a_cure_for_each_dark_end(client: TestClient) -> None:
    outage = next(o for o in plant(client)["outages"] if (o["kind"], o["id"]) == ("way", "quay 0"))
    dark = {end["place"] for end in outage["ends"] if end["dark"]}
    found = client.get(f"{PLANT}/cures?kind=way&id=quay%200").json()
    assert {cure["place"] for cure in found} == dark
    assert all(cure["route"]["new_m"] > 0 for cure in found)
    assert client.get(f"{PLANT}/cures?kind=way&id=floor").json() != []
    assert client.get(f"{PLANT}/cures?kind=way&id=nothing").json() == []


def test_a_link_is_laid_on_the_strands_that_leave_at_a_tap(client: TestClient) -> None:
    link = client.get(f"{API}/links/4").json()
    body = {"revision": link["revision"], "element": "run-1", "part": "quay", "tap": "tap 3"}
    made = client.post(f"{API}/links/4/lay", json=body).json()
    run = next(e for e in made["link"]["elements"] if e["id"] == "run-1")
    assert (run["positions"], run["length_m"]) == ([5, 6], 935)
    wrong = client.post(f"{API}/links/4/lay", json={**body, "revision": made["revision"], "tap": "tap 9"})
    assert (wrong.status_code, "has no tap 'tap 9'" in wrong.json()["detail"]) == (422, True)
    content = plant(client)
    content["plant"]["taps"][2]["place"] = "crane 2"
    answer = client.put(PLANT, json={"revision": content["revision"], "plant": content["plant"], "label": "move"})
    assert answer.status_code == 200
    assert client.get(f"{API}/links/4").json()["link"]["elements"] != made["link"]["elements"]
    moved = next(e for e in client.get(f"{API}/links/4").json()["link"]["elements"] if e["id"] == "run-1")
    assert moved["length_m"] == 660


def test_two_tabs_cannot_give_a_strand_to_two_links(client: TestClient) -> None:
    """Both tabs ask for the last free pair of the cold store's cable; the second is refused and nothing moves."""
    links = [client.get(f"{API}/links/{number}").json() for number in (12, 13, 16)]
    answers = []
    for link in links:
        run = next(e["id"] for e in link["link"]["elements"] if e["kind"] == "run")
        body = {"revision": link["revision"], "element": run, "part": "cold store"}
        answers.append(client.post(f"{API}/links/{link['id']}/lay", json=body).status_code)
    assert answers == [200, 200, 422]
    use = next(c["use"] for c in plant(client)["cables"] if c["id"] == "cold store")
    assert sorted(use["taken"]) == ["1", "2", "3", "4", "5", "6"]
    assert len(set(use["taken"].values())) == 3


def test_a_table_is_tried_first_and_taken_whole(client: TestClient) -> None:
    text = client.get(f"{PLANT}/tables/ways.csv").text.replace("Quay duct to the lock", "Lock side duct")
    body = {"shelf": "ways", "text": text}
    assert client.post(f"{PLANT}/tables/preview", json=body).json()["changed"] == ["lock quay"]
    assert "Quay duct to the lock" in client.get(f"{PLANT}/tables/ways.csv").text
    bad = {"shelf": "ways", "text": text + "broken,x,office,nowhere,duct,5\n"}
    refused = client.post(f"{PLANT}/tables", json=bad)
    assert (refused.status_code, "nothing imported" in refused.json()["detail"]) == (422, True)
    assert client.post(f"{PLANT}/tables", json=body).status_code == 200
    assert "Lock side duct" in client.get(f"{PLANT}/tables/ways.csv").text
    undo(client)
    assert "Quay duct to the lock" in client.get(f"{PLANT}/tables/ways.csv").text


def test_geojson_is_tried_first_and_laid_over_the_plant(client: TestClient) -> None:
    gate = {
        "type": "Feature",
        "geometry": {"type": "Point", "coordinates": [4, 46]},
        "properties": {"name": "Gate"},
    }
    body = {"text": json.dumps({"type": "FeatureCollection", "features": [gate]})}
    assert client.post(f"{PLANT}/geojson/preview", json=body).json()["places"] == ["Gate"]
    assert client.post(f"{PLANT}/geojson", json=body).status_code == 200
    assert '"Gate"' in client.get(f"{PLANT}/geojson").text
    refused = client.post(f"{PLANT}/geojson", json={"text": "{}"})
    assert (refused.status_code, "FeatureCollection" in refused.json()["detail"]) == (422, True)


@pytest.mark.parametrize(
    ("path", "starts"),
    [
        ("plan.svg", b"<svg"),
        ("plan.pdf", b"%PDF"),
        ("pull.pdf?cable=lock%20quay&unit=ft", b"%PDF"),
        ("closure.pdf?place=crane%201", b"%PDF"),
        ("scope.pdf", b"%PDF"),
        ("tables/cables.xlsx", b"PK"),
    ],
)
def test_the_plant_leaves_as_files(client: TestClient, path: str, starts: bytes) -> None:
    answer = client.get(f"{PLANT}/{path}")
    assert answer.status_code == 200
    assert answer.content.startswith(starts)
    assert "attachment" in answer.headers["content-disposition"]


def test_own_prices_move_the_cheapest_layout(client: TestClient) -> None:
    def cheapest() -> tuple[str, float]:
        query = "core=office&place=crane%201&place=crane%202&place=crane%203&place=lock"
        first = client.get(f"{PLANT}/layouts?{query}").json()["layouts"][0]
        return first["name"], first["cost"]

    before = cheapest()
    listed = {"text": "item,price\nsmall switch,100000\n", "currency": ""}
    assert client.put(f"{API}/projects/1/prices", json=listed).status_code == 200
    assert before[0] == "tree"
    assert cheapest()[0] in ("star", "tapped chain")


def test_devices_hang_on_switches_and_capacity_follows_the_house_rule(client: TestClient) -> None:
    power = client.get(f"{PLANT}/switch-power?budget_w=40").json()
    assert power["lock"]["kept"] is False
    assert [row["works"] for row in power["office"]["devices"]] == [False, True]
    rules = client.get(f"{API}/projects").json()[0]["house_rules"]
    kept = {row["cable"]: row["keeps_rule"] for row in client.get(f"{PLANT}/capacity").json()["cables"]}
    set_rules(client, {**rules, "strand_spares_percent": 150})
    after = {row["cable"]: row["keeps_rule"] for row in client.get(f"{PLANT}/capacity").json()["cables"]}
    assert (kept["lock quay"], after["lock quay"]) == (True, False)
