"""Acceptance over the api: references, readings, faces, strands, traces, tables, certificates, packages,
instruments.
"""

from __future__ import annotations

import base64
import io
import json
import zipfile
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient
from openpyxl import Workbook, load_workbook
from PIL import Image

from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.table_out import neutral
from passerelle.standins.bench import StandIns, start_standins
from passerelle.standins.truth import Fault, Truth
from tests.api.steps import redo, undo
from tests.clock import NOW, day, time_of_day
from tests.exchange.test_trace_record import WHOLE

API = "/api/v1"
CRANE = 6
BY = {
    "instrument": "PM-0417",
    "calibrated_on": day(-269),
    "operator": "night crew",
    "place": "Harbor office",
    "taken_on": day(),
    "at_time": time_of_day(-30),
}
STATED = {"tester_zero": "one cord, set at 08:00"}
ZERO = {"method": "one cord", "family": "single-mode", "wavelength_nm": 1310, "loop_mm": 30} | {
    "reference_grade": True
}


def proof(client: TestClient, link: int = CRANE) -> Any:
    return client.get(f"{API}/links/{link}/proof").json()


def reading(client: TestClient, value: float, link: int = CRANE, strand: int = 1, **more: Any) -> Any:
    revision = client.get(f"{API}/links/{link}").json()["revision"]
    told = {"revision": revision, "start": "run-1", "end": "run-1", "strand": strand, "far_strand": 3 - strand}
    told |= {"wavelength_nm": 1310, "direction": "right", "value_db": value, **BY, **STATED, **more}
    return client.post(f"{API}/links/{link}/readings", json=told)


def take_zero(client: TestClient, **more: Any) -> Any:
    told = {**ZERO, **BY, "power_dbm": -7, "joined_db": 0.1, **more}
    return client.post(f"{API}/projects/1/references", json=told)


def test_a_reading_is_judged_and_undo_withdraws_it(client: TestClient) -> None:
    made = reading(client, 2.4).json()
    row = made["proof"]["rows"][0]
    assert (row["judgement"], row["cause"]["code"], made["failing"]) == ("fail", "dirty face", 1)
    again = reading(client, 0.7).json()["proof"]["rows"][0]
    assert (again["judgement"], again["earlier"][0]["judgement"]) == ("fail", "pass"), (
        "nobody said that it was cleaned"
    )
    undo(client)
    assert reading(client, 0.7, cleaned=True).json()["proof"]["rows"][0]["judgement"] == "pass"
    assert len(client.get(f"{API}/links/{CRANE}").json()["link"]["readings"]) == 3
    undo(client)
    assert proof(client)["proof"]["rows"][0]["judgement"] == "fail"
    undo(client)
    assert proof(client)["proof"]["rows"][0]["judgement"] is None
    redo(client)
    assert proof(client)["proof"]["rows"][0]["reading"]["value_db"] == 2.4


def test_a_void_reference_is_said_before_a_reading_is_believed(client: TestClient) -> None:
    zero = take_zero(client).json()[0]["taken"]["key"]
    assert reading(client, 0.8, zero=zero).status_code == 201
    other = reading(client, 0.8, zero=zero, wavelength_nm=1550)
    assert (other.status_code, "1310" in other.json()["detail"]) == (422, True)
    void = client.post(f"{API}/projects/1/references/{zero}/void", json={"why": "cord left the source"}).json()
    assert void[0]["why_void"] == "cord left the source"
    refused = reading(client, 0.8, zero=zero)
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "zero")
    assert len(client.get(f"{API}/links/{CRANE}").json()["link"]["readings"]) == 1
    undo(client)
    assert reading(client, 0.8, zero=zero).status_code == 201
    for bad in (-0.1, 0.4):
        assert take_zero(client, joined_db=bad).json()["errors"][0]["field"] == "joined_db"


def inspect(client: TestClient, what: str, **more: Any) -> Any:
    face = next(f for f in proof(client)["proof"]["faces"] if (f["element"], f["face"]) == ("run-1", "left"))
    told = {"piece": face["piece"], "face": "left", "position": 1, "step": what, **BY, **more}
    return client.post(f"{API}/links/{CRANE}/inspections", json=told)


