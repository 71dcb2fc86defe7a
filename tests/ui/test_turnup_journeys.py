"""Turn-up as a crew does it: provision, plug, read, find the dark one, be warned of a loop, sign, find it again."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from passerelle.core.house import HouseRules
from passerelle.demo.network import demo_project
from passerelle.demo.port_aubier import PROJECT_NAME
from passerelle.equipment.instruments import fit
from passerelle.standins.bench import StandIns, start_standins
from passerelle.standins.boxes import COMMUNITY
from passerelle.standins.truth import Truth
from passerelle.store import projects
from passerelle.store.database import Database
from tests.ui.steps import empty_project
from tests.ui.test_access import axe_findings

LINKS, PLANT = demo_project()


@pytest.fixture(scope="module")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo with its boxes, as the program makes it."""
    path = tmp_path_factory.mktemp("harbor") / "demo.sqlite"
    made = Database(path)
    with made.write() as session:
        projects.create_project(session, PROJECT_NAME, LINKS, HouseRules(), PLANT)
    made.fold()
    made.close()
    return path


@pytest.fixture
def harbor(page: Page) -> Iterator[StandIns]:
    """Simulated boxes on ports of their own, their addresses and secrets typed as a person would."""
    made = start_standins(LINKS, Truth(seed=5), PLANT.boxes, fixed_ports=False)
    assert made.network is not None
    address = "/api/v1/projects/1/boxes"
    for one in page.request.get(address).json()["boxes"]:
        row = one["row"]
        if row["id"] not in made.network.addresses:
            continue
        told = {key: value for key, value in row.items() if key not in ("id", "key", "ports")}
        told |= {"row": row["id"], "address": made.network.addresses[row["id"]]}
        assert page.request.put(address, data=told).ok
        secret = {"version": "v2c", "community": COMMUNITY}
        assert page.request.put(f"{address}/{row['id']}/secret", data=secret).ok
    yield made
    made.stop()


def open_link(page: Page, name: str) -> None:
    page.goto("/turnup")
    page.locator(f"[data-turnup='{name}']").get_by_role("link").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(name)


def say_who(page: Page) -> None:
    bar = page.get_by_role("group", name="By whom").first
    bar.get_by_label("written by").fill("crew 2")
    bar.get_by_label("at").fill("Gatehouse")


def test_provision_plug_find_the_crossed_pair_and_sign(page: Page, harbor: StandIns) -> None:
    fit(harbor.addresses["fitter"], 'ROUT:HIDE "Gate camera","swapped pair"')
    open_link(page, "Gate camera")
    say_who(page)
    page.locator("[data-step='rate right']").get_by_role("checkbox").check()
    expect(page.locator("[data-step='rate right']")).to_contain_text("crew 2")
    page.locator("[data-step='cord right']").get_by_role("checkbox").check()
    page.get_by_role("button", name="Read both ends").click()
    expect(page.get_by_test_id("turnup-state")).to_have_text("dark")
    expect(page.get_by_test_id("age-left")).to_contain_text("from the box")
    expect(page.locator("[data-difference='rx.dark']")).to_have_count(2)
    expect(page.get_by_test_id("next-look")).to_contain_text("transmit and receive are crossed")
    expect(page.get_by_test_id("believed")).to_contain_text("transmit and receive are crossed")
    page.locator("[data-look='worked']").get_by_role("button", name="never").click()
    expect(page.locator("[data-answer='worked']")).to_contain_text("never")
    page.locator("[data-answer='worked']").get_by_role("button", name="Take back").click()
    expect(page.locator("[data-answer='worked']")).to_have_count(0)
    assert axe_findings(page) == []
    fit(harbor.addresses["fitter"], 'ROUT:CURE "Gate camera","swapped pair"')
    page.get_by_role("button", name="Done, and it works").click()
    page.get_by_role("button", name="Read and write down").click()
    expect(page.get_by_test_id("turnup-state")).to_have_text("lit as planned")
    log = page.get_by_role("region", name="Logbook")
    expect(log).to_contain_text("transmit and receive are crossed: that was it")
    expect(log).to_contain_text("port at the left end, link up")
    over = page.get_by_role("region", name="Hand over Gate camera")
    over.get_by_label("signed by").fill("crew 2")
    over.get_by_role("button", name="Sign and freeze").click()
    expect(over.locator("[data-handover='1']")).to_contain_text("crew 2")
    with page.expect_download() as given:
        over.get_by_role("link", name="package (ZIP)").click()
    page.goto("/turnup/handover")
    page.get_by_label("package", exact=True).set_input_files(given.value.path())
    page.get_by_role("button", name="Check it").click()
    expect(page.get_by_role("region", name="Check a package")).to_contain_text("The sums hold")


