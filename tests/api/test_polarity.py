"""Polarity over the wire: the position table, a fix that is tried, sheets, the card, one set for a backbone."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from tests.api.steps import API


def number(client: TestClient, name: str) -> int:
    return next(int(row["id"]) for row in client.get(f"{API}/projects/1/links").json() if row["name"] == name)


def fixes(client: TestClient, link: int, code: str) -> list[dict[str, Any]]:
    findings = client.get(f"{API}/links/{link}").json()["review"]["findings"]
    found: list[dict[str, Any]] = next(f for f in findings if f["code"] == code)["fixes"]
    return found


def test_the_table_has_a_position_for_each_lane_at_each_face(client: TestClient) -> None:
    table = client.get(f"{API}/links/{number(client, 'Rows 40G')}/strands").json()
    assert [face["element"] for face in table["faces"]][:3] == ["module-1", "array-cord-1", "array-cord-1"]
    assert len(table["lanes"]) == 8
    for lane in table["lanes"]:
        assert len(lane["positions"]) == len(table["faces"])
        assert lane["lights"]
    assert table["lanes"][0]["positions"] == [1, 12, 1, 12, 1, 12, 1, 12]
    assert table["faces"][0]["colors"][:2] == ["blue", "orange"]
    assert (table["faces"][3]["pins"], table["faces"][2]["pins"]) == (True, False)


def test_a_link_without_lanes_says_why(client: TestClient) -> None:
    one_strand = client.get(f"{API}/links/{number(client, 'Tide station')}/strands").json()
    assert (one_strand["lanes"], "nothing to cross" in one_strand["why_not"]) == ([], True)


def test_a_fix_is_tried_and_stores_nothing(client: TestClient) -> None:
    dark = number(client, "Rows 40G, straight trunk")
    before = client.get(f"{API}/links/{dark}").json()
    edits = fixes(client, dark, "polarity.dark")[0]["edits"]
    trial = client.post(f"{API}/links/{dark}/strands", json={"edits": edits}).json()
    assert all(lane["lights"] for lane in trial["table"]["lanes"])
    assert not any(lane["lights"] for lane in client.get(f"{API}/links/{dark}/strands").json()["lanes"])
    assert client.get(f"{API}/links/{dark}").json() == before


def test_a_change_of_a_shared_trunk_names_the_links_that_it_darkens(client: TestClient) -> None:
    """Two pairs on one trunk: to exchange the trunk for one lights the first and darkens the second."""
    first = number(client, "Rows 10G, crossed twice")
    link = client.get(f"{API}/links/{first}").json()
    body = {"from_place": "Data room row A", "to_place": "Data room row B", "application": "10GBASE-SR"}
    backbone = {"wiring": "straight", "keys": "opposed", "near_cord": "straight", "far_cord": "reversed"}
    wish = {**body, "backbone": {**backbone, "far_crossed": False}, "front": 2, "length_m": "65 m"}
    made = client.post(f"{API}/projects/1/backbone/links", json=wish).json()
    part = next(e for e in link["link"]["elements"] if e["kind"] == "trunk")["part"]
    lay = {"revision": made["revision"], "element": "trunk-1", "part": part}
    laid = client.post(f"{API}/links/{made['id']}/lay", json=lay).json()
    assert next(e for e in laid["link"]["elements"] if e["kind"] == "trunk")["positions"] == [3, 4]
    edits = [{"op": "set", "element": "trunk-1", "values": {"wiring": "pair-flipped"}}]
    told = client.post(f"{API}/links/{first}/strands", json={"edits": edits}).json()
    assert all(lane["lights"] for lane in told["table"]["lanes"])
    assert [(one["link"], one["after"]) for one in told["elsewhere"]] == [(made["id"], "fail")]
    body = {"revision": laid["revision"], "edits": edits}
    client.post(f"{API}/links/{made['id']}/edits", json=body)
    sheet = next(one for one in client.get(f"{API}/projects/1/trunks").json() if len(one["links"]) > 1)
    assert sheet["links"] == [first, made["id"]]
    assert "has wiring pair-flipped, the sheet straight" in sheet["disagree"][0]


def test_two_links_on_one_front_of_a_trunk_are_refused(client: TestClient) -> None:
    taken = client.get(f"{API}/links/{number(client, 'Rows 10G, crossed twice')}").json()
    part = next(e for e in taken["link"]["elements"] if e["kind"] == "trunk")["part"]
    other = client.get(f"{API}/links/{number(client, 'Rows 10G, fixed clips')}").json()
    lay = {"revision": other["revision"], "element": "trunk-1", "part": part}
    refused = client.post(f"{API}/links/{other['id']}/lay", json=lay)
    assert (refused.status_code, "would carry both" in refused.json()["detail"]) == (422, True)


def test_a_backbone_is_designed_and_a_link_laid_over_it(client: TestClient) -> None:
    answer = client.post(f"{API}/projects/1/backbone", json={}).json()
    assert [method["letter"] for method in answer["methods"]] == ["B", "C", "A"]
    assert "Trunks of 3 wirings" in answer["mixed"][0]
    wish = {
        "backbone": answer["methods"][0]["backbone"],
        "application": "100GBASE-SR4",
        "from_place": "Data room row A",
        "to_place": "Harbor office",
        "length_m": "60 m",
    }
    made = client.post(f"{API}/projects/1/backbone/links", json=wish)
    assert made.status_code == 201
    review = made.json()["review"]
    assert all(lane["lights"] and lane["heard_as"] == lane["number"] for lane in review["lanes"])
    wrong = client.post(f"{API}/projects/1/backbone/links", json={**wish, "length_m": "60 furlongs"})
    assert (wrong.status_code, "length_m" in wrong.text) == (422, True)
    unknown = client.post(f"{API}/projects/1/backbone", json={"parallel": "100GBASE-XX"})
    assert (unknown.status_code, "100GBASE-XX" in unknown.json()["detail"]) == (422, True)


def test_nothing_that_runs_has_no_set(client: TestClient) -> None:
    answer = client.post(f"{API}/projects/1/backbone", json={"duplex_when": "never", "parallel_when": "never"})
    assert answer.json()["methods"] == []


def test_a_trunk_has_its_sheet_and_a_split_port_its_legs(client: TestClient) -> None:
    sheets = {one["name"]: one for one in client.get(f"{API}/projects/1/trunks").json()}
    sheet = sheets["trunk of Rows 40G"]
    assert (sheet["letter"], sheet["near_key"], sheet["far_key"]) == ("B", "key up", "key up")
    assert [(row["near"], row["far"]) for row in sheet["rows"]][:2] == [(1, 12), (2, 11)]
    assert [row["near"] for row in sheet["rows"] if not row["link"]] == [5, 6, 7, 8]
    (port,) = client.get(f"{API}/projects/1/splits").json()
    assert (port["whole_mbps"], port["leg_mbps"]) == (40_000, 10_000)
    assert [leg["label"] for leg in port["legs"]] == ["host 1", "host 2", "host 3", ""]


def test_the_card_is_for_duplex_cords_and_says_when_a_clip_does_not_open(client: TestClient) -> None:
    link = number(client, "Rows 10G, crossed twice")
    card = client.get(f"{API}/links/{link}/crossing", params={"element": "cord-1"}).json()
    assert (card["possible"], card["before"], card["after"]) == (True, "crossed, A to B", "straight, A to A")
    assert any("meter" in step for step in card["steps"])
    fixed = number(client, "Rows 10G, fixed clips")
    assert not client.get(f"{API}/links/{fixed}/crossing", params={"element": "cord-1"}).json()["possible"]
    refused = client.get(f"{API}/links/{link}/crossing", params={"element": "trunk-1"})
    assert (refused.status_code, "no duplex cord" in refused.json()["detail"]) == (422, True)


def test_an_array_that_is_too_large_is_declined_by_its_field(client: TestClient) -> None:
    link = client.get(f"{API}/links/{number(client, 'Rows 40G')}").json()
    edits = [{"op": "set", "element": "trunk-1", "values": {"array": "72"}}]
    refused = client.post(f"{API}/links/{link['id']}/edits", json={"revision": link["revision"], "edits": edits})
    assert (refused.status_code, "arrays of 72 fibers exist" in refused.json()["detail"]) == (422, True)
