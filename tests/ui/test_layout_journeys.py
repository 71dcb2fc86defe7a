"""Layout as a technician does it: a second path, a cut and its cure, layouts, power, sheets, tables in."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from passerelle.demo.port_aubier import demo_links


@pytest.mark.unopened
def test_a_second_path_for_the_lock_is_found_planned_and_undone(page: Page) -> None:
    page.goto("/site/routes")
    page.get_by_label("To", exact=True).select_option("lock")
    expect(page.get_by_test_id("diverse-pair")).to_contain_text("there are no two between these places")
    page.get_by_label("Apart from").select_option("2")
    told = page.get_by_test_id("route-diversity")
    expect(told.first).to_contain_text("Not two paths: it shares Quay pit, Quay duct, first 60 m")
    page.get_by_role("button", name="new ways too").click()
    route = page.get_by_role("region", name="Route: least work")
    expect(route).to_contain_text("Nothing is shared: these are two paths")
    route.get_by_label("Name of the cable").fill("lock second")
    route.get_by_role("button", name="Put it on the plan").click()
    expect(route.get_by_role("status")).to_contain_text("It is planned")
    page.goto("/site?table=cables")
    expect(page.locator("[data-row='lock second']")).to_contain_text("strands")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-row='lock second']")).to_have_count(0)


@pytest.mark.unopened
def test_a_cut_shows_its_cure_and_its_links_on_the_ladder(page: Page) -> None:
    page.goto("/site")
    page.locator("[data-way='quay 0']").press("Enter")
    expect(page.get_by_test_id("cures")).to_contain_text(re.compile("Lock house: .*new way from Harbor office"))
    page.get_by_role("link", name="Show on the ladder").click()
    expect(page.get_by_test_id("ladder-cut")).to_contain_text("Cut of Quay duct, first 60 m: 6 links go")
    expect(page.get_by_role("list", name="Links").get_by_role("listitem")).to_have_count(6)
    page.get_by_role("button", name="All links again").click()
    count = len(demo_links())
    expect(page.get_by_text(f"{count} of {count} links")).to_be_visible()


@pytest.mark.unopened
def test_a_link_in_hand_lights_its_ways(page: Page) -> None:
    page.goto("/site")
    page.get_by_role("group", name="Links on the plant").get_by_role("link", name="Crane 1").focus()
    lit = page.locator("[data-way='quay 1'] rect").last
    expect(lit).to_have_attribute("stroke-width", "3")
    expect(page.locator("[data-way='quay 2'] rect").last).to_have_attribute("stroke-width", "1")


@pytest.mark.unopened
def test_layouts_are_compared_for_the_places_that_are_chosen(page: Page) -> None:
    page.goto("/site/layouts?core=office&places=crane 1,crane 2,crane 3")
    table = page.get_by_role("table", name="Layouts")
    expect(table.locator("[data-row]")).to_have_count(4)
    expect(table.locator("[data-row='star']")).to_contain_text("3 of 3: way Quay duct, first 60 m")
    cable = table.locator("[data-row='tapped chain'] td").nth(1)
    expect(cable).to_have_text("935 m")
    page.get_by_role("button", name="North quay crane 3").click()
    expect(cable).to_have_text("660 m")


@pytest.mark.unopened
def test_power_says_what_is_not_checked_and_what_does_not_reach(page: Page) -> None:
    page.goto("/site/power")
    asked = "An example, until it is typed: supply 48 V, one way 250 m, at the device, peak 15 W"
    expect(page.get_by_role("main")).to_contain_text(asked)
    for field, value in (("supply V", "48"), ("one way", "250"), ("at the device, peak W", "15")):
        page.get_by_label(field, exact=True).fill(value)
    table = page.get_by_role("table", name="Conductors")
    expect(table.locator("[data-row='2.5 mm²']")).to_contain_text("what the device needs")
    page.get_by_label("device needs V").fill("40")
    expect(table.locator("[data-row='2.5 mm²']")).to_contain_text("unknown")
    for field, value in (("supply gives at most A", "2"), ("conductor rated for A", "10")):
        page.get_by_label(field).fill(value)
    expect(table.locator("[data-row='2.5 mm²']")).to_contain_text("pass")
    expect(table.locator("[data-row='AWG 24']")).to_contain_text("No voltage settles")
    page.get_by_label("supply V").fill("zero")
    expect(page.get_by_role("alert").first).to_contain_text("source_v")


@pytest.mark.unopened
def test_a_found_cable_goes_into_the_project_and_a_damaged_cord_becomes_an_order_line(page: Page) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    page.goto("/identify")
    page.get_by_label("Print on the jacket").fill("OM3")
    page.get_by_role("group", name="Plug shape").get_by_role("button", name="LC").click()
    page.get_by_label("Fibers counted").fill("8")
    page.get_by_label("Name of the cable").fill("old aqua")
    page.get_by_label("Way that it lies in").select_option("ceiling")
    page.get_by_role("button", name="Put it into the project").click()
    expect(page.get_by_text("Done: found old aqua.")).to_be_visible()
    page.get_by_role("button", name="Order its like").click()
    like = page.get_by_role("group", name="A cord like it")
    expect(like.get_by_role("status")).to_have_text("Still needed: how long it must be.")
    like.get_by_label("Length of the cord").fill("10 ft")
    like.get_by_label("Plug at the other end").select_option("SC")
    like.get_by_role("button", name="Put it on the order").click()
    cord = "duplex cord like the damaged one: OM3, LC to SC, 10 ft"
    expect(page.get_by_text(f"Done: order {cord}")).to_be_visible()
    page.get_by_role("link", name="See it under Layout").click()
    expect(page.get_by_label("name of order 1")).to_have_value(cord)
    page.goto("/site/capacity")
    expect(page.get_by_role("table", name="Strands").get_by_text("old aqua")).to_be_visible()


@pytest.mark.unopened
def test_a_table_of_ways_with_a_bad_line_is_named_and_taken_when_it_is_right(page: Page) -> None:
    page.goto("/exchange")
    area = page.get_by_label("Table text")
    area.fill("id,from,to,length\ngate,office,cold store,90 m\nyard,office,nowhere,5")
    told = page.get_by_test_id("plant-preview")
    expect(told).to_contain_text("1 lines are bad")
    expect(told).to_contain_text("line 3, to: yard: there is no place 'nowhere'")
    area.fill("id,from,to,length\ngate,office,cold store,90 m\nyard,office,lock,5")
    expect(told).to_contain_text("2 rows are new, 0 are changed")
    page.get_by_role("button", name="Import 2 ways").click()
    expect(page.get_by_text("The table was imported")).to_be_visible()
    page.goto("/site")
    expect(page.locator("[data-way='gate']")).to_be_visible()


@pytest.mark.unopened
def test_a_strand_is_told_at_its_closure_and_a_bundle_on_its_pull_sheet(page: Page) -> None:
    page.goto("/site/closures?place=crane 1")
    quay = page.get_by_role("table", name="Strands of Quay cable, tapped")
    expect(quay.locator("[data-row='quay 1']")).to_contain_text("leaves here, at Closure at crane 1")
    expect(quay.locator("[data-row='quay 3']")).to_contain_text("passes through uncut")
    page.goto("/site/pull?cable=quay")
    alone = page.get_by_test_id("pull").inner_text()
    page.get_by_role("button", name="with Crane 3").click()
    expect(page.get_by_role("heading", name="Pull sheet: Quay cable, tapped, Crane 3")).to_be_visible()
    assert page.get_by_test_id("pull").inner_text() != alone


@pytest.mark.unopened
def test_requirements_are_answered_with_one_bad_line_and_become_links(page: Page) -> None:
    page.goto("/requirements")
    lines = "Harbor office,Gate,90 m,10G\nHarbor office,Yard,far,10G\nHarbor office,Pier,2 km,1G"
    page.get_by_label("Table of requirements").fill(f"from,to,length,speed\n{lines}")
    page.get_by_role("button", name="Answer them").click()
    region = page.get_by_role("region", name="Requirements")
    expect(region.get_by_role("status")).to_contain_text("3 of 3 lines, 2 answered, 1 bad")
    expect(region).to_contain_text("line 3, length: 'far' is not a length")
    page.get_by_role("button", name="Make links of 2 answers").click()
    expect(region).to_contain_text("2 links were added")
    page.goto("/ladder?filter=Pier")
    expect(page.locator("[data-verdict]")).to_have_count(1)


@pytest.mark.unopened
def test_answers_are_compared_and_the_order_explains_itself(page: Page) -> None:
    page.goto("/links/1?new=1")
    page.get_by_label("How far").fill("60 m")
    told = page.get_by_test_id("answers")
    expect(told).to_contain_text("the house's school")
    page.get_by_text("Later speed, order, price").click()
    page.get_by_label("First by").select_option("cost")
    expect(told).to_contain_text("then the smallest cost")
    expect(told.get_by_role("button").first).to_contain_text("the cheapest")
    page.get_by_role("button", name="Side by side").click()
    expect(page.get_by_role("table", name="Side by side")).to_contain_text("total, units")


@pytest.mark.unopened
def test_the_reference_answers_a_disputed_teaching_with_the_row(page: Page) -> None:
    page.goto("/reference?part=teachings")
    page.get_by_label("Find in the reference").fill("550")
    row = page.locator("[data-row='10GBASE-SR OM4']")
    expect(row).to_have_attribute("aria-label", "10GBASE-SR on OM4: 400 m")
    page.get_by_role("button", name="Reach").click()
    page.get_by_label("Find in the reference").fill("10GBASE-SR OM3")
    expect(page.get_by_role("table", name="Reach").locator("[data-row]")).to_have_count(1)
