"""The order as a person makes it: from the ladder to a printed order, a wrong grade, a day of pulls, labels."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.steps import empty_project
from tests.ui.test_access import axe_findings

CORD = "cord, OM4, LC PC to LC PC, duplex, A-to-B (ordinary), 2 m"


@pytest.mark.unopened
def test_from_the_ladder_to_a_printed_order(page: Page) -> None:
    page.goto("/ladder")
    page.get_by_role("navigation", name="Stages of the job").get_by_role("link", name=re.compile("^Order")).click()
    expect(page.get_by_role("heading", name="Bill")).to_be_visible()
    line = page.locator(f"[data-line='{CORD}']")
    line.get_by_role("button", name=CORD).click()
    expect(line).to_contain_text("asked + ")
    line.get_by_role("textbox", name="Quoted price").fill("7.50")
    line.get_by_role("button", name="Take Quoted price").click()
    expect(line).to_contain_text("The price is quoted.")
    line.get_by_role("list").get_by_role("link").first.click()
    expect(page.get_by_role("button", name="Build", exact=True)).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("group", name="How it is built")).to_contain_text("Bought for it: 1 x cord")
    page.go_back()
    page.get_by_label("Note on the order").fill("letter 12")
    page.get_by_role("button", name=re.compile("Place this order")).click()
    expect(page.get_by_role("region", name="Orders and deliveries")).to_contain_text("Order 1 letter 12")
    expect(page.get_by_role("button", name="Nothing to order")).to_be_disabled()
    with page.expect_download() as given:
        page.get_by_role("link", name="PDF", exact=True).click()
    assert given.value.suggested_filename == "bill-1.pdf"
    page.emulate_media(media="print")
    expect(page.get_by_label("Note on the order")).to_be_hidden()
    expect(page.get_by_role("heading", name="Bill")).to_be_visible()


@pytest.mark.unopened
def test_a_delivery_with_one_wrong_grade_is_taken_and_seen_in_its_link(page: Page) -> None:
    page.goto("/order")
    page.get_by_role("button", name=re.compile("Place this order")).click()
    page.get_by_role("link", name="Record delivery").click()
    page.get_by_role("textbox", name="Delivery note", exact=True).fill("DN 7")
    page.get_by_label("What came").select_option(CORD)
    form = page.get_by_role("form", name="One line that came")
    form.get_by_label("pieces").fill("1")
    form.get_by_label("Grade that came").select_option("OM1")
    form.get_by_role("button", name="It came").click()
    papers = page.get_by_role("region", name="Orders and deliveries")
    expect(papers).to_contain_text("came as OM1")
    page.get_by_label("Delivery note as text").fill("line,quantity\nrope of 8 mm,2")
    page.get_by_role("button", name="Compare with orders").click()
    expect(page.get_by_test_id("delivery-found")).to_contain_text("no line of the bill has these words")
    expect(page.get_by_role("button", name="Take these 0 lines")).to_be_disabled()
    page.goto("/order")
    page.get_by_role("button", name=re.compile("lines that are ordered")).click()
    line = page.locator(f"[data-line='{CORD}']")
    line.get_by_role("button", name=CORD).click()
    line.get_by_role("list").get_by_role("link").first.click()
    findings = page.get_by_label("Piece and findings")
    expect(findings).to_contain_text("OM1 instead of OM4")
    page.get_by_role("button", name="Undo").click()
    expect(findings).not_to_contain_text("OM1 instead of OM4")


@pytest.mark.unopened
def test_a_day_of_pulls_is_planned(page: Page) -> None:
    page.goto("/order/day")
    expect(page.get_by_text("The reel stands at")).to_be_visible()
    page.get_by_role("button", name="Growth, lock by the dike").click()
    page.get_by_role("button", name="Growth, crane 2").click()
    expect(page.get_by_role("region", name=re.compile("^Pull"))).to_have_count(2)
    expect(page.get_by_text("The reel stands at Quay pit")).to_be_visible()
    expect(page.get_by_role("region", name="Pull 1")).to_contain_text("puller with the tension gauge")
    expect(page.get_by_text("Nobody stands in line with a rope")).to_be_visible()
    page.get_by_role("button", name="all that are to be pulled").click()
    expect(page.get_by_text("does not enter Duct to the gate")).to_be_visible()
    with page.expect_download() as given:
        page.get_by_role("link", name="PDF", exact=True).click()
    assert given.value.suggested_filename == "pull-day.pdf"


@pytest.mark.unopened
def test_labels_of_one_panel_are_given_and_printed(page: Page) -> None:
    page.goto("/order/panels")
    page.get_by_label("Place").select_option("Gatehouse")
    panel = page.get_by_role("region", name="Adapters at Gatehouse")
    expect(panel).to_contain_text("Gate camera, with its plugs: 1 blue in tube 1 blue")
    page.goto("/order/labels?place=Gatehouse")
    expect(page.get_by_role("note")).to_contain_text("only this machine can open")
    page.get_by_role("button", name=re.compile(r"Give \d+ labels")).click()
    expect(page.get_by_role("button", name="All have their label")).to_be_disabled()
    label = page.locator("[data-label]").first.get_attribute("data-label") or ""
    page.get_by_label("used already").fill("5")
    with page.expect_download() as given:
        page.get_by_role("link", name="PDF", exact=True).click()
    assert given.value.path().read_bytes().startswith(b"%PDF")
    page.goto("/order/panels?place=Gatehouse")
    expect(page.get_by_role("region", name="Adapters at Gatehouse")).to_contain_text(re.compile(r"[A-Z]+-\d{4}"))
    assert re.fullmatch(r"[A-Z]+-\d{4}", label)


@pytest.mark.unopened
def test_a_cut_is_moved_to_a_reel_that_holds_it(page: Page) -> None:
    page.goto("/order/reels")
    group = page.get_by_role("region", name=re.compile("cable, OS2"))
    expect(group.get_by_role("status")).to_contain_text("8 m too short")
    group.get_by_role("button", name=re.compile("Growth, crane 2")).click()
    group.get_by_role("button", name="Put it on reel of 2 km").click()
    expect(group.get_by_role("status")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(group.get_by_role("status")).to_contain_text("8 m too short")
    group.get_by_role("button", name="Give these cuts up and propose anew").click()
    expect(group).to_contain_text("Proven: no plan buys less.")
    group.get_by_role("button", name="Add a reel or a remainder").click()
    group.get_by_label("Length on the reel").fill("a lot")
    group.get_by_role("button", name="Add it").click()
    expect(group.get_by_role("alert")).to_be_visible()
    group.get_by_label("Length on the reel").fill("3000 ft")
    group.get_by_role("button", name="Add it").click()
    expect(group).to_contain_text("914 m")


@pytest.mark.unopened
def test_the_ends_of_a_run_are_made_another_way(page: Page) -> None:
    page.goto("/ladder")
    page.get_by_placeholder("filter: place, verdict, application").fill("gate")
    page.get_by_role("link", name=re.compile("Gate camera")).first.click()
    page.get_by_role("button", name="Build", exact=True).click()
    ends = page.get_by_role("region", name="Ends of the run")
    expect(ends).to_contain_text("does not enter Duct to the gate")
    ends.get_by_role("button", name="Make it so").first.click()
    expect(ends.get_by_text("spliced, as it is")).to_be_visible()
    expect(page.locator("[data-piece^=pigtail]")).to_have_count(2)
    page.get_by_label("What has become of the whole link").select_option("installed")
    expect(ends).to_contain_text("Its run is installed")


@pytest.mark.unopened
@pytest.mark.parametrize(
    ("path", "words"),
    [
        ("/order", "No piece is planned yet"),
        ("/order/reels", "Nothing is cut from a reel"),
        ("/order/deliveries", "Nothing is ordered yet"),
        ("/order/day", "No cable is still to be pulled"),
        ("/order/labels", "Nothing carries a label yet"),
        ("/order/panels", "No panel stands in a link yet"),
    ],
)
def test_an_empty_project_teaches_on_every_page(page: Page, path: str, words: str) -> None:
    empty_project(page)
    page.goto(path)
    expect(page.get_by_text(words)).to_be_visible()
    assert axe_findings(page) == []


@pytest.mark.unopened
def test_a_bill_says_what_is_missing_one_press_away(page: Page) -> None:
    empty_project(page)
    page.get_by_role("button", name="New link").click()
    page.get_by_label("From", exact=True).fill("Pilot station")
    page.get_by_label("To", exact=True).fill("Boat shed")
    page.get_by_label("How far").fill("130 m")
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Pilot station to Boat shed")
    page.locator("[data-piece=run-1]").click()
    page.get_by_label("length", exact=True).fill("")
    page.get_by_label("length", exact=True).press("Enter")
    page.get_by_role("link", name=re.compile("^Order")).click()
    missing = page.get_by_role("note", name="Missing before the order")
    expect(missing).to_contain_text("length")
    missing.get_by_role("link").first.click()
    expect(page.locator("[data-piece=run-1]")).to_be_visible()
    expect(page).to_have_url(re.compile("piece=run-1"))


@pytest.mark.unopened
def test_a_code_on_a_label_opens_its_piece(page: Page) -> None:
    page.goto("/links/1")
    key = page.evaluate(
        "fetch('/api/v1/links/1').then(r => r.json()).then(d => d.link.elements.find(e => e.kind === 'cord').key)"
    )
    page.goto(f"/k/{key}")
    expect(page).to_have_url(re.compile("links/1.*piece=cord-1"))
    page.goto("/k/nothing")
    expect(page.get_by_role("alert")).to_contain_text("nothing here has the key")
