"""Many links at once, the log, and what comes in and goes out, in the real screens."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

GOOD = "from,to,length,application,fiber\nHarbor office,Ice house,600 ft,10GBASE-SR,OM3\n"


def test_one_change_in_many_links_and_one_undo(page: Page) -> None:
    page.get_by_role("link", name="Ladder").click()
    page.get_by_label("Filter the links").fill("crane")
    page.get_by_label("all shown").check()
    bar = page.get_by_role("region", name="Change the chosen links")
    bar.get_by_label("What to set").select_option("grade")
    bar.get_by_label("Value").select_option("OS2")
    expect(page.get_by_test_id("bulk-effect")).to_contain_text("Crane 1 marginal to fail")
    expect(page.locator("[data-verdict=marginal]")).to_have_count(1)
    bar.get_by_role("button", name="Change 3 links").click()
    expect(page.locator("[data-verdict=fail]")).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-verdict=marginal]")).to_have_count(1)


def test_the_ladder_is_sorted_and_grouped(page: Page) -> None:
    page.goto("/ladder?sort=margin")
    rows = page.locator("[data-verdict]")
    expect(rows.first).to_contain_text(re.compile("Radar mast|Tide station|Weighbridge"))
    page.get_by_label("Group").select_option("verdict")
    items = page.get_by_role("listitem")
    expect(items.first).to_have_text(re.compile("damage *1"))
    page.reload()
    expect(items.first).to_have_text(re.compile("damage *1"))


def test_house_rules_show_their_effect_first(page: Page) -> None:
    page.get_by_role("button", name="House rules").click()
    panel = page.get_by_role("region", name="House rules")
    panel.get_by_label("House margin").fill("2")
    expect(page.get_by_test_id("house-effect")).to_contain_text("Rows A to B: pass to marginal")
    row = page.get_by_role("link", name=re.compile("^Rows A to B"))
    expect(row).to_have_attribute("data-verdict", "pass")
    panel.get_by_role("button", name="Take these rules").click()
    expect(row).to_have_attribute("data-verdict", "marginal")
    page.get_by_role("button", name="Undo").click()
    expect(row).to_have_attribute("data-verdict", "pass")


def test_the_log_leads_back(page: Page) -> None:
    name = page.get_by_label("Name of the link")
    for text in ("one", "two", "three"):
        name.fill(text)
        name.press("Enter")
        expect(page.locator("[data-verdict][aria-current=page]")).to_contain_text(text)
    page.get_by_role("link", name="Log").click()
    rows = page.get_by_role("row")
    expect(rows).to_have_count(3)
    rows.last.get_by_role("button", name="Return to here").click()
    expect(rows.first).to_contain_text("return to: one: rename")
    page.get_by_role("link", name="one: rename").last.click()
    expect(name).to_have_value("one")


def test_a_bad_import_is_named_and_a_good_one_taken(page: Page) -> None:
    page.get_by_role("link", name="In and out").click()
    text = page.get_by_label("CSV text")
    text.fill(GOOD + "Harbor office,Old mill,far,10GBASE-SR,OM3\n")
    shown = page.get_by_test_id("import-preview")
    expect(shown).to_contain_text("line 3, length: 'far' is not a length")
    expect(shown.get_by_role("button", name="Import")).to_be_disabled()
    text.fill(GOOD)
    shown.get_by_role("button", name="Import 1 links").click()
    expect(page.get_by_role("status")).to_contain_text("1 links were imported")
    page.get_by_role("link", name="Ladder").click()
    page.get_by_label("Filter the links").fill("ice house")
    expect(page.locator("[data-verdict]")).to_have_count(1)


def test_both_modules_of_one_side_and_the_cure(page: Page) -> None:
    page.get_by_role("link", name=re.compile("^Tide station")).click()
    expect(page.get_by_test_id("verdict")).to_contain_text("same side of a two-wavelength pair")
    page.locator("[data-fix]").first.click()
    expect(page.get_by_test_id("verdict")).to_contain_text("pass")
    light = page.get_by_role("img", name=re.compile("^Light going"))
    right = light.get_attribute("aria-label")
    page.get_by_role("button", name="left to right").click()
    expect(light).not_to_have_attribute("aria-label", right or "")
