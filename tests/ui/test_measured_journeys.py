"""A reading instead of the paper, a module from its datasheet, what a switch reserves, a make that is missed."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.clock import day
from tests.ui.steps import open_link


def test_a_reading_is_written_down_and_the_verdict_stands_on_it(page: Page) -> None:
    open_link(page, "Crane 3")
    page.locator("[data-piece=run-1]").click()
    hand = page.get_by_role("region", name="Readings")
    hand.get_by_role("button", name="Write one down").click()
    form = page.get_by_role("form", name="Reading")
    form.get_by_label("loss, dB").fill("1,3")
    form.get_by_label("at, nm").fill("1310")
    form.get_by_role("button", name="Keep the reading").click()
    informs = page.locator("[data-finding='reading.informs']")
    expect(informs).to_contain_text("not said: direction, date, uncertainty, serial number")
    expect(page.get_by_test_id("verdict")).not_to_contain_text("as measured")
    hand.get_by_role("button", name="Withdraw").click()
    expect(hand).to_contain_text("withdrawn by hand")
    hand.get_by_role("button", name="Write one down").click()
    form.get_by_label("loss, dB").fill("1.3")
    form.get_by_label("± dB").fill("0.2")
    form.get_by_label("at, nm").fill("1310")
    form.get_by_label("light goes").select_option("both")
    form.get_by_label("reference set").fill("one cord, 08:05")
    form.get_by_label("date", exact=True).fill(day(-55))
    for label, said in (("meter, serial", "PM-0417"), ("calibrated", day(-269)), ("read by", "night crew")):
        form.get_by_label(label).fill(said)
    form.get_by_label("place").fill("Harbor office")
    form.get_by_role("button", name="Keep the reading").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("pass as measured")
    page.keyboard.press("Control+z")
    expect(hand).to_contain_text("withdrawn: undone")


@pytest.mark.unopened
def test_a_module_from_its_datasheet_answers_a_question(page: Page) -> None:
    page.goto("/catalog")
    page.get_by_role("button", name="Add a module").click()
    form = page.get_by_role("form", name="Module from its datasheet")
    expect(form).to_contain_text("Still needed: a name, the datasheet's title and date.")
    for label, text in (
        ("name in this project", "long 10G of the store"),
        ("datasheet: title, date", "Long-reach module, revision 3, 2026-02-01"),
        ("launch minimum, dBm", "0"),
        ("launch maximum, dBm", "4"),
        ("sensitivity, dBm", "−24"),
        ("overload, dBm", "4"),
        ("damage, dBm", "5"),
        ("path penalty, dB", "2"),
        ("dispersion that it stands, ps/nm", "1600"),
    ):
        form.get_by_label(label).fill(text)
    form.get_by_role("button", name="Add it to this project").click()
    expect(page.locator("[data-module='long 10G of the store']")).to_contain_text("nearest to 10GBASE-ER")
    page.goto("/links?new=1&from=Harbor%20office&to=Far%20hut&length=45%20km&speed=10000")
    card = page.locator("[data-option^='long 10G of the store on OS2']").first
    expect(card).to_contain_text("pass")
    card.click()
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("pass")


@pytest.mark.unopened
def test_a_switch_says_what_it_reserves(page: Page) -> None:
    page.goto("/site/power")
    page.get_by_label("Budget W").fill("40")
    sums = page.get_by_text("Switch at Lock house: reserves 62 W by class, more than its 40 W")
    expect(sums).to_be_visible()
    expect(page.get_by_role("table", name="Devices on the switch at Lock house")).to_contain_text("W at the device")


@pytest.mark.unopened
def test_a_make_that_is_missed_is_asked_for(page: Page) -> None:
    page.goto("/links?new=1&from=A&to=B&length=15%20m&speed=10000")
    page.get_by_text("The two ports").click()
    page.get_by_label("accepts", exact=False).first.select_option("own only")
    expect(page.get_by_test_id("asked")).to_contain_text("say which make")
    expect(page.locator("[data-option]").first).to_be_visible()
