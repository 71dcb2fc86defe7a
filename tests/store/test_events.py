"""What happened outlives undo, removal and copies, and is never rewritten; keys are never given again."""

from __future__ import annotations

import sqlite3
from datetime import time
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import text
from sqlalchemy.orm import Session

from passerelle.core.accepted import ReferenceTaken, ReferenceVoid, TraceTaken
from passerelle.core.events import ReadingTaken, not_withdrawn, standing
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, Insert, Measure, Remove, Reverse, Withdraw, apply_edits
from passerelle.core.link.readings import Reading, is_stale
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.piece import Plug
from passerelle.core.plant.records import SHELVES
from passerelle.core.upgrade import ZERO_UNKNOWN
from passerelle.exchange.plan_file import read_plan
from passerelle.store import events, history, projects
from passerelle.store import links as stored_links
from passerelle.store.accepted import attachment
from passerelle.store.database import Database
from passerelle.store.files import APPLICATION_ID
from passerelle.store.trouble import DatabaseTroubleError
from passerelle.store.wholeness import look_over
from tests.core.plain import CATALOG
from tests.depth import examples

PLANS = Path(__file__).parents[1] / "exchange" / "plans"
READING = Reading(value_db=1.1, start="cord-1", end="cord-1", near_joint=False, far_joint=False)


def change(session: Session, number: int, *edits: Edit) -> Link:
    item = stored_links.link(session, number)
    made = stored_links.change_link(session, number, item.revision, apply_edits(item.link, edits), "change")
    return made.link


def states(session: Session, number: int) -> list[str]:
    return [reading.withdrawn for reading in stored_links.link(session, number).link.readings]


def keys_of(session: Session, project: int) -> list[str]:
    links = [item.link for item in stored_links.links(session, project)]
    plant = projects.plant(session, project)
    rows = [row.key for shelf in SHELVES for row in getattr(plant, shelf)]
    pieces = [piece.key for link in links for piece in link.elements]
    happened = [event.key for event in events.of_project(session, project)]
    return [projects.project(session, project).key, *(link.key for link in links), *pieces, *rows, *happened]


def test_a_piece_that_was_exchanged_for_its_like_does_not_inherit_its_reading(database: Database) -> None:
    with database.write() as session:
        measured = change(session, 4, Measure(reading=READING))
        before = measured.element("cord-1")
        assert not is_stale(measured.elements, measured.readings[0])
        again = before.model_copy(update={"key": "stolen"})
        new = change(session, 4, Remove(element="cord-1"), Insert(after="module-1", piece=again))
        assert new.element("cord-1").model_copy(update={"key": before.key}) == before, "its like, by the same name"
        assert new.element("cord-1").key not in ("", "stolen", before.key)
        assert is_stale(new.elements, new.readings[0])
        history.undo(session, 1)
        back = stored_links.link(session, 4).link
        assert back.element("cord-1").key == before.key
        assert not is_stale(back.elements, back.readings[0])


def test_undo_withdraws_and_redo_makes_it_stand_and_nothing_is_ever_taken_away(database: Database) -> None:
    with database.write() as session:
        change(session, 4, Measure(reading=READING))
        change(session, 4, Withdraw(reading="reading-1", why="dirty"))
        seen = [states(session, 4)]
        for step in (history.undo, history.undo, history.redo, history.redo, history.undo):
            step(session, 1)
            seen.append(states(session, 4))
        assert seen == [["dirty"], [""], ["undone"], [""], ["dirty"], [""]]
        kinds = [event.kind for event in events.of_project(session, 1)]
        assert kinds[-6:] == ["withdrawal"] * 6


def test_a_reading_survives_its_link_and_comes_back_with_it(database: Database) -> None:
    with database.write() as session:
        change(session, 4, Measure(reading=READING))
        stored_links.remove_link(session, 4, "remove")
        kept = [
            e for e in events.of_project(session, 1) if isinstance(e, ReadingTaken) and e.reading.value_db == 1.1
        ]
        assert len(kept) == 1
        history.undo(session, 1)
        assert states(session, 4) == [""]


def test_the_database_refuses_to_rewrite_what_happened(database: Database) -> None:
    with database.write() as session:
        change(session, 4, Measure(reading=READING))
    for statement in ("UPDATE event SET body = '{}'", "DELETE FROM event"):
        with pytest.raises(DatabaseTroubleError, match="never rewritten"), database.write() as session:
            session.execute(text(statement))


@settings(max_examples=examples(15), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.booleans(), max_size=4))
def test_a_reading_follows_its_link_however_it_is_drawn(database: Database, turns: list[bool]) -> None:
    """Drawn from the other end before or after the reading: the same pieces, never stale."""
    with database.write() as session:
        if True in turns[:2]:
            change(session, 4, Reverse())
        made = change(session, 4, Measure(reading=READING))
        for _ in turns:
            made = change(session, 4, Reverse())
        newest = made.readings[-1]
        assert (newest.start, is_stale(made.elements, newest)) == ("cord-1", False)
        session.rollback()