def test_a_face_is_looked_at_cleaned_and_looked_at_again(client: TestClient) -> None:
    dirt = {"kind": "defect", "from_middle_um": 4, "size_um": 6}

    def step_of(answer: Any) -> str:
        faces = answer.json()["proof"]["faces"]
        return next(f["next"]["step"] for f in faces if (f["element"], f["face"]) == ("run-1", "left"))

    assert inspect(client, "inspect").json()["errors"][0]["field"] == "defects"
    told = [
        step_of(inspect(client, "inspect", defects=[dirt])),
        step_of(inspect(client, "clean dry")),
        step_of(inspect(client, "inspect", clean=True)),
        step_of(inspect(client, "inspect", clean=True, position=2)),
    ]
    assert told == ["clean dry", "inspect", "inspect", "none"]
    undo(client)
    undo(client)
    assert len([s for f in proof(client)["proof"]["faces"] for s in f["steps"]]) == 2


def test_where_strands_come_out_is_kept_and_forgotten_when_the_cable_changes(client: TestClient) -> None:
    told = {"start": "run-1", "end": "run-1", "pairs": [[1, 1], [2, 2]], **BY}
    seen = client.post(f"{API}/links/{CRANE}/strands-seen", json=told).json()["proof"]["strands"]
    assert [(one["near"], one["planned"], one["seen"]) for one in seen] == [(1, 2, 1), (2, 1, 2)]
    twice = client.post(f"{API}/links/{CRANE}/strands-seen", json={**told, "pairs": [[1, 1], [1, 2]]})
    assert twice.json()["errors"][0]["field"] == "pairs"


def test_a_trace_is_kept_by_its_hash_and_shown_beside_its_plan(client: TestClient) -> None:
    kept = client.post(f"{API}/projects/1/attachments", content=WHOLE).json()
    assert (kept["media_type"], len(kept["hash"])) == ("application/x-sor", 64)
    assert client.get(f"{API}/projects/1/attachments/{kept['hash']}").content == WHOLE
    told = {"start": "run-1", "end": "run-1", "strand": 1, "direction": "right", "launch_m": 150, "receive_m": 150}
    made = client.post(f"{API}/links/{CRANE}/traces", json={**told, "file": kept["hash"], **BY}).json()
    (taken,) = made["proof"]["traces"]
    view = client.get(f"{API}/links/{CRANE}/traces/{taken['key']}").json()
    assert (view["wavelength_nm"], view["checksum"]) == (1550, "ok")
    assert len(view["measured"]) > 100
    assert [piece["element"] for piece in view["pieces"]] == ["launch", "run-1", "receive"]
    undo(client)
    assert proof(client)["proof"]["traces"] == []
    assert client.get(f"{API}/links/{CRANE}/traces/{taken['key']}").status_code == 404
    missing = client.post(f"{API}/links/{CRANE}/traces", json={**told, "file": "0" * 64, **BY})
    assert missing.status_code == 404


def test_the_expected_trace_moves_with_a_length_that_is_tried(client: TestClient) -> None:
    ask = f"{API}/links/{CRANE}/trace-plan?wavelength_nm=1310"
    plain = client.get(ask).json()
    longer = client.get(f"{ask}&element=run-1&length_m=1935").json()
    ends = [view["pieces"][1]["to_m"] - view["pieces"][1]["from_m"] for view in (plain, longer)]
    assert ends == [935, 1935]
    assert client.get(f"{API}/links/8/trace-plan?wavelength_nm=850").json()["errors"][0]["field"] == "fiber"


def png(width: int, height: int) -> bytes:
    kept = io.BytesIO()
    Image.new("L", (width, height)).save(kept, "PNG")
    return kept.getvalue()


def test_what_is_no_trace_and_no_picture_is_refused(client: TestClient) -> None:
    assert client.post(f"{API}/projects/1/attachments", content=png(40, 30)).json()["media_type"] == "image/png"
    for body in (b"", b"hello", WHOLE[:300], png(40, 30)[:60], b"GIF89a" + bytes(40), png(9000, 9000)):
        answer = client.post(f"{API}/projects/1/attachments", content=body)
        assert answer.status_code == 422, body[:20]


GERMAN_DAY = f"{NOW:%d.%m.%Y}"
TABLE = f"""cable id;fiber no;nm;IL;test date;clock;meter serial;calibration date;technician;site
Crane 3;1;1310;0,82;{day()};{time_of_day(-30)};PM-0417;{day(-269)};night crew;Harbor office
Crane 3;2;1310;0.75 dB;{GERMAN_DAY};{time_of_day(-29)};PM-0417;{day(-269)};night crew;Harbor office
"""


