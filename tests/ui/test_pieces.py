"""Every kind of piece is changed in place, and the verdict moves."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.steps import open_link, project_page


def open_piece(page: Page, name: str, piece: str) -> Locator:
    open_link(page, name)
    page.locator(f"[data-piece={piece}]").click()
    return page.get_by_role("region", name=re.compile("^Piece: "))


def says(page: Page, text: str) -> None:
    expect(page.get_by_test_id("verdict")).to_contain_text(text)


@pytest.mark.parametrize(
    ("piece", "field", "value", "text"),
    [
        ("panel-1", "adapter", "SC", "LC plug does not fit the SC adapter"),
        ("panel-1", "keys", "opposed", "Each transmitter faces the other"),
        ("panel-1", "loss", "mated pair, low-loss", "pass on estimate"),
        ("cord-1", "right end: polish", "APC", "damage"),
        ("cord-1", "strands", "1", "this glass is made up with one strand"),
        ("cord-1", "launch", "left", "mode-conditioning cord does not belong"),
        ("run-1", "left end: shape", "bare", "chain is not complete"),
        ("run-1", "polarity", "straight", "Each transmitter faces the other"),
        ("module-1", "application", "10GBASE-LRM", "10GBASE-LRM faces 10GBASE-SR"),
        ("module-1", "form", "XFP", "does not work in a SFP+ cage"),
        ("port-1", "cage", "SFP", "does not work in a SFP cage"),
        ("port-1", "accepts", "own only", "modules of its own make only"),
        ("port-1", "water", "hosed", "not known whether the box stands its place, which is hosed"),
        ("port-1", "dust", "dusty", "not known whether the box stands its place, which is dusty"),
        ("panel-1", "loss", "grade B", "'grade B' is not defined for multimode glass"),
    ],
)
def test_a_choice_moves_the_verdict_and_undo_takes_it_back(
    page: Page, piece: str, field: str, value: str, text: str
) -> None:
    hand = open_piece(page, "Rows A to B", piece)
    says(page, "pass")
    hand.get_by_label(field, exact=True).select_option(value)
    says(page, text)
    page.keyboard.press("Control+z")
    says(page, "All limits are kept")


def test_the_keyboard_stays_on_the_field_that_was_changed(page: Page) -> None:
    hand = open_piece(page, "Rows A to B", "panel-1")
    keys = hand.get_by_label("keys", exact=True)
    keys.focus()
    keys.press("ArrowDown")
    says(page, "Each transmitter faces the other")
    expect(keys).to_be_focused()


def test_speeds_of_a_port_are_pressed(page: Page) -> None:
    hand = open_piece(page, "Rows A to B", "port-2")
    speeds = hand.get_by_role("group", name="Speeds that the port can be set to")
    speeds.get_by_role("button", name="10 Gb/s").click()
    says(page, "The module runs at 10 Gb/s, the port does not.")
    speeds.get_by_role("button", name="10 Gb/s").click()
    says(page, "pass")


def test_cold_at_the_port_is_typed(page: Page) -> None:
    hand = open_piece(page, "Crane 3", "port-2")
    cold = hand.get_by_label("coldest °C")
    cold.fill("-30")
    cold.press("Enter")
    says(page, "unknown")
    page.locator("[data-piece=module-2]").click()
    page.get_by_label("temperature").select_option("industrial")
    says(page, "pass")


def test_a_wrong_temperature_is_refused_with_its_reason(page: Page) -> None:
    hand = open_piece(page, "Crane 3", "port-2")
    cold = hand.get_by_label("coldest °C")
    cold.fill("freezing")
    cold.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("coldest c")
    says(page, "pass")


def test_an_attenuator_is_put_in_and_its_value_typed(page: Page) -> None:
    open_piece(page, "Lock house, dike duct", "cord-2")
    page.get_by_role("button", name="Insert right").click()
    page.get_by_role("button", name="attenuator", exact=True).click()
    page.locator("[data-piece=attenuator-1]").click()
    value = page.get_by_label("value, dB")
    expect(value).to_have_value("5")
    value.fill("7,0")
    value.press("Enter")
    says(page, "marginal on estimate")
    expect(page.locator("[data-piece=attenuator-1]")).to_contain_text("7 dB")


def test_a_label_is_kept_and_found_again(page: Page) -> None:
    hand = open_piece(page, "Rows A to B", "panel-1")
    label = hand.get_by_label("label")
    label.fill("A7 port l0O1")
    label.press("Enter")
    expect(page.locator("[data-piece=panel-1]")).to_contain_text("A7 port l0O1")
    project_page(page, "Records")
    expect(page.get_by_role("row").first).to_contain_text("Rows A to B: set label of panel P1")


def test_a_wet_place_asks_for_a_box_and_the_fix_is_a_cabinet(page: Page) -> None:
    hand = open_piece(page, "Crane 3", "port-2")
    hand.get_by_label("water").select_option("hosed")
    hand.get_by_label("box").select_option("IP67")
    says(page, "A box of IP67 does not stand its place, which is hosed")
    fix = page.locator("[data-finding='ingress.too_low'] [data-fix]").first
    expect(fix).to_contain_text("into an IP65 cabinet")
    fix.click()
    says(page, "pass")
    expect(hand.get_by_label("box")).to_have_value("IP65")


def test_a_variable_attenuator_says_how_it_is_set(page: Page) -> None:
    open_piece(page, "Lock house, dike duct", "cord-2")
    page.get_by_role("button", name="Insert right").click()
    page.get_by_role("button", name="attenuator", exact=True).click()
    page.locator("[data-piece=attenuator-1]").click()
    page.get_by_label("kind", exact=True).select_option("variable")
    expect(page.get_by_role("region", name="Findings")).to_contain_text("Set this attenuator to 5 dB with a meter")


def test_what_the_program_refuses_stays_in_the_field(page: Page) -> None:
    hand = open_piece(page, "Crane 3", "port-2")
    cold = hand.get_by_label("coldest °C")
    cold.fill("freezing")
    cold.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("coldest c")
    expect(cold).to_have_value("freezing")
    cold.fill("-5")
    cold.press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(cold).to_have_value("-5")
