"""What a technician does, in the real screens."""

from __future__ import annotations

import re

from playwright.sync_api import Browser, Page, expect

from tests.ui.steps import open_link


def verdict(page: Page, text: str) -> None:
    expect(page.get_by_test_id("verdict")).to_contain_text(text)


def piece(page: Page, name: str) -> None:
    page.locator(f"[data-piece={name}]").click()


def test_find_out_why_the_ferry_link_fails_and_repair_it(page: Page) -> None:
    verdict(page, "damage")
    finding = page.locator("[data-finding='mating.angled_flat']")
    finding.get_by_text("Why?").click()
    expect(finding).to_contain_text("APC (8°)")
    fix = finding.locator("[data-fix]").first
    expect(fix).to_contain_text("then")
    expect(fix).to_contain_text("pass +3.5 dB")
    verdict(page, "damage")
    fix.click()
    verdict(page, "pass")
    expect(page.locator("[data-verdict][aria-current=page]")).to_have_attribute("data-verdict", "pass")
    page.keyboard.press("Control+z")
    verdict(page, "damage")
    page.keyboard.press("Control+Shift+z")
    verdict(page, "pass")
    page.reload()
    verdict(page, "pass")


def test_change_a_length_as_typed_and_see_light_and_verdict_move(page: Page) -> None:
    open_link(page, "Crane 3")
    verdict(page, "pass")
    before = page.get_by_test_id("light-band").get_attribute("points")
    piece(page, "run-1")
    field = page.get_by_label("length", exact=True)
    field.fill("7.5 mi")
    field.press("Enter")
    verdict(page, "fail")
    findings = page.get_by_role("region", name="Findings")
    expect(findings).to_contain_text("1000BASE-LX10 reaches 10.00 km on OS2; this is 12.07 km")
    assert page.get_by_test_id("light-band").get_attribute("points") != before
    page.get_by_role("button", name="Undo").click()
    verdict(page, "pass")


def test_a_length_that_can_mean_two_things_is_asked_about(page: Page) -> None:
    piece(page, "run-1")
    field = page.get_by_label("length", exact=True)
    field.fill("1,500")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("can mean 1500 m or 1.5 m")
    field.press("Escape")
    expect(field).to_have_value("2900 m")


def test_insert_flip_and_remove_on_the_piece(page: Page) -> None:
    open_link(page, "Rows A to B")
    pieces = page.locator("[data-piece]")
    expect(pieces).to_have_count(9)
    piece(page, "panel-1")
    page.get_by_role("button", name="Insert right").click()
    page.get_by_role("button", name="cord", exact=True).click()
    verdict(page, "unknown")
    expect(page.get_by_role("region", name="Findings")).to_contain_text("two plugs need an adapter")
    page.locator("[data-fix='Insert an LC adapter']").first.click()
    expect(pieces).to_have_count(11)
    verdict(page, "house margin 0.3 dB")
    piece(page, "cord-3")
    page.get_by_label("polarity").select_option("straight")
    verdict(page, "Each transmitter faces the other")
    page.locator("[data-piece=cord-3]").focus()
    page.keyboard.press("Delete")
    expect(pieces).to_have_count(10)


def test_feet_everywhere_at_once(page: Page) -> None:
    expect(page.locator("[data-piece=run-1]")).to_contain_text("2.90 km")
    page.get_by_role("button", name="ft", exact=True).click()
    expect(page.locator("[data-piece=run-1]")).to_contain_text("9514 ft")
    piece(page, "cord-1")
    field = page.get_by_label("length", exact=True)
    field.fill("10")
    field.press("Enter")
    expect(page.locator("[data-piece=cord-1]")).to_contain_text("10.0 ft")
    page.reload()
    expect(page.locator("[data-piece=cord-1]")).to_contain_text("10.0 ft")


