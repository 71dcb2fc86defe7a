"""Acceptance as a crew does it: reference, read, clean until it passes, find what a dead zone hides, certify."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from passerelle.demo.port_aubier import demo_links
from passerelle.standins.bench import StandIns, start_standins
from passerelle.standins.truth import Fault, Truth
from tests.api.test_where_to_look import record
from tests.clock import day
from tests.ui.steps import empty_project
from tests.ui.test_access import axe_findings

DIRT = {"link": "Crane 3", "kind": "dirty face", "element": "run-1", "strand": 1, "db": 1.2, "cleanings": 2}
SPLICE = {"link": "Lock house, quay duct", "kind": "bad splice", "element": "splice-1", "strand": 1, "db": 0.9}


@pytest.fixture
def stand(page: Page) -> Iterator[StandIns]:
    """The simulated instruments on ports of their own, typed into the project as a person would."""
    faults = tuple(Fault.model_validate(one) for one in (DIRT, SPLICE))
    made = start_standins(demo_links(), Truth(seed=5, fault=faults), fixed_ports=False)
    address = "/api/v1/projects/1/instruments"
    for one in page.request.get(address).json()["instruments"]:
        row = {key: value for key, value in one["row"].items() if key not in ("id", "key")}
        told = {**row, "row": one["row"]["id"], "address": made.addresses[row["kind"]]}
        assert page.request.put(address, data=told).ok
    yield made
    made.stop()


def say_who(page: Page) -> None:
    bar = page.get_by_role("group", name="By whom").first
    bar.get_by_label("meter, serial").fill("PM-0417")
    bar.get_by_label("calibrated").fill(day(-269))
    bar.get_by_label("read by").fill("night crew")
    bar.get_by_label("place").fill("Harbor office")


def take_references(page: Page) -> None:
    page.goto("/test/references")
    say_who(page)
    form = page.get_by_role("form", name="Take a reference")
    for nm in ("1310", "1550"):
        form.get_by_label("Wavelength").select_option(nm)
        form.get_by_role("button", name="Take it with the meter").click()
        expect(page.get_by_role("list", name="References")).to_contain_text(f"single-mode, {nm} nm")


@pytest.mark.unopened
def test_reference_read_and_certify(page: Page, stand: StandIns) -> None:
    """Four readings of a healthy link: two with the meter, two typed, to the certificate."""
    take_references(page)
    expect(page.get_by_role("list", name="References")).to_contain_text("Holds.")
    page.goto("/test")
    expect(page.get_by_test_id("tested-sum")).to_contain_text("2 references hold")
    page.locator("[data-tested='Radar mast']").get_by_role("link").click()
    expect(page.get_by_role("button", name="Proof", exact=True)).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="All came out as planned").click()
    expect(page.get_by_text("Polarity first: 2 of 2 strands seen")).to_be_visible()
    for nm in (1310, 1550):
        page.get_by_role("button", name=re.compile(f"^Read strand 1.*{nm} nm")).click()
        expect(page.locator(f"[data-row='1-{nm}-right']").get_by_test_id("judgement")).to_have_text("pass")
    first = page.locator("[data-row='2-1310-right']").get_by_role("textbox")
    first.fill("0.45")
    first.press("Enter")
    expect(page.locator("[data-row='2-1310-right']").get_by_test_id("judgement")).to_have_text("pass")
    expect(page.locator("[data-row='2-1550-right']").get_by_role("textbox")).to_be_focused()
    page.keyboard.type("0.41")
    page.keyboard.press("Enter")
    expect(page.get_by_text("4 of 4 readings")).to_be_visible()
    with page.expect_download() as given:
        page.get_by_role("link", name="Certificate").click()
    assert given.value.suggested_filename.startswith("certificate-")
    page.keyboard.press("Escape")
    page.locator("main").first.click(position={"x": 4, "y": 4})
    page.keyboard.press("Control+z")
    expect(page.get_by_text("3 of 4 readings")).to_be_visible()


@pytest.mark.unopened
def test_a_dirty_face_is_cleaned_until_it_passes(page: Page, stand: StandIns) -> None:
    take_references(page)
    page.goto("/links/6?lens=proof")
    page.get_by_role("button", name=re.compile("^Read strand 1.*1310 nm")).click()
    line = page.locator("[data-row='1-1310-right']")
    expect(line.get_by_test_id("judgement")).to_have_text("fail")
    expect(line.get_by_test_id("cause")).to_contain_text("dirty face")
    page.locator("[data-face='run-1-left']").click()
    card = page.get_by_role("region", name="Face of run-1")
    expect(card.get_by_test_id("next-step")).to_contain_text("inspect")
    for cleaning in ("Cleaned dry", "Cleaned wet to dry"):
        card.get_by_role("button", name="Look with the scope").click()
        expect(card.locator("image")).to_be_visible()
        card.get_by_test_id("face-drawing").click(position={"x": 113, "y": 106})
        expect(card).to_contain_text("core: 1 defects, none allowed")
        card.get_by_role("button", name="Record what was seen").click()
        expect(card.get_by_test_id("next-step")).to_contain_text("dry")
        card.get_by_role("button", name=cleaning).click()
        expect(card.get_by_test_id("next-step")).to_contain_text("Look again")
    card.get_by_role("button", name="Looked at: clean").click()
    expect(card.get_by_role("list", name="Steps so far")).to_contain_text("inspect, ferrule 1: passes")
    page.get_by_role("button", name=re.compile("^Read strand 1.*1310 nm")).click()
    expect(line.get_by_test_id("judgement")).to_have_text("pass")


@pytest.mark.unopened
def test_a_break_leads_from_its_trace_to_a_card_with_the_place(page: Page, tmp_path: Path) -> None:
    """The lock's cable is cut 410 m from the office: 350 m behind the pit, or less if the strand is longer."""
    file = tmp_path / "lock.sor"
    file.write_bytes(record(411.5))
    page.goto("/links/2?lens=proof")
    say_who(page)
    traces = page.get_by_role("region", name="Traces")
    traces.get_by_label("from a file (.sor)").set_input_files(file)
    expect(traces.get_by_role("list", name="What the trace says")).to_contain_text("ends early")
    look = page.get_by_role("region", name="Where to look")
    expect(look).to_contain_text("Lock, by the quay")
    expect(look).to_contain_text("from Quay pit on the way to Lock house")
    expect(look).to_contain_text("have buried utilities located and marked")
    expect(traces.get_by_role("button", name=re.compile("into the plan"))).to_have_count(0)
    page.get_by_role("link", name="Card to print").click()
    expect(page.get_by_role("heading", name=re.compile("Lock house, quay duct: strand"))).to_be_visible()
    page.get_by_role("button", name="ft", exact=True).click()
    expect(page.get_by_role("region", name="Where to look")).to_contain_text("ft of sheath from Harbor office")
    assert axe_findings(page) == []
    page.get_by_role("button", name="Back to the link").click()
    expect(page.get_by_role("button", name="Proof", exact=True)).to_have_attribute("aria-pressed", "true")


