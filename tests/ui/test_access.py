"""Nothing serious for those who cannot see, point or hold the screen level: axe on each view, in three widths."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
VIEWS = [
    "/links/1?piece=cord-2",
    "/links/3",
    "/links/7?piece=run-1",
    "/links/16?piece=port-2",
    "/links/6?whatif=1&new=1",
    "/links/17?piece=twisted-2",
    "/links/9?new=1&glass=OM3",
    "/ladder",
    "/rules",
    "/site?way=quay 0",
    "/site?table=cables",
    "/site?table=devices",
    "/site/routes?from=office&to=lock&apart=2&new=1",
    "/site/layouts?core=office",
    "/site/capacity",
    "/site/strands?cable=quay",
    "/site/backbone",
    "/site/trunks",
    "/splits",
    "/site/power",
    "/site/closures?place=crane 1",
    "/site/pull?cable=lock dike&friction=0.9",
    "/site/scope?cable=quay",
    "/reference?part=reach",
    "/reference?part=plugs",
    "/reference?part=copper",
    "/reference?part=colors",
    "/reference?part=teachings",
    "/links/1?new=1",
    "/links/1?new=1&from=Harbor office&to=Lock house&length=500 ft&speed=10000",
    "/identify",
    "/catalog?of=application/10GBASE-SR",
    "/log",
    "/exchange",
    "/requirements",
    "/places",
    "/order",
    "/order/reels",
    "/order/deliveries",
    "/order/day",
    "/order/labels?place=Gatehouse",
    "/order/panels?place=Gatehouse",
    "/test",
    "/test/references",
    "/links/6?lens=proof",
    "/turnup",
    "/turnup/3",
    "/turnup/network",
    "/turnup/boxes",
    "/turnup/log",
    "/turnup/handover",
    "/links/37?lens=build&piece=run-1",
]


UNMOVING = "*, *::before, *::after { transition: none !important; animation: none !important; }"
"""So that no color is on its way to another one while it is read."""


def axe_findings(page: Page, *rules: str) -> list[tuple[str, str, str]]:
    """All that axe finds on the page by some rules or all, minor or worse: rule, element, words."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    wanted = {"resultTypes": ["violations"], **({"runOnly": list(rules)} if rules else {})}
    found = page.evaluate("(wanted) => axe.run(document, wanted)", wanted)
    return [
        (v["id"], v["nodes"][0]["html"][:160], v["nodes"][0]["failureSummary"][:200]) for v in found["violations"]
    ]


WIDTHS = (390, 820, 1920)


@pytest.mark.unopened
@pytest.mark.parametrize("view", VIEWS)
def test_every_view_is_for_everybody_and_fits_every_screen(page: Page, view: str) -> None:
    """One load: all rules in the light theme, and contrast, which is all that a theme changes, in the dark one."""
    page.goto(view)
    page.add_style_tag(content=UNMOVING)
    page.locator("main").wait_for()
    page.get_by_role("heading", level=1).first.wait_for()
    page.wait_for_load_state("networkidle")
    assert axe_findings(page) == []
    page.get_by_role("button", name="Dark theme").click()
    expect(page.locator("html")).to_have_class("dark")
    assert axe_findings(page, "color-contrast") == []
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 900})
        page.evaluate("new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))")
        assert page.evaluate("document.documentElement.scrollWidth") <= width, f"{width} px"


def test_a_tablet_held_upright_shows_verdict_chain_and_piece(page: Page) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    page.locator("[data-piece=run-1]").click()
    expect(page.get_by_test_id("verdict")).to_be_in_viewport()
    expect(page.get_by_role("region", name="Piece: run")).to_be_in_viewport()
    wide = page.evaluate("document.documentElement.scrollWidth > document.documentElement.clientWidth")
    assert not wide, "the page must not scroll sideways"


def test_print_leaves_out_what_is_pressed(page: Page) -> None:
    page.emulate_media(media="print")
    expect(page.get_by_test_id("verdict")).to_be_visible()
    expect(page.get_by_role("button", name="Undo")).to_be_hidden()
    expect(page.get_by_role("button", name="Duplicate")).to_be_hidden()


def test_an_unreachable_program_is_said_and_nothing_typed_is_lost(page: Page) -> None:
    page.locator("[data-piece=run-1]").click()
    field = page.get_by_label("length", exact=True)
    page.route("**/api/**", lambda route: route.abort())
    field.fill("3 km")
    field.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("does not answer")
    expect(field).to_have_value("3 km")
    page.unroute("**/api/**")
    field.press("Enter")
    expect(page.locator("[data-piece=run-1]")).to_contain_text("3.00 km")


@pytest.mark.unopened
def test_a_link_that_is_not_there_says_so(page: Page) -> None:
    page.goto("/links/999")
    expect(page.get_by_role("alert")).to_contain_text("there is no link 999")


def test_reverse_duplicate_and_remove(page: Page) -> None:
    order = "[...document.querySelectorAll('[data-piece]')].map(e => e.dataset.piece)"
    before = page.evaluate(order)
    page.get_by_role("button", name="Reverse").click()
    expect(page.locator("[data-piece]").first).to_have_attribute("data-piece", before[-1])
    assert page.evaluate(order) == before[::-1]
    expect(page.get_by_test_id("verdict")).to_contain_text("damage")
    page.get_by_role("button", name="Duplicate").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Ferry terminal, copy")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Ferry terminal")
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Ferry terminal, copy")
    page.get_by_role("button", name="Remove").click()
    expect(page.get_by_role("link", name="Ferry terminal, copy")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Name of the link")).to_have_value("Ferry terminal, copy")


def test_one_tab_and_enter_lead_to_the_chain(page: Page) -> None:
    page.keyboard.press("Tab")
    expect(page.get_by_role("button", name="Skip to the chain")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("[data-piece]").first).to_be_focused()
