"""Many links at once, the log, and what comes in and goes out, in the real screens."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from passerelle.demo.plant import demo_plant
from tests.ui.steps import project_menu, project_page

GOOD = "from,to,length,application,fiber\nHarbor office,Ice house,600 ft,10GBASE-SR,OM3\n"


def test_one_change_in_many_links_and_one_undo(page: Page) -> None:
    page.get_by_role("link", name="Ladder", exact=True).click()
    expect(page.get_by_label("all shown")).to_be_visible()  # the list beside a link has a filter of its own
    page.get_by_label("Filter the links").fill("crane")
    expect(page.locator("[data-verdict]")).to_have_count(3)
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


@pytest.mark.unopened
def test_the_ladder_is_sorted_and_grouped(page: Page) -> None:
    page.goto("/ladder?sort=margin")
    rows = page.locator("[data-verdict]")
    expect(rows.first).to_contain_text(re.compile("Radar mast|Tide station|Weighbridge"))
    page.get_by_label("Group").select_option("verdict")
    items = page.get_by_role("listitem")
    expect(items.first).to_have_text(re.compile("damage *3"))
    page.reload()
    expect(items.first).to_have_text(re.compile("damage *3"))


def test_house_rules_show_their_effect_first(page: Page) -> None:
    project_page(page, "House rules")
    page.get_by_label("House margin", exact=True).fill("2")
    effect = page.get_by_test_id("house-effect")
    expect(effect).to_contain_text("Pump house: pass as measured to marginal as measured")
    page.get_by_label("House margin", exact=True).fill("far")
    expect(effect).to_contain_text("is not a number")
    page.get_by_label("House margin", exact=True).fill("2")
    page.get_by_role("button", name="Apply", exact=True).click()
    expect(effect).to_contain_text("Change a rule")
    page.get_by_role("navigation", name="Stages").get_by_role("link", name="Links").click()
    row = page.get_by_role("link", name=re.compile("^Pump house"))
    expect(row).to_have_attribute("data-verdict", "marginal")
    page.get_by_role("button", name="Undo").click()
    expect(row).to_have_attribute("data-verdict", "pass")


@pytest.mark.unopened
def test_an_own_figure_with_its_source_and_back(page: Page) -> None:
    page.goto("/catalog?of=allowance/mated pair")
    page.get_by_role("button", name="Own figure for worst").click()
    form = page.get_by_role("form", name="Own figure for worst")
    form.get_by_label("Value in dB").fill("0.4")
    expect(page.get_by_test_id("own-effect")).to_contain_text("Crane 1: marginal to pass")
    take = form.get_by_role("button", name="Use it in this project")
    expect(take).to_be_disabled()
    form.get_by_label("Source").fill("contract of the lock project")
    take.click()
    line = page.locator("[data-figure=worst_db]")
    expect(line).to_contain_text("datasheet: contract of the lock project")
    page.get_by_role("button", name="Restore worst").click()
    expect(line).to_contain_text("TIA-568.3-D")
    expect(page.get_by_test_id("self-check")).to_contain_text("0 broken")


@pytest.mark.unopened
def test_the_stages_filter_the_ladder(page: Page) -> None:
    page.goto("/ladder")
    page.get_by_role("group", name="Stages").get_by_role("button", name="survey").click()
    expect(page.locator("[data-verdict]")).to_have_count(2)
    expect(page.locator("[data-verdict]").first).to_contain_text("Cold store")
    expect(page.locator("[data-verdict]").last).to_contain_text("Weighbridge")
    page.get_by_role("group", name="Stages").get_by_role("button", name="survey").click()
    page.get_by_label("Group").select_option("stage")
    expect(page.get_by_role("listitem").first).to_have_text(re.compile("next: survey *2"))


def test_a_plan_file_with_its_log_opens_as_a_project_of_its_own(page: Page, tmp_path: Path) -> None:
    name = page.get_by_label("Name of the link")
    name.fill("one")
    name.press("Enter")
    expect(page.locator("[data-verdict][aria-current=page]")).to_contain_text("one")
    project_page(page, "Import and export")
    with page.expect_download() as kept:
        page.get_by_role("link", name="Plan file with its log").click()
    file = tmp_path / "plan.json"
    kept.value.save_as(file)
    menu = project_menu(page)
    called = menu.get_by_label("Name of the project")
    called.fill("Port-Aubier, as it was")
    called.press("Enter")
    expect(page.get_by_role("button", name="Project: Port-Aubier, as it was")).to_be_visible()
    menu.get_by_label("Plan file to open").set_input_files(file)
    expect(page.get_by_role("button", name="Project: Port-Aubier", exact=True)).to_be_visible()
    expect(name).to_have_value("one")
    page.get_by_role("button", name="Undo").click()
    expect(name).to_have_value("Ferry terminal")
    project_menu(page).get_by_role("button", name="Open Port-Aubier, as it was").click()
    expect(name).to_have_value("one")


def test_the_log_leads_back(page: Page) -> None:
    name = page.get_by_label("Name of the link")
    for text in ("one", "two", "three"):
        name.fill(text)
        name.press("Enter")
        expect(page.locator("[data-verdict][aria-current=page]")).to_contain_text(text)
    project_page(page, "Records")
    rows = page.get_by_role("group", name="Log").get_by_role("row")
    expect(rows).to_have_count(3)
    rows.last.get_by_role("button", name="Return to here").click()
    expect(rows.first).to_contain_text("return to: one: rename")
    page.get_by_role("link", name="one: rename").last.click()
    expect(name).to_have_value("one")


def test_a_bad_import_is_named_and_a_good_one_taken(page: Page) -> None:
    project_page(page, "Import and export")
    text = page.get_by_label("CSV text")
    text.fill(GOOD + "Harbor office,Old mill,far,10GBASE-SR,OM3\n")
    shown = page.get_by_test_id("import-preview")
    expect(shown).to_contain_text("line 3, length: 'far' is not a length")
    expect(shown.get_by_role("button", name="Import")).to_be_disabled()
    text.fill(GOOD)
    shown.get_by_role("button", name="Import 1 links").click()
    expect(page.get_by_role("status")).to_contain_text("1 links were imported")
    page.get_by_role("navigation", name="Stages").get_by_role("link", name="Links").click()
    page.get_by_role("link", name="Ladder", exact=True).click()
    expect(page.get_by_label("all shown")).to_be_visible()  # the list beside a link has a filter of its own
    page.get_by_label("Filter the links").fill("ice house")
    expect(page.locator("[data-verdict]")).to_have_count(1)


def test_both_modules_of_one_side_and_the_cure(page: Page) -> None:
    page.get_by_role("link", name=re.compile("^Tide station")).click()
    expect(page.get_by_test_id("verdict")).to_contain_text("same side of a two-wavelength pair")
    page.locator("[data-fix]").first.click()
    expect(page.get_by_test_id("verdict")).to_contain_text("inside the house margin of 1 dB")
    light = page.get_by_role("img", name=re.compile("^Light going"))
    right = light.get_attribute("aria-label")
    page.get_by_role("button", name="left to right").click()
    expect(light).not_to_have_attribute("aria-label", right or "")


def test_cut_a_way_and_read_the_outage(page: Page) -> None:
    page.get_by_role("link", name="Layout", exact=True).click()
    expect(page.get_by_test_id("not-diverse").first).to_contain_text(
        "are not two paths: they share Quay duct, first 60 m, Quay pit"
    )
    page.locator("[data-way='quay 0']").click()
    outage = page.get_by_test_id("outage")
    expect(outage).to_contain_text("6 links go")
    expect(outage).to_contain_text("Lock house goes dark")
    expect(page.get_by_role("region", name="Way: Quay duct, first 60 m")).to_contain_text("overfull")
    page.locator("[data-way='dike']").press("Enter")
    expect(outage).to_contain_text("Lock house keeps 1 Gb/s; Tide station goes dark")


@pytest.mark.unopened
def test_a_second_way_to_the_lock_is_drawn_and_laid_and_is_diverse(page: Page) -> None:
    page.goto("/site?table=ways")
    page.get_by_role("button", name="Add a way").click()
    form = page.get_by_role("form", name="New way")
    add = form.get_by_role("button", name="Add it")
    expect(form.get_by_role("status")).to_have_text("give it a name")
    form.get_by_label("name").fill("Second way to the lock")
    form.get_by_label("from", exact=True).select_option("lock")
    form.get_by_label("to", exact=True).select_option("lock")
    expect(form.get_by_role("status")).to_have_text("it leads back to where it starts")
    expect(add).to_be_disabled()
    form.get_by_label("from", exact=True).select_option("office")
    form.get_by_label("length").fill("far")
    add.click()
    expect(form.get_by_role("alert")).to_contain_text("'far' is not a length")
    form.get_by_label("length").fill("2700 ft")
    add.click()
    row = page.locator("[data-row='way 16']")
    expect(row.get_by_label("length of way 16")).to_have_value("822.96 m")
    expect(row.get_by_label("to of way 16").get_by_role("option", name="Harbor office")).to_have_count(0)
    page.get_by_role("group", name="Tables").get_by_role("button", name="cables").click()
    page.get_by_role("button", name="Add a cable").click()
    number = len(demo_plant().cables) + 1
    cable = page.locator(f"[data-row='cable {number}']")
    form = page.get_by_role("form", name="New cable")
    form.get_by_label("name").fill("Second cable to the lock")
    form.get_by_label("next way").select_option(label="Second way to the lock")
    form.get_by_role("button", name="Add it").click()
    lies_in = cable.get_by_label(f"ways, in order of cable {number}")
    expect(lies_in).to_have_value("Second way to the lock")
    lies_in.fill("nowhere")
    lies_in.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("there is no way 'nowhere'")
    lies_in.fill("second way to the LOCK")
    lies_in.press("Enter")
    expect(lies_in).to_have_value("Second way to the lock")
    grade = cable.get_by_label(f"grade of cable {number}")
    grade.fill("OS2")
    grade.press("Enter")
    expect(cable).to_contain_text("823 m")
    page.goto("/links/3?piece=run-1")
    page.get_by_label("cable", exact=True).select_option(f"cable {number}")
    expect(page.get_by_role("region", name=re.compile("^Piece: run"))).to_contain_text("On strands 1 and 2")
    expect(page.get_by_role("main")).to_contain_text("827 m")
    page.get_by_role("link", name="Layout", exact=True).click()
    page.locator("[data-way='quay 0']").click()
    expect(page.get_by_test_id("outage")).to_contain_text("Lock house keeps 10 Gb/s")
    page.locator("[data-way='quay 0']").click()
    together = page.get_by_test_id("not-diverse")
    expect(together.first).to_contain_text("Under the floor")
    expect(together.filter(has_text="Lock house")).to_have_count(0)


@pytest.mark.unopened
def test_identify_at_tablet_size_and_plan_over_it(page: Page) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    page.goto("/identify")
    told = page.get_by_test_id("identified")
    page.get_by_role("group", name="Jacket").get_by_role("button", name="orange").click()
    expect(told).to_contain_text("62.5/125-160 or OM1 or 50/125-400 or OM2")
    page.get_by_role("group", name="Plugs").get_by_role("button", name="blue").click()
    expect(told).to_contain_text("blue plugs on an orange jacket: one of them was replaced")
    page.get_by_role("group", name="Plugs").get_by_role("button", name="blue").click()
    page.get_by_label("Print on the jacket").fill("62.5")
    expect(told.get_by_text("62.5/125-160 or OM1", exact=True)).to_be_visible()
    wide = page.evaluate("document.documentElement.scrollWidth > document.documentElement.clientWidth")
    assert not wide, "the page must not scroll sideways"
    page.get_by_role("button", name="Plan a link over it").click()
    expect(page.get_by_label("Cable that is there")).to_have_value("62.5/125-160,OM1")


@pytest.mark.unopened
def test_the_pull_sheet_is_printed(page: Page) -> None:
    page.goto("/site?table=cables")
    page.locator("[data-row='lock dike']").get_by_role("link", name="pull sheet").click()
    expect(page.get_by_test_id("pull")).to_contain_text(
        re.compile(r"Feed at Harbor office: \d+ N at most, wherever the bends are, rated 1800 N")
    )
    friction = page.get_by_label("Friction")
    friction.fill("0,9")
    friction.blur()
    expect(page.get_by_role("main")).to_contain_text("add a pull point or a lubricant")
    page.emulate_media(media="print")
    expect(page.get_by_text("Pull sheet: Lock, by the dike")).to_be_visible()
    expect(friction).to_be_hidden()


@pytest.mark.unopened
def test_a_plant_changed_in_another_tab_is_not_overwritten(page: Page) -> None:
    page.goto("/site?table=places")
    name = page.get_by_label("name of tide")
    other = page.context.new_page()
    other.goto("/site?table=places")
    theirs = other.get_by_label("name of pump")
    theirs.fill("Pumps")
    theirs.press("Enter")
    expect(other.get_by_role("button", name="Undo")).to_be_enabled()
    page.route("**/plant", lambda route: route.continue_() if route.request.method == "PUT" else route.abort())
    name.fill("Tide gauge")
    name.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("changed elsewhere")
    expect(name).to_have_value("Tide gauge")
    other.reload()
    expect(other.get_by_label("name of pump")).to_have_value("Pumps")
    expect(other.get_by_label("name of tide")).to_have_value("Tide station")


@pytest.mark.unopened
def test_the_strand_sheet_of_a_cable(page: Page) -> None:
    page.goto("/site?table=cables")
    page.locator("[data-row='tide']").get_by_role("link", name="strands").click()
    rows = page.locator("[data-strand]")
    expect(rows).to_have_count(4)
    expect(rows.first).to_contain_text("dead")
    expect(rows.last).to_contain_text("brown")
    expect(rows.last).to_contain_text("Tide station")
