"""Changes, undo and redo, and what is left after a restart or a kill."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import text
from sqlalchemy.orm import Session

from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.plant.records import Cable, Place, Way
from passerelle.core.plant.riders import free_strands
from passerelle.core.plant.site import Plant
from passerelle.store import history, projects
from passerelle.store import links as stored_links
from passerelle.store.database import Database
from passerelle.store.stored import ConflictError, NotFoundError, StoredLink
from tests.core.plain import plain_link
from tests.depth import examples


def contents(database: Database) -> list[Link]:
    with database.read() as session:
        return [stored.link for stored in stored_links.links(session, 1)]


def rename(database: Database, link_id: int, name: str) -> None:
    with database.write() as session:
        stored = stored_links.link(session, link_id)
        new = stored.link.model_copy(update={"name": name})
        stored_links.change_link(session, link_id, stored.revision, new, f"rename to {name}")


def test_undo_and_redo_work_across_a_restart(database: Database) -> None:
    before = contents(database)
    rename(database, 1, "first")
    rename(database, 2, "second")
    after = contents(database)
    reopened = Database(database.path)
    for _ in range(2):
        with reopened.write() as session:
            history.undo(session, 1)
    assert contents(reopened) == before
    for _ in range(2):
        with reopened.write() as session:
            history.redo(session, 1)
    assert contents(reopened) == after
    reopened.close()


KINDS = ["rename", "remove", "add", "house", "name", "plant", "lay"]


@settings(max_examples=examples(15))
@given(st.lists(st.tuples(st.sampled_from(KINDS), st.integers(0, 5)), max_size=8))
def test_undo_then_redo_is_identity(tmp_path_factory: pytest.TempPathFactory, steps: list[tuple[str, int]]) -> None:
    database = Database(tmp_path_factory.mktemp("history") / "h.sqlite")
    with database.write() as session:
        projects.create_project(session, "p", [plain_link(), plain_link()], HouseRules())
    states = [_state(database)]
    for number, (what, which) in enumerate(steps):
        if _change(database, what, which, number):
            states.append(_state(database))
    for expected in reversed(states[:-1]):
        with database.write() as session:
            history.undo(session, 1)
        assert _state(database) == expected
    for expected in states[1:]:
        with database.write() as session:
            history.redo(session, 1)
        assert _state(database) == expected
    database.close()


def _state(database: Database) -> tuple[HouseRules, str, Plant, list[tuple[int, Link]]]:
    with database.read() as session:
        links = [(stored.id, stored.link) for stored in stored_links.links(session, 1)]
        project = projects.project(session, 1)
        return project.house, project.name, projects.plant(session, 1), links


def _plant(number: int) -> Plant:
    """One cable in one way, of another length each time."""
    return Plant(
        places=(Place(id="a", name="a"), Place(id="b", name="b")),
        ways=(Way(id="w", name="w", start="a", end="b", length_m=100 + number),),
        cables=(Cable(id="k", name="k", ways=("w",), fiber=("OS2",), strands=48),),
    )


def _lay(session: Session, stored: StoredLink) -> None:
    """Put the run of a link on free strands."""
    others = [item.link for item in stored_links.links(session, 1) if item.id != stored.id]
    values = {"part": "k", "positions": free_strands(projects.plant(session, 1), others, "k", 2)}
    new = apply_edits(stored.link, (SetFields(element="run-1", values=values),))
    stored_links.change_link(session, stored.id, stored.revision, new, "lay")


def _change(database: Database, what: str, which: int, number: int) -> bool:
    with database.write() as session:
        links = stored_links.links(session, 1)
        if what == "add":
            stored_links.add_link(session, 1, plain_link(length_m=10.0 + number), "add")
        elif what == "house":
            projects.set_house_rules(session, 1, HouseRules(margin_db=2.0 + number), "margin")
        elif what == "name":
            projects.rename_project(session, 1, f"project {number}")
        elif what == "plant":
            revision = projects.plant_revision(session, 1)
            projects.set_plant(session, 1, revision, _plant(number), "plant")
        elif not links or (what == "lay" and not projects.plant(session, 1).cables):
            return False
        elif what == "lay":
            stored = links[which % len(links)]
            before = stored.link
            _lay(session, stored)
            return stored_links.link(session, stored.id).link != before
        elif what == "remove":
            stored_links.remove_link(session, links[which % len(links)].id, "remove")
        else:
            stored = links[which % len(links)]
            new = stored.link.model_copy(update={"name": f"name {number}"})
            stored_links.change_link(session, stored.id, stored.revision, new, "rename")
    return True


def test_a_new_change_drops_what_was_undone(database: Database) -> None:
    rename(database, 1, "first")
    with database.write() as session:
        history.undo(session, 1)
    rename(database, 1, "other")
    with database.write() as session, pytest.raises(history.NothingToDoError):
        history.redo(session, 1)
    with database.read() as session:
        assert [e.state for e in history.entries(session, 1)] == ["done", "dropped"]


def test_a_stale_revision_overwrites_nothing(database: Database) -> None:
    with database.read() as session:
        stale = stored_links.link(session, 1)
    rename(database, 1, "newer")
    with pytest.raises(ConflictError) as caught, database.write() as session:
        stored_links.change_link(session, 1, stale.revision, stale.link, "too late")
    assert caught.value.stored.link.name == "newer"
    assert contents(database)[0].name == "newer"


def test_a_revision_never_comes_back(database: Database) -> None:
    seen: set[int] = set()
    for step in ("rename", "undo", "redo", "undo"):
        if step == "rename":
            rename(database, 1, "again")
        else:
            with database.write() as session:
                getattr(history, step)(session, 1)
        with database.read() as session:
            revision = stored_links.link(session, 1).revision
        assert revision not in seen
        seen.add(revision)


def test_a_failed_change_leaves_nothing_behind(database: Database) -> None:
    before = contents(database)

    def add_then_fail() -> None:
        with database.write() as session:
            stored_links.add_link(session, 1, plain_link(), "add")
            stored_links.remove_link(session, 999, "remove")

    with pytest.raises(NotFoundError):
        add_then_fail()
    assert contents(database) == before
    with database.read() as session:
        assert history.entries(session, 1) == []


def test_the_file_is_in_wal_mode_with_foreign_keys(database: Database) -> None:
    with database.read() as session:
        assert session.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert session.execute(text("PRAGMA foreign_keys")).scalar() == 1


WRITER = """
import sys
from pathlib import Path
from passerelle.store import links as stored_links
from passerelle.store.database import Database
database = Database(Path(sys.argv[1]))
number = 0
while True:
    number += 1
    with database.write() as session:
        stored = stored_links.link(session, 1)
        new = stored.link.model_copy(update={"name": f"name {number}"})
        stored_links.change_link(session, 1, stored.revision, new, f"rename {number}")
    print(number, flush=True)
