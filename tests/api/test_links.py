"""Links over the api: edit, conflict, undo, errors that name the field."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from passerelle.api import links, rows
from passerelle.demo.port_aubier import demo_links
from tests.api.steps import redo, remove, set_rules, undo

API = "/api/v1"


def read(client: TestClient, link_id: int = 1) -> dict[str, Any]:
    return client.get(f"{API}/links/{link_id}").json()


def edit(client: TestClient, *edits: dict[str, Any], link_id: int = 1, revision: int | None = None) -> Any:
    known = read(client, link_id)["revision"] if revision is None else revision
    return client.post(f"{API}/links/{link_id}/edits", json={"revision": known, "edits": list(edits)})


def length(text: Any) -> dict[str, Any]:
    return {"op": "set", "element": "run-1", "values": {"length_m": text}}


def test_the_ferry_link_is_repaired_by_its_first_fix_and_undone(client: TestClient) -> None:
    before = read(client)
    assert before["review"]["verdict"] == "damage"
    fix = before["review"]["findings"][0]["fixes"][0]
    assert fix["effect"]["verdict"] == "pass"
    after = edit(client, *fix["edits"]).json()
    assert after["review"]["verdict"] == "pass"
    assert after["review"]["margin_db"] == fix["effect"]["margin_db"]
    walked = undo(client).json()
    assert walked["project"]["redo"]["label"] == after["undo"]["label"]
    assert read(client)["link"] == before["link"]
    redo(client)
    assert read(client)["link"] == after["link"]
    assert read(client)["revision"] > after["revision"]


def test_a_length_is_understood_as_typed(client: TestClient) -> None:
    after = edit(client, length("1/2 mi")).json()
    assert after["link"]["elements"][4]["length_m"] == pytest.approx(804.672)


@pytest.mark.parametrize("text", ["1,500", "far", -1, 1e9])
def test_a_bad_length_names_its_field_and_changes_nothing(client: TestClient, text: Any) -> None:
    before = read(client)
    answer = edit(client, length(100), length(text))
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["errors"][0]["field"] == "length_m"
    assert read(client) == before


def test_two_writers_one_is_told(client: TestClient) -> None:
    revision = read(client)["revision"]
    assert edit(client, length(100), revision=revision).status_code == 200
    late = edit(client, length(200), revision=revision)
    assert late.status_code == 409
    assert late.json()["current"]["link"]["elements"][4]["length_m"] == 100
    assert read(client)["link"]["elements"][4]["length_m"] == 100


def test_a_preview_stores_nothing(client: TestClient) -> None:
    before = read(client)
    answer = client.post(f"{API}/links/1/preview", json={"edits": [length("20 km")]}).json()
    assert answer["review"]["verdict"] == "damage"
    assert answer["review"]["length_m"] == 20004
    assert read(client) == before


def test_a_new_link_from_few_answers_lights(client: TestClient) -> None:
    wish = {"from_place": "Harbor office", "to_place": "Tide station", "length_m": "1,2 km"}
    made = client.post(f"{API}/projects/1/links", json={**wish, "application": "10GBASE-LR", "fiber": ["OS2"]})
    assert made.status_code == 201
    assert made.json()["review"]["verdict"] == "pass"
    assert made.json()["review"]["length_m"] == 1204
    bad = client.post(f"{API}/projects/1/links", json={**wish, "application": "nothing", "fiber": ["OS2"]})
    assert bad.status_code == 422
    assert "10GBASE-LR" in bad.json()["detail"]


def test_a_removed_link_comes_back_by_undo(client: TestClient) -> None:
    before = read(client, 3)
    assert remove(client, 3).json()["undo"]["label"] == "remove Lock house, dike duct"
    assert client.get(f"{API}/links/3").status_code == 404
    undo(client)
    assert read(client, 3)["link"] == before["link"]
    assert [row["id"] for row in client.get(f"{API}/projects/1/links").json()] == list(
        range(1, len(demo_links()) + 1)
    )


def test_house_margin_moves_verdicts_and_is_undone(client: TestClient) -> None:
    def verdicts() -> dict[str, str]:
        return {row["name"]: row["verdict"] for row in client.get(f"{API}/projects/1/links").json()}

    assert verdicts()["Rows A to B"] == "pass"
    set_rules(client, {"margin_db": 3})
    assert verdicts()["Rows A to B"] == "marginal"
    undo(client)
    assert verdicts()["Rows A to B"] == "pass"


def test_the_list_and_the_link_agree(client: TestClient) -> None:
    for row in client.get(f"{API}/projects/1/links").json():
        review = read(client, row["id"])["review"]
        assert (row["verdict"], row["margin_db"]) == (review["verdict"], review["margin_db"])


def test_nothing_to_undo_is_said(client: TestClient) -> None:
    answer = undo(client)
    assert (answer.status_code, answer.json()["detail"]) == (409, "there is nothing to undo")


def test_the_history_reads_as_what_was_done(client: TestClient) -> None:
    edit(client, length(100))
    undo(client)
    [entry] = client.get(f"{API}/projects/1/history").json()
    assert entry["label"] == "Ferry terminal: set length m of run-1"
    assert entry["state"] == "undone"


def test_a_wrong_address_in_the_api_is_a_problem(client: TestClient) -> None:
    answer = client.get(f"{API}/nothing")
    assert (answer.status_code, answer.headers["content-type"]) == (404, "application/problem+json")


def test_the_list_in_pages_and_its_news_are_the_list(client: TestClient) -> None:
    """Whoever follows the news has what a new look would give, whatever was done in between."""
    at = "/api/v1/projects/1/links"
    first, rest = (client.get(f"{at}/page?after={after}&most={most}").json() for after, most in ((0, 6), (6, 99)))
    assert [*first["rows"], *rest["rows"]] == client.get(at).json()
    known = {row["id"]: row for row in (*first["rows"], *rest["rows"])}
    revision = first["revision"]

    def follow() -> list[int]:
        nonlocal revision, known
        told = client.get(f"{at}/news?since={revision}").json()
        known |= {row["id"]: row for row in told["rows"]}
        revision = told["revision"]
        assert [known[number] for number in told["numbers"]] == client.get(at).json()
        return [row["id"] for row in told["rows"]]

    assert follow() == []
    made = edit(client, {"op": "describe", "values": {"name": "Pier"}}, link_id=2)
    assert made.json()["row"] == client.get(at).json()[1]
    assert follow() == [2]
    assert remove(client, 3).status_code == 200
    assert follow() == []
    undo(client)
    assert follow() == [3]
    set_rules(client, {"margin_db": 6})
    assert len(follow()) == first["count"]


def test_rows_are_kept_while_links_rules_and_program_stay(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(rows, "MANY", 1)
    listed = client.get("/api/v1/projects/1/links").json()
    judged: list[int] = []
    rows_of = links.rows_of

    def watched(tell: Any, path: Any, project: int, numbers: list[int]) -> Any:
        judged.extend(numbers)
        return rows_of(tell, path, project, numbers)

    monkeypatch.setattr(links, "rows_of", watched)
    client.app.state.rows = rows.RowShelf(client.app.state.database)  # type: ignore[attr-defined]  # as a new start
    assert client.get("/api/v1/projects/1/links").json() == listed
    assert judged == []
    monkeypatch.setattr(rows, "judged_by", lambda: "another program")
    assert client.get("/api/v1/projects/1/links").json() == listed
    assert judged == [row["id"] for row in listed]