def test_a_table_with_columns_of_its_own_is_taken_as_one_entry_or_not_at_all(client: TestClient) -> None:
    seen = client.post(f"{API}/projects/1/readings/preview", json={"text": TABLE}).json()
    assert (seen["count"], seen["problems"]) == (2, [])
    for text, words in (
        (TABLE.replace("0.75 dB", "1,250"), "can mean 1250 or 1.25"),
        (TABLE.replace("Crane 3;2", "Crane 33;2"), "no link of this name"),
        (TABLE.replace("Crane 3;2", "Crane 3;7"), "uses the strands 1, 2"),
        (TABLE.replace(GERMAN_DAY, "11/26/26"), "no day that is sure"),
        (TABLE.replace("0.75 dB", "-21"), "dBm"),
    ):
        bad = client.post(f"{API}/projects/1/readings", json={"text": text}).json()
        assert (bad["taken"], words in bad["problems"][0]["message"]) == (0, True), text
    assert client.get(f"{API}/links/{CRANE}").json()["link"]["readings"] == []
    assert client.post(f"{API}/projects/1/readings", json={"text": TABLE, **STATED}).json()["taken"] == 2
    assert [row["judgement"] for row in proof(client)["proof"]["rows"]] == ["pass", None, "pass", None]
    undo(client)
    assert [row["judgement"] for row in proof(client)["proof"]["rows"]] == [None] * 4
    own = TABLE.replace("IL", "what the meter said")
    bad = client.post(f"{API}/projects/1/readings/preview", json={"text": own}).json()
    assert "no column" in bad["problems"][0]["message"]
    mapping = {**seen["mapping"], "loss": "what the meter said"}
    wish = {"text": own, "mapping": mapping}
    again = client.post(f"{API}/projects/1/readings/preview", json=wish).json()
    assert (again["count"], again["problems"]) == (2, [])


def test_a_workbook_is_read_like_a_table(client: TestClient) -> None:
    book, kept = Workbook(), io.BytesIO()
    sheet = book.active
    assert sheet is not None
    for line in TABLE.splitlines():
        sheet.append(line.split(";"))
    book.save(kept)
    wish = {"workbook": base64.b64encode(kept.getvalue()).decode()}
    assert client.post(f"{API}/projects/1/readings/preview", json=wish).json()["count"] == 2


def test_results_leave_as_tables_and_certificates(client: TestClient) -> None:
    reading(client, 0.7, note="=1+1")
    text = client.get(f"{API}/projects/1/results.csv").text
    line = next(one for one in text.splitlines() if "Crane 3" in one and "PM-0417" in one)
    assert "pass" in line
    assert neutral("=1+1") in line
    book = load_workbook(io.BytesIO(client.get(f"{API}/projects/1/results.xlsx").content))
    assert book.active is not None
    assert book.active.max_row > 300
    told = json.loads(client.get(f"{API}/projects/1/results.json").text)
    assert {"Crane 3", "Rows 40G"} <= {one["link"] for one in told["links"]}
    for path in (f"links/{CRANE}/certificate.pdf", "projects/1/results.pdf"):
        body = client.get(f"{API}/{path}").content
        assert body.startswith(b"%PDF")


def test_a_package_carries_traces_and_pictures_and_is_refused_when_one_was_changed(client: TestClient) -> None:
    name = client.post(f"{API}/projects/1/attachments", content=WHOLE).json()["hash"]
    told = {"start": "run-1", "end": "run-1", "strand": 1, "direction": "right", "file": name, **BY}
    client.post(f"{API}/links/{CRANE}/traces", json=told)
    reading(client, 0.7)
    body = client.get(f"{API}/projects/1/package.zip").content
    made = client.post(f"{API}/packages", content=body).json()
    links = client.get(f"{API}/projects/{made['id']}/links").json()
    crane = next(row["id"] for row in links if row["name"] == "Crane 3")
    other = proof(client, crane)["proof"]
    assert (other["traces"][0]["file"], other["rows"][0]["judgement"]) == (name, "pass")
    instruments = client.get(f"{API}/projects/{made['id']}/instruments").json()["instruments"]
    assert not any(one["reached"] for one in instruments)
    spoiled = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(body)) as old, zipfile.ZipFile(spoiled, "w") as new:
        for entry in old.infolist():
            content = old.read(entry)
            changed = content[:-1] + b"?" if entry.filename.endswith(".sor") else content
            new.writestr(entry.filename, changed)
    refused = client.post(f"{API}/packages", content=spoiled.getvalue())
    assert (refused.status_code, "changed" in refused.json()["detail"]) == (422, True)
    assert client.post(f"{API}/packages", content=b"PK\3\4 no").status_code == 422


