"""Turn-up over the api: what is written down, what is never told, boxes that are asked and not, hand-overs."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from passerelle.api.app import create_app
from passerelle.core.house import HouseRules
from passerelle.demo.network import demo_project
from passerelle.standins.bench import StandIns, start_standins
from passerelle.standins.boxes import COMMUNITY
from passerelle.standins.truth import Fault, Truth
from passerelle.store import projects
from passerelle.store.database import Database
from tests.api.steps import undo

GATE, SURVEY, QUAY, COPPER = (
    "Gate camera",
    "Survey boats",
    "Lock house, quay duct",
    "Twisted pair to the weighbridge",
)
LINKS, PLANT = demo_project()


@pytest.fixture(scope="module")
def standins() -> Iterator[StandIns]:
    made = start_standins(
        LINKS, Truth(seed=3, fault=(Fault(link=SURVEY, kind="swapped pair"),)), PLANT.boxes, fixed_ports=False
    )
    yield made
    made.stop()


@pytest.fixture
def harbor(tmp_path: Any, standins: StandIns) -> Iterator[TestClient]:
    """The demo with its boxes at the ports where they really listen; nobody has confirmed an address yet."""
    assert standins.network is not None
    at = standins.network.addresses
    boxes = tuple(box.model_copy(update={"address": at.get(box.id, "")}) for box in PLANT.boxes)
    database = Database(tmp_path / "harbor.sqlite")
    with database.write() as session:
        projects.create_project(session, "Port-Aubier", LINKS, HouseRules(), PLANT.changed(boxes=boxes))
    with TestClient(create_app(database), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client
    database.close()


def number(client: TestClient, name: str) -> int:
    rows = client.get("/api/v1/projects/1/turnups").json()["links"]
    return next(int(row["id"]) for row in rows if row["name"] == name)


def post(client: TestClient, path: str, wish: Any = None, code: int = 201) -> Any:
    answer = client.post(f"/api/v1{path}", json=wish if wish is not None else {})
    assert answer.status_code == code, answer.text
    return answer.json()


def told(client: TestClient, path: str) -> Any:
    answer = client.get(f"/api/v1{path}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def turn(client: TestClient, link: int) -> None:
    """Draw a link from its other end."""
    revision = told(client, f"/links/{link}")["revision"]
    post(client, f"/links/{link}/edits", {"revision": revision, "edits": [{"op": "reverse"}]}, 200)


def know(client: TestClient, *names: str) -> None:
    """Confirm the addresses of boxes and say how they are asked."""
    for box in told(client, "/projects/1/boxes")["boxes"]:
        if box["row"]["name"] in names:
            row = f"/projects/1/boxes/{box['row']['id']}"
            post(client, f"{row}/confirm", code=200)
            answer = client.put(f"/api/v1{row}/secret", json={"version": "v2c", "community": COMMUNITY})
            assert answer.status_code == 200


def test_steps_are_ticked_and_unticked_and_every_tick_stays_in_the_logbook(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    found = post(harbor, f"/links/{link}/turnup/steps", {"step": "rate left", "operator": "crew 2"})
    done = {f"{one['step']['code']} {one['step']['end']}": one for one in found["turnup"]["steps"]}
    assert (done["rate left"]["done"], done["rate left"]["who"]) == (True, "crew 2")
    found = post(harbor, f"/links/{link}/turnup/steps", {"step": "rate left", "done": False})
    assert not any(one["done"] for one in found["turnup"]["steps"])
    assert [line["words"] for line in found["log"]] == ["step: rate left (undone)", "step: rate left"]
    assert [row["done"] for row in told(harbor, "/projects/1/turnups")["links"] if row["id"] == link] == [0]


def test_steps_that_are_left_are_ticked_together_as_one_entry(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    own = [
        f"{one['step']['code']} {one['step']['end']}".strip()
        for one in told(harbor, f"/links/{link}/turnup")["turnup"]["steps"]
    ]
    first, *rest = own[:5]
    found = post(
        harbor, f"/links/{link}/turnup/steps", {"step": first, "also": [*rest, rest[0]], "operator": "crew 2"}
    )
    assert [one["done"] for one in found["turnup"]["steps"][:6]] == [True] * 5 + [False]
    assert len(found["log"]) == 5, "each has a line of its own, none two"
    undo(harbor)
    assert not any(one["done"] for one in told(harbor, f"/links/{link}/turnup")["turnup"]["steps"])


def test_what_is_typed_at_a_port_without_management_counts(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    wish = {
        "end": "right",
        "oper": "down",
        "lanes": [{"lane": 1, "tx_dbm": -6.2, "rx_dark": True}],
        "serial": "SN-9",
    }
    found = post(harbor, f"/links/{link}/turnup/ports", wish)
    assert found["state"] == "dark"
    assert {one["code"] for one in found["turnup"]["differences"]} == {"rx.dark", "link.down"}
    assert found["ages_s"]["right"] < 60
    assert [line["key"] for line in told(harbor, "/projects/1/log?q=SN-9 gate")] == [found["log"][0]["key"]]
    for bad, field in (
        ({**wish, "lanes": [{"lane": 1}, {"lane": 1}]}, "lanes"),
        ({**wish, "lanes": [{"lane": 1, "rx_dbm": 900}]}, "lanes.0.rx_dbm"),
        ({**wish, "end": "middle"}, "end"),
    ):
        answer = harbor.post(f"/api/v1/links/{link}/turnup/ports", json=bad)
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == field


def test_what_was_typed_after_a_box_was_read_is_what_counts(harbor: TestClient) -> None:
    know(harbor, "Core 1", "Gate converter")
    link = number(harbor, GATE)
    assert post(harbor, f"/links/{link}/turnup/read", code=200)["state"] == "lit"
    assert post(harbor, f"/links/{link}/turnup/ports", {"end": "left", "oper": "down"})["state"] == "dark"
    assert post(harbor, f"/links/{link}/turnup/read", code=200)["state"] == "lit"


def test_a_diagnosis_stays_at_its_ends_when_the_link_is_turned(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    post(
        harbor, f"/links/{link}/turnup/ports", {"end": "left", "oper": "down", "lanes": [{"lane": 1, "rx_dark": 1}]}
    )
    before = {one["test"] for one in post(harbor, f"/links/{link}/diagnosis", code=200)["answers"]}
    turn(harbor, link)
    after = {one["test"] for one in post(harbor, f"/links/{link}/diagnosis", code=200)["answers"]}
    assert "rx · left" in before
    assert "rx · right" in after
    assert "rx · left" not in after


def test_a_box_that_lies_is_told_in_words(harbor: TestClient, standins: StandIns) -> None:
    know(harbor, "Core 1", "Gate converter")
    assert standins.network is not None
    box = standins.network.boxes["box-1"]
    try:
        box.mood = "lies"
        answer = harbor.post(f"/api/v1/links/{number(harbor, GATE)}/turnup/read", json={})
        assert answer.status_code == 200, answer.text
        assert answer.json()["state"] != "lit"
    finally:
        box.mood = "well"


def test_undo_withdraws_what_happened_and_never_rewrites_it(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    post(harbor, f"/links/{link}/turnup/ports", {"end": "left", "oper": "down"})
    entry = told(harbor, "/projects")[0]["undo"]["entry"]
    post(harbor, f"/projects/1/undo?entry={entry}", code=200)
    assert told(harbor, f"/links/{link}/turnup")["state"] == "not begun"
    (line,) = told(harbor, "/projects/1/log?q=port left end")
    assert line["withdrawn"] == "undone"


def test_an_address_that_came_with_a_file_is_asked_only_after_it_was_confirmed(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    before = post(harbor, f"/links/{link}/turnup/read", code=200)
    assert before["live"] == []
    assert "confirm it" in before["ends"][0]["why_not_read"]
    refused = harbor.put("/api/v1/projects/1/boxes/box-1/secret", json={"community": COMMUNITY})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "address")
    know(harbor, "Core 1", "Gate converter")
    after = post(harbor, f"/links/{link}/turnup/read", code=200)
    assert (after["state"], sorted(after["live"])) == ("lit", ["left", "right"])
    assert after["log"] == []  # read, and not written down
    kept = post(harbor, f"/links/{link}/turnup/read", {"write_down": True, "by": {"operator": "crew 2"}}, 200)
    assert [line["who"] for line in kept["log"]] == ["crew 2", "crew 2"]


def test_secrets_are_in_no_answer_no_plan_file_and_no_backup(harbor: TestClient, tmp_path: Any) -> None:
    know(harbor, "Core 1")
    answer = harbor.put(
        "/api/v1/projects/1/boxes/box-1/secret",
        json={"version": "v3", "user": "crew", "auth_secret": "short", "privacy_secret": "hidden-words"},
    )
    assert answer.status_code == 422
    assert "hidden-words" not in answer.text
    everything = [harbor.get(f"/api/v1/projects/1/{page}").text for page in ("boxes", "plan", "history", "log")]
    everything.append(harbor.get("/api/v1/projects/1/package.zip").content.decode("latin-1"))
    everything.append((tmp_path / "harbor.sqlite").read_bytes().decode("latin-1"))
    assert not any(COMMUNITY in one for one in everything)
    assert (tmp_path / "harbor.sqlite.credentials").stat().st_mode & 0o77 == 0
    # bound to the address that it was typed for
    row = next(b["row"] for b in told(harbor, "/projects/1/boxes")["boxes"] if b["row"]["name"] == "Core 1")
    wish = {k: row[k] for k in ("name", "kind", "place", "protocol", "priority", "bridge_address")}
    moved = harbor.put("/api/v1/projects/1/boxes", json={**wish, "row": row["id"], "address": "127.0.0.1:9"})
    assert [b["secret"] for b in moved.json()["boxes"] if b["row"]["name"] == "Core 1"] == [""]


def test_a_dark_link_is_found_from_its_boxes_and_answers_are_taken_back(harbor: TestClient) -> None:
    know(harbor, "Core 1", "Survey 1")
    link = number(harbor, SURVEY)
    post(harbor, f"/links/{link}/turnup/read", code=200)
    found = post(harbor, f"/links/{link}/diagnosis", code=200)
    assert found["faults"][0]["fault"]["code"] == "pair crossed"
    assert sum(one["share"] for one in found["pieces"]) == pytest.approx(1)
    assert {"rx · left", "rx · right", "tx · left"} <= {one["test"] for one in found["answers"] if one["read"]}
    assert found["findings"]  # the plan says it too, and that comes first
    post(harbor, f"/links/{link}/looks", {"test": "settings", "outcome": "unlike"})
    odd = post(harbor, f"/links/{link}/diagnosis", code=200)
    assert [one["test"] for one in odd["answers"] if one["impossible"]] == ["settings"]
    assert "take the one back" in odd["words"].lower()
    key = next(one["key"] for one in odd["answers"] if one["test"] == "settings")
    post(harbor, f"/projects/1/events/{key}/withdraw", {"why": "taken back"}, 200)
    again = post(harbor, f"/links/{link}/diagnosis", {"leave_out": ["rx · left"]}, 200)
    assert not any(one["impossible"] for one in again["answers"])
    assert "rx · left" not in {one["test"] for one in again["answers"]}
    fault = found["cure"]["fault"]["name"]
    post(harbor, f"/links/{link}/cures", {"fault": fault, "helped": False})
    other = post(harbor, f"/links/{link}/diagnosis", code=200)
    assert other["tried"] == [fault]
    assert other["cure"]["fault"]["name"] != fault
    for path, wish, field in (
        ("looks", {"test": "tea leaves", "outcome": "good"}, "test"),
        ("looks", {"test": "settings", "outcome": "good"}, "outcome"),
        ("cures", {"fault": "a curse", "helped": True}, "fault"),
    ):
        answer = harbor.post(f"/api/v1/links/{link}/{path}", json=wish)
        assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, field)


def test_a_link_without_light_says_what_is_missing(harbor: TestClient) -> None:
    link = number(harbor, COPPER)
    assert "no module of light" in told(harbor, f"/links/{link}/turnup")["turnup"]["why_not"]
    assert "no module of light" in post(harbor, f"/links/{link}/diagnosis", code=200)["why_not"]


def test_a_write_is_shown_then_sent_then_logged(harbor: TestClient) -> None:
    know(harbor, "Core 1", "Lock 1")
    path = "/projects/1/boxes/box-1/write"
    shown = post(harbor, path, {"port": "1/10", "admin": "up"}, 200)
    assert not shown["sent"]
    assert shown["objects"][0][:1] == ["port"]
    assert told(harbor, "/projects/1/log?q=sent") == []
    sent = post(harbor, path, {"port": "1/10", "admin": "up", "send": True, "operator": "crew 2"}, 200)
    assert sent["sent"]
    assert "start-up configuration" in sent["words"]
    assert told(harbor, "/projects/1/log")[0]["words"].startswith("note: sent: Core 1 1/10: port up")
    missing = harbor.post(f"/api/v1{path}", json={"port": "7/7", "admin": "up"})
    assert (missing.status_code, "no port '7/7'" in missing.json()["detail"]) == (502, True)
    nothing = harbor.post(f"/api/v1{path}", json={"port": "1/10"})
    assert nothing.json()["errors"][0]["field"] == "admin"


def test_a_write_to_the_port_of_its_own_way_in_carries_a_way_back(harbor: TestClient, standins: StandIns) -> None:
    know(harbor, "Lock 1")
    assert standins.network is not None
    box = standins.network.boxes["box-2"]
    box.hurry = 20.0  # its 30 s pass in 1.5
    path = "/projects/1/boxes/box-2/write"
    shown = post(harbor, path, {"port": "49", "admin": "down"}, 200)
    assert "goes back by itself" in shown["way_back"]
    assert post(harbor, path, {"port": "49", "admin": "up", "send": True}, 200)["sent"]
    cut = harbor.post(f"/api/v1{path}", json={"port": "49", "admin": "down", "send": True, "way_back_s": 30})
    assert cut.status_code == 502, cut.text
    assert "the port back" in cut.json()["detail"]  # it will put it back, or on a slow machine it has
    rate = harbor.post(f"/api/v1{path}", json={"port": "49", "application": "10GBASE-LR"})
    assert (rate.status_code, "does not go back by itself" in rate.text) == (422, True)
    for _ in range(60):  # it is silent, and comes back by itself
        boxes = {b["row"]["name"]: b for b in post(harbor, "/projects/1/boxes/read", code=200)["boxes"]}
        if not boxes["Lock 1"]["trouble"]:
            break
    assert boxes["Lock 1"]["trouble"] == ""
    assert standins.network.network.settings[QUAY, "right"].admin == "up"


def test_a_device_that_does_not_answer_is_an_observation(harbor: TestClient, standins: StandIns) -> None:
    know(harbor, "Lock 1")
    link = number(harbor, QUAY)
    assert standins.network is not None
    box = standins.network.boxes["box-2"]
    standins.network.agents.stop_one("box-2")
    try:
        post(harbor, "/projects/1/boxes/read", code=200)
        seen = {
            one["test"]: one["outcome"] for one in post(harbor, f"/links/{link}/diagnosis", code=200)["answers"]
        }
    finally:
        assert box.on_back is not None
        box.on_back()
    assert seen["box · right"] == "silent"
    post(harbor, "/projects/1/boxes/read", code=200)
    again = {one["test"]: one["outcome"] for one in post(harbor, f"/links/{link}/diagnosis", code=200)["answers"]}
    assert again.get("box · right") != "silent"


def test_nothing_is_shut_where_nobody_said_how_the_box_is_reached(harbor: TestClient) -> None:
    know(harbor, "Core 1")
    row = next(b["row"] for b in told(harbor, "/projects/1/boxes")["boxes"] if b["row"]["name"] == "Core 1")
    kept = {k: v for k, v in row.items() if k not in ("id", "key", "ports", "reached_through")}
    answer = harbor.put("/api/v1/projects/1/boxes", json={**kept, "row": row["id"], "reached_through": ""})
    assert answer.status_code == 200, answer.text
    path = "/api/v1/projects/1/boxes/box-1/write"
    refused = harbor.post(path, json={"port": "1/10", "admin": "down"})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "reached_through")
    assert harbor.post(path, json={"port": "1/10", "admin": "up"}).status_code == 200
    twice = {**kept, "name": "Lock 1", "row": row["id"]}
    named = harbor.put("/api/v1/projects/1/boxes", json=twice)
    assert named.status_code == 422
    assert "called 'Lock 1'" in named.text


def test_the_network_draws_the_tree_and_warns_before_the_second_plug(harbor: TestClient) -> None:
    found = told(harbor, "/projects/1/network")
    assert found["tree"]["root"] == "Core 1"
    blocked = [(one["bridge"], one["port"]) for one in found["tree"]["ports"] if one["role"] == "alternate"]
    assert blocked == [("Lock 1", "49")]
    assert [(w["code"], w["severity"]) for w in found["warnings"]] == [("parallel", "note"), ("loop", "caution")]
    quay = told(harbor, f"/links/{number(harbor, QUAY)}/turnup")
    assert [one["code"] for one in quay["warnings"]] == ["parallel"]
    assert any(one["step"]["code"] == "tree" for one in quay["turnup"]["steps"])


def test_an_end_is_tied_to_a_port_that_is_free(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    path = f"/api/v1/links/{link}/turnup/box"
    taken = harbor.put(path, json={"end": "left", "box": "box-1", "port": "1/49"})
    assert taken.json()["errors"][0]["field"] == "port"
    assert (
        harbor.put(path, json={"end": "left", "box": "nothing", "port": "1"}).json()["errors"][0]["field"] == "box"
    )
    assert (
        harbor.put(path, json={"end": "left", "box": "box-1", "port": " "}).json()["errors"][0]["field"] == "port"
    )
    moved = harbor.put(path, json={"end": "left", "box": "box-1", "port": "1/11"}).json()
    assert (moved["ends"][0]["box_name"], moved["ends"][0]["port"]) == ("Core 1", "1/11")
    gone = harbor.put(path, json={"end": "left"}).json()
    assert gone["ends"][0]["box"] == ""


def test_the_logbook_takes_corrections_of_what_it_has(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    first = post(harbor, f"/links/{link}/turnup/log", {"words": "cord C-7 plugged"})["log"][0]
    second = post(harbor, f"/links/{link}/turnup/log", {"words": "it was C-9", "corrects": first["key"]})["log"]
    assert [line["corrected_by"] for line in second] == ["", "it was C-9"]
    answer = harbor.post(f"/api/v1/links/{link}/turnup/log", json={"words": "x", "corrects": "abc"})
    assert answer.json()["errors"][0]["field"] == "corrects"
    assert post(harbor, "/projects/1/log", {"words": "gate is locked after 18:00"})[0]["link"] == ""


def test_a_read_that_asks_a_device_needs_what_a_write_needs(harbor: TestClient) -> None:
    path = "/api/v1/projects/1/boxes/none/ports"
    ask = {"X-Intent": "ask"}
    assert harbor.get(path).status_code == 422  # what a link or a picture in another page sends
    for elsewhere in ({"Sec-Fetch-Site": "cross-site"}, {"Origin": "http://evil.example"}):
        assert harbor.get(path, headers={**ask, **elsewhere}).status_code == 403
    own = harbor.get(path, headers={**ask, "Sec-Fetch-Site": "same-origin"})
    assert "there is no box" in own.json()["detail"]


def test_a_hand_over_is_signed_frozen_verified_and_opened_again(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    post(harbor, f"/links/{link}/turnup/log", {"words": "=cmd() in a cell"})
    made = post(harbor, "/projects/1/handovers", {"scope": "link", "link_id": link, "signer": "crew 2"})
    assert (made["revision"], made["links"], made["open_points"] > 0) == (1, 1, True)
    body = harbor.get(f"/api/v1/handovers/{made['key']}.zip").content
    sheet = harbor.get(f"/api/v1/handovers/{made['key']}.pdf")
    assert sheet.content[:5] == b"%PDF-"
    checked = harbor.post("/api/v1/handovers/verify?own=true", content=body).json()
    assert (checked["proven"], checked["digest_sha256"]) == (True, made["digest"])
    assert (checked["archive_sha256"], checked["fingerprint"]) == (made["archive_sha256"], made["fingerprint"])
    receipt = harbor.get(f"/api/v1/handovers/{made['key']}.txt").text
    by_receipt = harbor.post("/api/v1/handovers/verify", params={"receipt": receipt}, content=body).json()
    assert (by_receipt["proven"], by_receipt["receipt"]) == (True, "as given")
    assert not harbor.post("/api/v1/handovers/verify", content=body).json()["proven"]
    with zipfile.ZipFile(io.BytesIO(body)) as archive:
        assert (
            "'=cmd()" in archive.read("records/log.csv").decode()
            or "note: =cmd()" in archive.read("records/log.csv").decode()
        )
        plan = json.loads(archive.read("plan.json"))
    assert [one["name"] for one in plan["links"]] == [GATE]
    assert {event["kind"] for event in plan["events"]} == {"log"}
    broken = bytearray(body)
    broken[body.index(b"plan.json") + 60] ^= 1
    bad = harbor.post("/api/v1/handovers/verify", content=bytes(broken))
    assert bad.status_code == 422 or not bad.json()["whole"]
    post(harbor, f"/links/{link}/turnup/log", {"words": "a cord was exchanged"})
    (listed,) = told(harbor, "/projects/1/handovers")
    assert listed["changed_since"]
    post(harbor, "/projects/1/handovers", {"scope": "link", "link_id": link, "signer": "crew 2"})
    assert not told(harbor, "/projects/1/handovers")[0]["changed_since"]
    turn(harbor, link)
    assert told(harbor, "/projects/1/handovers")[0]["changed_since"]  # the plan is another one
    again = post(harbor, "/projects/1/handovers", {"scope": "link", "link_id": link, "signer": "crew 2"})
    assert again["revision"] == 3
    assert harbor.get(f"/api/v1/handovers/{made['key']}.zip").content == body  # what was signed stays
    opened = harbor.post("/api/v1/packages", content=body)
    assert opened.status_code == 201, opened.text
    for wish, field in (({"scope": "link", "link_id": 999}, "link_id"), ({"scope": "place"}, "place_name")):
        answer = harbor.post("/api/v1/projects/1/handovers", json={"signer": "x", **wish})
        assert answer.json()["errors"][0]["field"] == field


def test_module_pages_are_held_against_an_end(harbor: TestClient) -> None:
    link = number(harbor, GATE)
    path = f"/links/{link}/turnup/module"
    empty = post(harbor, path, {"layout": "SFF-8472", "pages": {"a0": "ff" * 256}, "end": "left"}, 200)
    assert [one["code"] for one in empty["differences"]] == ["module.absent"]
    answer = harbor.post(f"/api/v1{path}", json={"layout": "SFF-8472", "pages": {"a0": "zz"}, "end": "left"})
    assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, "pages.a0")


def test_an_empty_project_answers_everywhere(harbor: TestClient) -> None:
    empty = post(harbor, "/projects", {"name": "Empty"})["id"]
    for page in ("turnups", "network", "boxes", "log", "handovers"):
        assert harbor.get(f"/api/v1/projects/{empty}/{page}").status_code == 200
    assert post(harbor, f"/projects/{empty}/boxes/read", code=200)["boxes"] == []
    answer = harbor.post(f"/api/v1/projects/{empty}/handovers", json={"signer": "crew"})
    assert answer.json()["errors"][0]["field"] == "scope"
