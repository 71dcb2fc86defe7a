"""From a question to taken answers: every kind of answer, ports, weights, schools, and what undo takes back."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect


def question(page: Page, length: str, speed: str = "10 Gb/s") -> Locator:
    """Ask between two made-up ends; the cards of the answers."""
    page.goto("/links/1?new=1")
    page.get_by_label("From", exact=True).fill("Row A")
    page.get_by_label("To", exact=True).fill("Row A, host 3")
    page.get_by_label("How far").fill(length)
    page.get_by_label("How fast").select_option(speed)
    return page.locator("[data-option]")


def ports(page: Page, here: str, there: str) -> None:
    page.get_by_text("The two ports").click()
    page.get_by_label("Port here", exact=True).select_option(here)
    page.get_by_label("Port there", exact=True).select_option(there)


def make(page: Page) -> None:
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_label("Name of the link")).to_be_visible()


@pytest.mark.unopened
def test_a_split_port_becomes_a_link_that_is_drawn_and_undone(page: Page) -> None:
    cards = question(page, "3 m")
    ports(page, "QSFP+", "SFP+")
    expect(cards).to_have_count(3)
    passive = page.locator('[data-option="10G direct attach, one of four legs, passive copper"]')
    expect(passive).to_contain_text("Set the fast port to 10 Gb/s legs")
    passive.get_by_role("button").click()
    make(page)
    expect(page.get_by_test_id("verdict")).to_contain_text(re.compile("pass on estimate", re.IGNORECASE))
    page.locator("[data-piece=assembly-1]").click()
    length = page.get_by_label("length", exact=True)
    length.fill("20 ft")
    length.press("Enter")
    expect(page.get_by_test_id("verdict")).to_contain_text("reaches 5 m here; this is 6.1 m")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("this is 5 m")


@pytest.mark.unopened
def test_four_links_side_by_side_are_one_answer_and_one_undo(page: Page) -> None:
    cards = question(page, "60 m", "40 Gb/s")
    ports(page, "SFP+", "SFP+")
    expect(page.get_by_test_id("answers")).to_contain_text("say how many there are at both ends: 4 × 10GBASE-SR")
    page.get_by_label("Ports free here").fill("4")
    page.get_by_label("Ports free there").fill("6")
    expect(cards.first).to_contain_text("4 × 10GBASE-SR on OM4")
    expect(cards.first).to_contain_text("decided by one member, for a single conversation")
    make(page)
    page.goto("/ladder?filter=host 3, member")
    expect(page.locator("[data-verdict]")).to_have_count(4)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-verdict]")).to_have_count(0)


@pytest.mark.unopened
def test_weights_are_moved_and_the_order_explains_itself(page: Page) -> None:
    cards = question(page, "60 m")
    page.get_by_text("Later speed, order, price").click()
    page.get_by_label("First by").select_option("weights of my own")
    for name in ("margin", "later speed", "few strands", "few tools", "few spares"):
        page.get_by_label(f"Weight of {name}").fill("0")
    page.get_by_label("Weight of cost").fill("5")
    expect(page.get_by_test_id("answer-why")).to_contain_text("weights (cost 5; cost puts it before")
    expect(cards.first).to_contain_text("the cheapest")
    page.get_by_label("Weight of cost").fill("0")
    page.get_by_label("Weight of margin").fill("4")
    expect(page.get_by_test_id("answer-why")).to_contain_text("margin 4")
    expect(cards.first).to_contain_text("10GBASE-LX4 on OS2")


@pytest.mark.unopened
def test_three_answers_are_compared(page: Page) -> None:
    cards = question(page, "5 m")
    expect(cards.first).to_be_visible()
    for key in ("10GBASE-SR on OM4", "10GBASE-T on Category 6A", "10G direct attach, passive copper"):
        page.get_by_label(f"Compare {key}", exact=True).check()
    page.get_by_role("button", name="Side by side").click()
    table = page.get_by_role("table", name="Side by side")
    expect(table.get_by_role("columnheader")).to_have_count(4)
    expect(table.locator("[data-row='needs']")).to_contain_text("nothing but hands")


@pytest.mark.unopened
def test_another_school_puts_another_answer_first(page: Page) -> None:
    cards = question(page, "60 m")
    expect(cards.first).to_contain_text("10GBASE-SR on OM4")
    page.goto("/rules")
    page.get_by_label("Fiber for new links").select_option("single-mode everywhere")
    page.get_by_role("button", name="Apply", exact=True).click()
    cards = question(page, "60 m")
    expect(cards.first).to_contain_text("10GBASE-LR on OS2")
    expect(page.get_by_test_id("answer-why")).to_contain_text("the house's school, single-mode everywhere")


@pytest.mark.unopened
def test_the_length_comes_from_the_plan_and_a_native_port_gets_a_converter(page: Page) -> None:
    page.goto("/links/1?new=1")
    page.get_by_label("From", exact=True).fill("Harbor office")
    page.get_by_label("To", exact=True).fill("Cold store")
    page.get_by_role("button", name="From the plan").click()
    expect(page.get_by_label("How far")).to_have_value(re.compile(r"^1[89]\d m"))
    page.get_by_label("How fast").select_option("1 Gb/s")
    ports(page, "SFP", "RJ45")
    first = page.locator("[data-option]").first
    expect(first).to_contain_text("a media converter at Cold store")
    expect(first).to_contain_text("mains work is an electrician's")
    make(page)
    expect(page.get_by_role("main")).to_contain_text("It has one speed and cannot be set")
    page.goto("/ladder?filter=Cold store, port to its media converter")
    expect(page.locator("[data-verdict=pass]")).to_have_count(1)


@pytest.mark.unopened
def test_the_cold_store_asked_again_is_answered_by_new_glass(page: Page) -> None:
    page.goto("/links/7")
    page.get_by_role("button", name="Other answers").click()
    expect(page.get_by_label("Cable that is there")).to_have_value(re.compile("OM1,50/125-400,OM2"))
    cards = page.locator("[data-option]")
    expect(cards.first).to_contain_text("10GBASE-LR on OS2, new cable")
    expect(cards.first).to_contain_text("order modules and boxes of the industrial class")
    expect(page.get_by_role("form", name="New link")).to_contain_text("Cold store: -25 to 30 °C by the plan")
    page.get_by_text("ruled out, each for one reason").click()
    expect(page.get_by_test_id("answers")).to_contain_text("10GBASE-SR reaches 26 m on 62.5/125-160")
    name = page.locator("#ladder-7").inner_text()
    page.reload()
    expect(page.get_by_label("From", exact=True)).to_have_value("Harbor office")
    page.get_by_role("button", name="Replace the chain").click()
    expect(page.get_by_test_id("verdict")).to_contain_text(re.compile("pass", re.IGNORECASE))
    assert page.get_by_label("Name of the link").input_value() in name
    assert page.url.endswith("/links/7")


@pytest.mark.unopened
def test_copper_between_buildings_is_told_where_it_is_tempting(page: Page) -> None:
    page.goto("/links/17")
    expect(page.get_by_test_id("verdict")).to_contain_text("lightning and differences of ground potential")
    expect(page.get_by_role("img", name="144 m from port to port, reach 100 m")).to_be_visible()
    page.get_by_role("button", name="Other answers").click()
    expect(page.get_by_label("From", exact=True)).to_have_value("Harbor office")
    expect(page.get_by_label("How far")).to_have_value("140 m")
    cards = page.locator("[data-option]")
    expect(cards.first).to_contain_text("a media converter at both ends")
    page.get_by_text("ruled out, each for one reason").click()
    expect(page.get_by_test_id("answers")).to_contain_text("1000BASE-T on Category 6A: 1000BASE-T reaches 100 m")
    page.goto("/reference?part=copper")
    page.get_by_label("Find in the reference").fill("10GBASE-T category 6 ")
    expect(page.get_by_role("table", name="Copper")).to_contain_text("55 m, 37 m without condition")


@pytest.mark.unopened
def test_what_a_provider_asks_for_and_what_a_module_lists_are_said_on_the_piece(page: Page) -> None:
    page.goto("/links/11?piece=panel-1")
    page.get_by_label("asks for", exact=True).select_option("angled")
    expect(page.get_by_test_id("verdict")).to_contain_text("Angled faces are asked for at this panel")
    page.get_by_role("button", name="Undo").click()
    page.goto("/links/10?piece=module-1")
    page.get_by_label("lists too", exact=True).select_option("1000BASE-LX10")
    expect(page.get_by_role("button", name=re.compile("which it lists too")).first).to_be_visible()