def test_twisted_pair_takes_what_its_tester_said(client: TestClient) -> None:
    values = [{"parameter": "NEXT", "value": 38.0, "at_mhz": 100}, {"parameter": "delay", "value": 500}]
    made = client.post(f"{API}/links/17/certifications", json={"category": "Cat 6", "values": values, **BY}).json()
    assert [one["passes"] for one in made["proof"]["copper"]] == [False, True]
    bad = client.post(f"{API}/links/17/certifications", json={"category": "Cat 9", "values": values, **BY})
    assert bad.json()["errors"][0]["field"] == "category"


@pytest.fixture
def stand(client: TestClient) -> Iterator[StandIns]:
    """The simulated instruments on ports of their own, typed into the project."""
    dirt = {"link": "Crane 3", "kind": "dirty face", "element": "run-1", "strand": 1, "db": 1.2, "cleanings": 1}
    made = start_standins(demo_links(), Truth(seed=4, fault=(Fault.model_validate(dirt),)), fixed_ports=False)
    for one in client.get(f"{API}/projects/1/instruments").json()["instruments"]:
        row = {**one["row"], "row": one["row"]["id"], "address": made.addresses[one["row"]["kind"]]}
        for key in ("id", "key"):
            row.pop(key)
        assert client.put(f"{API}/projects/1/instruments", json=row).status_code == 200
    yield made
    made.stop()


def measured(client: TestClient) -> Any:
    revision = client.get(f"{API}/links/{CRANE}").json()["revision"]
    told = {"revision": revision, "start": "run-1", "end": "run-1", "strand": 1, "far_strand": 2, "value_db": 0}
    told |= {"wavelength_nm": 1310, "direction": "right", **BY}
    return client.post(f"{API}/links/{CRANE}/readings/measure", json=told)


def test_a_link_is_read_cleaned_and_read_again_with_the_instruments(client: TestClient, stand: StandIns) -> None:
    assert measured(client).json()["errors"][0]["field"] == "zero"
    zero = client.post(f"{API}/projects/1/references/measure", json={**ZERO, **BY}).json()
    assert 0 <= zero[0]["taken"]["joined_db"] <= 0.2
    first = measured(client).json()["proof"]["rows"][0]
    assert (first["judgement"], first["cause"]["code"]) == ("fail", "dirty face")
    face = next(f for f in proof(client)["proof"]["faces"] if (f["element"], f["face"]) == ("run-1", "left"))
    look = {"piece": face["piece"], "face": "left"}
    picture = client.post(f"{API}/links/{CRANE}/inspections/picture", json=look).json()
    assert picture["media_type"] == "image/png"
    inspect(client, "clean dry", picture=picture["hash"])
    assert measured(client).json()["proof"]["rows"][0]["judgement"] == "pass"
    told = {"start": "run-1", "end": "run-1", "strand": 1, "direction": "right", "wavelength_nm": 1310, **BY}
    taken = client.post(f"{API}/links/{CRANE}/traces/measure", json=told).json()["proof"]["traces"][-1]
    view = client.get(f"{API}/links/{CRANE}/traces/{taken['key']}").json()
    assert [joint["verdict"] for joint in view["judged"]["joints"]] == ["good", "good"]
    assert view["judged"]["longer_m"] == pytest.approx(0, abs=2)


def test_an_instrument_that_is_gone_loses_no_reading(client: TestClient, stand: StandIns) -> None:
    client.post(f"{API}/projects/1/references/measure", json={**ZERO, **BY})
    assert measured(client).status_code == 201
    stand.servers["power meter"].stop()
    answer = measured(client)
    assert (answer.status_code, "127.0.0.1" in answer.json()["detail"]) == (502, True)
    assert len(client.get(f"{API}/links/{CRANE}").json()["link"]["readings"]) == 1


def test_an_address_that_came_with_a_file_is_asked_only_after_it_was_confirmed(client: TestClient) -> None:
    asked = client.post(f"{API}/projects/1/instruments/meter/identify")
    assert (asked.status_code, "confirm it" in asked.json()["detail"]) == (422, True)
    client.post(f"{API}/projects/1/instruments/meter/confirm")
    assert client.post(f"{API}/projects/1/instruments/meter/identify").status_code in (200, 502)
    bad = {"name": "x", "kind": "scope", "address": "http://elsewhere/"}
    assert client.put(f"{API}/projects/1/instruments", json=bad).json()["errors"][0]["field"] == "address"


