"""A table of requirements over the api: one bad line is named and the others work; prices in and out."""

from __future__ import annotations

from fastapi.testclient import TestClient

from tests.api.steps import undo

API = "/api/v1/projects/1"
TABLE = """from,to,length,tolerance,speed,later,glass
Harbor office,Cold store,250 m,,10G,,OM1 or OM2
Harbor office,Gate,90 m,10 %,10G,100G,
Harbor office,Yard,far,,10G,,
Harbor office,Pier,60 km,,10G,,
"""


def test_each_line_is_answered_and_a_bad_one_is_named(client: TestClient) -> None:
    found = client.post(f"{API}/requirements", json={"text": TABLE, "rank_by": "later speed"}).json()
    assert found["lines"] == 4
    assert [(p["line"], p["column"]) for p in found["problems"]] == [(4, "length")]
    by_line = {one["line"]: one for one in found["answered"]}
    assert set(by_line) == {2, 3, 5}
    assert by_line[3]["best"]["later"].startswith("100GBASE")
    assert by_line[3]["runner_up"] is not None
    assert by_line[5]["best"] is None
    assert "Nothing answers" in by_line[5]["reason"]


def test_ports_the_way_and_what_is_there_are_read_from_their_columns(client: TestClient) -> None:
    text = (
        "from,to,length,speed,near,far,near ports,far ports,way,twisted pair\n"
        "Row A,Row B,60 m,40G,SFP+,SFP+,4,4,,\n"
        "Office,Scale,60 m,1G,RJ45,RJ45,,,duct; between buildings,6A\n"
        "Office,Shed,60 m,1G,,,many,,,\n"
        "Office,Shed,60 m,1G,,,,,moon,\n"
        "Office,Shed,60 m,1G,,,,,,7\n"
    )
    found = client.post(f"{API}/requirements", json={"text": text}).json()
    best = [one["best"] for one in found["answered"]]
    assert (best[0]["key"], best[0]["count"]) == ("4 × 10GBASE-SR on OM4", 4)
    assert best[1]["kind"] == "converter"
    assert [(p["line"], p["column"]) for p in found["problems"]] == [
        (4, "near ports"),
        (5, "way"),
        (6, "twisted pair"),
    ]
    made = client.post(f"{API}/requirements/take", json={"text": text, "lines": [2, 3]}).json()
    assert made["added"] == 4 + 3


def test_lines_come_in_portions_that_together_are_the_whole(client: TestClient) -> None:
    whole = client.post(f"{API}/requirements", json={"text": TABLE}).json()
    parts = [
        client.post(f"{API}/requirements", json={"text": TABLE, "first": n, "count": 1}).json() for n in range(4)
    ]
    assert [one for part in parts for one in part["answered"]] == whole["answered"]
    assert [p for part in parts for p in part["problems"]] == whole["problems"]


def test_accepted_lines_become_links_in_one_entry(client: TestClient) -> None:
    before = len(client.get(f"{API}/links").json())
    refused = client.post(f"{API}/requirements/take", json={"text": TABLE, "lines": [3, 5]})
    assert (refused.status_code, "nothing was added" in refused.json()["detail"]) == (422, True)
    assert client.post(f"{API}/requirements/take", json={"text": TABLE, "lines": [3, 4]}).status_code == 422
    made = client.post(f"{API}/requirements/take", json={"text": TABLE, "lines": [3]}).json()
    assert made["added"] == 1
    assert len(client.get(f"{API}/links").json()) == before + 1
    undo(client)
    assert len(client.get(f"{API}/links").json()) == before


def test_answers_leave_as_a_table(client: TestClient) -> None:
    text = client.post(f"{API}/requirements.csv", json={"text": TABLE}).text
    lines = text.splitlines()
    assert lines[0].startswith("line,from,to,best,glass,verdict")
    assert any(line.startswith("4,") and "is not a length" in line for line in lines)
    assert client.post(f"{API}/requirements.xlsx", json={"text": TABLE}).content.startswith(b"PK")


def test_prices_go_out_and_come_back_changed_and_one_undo_takes_them_back(client: TestClient) -> None:
    text = client.get(f"{API}/prices.csv").text.replace("module 10GBASE-SR,40.0", "module 10GBASE-SR,55")
    made = client.put(f"{API}/prices", json={"text": text, "currency": "crowns"}).json()
    assert made["currency"] == "crowns"
    assert [(line["item"], line["price"]) for line in made["lines"] if line["own"]] == [("module 10GBASE-SR", 55)]
    bad = client.put(f"{API}/prices", json={"text": "item,price\npanel,cheap"})
    assert (bad.status_code, "line 2" in bad.json()["detail"]) == (422, True)
    assert client.put(f"{API}/prices", json={"text": "item,price\npalace,5"}).status_code == 422
    undo(client)
    assert not any(line["own"] for line in client.get(f"{API}/prices").json()["lines"])
