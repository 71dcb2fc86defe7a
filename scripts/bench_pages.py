"""The first view of every page, from the press to the moment when nothing is on its way any more; and what jumped.

Each page is gone to as from the command list, from another page. A page is there when its heading stands, nothing
has changed and no request has been out for 250 ms (which are not counted). The mark of 300 ms is for a machine at
rest and is reported; what gates is the ratio to the middle page of the same run.
"""

from __future__ import annotations

import json
import re
import statistics
from dataclasses import dataclass
from pathlib import Path

from bench_browser import served
from chromium import CHROMIUM, FLAGS
from playwright.sync_api import Page, sync_playwright

from passerelle.demo.network import demo_project

ROUNDS = 3
AT_REST_MS = 300
VIEWS = Path(__file__).parents[1] / "web/src/app/views.ts"

COUNTED = """() => {
  window.out = 0; window.asked = 0;
  const plain = window.fetch;
  window.fetch = async (...given) => {
    window.out++; window.asked++;
    try { return await plain(...given); } finally { window.out--; window.quiet = performance.now(); }
  };
  window.jumped = 0;
  new PerformanceObserver((list) => {
    for (const one of list.getEntries()) if (!one.hadRecentInput) window.jumped += one.value;
  }).observe({ type: "layout-shift", buffered: true });
}"""

PRESSED = """(path) => new Promise((done) => {
  window.asked = 0; window.jumped = 0;
  const begun = performance.now();
  let last = begun, shape = "";
  history.pushState({}, "", path);
  dispatchEvent(new PopStateEvent("popstate", { state: {} }));
  const look = () => {
    const main = document.querySelector("main");
    const now = performance.now();
    const seen = main ? main.innerHTML.length + ":" + location.pathname : "";
    if (seen !== shape) { shape = seen; last = now; }
    const there = main && main.querySelector("h1") && window.out === 0;
    if (there && now - last > 250) return done({ ms: last - begun, asked: window.asked, jumped: window.jumped });
    if (now - begun > 10000) return done({ ms: 10000, asked: window.asked, jumped: window.jumped });
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
})"""


@dataclass(frozen=True)
class FirstView:
    """A page: the median of its first views in ms, how many requests it made, how much jumped (layout shift)."""

    path: str
    ms: float
    asked: int
    jumped: float


def paths() -> list[str]:
    """Every page of the application, as its list has them, and a link with its turn-up."""
    listed = re.findall(r'\["(/[a-z/]*)", "', VIEWS.read_text(encoding="utf-8"))
    return [*(path for path in listed if path != "/links"), "/links/1", "/turnup/1", "/links/1?new=1"]


def first_views(page: Page) -> list[FirstView]:
    """All pages, each from a page of another stage, so that its own data is not there yet the first time."""
    found: dict[str, list[dict[str, float]]] = {}
    for _ in range(ROUNDS):
        page.goto("/p/1/rules")
        page.get_by_role("heading", level=1).wait_for()
        page.wait_for_load_state("networkidle")
        page.evaluate(COUNTED)
        for path in paths():
            found.setdefault(path, []).append(page.evaluate(PRESSED, f"/p/1{path}"))
    return [
        FirstView(
            path,
            statistics.median(one["ms"] for one in rounds),
            int(max(one["asked"] for one in rounds)),
            max(one["jumped"] for one in rounds),
        )
        for path, rounds in found.items()
    ]


def pages() -> list[tuple[str, bool]]:
    """The first view of each page of the demo, beside the plainest one."""
    links, plant = demo_project()
    with served(list(links), plant) as address, sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
        views = first_views(page)
        browser.close()
    for view in sorted(views, key=lambda one: -one.ms):
        late = "" if view.ms <= AT_REST_MS else f", more than {AT_REST_MS} ms"
        jumps = f", jumps {view.jumped:.3f}" if view.jumped > 0.01 else ""
        print(f"page:  {view.path:<22} {view.ms:5.0f} ms, {view.asked} requests{late}{jumps}")
    middle = statistics.median(view.ms for view in views)
    slowest = max(views, key=lambda one: one.ms)
    return [
        (
            f"the slowest page, {slowest.path}, takes {slowest.ms / middle:.1f} times the middle one (at most 6)",
            slowest.ms <= 6 * middle,
        )
    ]


if __name__ == "__main__":
    print(json.dumps(pages(), indent=1))
