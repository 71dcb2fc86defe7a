"""A database in trouble: each kind is told with its remedy, and nothing is touched that is not ours."""

from __future__ import annotations

import os
import signal
import socket
import sqlite3
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from passerelle.core.house import HouseRules
from passerelle.store import history, projects
from passerelle.store import links as stored_links
from passerelle.store.database import Database, reading
from passerelle.store.files import copied, damage, is_ours, put_back
from passerelle.store.records import LostRecordError
from passerelle.store.trouble import (
    BrokenError,
    BusyError,
    DatabaseTroubleError,
    FullError,
    MovedError,
    NewerError,
    StrangerError,
    UnreachableError,
)
from passerelle.store.wholeness import look_over
from tests.store.test_released_schemas import released


def names(path: Path) -> list[str]:
    opened = Database(path)
    with opened.read() as session:
        found = [item.name for item in projects.projects(session)]
    opened.close()
    return found


def make(session: Session, name: str) -> None:
    projects.create_project(session, name, [], HouseRules())


def test_a_lock_is_waited_for_two_seconds_and_no_longer(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("passerelle.store.database.PATIENCE_S", 0.05)
    other = sqlite3.connect(database.path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    with pytest.raises(BusyError, match="try again") as told, database.write() as session:
        make(session, "late")
    assert told.value.retry_s == 1
    other.close()
    with database.write():
        waits: list[type[BaseException] | None] = []

        def second() -> None:
            try:
                with database.write():
                    waits.append(None)
            except DatabaseTroubleError as error:
                waits.append(type(error))

        thread = threading.Thread(target=second)
        thread.start()
        thread.join()
    assert waits == [BusyError]


def test_a_full_disk_loses_nothing_and_goes_on_when_there_is_room(database: Database) -> None:
    def room(pages: int) -> None:
        with database.engine.connect() as connection:
            connection.exec_driver_sql(f"PRAGMA max_page_count={pages}")

    with database.read() as session:
        used = session.execute(text("PRAGMA page_count")).scalar_one()
    room(used)

    def fill() -> None:
        with database.write() as session:
            for number in range(3000):
                make(session, f"project {number} " + "x" * 90)

    with pytest.raises(FullError, match="make room"):
        fill()
    room(1_000_000)
    with database.write() as session:
        make(session, "after")
    assert len(names(database.path)) == 2


def test_a_file_that_was_moved_away_takes_no_writes(database: Database, tmp_path: Path) -> None:
    away = tmp_path / "away.sqlite"
    database.path.rename(away)
    for access in (database.read, database.write):
        with pytest.raises(MovedError, match="put the file back"), access():
            pass
    database.path.touch()  # another file in its place is not taken for it
    with pytest.raises(MovedError), database.write():
        pass
    away.replace(database.path)
    with database.write() as session:
        make(session, "back")
    assert names(database.path)[-1] == "back"


def _stranger(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("CREATE TABLE recipe (name TEXT)")


def _stranger_with_a_mark(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("PRAGMA application_id=77")
        connection.execute("CREATE TABLE recipe (name TEXT)")


def _newer(path: Path) -> None:
    Database(path).close()
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")


def _zeroed(path: Path) -> None:
    path.write_bytes(b"\0" * 8192)


def _cut(path: Path) -> None:
    Database(path).close()
    path.write_bytes(path.read_bytes()[:6000])


def _text(path: Path) -> None:
    path.write_text("shopping list, not a database, but long enough to be asked about")


def _folder(path: Path) -> None:
    path.mkdir()


TROUBLED = [
    (_stranger, StrangerError),
    (_stranger_with_a_mark, StrangerError),
    (_newer, NewerError),
    (_zeroed, BrokenError),
    (_cut, BrokenError),
    (_text, StrangerError),
    (_folder, UnreachableError),
]


@pytest.mark.parametrize(("made", "kind"), TROUBLED)
def test_what_cannot_be_used_is_told_and_left_as_it_was(
    made: Callable[[Path], None], kind: type[DatabaseTroubleError], tmp_path: Path
) -> None:
    path = tmp_path / "x.sqlite"
    made(path)
    before = path.read_bytes() if path.is_file() else b""
    with pytest.raises(kind) as told:
        Database(path)
    assert str(path) in str(told.value)
    assert (path.read_bytes() if path.is_file() else b"") == before


def test_an_empty_file_is_taken_and_a_file_where_a_folder_should_be_is_told(tmp_path: Path) -> None:
    empty = tmp_path / "empty.sqlite"
    empty.touch()
    assert names(empty) == []
    assert is_ours(empty)
    with pytest.raises(UnreachableError, match="folder"):
        Database(empty / "x.sqlite")


def test_a_copy_made_while_it_is_written_holds_all_that_was_confirmed(database: Database, tmp_path: Path) -> None:
    with database.write() as session:
        make(session, "newest")
    target = tmp_path / "copy.sqlite"
    copied(database.path, target)
    assert names(target)[-1] == "newest"
    with pytest.raises(UnreachableError, match="exists already"):
        copied(database.path, target)


def test_a_copy_is_put_back_only_where_nobody_serves_and_the_old_file_is_kept(
    database: Database, tmp_path: Path
) -> None:
    copy = tmp_path / "copy.sqlite"
    copied(database.path, copy)
    with database.write() as session:
        make(session, "later")
    with pytest.raises(BusyError, match="stop Passerelle first"):
        put_back(copy, database.path)
    database.close()
    kept = put_back(copy, database.path)
    assert "later" not in names(database.path)
    assert kept is not None
    assert "later" in names(kept)
    damaged = tmp_path / "damaged.sqlite"
    damaged.write_bytes(copy.read_bytes()[:-9000])
    with pytest.raises(BrokenError):
        put_back(damaged, database.path)
    assert "later" not in names(database.path)


def test_looking_at_the_file_again_keeps_the_locks_of_the_one_who_serves(database: Database) -> None:
    """A plain open and close in the process of the server would drop its locks: the next one to close would take
    the log away under it, and all that is written after that is lost.
    """
    log = database.path.with_name(database.path.name + "-wal")
    for _ in range(2):
        Database(database.path).close()
        with reading(database.path) as session:
            assert projects.projects(session)
        opened = f"Database(Path({str(database.path)!r}))"
        code = f"from pathlib import Path; from passerelle.store.database import Database; {opened}.close()"
        subprocess.run([sys.executable, "-c", code], check=True)
        assert log.exists()
        with database.write() as session:
            make(session, "written after")
    assert names(database.path).count("written after") == 2


def test_damage_in_a_page_and_in_a_record_is_found(database: Database, tmp_path: Path) -> None:
    assert damage(database.path) == []
    lines, damaged = look_over(database.path)
    assert lines[0].startswith("1 projects, ")
    assert damaged == []
    with database.engine.begin() as connection:
        connection.execute(text("UPDATE link SET body = '{\"name\": 7}' WHERE id = 1"))
    _, damaged = look_over(database.path)
    assert damaged[0].startswith("link 1: ")


def test_a_record_of_the_log_that_was_altered_or_taken_is_found(database: Database) -> None:
    with database.write() as session:
        stored_links.remove_link(session, 1, "remove")
    with database.engine.begin() as connection:
        (name,) = connection.execute(text("SELECT hash FROM record")).one()
        connection.execute(text("UPDATE record SET body = zeroblob(40)"))
    assert name in look_over(database.path)[1][0]
    with database.engine.begin() as connection:
        connection.execute(text("DELETE FROM record"))
    assert "entry 1 of the log" in look_over(database.path)[1][0]
    with pytest.raises(LostRecordError, match="passerelle verify"), database.write() as session:
        history.undo(session, 1)


def test_looking_over_an_older_database_does_not_change_it(tmp_path: Path) -> None:
    path = tmp_path / "old.sqlite"
    released(path, "0004")
    before = path.read_bytes()
    lines, damaged = look_over(path)
    assert "older" in lines[0]
    assert damaged == []
    assert path.read_bytes() == before
    assert list(tmp_path.iterdir()) == [path]


def test_the_log_of_a_damaged_file_is_kept_with_it(database: Database, tmp_path: Path) -> None:
    copy = tmp_path / "copy.sqlite"
    copied(database.path, copy)
    database.close()
    log = database.path.with_name(database.path.name + "-wal")
    database.path.write_bytes(b"\0" * 8192)
    log.write_bytes(b"the newest part")
    kept = put_back(copy, database.path)
    assert kept is not None
    assert kept.with_name(kept.name + "-wal").read_bytes() == b"the newest part"
    assert not log.exists()
    assert names(database.path)


def test_ending_by_signal_folds_the_log_into_the_file(tmp_path: Path) -> None:
    path = tmp_path / "served.sqlite"
    code = (
        "import sys, threading, urllib.request, os, signal, time\n"
        "from passerelle.cli import app\n"
        "def write():\n"
        "    for _ in range(200):\n"
        "        try:\n"
        "            urllib.request.urlopen('http://127.0.0.1:%s/api/v1/projects' % sys.argv[1]); break\n"
        "        except OSError: time.sleep(0.1)\n"
        '    data = b\'{"name": "written last"}\'\n'
        "    asked = urllib.request.Request('http://127.0.0.1:%s/api/v1/projects' % sys.argv[1], data,\n"
        "        {'Content-Type': 'application/json'})\n"
        "    urllib.request.urlopen(asked).read()\n"
        "    os.kill(os.getpid(), signal.SIGTERM)\n"
        "threading.Thread(target=write, daemon=True).start()\n"
        "app(['serve', '--port', sys.argv[1], '--database', sys.argv[2]])\n"
    )
    ended = subprocess.run([sys.executable, "-c", code, _free_port(), str(path)], capture_output=True, check=False)
    assert ended.returncode in (0, -signal.SIGTERM), ended.stderr.decode()
    alone = tmp_path / "alone.sqlite"
    alone.write_bytes(path.read_bytes())  # the file alone, without the log beside it
    assert "written last" in names(alone)


def _free_port() -> str:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return str(free.getsockname()[1])


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write everything")
def test_a_file_that_may_not_be_written_is_told(database: Database) -> None:
    database.path.chmod(0o400)
    with pytest.raises(DatabaseTroubleError), database.write() as session:
        make(session, "no")
