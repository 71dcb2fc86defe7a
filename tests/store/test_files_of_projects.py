"""Files belong to projects: what no record names ends, what is recorded stays, and what is lost is noticed."""

from __future__ import annotations

import hashlib

import pytest

from passerelle.core.turned_up import HandedOver, Logged
from passerelle.store import accepted, projects
from passerelle.store.accepted import (
    TooManyFilesError,
    attachment,
    attachment_bytes,
    forget_uploads,
    keep_attachment,
    put_records,
)
from passerelle.store.database import Database
from passerelle.store.stored import NotFoundError
from passerelle.store.wholeness import look_over
from tests.clock import SetClock

NEWEST_GONE = "DELETE FROM event WHERE id = (SELECT max(id) FROM event)"
PICTURE = b"\x89PNG made up"


def noted(database: Database, picture: str, key: str = "a1") -> None:
    with database.write() as session:
        put_records(session, 1, [Logged(key=key, words="seen", picture=picture)], "note")


def kept(database: Database, body: bytes = PICTURE) -> str:
    with database.write() as session:
        return keep_attachment(session, body, "image/png", 1)


def is_there(database: Database, name: str) -> bool:
    with database.read() as session:
        try:
            return attachment(session, name, 1)[0] == PICTURE
        except NotFoundError:
            return False


@pytest.mark.parametrize(("hours", "stays"), [(23.9, True), (24.1, False)])
def test_an_upload_that_no_record_names_ends_after_a_day(
    database: Database, clock: SetClock, hours: float, stays: bool
) -> None:
    name = kept(database)
    clock.pass_by(hours=hours)
    with database.write() as session:
        forget_uploads(session)
    assert is_there(database, name) is stays


def test_what_a_record_names_stays_also_when_it_was_withdrawn(database: Database, clock: SetClock) -> None:
    name = kept(database)
    noted(database, name)
    clock.pass_by(days=400)
    with database.write() as session:
        forget_uploads(session)
    assert is_there(database, name)


def test_a_file_is_of_the_projects_that_have_it(database: Database) -> None:
    name = kept(database)
    noted(database, name)
    with database.write() as session:
        other = projects.create_project(session, "other", [], projects.project(session, 1).house).id
        copy = projects.copy_project(session, 1, "copy").id
    with database.read() as session:
        assert attachment(session, name, copy)[0] == PICTURE
        with pytest.raises(NotFoundError):
            attachment(session, name, other)


def test_the_files_of_a_project_are_bounded_in_their_sum(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(accepted, "MOST_OF_PROJECT", 2 * len(PICTURE))
    kept(database, PICTURE)
    kept(database, PICTURE)  # the same content is there once
    kept(database, PICTURE[::-1])
    with pytest.raises(TooManyFilesError, match="another project"):
        kept(database, b"x")
    with database.read() as session:
        assert attachment_bytes(session, 1) == 2 * len(PICTURE)


def test_a_whole_database_with_files_and_a_log_is_whole(database: Database) -> None:
    noted(database, kept(database))
    with database.write() as session:
        projects.copy_project(session, 1, "copy")
        projects.rename_project(session, 1, "renamed")
    assert look_over(database.path)[1] == []


@pytest.mark.parametrize(
    ("statement", "words"),
    [
        ("UPDATE attachment SET body = zeroblob(length(body))", "its content is not what was kept"),
        ("DELETE FROM attachment WHERE media_type = 'image/png'", "has no attachment"),
        ("DELETE FROM history WHERE id = (SELECT max(id) FROM history)", "its end was cut off"),
        (
            "DROP TRIGGER event_delete; DELETE FROM event WHERE id = (SELECT max(id) FROM event)",
            "what it says happened is not there",
        ),
        ("DELETE FROM attachment_use; DELETE FROM attachment", "its package"),
    ],
)
def test_what_was_zeroed_deleted_or_cut_is_found(database: Database, statement: str, words: str) -> None:
    name = kept(database)
    body = b"PK made up"
    with database.write() as session:
        package = keep_attachment(session, body, "application/zip", 1)
        signed = HandedOver(
            key="b2",
            scope="project",
            name="",
            revision=1,
            digest="0" * 64,
            package=package,
            at_revision=1,
            signer="crew 2",
            public_key="0" * 64,
        )
        put_records(session, 1, [signed], "hand-over")
    assert package == hashlib.sha256(body).hexdigest()
    noted(database, name)
    assert look_over(database.path)[1] == []
    with database.engine.connect() as connection:
        raw = connection.connection.driver_connection
        assert raw is not None
        raw.execute("PRAGMA foreign_keys=OFF")
        raw.executescript(statement)
        raw.commit()
    found = look_over(database.path)[1]
    assert any(words in line for line in found), found
