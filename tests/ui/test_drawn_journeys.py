"""Every page draws its thing: a newcomer looks, walks the drawings by keyboard, and takes what is drawn."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.steps import empty_project

SIZES = [(390, 844), (820, 1180), (1920, 1080)]


def walked(page: Page, drawing: Locator, steps: int = 1) -> str:
    """What is spoken after so many steps into a drawing."""
    drawing.focus()
    for _ in range(steps):
        page.keyboard.press("ArrowRight")
    return str(page.evaluate("document.activeElement.getAttribute('aria-label')"))


@pytest.mark.unopened
@pytest.mark.parametrize(("width", "height"), SIZES)
def test_layout_is_looked_at_before_it_is_read(page: Page, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
    page.goto("/site/pull?cable=quay lock")
    page.goto("/site/pull")
    pull = page.get_by_test_id("pull-drawing")
    assert "Fed at" in walked(page, pull)
    page.keyboard.press("End")
    assert "% full of at most" in page.evaluate("document.activeElement.getAttribute('aria-label')")
    page.goto("/site/capacity")
    expect(page.get_by_test_id("strand-strips").get_by_role("listitem").first).to_contain_text("pull")
    page.get_by_label("Cable year by year").select_option("Lock, by the dike")
    assert walked(page, page.get_by_test_id("year-by-year")).startswith("Now:")
    page.goto("/site/layouts?core=office")
    star = page.get_by_test_id("layout-star")
    expect(star).to_have_attribute("aria-label", re.compile("A cable of its own for each place"))
    assert re.search(r", \d+ strands", walked(page, star, 2))
    page.goto("/site/routes?from=office&to=lock")
    card = page.get_by_role("region", name="Route: ").first
    assert " to " in walked(page, card.locator("[data-drawing]"))
    assert not page.evaluate("document.documentElement.scrollWidth > innerWidth")


@pytest.mark.unopened
@pytest.mark.parametrize(("width", "height"), SIZES)
def test_strands_lie_in_their_tubes_with_color_and_number(page: Page, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
    page.goto("/site/strands?cable=quay")
    strip = page.get_by_test_id("strand-strip")
    assert re.match(r"Strand 2: orange, ", walked(page, strip, 2))
    page.goto("/site/closures?place=crane 1")
    first = page.get_by_test_id("strand-strip").first
    assert "leaves here" in walked(page, first)
    page.goto("/reference")
    page.get_by_label("Find in the reference").fill("10GBASE-SR")
    page.get_by_label("Length in hand").fill("1000 ft")
    expect(page.get_by_role("status")).to_contain_text(re.compile(r"1 of 7 rows reach 305 m|2 of 7 rows reach"))
    bars = page.get_by_test_id("reach-bars")
    expect(bars.locator("[data-row='10GBASE-SR OM4']")).to_have_attribute("aria-label", re.compile("reaches$"))
    expect(bars.locator("[data-row='10GBASE-SR OM2']")).to_have_attribute(
        "aria-label", re.compile("does not reach")
    )
    page.get_by_label("Length in hand").fill("12 parsec")
    expect(page.get_by_role("alert")).to_contain_text("'parsec' in '12 parsec' is not a unit of length")


@pytest.mark.unopened
def test_power_is_never_blank_and_says_what_was_not_checked(page: Page) -> None:
    page.goto("/site/power")
    expect(page.get_by_test_id("feed-example")).to_contain_text("An example, until it is typed: supply 48 V")
    drawing = page.get_by_test_id("feed-drawing")
    expect(drawing).to_be_visible()
    expect(page.get_by_test_id("feeds")).to_have_count(0)  # an example is no answer
    page.get_by_label("supply V", exact=True).fill("48")
    page.get_by_label("one way").fill("800 ft")
    page.get_by_label("at the device, peak W").fill("15")
    expect(page.get_by_test_id("feed-example")).to_have_count(0)
    expect(drawing).to_have_attribute("aria-label", re.compile("Voltage along 244 m over .*: 48 V at the supply"))
    expect(page.get_by_test_id("feeds")).to_contain_text("not checked")
    page.get_by_label("device needs V").fill("44")
    page.get_by_label("Conductor drawn").select_option(index=0)
    expect(drawing).to_contain_text("too low: the device needs 44 V")
    assert walked(page, drawing) == "The device needs 44 V"
    page.get_by_label("Budget W").fill("60")
    total = page.get_by_test_id("switch-sum").first
    expect(total.locator("[data-row=all]")).to_have_attribute("aria-label", re.compile("more than its 60 W"))


@pytest.mark.unopened
@pytest.mark.parametrize(("width", "height"), SIZES)
def test_a_question_is_answered_in_drawings(page: Page, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
    page.goto("/links/1?new=1")
    example = page.get_by_test_id("example-answers")
    expect(example).to_contain_text("How far is missing: this is an example with 185 m")
    expect(page.locator("[data-option]")).to_have_count(0)  # an example cannot be taken
    page.get_by_label("From", exact=True).fill("Harbor office")
    page.get_by_label("To", exact=True).fill("Cold store")
    page.get_by_label("How far").fill("500 ft")
    expect(page.get_by_test_id("understood")).to_have_text("500 ft = 152.4 m, 500 ft")
    expect(page.locator("[data-option]").first).to_contain_text("margin")
    page.get_by_role("button", name="Side by side").click()
    beside = page.get_by_role("region", name="Answers side by side")
    expect(beside).to_contain_text(re.compile(r"Differences only: \d+ lines are alike in all"))
    cells = beside.locator("tr[data-row]").all()
    for row in cells[1:-1]:
        told = row.locator("td").all_inner_texts()[1:]
        assert len(set(told)) > 1, told


@pytest.mark.unopened
@pytest.mark.parametrize(("width", "height"), SIZES)
def test_a_cable_is_told_by_what_is_pressed_and_its_like_is_ordered_whole(
    page: Page, width: int, height: int
) -> None:
    page.set_viewport_size({"width": width, "height": height})
    page.goto("/identify")
    bars = page.get_by_test_id("candidates")
    expect(bars.locator("[data-row=OM3]")).to_have_attribute("aria-label", "OM3: 8 %")
    page.get_by_role("group", name="Jacket").get_by_role("button", name="orange").click()
    expect(bars.locator("[data-row=OM3]")).to_have_attribute("aria-label", "OM3: 2 %, unlikely, not excluded")
    page.get_by_role("group", name="Jacket").get_by_role("button", name="green", exact=True).click()
    expect(page.get_by_test_id("identified")).to_contain_text("100/140 µm multimode of military cable")
    page.get_by_role("group", name="Jacket").get_by_role("button", name="orange").click()
    page.get_by_text("older shapes").click()
    page.get_by_role("group", name="Older plug shape").get_by_role("button", name="MIC").click()
    expect(page.get_by_test_id("identified")).to_contain_text("met by a hybrid cord")
    page.get_by_role("button", name="Order its like").click()
    like = page.get_by_role("group", name="A cord like it")
    like.get_by_label("Length of the cord").fill("3")
    expect(like.get_by_role("status")).to_have_text("Still needed: who reads the print before it is ordered.")
    like.get_by_label("Who reads the print").fill("crew 2")
    like.get_by_role("button", name="Put it on the order").click()
    expect(
        page.get_by_text(re.compile("Done: order duplex cord.* read by crew 2, MIC to MIC, 3 m"))
    ).to_be_visible()


@pytest.mark.parametrize(("width", "height"), SIZES)
def test_a_link_and_a_place_are_chosen_alike_on_every_list(page: Page, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
    for path, row in (("/test", "[data-tested]"), ("/turnup", "[data-turnup]")):
        page.goto(path)
        before = page.locator(row).count()
        page.get_by_label("Place", exact=True).select_option("Gatehouse")
        expect(page.locator(row)).not_to_have_count(before)
        first = page.locator(row).first
        expect(first.locator("svg path").first).to_be_attached()  # its chain in miniature
        name = first.get_by_role("link").inner_text()
        first.get_by_role("link").click()
        main = page.get_by_role("main")
        expect(main.get_by_label("Name of the link").or_(main.get_by_text(name)).first).to_be_visible()
    for path in ("/order/labels", "/order/panels"):
        page.goto(path)
        page.get_by_label("Place", exact=True).select_option("Gatehouse")
        expect(page).to_have_url(re.compile("place=Gatehouse"))
        assert not page.evaluate("document.documentElement.scrollWidth > innerWidth")


def test_on_a_phone_what_is_rare_waits_behind_more(page: Page) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.get_by_role("button", name="Find or do")).to_be_hidden()
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="ft", exact=True).click()
    page.get_by_label("Page of Links").select_option("Ladder")
    expect(page).to_have_url(re.compile("/ladder"))
    expect(page.get_by_role("button", name="Dark theme")).to_be_visible()


@pytest.mark.unopened
def test_rules_figures_and_days_are_drawn(page: Page) -> None:
    page.goto("/rules")
    page.get_by_label("House margin", exact=True).fill("4")
    moves = page.get_by_test_id("verdict-moves")
    expect(moves.get_by_role("listitem").first).to_contain_text("▼ pass")
    page.get_by_role("button", name="Apply", exact=True).click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.goto("/catalog?of=fiber/OM3")
    figure = page.locator("[data-figure]").first
    expect(figure.get_by_role("img")).to_have_attribute("aria-label", re.compile("among .* records from"))
    page.goto("/log")
    assert walked(page, page.get_by_test_id("days-drawing")).endswith("1 by nobody named")
    expect(page.get_by_role("heading", level=2).first).to_have_text(re.compile(r"^\w+day, \w+ \d+, 20\d\d$"))


def dropped(page: Page, name: str, text: str) -> None:
    """Drops a file on the page that is open."""
    page.evaluate(
        """([name, text]) => {
          const held = new DataTransfer();
          held.items.add(new File([text], name));
          for (const kind of ["dragenter", "dragover", "drop"])
            dispatchEvent(new DragEvent(kind, { dataTransfer: held, bubbles: true, cancelable: true }));
        }""",
        [name, text],
    )


def test_a_file_is_dropped_anywhere_and_shown_before_it_is_taken(page: Page) -> None:
    plan = page.request.get("/api/v1/projects/1/plan").text()
    empty_project(page)
    page.goto(page.url.split("/links")[0] + "/order")
    page.get_by_role("heading", level=1).wait_for()
    dropped(page, "harbor.json", plan)
    expect(page.get_by_test_id("dropped")).to_contain_text("It is a plan file")
    page.get_by_role("button", name="Add its links: harbor.json").click()
    expect(page.get_by_role("status").filter(has_text="links were added")).to_contain_text("from harbor.json")
    dropped(page, "mine.csv", "From;To;Length;Application\nShed;Gate;12 volts;1000BASE-LX10")
    expect(page.get_by_test_id("import-preview")).to_contain_text("1 lines are bad")
    dropped(page, "mine.csv", "From;To;Length;Application\nShed;Gate;90 m;1000BASE-LX10")
    page.get_by_role("button", name="Import 1 links").click()
    expect(page.get_by_text("1 links were imported")).to_be_visible()
    dropped(page, "own.csv", "What;How much\na;b")
    expect(page.get_by_test_id("dropped")).to_contain_text("its first line names no columns that are known")
    dropped(page, "map.geojson", json.dumps({"type": "FeatureCollection", "features": []}))
    expect(page.get_by_test_id("dropped")).to_contain_text("It is a map")
    page.reload()
    expect(page.get_by_role("region", name="Links from a table")).to_contain_text("last used")


def test_paper_is_black_on_white_and_knows_its_pages(page: Page) -> None:
    page.evaluate("localStorage.setItem('theme', 'dark')")
    page.goto("/site/pull")
    page.get_by_test_id("pull-drawing").wait_for()
    page.emulate_media(media="print")
    assert page.evaluate("getComputedStyle(document.body).backgroundColor") == "rgb(255, 255, 255)"
    foot = page.locator("style[data-printed]")
    expect(foot).to_have_attribute("data-printed", re.compile(r"Port-Aubier.* · Pull sheet · 20.* · revision \d+"))
    expect(page.get_by_role("navigation").first).to_be_hidden()
    assert page.pdf(format="A4").startswith(b"%PDF")