def test_values_are_typed_where_a_box_has_no_management(page: Page, harbor: StandIns) -> None:
    open_link(page, "Crane 3")
    end = page.locator("[data-end='right']")
    expect(end).to_contain_text("Values are typed")
    end.get_by_role("button", name="Type what it shows").click()
    form = end.get_by_role("form")
    form.get_by_label("received, dBm").fill("12 volts")
    form.get_by_role("button", name="Write it down").click()
    expect(form.get_by_role("alert")).to_contain_text("is not a power: type it as the device shows it")
    form.get_by_label("received, dBm").fill("−6,4")
    form.get_by_label("sent, dBm").fill("-5.1 dBm")
    form.get_by_label("Link light").select_option("up")
    form.get_by_role("button", name="Write it down").click()
    expect(end).to_contain_text("link up")
    expect(end.get_by_role("img").first).to_have_attribute("aria-label", re.compile("received -6.4, in the window"))
    page.get_by_role("button", name="Read both ends").click()
    expect(page.get_by_test_id("turnup-state")).to_have_text("lit as planned")


@pytest.mark.unopened
def test_a_loop_is_warned_of_before_the_second_plug(page: Page, harbor: StandIns) -> None:
    page.goto("/turnup/network")
    expect(page.locator("[data-warning='loop']")).to_contain_text("3 links between Row A and Row B")
    expect(page.get_by_role("group", name=re.compile("root is Core 1.*Lock 1 port 49 blocks"))).to_be_visible()
    page.goto("/turnup/boxes")
    row = page.locator("[data-box='Row B']")
    row.get_by_role("button", name="Change: Row B").click()
    form = row.get_by_role("form")
    form.get_by_label("Spanning tree").select_option("RSTP")
    form.get_by_role("button", name="Change it").click()
    expect(row).to_contain_text("RSTP, priority")
    page.goto("/turnup/network")
    expect(page.locator("[data-warning='loop']")).to_have_count(0)
    expect(page.locator("[data-warning='parallel']")).to_have_count(2)
    page.get_by_role("button", name="Read all boxes").click()
    expect(page.get_by_role("main")).to_contain_text("10 Gb/s, down")  # the blinded one
    assert axe_findings(page) == []


@pytest.mark.unopened
def test_a_port_is_set_only_after_it_was_shown(page: Page, harbor: StandIns) -> None:
    page.goto("/turnup/boxes")
    row = page.locator("[data-box='Pump 1']")
    row.get_by_role("button", name="Set a port: Pump 1").click()
    tools = row.get_by_role("group", name="Set a port of Pump 1")
    expect(tools.get_by_role("button", name="Send it")).to_have_count(0)
    tools.get_by_label("Up or shut").select_option("down")
    tools.get_by_role("button", name="Show what would be sent").click()
    expect(tools.get_by_role("status")).to_contain_text("down (2)")
    tools.get_by_role("button", name="Send it").click()
    expect(tools.get_by_role("status")).to_contain_text("save it to the start-up configuration")
    page.goto("/turnup/log")
    expect(page.get_by_role("region", name="Logbook")).to_contain_text("sent: Pump 1 25: port down (2)")
    assert axe_findings(page) == []


def test_a_label_leads_back_to_its_link_and_its_log(page: Page, harbor: StandIns) -> None:
    open_link(page, "Gate camera")
    say_who(page)
    log = page.get_by_role("region", name="Logbook")
    log.get_by_label("note").fill("cord C-7 exchanged")
    log.get_by_role("button", name="Add").click()
    expect(log).to_contain_text("cord C-7 exchanged")
    expect(log.get_by_role("textbox", name="note")).to_have_value("")  # the form has begun anew
    log.get_by_role("button", name=re.compile("^Correct note: cord C-7")).click()
    log.get_by_label("in its place").fill("it was cord C-9")
    log.get_by_role("button", name="Correct it").click()
    expect(log).to_contain_text("corrected: it was cord C-9")
    key = next(
        one["key"]
        for one in page.request.get("/api/v1/projects/1/turnups").json()["links"]
        if one["name"] == "Gate camera"
    )
    page.goto(f"/k/{key}")
    expect(page).to_have_url(re.compile(r"/links/\d+"))
    page.goto("/turnup/log")
    page.get_by_label("find a label").fill("C-9 crew")
    expect(page.get_by_role("main")).to_contain_text("it was cord C-9")
    page.get_by_label("find a label").fill("nobody wrote this")
    expect(page.get_by_role("main")).to_contain_text("No entry has all these words")


@pytest.mark.unopened
def test_an_empty_project_teaches_the_next_step_on_every_page(page: Page) -> None:
    empty_project(page)
    for path, words in (
        ("/turnup", "No links yet"),
        ("/turnup/network", "No boxes yet"),
        ("/turnup/boxes", "No boxes yet"),
        ("/turnup/log", "Nothing yet"),
        ("/turnup/handover", "Nothing to hand over yet"),
    ):
        page.goto(path)
        expect(page.get_by_role("main")).to_contain_text(words)
        assert axe_findings(page) == []


@pytest.mark.parametrize(("width", "height"), [(390, 844), (820, 1180), (1920, 1080)])
def test_nothing_is_cut_off(page: Page, harbor: StandIns, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
    for path in ("/turnup", "/turnup/9", "/turnup/network", "/turnup/boxes", "/turnup/log", "/turnup/handover"):
        page.goto(path)
        page.get_by_role("heading", level=1).wait_for()
        page.wait_for_load_state("networkidle")
        assert not page.evaluate("document.documentElement.scrollWidth > innerWidth"), path
