"""A list longer than its first page: it comes whole, follows what is done, and nothing is read twice."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, Request, expect

from passerelle.demo.port_aubier import demo_links

LINES = 240


@pytest.fixture
def large(page: Page) -> Page:
    rows = ["from,to,length,application,fiber,pairs,splices"]
    rows += [f"House {n % 7},Room {n},{40 + n} m,10GBASE-SR,OM3,2,0" for n in range(LINES)]
    made = page.request.post("/api/v1/projects/1/import", data={"text": "\n".join(rows) + "\n"})
    assert made.ok, made.text()
    return page


def test_the_ladder_shows_every_link_and_follows_a_change_without_reading_all_again(large: Page) -> None:
    asked: list[str] = []

    def watch(request: Request) -> None:
        asked.append(request.url.split("/api/v1")[-1])

    large.on("request", watch)
    large.goto("/p/1/ladder")
    expect(
        large.get_by_text(f"{len(demo_links()) + LINES} of {len(demo_links()) + LINES} links", exact=True)
    ).to_be_visible()
    assert sum("/links/page" in url for url in asked) == 2
    asked.clear()
    large.get_by_label("Filter the links").fill(f"room {LINES - 1}")
    large.get_by_role("link", name=f"House {(LINES - 1) % 7} to Room {LINES - 1}").click()
    expect(large.get_by_test_id("verdict")).to_be_visible()
    name = large.get_by_label("Name of the link")
    name.fill("Last of all")
    name.press("Enter")
    large.get_by_label("Filter the links").fill("last of")
    expect(large.get_by_role("navigation", name="Links").get_by_text("Last of all")).to_be_visible()
    assert not [url for url in asked if "/links/page" in url or "/links/news" in url or url.endswith("/plant")]
    large.get_by_role("button", name="Undo").click()
    expect(large.get_by_role("navigation", name="Links").get_by_text('No link matches "last of".')).to_be_visible()
    assert sum("/links/news" in url for url in asked) == 1


def test_a_change_from_elsewhere_reaches_the_list_with_the_next_own_one(large: Page) -> None:
    large.goto("/p/1/links/2")
    expect(large.get_by_label("Name of the link")).to_have_value("Lock house, quay duct")
    other = large.request.get("/api/v1/links/4").json()
    wish = {"revision": other["revision"], "edits": [{"op": "describe", "values": {"name": "Crane one"}}]}
    assert large.request.post("/api/v1/links/4/edits", data=wish).ok
    name = large.get_by_label("Name of the link")
    name.fill("Lock house, by the quay")
    name.press("Enter")
    links = large.get_by_role("navigation", name="Links")
    expect(links.get_by_text("Lock house, by the quay")).to_be_visible()
    expect(links.get_by_text("Crane one")).to_be_visible()


def test_a_change_of_many_links_elsewhere_is_not_missed_by_a_conflict(large: Page) -> None:
    """Somebody changes two links at once; the answer to a refused edit of the one must not hide the other."""
    large.goto("/p/1/links/2")
    expect(large.get_by_label("Name of the link")).to_have_value("Lock house, quay duct")
    links = large.get_by_role("navigation", name="Links")
    fourth = links.locator("#ladder-4")
    expect(fourth).to_contain_text("1000BASE-SX")
    change = {"change": "grade", "grade": "OS1a"}
    made = large.request.post("/api/v1/projects/1/bulk", data={"links": [2, 4], "change": change})
    assert made.ok, made.text()
    name = large.get_by_label("Name of the link")
    name.fill("Mine")
    name.press("Enter")
    expect(large.get_by_role("button", name="Make my change on the new state")).to_be_visible()
    expect(fourth).to_contain_text("fail")
