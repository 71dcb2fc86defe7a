"""What a reading must be to be recorded, and what a lost reference takes with it, over the wire."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.steps import API, undo
from tests.api.test_acceptance import CRANE, NOW, STATED, day, proof, reading, take_zero


def clock(minutes: int) -> str:
    return f"{NOW + timedelta(minutes=minutes):%H:%M}"


def refused(answer: Any) -> tuple[int, str]:
    return answer.status_code, answer.json()["errors"][0]["field"]


@pytest.mark.parametrize(("days", "status"), [(-1, 201), (0, 201), (1, 201), (2, 422), (365, 422)])
def test_a_day_that_is_still_to_come_is_refused_beyond_a_time_zone(
    client: TestClient, days: int, status: int
) -> None:
    answer = reading(client, 0.7, taken_on=day(days))
    assert answer.status_code == status
    if status == 422:
        assert refused(answer) == (422, "taken_on")
        assert "set the clock of the tester right" in answer.json()["detail"]
        assert reading(client, 0.7).json()["proof"]["rows"][0]["reading"]["taken_on"] == day()


@pytest.mark.parametrize(
    ("strand", "far", "field"),
    [(1, 2, ""), (2, 1, ""), (7, 8, "strand"), (1, 1, "far_strand"), (2, 2, "far_strand")],
)
def test_a_strand_that_the_link_does_not_use_or_that_comes_out_elsewhere_is_refused(
    client: TestClient, strand: int, far: int, field: str
) -> None:
    answer = reading(client, 0.7, strand=strand, far_strand=far)
    assert (answer.status_code == 422) is bool(field)
    if field:
        assert refused(answer) == (422, field)


def test_a_length_that_is_not_the_plans_is_asked_about(client: TestClient) -> None:
    """935 m are drawn and nobody measured them: 4 % and 10 m, so 887.6 to 982.4 m are one cable."""
    run = next(e for e in client.get(f"{API}/links/{CRANE}").json()["link"]["elements"] if e["kind"] == "run")
    planned = run["length_m"]
    slack = 0.04 * planned + 10
    for length, checked, status in (
        (planned - slack + 0.1, False, 201),
        (planned + slack - 0.1, False, 201),
        (planned - slack - 0.1, False, 422),
        (planned + slack + 0.1, False, 422),
        (planned + slack + 0.1, True, 201),
    ):
        answer = reading(client, 0.7, length_m=length, length_checked=checked)
        assert answer.status_code == status, answer.text
        if status == 422:
            assert refused(answer) == (422, "length_m")


def test_a_reference_serves_its_family_wavelength_method_and_time_only(client: TestClient) -> None:
    zero = take_zero(client, at_time=clock(-60)).json()[0]["taken"]["key"]
    for more, words in (
        ({"wavelength_nm": 1550}, "1310 nm"),
        ({"reference": "two cords"}, "one cord"),
        ({"instrument": "PM-9"}, "PM-0417"),
        ({"at_time": clock(-90)}, "before this reference"),
        ({"taken_on": day(1)}, "h old"),
        ({"method": "trace, one direction"}, "no reference of a meter"),
    ):
        answer = reading(client, 0.7, zero=zero, **more)
        assert refused(answer) == (422, "zero"), more
        assert words in answer.json()["detail"], more
    made = reading(client, 0.7, zero=zero, tester_zero="").json()["proof"]["rows"][0]
    assert (made["judgement"], made["informs"], made["reading"]["joined_db"]) == ("pass", "", 0.1)


def test_a_single_mode_reference_fills_no_row_of_a_multimode_link(client: TestClient) -> None:
    zero = take_zero(client).json()[0]["taken"]["key"]
    rows = client.get(f"{API}/projects/1/links").json()
    number = next(row["id"] for row in rows if row["name"] == "Crane 2")
    found = proof(client, number)["proof"]
    assert found["family"] == "multimode"
    near = found["strands"][0]
    answer = reading(
        client, 0.7, number, strand=near["near"], far_strand=near["planned"], zero=zero, start=found["start"],
        end=found["end"], wavelength_nm=1310,
    )  # fmt: skip
    assert refused(answer) == (422, "zero")
    assert "multimode" in answer.json()["detail"]


@pytest.mark.parametrize(("core_um", "status"), [(None, 201), (9.0, 201), (50.0, 422)])
def test_test_cords_have_the_core_of_the_glass(client: TestClient, core_um: float | None, status: int) -> None:
    zero = take_zero(client, core_um=core_um).json()[0]["taken"]["key"]
    assert reading(client, 0.7, zero=zero).status_code == status


def test_what_was_read_after_a_loss_counts_no_more_and_undo_brings_it_back(
    client: TestClient,
) -> None:
    zero = take_zero(client, at_time=clock(-60)).json()[0]["taken"]["key"]
    for minutes, strand in ((-50, 1), (-20, 2)):
        made = reading(client, 0.7, strand=strand, zero=zero, tester_zero="", at_time=clock(minutes))
        assert made.status_code == 201, made.text
    loss = {"why": "cord left the source", "lost_on": day(), "lost_at": clock(-30)}
    seen = client.post(f"{API}/projects/1/references/{zero}/void", json=loss).json()
    assert (seen[0]["voided"], seen[0]["lost_at"]) == ("cord left the source", clock(-30) + ":00")
    rows = proof(client)["proof"]["rows"]
    assert [(row["strand"], row["judgement"]) for row in rows if row["wavelength_nm"] == 1310] == [
        (1, "pass"),
        (2, None),
    ]
    gone = [r["withdrawn"] for r in client.get(f"{API}/links/{CRANE}").json()["link"]["readings"]]
    assert gone == ["", "its reference was lost before: cord left the source"]
    assert reading(client, 0.7, zero=zero, at_time=clock(-40)).status_code == 201, "before the loss it held"
    assert refused(reading(client, 0.7, zero=zero, at_time=clock(-30))) == (422, "zero")
    undo(client)
    undo(client)
    assert [row["judgement"] for row in proof(client)["proof"]["rows"]][::2] == ["pass", "pass"]


def test_a_cord_that_left_the_source_takes_every_wavelength_and_older_ones_with_it(client: TestClient) -> None:
    first = take_zero(client, at_time=clock(-90)).json()[0]["taken"]["key"]
    other = take_zero(client, at_time=clock(-80), wavelength_nm=1550).json()[0]["taken"]["key"]
    last = take_zero(client, at_time=clock(-60)).json()[0]["taken"]["key"]
    elsewhere = take_zero(client, at_time=clock(-60), instrument="PM-2").json()[0]["taken"]["key"]
    loss = {"why": "cord left the source", "lost_on": day(), "lost_at": clock(-30)}
    seen = client.post(f"{API}/projects/1/references/{last}/void", json=loss).json()
    voided = {one["taken"]["key"]: one["voided"] for one in seen}
    assert {key for key, why in voided.items() if why} == {first, other, last}
    assert voided[elsewhere] == ""
    fresh = take_zero(client, at_time=clock(-10)).json()[0]
    assert (fresh["voided"], fresh["why_void"]) == ("", "")
    assert refused(reading(client, 0.7, zero=first, at_time=clock(-5))) == (422, "zero"), "no silent return"
    power = client.post(f"{API}/projects/1/references/{elsewhere}/void", json={**loss, "why": "power cycle"}).json()
    assert {one["taken"]["key"] for one in power if one["voided"] == "power cycle"} == {elsewhere}


def test_a_reference_is_not_lost_before_it_was_set(client: TestClient) -> None:
    zero = take_zero(client, at_time=clock(-60) + ":30").json()[0]["taken"]["key"]
    path = f"{API}/projects/1/references/{zero}/void"
    early = client.post(path, json={"why": "power cycle", "lost_on": day(), "lost_at": clock(-61)})
    assert refused(early) == (422, "lost_at")
    same = client.post(path, json={"why": "power cycle", "lost_on": day(), "lost_at": clock(-60)}).json()
    assert same[0]["voided"] == "power cycle"


def test_a_loss_with_readings_is_not_withdrawn_silently(client: TestClient) -> None:
    zero = take_zero(client, at_time=clock(-60)).json()[0]["taken"]["key"]
    reading(client, 0.7, zero=zero, tester_zero="", at_time=clock(-20))
    loss = {"why": "meter moved", "lost_on": day(), "lost_at": clock(-30)}
    client.post(f"{API}/projects/1/references/{zero}/void", json=loss)
    records = client.get(f"{API}/projects/1/records").json()
    void = next(one for one in records if one["kind"] == "void")
    answer = client.post(f"{API}/projects/1/events/{void['key']}/withdraw", json={"why": "slip"})
    assert refused(answer) == (422, "key")


def test_the_list_tells_application_and_acceptance(client: TestClient) -> None:
    def said() -> str:
        rows = client.get(f"{API}/projects/1/links").json()
        return str(next(row["acceptance"] for row in rows if row["id"] == CRANE))

    assert said() == ""
    reading(client, 2.4)
    assert said() == client.get(f"{API}/links/{CRANE}").json()["row"]["acceptance"] == "1 of 4 readings fails"
    lines = client.get(f"{API}/projects/1/links.csv").text.splitlines()
    assert "acceptance" in lines[0]
    assert "1 of 4 readings fails" in next(line for line in lines if line.startswith("Crane 3,"))
    undo(client)
    assert said() == ""


BATCH = f"""link,strand,wavelength,loss,date,time,instrument,calibrated,operator,place,length,result,reference set
Crane 3,1,1310,0.7,{day()},{clock(-20)},PM-0417,{day(-269)},night crew,Harbor office,935 m,PASS,{clock(-60)}
Crane 3,2,1310,0.7,{day()},{clock(-19)},PM-0417,{day(-269)},night crew,Harbor office,935 m,FAIL,{clock(-60)}
"""


def imported(client: TestClient, text: str, **said: Any) -> Any:
    return client.post(f"{API}/projects/1/readings", json={"text": text, **said}).json()


def test_a_batch_says_its_reference_its_results_and_whether_faces_were_cleaned(client: TestClient) -> None:
    seen = client.post(f"{API}/projects/1/readings/preview", json={"text": BATCH}).json()
    assert (seen["count"], seen["without_zero"], seen["after_fail"], seen["problems"]) == (2, 0, 0, [])
    bare = "\n".join(line.rsplit(",", 1)[0] for line in BATCH.splitlines())
    assert client.post(f"{API}/projects/1/readings/preview", json={"text": bare}).json()["without_zero"] == 2
    stated = {"text": bare, **STATED, "joined_db": 0.05}
    assert client.post(f"{API}/projects/1/readings/preview", json=stated).json()["without_zero"] == 0

    assert imported(client, BATCH)["taken"] == 2
    rows = {row["strand"]: row for row in proof(client)["proof"]["rows"] if row["wavelength_nm"] == 1310}
    assert (rows[1]["judgement"], rows[2]["judgement"]) == ("pass", "fail")
    assert "its tester says fail" in " ".join(rows[2]["marks"])
    later = BATCH.replace("FAIL", "PASS").replace(clock(-20), clock(-10)).replace(clock(-19), clock(-9))
    assert client.post(f"{API}/projects/1/readings/preview", json={"text": later}).json()["after_fail"] == 1
    imported(client, later)
    assert proof(client)["failing"] == 1, "nobody cleaned"
    again = later.replace(clock(-10), clock(-8)).replace(clock(-9), clock(-7))
    imported(client, again, cleaned=True)
    assert proof(client)["failing"] == 0


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ((day(), day(3)), "is still to come"),
        (("935 m", "1200 m"), "light says"),
        (("Crane 3,2,", "Crane 3,7,"), "uses the strands 1, 2"),
        (("FAIL", "maybe"), "is no result of a tester"),
        (("935 m", "1,005"), "can mean 1005 or 1.005"),
    ],
)
def test_a_bad_line_of_a_batch_is_named_and_nothing_is_taken(
    client: TestClient, change: tuple[str, str], words: str
) -> None:
    text = BATCH.replace(*change) if change[0] != "935 m" else BATCH.replace("935 m,FAIL", f'"{change[1]}",FAIL')
    found = imported(client, text)
    assert found["taken"] == 0
    assert any(words in one["message"] for one in found["problems"]), found["problems"]
