"""What takes long is made of one moment, while others write: it neither starves nor keeps them waiting."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from passerelle.api import handovers, materials
from tests.api.steps import API

P = f"{API}/projects/1"


def note(client: TestClient, words: str = "gate is locked") -> None:
    client.post(f"{P}/log", json={"words": words}).raise_for_status()


def rename(client: TestClient, link: int, name: str) -> None:
    known = client.get(f"{API}/links/{link}").json()
    edits = [{"op": "describe", "values": {"name": name}}]
    wish = {"revision": known["revision"], "label": "", "edits": edits}
    answer = client.post(f"{API}/links/{link}/edits", json=wish)
    assert answer.status_code == 200, answer.text


def signed(client: TestClient, **scope: Any) -> dict[str, Any]:
    answer = client.post(f"{P}/handovers", json={"signer": "crew 2", **scope})
    assert answer.status_code == 201, answer.text
    found: dict[str, Any] = answer.json()
    return found


@pytest.fixture
def meanwhile(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> list[Any]:
    """What somebody else does each time when a package is made; and how often one was made."""
    done: list[Any] = []
    made = handovers._packed

    def busy(*given: Any) -> Any:
        package = made(*given)
        done.append(package)
        done[0](len(done) - 1) if callable(done[0]) else None
        return package

    monkeypatch.setattr(handovers, "_packed", busy)
    return done


def test_a_note_of_somebody_else_does_not_keep_a_link_from_being_signed(
    client: TestClient, meanwhile: list[Any]
) -> None:
    meanwhile.append(lambda _n: note(client))
    found = signed(client, scope="link", link_id=1)
    assert len(meanwhile) == 2  # made once
    assert not found["changed_since"]
    (listed,) = client.get(f"{P}/handovers").json()
    assert not listed["changed_since"]  # nothing that was handed over changed


def test_a_change_of_another_link_does_not_either(client: TestClient, meanwhile: list[Any]) -> None:
    meanwhile.append(lambda n: rename(client, 2, f"other {n}"))
    signed(client, scope="link", link_id=1)
    assert len(meanwhile) == 2


def test_what_is_handed_over_is_read_again_where_it_changed(client: TestClient, meanwhile: list[Any]) -> None:
    meanwhile.append(lambda n: rename(client, 1, "renamed once") if n == 1 else None)
    found = signed(client, scope="link", link_id=1)
    assert len(meanwhile) == 3
    assert found["name"] == "renamed once"


def test_a_project_is_signed_though_somebody_writes_all_the_while(client: TestClient, meanwhile: list[Any]) -> None:
    meanwhile.append(lambda n: note(client, f"note {n}"))
    signed(client, scope="project")
    assert len(meanwhile) == 4  # made three times, then signed as it was
    (listed,) = client.get(f"{P}/handovers").json()
    assert listed["changed_since"]


@pytest.mark.parametrize(("changes", "reckoned"), [(0, 1), (1, 2), (2, 3), (3, 4), (9, 4)])
def test_an_order_is_reckoned_outside_the_lock_and_ends(
    client: TestClient, monkeypatch: pytest.MonkeyPatch, changes: int, reckoned: int
) -> None:
    count = 0
    reckon = materials._to_order

    def busy(*given: Any) -> Any:
        nonlocal count
        found = reckon(*given)
        count += 1
        if count <= min(changes, 3):  # a fourth time it is among the writers: nobody else is
            rename(client, 1, f"renamed {count}")
        return found

    monkeypatch.setattr(materials, "_to_order", busy)
    answer = client.post(f"{P}/orders", json={})
    assert answer.status_code == 200, answer.text
    assert count == reckoned
    assert answer.json()["bill"]["lines"]


@pytest.mark.parametrize("scope", [{"scope": "project"}, {"scope": "place", "place_name": "Lock house"}])
def test_a_link_that_was_removed_since_is_told(client: TestClient, scope: dict[str, str]) -> None:
    rows = client.get(f"{P}/links").json()
    lock = next(row for row in rows if row["name"].startswith("Lock house"))
    signed(client, **scope)
    signed(client, scope="link", link_id=lock["id"])
    assert [one["changed_since"] for one in client.get(f"{P}/handovers").json()] == [False, False]
    known = client.get(f"{API}/links/{lock['id']}").json()
    client.delete(f"{API}/links/{lock['id']}", params={"revision": known["revision"]}).raise_for_status()
    assert [one["changed_since"] for one in client.get(f"{P}/handovers").json()] == [True, True]