@pytest.mark.unopened
def test_a_fail_is_cleaned_and_read_again_and_both_verdicts_are_told(page: Page) -> None:
    page.goto("/links/6?lens=proof")
    say_who(page)
    page.get_by_label("Reference", exact=True).select_option("stated by the tester, or on paper")
    page.get_by_label("Reference as stated").fill("one cord, 08:05, joined 0.06 dB")
    line = page.locator("[data-row='1-1310-right']")
    line.get_by_role("textbox").fill("2.4")
    line.get_by_role("textbox").press("Enter")
    expect(line.get_by_test_id("judgement")).to_have_text("fail")
    expect(page.get_by_test_id("acceptance")).to_contain_text("Acceptance: 1 of 4 readings fails.")
    expect(page.get_by_test_id("verdict")).to_contain_text("The verdict is of the application")
    line.get_by_role("textbox").fill("0.7")
    line.get_by_role("textbox").press("Enter")
    expect(line.get_by_test_id("earlier")).to_contain_text("nobody said that the faces were cleaned")
    expect(page.locator("[data-row='1-1550-right']").get_by_role("textbox")).to_be_focused()
    expect(line.get_by_test_id("judgement")).to_have_text("fail")
    line.get_by_role("button", name="Cleaned, read again").click()
    expect(line.get_by_role("textbox")).to_be_focused()
    page.keyboard.type("0.7")
    page.keyboard.press("Enter")
    expect(line.get_by_test_id("judgement")).to_have_text("pass")
    expect(line.get_by_test_id("earlier").last).to_contain_text("2.40 dB, fail; cleaned, read again")
    expect(line).to_contain_text("reference as its tester states it: one cord, 08:05, joined 0.06 dB")
    expect(page.get_by_test_id("acceptance")).to_contain_text("3 of 4 readings are missing")
    assert axe_findings(page) == []


@pytest.mark.unopened
def test_a_lost_reference_says_since_when_and_what_was_read_after_it_is_to_be_read_again(
    page: Page, stand: StandIns
) -> None:
    take_references(page)
    page.goto("/links/6?lens=proof")
    line = page.locator("[data-row='1-1310-right']")
    line.get_by_role("textbox").fill("0.7")
    line.get_by_role("textbox").press("Enter")
    expect(line.get_by_test_id("judgement")).to_have_text("pass")
    page.goto("/test/references")
    first = page.locator("[data-reference]").first
    first.get_by_label("Say that it is void").select_option("void: cord left the source")
    expect(first).to_contain_text("Every wavelength of this source is lost with it")
    now = first.get_by_label("Time of the loss").input_value()
    first.get_by_label("Time of the loss").fill("00:01")
    first.get_by_role("button", name="Record the loss").click()
    expect(first.get_by_role("alert")).to_contain_text("enter when it was lost")
    first.get_by_label("Time of the loss").fill(now)
    first.get_by_role("button", name="Record the loss").click()
    expect(page.get_by_text(re.compile("Void: cord left the source, since"))).to_have_count(2)
    page.goto("/links/6?lens=proof")
    expect(page.get_by_text("0 of 4 readings")).to_be_visible()
    expect(page.get_by_label("Reference", exact=True)).to_contain_text("cannot serve: cord left the source")


