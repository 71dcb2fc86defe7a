"""Pieces and parts have a state, of which pulled is installed; a piece on a cable has that of its cable."""

import hashlib
import json
import zlib
from typing import Any

import sqlalchemy as sa
from alembic import op

from passerelle.core.upgrade import with_states

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

OF_CABLES = "SELECT row, json_extract(body, '$.state') FROM plant_row WHERE project_id = :id AND shelf = 'cables'"


def upgrade() -> None:
    """Carry the bodies and the records of each project over."""
    connection = op.get_bind()
    old = {row[0] for row in connection.execute(sa.text("SELECT hash FROM record"))}
    kept: set[str] = set()
    for (number,) in connection.execute(sa.text("SELECT id FROM project ORDER BY id")).all():
        told = connection.execute(sa.text(OF_CABLES), {"id": number}).all()
        cables = {row: "installed" if state == "pulled" else state or "existing" for row, state in told}
        for table in ("link", "plant_row"):
            _bodies(connection, table, number, cables)
        kept |= _log(connection, number, cables)
    gone = [{"hash": name} for name in old - kept]
    if gone:
        connection.execute(sa.text("DELETE FROM record WHERE hash = :hash"), gone)
    for table in ("project", "link", "plant_row", "history"):
        connection.execute(sa.text(f"UPDATE {table} SET schema = 8"))


def _bodies(connection: sa.Connection, table: str, project: int, cables: dict[str, Any]) -> None:
    query = sa.text(f"SELECT id, body FROM {table} WHERE project_id = :id")
    for row in connection.execute(query, {"id": project}).all():
        body = json.loads(row.body)
        made = with_states(body, cables)
        if made != body:
            values = {"id": row.id, "body": json.dumps(made, separators=(",", ":"))}
            connection.execute(sa.text(f"UPDATE {table} SET body = :body WHERE id = :id"), values)


def _log(connection: sa.Connection, project: int, cables: dict[str, Any]) -> set[str]:
    """Carry the records of a project's log over; answers with the names that its log has now."""
    names: dict[str, str] = {}
    query = sa.text("SELECT id, changes FROM history WHERE project_id = :id")
    for row in connection.execute(query, {"id": project}).all():
        changes = json.loads(row.changes)
        for change in changes:
            for side in ("before", "after"):
                if change[side] is not None:
                    if change[side] not in names:
                        names[change[side]] = _record(connection, change[side], cables)
                    change[side] = names[change[side]]
        values = {"id": row.id, "changes": json.dumps(changes, separators=(",", ":"))}
        connection.execute(sa.text("UPDATE history SET changes = :changes WHERE id = :id"), values)
    return set(names.values())


def _record(connection: sa.Connection, name: str, cables: dict[str, Any]) -> str:
    """Keep a record as it is now; answers with its name."""
    query = sa.text("SELECT body FROM record WHERE hash = :hash")
    body = json.loads(zlib.decompress(connection.execute(query, {"hash": name}).scalar_one()))
    made = with_states(body, cables)
    if made == body:
        return name
    text = json.dumps(made, sort_keys=True, ensure_ascii=True, separators=(",", ":")).encode("ascii")
    values = {"hash": hashlib.blake2b(text, digest_size=16).hexdigest(), "body": zlib.compress(text)}
    connection.execute(sa.text("INSERT OR IGNORE INTO record (hash, body) VALUES (:hash, :body)"), values)
    return str(values["hash"])


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