def test_a_copy_has_new_keys_and_its_own_readings(database: Database) -> None:
    with database.write() as session:
        change(session, 4, Measure(reading=READING))
        copied = projects.copy_project(session, 1, "copy")
        old, new = keys_of(session, 1), keys_of(session, copied.id)
        assert len(set(old + new)) == len(old) + len(new), "no key stands twice"
        assert "" not in old + new
        links = stored_links.links(session, copied.id)
        read = [(item.link, reading) for item in links for reading in item.link.readings]
        assert [reading.value_db for _, reading in read] == [
            r.value_db for item in stored_links.links(session, 1) for r in item.link.readings
        ]
        assert not any(is_stale(link.elements, reading) for link, reading in read)


def old_database(tmp_path: Path, version: str) -> Path:
    """The database that a program of one version left, with readings taken, withdrawn and undone in its log."""
    path = tmp_path / f"{version}.sqlite"
    connection = sqlite3.connect(path)
    connection.executescript((Path(__file__).parent / "databases" / f"{version}.sql").read_text(encoding="utf-8"))
    connection.execute(f"PRAGMA application_id={APPLICATION_ID}")
    connection.commit()
    connection.close()
    return path


def test_the_database_of_version_6_opens_with_its_readings_and_its_log(tmp_path: Path) -> None:
    plan = read_plan((PLANS / "v6.json").read_text(encoding="utf-8"), CATALOG)
    opened = Database(old_database(tmp_path, "v6"))
    with opened.write() as session:
        items = stored_links.links(session, 1)
        read = [reading for item in items for reading in item.link.readings]
        assert [reading.withdrawn for reading in read] == ["meter past its calibration", "undone", ""]
        assert read[-1].over, "the reading of the plan stands, of the pieces by their keys"
        assert [item.link.name for item in items] == [link.name for link in plan.links]
        shown = {piece.part for item in items for piece in item.link.elements if piece.part}
        assert shown == {p.part for link in plan.links for p in link.elements if p.part}
        assert projects.plant(session, 1).place_of["lock"].key_holder == "lock keeper"
        assert len(set(keys := keys_of(session, 1))) == len(keys)
        _walk_to_the_beginning_and_back(session)
    opened.close()


