"""What a person does through the api who looks before every change."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient
from httpx import Response

API = "/api/v1"


def seen(client: TestClient, project: int = 1) -> dict[str, Any]:
    """A project as it is seen now."""
    return dict(client.get(f"{API}/projects/{project}").json())


def walk(client: TestClient, way: str, project: int = 1) -> Response:
    """Undo or redo what is seen to be next; where nothing is, the wish names an entry that was never made."""
    mark = seen(client, project)[way]
    return client.post(f"{API}/projects/{project}/{way}", params={"entry": mark["entry"] if mark else 1})


def undo(client: TestClient, project: int = 1) -> Response:
    """Take back the newest change."""
    return walk(client, "undo", project)


def redo(client: TestClient, project: int = 1) -> Response:
    """Make the change again that was undone last."""
    return walk(client, "redo", project)


def set_rules(client: TestClient, rules: dict[str, Any], project: int = 1) -> Response:
    """Store house rules over those that are seen."""
    params = {"revision": seen(client, project)["house_revision"]}
    return client.put(f"{API}/projects/{project}/house-rules", json=rules, params=params)


def remove(client: TestClient, link: int) -> Response:
    """Remove a link as it is seen."""
    return client.delete(
        f"{API}/links/{link}", params={"revision": client.get(f"{API}/links/{link}").json()["revision"]}
    )
