"""A number with a comma over the wire: read where it is sure, asked about where it is not, never guessed."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient
from httpx import Response

from tests.api.steps import API, seen


@pytest.fixture
def project(client: TestClient) -> int:
    return int(client.post(f"{API}/projects", json={"name": "numbers"}).json()["id"])


@pytest.fixture
def link(client: TestClient, project: int) -> dict[str, Any]:
    wish = {"from_place": "A", "to_place": "B", "rate_mbps": 10_000, "length_m": 100, "media": ["single-mode"]}
    return dict(client.post(f"{API}/projects/{project}/links", json=wish).json())


def doubt(answer: Response) -> tuple[str, str, list[str]]:
    """The field, the text and its readings of an answer that asks."""
    assert answer.status_code == 422, answer.text
    one = next(error for error in answer.json()["errors"] if error["readings"])
    return one["field"].split(".")[-1], one["typed"], one["readings"]


def edited(client: TestClient, link: dict[str, Any], kind: str, **values: object) -> Response:
    piece = next(one for one in link["link"]["elements"] if one["kind"] == kind)
    edit = {"op": "set", "element": piece["id"], "values": values}
    return client.post(f"{API}/links/{link['id']}/edits", json={"revision": link["revision"], "edits": [edit]})


def test_a_length_in_feet_is_asked_about_and_then_taken(client: TestClient, project: int) -> None:
    wish = {
        "from_place": "A",
        "to_place": "B",
        "rate_mbps": 10_000,
        "length_m": "1,200 ft",
        "media": ["single-mode"],
    }
    url = f"{API}/projects/{project}/links"
    assert doubt(client.post(url, json=wish)) == ("length_m", "1,200 ft", ["1200 ft", "1.2 ft"])
    assert client.get(url).json() == []
    made = client.post(url, json={**wish, "length_m": "1200 ft"})
    run = next(e for e in made.json()["link"]["elements"] if e["kind"] == "run")
    assert run["length_m"] == pytest.approx(365.76)


def test_a_piece_asks_for_its_length_and_its_power(client: TestClient, link: dict[str, Any]) -> None:
    assert doubt(edited(client, link, "run", length_m="1,005"))[1:] == ("1,005", ["1005", "1.005"])
    field = doubt(edited(client, link, "module", lane_max_dbm="1,005"))
    assert field == ("lane_max_dbm", "1,005", ["1005", "1.005"])
    assert doubt(edited(client, link, "module", lane_max_dbm="−1,5"))[2] == ["-1.5"]
    assert edited(client, link, "module", lane_max_dbm="-1.5").status_code == 200


@pytest.mark.parametrize(
    ("typed", "readings"), [("0,5", ["0.5"]), ("1,005", ["1005", "1.005"]), ("half", []), ("", [])]
)
def test_a_rule_of_the_project_says_how_a_number_can_be_typed(
    client: TestClient, project: int, typed: str, readings: list[str]
) -> None:
    before = seen(client, project)
    answer = client.put(
        f"{API}/projects/{project}/house-rules",
        json={**before["house_rules"], "margin_db": typed},
        params={"revision": before["house_revision"]},
    )
    assert answer.status_code == 422
    error = answer.json()["errors"][0]
    assert (error["field"].split(".")[-1], error["readings"]) == ("margin_db", readings)
    assert "number" in error["message"] or "can mean" in error["message"]
    assert seen(client, project)["house_rules"]["margin_db"] == before["house_rules"]["margin_db"]


def test_a_count_has_only_the_readings_that_are_whole(client: TestClient, link: dict[str, Any]) -> None:
    url = f"{API}/links/{link['id']}/turnup/ports"
    wish = {"end": "left", "oper": "up", "lanes": []}
    assert doubt(client.post(url, json={**wish, "errors": "1,500"}))[2] == ["1500"]
    answer = client.post(url, json={**wish, "errors": "1,5"}).json()
    assert answer["errors"][0]["readings"] == []
    assert "whole number" in answer["detail"]


def test_a_power_is_taken_as_the_port_shows_it(client: TestClient, link: dict[str, Any]) -> None:
    url = f"{API}/links/{link['id']}/turnup/ports"
    lane = {"lane": 1, "tx_dbm": "0,24 mW", "rx_dbm": "−6,5 dBm", "rx_dark": False}
    answer = client.post(url, json={"end": "left", "oper": "up", "lanes": [lane]})
    assert answer.status_code == 201, answer.text
    seen_lane = next(one for one in answer.json()["lanes"] if one["end"] == "left")
    assert (seen_lane["tx_dbm"], seen_lane["rx_dbm"]) == (-6.2, -6.5)
    wrong = client.post(url, json={"end": "left", "oper": "up", "lanes": [{**lane, "tx_dbm": "weak"}]})
    assert wrong.status_code == 422
    assert "0.24 mW" in wrong.json()["detail"]


def test_what_an_address_asks_is_read_alike(client: TestClient) -> None:
    assert client.get(f"{API}/length", params={"text": "1250 ft"}).json() == pytest.approx(381.0)
    assert doubt(client.get(f"{API}/length", params={"text": "1,250 ft"}))[2] == ["1250 ft", "1.25 ft"]
    assert doubt(client.get(f"{API}/bend-loss", params={"radius_mm": "7,5"})) == ("radius_mm", "7,5", ["7.5"])


@pytest.mark.parametrize("price", ["1,200", "1,005"])
def test_a_price_list_is_refused_where_a_comma_is_in_doubt(client: TestClient, project: int, price: str) -> None:
    wish = {"text": f'item,price\nsplice,"{price}"\n'}
    answer = client.put(f"{API}/projects/{project}/prices", json=wish)
    assert answer.status_code == 422
    assert "can mean" in answer.json()["detail"]
    assert "line 2" in answer.json()["detail"]
    sure = client.put(f"{API}/projects/{project}/prices", json={"text": 'item,price\nsplice,"12,5"\n'})
    assert sure.status_code == 200
    assert next(one for one in sure.json()["lines"] if one["item"] == "splice")["price"] == 12.5
