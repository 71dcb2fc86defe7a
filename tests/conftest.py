"""What all tests share: the catalog, plain links, and pieces that fit."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings

from passerelle.api.app import create_app
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.house import HouseRules
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import PROJECT_NAME, demo_links
from passerelle.store import projects
from passerelle.store.database import Database
from tests.clock import SetClock
from tests.depth import DEEP

# A test on a busy machine is slow, not wrong: no deadline. The same examples each time; random and more in deep.
settings.register_profile("quick", deadline=None, derandomize=True, max_examples=50)
settings.register_profile("deep", deadline=None, max_examples=1000)
settings.load_profile("deep" if DEEP else "quick")


@pytest.fixture(scope="session")
def catalog() -> Catalog:
    return load_catalog()


@pytest.fixture(scope="session")
def house() -> HouseRules:
    return HouseRules(margin_db=1.0)


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database of the demo, made once, its rows judged: each test works on a copy of its own."""
    path = tmp_path_factory.mktemp("demo") / "demo.sqlite"
    made = Database(path)
    with made.write() as session:
        projects.create_project(session, PROJECT_NAME, demo_links(), HouseRules(), demo_plant())
    TestClient(create_app(made), base_url="http://localhost").get("/api/v1/projects/1/links").raise_for_status()
    made.fold()
    made.close()
    return path


LONGEST = (
    "[/reference?part=reach]",
    "test_a_second_way_to_the_lock",
    "test_a_file_is_dropped_anywhere",
    "test_a_long_",
)
"""Begun first, so that no worker waits for another at the end."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest first: those named above, then the browser's, then the rest as they stand."""
    items.sort(key=lambda item: (not any(one in item.nodeid for one in LONGEST), "tests/ui/" not in item.nodeid))


@pytest.fixture
def clock() -> SetClock:
    """When it is, for all that asks: the server over ``database``, and the browser."""
    return SetClock()


@pytest.fixture
def database(tmp_path: Path, demo_file: Path, clock: SetClock) -> Iterator[Database]:
    opened = Database(Path(shutil.copyfile(demo_file, tmp_path / "test.sqlite")), clock)
    yield opened
    opened.close()
