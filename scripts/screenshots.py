"""Takes the pictures in docs/screenshots from the demo, at 1280x800. Run by `make screenshots`."""

from __future__ import annotations

import socket
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import uvicorn
from playwright.sync_api import Page, sync_playwright

from passerelle.api.app import create_app
from passerelle.core.house import HouseRules
from passerelle.demo.port_aubier import PROJECT_NAME, demo_links
from passerelle.store import projects
from passerelle.store.database import Database

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
Act = Callable[[Page], object]


def nothing(_page: Page) -> None:
    """Leave the page as it opens."""


def open_why(page: Page) -> None:
    """Unfold the sums and scroll to them."""
    button = page.locator("main").get_by_role("button", name="Why?")
    button.click()
    button.evaluate("e => e.scrollIntoView({block: 'start'})")


VIEWS: list[tuple[str, str, str, tuple[int, int], Act]] = [
    ("link", "/links/1", "light", (1280, 800), nothing),
    ("piece-in-hand", "/links/1?piece=cord-2", "light", (1280, 800), nothing),
    ("too-bright-dark-theme", "/links/3", "dark", (1280, 800), nothing),
    ("why", "/links/2", "light", (1280, 800), open_why),
    ("ladder", "/ladder?group=verdict", "light", (1280, 800), nothing),
    ("candidates-tablet", "/links/7?piece=run-1", "light", (820, 1180), nothing),
]


def main(only: list[str]) -> None:
    """Serve a fresh demo and photograph each view, or only the named ones."""
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        address = serve(Path(folder))
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for name, path, theme, (width, height), act in VIEWS:
            if only and name not in only:
                continue
            context = browser.new_context(viewport={"width": width, "height": height})
            context.add_init_script(f"localStorage.setItem('theme', '{theme}')")
            page = context.new_page()
            page.goto(address + path)
            page.locator("[data-verdict], [data-testid=verdict]").first.wait_for()
            page.wait_for_timeout(600)
            act(page)
            page.wait_for_timeout(300)
            page.screenshot(path=OUT / f"{name}.png")
            context.close()
        browser.close()


def serve(folder: Path) -> str:
    """A server over a fresh demo on a free port; it ends with this process."""
    database = Database(folder / "demo.sqlite")
    with database.write() as session:
        projects.create_project(session, PROJECT_NAME, demo_links(), HouseRules())
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = uvicorn.Server(uvicorn.Config(create_app(database), port=port, log_level="warning"))
    threading.Thread(target=server.run, daemon=True).start()
    while not server.started:
        time.sleep(0.02)
    return f"http://127.0.0.1:{port}"


if __name__ == "__main__":
    main(sys.argv[1:])