def test_the_database_of_version_7_opens_with_its_shared_parts_and_its_log(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v7"))
    with opened.write() as session:
        crane = next(item.link for item in stored_links.links(session, 1) if item.link.name == "Crane 3")
        assert [reading.withdrawn for reading in crane.readings] == ["", "undone"]
        assert not is_stale(crane.elements, crane.readings[0]), (
            "it was taken while the link was drawn the other way"
        )
        plant = projects.plant(session, 1)
        assert (plant.frame_of["frame 1"].count, plant.shared_of["split port"].count) == (24, 4)
        taken = session.execute(text("SELECT part, path FROM taken WHERE part LIKE 'frame%' ORDER BY path")).all()
        assert [tuple(row) for row in taken] == [("frame 1", 3), ("frame 1", 4)]
        _walk_to_the_beginning_and_back(session)
    opened.close()


def test_the_database_of_version_8_opens_with_its_orders_and_what_arrived(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v8"))
    with opened.write() as session:
        happened = list(standing(events.of_project(session, 1)))
        assert [event.kind for event in happened] == ["order", "delivery"]
        pieces = [e for item in stored_links.links(session, 1) for e in item.link.elements]
        came = next(e for e in pieces if e.ordered)
        assert (came.state, came.ordered[0].value) == ("delivered", ("OM3",))
        assert projects.plant(session, 1).reels[0].holds_m == 609
        _walk_to_the_beginning_and_back(session)
        assert [event.kind for event in standing(events.of_project(session, 1))] == ["order", "delivery"]
    opened.close()


def test_the_database_of_version_9_opens_with_its_records_of_acceptance(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v9"))
    with opened.write() as session:
        happened = list(not_withdrawn(events.of_project(session, 1)))
        kinds = {event.kind for event in happened}
        assert {"reference", "void", "reading", "inspection", "strands", "trace"} <= kinds
        (trace,) = (event for event in happened if isinstance(event, TraceTaken))
        assert attachment(session, trace.file)[1] == "application/x-sor"
        _walk_to_the_beginning_and_back(session)
        again = list(not_withdrawn(events.of_project(session, 1)))
        assert {event.kind for event in again} == kinds
    opened.close()


def test_the_database_of_version_10_opens_with_its_turn_up(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v10"))
    with opened.write() as session:
        (box,) = projects.plant(session, 1).boxes
        ends = {e.key for item in stored_links.links(session, 1) for e in item.link.elements}
        assert box.ports[0].of in ends
        kinds = {event.kind for event in not_withdrawn(events.of_project(session, 1))}
        assert {"log", "port", "look", "cure", "handover"} <= kinds
        _walk_to_the_beginning_and_back(session)
        assert {event.kind for event in not_withdrawn(events.of_project(session, 1))} == kinds
    opened.close()


def test_a_reading_of_before_counts_by_what_was_asked_then(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v8"))
    with opened.read() as session:
        readings = [r for item in stored_links.links(session, 1) for r in item.link.readings]
        assert readings
        assert {(reading.recorded_before, bool(reading.instrument)) for reading in readings} == {(True, False)}
        assert any(not reading.why_not for reading in readings)
    opened.close()


def test_a_database_of_version_7_gets_the_states_of_its_cables(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v7"))
    with opened.read() as session:
        cables = projects.plant(session, 1).cable_of
        runs = [e for i in stored_links.links(session, 1) for e in i.link.elements if e.part in cables]
        assert runs
        assert {(e.state == cables[e.part].state) for e in runs} == {True}
        assert "pulled" not in {cable.state for cable in cables.values()}
    opened.close()


def _walk_to_the_beginning_and_back(session: Session) -> None:
    after = [item.link for item in stored_links.links(session, 1)], projects.plant(session, 1)
    count = 0
    while history.next_undo(session, 1):
        history.undo(session, 1)
        count += 1
    assert count > 3
    assert states(session, 2) == ["undone"], (
        "the reading was taken in the log, so its beginning has none that stands"
    )
    for _ in range(count):
        history.redo(session, 1)
    assert ([item.link for item in stored_links.links(session, 1)], projects.plant(session, 1)) == after


def test_no_position_is_taken_twice_whoever_asks(database: Database) -> None:
    with database.read() as session:
        spot = session.execute(text("SELECT part, path, link_id FROM taken")).first()
        free = session.execute(text("SELECT max(id) FROM link")).scalar_one()
    assert spot is not None
    with pytest.raises(DatabaseTroubleError, match="UNIQUE"), database.write() as session:
        session.execute(
            text("INSERT INTO taken VALUES (1, :part, :path, '', :link)"), {**spot._mapping, "link": free}
        )


def test_a_cord_that_was_put_in_and_undone_is_another_one_the_next_time(database: Database) -> None:
    plug, keys = Plug(shape="LC", polish="UPC"), set()
    cord = Cord(left=plug, right=plug)
    for _ in range(3):
        with database.write() as session:
            made = change(session, 4, Insert(after="module-1", piece=cord))
            keys.add(made.elements[2].key)
            history.undo(session, 1)
    assert len(keys) == 3


def test_a_look_over_finds_what_is_taken_and_not_written_down(database: Database) -> None:
    assert look_over(database.path)[1] == []
    with database.write() as session:
        session.execute(text("DELETE FROM taken WHERE part = 'quay' AND path = 1"))
    (told,) = look_over(database.path)[1]
    assert "'Crane 1': what it takes of shared parts is not what was kept" in told


def test_the_database_of_version_11_opens_with_its_splices_and_its_ports(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v11"))
    with opened.write() as session:
        runs = [e for item in stored_links.links(session, 1) for e in item.link.elements if e.kind == "run"]
        counted = [run for run in runs if run.splices is not None]
        assert [(run.splices, run.splice_class) for run in counted] == [(2, "splice, low-loss")]
        used = session.execute(text("SELECT count(*) FROM port_use")).scalar_one()
        assert used > len(stored_links.links(session, 1))
        _walk_to_the_beginning_and_back(session)
        assert session.execute(text("SELECT count(*) FROM port_use")).scalar_one() == used, (
            "undo and redo keep them"
        )
    opened.close()


def test_the_database_of_version_12_opens_with_its_references(tmp_path: Path) -> None:
    opened = Database(old_database(tmp_path, "v12"))
    with opened.read() as session:
        item = next(one for one in stored_links.links(session, 1) if one.link.name == "Crane 3")
        happened = events.of_project(session, 1)
    reference = next(one for one in reversed(happened) if isinstance(one, ReferenceTaken))
    lost = next(one for one in reversed(happened) if isinstance(one, ReferenceVoid))
    assert (reference.core_um, lost.of, lost.lost_at) == (9.0, reference.key, time(11, 0))
    kept = [
        (r.value_db, r.cleaned, r.tester_result, r.joined_db) for r in item.link.readings if r.zero == reference.key
    ]
    assert kept == [(2.4, False, "fail", 0.1), (0.7, True, "pass", 0.1)]
    before = [r for r in item.link.readings if not r.zero and not r.recorded_before]
    assert {r.tester_zero for r in before} <= {ZERO_UNKNOWN}, "readings of version 11 count as they did"
    opened.close()
