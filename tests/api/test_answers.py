"""Answers of several links, and links without glass, over the api."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import undo

API = "/api/v1"
FOUR = {"cage": "SFP+", "free": 4}
QUESTION = {"from_place": "Row A", "to_place": "Row B", "length_m": "200 ft", "rate_mbps": 40_000}
COPPER = {"kind": "port", "cage": "RJ45", "rates_mbps": [1000]}


def names(client: TestClient) -> list[str]:
    return [row["name"] for row in client.get(f"{API}/projects/1/links").json()]


def test_taking_an_answer_of_four_links_is_one_entry(client: TestClient) -> None:
    before = names(client)
    wish = {**QUESTION, "near": FOUR, "far": FOUR}
    told = client.post(f"{API}/projects/1/links/answer", json=wish).json()
    second = told["options"][1]
    made = client.post(f"{API}/projects/1/links", json={**wish, "pick": second["key"]}).json()
    assert made["undo"]["label"] == "add Row A to Row B, member 1 and 3 more"
    assert second["application"] in made["review"]["applications"]
    assert names(client)[len(before) :] == [f"Row A to Row B, member {n}" for n in range(1, 5)]
    undo(client)
    assert names(client) == before


def test_the_air_of_a_place_on_the_plan_chooses_the_modules(client: TestClient) -> None:
    """The cold store is at minus 25 °C: asked by hand, by table or taken, its module stands that."""
    wish = {"from_place": "Harbor office", "to_place": "cold store", "length_m": 185, "rate_mbps": 10_000}
    told = client.post(f"{API}/projects/1/links/answer", json=wish).json()["options"][0]
    made = client.post(f"{API}/projects/1/links", json=wish).json()["link"]
    table = {"text": "from,to,length,speed\nHarbor office,Cold store,185 m,10G\n"}
    line = client.post(f"{API}/projects/1/requirements", json=table).json()["answered"][0]["best"]
    for link in (told["links"][0], made, line["links"][0]):
        module, port = link["elements"][-2:]
        assert (module["temperature_class"], port["coldest_c"]) == ("industrial", -25)
    own = {**wish, "far": {"coldest_c": 5, "hottest_c": 25}}
    warm = client.post(f"{API}/projects/1/links", json=own).json()["link"]
    assert warm["elements"][-1]["coldest_c"] == 5


def test_an_answer_that_is_gone_is_refused_and_nothing_is_made(client: TestClient) -> None:
    before = names(client)
    wish = {**QUESTION, "rate_mbps": 10_000, "length_m": "3 km", "pick": "10GBASE-SR on OM4"}
    refused = client.post(f"{API}/projects/1/links", json=wish)
    assert refused.status_code == 422
    assert "choose one of them again" in refused.json()["detail"]
    assert names(client) == before


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"near": {"cage": "SFP+", "free": -1}}, "free"),
        ({"weights": {"cost": 9}}, "cost"),
        ({"spaces": ["on the moon"]}, "spaces"),
        ({"category": "Category 4"}, "category"),
        ({"media": ["smoke"]}, "media"),
        ({"near_cage": "SFP+"}, "near_cage"),
    ],
)
def test_a_bad_field_of_the_question_is_named(client: TestClient, change: dict[str, Any], field: str) -> None:
    refused = client.post(f"{API}/projects/1/links/answer", json={**QUESTION, **change})
    assert refused.status_code == 422
    assert any(field in problem["field"] for problem in refused.json()["errors"])


@pytest.mark.parametrize(
    ("values", "hint"),
    [
        ({"category": "Category 4"}, "category"),
        ({"length_m": "far"}, "'far' is not a length"),
        ({"pins": 8}, "pins"),
    ],
)
def test_a_bad_value_of_a_copper_piece_is_named_and_nothing_changes(
    client: TestClient, values: dict[str, Any], hint: str
) -> None:
    before = client.get(f"{API}/links/17").json()
    edit = {"op": "set", "element": "twisted-2", "values": values}
    refused = client.post(f"{API}/links/17/edits", json={"revision": before["revision"], "edits": [edit]})
    assert refused.status_code == 422
    assert hint in refused.text
    assert client.get(f"{API}/links/17").json() == before


def test_the_list_the_link_and_the_table_agree_on_copper(client: TestClient) -> None:
    row = next(r for r in client.get(f"{API}/projects/1/links").json() if r["id"] == 17)
    link = client.get(f"{API}/links/17").json()
    assert (row["verdict_text"], row["length_m"], row["margin_db"]) == ("fail", 144.0, None)
    assert (link["verdict_text"], link["review"]["length_m"], link["review"]["reach_m"]) == ("fail", 144.0, 100.0)
    table = client.get(f"{API}/projects/1/links.csv").text
    assert "Twisted pair to the weighbridge" in table


def test_the_fix_of_copper_between_buildings_is_glass(client: TestClient) -> None:
    link = client.get(f"{API}/links/17").json()
    fix = link["review"]["findings"][0]["fixes"][0]
    body = {"revision": link["revision"], "edits": fix["edits"]}
    made = client.post(f"{API}/links/17/edits", json=body).json()
    assert made["verdict_text"] == fix["effect"]["verdict"] == "pass"
    assert [e["kind"] for e in made["link"]["elements"]][:3] == ["port", "module", "cord"]
    undo(client)
    assert client.get(f"{API}/links/17").json()["link"] == link["link"]


@pytest.mark.parametrize(
    ("kind", "key"), [("twisted", "category"), ("outlet", "label"), ("jack", "form"), ("assembly", "made")]
)
def test_pieces_without_glass_are_offered_for_insertion(client: TestClient, kind: str, key: str) -> None:
    piece = client.get(f"{API}/links/17/fitting", params={"after": "port-1", "kind": kind}).json()
    assert piece["kind"] == kind
    assert key in piece


def test_the_routes_of_the_plan_say_what_they_pass(client: TestClient) -> None:
    asked = {"start": "office", "end": "weighbridge"}
    found = client.get(f"{API}/projects/1/plant/routes", params=asked).json()
    shortest = min(found, key=lambda route: route["length_m"])
    assert shortest["spaces"] == ["buried", "beside power", "between buildings"]
