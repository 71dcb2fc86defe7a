"""The routes are built once, and answer as routes do."""

from __future__ import annotations

from pathlib import Path

from fastapi.testclient import TestClient

from passerelle.api.app import create_app
from passerelle.store.database import Database
from tests.api.steps import API


def test_two_applications_share_the_routes_and_nothing_else(database: Database, tmp_path: Path) -> None:
    other = Database(tmp_path / "other.sqlite")
    apps = [create_app(database), create_app(other)]
    first, second = ([id(route) for route in app.routes if route.path.startswith(API)] for app in apps)  # type: ignore[attr-defined]
    assert len(first) > 100
    assert first[1:] == second[1:]  # all but the description, which each application makes of itself
    counts = [len(TestClient(app, base_url="http://localhost").get(f"{API}/projects").json()) for app in apps]
    assert counts == [1, 0]
    other.close()


def test_what_is_not_there_and_what_is_not_allowed(client: TestClient) -> None:
    missing = client.get(f"{API}/nothing")
    assert (missing.status_code, missing.headers["content-type"]) == (404, "application/problem+json")
    refused = client.put(f"{API}/projects")
    assert (refused.status_code, refused.json()["title"]) == (405, "Method Not Allowed")
    assert refused.headers["allow"] == "GET"  # of the first route at this address


def test_every_operation_names_the_schema_of_a_problem_that_the_description_defines(client: TestClient) -> None:
    """But those of the catalog, which only read what ships with the program."""
    described = client.get(f"{API}/openapi.json").json()
    assert described["components"]["schemas"]["Problem"]["properties"]["retry_s"]
    named = {"$ref": "#/components/schemas/Problem"}
    told = {
        (path, status)
        for path, operations in described["paths"].items()
        for operation in operations.values()
        for status, answer in operation["responses"].items()
        if answer.get("content", {}).get("application/json", {}).get("schema") == named
    }
    for path in described["paths"]:
        if not path.startswith((f"{API}/catalog", f"{API}/length")):
            assert {(path, status) for status in ("400", "401", "404", "422", "503")} <= told, path