def test_what_is_left_to_test_is_counted_link_by_link(client: TestClient) -> None:
    before = {one["name"]: one for one in client.get(f"{API}/projects/1/tests").json()["links"]}
    assert (before["Crane 3"]["rows"], before["Crane 3"]["missing"]) == (4, 4)
    assert "grade of the glass" in before["Weighbridge"]["why_not"]
    reading(client, 2.4)
    after = {one["name"]: one for one in client.get(f"{API}/projects/1/tests").json()["links"]}
    assert (after["Crane 3"]["missing"], after["Crane 3"]["failing"]) == (3, 1)


def test_a_whole_array_is_read_through_the_switch_and_crossed_strands_are_seen(client: TestClient) -> None:
    crossed = Fault.model_validate({"link": "Rows 40G", "kind": "crossed strand", "strand": 3, "with": 4})
    made = start_standins(demo_links(), Truth(seed=4, fault=(crossed,)), fixed_ports=False)
    try:
        for one in client.get(f"{API}/projects/1/instruments").json()["instruments"]:
            row = {key: value for key, value in one["row"].items() if key not in ("id", "key")}
            told = {**row, "row": one["row"]["id"], "address": made.addresses[row["kind"]]}
            client.put(f"{API}/projects/1/instruments", json=told)
        zero = {**ZERO, **BY, "family": "multimode", "wavelength_nm": 850, "source": "encircled flux", "loop_mm": 0}
        assert client.post(f"{API}/projects/1/references/measure", json=zero).status_code == 201
        number = next(r["id"] for r in client.get(f"{API}/projects/1/links").json() if r["name"] == "Rows 40G")
        revision = client.get(f"{API}/links/{number}").json()["revision"]
        wish = {"revision": revision, "wavelength_nm": 850, **BY}
        found = client.post(f"{API}/links/{number}/readings/measure-array", json=wish).json()["proof"]
    finally:
        made.stop()
    wrong = {one["near"]: one["seen"] for one in found["strands"] if one["seen"] != one["planned"]}
    assert wrong == {3: 9, 4: 10}
    read = {row["strand"]: row["judgement"] for row in found["rows"] if row["wavelength_nm"] == 850}
    assert {strand for strand, judgement in read.items() if judgement == "dark"} == {3, 4}
    assert set(read.values()) <= {"dark", "pass", "marginal"}


def test_one_cord_needs_a_meter_that_takes_the_plug(client: TestClient) -> None:
    zero = take_zero(client, meter_port="SC").json()[0]["taken"]["key"]
    refused = reading(client, 0.8, zero=zero)
    assert (refused.status_code, "takes the link's LC" in refused.json()["detail"]) == (422, True)


def test_records_are_listed_and_withdrawn_and_undo_makes_them_stand_again(client: TestClient) -> None:
    take_zero(client)
    inspect(client, "inspect", clean=True)
    seen = client.get(f"{API}/projects/1/records").json()
    assert [one["kind"] for one in seen] == ["inspection", "reference"]
    assert (seen[0]["link"], seen[0]["link_id"], seen[0]["operator"]) == ("Crane 3", CRANE, "night crew")
    client.post(f"{API}/projects/1/events/{seen[0]['key']}/withdraw", json={"why": "wrong face"})
    assert client.get(f"{API}/projects/1/records").json()[0]["withdrawn"] == "wrong face"
    again = client.post(f"{API}/projects/1/events/{seen[0]['key']}/withdraw", json={"why": "twice"})
    assert again.json()["errors"][0]["field"] == "key"
    undo(client)
    assert client.get(f"{API}/projects/1/records").json()[0]["withdrawn"] == ""
    number = client.get(f"{API}/links/{CRANE}").json()["revision"]
    client.delete(f"{API}/links/{CRANE}", params={"revision": number})
    gone = client.get(f"{API}/projects/1/records").json()[0]
    assert (gone["link"], gone["link_id"]) == ("Crane 3", None)


def test_a_project_that_is_not_there_takes_no_record(client: TestClient) -> None:
    for path, body in (
        ("projects/99/references", {**ZERO, **BY}),
        ("projects/99/readings", {"text": TABLE}),
        ("projects/99/instruments/meter/confirm", None),
        ("links/9999/strands-seen", {"start": "a", "end": "b", "pairs": [[1, 1]]}),
    ):
        assert client.post(f"{API}/{path}", json=body).status_code == 404, path
