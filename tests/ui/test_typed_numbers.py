"""A comma before three digits, as a person meets it: two buttons, nothing guessed, asked once where wanted."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.steps import project_page
from tests.ui.test_access import axe_findings


def asked(page: Page, typed: str) -> Locator:
    box = page.get_by_role("alertdialog", name=f"Which number is {typed}?")
    expect(box).to_be_visible()
    return box


def enter(field: Locator, text: str) -> None:
    field.fill(text)
    field.press("Enter")


@pytest.mark.unopened
def test_a_reading_in_doubt_is_asked_about_and_kept_as_it_was_meant(page: Page) -> None:
    page.goto("/links/6?lens=proof")
    line = page.locator("[data-row='1-1310-right']")
    enter(line.get_by_role("textbox"), "1,005")
    box = asked(page, "1,005")
    expect(box.get_by_role("button", name="1005", exact=True)).to_be_focused()
    assert axe_findings(page) == []
    box.get_by_role("button", name="Cancel").click()
    expect(line.get_by_role("alert")).to_contain_text("Not recorded")
    expect(line.get_by_role("textbox")).to_have_value("1,005")
    line.get_by_role("textbox").press("Enter")
    asked(page, "1,005").get_by_role("button", name="1.005", exact=True).click()
    expect(line).to_contain_text("Informs only")
    expect(line.get_by_role("textbox")).to_have_attribute("placeholder", "1.00")


@pytest.mark.unopened
def test_a_length_is_asked_about_in_feet_and_never_again_once_the_sign_is_set(page: Page) -> None:
    page.goto("/links?new=1&from=A&to=B&speed=10000")
    page.get_by_role("button", name="ft", exact=True).click()
    page.get_by_label("How far").fill("1,200")
    note = page.get_by_role("alert").filter(has_text="'1,200 ft' can mean 1200 ft or 1.2 ft")
    note.get_by_role("button", name="1200 ft", exact=True).click()
    expect(page.locator("[data-testid='options']").or_(page.get_by_role("main"))).to_contain_text("1200 ft")
    expect(note).to_have_count(0)

    project_page(page, "House rules")
    page.get_by_label("Comma before three digits").select_option("comma")
    page.goto("/links/6?lens=proof")
    line = page.locator("[data-row='1-1310-right']")
    enter(line.get_by_role("textbox"), "1,105")
    expect(line).to_contain_text("Informs only")
    expect(page.get_by_role("alertdialog")).to_have_count(0)
