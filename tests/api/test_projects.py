"""House rules, bulk changes and the log over the api."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import seen, set_rules, undo

API = "/api/v1"


def verdicts(client: TestClient) -> dict[str, str]:
    return {row["name"]: row["verdict_text"] for row in client.get(f"{API}/projects/1/links").json()}


def test_house_rules_show_what_they_change_before_they_are_taken(client: TestClient) -> None:
    before = verdicts(client)
    rules = {"margin_db": 3.0, "offset_launch_from_m": 300}
    shown = client.post(f"{API}/projects/1/house-rules/preview", json=rules).json()
    assert verdicts(client) == before
    told = {c["name"]: c["after"] for c in shown}
    assert (told["Rows A to B"], told["Cold store, today"]) == ("marginal", "marginal")
    set_rules(client, rules)
    after = verdicts(client)
    assert {c["name"]: (c["before"], c["after"]) for c in shown} == {
        name: (before[name], after[name]) for name in after if before[name] != after[name]
    }


@pytest.mark.parametrize(
    ("change", "field", "value"),
    [
        ({"change": "grade", "grade": "OS2"}, "fiber", ["OS2"]),
        ({"change": "application", "application": "1000BASE-LX10"}, "application", "1000BASE-LX10"),
        ({"change": "loss class", "loss_class": "mated pair, low-loss"}, "loss_class", "mated pair, low-loss"),
    ],
)
def test_one_change_in_many_links_and_one_undo(
    client: TestClient, change: dict[str, Any], field: str, value: Any
) -> None:
    before = verdicts(client)
    wish = {"links": [4, 5, 11], "change": change}
    shown = client.post(f"{API}/projects/1/bulk/preview", json=wish).json()
    assert verdicts(client) == before
    made = client.post(f"{API}/projects/1/bulk", json=wish).json()
    assert made == shown
    for number in wish["links"]:
        pieces = client.get(f"{API}/links/{number}").json()["link"]["elements"]
        assert {str(p[field]) for p in pieces if field in p} == {str(value)}
    undo(client)
    assert verdicts(client) == before


def test_bulk_over_a_pair_gives_each_end_its_side(client: TestClient) -> None:
    wish = {"links": [14], "change": {"change": "application", "application": "1000BASE-BX10-U"}}
    client.post(f"{API}/projects/1/bulk", json=wish)
    review = client.get(f"{API}/links/14").json()["review"]
    assert review["applications"] == ["1000BASE-BX10-U", "1000BASE-BX10-D"]
    assert review["verdict"] == "marginal", "7.4 km: with the splice that is assumed inside the house margin"


def test_bulk_with_a_link_that_is_gone_changes_nothing(client: TestClient) -> None:
    before = verdicts(client)
    wish = {"links": [4, 999], "change": {"change": "grade", "grade": "OM4"}}
    assert client.post(f"{API}/projects/1/bulk", json=wish).status_code == 404
    bad = {"links": [4], "change": {"change": "grade", "grade": "OM9"}}
    assert client.post(f"{API}/projects/1/bulk", json=bad).status_code == 422
    assert verdicts(client) == before


def test_the_log_returns_to_an_earlier_state(client: TestClient) -> None:
    for margin in (2.0, 3.0, 4.0):
        set_rules(client, {"margin_db": margin})
    first = client.get(f"{API}/projects/1/history").json()[-1]
    newest = {"newest": seen(client)["undo"]["entry"]}
    walked = client.post(f"{API}/projects/1/history/{first['id']}/return", params=newest).json()
    assert walked["project"]["house_rules"]["margin_db"] == 2.0
    assert walked["entry"]["label"].startswith("return to: house rules")
    assert (
        client.post(
            f"{API}/projects/1/history/999/return", params={"newest": seen(client)["undo"]["entry"]}
        ).status_code
        == 409
    )


def test_a_link_that_cannot_take_a_change_is_named_and_the_rest_is_changed(client: TestClient) -> None:
    """A link of copper has no modules whose application could be set."""
    before = verdicts(client)
    rows = client.get(f"{API}/projects/1/links").json()
    copper = client.post(
        f"{API}/projects/1/links",
        json={"from_place": "A", "to_place": "B", "rate_mbps": 1000, "length_m": 30, "media": ["twisted pair"]},
    ).json()
    wish = {
        "links": [rows[3]["id"], copper["id"]],
        "change": {"change": "application", "application": "10GBASE-LR"},
    }
    shown = client.post(f"{API}/projects/1/bulk/preview", json=wish).json()
    assert [one["name"] for one in shown["refused"]] == [copper["link"]["name"]]
    assert shown["links"] == 1
    refused = client.post(f"{API}/projects/1/bulk", json=wish)
    assert refused.status_code == 422
    assert f"'{copper['link']['name']}' cannot take it" in refused.json()["detail"]
    assert {name: told for name, told in verdicts(client).items() if name in before} == before
    made = client.post(f"{API}/projects/1/bulk", json={**wish, "leave_out": True})
    assert (made.status_code, made.json()["links"]) == (200, 1)
    elements = client.get(f"{API}/links/{rows[3]['id']}").json()["link"]["elements"]
    assert {e["application"] for e in elements if e["kind"] == "module"} == {"10GBASE-LR"}
    alone = {**wish, "links": [copper["id"]], "leave_out": True}
    assert client.post(f"{API}/projects/1/bulk", json=alone).status_code == 422, "nothing is left to change"


def test_a_plan_whose_links_are_here_under_another_project_is_a_copy(client: TestClient) -> None:
    plan = client.get(f"{API}/projects/1/plan").json()
    here = {link["key"] for link in plan["links"]}
    plan["key"] = "anotherprojectskey"
    made = client.post(f"{API}/projects/open", json={"text": json.dumps(plan)})
    assert made.status_code == 201, made.text
    again = client.get(f"{API}/projects/{made.json()['id']}/plan").json()
    assert len(again["links"]) == len(plan["links"])
    assert not here & {link["key"] for link in again["links"]}, "each has keys of its own"
    assert client.get(f"{API}/projects/1/plan").json()["links"] == plan["links"]
