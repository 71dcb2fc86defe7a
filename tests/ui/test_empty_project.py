"""The first steps in an empty project, by mouse and by keyboard; projects side by side; axe where all is empty."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.steps import empty_project, project_menu, project_page
from tests.ui.test_access import axe_findings


@pytest.mark.unopened
def test_the_first_link_is_made_once_by_mouse(page: Page) -> None:
    empty_project(page)
    page.get_by_role("button", name="New link").click()
    page.get_by_label("From", exact=True).fill("Pilot station")
    page.get_by_label("To", exact=True).fill("Boat shed")
    page.get_by_label("How far").fill("130 m")
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Pilot station to Boat shed")
    expect(page.get_by_role("form", name="New link")).to_have_count(0)
    expect(page.locator("nav[aria-label=Links] [data-verdict]")).to_have_count(1)
    page.reload()
    expect(page.locator("nav[aria-label=Links] [data-verdict]")).to_have_count(1)


@pytest.mark.unopened
def test_the_first_link_is_made_by_keyboard_alone(page: Page) -> None:
    empty_project(page)
    page.keyboard.press("Control+k")
    page.keyboard.type("new link")
    page.keyboard.press("Enter")
    expect(page.get_by_label("From", exact=True)).to_be_focused()
    page.keyboard.type("Pilot station")
    page.keyboard.press("Tab")
    page.keyboard.type("Boat shed")
    page.keyboard.press("Tab")
    page.keyboard.type("130 m")
    expect(page.locator("[data-option]").first).to_be_visible()
    expect(page.get_by_role("button", name="Make the chain")).to_be_enabled()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the link")).to_have_value("Pilot station to Boat shed")
    expect(page.locator("nav[aria-label=Links] [data-verdict]")).to_have_count(1)
    pieces = page.locator("[data-piece]")
    expect(pieces.first).to_be_focused()  # the focus follows what was made: the chain, then the piece put in
    page.keyboard.press("ArrowRight")
    count = pieces.count()
    page.get_by_role("button", name="Insert right").focus()
    page.keyboard.press("Enter")
    page.get_by_role("group", name="kind of piece").get_by_role("button", name="attenuator").focus()
    page.keyboard.press("Enter")
    expect(pieces).to_have_count(count + 1)
    expect(page.locator("[data-piece^=attenuator]")).to_be_focused()


@pytest.mark.unopened
def test_the_first_link_from_a_table_with_columns_of_its_own(page: Page) -> None:
    empty_project(page)
    project_page(page, "Import and export")
    head = "Building A,Building B,Route length (m),Module,Ticket"
    page.get_by_label("CSV text").fill(f"{head}\nGate,Shed,90,10GBASE-SR,77\n")
    told = page.get_by_test_id("unknown-columns")
    told.get_by_label("Meaning of Ticket").select_option("notes")
    expect(told).to_have_count(0)
    page.get_by_role("button", name="Import 1 links").click()
    expect(page.get_by_role("status")).to_contain_text("1 links were imported")
    page.get_by_role("link", name="Links", exact=True).click()
    expect(page.get_by_label("Name of the link")).to_be_visible()
    expect(page.get_by_role("main")).to_contain_text("77")


@pytest.mark.unopened
def test_a_table_of_speeds_goes_on_as_requirements(page: Page) -> None:
    empty_project(page)
    project_page(page, "Import and export")
    head = "Building A,Building B,Route length (m),Needed,Fibre type"
    page.get_by_label("CSV text").fill(f"{head}\nGate,Shed,90,10 gig,SMF\n")
    page.get_by_role("link", name="It has speeds").click()
    page.get_by_role("button", name="Answer them").click()
    page.get_by_role("button", name="Make links of 1 answers").click()
    expect(page.get_by_text("1 links were added")).to_be_visible()


@pytest.mark.unopened
def test_the_first_places_and_the_first_requirement(page: Page) -> None:
    empty_project(page)
    page.get_by_role("link", name="Survey").click()
    page.get_by_label("Table of requirements").fill("from,to,length,speed\nGate,Shed,90 m,1G\n")
    page.get_by_role("button", name="Answer them").click()
    page.get_by_role("button", name="Make links of 1 answers").click()
    expect(page.get_by_text("1 links were added")).to_be_visible()
    page.get_by_role("link", name="Places and devices").click()
    expect(page.get_by_role("heading", name="Places and devices")).to_be_visible()


@pytest.mark.unopened
def test_what_nothing_answers_offers_a_way_on(page: Page) -> None:
    empty_project(page)
    page.get_by_role("button", name="New link").click()
    page.get_by_label("From", exact=True).fill("Far shore")
    page.get_by_label("To", exact=True).fill("Island")
    page.get_by_label("How far").fill("300 km")
    page.get_by_label("How fast").select_option("100 Gb/s")
    ways_on = page.get_by_role("region", name="What would answer")
    ways_on.get_by_role("button").first.click()
    expect(page.locator("[data-option]").first).to_be_visible()


def test_two_tabs_on_two_projects_do_not_mix(page: Page) -> None:
    first = page.url
    assert re.search(r"/p/1/links/\d+", first)
    other = page.context.new_page()
    other.goto("/")
    project_menu(other).get_by_role("button", name="New empty project").click()
    expect(other.get_by_text("No links yet. Press New link")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Project: Port-Aubier")).to_be_visible()
    assert page.url == first
    other.reload()
    expect(other.get_by_role("button", name="Project: New project")).to_be_visible()
    other.go_back()
    expect(other.get_by_role("button", name="Project: Port-Aubier")).to_be_visible()


def test_a_project_is_renamed_copied_removed_and_brought_back(page: Page) -> None:
    menu = project_menu(page)
    menu.get_by_role("button", name="Copy Port-Aubier").click()
    copy = menu.get_by_label("Name of Port-Aubier, copy")
    copy.fill("North harbor")
    copy.press("Enter")
    menu.get_by_role("button", name="Remove North harbor").click()
    expect(menu.get_by_role("button", name="Open North harbor")).to_have_count(0)
    menu.get_by_role("button", name="Bring back North harbor").click()
    menu.get_by_role("button", name="Open North harbor").click()
    expect(page.get_by_role("button", name="Project: North harbor")).to_be_visible()
    expect(page.get_by_label("Name of the link")).to_have_value("Ferry terminal")


@pytest.mark.unopened
def test_a_link_between_places_of_the_plan_asks_which_way(page: Page) -> None:
    page.goto("/links/1?new=1&from=Harbor office&to=Lock house&length=900 m&speed=1000")
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Harbor office to Lock house")
    prompt = page.get_by_role("region", name="Where it lies")
    prompt.get_by_role("button", name="Lock, by the dike").click()
    expect(prompt).to_have_count(0)
    page.locator("[data-piece=run-1]").click()
    expect(page.get_by_role("region", name=re.compile("^Piece: run"))).to_contain_text("On strands")


EMPTY = (
    "links",
    "links?new=1",
    "ladder",
    "site",
    "site/strands",
    "site/pull",
    "site/closures",
    "places",
    "log",
    "exchange",
)


@pytest.mark.unopened
@pytest.mark.parametrize("view", EMPTY)
def test_axe_finds_nothing_where_all_is_empty(page: Page, view: str) -> None:
    empty_project(page)
    page.goto(re.sub(r"links.*", view, page.url))
    page.locator("main").first.wait_for()
    page.get_by_role("heading", level=1).first.wait_for()
    page.wait_for_load_state("networkidle")
    assert axe_findings(page) == []


@pytest.mark.unopened
def test_pages_of_the_plan_say_what_is_missing_and_where_it_is_added(page: Page) -> None:
    empty_project(page)
    base = page.url.split("/links")[0]
    for path in ("pull", "capacity", "strands", "closures", "routes", "layouts"):
        page.goto(f"{base}/site/{path}")
        told = page.get_by_test_id("nothing-yet")
        expect(told).to_contain_text(re.compile("^No (cable|place) yet"))
        expect(told.get_by_role("link", name="Add places")).to_be_visible()
    told.get_by_role("link", name="bring them in as a table").click()
    expect(page).to_have_url(re.compile("/exchange$"))


WIDER = """
() => {
  const scrolls = (e) => e && (['auto', 'scroll'].includes(getComputedStyle(e).overflowX) && e.tagName !== 'MAIN'
    || scrolls(e.parentElement));
  return [...document.querySelectorAll('header *, nav *, main *')]
    .filter((e) => e.getBoundingClientRect().right > 391 && !scrolls(e))
    .map((e) => e.outerHTML.slice(0, 90));
}
"""
ON_A_PHONE = (
    "links/1",
    "links/1?new=1",
    "ladder",
    "site",
    "site/layouts",
    "site/power",
    "requirements",
    "catalog",
    "log",
)


@pytest.mark.unopened
@pytest.mark.parametrize("view", ON_A_PHONE)
def test_nothing_is_wider_than_a_phone_or_cut_off(page: Page, view: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/{view}")
    page.locator("main").first.wait_for()
    page.get_by_role("heading", level=1).first.wait_for()
    page.wait_for_load_state("networkidle")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert page.evaluate(WIDER) == []
