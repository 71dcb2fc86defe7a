"""A kind of piece that the screens have never heard of is put in, changed, drawn and taken out again."""

from __future__ import annotations

import shutil
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect


@pytest.fixture
def foreign_address(tmp_path: Path, demo_file: Path) -> Iterator[str]:
    """The address of a process that has the foreign kind, over a copy of the demo."""
    path = shutil.copyfile(demo_file, tmp_path / "foreign.sqlite")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-W", "ignore", "-m", "tests.kinds.serve", str(path), str(port)]
    process = subprocess.Popen(command, cwd=Path(__file__).parents[2])
    try:
        for _ in range(600):
            with socket.socket() as tried:
                if tried.connect_ex(("127.0.0.1", port)) == 0:
                    break
            time.sleep(0.1)
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait()


def test_a_kind_without_a_form_or_a_drawing_of_its_own_is_used(browser: Browser, foreign_address: str) -> None:
    page = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=foreign_address).new_page()
    page.goto("/links/6?piece=panel-2")
    page.get_by_role("button", name="Insert right").click()
    page.get_by_role("button", name="armored tail", exact=True).click()
    expect(page.get_by_test_id("verdict")).to_contain_text("two plugs need an adapter between them")
    page.locator("#piece-furcation-1").click()
    piece = page.get_by_role("region", name="Piece: armored tail")
    expect(piece).to_be_visible()
    length = piece.get_by_label("length")
    length.fill("12 ft")
    length.press("Enter")
    expect(length).to_have_value("3.658 m")
    piece.get_by_role("button", name="plenum").click()
    expect(piece.get_by_role("button", name="plenum")).to_have_attribute("aria-pressed", "true")
    piece.get_by_role("button", name="Take out").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("All limits are kept")
    page.context.close()
