"""Two people at once: nobody takes back, resets or removes what they did not see."""

from __future__ import annotations

from fastapi.testclient import TestClient

from tests.api.steps import API, redo, remove, seen, set_rules, undo

ANN, BEN = {"X-Who": "Ann%20D%C3%BCne"}, {"X-Who": "Ben"}


def note(client: TestClient, link: int, text: str, who: dict[str, str]) -> None:
    known = client.get(f"{API}/links/{link}").json()
    edits = [{"op": "describe", "values": {"notes": text}}]
    wish = {"revision": known["revision"], "label": f"note {text}", "edits": edits}
    client.post(f"{API}/links/{link}/edits", json=wish, headers=who).raise_for_status()


def test_undo_takes_only_what_was_seen_and_says_whose_change_it_is(client: TestClient) -> None:
    note(client, 1, "by Ann", ANN)
    shown = seen(client)["undo"]
    assert shown["who"] == "Ann Düne"
    note(client, 2, "by Ben", BEN)
    refused = client.post(f"{API}/projects/1/undo", params={"entry": shown["entry"]})
    assert refused.status_code == 409
    assert ": note by Ben' by Ben" in refused.json()["detail"]
    assert client.get(f"{API}/links/2").json()["link"]["notes"] == "by Ben"
    assert undo(client).json()["entry"]["who"] == "Ben"
    mark = seen(client)["redo"]
    undo(client)
    assert client.post(f"{API}/projects/1/redo", params={"entry": mark["entry"]}).status_code == 409
    assert redo(client).json()["entry"]["label"].endswith("note by Ann")


def test_returning_to_an_entry_takes_back_only_what_was_seen(client: TestClient) -> None:
    for link in (1, 2):
        note(client, link, f"on {link}", ANN)
    first, newest = client.get(f"{API}/projects/1/history").json()[1]["id"], seen(client)["undo"]["entry"]
    note(client, 3, "by Ben", BEN)
    late = client.post(f"{API}/projects/1/history/{first}/return", params={"newest": newest})
    assert late.status_code == 409
    assert client.get(f"{API}/links/3").json()["link"]["notes"] == "by Ben"


def test_a_rule_set_in_another_tab_is_not_reset(client: TestClient) -> None:
    before = seen(client)
    set_rules(client, {**before["house_rules"], "margin_db": 3})
    stale = {**before["house_rules"], "unit": "ft"}
    answer = client.put(f"{API}/projects/1/house-rules", json=stale, params={"revision": before["house_revision"]})
    assert answer.status_code == 409
    assert "changed elsewhere" in answer.json()["detail"]
    assert seen(client)["house_rules"]["margin_db"] == 3
    note(client, 1, "a link is no rule", ANN)
    assert set_rules(client, {**seen(client)["house_rules"], "unit": "ft"}).status_code == 200
    undo(client)
    undo(client)
    undo(client)
    again = client.put(f"{API}/projects/1/house-rules", json=stale, params={"revision": before["house_revision"]})
    assert again.status_code == 409  # the same rules as once, by other hands


def test_a_link_that_somebody_changed_is_not_removed_unseen(client: TestClient) -> None:
    old = client.get(f"{API}/links/1").json()["revision"]
    note(client, 1, "keep this", BEN)
    answer = client.delete(f"{API}/links/1", params={"revision": old})
    assert answer.status_code == 409
    assert answer.json()["current"]["link"]["notes"] == "keep this"
    assert remove(client, 1).status_code == 200
