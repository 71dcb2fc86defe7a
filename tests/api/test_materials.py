"""The order over the wire: the bill, orders, deliveries, reels, labels, and what a code on a label opens."""

from __future__ import annotations

import io
from typing import Any

import pytest
from fastapi.testclient import TestClient
from openpyxl import load_workbook

from tests.api.steps import API, redo, set_rules, undo

P = f"{API}/projects/1"
CORD = "cord, OM4, LC PC to LC PC, duplex, A-to-B (ordinary), 2 m"
DOUBTFUL = ("=", "+", "-", "@")


def bill(client: TestClient) -> dict[str, Any]:
    return dict(client.get(f"{P}/bill").json())


def line(client: TestClient, words: str) -> dict[str, Any]:
    found: dict[str, Any] = next(one for one in bill(client)["bill"]["lines"] if one["words"] == words)
    return found


def to_order(client: TestClient) -> dict[str, float]:
    return {one["words"]: one["to_order"] for one in bill(client)["bill"]["lines"] if one["to_order"]}


def link_of(client: TestClient, words: str) -> dict[str, Any]:
    asker = line(client, words)["asked"][0]
    return dict(client.get(f"{API}/links/{asker['link']}").json()) | {"piece": asker["element"]}


def piece(client: TestClient, link: int, element: str) -> dict[str, Any]:
    elements = client.get(f"{API}/links/{link}").json()["link"]["elements"]
    found: dict[str, Any] = next(e for e in elements if e["id"] == element)
    return found


def test_a_second_order_holds_only_the_difference(client: TestClient) -> None:
    first = to_order(client)
    placed = client.post(f"{P}/orders", json={"note": "first"}).json()
    assert to_order(client) == {}
    assert (placed["papers"][0]["number"], len(placed["papers"][0]["lines"])) == (1, len(first))
    assert client.post(f"{P}/orders", json={}).status_code == 422
    asker = line(client, CORD)["asked"][0]
    link = client.get(f"{API}/links/{asker['link']}").json()
    edit = {"op": "set", "element": asker["element"], "values": {"length_m": 2.5}}
    client.post(
        f"{API}/links/{link['id']}/edits", json={"revision": link["revision"], "edits": [edit]}
    ).raise_for_status()
    longer = CORD.replace("2 m", "3 m")
    assert to_order(client) == {CORD: -1, longer: 2}, "one more with its spare, one less of those that were ordered"
    undo(client).raise_for_status()
    assert to_order(client) == {}
    undo(client).raise_for_status()
    assert to_order(client) == first
    assert [(p["kind"], p["withdrawn"]) for p in bill(client)["papers"]] == [("order", "undone")]
    redo(client).raise_for_status()
    assert to_order(client) == {}


def test_a_wrong_grade_moves_the_verdict_and_undo_brings_it_back(client: TestClient) -> None:
    client.post(f"{P}/orders", json={})
    held = link_of(client, CORD)
    before = held["review"]
    table = f'part,qty,delivered grade\n"{CORD}",1,OM1\n"rope",3,\n'
    seen = client.post(f"{P}/deliveries/preview", json={"text": table}).json()
    assert [one["line"] for one in seen["unmatched"]] == ["rope"]
    assert piece(client, held["id"], held["piece"])["state"] == "ordered", "a look stores nothing"
    taken = client.post(f"{P}/deliveries", json={"text": table, "note": "DN 7"}).json()
    assert (len(taken["matched"]), len(taken["unmatched"])) == (1, 1)
    came = piece(client, held["id"], held["piece"])
    assert (came["state"], came["fiber"], came["ordered"][0]["value"]) == ("delivered", ["OM1"], ["OM4"])
    after = client.get(f"{API}/links/{held['id']}").json()["review"]
    new = {finding["code"] for finding in after["findings"]} - {finding["code"] for finding in before["findings"]}
    assert new == {"delivery.otherwise", "core.size", "loss.over_limit", "reach.exceeded"}
    undo(client).raise_for_status()
    assert client.get(f"{API}/links/{held['id']}").json()["review"] == before
    assert piece(client, held["id"], held["piece"])["state"] == "ordered"


def test_a_bad_delivery_note_takes_nothing_and_says_where(client: TestClient) -> None:
    client.post(f"{P}/orders", json={})
    before = bill(client)["papers"]
    for body, hint in (
        ({"text": f'part,qty\n"{CORD}",two\n'}, "line 2, qty: 'two' is no quantity"),
        ({"text": f'part,qty\n"{CORD}","1,000"\n'}, "can mean 1000 or 1:"),
        ({"text": f'part,qty,grade\n"{CORD}",1,OM99\n'}, "OM99"),
        ({"text": "what,ever\n1,2\n"}, "no column is matched to 'line'"),
        ({"lines": [{"line": "rope", "quantity": 1}]}, "nothing of this delivery was ordered"),
        ({}, "say what came"),
    ):
        answer = client.post(f"{P}/deliveries", json=body)
        assert (answer.status_code, hint in answer.json()["detail"]) == (422, True), answer.text
    assert bill(client)["papers"] == before


