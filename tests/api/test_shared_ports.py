"""Two links on one port over the wire: the list, the pages of it, and each of the two."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import API, redo, undo


@pytest.fixture
def project(client: TestClient) -> int:
    return int(client.post(f"{API}/projects", json={"name": "two on one port"}).json()["id"])


def add(client: TestClient, project: int, far: str) -> dict[str, Any]:
    wish = {"from_place": "Hall", "to_place": far, "rate_mbps": 10_000, "length_m": 60}
    answer = client.post(f"{API}/projects/{project}/links", json=wish)
    assert answer.status_code == 201, answer.text
    return dict(answer.json())


def label(client: TestClient, link: dict[str, Any], name: str) -> dict[str, Any]:
    """The label of the port at Hall."""
    edit = {"op": "set", "element": link["link"]["elements"][0]["id"], "values": {"label": name}}
    answer = client.post(f"{API}/links/{link['id']}/edits", json={"revision": link["revision"], "edits": [edit]})
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def verdicts(client: TestClient, project: int) -> dict[int, str]:
    return {row["id"]: row["verdict"] for row in client.get(f"{API}/projects/{project}/links").json()}


def test_it_is_told_everywhere_and_gone_with_another_port(client: TestClient, project: int) -> None:
    one, two = add(client, project, "Shed"), add(client, project, "Barn")
    before = verdicts(client, project)
    one = label(client, one, "1/1")
    two = label(client, two, "1/1")
    assert two["review"]["verdict"] == "fail"
    assert two["review"]["findings"][0]["code"] == "port.in_two_links"
    assert "Hall to Shed" in two["review"]["headline"]
    assert {clash["link"] for clash in two["clashes"]} == {one["id"], two["id"]}
    note = {"op": "describe", "values": {"notes": "the same ports"}}
    quiet = client.post(
        f"{API}/links/{two['id']}/edits", json={"revision": two["revision"], "edits": [note]}
    ).json()
    assert (quiet["clashes"], quiet["review"]["verdict"]) == (None, "fail"), "its ports are as they were"
    two = quiet
    other = client.get(f"{API}/links/{one['id']}").json()
    assert other["review"]["verdict"] == "fail"
    assert "Hall to Barn" in other["review"]["headline"]
    assert verdicts(client, project) == {one["id"]: "fail", two["id"]: "fail"}
    page = client.get(f"{API}/projects/{project}/links/page").json()
    assert {clash["link"] for clash in page["clashes"]} == {one["id"], two["id"]}
    seen = page["revision"]

    two = label(client, two, "1/2")
    assert two["review"]["verdict"] != "fail"
    news = client.get(f"{API}/projects/{project}/links/news?since={seen}").json()
    assert news["clashes"] == []
    assert verdicts(client, project) == before


def test_undo_and_removal_are_followed(client: TestClient, project: int) -> None:
    one, two = add(client, project, "Shed"), add(client, project, "Barn")
    one, two = label(client, one, "1/1"), label(client, two, "1/1")
    assert undo(client, project).status_code == 200
    assert "fail" not in verdicts(client, project).values()
    assert redo(client, project).status_code == 200
    assert set(verdicts(client, project).values()) == {"fail"}
    gone = client.get(f"{API}/links/{one['id']}").json()
    assert client.delete(f"{API}/links/{one['id']}?revision={gone['revision']}").status_code == 200
    assert "fail" not in verdicts(client, project).values()


def test_another_project_has_ports_of_its_own(client: TestClient, project: int) -> None:
    label(client, add(client, project, "Shed"), "1/1")
    other = int(client.post(f"{API}/projects", json={"name": "another"}).json()["id"])
    alone = label(client, add(client, other, "Barn"), "1/1")
    assert alone["clashes"] == []
