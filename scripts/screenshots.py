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
from chromium import CHROMIUM, FLAGS
from playwright.sync_api import Page, sync_playwright

from passerelle.api.app import create_app
from passerelle.core.house import HouseRules
from passerelle.demo.network import demo_project
from passerelle.demo.port_aubier import PROJECT_NAME
from passerelle.equipment.credentials import Credentials, CredentialsFile
from passerelle.standins.bench import start_standins
from passerelle.standins.boxes import COMMUNITY
from passerelle.standins.truth import shipped_truth
from passerelle.store import projects
from passerelle.store.accepted import reach
from passerelle.store.database import Database

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
Act = Callable[[Page], object]


def nothing(_page: Page) -> None:
    """Leave the page as it opens."""


def open_line(page: Page) -> None:
    """Open a line of the bill."""
    page.get_by_role("button", name="module, 1000BASE-LX10, SFP").first.click()


def ask(page: Page) -> None:
    """Answer the question of a new link, by weights."""
    page.get_by_label("From", exact=True).fill("Harbor office")
    page.get_by_label("To", exact=True).fill("Survey-boat office")
    page.get_by_role("button", name="From the plan").click()
    page.get_by_text("Later speed, order, price").click()
    page.get_by_label("Speed later").select_option("25 Gb/s")
    page.get_by_label("First by").select_option("weights of my own")
    page.wait_for_timeout(1200)


def length_in_hand(page: Page) -> None:
    """Hold a length against all reaches."""
    page.get_by_label("Length in hand").fill("320 m")
    page.wait_for_timeout(300)


def feed(page: Page) -> None:
    """Type a feed, and what is known of its device."""
    for label, said in (
        ("supply V", "48"),
        ("one way", "320 m"),
        ("at the device, peak W", "20"),
        ("device needs V", "42"),
        ("at the device usually W", "9"),
    ):
        page.get_by_label(label, exact=True).fill(said)
    page.get_by_label("Budget W").fill("120")
    page.wait_for_timeout(900)
    page.evaluate("document.querySelector('main').scrollTo(0, 0)")


def other_profile(page: Page) -> None:
    """Choose another profile without taking it."""
    page.get_by_label("Allowance profile").select_option("low-loss guaranteed")
    page.wait_for_timeout(900)


def look(page: Page) -> None:
    """Press what can be seen of the cold store's cable."""
    page.get_by_role("group", name="Jacket").get_by_role("button", name="orange").click()
    page.get_by_role("group", name="Plugs").get_by_role("button", name="blue").click()
    page.wait_for_timeout(600)


def prove(page: Page) -> None:
    """Take references, read every strand, and take a trace, with the simulated instruments."""
    link = page.url
    page.goto(link.split("/links")[0] + "/test/references")
    bar = page.get_by_role("group", name="By whom")
    for label, said in (("meter, serial", "PM-0417"), ("calibrated", "2026-03-02"), ("read by", "night crew")):
        bar.get_by_label(label).fill(said)
    bar.get_by_label("place").fill("Harbor office")
    for nm in ("1310", "1550"):
        page.get_by_label("Wavelength").select_option(nm)
        page.get_by_role("button", name="Take it with the meter").click()
        page.wait_for_timeout(1500)
    page.goto(link)
    page.get_by_role("button", name="Read strand").first.wait_for()
    for button in page.get_by_role("button", name="Read strand").all():
        button.click()
        page.wait_for_timeout(1200)
    page.get_by_role("button", name="Take the trace").click()
    page.wait_for_timeout(4000)
    page.evaluate("document.querySelector('main').scrollTo(0, 190)")


def read_both(page: Page) -> None:
    """Read both ends of a link from their boxes."""
    page.get_by_role("button", name="Read both ends").click()
    page.get_by_test_id("next-look").wait_for()
    page.wait_for_timeout(800)


def read_all(page: Page) -> None:
    """Read all boxes."""
    page.get_by_role("button", name="Read all boxes").click()
    page.wait_for_timeout(4000)


VIEWS: list[tuple[str, str, str, tuple[int, int], Act]] = [
    ("link", "/links/1", "light", (1280, 800), nothing),
    ("strands", "/links/22?lens=strands", "light", (1280, 800), nothing),
    ("backbone", "/site/backbone", "light", (1280, 800), nothing),
    ("bill", "/order", "light", (1280, 800), open_line),
    ("reels", "/order/reels", "light", (1280, 800), nothing),
    ("question", "/links/1?new=1", "light", (1280, 800), ask),
    ("reach", "/reference?find=10GBASE", "light", (1280, 800), length_in_hand),
    ("capacity", "/site/capacity", "light", (1280, 800), nothing),
    ("power", "/site/power", "dark", (1280, 800), feed),
    ("house-rules", "/rules", "light", (1280, 800), other_profile),
    ("site", "/site?way=quay 0", "light", (1280, 800), nothing),
    ("routes", "/site/routes?from=office&to=lock&apart=2&new=1", "light", (1280, 800), nothing),
    ("layouts", "/site/layouts?core=office&places=crane 1,crane 2,crane 3,lock", "dark", (1280, 800), nothing),
    ("proof", "/links/6?lens=proof", "light", (1280, 1180), prove),
    ("turn-up", "/turnup/1", "light", (1280, 1000), read_both),
    ("network", "/turnup/network", "dark", (1280, 800), read_all),
    ("pull-sheet", "/site/pull?cable=lock dike", "light", (1280, 800), nothing),
    ("what-cable-tablet", "/identify", "light", (820, 1180), look),
    ("ladder", "/ladder?group=verdict", "light", (1280, 800), nothing),
]


def main(only: list[str]) -> None:
    """Serve a fresh demo and photograph each view, or only the named ones."""
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        address = serve(Path(folder))
        browser = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for name, path, theme, (width, height), act in VIEWS:
            if only and name not in only:
                continue
            context = browser.new_context(viewport={"width": width, "height": height})
            hints = "link ladder catalog site"
            context.add_init_script(
                f"localStorage.setItem('theme', '{theme}'); localStorage.setItem('hints-read', '{hints}')"
            )
            page = context.new_page()
            page.goto(address + path)
            page.locator("main").first.wait_for()
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
        links, plant = demo_project()
        made = projects.create_project(session, PROJECT_NAME, links, HouseRules(), plant)
        for address in [row.address for row in plant.instruments] + [box.address for box in plant.boxes]:
            if address:
                reach(session, made.id, address)
    known = CredentialsFile.beside(folder / "demo.sqlite")
    for box in plant.boxes:
        known.put(box.address, Credentials(community=COMMUNITY))
    start_standins(links, shipped_truth(), plant.boxes)
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
