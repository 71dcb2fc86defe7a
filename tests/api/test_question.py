"""Question, what-if, template, own figures, projects and plan history over the api."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from passerelle.demo.port_aubier import demo_links
from tests.api.steps import redo, remove, set_rules, undo

API = "/api/v1"
QUESTION = {"from_place": "Harbor office", "to_place": "Old mill", "length_m": "400 ft", "rate_mbps": 10_000}


def rows(client: TestClient, project: int = 1) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"{API}/projects/{project}/links").json()
    return found


def test_the_first_answer_is_the_link_that_is_made(client: TestClient) -> None:
    told = client.post(f"{API}/projects/1/links/answer", json=QUESTION).json()
    assert len(rows(client)) == len(demo_links())
    made = client.post(f"{API}/projects/1/links", json=QUESTION).json()
    first = told["options"][0]
    assert (made["verdict_text"], made["review"]["margin_db"]) == (first["verdict_text"], first["margin_db"])
    other = told["options"][1]
    picked = {**QUESTION, "pick": other["key"]}
    made = client.post(f"{API}/projects/1/links", json=picked).json()
    assert made["review"]["applications"] == [other["application"]]


@pytest.mark.parametrize(
    ("change", "hint"),
    [
        ({"length_m": "80 km"}, "nothing reaches"),
        ({"near": {"cage": "SFP99"}}, "no cage is called 'SFP99'"),
        ({"rate_mbps": None}, "give a speed"),
        ({"length_m": "1,500"}, "1,500"),
        ({"application": "800GBASE-SR8", "rate_mbps": None}, "exists and is not offered"),
    ],
)
def test_a_question_without_an_answer_says_why(client: TestClient, change: dict[str, Any], hint: str) -> None:
    answer = client.post(f"{API}/projects/1/links", json={**QUESTION, **change})
    assert answer.status_code == 422
    assert hint in answer.json()["detail"]
    assert len(rows(client)) == len(demo_links())


def test_a_template_takes_the_chain_and_leaves_the_names(client: TestClient) -> None:
    wish = {"from_place": "Harbor office", "to_place": "Ice house", "length_m": 700}
    made = client.post(f"{API}/projects/1/links/like/2", json=wish).json()
    model = client.get(f"{API}/links/2").json()["link"]["elements"]
    pieces = made["link"]["elements"]
    assert [p["kind"] for p in pieces] == [p["kind"] for p in model]
    assert (pieces[0]["place"], pieces[-1]["place"]) == ("Harbor office", "Ice house")
    assert {p["label"] for p in pieces} == {""}
    assert made["review"]["length_m"] == 700


def test_what_if_changes_nothing_and_its_edits_make_it_so(client: TestClient) -> None:
    before = client.get(f"{API}/links/6").json()
    tried = client.post(
        f"{API}/links/6/what-if", json={"length_m": "4 km", "profile": "low-loss guaranteed"}
    ).json()
    assert client.get(f"{API}/links/6").json() == before
    assert tried["verdict_text"] == "pass on estimate"
    body = {"revision": before["revision"], "edits": tried["edits"]}
    made = client.post(f"{API}/links/6/edits", json=body).json()
    assert made["review"]["length_m"] == 4000


def test_an_own_figure_is_kept_undone_and_restored(client: TestClient) -> None:
    rules = client.get(f"{API}/projects/1").json()["house_rules"]
    own = {"shelf": "allowance", "name": "mated pair", "figure": "worst_db", "value": 0.4, "source": "contract 12"}
    wish = {**rules, "own_figures": [own]}
    shown = client.post(f"{API}/projects/1/house-rules/preview", json=wish).json()
    assert {c["name"]: c["after"] for c in shown}["Crane 1"] == "pass"
    project = set_rules(client, wish).json()
    assert project["undo"]["label"] == "house rules: own figure 0.4 for worst_db of mated pair"
    figures = client.get(f"{API}/projects/1/figures").json()
    assert [(f["value"], f["source"]["note"]) for f in figures if f["own"]] == [(0.4, "contract 12")]
    project = set_rules(client, rules).json()
    assert project["undo"]["label"] == "house rules: worst_db of mated pair restored"
    wrong = set_rules(client, {**rules, "own_figures": [{**own, "value": 0.1}]})
    assert wrong.status_code == 422
    assert "typical" in wrong.json()["detail"]


def test_a_plan_with_its_history_opens_as_a_project_that_can_be_undone(client: TestClient) -> None:
    remove(client, 16)
    client.post(f"{API}/projects/1/links", json=QUESTION)
    client.put(f"{API}/projects/1/name", json={"name": "Port-Aubier, east"})
    undo(client)
    text = client.get(f"{API}/projects/1/plan?with_history=true").text
    opened = client.post(f"{API}/projects/open", json={"text": text}).json()
    log = client.get(f"{API}/projects/{opened['id']}/history").json()
    assert [e["label"] for e in log] == [e["label"] for e in client.get(f"{API}/projects/1/history").json()]
    again = json.loads(client.get(f"{API}/projects/{opened['id']}/plan?with_history=true").text)
    assert [e["state"] for e in again["history"]["entries"]] == [
        e["state"] for e in json.loads(text)["history"]["entries"]
    ]
    for _ in range(2):
        undo(client, opened["id"]).raise_for_status()
    names = [row["name"] for row in rows(client, opened["id"])]
    assert sorted(names) == sorted([*(row["name"] for row in rows(client)[:-1]), "Freezer aisle"])
    assert len(rows(client)) == len(demo_links())
    for _ in range(3):
        redo(client, opened["id"]).raise_for_status()
    assert client.get(f"{API}/projects/{opened['id']}").json()["name"] == "Port-Aubier, east"


def test_a_new_project_is_empty_and_its_name_is_undone(client: TestClient) -> None:
    made = client.post(f"{API}/projects", json={"name": "Annex"}).json()
    assert rows(client, made["id"]) == []
    client.put(f"{API}/projects/{made['id']}/name", json={"name": "Annex B"})
    assert undo(client, made["id"]).json()["project"]["name"] == "Annex"
    assert client.put(f"{API}/projects/{made['id']}/name", json={"name": ""}).status_code == 422


def test_the_stage_of_each_link_is_its_first_open_work(client: TestClient) -> None:
    stages = {row["name"]: row["stage"] for row in rows(client)}
    assert stages["Weighbridge"] == "survey"
    assert stages["Ferry terminal"] == "match"
    assert stages["Lock house, dike duct"] == "budget"
    assert stages["Crane 3"] == "order"
    for row in rows(client):
        assert client.get(f"{API}/links/{row['id']}").json()["stage"] == row["stage"]


def test_the_checks_are_told(client: TestClient) -> None:
    lines = client.get(f"{API}/catalog/checks").json()
    assert {line["outcome"] for line in lines} == {"kept", "explained"}