def test_a_note_with_columns_of_its_own_is_matched_by_hand(client: TestClient) -> None:
    client.post(f"{P}/orders", json={})
    text = f'Posten,Menge\n"{CORD}",2\n'
    seen = client.post(f"{P}/deliveries/preview", json={"text": text}).json()
    assert (seen["columns"], seen["problems"][0]["column"], seen["matched"]) == (["Posten", "Menge"], "line", [])
    wish = {"text": text, "mapping": {"line": "Posten", "quantity": "Menge"}}
    assert len(client.post(f"{P}/deliveries/preview", json=wish).json()["matched"][0]["keys"]) == 2
    assert client.post(f"{P}/deliveries", json=wish).status_code == 200


def test_a_line_is_set_with_a_reason_and_goes_back(client: TestClient) -> None:
    refused = client.put(f"{P}/bill/line", json={"words": CORD, "what": "quantity", "value": 40})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "why")
    computed = line(client, CORD)["quantity"]
    wish = {"words": CORD, "what": "quantity", "value": 40, "why": "two boxes of twenty"}
    client.put(f"{P}/bill/line", json=wish).raise_for_status()
    assert (line(client, CORD)["quantity"], line(client, CORD)["why"]) == (40, "two boxes of twenty")
    client.put(f"{P}/bill/line", json={"words": CORD, "what": "price", "value": 7.5}).raise_for_status()
    assert (line(client, CORD)["each"], line(client, CORD)["price_by"]) == (7.5, "quoted")
    client.put(f"{P}/bill/line", json={"words": CORD, "what": "at hand", "value": 3}).raise_for_status()
    assert line(client, CORD)["computed"] == computed - 3
    client.put(f"{P}/bill/line", json={"words": CORD, "what": "quantity", "value": None}).raise_for_status()
    assert line(client, CORD)["quantity"] == computed - 3


def test_what_is_there_already_is_not_bought(client: TestClient) -> None:
    asker = line(client, CORD)["asked"][0]
    needed = line(client, CORD)["needed"]
    client.post(f"{P}/states", json={"keys": [asker["key"]], "state": "existing"}).raise_for_status()
    assert line(client, CORD)["needed"] == needed - 1
    client.post(f"{P}/states", json={"links": [asker["link"]], "state": "existing"}).raise_for_status()
    asking = {one["link"] for other in bill(client)["bill"]["lines"] for one in other["asked"]}
    assert asker["link"] not in asking
    assert client.post(f"{P}/states", json={"state": "existing"}).status_code == 422


@pytest.mark.parametrize("name", ["bill", "reels", "labels"])
@pytest.mark.parametrize("kind", ["csv", "xlsx", "pdf", "json"])
def test_each_comes_as_a_file(client: TestClient, name: str, kind: str) -> None:
    answer = client.get(f"{P}/{name}.{kind}")
    assert answer.status_code == 200
    begins = {"csv": b"", "xlsx": b"PK", "pdf": b"%PDF", "json": b"{"}[kind]
    assert answer.content.startswith(begins)
    assert f'filename="{name}' in answer.headers["content-disposition"]


def test_sums_of_the_workbook_are_live_and_names_stay_text(client: TestClient) -> None:
    link = client.get(f"{API}/links/1").json()
    edit = {"op": "describe", "values": {"name": "=1+1"}}
    client.post(f"{API}/links/1/edits", json={"revision": link["revision"], "edits": [edit]}).raise_for_status()
    sheet = load_workbook(io.BytesIO(client.get(f"{P}/bill.xlsx").content)).worksheets[0]
    rows = list(sheet.iter_rows(values_only=True))
    lines = [row for row in rows[1:] if row[1] != "sum"]
    assert all(str(row[10]).startswith("=MAX(0,I") for row in lines)
    assert str(rows[-1][10]).startswith("=K")
    texts = [cell for row in lines for i, cell in enumerate(row) if isinstance(cell, str) and i not in (8, 10)]
    assert not [text for text in texts if text.startswith(DOUBTFUL)]
    assert any("'=1+1" in text for text in texts)


