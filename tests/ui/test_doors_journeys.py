"""Others let in by a passphrase, a database in trouble, long work, whose change it was: as a person meets them."""

from __future__ import annotations

import re
import sqlite3
import threading
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from passerelle.api.app import create_app
from passerelle.api.passphrase import Gate, write_passphrase
from passerelle.store.database import Database
from tests.ui.conftest import served
from tests.ui.steps import open_link, project_menu, project_page
from tests.ui.test_access import axe_findings

WORDS = "four made-up words here"


@pytest.fixture
def guarded(browser: Browser, database: Database, tmp_path: Path) -> Iterator[Page]:
    """A page of an application behind a passphrase."""
    write_passphrase(tmp_path / "words", WORDS)
    with served(create_app(database, keeper=Gate(tmp_path / "words"))) as address:
        context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address)
        yield context.new_page()
        context.close()


def test_the_passphrase_is_asked_for_and_a_name_goes_into_the_log(guarded: Page) -> None:
    guarded.goto("/")
    ask = guarded.get_by_role("dialog", name="Passphrase")
    expect(ask).to_be_visible()
    assert axe_findings(guarded) == []
    ask.get_by_label("Passphrase").fill("not these words")
    ask.get_by_role("button", name="Continue").click()
    expect(ask.get_by_role("alert")).to_contain_text("This is not the passphrase")
    time.sleep(1.1)  # the stated wait after a wrong try
    ask.get_by_label("Passphrase").fill(WORDS)
    ask.get_by_label("Your name").fill("Ann")
    ask.get_by_role("button", name="Continue").click()
    expect(guarded.get_by_test_id("verdict")).to_be_visible()
    name = guarded.get_by_label("Name of the link")
    name.fill("Ferry, renamed")
    guarded.context.clear_cookies()  # the session ends while somebody types
    name.press("Enter")
    expect(ask).to_be_visible()
    ask.get_by_label("Passphrase").fill(WORDS)
    ask.get_by_role("button", name="Continue").click()
    expect(ask).to_have_count(0)
    expect(name).to_have_value("Ferry, renamed")
    guarded.get_by_role("button", name="Try again").click()
    expect(guarded.get_by_role("link", name=re.compile("^Ferry, renamed"))).to_be_visible()
    project_page(guarded, "Records")
    expect(guarded.get_by_role("row").first).to_contain_text("Ann")


def test_a_locked_database_keeps_what_was_typed_and_tries_again(page: Page, database: Database) -> None:
    open_link(page, "Crane 3")
    with closing(sqlite3.connect(database.path, isolation_level=None, check_same_thread=False)) as other:
        other.execute("BEGIN IMMEDIATE")
        let_go = threading.Timer(3.5, lambda: other.execute("ROLLBACK"))
        let_go.start()
        name = page.get_by_label("Name of the link")
        name.fill("Crane three")
        name.press("Enter")
        expect(page.get_by_role("link", name=re.compile("^Crane three"))).to_be_visible()
        let_go.join()


def test_a_database_that_went_away_is_told_and_tried_again_by_hand(page: Page, database: Database) -> None:
    open_link(page, "Crane 3")
    away = database.path.with_name("away.sqlite")
    database.path.rename(away)
    name = page.get_by_label("Name of the link")
    name.fill("Crane three")
    name.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("put the file back")
    expect(name).to_have_value("Crane three")
    away.rename(database.path)
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("link", name=re.compile("^Crane three"))).to_be_visible()


def test_a_long_import_shows_how_far_it_is_and_is_stopped(page: Page, tmp_path: Path) -> None:
    project_page(page, "Import and export")
    lines = "".join(f"House {n % 9},Room {n},{90 + n % 37} m,10GBASE-SR,OM3\n" for n in range(20_000))
    file = tmp_path / "links.csv"
    file.write_text(f"from,to,length,application,fiber\n{lines}")
    page.get_by_label("CSV file").set_input_files(file)
    work = page.get_by_role("status", name="Work under way")
    expect(work.first).to_contain_text(re.compile("of 20,000"))
    work.first.get_by_role("button", name="Stop").click()
    expect(page.get_by_text("stopped: nothing was changed").first).to_be_visible()


def test_undo_does_not_take_back_what_somebody_else_did_meanwhile(
    page: Page, browser: Browser, address: str
) -> None:
    open_link(page, "Crane 3")
    name = page.get_by_label("Name of the link")
    name.fill("Crane three")
    name.press("Enter")
    expect(page.get_by_text("last: Crane three")).to_be_visible()
    context = browser.new_context(base_url=address)
    other = context.new_page()
    other.goto("/")
    project_menu(other).get_by_label("Your name").fill("Ben")
    open_link(other, "Weighbridge")
    theirs = other.get_by_label("Name of the link")
    theirs.fill("Weighbridge two")
    theirs.press("Enter")
    expect(other.get_by_text("last: Weighbridge two")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_text(re.compile("what would be undone is 'Weighbridge two.*' by Ben"))).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("^Weighbridge two"))).to_be_visible()
    context.close()


def test_the_records_say_what_they_take_and_are_compacted(page: Page) -> None:
    project_page(page, "Records")
    line = page.get_by_test_id("storage")
    expect(line).to_contain_text("records of the log")
    line.get_by_role("button", name="Compact").click()
    expect(line).to_contain_text("0 kB are free")
