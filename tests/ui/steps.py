"""What many journeys do: the pages of the project menu, a new empty project."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect


def open_link(page: Page, name: str) -> None:
    """Goes to a link and waits until it stands there: until then the one before it is still shown."""
    page.get_by_role("link", name=re.compile(f"^{name}")).click()
    expect(page.get_by_label("Name of the link")).to_have_value(name)


def project_menu(page: Page) -> Locator:
    page.get_by_role("button", name="Project:").click()
    return page.get_by_role("region", name="Project", exact=True)


def project_page(page: Page, words: str) -> None:
    project_menu(page).get_by_role("link", name=words, exact=True).click()


def empty_project(page: Page) -> None:
    """Opens a project of its own that holds nothing."""
    made = page.request.post("/api/v1/projects", data={"name": "New project"})
    page.goto(f"/p/{made.json()['id']}/links")
    expect(page.get_by_text("No links yet. Press New link")).to_be_visible()
