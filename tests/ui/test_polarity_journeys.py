"""Polarity that is seen and repaired: from the ladder, by a set for a backbone, and by a card for the hand."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.steps import empty_project


@pytest.mark.unopened
def test_a_crossed_link_is_repaired_from_the_ladder(page: Page) -> None:
    page.goto("/ladder")
    page.get_by_placeholder("filter: place, verdict, application").fill("crossed twice")
    page.get_by_role("link", name=re.compile("Rows 10G, crossed twice")).first.click()
    page.get_by_role("button", name="Strands").click()
    lens = page.get_by_test_id("strands-lens")
    expect(lens).to_contain_text("cheapest change")
    expect(lens.get_by_text("dark", exact=True)).to_have_count(2)
    fix = page.locator("[data-fix]").first
    fix.hover()
    expect(lens).to_contain_text("If you take it: Flip one duplex clip")
    expect(lens.get_by_text("dark", exact=True)).to_have_count(0)
    fix.click()
    expect(page.get_by_test_id("verdict")).to_contain_text("pass on estimate")
    expect(lens.get_by_text("R1", exact=True).first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("fail")


@pytest.mark.unopened
def test_a_lane_is_followed_with_the_arrow_keys(page: Page) -> None:
    page.goto("/links/18?lens=strands")
    first = page.get_by_role("button", name="lane 1 going right, module 40GBASE-SR4, right face: position 1, blue")
    first.focus()
    page.keyboard.press("ArrowRight")
    focused = page.locator(":focus")
    expect(focused).to_have_attribute("aria-label", "lane 1 going right, array cord, left face: position 12, aqua")
    page.keyboard.press("ArrowDown")
    expect(focused).to_have_attribute("aria-label", re.compile("lane 2 going right, array cord.*position 11, rose"))
    page.keyboard.press("End")
    expect(focused).to_have_attribute("aria-label", re.compile("lane 2 going right, module .*position 11"))
    expect(page.get_by_test_id("strands-lens")).to_contain_text("left face from the front, key up: MPO/PC")
    page.get_by_role("button", name="This lane alone").click()
    expect(page.get_by_role("button", name="All lanes")).to_be_visible()


@pytest.mark.unopened
def test_a_backbone_is_designed_and_a_parallel_link_laid_over_it(page: Page) -> None:
    """On an empty project: what runs, the set, two places, a length in feet."""
    empty_project(page)
    page.goto("/site/backbone")
    first = page.get_by_role("region", name="reversed trunk, keys aligned")
    expect(first).to_contain_text("type B")
    expect(page.get_by_text("Mixed.")).to_have_count(0)
    first.get_by_role("button", name="Lay a link over it").click()
    expect(first.get_by_role("button", name="Add the link")).to_be_disabled()
    first.get_by_label("From place").fill("room 1")
    first.get_by_label("To place").fill("room 2")
    first.get_by_label("Length of the trunk").fill("200 furlongs")
    first.get_by_role("button", name="Add the link").click()
    expect(page.get_by_role("alert")).to_contain_text("length")
    first.get_by_label("Length of the trunk").fill("200 ft")
    first.get_by_role("button", name="Add the link").click()
    expect(page.get_by_label("Name of the link")).to_have_value("room 1 to room 2")
    lens = page.get_by_test_id("strands-lens")
    expect(lens.get_by_text("R4", exact=True).first).to_be_visible()
    expect(lens.get_by_text("dark", exact=True)).to_have_count(0)
    page.goto("/site/trunks")
    sheet = page.get_by_role("region", name="trunk of room 1 to room 2")
    expect(sheet).to_contain_text("type B, reversed, 12 fibers, flat")


@pytest.mark.unopened
def test_the_card_for_crossing_by_hand_is_read_and_printed(page: Page) -> None:
    page.goto("/links/31?piece=cord-1")
    page.get_by_role("link", name="Card: cross by hand").click()
    expect(page.get_by_role("heading", name=re.compile("^Crossing the cord"))).to_be_visible()
    expect(page.get_by_role("listitem")).to_have_count(9)
    expect(page.get_by_text("Laser light is invisible")).to_be_visible()
    page.evaluate("window.print = () => { window.printed = true; }")
    page.get_by_role("button", name="Print").click()
    assert page.evaluate("window.printed") is True
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Print")).to_be_hidden()
    page.emulate_media(media="screen")
    page.get_by_role("button", name="Back to the link").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Rows 10G, crossed twice")


@pytest.mark.unopened
def test_the_legs_of_a_split_port_lead_to_their_links(page: Page) -> None:
    page.goto("/splits")
    port = page.get_by_role("region", name="Port row A 3/1")
    expect(port).to_contain_text("4 × 10 Gb/s")
    expect(port).to_contain_text("Free: leg 4")
    port.get_by_role("link", name=re.compile("leg 3:? ?Row A, host 3")).click()
    expect(page.get_by_label("Name of the link")).to_have_value("Row A, host 3")
    page.locator("[data-fix]").filter(has_text="Plug leg 3").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("pass on estimate")


@pytest.mark.unopened
def test_one_fast_port_and_four_hosts_are_asked_for(page: Page) -> None:
    page.goto("/links?new=1&from=row A&to=row B&length=5 m&speed=25000&near=QSFP28&far=SFP28")
    page.get_by_text("Array trunk, hosts on a split port").click()
    page.get_by_label("Hosts on one split port").fill("4")
    option = page.locator('[data-option^="100GBASE-SR4 split into 4"]')
    expect(option).to_contain_text("unknown")
    page.get_by_label("Split of the port here").select_option("4")
    expect(option).to_contain_text("pass on estimate")
    expect(option).to_contain_text("Set the fast port to 25 Gb/s legs")
    option.get_by_role("button").click()
    page.get_by_role("button", name=re.compile("^Make")).first.click()
    page.goto("/splits")
    expect(page.get_by_text("No leg is free.")).to_be_visible()
