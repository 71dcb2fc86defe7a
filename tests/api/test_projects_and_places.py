"""Projects copied and removed, chains replaced, links laid on the plan, columns assigned by hand, over the api."""

from __future__ import annotations

import csv
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import remove, undo

API = "/api/v1"
QUESTION = {"from_place": "Harbor office", "to_place": "Cold store", "length_m": "190 m", "rate_mbps": 10_000}


def link_names(client: TestClient, project: int = 1) -> list[str]:
    return [row["name"] for row in client.get(f"{API}/projects/{project}/links").json()]


def test_a_copy_has_all_and_changes_nothing_of_its_model(client: TestClient) -> None:
    copy = client.post(f"{API}/projects/1/copy", json={"name": "North harbor"}).json()
    assert link_names(client, copy["id"]) == link_names(client)
    assert client.get(f"{API}/projects/{copy['id']}/plant").json()["plant"]["ways"]
    first = client.get(f"{API}/projects/{copy['id']}/links").json()[0]["id"]
    remove(client, first)
    assert len(link_names(client, copy["id"])) == len(link_names(client)) - 1


def test_a_removed_project_is_out_of_sight_until_it_is_brought_back(client: TestClient) -> None:
    copy = client.post(f"{API}/projects/1/copy", json={"name": "North harbor"}).json()
    before = link_names(client, copy["id"])
    client.delete(f"{API}/projects/{copy['id']}")
    assert [one["id"] for one in client.get(f"{API}/projects").json()] == [1]
    assert [one["id"] for one in client.get(f"{API}/removed-projects").json()] == [copy["id"]]
    client.post(f"{API}/projects/{copy['id']}/restore")
    assert link_names(client, copy["id"]) == before
    assert client.get(f"{API}/removed-projects").json() == []


def test_another_answer_replaces_the_chain_and_keeps_name_place_and_history(client: TestClient) -> None:
    before = client.get(f"{API}/links/7").json()
    names = link_names(client)
    wish = {**QUESTION, "instead_of": 7, "revision": before["revision"]}
    made = client.post(f"{API}/projects/1/links", json=wish)
    assert made.status_code in (200, 201), made.text
    assert (made.json()["id"], made.json()["link"]["name"]) == (7, before["link"]["name"])
    assert made.json()["link"]["elements"] != before["link"]["elements"]
    assert link_names(client) == names
    assert client.post(f"{API}/projects/1/links", json=wish).status_code == 409
    undo(client)
    assert client.get(f"{API}/links/7").json()["link"] == before["link"]


def test_a_link_of_two_ways_asks_and_lies_where_it_was_said(client: TestClient) -> None:
    wish = {**QUESTION, "to_place": "Lock house", "length_m": "900 m"}
    made = client.post(f"{API}/projects/1/links", json=wish).json()
    ways = client.get(f"{API}/links/{made['id']}/ways").json()
    assert [way["cable"] for way in ways[:2]] == ["lock quay", "lock dike"]
    refused = client.post(f"{API}/links/{made['id']}/place", json={"revision": made["revision"], "key": "none"})
    assert refused.status_code == 422
    body = {"revision": made["revision"], "key": ways[1]["key"]}
    made = client.post(f"{API}/links/{made['id']}/place", json=body).json()
    assert [e["part"] for e in made["link"]["elements"] if e["kind"] == "run"] == ["lock dike"]
    assert client.get(f"{API}/links/{made['id']}/ways").json() == []
    undo(client)
    assert len(client.get(f"{API}/links/{made['id']}/ways").json()) == len(ways)


def test_a_link_of_one_way_lies_on_the_plan_at_once(client: TestClient) -> None:
    made = client.post(f"{API}/projects/1/links", json=QUESTION).json()
    (run,) = [e for e in made["link"]["elements"] if e["kind"] == "run"]
    planned = {cable["id"]: cable for cable in client.get(f"{API}/projects/1/plant").json()["plant"]["cables"]}
    assert planned[run["part"]]["state"] == "planned"


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("import/preview", {"text": "Building A,Building B,Module,Ticket\nGate,Shed,10GBASE-SR,77", "unit": "m"}),
        ("requirements", {"text": "Building A,Building B,Needed,Ticket\nGate,Shed,10 gig,77", "unit": "m"}),
    ],
)
def test_columns_that_were_not_understood_are_told_and_can_be_assigned(
    client: TestClient, path: str, body: dict[str, Any]
) -> None:
    told = client.post(f"{API}/projects/1/{path}", json=body).json()
    assert told["unknown"] == ["Ticket"]
    assert {"from", "to"} <= set(told["mapping"])
    field = "notes" if "notes" in told["fields"] else "way"
    mapping = {**told["mapping"], field: "Ticket"}
    after = client.post(f"{API}/projects/1/{path}", json={**body, "mapping": mapping}).json()
    assert after["unknown"] == []


def test_a_table_of_speeds_is_sent_to_the_requirements(client: TestClient) -> None:
    body = {"text": "From,To,Needed\nGate,Shed,1G", "unit": "m"}
    (problem,) = client.post(f"{API}/projects/1/import/preview", json=body).json()["problems"]
    assert "table of requirements" in problem["message"]


def test_a_damage_verdict_leaves_without_a_margin(client: TestClient) -> None:
    table = csv.DictReader(client.get(f"{API}/projects/1/links.csv").text.splitlines())
    damaged = [row["margin dB"] for row in table if "damage" in row.values()]
    assert damaged == [""] * 3


def test_the_worst_fault_can_be_a_cabinet_and_strands_are_counted_as_the_link_needs(client: TestClient) -> None:
    query = "core=office&place=crane%201&place=crane%202&place=crane%203&place=lock"
    both = {
        strands: {
            one["name"]: one
            for one in client.get(f"{API}/projects/1/plant/layouts?{query}&strands={strands}").json()["layouts"]
        }
        for strands in (1, 2)
    }
    assert both[1]["star"]["strands_at_core"] * 2 == both[2]["star"]["strands_at_core"]
    assert {one["fault_kind"] for one in both[2].values()} <= {"way", "cabinet", "switch"}
