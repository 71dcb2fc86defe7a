"""A database of every released schema opens, with all that was in it, and its history still works."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from passerelle.core.plant.riders import off_plant
from passerelle.store import history, projects
from passerelle.store import links as stored_links
from passerelle.store.database import Database, migrate

OLD_PLANT = {"prices": {"trench_per_m": 61.0, "splice_each": 9.0, "panel_each": 70.0}}
PLAN = Path(__file__).parents[1] / "exchange" / "plans" / "v1.json"


def released(path: Path, revision: str) -> None:
    """A database as a program of this revision left it: two links, of which the second was removed."""
    engine = create_engine(f"sqlite:///{path}")
    migrate(engine, revision)
    plan = json.loads(PLAN.read_text(encoding="utf-8"))
    first, second = (json.dumps(link) for link in plan["links"][:2])
    removed = [{"entity": "link", "link_id": 2, "position": 1, "before": json.loads(second), "after": None}]
    rows = {"rules": json.dumps(plan["house_rules"]), "body": first, "changes": json.dumps(removed)}
    with engine.begin() as connection:
        connection.execute(
            text("INSERT INTO project (id, name, house_rules, revision) VALUES (1, 'Port-Aubier', :rules, 2)"), rows
        )
        if revision >= "0003":
            connection.execute(text("UPDATE project SET plant = :plant"), {"plant": json.dumps(OLD_PLANT)})
        connection.execute(text("INSERT INTO link VALUES (1, 1, 0, 1, :body)"), rows)
        if revision != "0001":  # there SQLite itself remembers the number of the removed link
            connection.execute(text("UPDATE sqlite_sequence SET seq = 2 WHERE name = 'link'"))
        connection.execute(
            text("INSERT INTO history VALUES (1, 1, '2026-01-02 03:04:05', 'remove', 2, 'done', :changes)"), rows
        )
    engine.dispose()


@pytest.mark.parametrize("revision", ["0001", "0002", "0003", "0004"])
def test_a_released_schema_opens(tmp_path: Path, revision: str) -> None:
    path = tmp_path / "old.sqlite"
    released(path, revision)
    opened = Database(path)
    with opened.write() as session:
        kept = stored_links.links(session, 1)
        assert [(item.id, item.link.name) for item in kept] == [(1, "Ferry terminal")]
        assert projects.project(session, 1).house.profile == "standard maximum"
        other = projects.create_project(session, "other", [kept[0].link], projects.project(session, 1).house)
        assert stored_links.links(session, other.id)[0].id == 3
        history.undo(session, 1)
        assert [item.id for item in stored_links.links(session, 1)] == [1, 2]
    opened.close()


@pytest.mark.parametrize("revision", ["0003", "0004"])
def test_prices_beside_the_plan_become_prices_of_the_one_list(tmp_path: Path, revision: str) -> None:
    path = tmp_path / "old.sqlite"
    released(path, revision)
    opened = Database(path)
    with opened.read() as session:
        own = {line.item: line.price for line in projects.project(session, 1).house.own_prices}
        assert (own["trench, a metre"], own["panel"]) == (61.0, 70.0)
        assert projects.plant(session, 1).prices is None
    opened.close()


def test_a_number_is_never_given_twice(database: Database) -> None:
    with database.write() as session:
        last = stored_links.links(session, 1)[-1]
        stored_links.remove_link(session, last.id, "remove")
    with database.write() as session:
        other = projects.create_project(
            session, "other", [off_plant(last.link)], projects.project(session, 1).house
        )
        assert stored_links.links(session, other.id)[0].id != last.id
        history.undo(session, 1)
        assert stored_links.links(session, 1)[-1] == stored_links.link(session, last.id)
        assert len(stored_links.links(session, other.id)) == 1