@pytest.mark.unopened
def test_a_batch_is_asked_for_its_reference_once(page: Page) -> None:
    page.goto("/test")
    page.get_by_role("button", name="Readings from a table").click()
    head = "link,strand,nm,loss,date,time,instrument,calibrated,operator,place"
    by = "2026-11-26,09:30,PM-0417,2026-03-02,night crew,Harbor office"
    page.get_by_label("Readings as text").fill(f"{head}\nCrane 3,1,1310,2.4,{by}\nCrane 3,2,1310,0.7,{by}\n")
    expect(page.get_by_text("2 readings have no reference on record and prove nothing.")).to_be_visible()
    page.get_by_label("Reference as the tester states it").fill("one cord, 08:05")
    expect(page.get_by_text("have no reference on record")).to_have_count(0)
    page.get_by_role("button", name="Write 2 readings down").click()
    expect(page.get_by_role("status").filter(has_text="2 readings were written down")).to_be_visible()
    again = by.replace("09:30", "09:40")
    page.get_by_label("Readings as text").fill(f"{head}\nCrane 3,1,1310,0.7,{again}\n")
    expect(page.get_by_text("1 of them follow a reading that failed.")).to_be_visible()
    page.get_by_role("button", name="The faces were cleaned before they were read again").click()
    page.get_by_role("button", name="Write 1 readings down").click()
    expect(page.locator("[data-tested='Crane 3']")).not_to_contain_text("not good")


@pytest.mark.unopened
def test_a_trace_shows_what_a_dead_zone_hides(page: Page, stand: StandIns) -> None:
    """The splice sits a metre and a half behind the panel: no pulse tells it apart, and the trace says so."""
    page.goto("/links/2?lens=proof")
    say_who(page)
    traces = page.get_by_role("region", name="Traces")
    traces.get_by_role("button", name="Take the trace").click()
    told = traces.get_by_role("list", name="What the trace says")
    expect(told).to_contain_text("panel-1 at 150 m too much loss")
    expect(told).to_contain_text("Hidden in the dead zone of panel-1: its loss is in that one.")
    drawing = page.get_by_test_id("trace")
    drawing.locator("[data-joint='splice-1']").click()
    expect(told.get_by_role("listitem")).to_have_count(1)
    drawing.focus()
    whole = drawing.get_attribute("data-to")
    drawing.press("+")
    drawing.press("+")
    expect(drawing).not_to_have_attribute("data-to", whole or "")
    drawing.press("0")
    expect(drawing).to_have_attribute("data-to", whole or "")
    traces.get_by_role("button", name=re.compile("into the plan, measured by light")).click()
    expect(page.get_by_text(re.compile("last: .*length by light of run-1"))).to_be_visible()


@pytest.mark.unopened
def test_a_table_of_a_meters_own_columns_is_matched_once(page: Page) -> None:
    page.goto("/test")
    page.get_by_role("button", name="Readings from a table").click()
    table = "link,fiber,nm,what the meter said\nCrane 3,1,1310,0.8\nCrane 3,2,1310,0.7\n"
    page.get_by_label("Readings as text").fill(table)
    expect(page.get_by_text("no column is matched to 'loss'")).to_be_visible()
    page.get_by_label("Meaning of what the meter said").select_option("loss")
    page.get_by_role("button", name="Write 2 readings down").click()
    expect(page.get_by_role("status").filter(has_text="2 readings were written down")).to_be_visible()
    page.get_by_label("Readings as text").fill(table.replace("0.8", "0.9"))
    expect(page.get_by_role("button", name="Write 2 readings down")).to_be_enabled()


@pytest.mark.unopened
def test_a_reading_by_hand_says_what_it_lacks_and_a_wrong_number_stays(page: Page) -> None:
    page.goto("/links/6?lens=proof")
    line = page.locator("[data-row='1-1310-right']")
    line.get_by_role("textbox").fill("weak")
    line.get_by_role("textbox").press("Enter")
    expect(line.get_by_role("alert")).to_contain_text("Not recorded. Enter the loss in dB")
    line.get_by_role("textbox").fill("0,8")
    line.get_by_role("textbox").press("Enter")
    expect(line).to_contain_text("Informs only: not said: serial number of the instrument")


@pytest.mark.unopened
def test_an_empty_project_teaches_on_the_pages_of_tests(page: Page) -> None:
    empty_project(page)
    for path, words in (("Left to test", "A link brings its test plan along"), ("References", "No reference yet")):
        page.get_by_role("navigation", name="Stages of the job").get_by_role(
            "link", name=re.compile("^Test")
        ).click()
        page.get_by_role("link", name=re.compile(f"^{path}")).click()
        expect(page.get_by_text(words)).to_be_visible()
        assert axe_findings(page) == []
