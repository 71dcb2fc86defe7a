"""The real application in a real browser: one server and one fresh database for each test."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Browser, Page, expect, sync_playwright
from scripts.chromium import CHROMIUM, FLAGS

from passerelle.api.app import STATIC, create_app
from passerelle.store.database import Database
from tests.clock import SetClock

expect.set_options(timeout=40_000)  # the one limit: what must come is waited for, on a loaded machine too


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as play:
        opened = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield opened
        opened.close()


@contextmanager
def served(application: FastAPI) -> Iterator[str]:
    """The address of an application while it is served."""
    assert (STATIC / "index.html").exists(), "the screens are not built: run 'make test'"
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = uvicorn.Server(uvicorn.Config(application, host="127.0.0.1", port=port, log_level="warning"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join()


@pytest.fixture
def address(database: Database) -> Iterator[str]:
    with served(create_app(database)) as found:
        yield found


@pytest.fixture
def page(request: pytest.FixtureRequest, browser: Browser, address: str, clock: SetClock) -> Iterator[Page]:
    """A page on the first link of the demo; a test marked ``unopened`` goes to its own address first."""
    with opened_page(browser, address, clock) as opened:
        if request.node.get_closest_marker("unopened") is None:
            opened.goto("/")
            opened.get_by_test_id("verdict").wait_for()
        yield opened


@contextmanager
def opened_page(browser: Browser, address: str, clock: SetClock) -> Iterator[Page]:
    """A page of somebody new, on the day of the tests; an error in its scripts fails the test."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=address, timezone_id="UTC", reduced_motion="reduce"
    )
    context.clock.set_fixed_time(clock.moment)
    opened = context.new_page()
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    yield opened
    context.close()
    assert errors == []
