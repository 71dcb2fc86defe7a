"""Orders and deliveries over the wire: what goes back is wanted again, what comes is what was ordered or told."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import API, undo

CORD = "cord, OS2, LC UPC to LC UPC, duplex, A-to-B (ordinary), 2 m"


@pytest.fixture
def project(client: TestClient) -> int:
    made = client.post(f"{API}/projects", json={"name": "orders"}).json()
    wish = {"from_place": "A", "to_place": "B", "rate_mbps": 10_000, "length_m": 100, "media": ["single-mode"]}
    assert client.post(f"{API}/projects/{made['id']}/links", json=wish).status_code == 201
    return int(made["id"])


def order(client: TestClient, project: int) -> Any:
    return client.post(f"{API}/projects/{project}/orders", json={})


def line(client: TestClient, project: int, words: str = CORD) -> dict[str, Any]:
    lines = client.get(f"{API}/projects/{project}/bill").json()["bill"]["lines"]
    return dict(next(one for one in lines if one["words"] == words))


def deliver(client: TestClient, project: int, **wish: Any) -> Any:
    return client.post(f"{API}/projects/{project}/deliveries", json=wish)


def only_link(client: TestClient, project: int) -> dict[str, Any]:
    row = client.get(f"{API}/projects/{project}/links").json()[0]
    return dict(client.get(f"{API}/links/{row['id']}").json())


def test_what_is_sent_back_is_ordered_again_and_comes_again(client: TestClient, project: int) -> None:
    assert order(client, project).status_code == 200
    arrival = {"line": CORD, "quantity": 1, "polish": "APC"}
    assert deliver(client, project, lines=[arrival]).json()["matched"][0]["keys"]
    link = only_link(client, project)
    told = next(f for f in link["review"]["findings"] if f["code"] == "delivery.otherwise")
    back = next(fix for fix in told["fixes"] if "order it again" in fix["label"])
    before = line(client, project)
    assert before["to_order"] == 0
    edit = {"revision": link["revision"], "edits": back["edits"]}
    assert client.post(f"{API}/links/{link['id']}/edits", json=edit).status_code == 200

    assert line(client, project)["to_order"] == 1, "it went back: one more is wanted"
    assert order(client, project).status_code == 200
    assert line(client, project)["to_order"] == 0
    again = deliver(client, project, lines=[{"line": CORD, "quantity": 1}]).json()
    assert len(again["matched"][0]["keys"]) == 1
    states = [e["state"] for e in only_link(client, project)["link"]["elements"] if e["kind"] == "cord"]
    assert sorted(states) == ["delivered", "ordered"]
    assert line(client, project)["to_order"] == 0, "what went back once is not wanted twice"
    assert deliver(client, project, all_as_ordered=True).status_code == 200
    states = [e["state"] for e in only_link(client, project)["link"]["elements"] if e["kind"] == "cord"]
    assert states == ["delivered", "delivered"]


def test_all_came_as_ordered_in_one_press(client: TestClient, project: int) -> None:
    order(client, project)
    assert deliver(client, project, lines=[{"line": CORD, "quantity": 1}]).status_code == 200
    waiting = client.get(f"{API}/projects/{project}/bill").json()["waiting"]
    cords = next(one for one in waiting if one["words"] == CORD)
    assert (cords["ordered"], cords["came"], cords["open"]) == (3, 1, 2)
    assert deliver(client, project, all_as_ordered=True).status_code == 200
    assert {one["open"] for one in client.get(f"{API}/projects/{project}/bill").json()["waiting"]} == {0}
    elements = only_link(client, project)["link"]["elements"]
    assert {e["state"] for e in elements if e["kind"] != "port"} == {"delivered"}
    nothing = deliver(client, project, all_as_ordered=True)
    assert nothing.status_code == 422
    assert "nothing is waited for" in nothing.json()["detail"]
    undo(client, project)
    assert deliver(client, project, all_as_ordered=True).status_code == 200, "undo withdrew the delivery"


@pytest.mark.parametrize(("quantity", "told"), [(3, ""), (4, "3 were ordered, 4 came: 1 more")])
def test_more_than_was_ordered_is_told(client: TestClient, project: int, quantity: int, told: str) -> None:
    order(client, project)
    found = deliver(client, project, lines=[{"line": CORD, "quantity": quantity}]).json()["matched"][0]
    assert found["told"].startswith(told)
    assert bool(found["told"]) is bool(told)


def test_pieces_come_whole_and_metres_need_not(client: TestClient, project: int) -> None:
    order(client, project)
    half = deliver(client, project, lines=[{"line": CORD, "quantity": 1.5}])
    assert half.status_code == 422
    assert "pieces come whole: 1.5 is no number of pieces" in half.json()["detail"]
    wish = {"words": CORD, "what": "quantity", "value": 2.5, "why": "rounding"}
    answer = client.put(f"{API}/projects/{project}/bill/line", json=wish)
    assert answer.status_code == 422
    assert "pieces come whole" in answer.json()["detail"]
    assert line(client, project)["ordered"] == 3, "nothing was written"


def test_a_number_is_never_given_again(client: TestClient, project: int) -> None:
    order(client, project)
    undo(client, project)
    papers = order(client, project).json()["papers"]
    assert sorted(paper["number"] for paper in papers) == [1, 2]
    assert [bool(paper["withdrawn"]) for paper in papers if paper["number"] == 1] == [True]


def test_a_second_order_of_a_line_goes_to_what_is_new(client: TestClient, project: int) -> None:
    """What came with the first order does not wait again, although the second one names its line too."""
    order(client, project)
    deliver(client, project, all_as_ordered=True)
    wish = {"from_place": "A", "to_place": "C", "rate_mbps": 10_000, "length_m": 100, "media": ["single-mode"]}
    second = client.post(f"{API}/projects/{project}/links", json=wish).json()
    assert line(client, project)["to_order"] == 2
    order(client, project)
    assert line(client, project)["to_order"] == 0
    deliver(client, project, lines=[{"line": CORD, "quantity": 2}])
    elements = client.get(f"{API}/links/{second['id']}").json()["link"]["elements"]
    assert {e["state"] for e in elements if e["kind"] == "cord"} == {"delivered"}
    assert line(client, project)["to_order"] == 0
