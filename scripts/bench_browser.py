"""What a person waits for in the browser: first view, key press to new verdict, ladder scroll. Nothing is gated."""

from __future__ import annotations

import socket
import statistics
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn
from playwright.sync_api import Browser, Page, sync_playwright

from passerelle.api.app import create_app
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.plant.site import Plant
from passerelle.store import projects
from passerelle.store.database import Database

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
WATCH = """() => new Promise((done) => {
  const line = document.querySelector("[data-testid=verdict]");
  let pressed = 0;
  const mark = (event) => { if (event.key === "Enter") pressed = performance.now(); };
  addEventListener("keydown", mark, { once: true, capture: true });
  new MutationObserver((_, watch) => {
    if (pressed) { watch.disconnect(); requestAnimationFrame(() => done(performance.now() - pressed)); }
  }).observe(line, { subtree: true, childList: true, characterData: true });
  window.watching = true;
})"""
ANSWERED = """() => new Promise((done) => {
  const answers = document.querySelector("[data-testid=answers]");
  let pressed = 0;
  addEventListener("keydown", () => { pressed = performance.now(); }, { once: true, capture: true });
  new MutationObserver((_, watch) => {
    if (pressed) { watch.disconnect(); requestAnimationFrame(() => done(performance.now() - pressed)); }
  }).observe(answers, { subtree: true, childList: true, characterData: true });
})"""
SCROLL = """() => new Promise((done) => {
  const box = document.querySelector("[role=list][aria-label=Links]");
  const frames = [];
  let before = performance.now();
  const step = () => {
    const now = performance.now();
    frames.push(now - before);
    before = now;
    box.scrollTop += 400;
    if (frames.length < 90) requestAnimationFrame(step); else done(frames.slice(5));
  };
  requestAnimationFrame(step);
})"""


def report(name: str, links: list[Link], plant: Plant | None = None) -> None:
    """Print what a person waits for in a project of these links."""
    with _served(links, plant) as address, sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        first_ms = statistics.median(_first_view(browser, address) for _ in range(3))
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        verdicts_ms = sorted(_key_to_verdict(page))
        frames_ms = sorted(_scroll(page))
        answers_ms = sorted(_typing_to_answers(page))
        browser.close()
    print(
        f"browser, {name}: first view {first_ms:.0f} ms; key press to new verdict median "
        f"{statistics.median(verdicts_ms):.0f} ms, worst {verdicts_ms[-1]:.0f} ms; ladder scroll frame median "
        f"{statistics.median(frames_ms):.1f} ms, 95 % {_p95(frames_ms):.1f} ms"
    )
    print(
        f"browser, {name}: key press in a question to re-ranked answers median {statistics.median(answers_ms):.0f} "
        f"ms, 95 % {_p95(answers_ms):.0f} ms, of which 150 ms wait for the typing to end"
    )


def _p95(ordered: list[float]) -> float:
    return ordered[int(len(ordered) * 0.95)]


def _typing_to_answers(page: Page) -> Iterator[float]:
    """Milliseconds from a key in the length of a question to the frame after the answers changed."""
    page.goto("/links/1?new=1")
    field = page.get_by_label("How far")
    for number in range(40):
        field.fill(f"{30 + number * 10}")
        page.wait_for_timeout(500)
        page.evaluate(f"() => {{ window.waited = ({ANSWERED})(); }}")
        field.press("Backspace")
        field.press("5")  # another length, so that margins and prices move
        yield page.evaluate("() => window.waited")


def _first_view(browser: Browser, address: str) -> float:
    """Milliseconds from an empty browser to the verdict of the first link."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address)
    page = context.new_page()
    start = time.perf_counter()
    page.goto("/")
    page.get_by_test_id("verdict").wait_for()
    spent_ms = (time.perf_counter() - start) * 1000
    context.close()
    return spent_ms


def _key_to_verdict(page: Page) -> Iterator[float]:
    """Milliseconds from Enter in the length field to the frame after the verdict line changed."""
    page.goto("/")
    page.get_by_test_id("verdict").wait_for()
    page.locator("[data-piece=run-1]").click()
    field = page.get_by_label("length", exact=True)
    for number in range(12):
        field.fill(f"{3 + number} km")  # each moves the margin that is shown
        page.evaluate(f"() => {{ window.waited = ({WATCH})(); }}")
        field.press("Enter")
        yield page.evaluate("() => window.waited")
        page.wait_for_timeout(400)  # a person does not retype in the same moment


def _scroll(page: Page) -> list[float]:
    page.goto("/ladder")
    page.locator("[data-verdict]").first.wait_for()
    frames: list[float] = page.evaluate(SCROLL)
    return frames


@contextmanager
def _served(links: list[Link], plant: Plant | None) -> Iterator[str]:
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "bench.sqlite")
        with database.write() as session:
            projects.create_project(session, "bench", links, HouseRules(), plant)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        server = uvicorn.Server(
            uvicorn.Config(create_app(database), host="127.0.0.1", port=port, log_level="warning")
        )
        thread = threading.Thread(target=server.run, daemon=True)
        thread.start()
        while not server.started:
            time.sleep(0.01)
        yield f"http://127.0.0.1:{port}"
        server.should_exit = True
        thread.join()
        database.close()
