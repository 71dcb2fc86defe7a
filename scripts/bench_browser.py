"""What a person waits for in the browser: first view, key press to new verdict, ladder scroll. Nothing is gated."""

from __future__ import annotations

import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from chromium import CHROMIUM, FLAGS
from playwright.sync_api import Browser, Page, sync_playwright

from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.plant.site import Plant
from passerelle.store import projects
from passerelle.store.database import Database

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
  const box = document.querySelector("[role=group][aria-label=Links]");
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


BARE = """() => {
  const box = document.createElement("div"), inner = document.createElement("div"), high = 34;
  box.style.cssText = "position:fixed;inset:110px 0 0 0;overflow:auto;background:#fff;z-index:99";
  inner.style.cssText = `position:relative;height:${5000 * high}px`;
  box.setAttribute("role", "group");
  box.setAttribute("aria-label", "Bare");
  const draw = () => {
    const first = Math.floor(box.scrollTop / high);
    inner.replaceChildren(...Array.from({ length: 45 }, (_, n) => {
      const row = document.createElement("div");
      row.style.cssText = `position:absolute;top:${(first + n) * high}px`;
      row.textContent = `row ${first + n}`;
      return row;
    }));
  };
  box.addEventListener("scroll", draw);
  box.append(inner);
  document.body.append(box);
}"""


def report(name: str, links: list[Link], plant: Plant | None = None) -> None:
    """Print what a person waits for in a project of these links."""
    with served(links, plant) as address, sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        first_ms = statistics.median(_first_view(browser, address) for _ in range(3))
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        verdicts_ms = sorted(_key_to_verdict(page, _lit(links)))
        frames_ms = sorted(_scroll(page))
        page.evaluate(BARE)
        bare_ms = sorted(page.evaluate(SCROLL.replace("=Links", "=Bare")))
        answers_ms = sorted(_typing_to_answers(page))
        browser.close()
    print(
        f"browser, {name}: first view {first_ms:.0f} ms; key press to new verdict median "
        f"{statistics.median(verdicts_ms):.0f} ms, 95 % {_p95(verdicts_ms):.0f} ms; ladder scroll frame median "
        f"{statistics.median(frames_ms):.1f} ms, 95 % {_p95(frames_ms):.1f} ms; a bare virtual list "
        f"{statistics.median(bare_ms):.1f} ms, 95 % {_p95(bare_ms):.1f} ms"
    )
    print(
        f"browser, {name}: key press in a question to re-ranked answers median {statistics.median(answers_ms):.0f} "
        f"ms, 95 % {_p95(answers_ms):.0f} ms"
    )


OPENED = """(last) => new Promise((done) => {
  const start = performance.now();
  [...document.querySelectorAll("button")].find((one) => one.textContent === "Strands").click();
  const look = () => document.querySelector(`[data-cell="${last}-0"]`)
    ? requestAnimationFrame(() => done(performance.now() - start)) : requestAnimationFrame(look);
  look();
})"""
WALKED = """() => new Promise((done) => {
  addEventListener("keydown", () => {
    const start = performance.now();
    requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - start)));
  }, { once: true, capture: true });
})"""


def lens(wide: Link, narrow: Link) -> None:
    """The strands of a link of 32 fibers beside those of a pair: to open them, and a step along a lane."""
    with sync_playwright() as play, served([wide, narrow], None) as address:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        for name, number, last in (("32 fibers", 1, 31), ("a pair", 2, 1)):
            opened_ms, walked_ms = [], []
            for _ in range(5):
                page.goto(f"/links/{number}")
                page.get_by_test_id("verdict").wait_for()
                opened_ms.append(page.evaluate(OPENED, last))
            page.locator('[data-cell="0-0"]').focus()
            for key in ["ArrowRight", "ArrowDown", "ArrowLeft", "ArrowUp"] * 5:
                page.evaluate(f"() => {{ window.waited = ({WALKED})(); }}")
                page.keyboard.press(key)
                walked_ms.append(page.evaluate("() => window.waited"))
            print(
                f"browser, strands of {name}: opened in {statistics.median(opened_ms):.0f} ms, "
                f"a step along a lane {statistics.median(walked_ms):.0f} ms, two frames included"
            )
        browser.close()


def _lit(links: list[Link]) -> int:
    """The number of the first link whose margin is told, so that another length changes what is read."""
    found = figures_of(links, load_catalog(), HouseRules())
    told = (Verdict.PASS, Verdict.MARGINAL)
    return next(n for n, one in enumerate(found, 1) if one.verdict in told and (one.length_m or 0) > 1600)


def _p95(ordered: list[float]) -> float:
    return ordered[int(len(ordered) * 0.95)]


def _typing_to_answers(page: Page) -> Iterator[float]:
    """Milliseconds from a key in the length of a question to the frame after the answers changed."""
    page.goto("/links/1?new=1")
    field = page.get_by_label("How far")
    for number in range(40):
        field.fill(f"{30 + number * 10}")
        field.press("Backspace")
        page.wait_for_timeout(700)
        page.evaluate(f"() => {{ window.waited = ({ANSWERED})(); }}")
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


def _key_to_verdict(page: Page, link: int) -> Iterator[float]:
    """Milliseconds from Enter in the length field to the frame after the verdict line of a link changed."""
    page.goto(f"/links/{link}")
    page.get_by_test_id("verdict").wait_for()
    page.locator("[data-piece=run-1]").click()
    field = page.get_by_label("length", exact=True)
    for number in range(40):
        field.fill(("800 m", "1600 m")[number % 2])  # each moves the margin that is shown
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
def served(links: list[Link], plant: Plant | None) -> Iterator[str]:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "bench.sqlite"
        database = Database(path)
        with database.write() as session:
            projects.create_project(session, "bench", links, HouseRules(), plant)
        database.close()
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        program = str(Path(sys.executable).with_name("passerelle"))
        command = [program, "serve", "--port", str(port), "--database", str(path)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        try:
            _wait_for(port)
            yield f"http://127.0.0.1:{port}"
        finally:
            server.kill()
            server.wait()


def _wait_for(port: int) -> None:
    while True:
        try:
            socket.create_connection(("127.0.0.1", port), 1).close()
        except OSError:
            time.sleep(0.05)
        else:
            return
