"""The log stays complete and small: whole records, each once."""

from __future__ import annotations

from sqlalchemy import text

from passerelle.store import history
from passerelle.store import links as stored_links
from passerelle.store.database import Database
from passerelle.store.records import fetched, forget_unused, keep, size_bytes


def test_an_edit_keeps_one_new_record_and_undo_none(database: Database) -> None:
    with database.write() as session:
        for number in range(20):
            stored = stored_links.link(session, 1)
            new = stored.link.model_copy(update={"notes": f"note {number}"})
            stored_links.change_link(session, 1, stored.revision, new, "note")
        assert session.execute(text("SELECT count(*) FROM record")).scalar_one() == 21
        history.undo(session, 1)
        history.redo(session, 1)
        assert session.execute(text("SELECT count(*) FROM record")).scalar_one() == 21
        grown = size_bytes(session) + len(str(session.execute(text("SELECT changes FROM history")).all()))
        assert grown / 20 < 2000


def test_a_record_comes_back_as_it_went_in_and_is_kept_while_it_is_named(database: Database) -> None:
    body = {"name": "Tür \U0001f6aa", "length_m": 1.5, "parts": [1, None, {"b": 2, "a": 1}]}
    with database.write() as session:
        once, again, nothing = keep(session, [body, dict(reversed(body.items())), None])
        assert (once, nothing) == (again, None)
        assert fetched(session, [once]) == {once: body}
        stored_links.remove_link(session, 1, "remove")
        assert forget_unused(session) == 1
        history.undo(session, 1)
        assert stored_links.link(session, 1).link.name == "Ferry terminal"