def test_the_lens_follows_the_direction_and_shows_what_blinds(page: Page) -> None:
    open_link(page, "Lock house, dike duct")
    expect(page.get_by_role("img", name=re.compile("^Light going right: arrives between"))).to_be_visible()
    page.get_by_role("button", name="left to right").click()
    expect(page.get_by_role("img", name=re.compile("^Light going left"))).to_be_visible()
    expect(page.get_by_test_id("receiver-window")).to_contain_text("too bright")
    page.locator("[data-fix^='Put 7 dB attenuators']").click()
    verdict(page, "marginal on estimate")
    expect(page.locator("[data-piece=attenuator-1]")).to_contain_text("7 dB")


def test_why_shows_terms_and_sources(page: Page) -> None:
    page.locator("main").get_by_role("button", name="Why?").click()
    why = page.get_by_test_id("why")
    expect(why).to_contain_text("TIA-568.3-D")
    expect(why).to_contain_text("IEEE 802.3-2022, Table 52-14")
    expect(why).to_contain_text("estimate: clean field-mated pairs")


def test_an_unknown_grade_becomes_candidates(page: Page) -> None:
    open_link(page, "Weighbridge")
    verdict(page, "unknown")
    piece(page, "run-1")
    grades = page.get_by_role("group", name="Grades that this glass may be")
    grades.get_by_role("button", name="OM2").click()
    verdict(page, "pass")
    grades.get_by_role("button", name="OS2", exact=True).click()
    verdict(page, "If it is OS2")


def test_by_keyboard_from_the_list_to_the_piece(page: Page) -> None:
    page.keyboard.press("/")
    page.keyboard.type("survey")
    page.keyboard.press("Enter")
    verdict(page, "fail")
    page.locator("[data-piece=port-1]").focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    expect(page.locator("[data-piece=cord-1]")).to_be_focused()
    expect(page.get_by_role("region", name="Piece: cord")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_text("walk along the chain")).to_be_visible()


def ask(page: Page, to: str, length: str, speed: str) -> None:
    page.get_by_role("button", name="New link").click()
    page.get_by_label("From", exact=True).fill("Harbor office")
    page.get_by_label("To", exact=True).fill(to)
    page.get_by_label("How far").fill(length)
    page.get_by_label("How fast").select_option(speed)


def test_from_a_question_to_a_link(page: Page) -> None:
    ask(page, "Tide station", "1250 ft", "10 Gb/s")
    answers = page.get_by_test_id("answers")
    expect(answers.get_by_role("button").first).to_contain_text("10GBASE-LR")
    expect(answers).to_contain_text("10GBASE-LR first: it reaches 10.00 km on OS2")
    page.get_by_label("How far").fill("300 ft")
    expect(answers).to_contain_text("10GBASE-SR first: it reaches 400 m on OM4")
    page.get_by_label("How far").fill("100 ft")
    expect(answers.get_by_role("button").first).to_contain_text("10GBASE-SR")
    answers.get_by_role("button").nth(1).click()
    picked = answers.locator("[aria-pressed=true]")
    expect(picked).to_have_count(1)
    application = (picked.inner_text().split() or [""])[0]
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Harbor office to Tide station")
    expect(page.get_by_role("main")).to_contain_text(application)
    verdict(page, "pass")


def test_a_question_that_nothing_answers_says_what_is_in_the_way(page: Page) -> None:
    ask(page, "Far shore", "90 km", "10 Gb/s")
    answers = page.get_by_test_id("answers")
    expect(answers).to_contain_text("Nothing in the catalog answers this")
    answers.get_by_text("ruled out").click()
    expect(answers).to_contain_text("10GBASE-ER reaches 40.00 km on OS2; this is 90.01 km")
    expect(page.get_by_role("button", name="Make the chain")).to_be_disabled()
    page.get_by_label("How far").fill("1,500")
    expect(page.get_by_role("form", name="New link").get_by_role("alert")).to_contain_text("1,500")
    expect(answers).to_have_count(0)


