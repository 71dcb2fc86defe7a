"""House rules, bulk changes and the log over the api."""

from __future__ import annotations

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
    assert review["verdict"] == "pass"


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