"""


def test_nothing_acknowledged_is_lost_when_the_process_is_killed(database: Database, tmp_path: Path) -> None:
    script = tmp_path / "writer.py"
    script.write_text(WRITER)
    writer = subprocess.Popen([sys.executable, str(script), str(database.path)], stdout=subprocess.PIPE, text=True)
    assert writer.stdout is not None
    acknowledged = [int(writer.stdout.readline()) for _ in range(12)]
    os.kill(writer.pid, signal.SIGKILL)
    acknowledged += [int(line) for line in writer.stdout.read().split()]
    writer.wait()
    with database.read() as session:
        name = stored_links.link(session, 1).link.name
        done = [e for e in history.entries(session, 1) if e.state == "done"]
    assert int(name.split()[1]) >= acknowledged[-1]
    assert len(done) == int(name.split()[1]), "each change has its entry"


def test_return_to_an_earlier_state_is_a_new_entry(database: Database) -> None:
    for name in ("first", "second", "third"):
        rename(database, 1, name)
    with database.write() as session:
        stored_links.remove_link(session, 2, "remove")
        projects.set_house_rules(session, 1, HouseRules(margin_db=3), "margin")
    latest = _state(database)
    with database.write() as session:
        target = next(e for e in history.entries(session, 1) if e.label == "rename to first")
        history.return_to(session, 1, target.id)
    house, _, _, links = _state(database)
    assert house.margin_db == 1.0
    assert [link_id for link_id, _ in links][:2] == [1, 2]
    assert links[0][1].name == "first"
    with database.write() as session:
        history.undo(session, 1)
    assert _state(database) == latest


def test_an_undone_entry_cannot_be_returned_to(database: Database) -> None:
    rename(database, 1, "first")
    with database.write() as session:
        undone = history.undo(session, 1)
    with database.write() as session, pytest.raises(history.NothingToDoError, match="not in force"):
        history.return_to(session, 1, undone.id)


def test_many_links_change_in_one_entry(database: Database) -> None:
    before = _state(database)
    with database.write() as session:
        stored = stored_links.links(session, 1)
        changed = [(item, item.link.model_copy(update={"notes": "seen"})) for item in stored]
        stored_links.change_links(session, 1, changed, "seen")
    assert all(link.notes == "seen" for link in contents(database))
    with database.write() as session:
        history.undo(session, 1)
    assert _state(database) == before