def test_a_link_like_another(page: Page) -> None:
    open_link(page, "Lock house, quay duct")
    pieces = page.locator("[data-piece]").count()
    page.get_by_role("button", name="Use as template").click()
    page.get_by_label("From", exact=True).fill("Harbor office")
    page.get_by_label("To", exact=True).fill("Ice house")
    page.get_by_label("How far").fill("700 m")
    page.get_by_role("button", name="Make the chain").click()
    expect(page.get_by_label("Name of the link")).to_have_value("Harbor office to Ice house")
    expect(page.locator("[data-piece]")).to_have_count(pieces)


def test_what_if_it_were_longer_and_counted_otherwise(page: Page) -> None:
    open_link(page, "Crane 1")
    verdict(page, "marginal")
    page.get_by_role("button", name="What if").click()
    told = page.get_by_test_id("what-if")
    page.get_by_label("Profile to try").select_option("low-loss guaranteed")
    expect(told).to_contain_text("pass on estimate")
    page.get_by_label("Profile to try").select_option("")
    page.get_by_label("Length to try").fill("300 m")
    expect(told).to_contain_text(re.compile(r"pass *\+1\.1 dB"))
    expect(told).to_contain_text(re.compile(r"passes up to 3\d\d m"))
    verdict(page, "marginal")
    page.get_by_role("button", name="Make it so").click()
    verdict(page, "pass")
    page.keyboard.press("Control+z")
    verdict(page, "marginal")


def test_find_or_do_by_keyboard(page: Page) -> None:
    page.keyboard.press("Control+k")
    page.keyboard.type("quay")
    expect(page.get_by_role("option").first).to_contain_text("Lock house, quay duct")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the link")).to_have_value("Lock house, quay duct")
    page.keyboard.press("Control+k")
    page.keyboard.type("feet")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="ft", exact=True)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Control+k")
    page.keyboard.type("zzz")
    expect(page.get_by_role("dialog", name="Find or do")).to_contain_text("Nothing is called that")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Find or do")).to_have_count(0)


def test_a_hint_is_read_once(page: Page) -> None:
    hint = page.get_by_role("note")
    expect(hint).to_contain_text("drawn as it is touched")
    hint.get_by_role("button", name="Got it").click()
    expect(hint).to_have_count(0)
    page.reload()
    verdict(page, "damage")
    expect(hint).to_have_count(0)
    page.get_by_role("button", name="Keys").click()
    page.get_by_role("button", name="Show the hints again").click()
    expect(hint).to_have_count(1)


def test_two_tabs_do_not_overwrite_each_other(page: Page, browser: Browser, address: str) -> None:
    context = browser.new_context(base_url=address)
    other = context.new_page()
    other.goto(page.url)
    other.get_by_test_id("verdict").wait_for()
    piece(page, "run-1")
    page.get_by_label("length", exact=True).fill("3 km")
    page.keyboard.press("Enter")
    expect(page.locator("[data-piece=run-1]")).to_contain_text("3.00 km")
    other.locator("[data-piece=run-1]").click()
    other.get_by_label("length", exact=True).fill("4 km")
    other.keyboard.press("Enter")
    expect(other.get_by_role("alert")).to_contain_text("was changed elsewhere")
    expect(other.get_by_role("alert")).to_contain_text("4 km")
    expect(other.locator("[data-piece=run-1]")).to_contain_text("3.00 km")
    other.get_by_role("button", name="Make my change on the new state").click()
    expect(other.locator("[data-piece=run-1]")).to_contain_text("4.00 km")
    expect(other.get_by_role("alert")).to_have_count(0)
    context.close()


def test_the_theme_is_kept(page: Page) -> None:
    page.get_by_role("button", name="Dark theme").click()
    expect(page.locator("html")).to_have_class(re.compile("dark"))
    page.reload()
    expect(page.locator("html")).to_have_class(re.compile("dark"))