def test_a_cut_is_moved_and_the_proposal_becomes_a_plan(client: TestClient) -> None:
    plans = client.get(f"{P}/reels").json()["plans"]
    short = next(plan for plan in plans if plan["troubles"])
    assert "8 m too short" in short["troubles"][0]["what"]
    wish = {"line": short["line"], "of": short["reels"][1]["cuts"][0]["of"], "section": 0, "to": 0}
    moved = client.post(f"{P}/reels/move", json=wish).json()["plans"]
    assert next(plan for plan in moved if plan["line"] == short["line"])["troubles"] == []
    undo(client).raise_for_status()
    anew = client.post(f"{P}/reels/take", json={"line": short["line"], "anew": True}).json()["plans"]
    proposed = next(plan for plan in anew if plan["line"] == short["line"])
    assert (proposed["planned"], proposed["proven"], proposed["troubles"]) == (False, True, [])
    reel = {"line": short["line"], "name": "van", "length_m": "2000 ft", "on_hand": True}
    added = client.put(f"{P}/reels", json=reel).json()["plans"]
    own = next(r for plan in added for r in plan["reels"] if r["name"] == "van")
    assert own["holds_m"] == pytest.approx(609.6)
    assert client.put(f"{P}/reels", json={**reel, "row": "nobody"}).status_code == 422


def test_labels_are_given_once_and_a_code_opens_its_piece(client: TestClient) -> None:
    first = client.post(f"{P}/labels", json={}).json()
    assert first["loopback"]
    given = {one["key"]: one["label"] for one in first["labels"]}
    assert all(given.values())
    assert len(set(given.values())) == len(given)
    link = client.get(f"{API}/links/1").json()
    insert = {
        "op": "insert",
        "after": "cord-1",
        "piece": {"kind": "attenuator", "value_db": 5, "shape": "LC", "polish": "UPC"},
    }
    body = {"revision": link["revision"], "edits": [insert]}
    client.post(f"{API}/links/1/edits", json=body).raise_for_status()
    undo(client).raise_for_status()
    redo(client).raise_for_status()
    again = {one["key"]: one["label"] for one in client.post(f"{P}/labels", json={}).json()["labels"]}
    assert given.items() <= again.items()
    cord = next(e for e in link["link"]["elements"] if e["kind"] == "cord")
    opened = client.get(f"{API}/keys/{cord['key']}").json()
    assert (opened["project"], opened["link"], opened["element"]) == (1, 1, cord["id"])
    cable = next(one for one in first["labels"] if one["shelf"] == "cables")
    assert client.get(f"{API}/keys/{cable['key']}").json()["row"] == cable["row"]
    assert client.get(f"{API}/keys/nothing").status_code == 404
    set_rules(client, {"base_address": "http://plans.port.example:8000"}).raise_for_status()
    told = client.get(f"{P}/labels").json()
    assert (told["base_address"], told["loopback"]) == ("http://plans.port.example:8000", False)
    assert "http://plans.port.example:8000/k/" in client.get(f"{P}/labels.csv").text


def test_the_day_the_panels_and_the_build_of_a_link(client: TestClient) -> None:
    day = client.get(f"{P}/pull-day", params={"cable": ["grow lock"]}).json()
    assert [pull["cables"] for pull in day["pulls"]] == [["grow lock"]]
    assert client.get(f"{P}/pull-day", params={"cable": ["nobody"]}).status_code == 422
    assert client.get(f"{P}/pull-day.pdf").content.startswith(b"%PDF")
    assert client.get(f"{P}/panels", params={"place": "Nowhere"}).status_code == 422
    assert client.get(f"{P}/panels.pdf").content.startswith(b"%PDF")
    rows = client.get(f"{P}/links").json()
    gate = next(row["id"] for row in rows if row["name"] == "Gate camera")
    built = {one["element"]: one for one in client.get(f"{API}/links/{gate}/build").json()["pieces"]}
    assert (built["run-1"]["shelf"], built["run-1"]["of"]) == ("cables", "camera")
    assert (built["run-1"]["made"], built["run-1"]["length"]["made_m"]) == (True, 130)
    told = client.get(f"{API}/links/{gate}/schools").json()["schools"]
    assert len({school["total"] for school in told}) == 3


def test_an_empty_project_has_an_empty_bill_and_no_error(client: TestClient) -> None:
    made = client.post(f"{API}/projects", json={"name": "empty"}).json()["id"]
    empty = client.get(f"{API}/projects/{made}/bill").json()["bill"]
    assert (empty["lines"], empty["total"], empty["missing"]) == ([], 0, [])
    for page in ("reels", "labels", "panels", "pull-day", "bill.pdf", "reels.pdf", "labels.pdf", "panels.pdf"):
        assert client.get(f"{API}/projects/{made}/{page}").status_code == 200, page
    assert client.post(f"{API}/projects/{made}/orders", json={}).status_code == 422
