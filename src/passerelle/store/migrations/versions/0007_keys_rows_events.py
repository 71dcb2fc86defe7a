"""Everything has a key for good; the plant is rows, readings are events, what links take is a table of its own.

Each project is brought up to date as the plan document that it would be in a file: one way up for both.
"""

import hashlib
import json
import secrets
import zlib
from typing import Any

import sqlalchemy as sa
from alembic import op

from passerelle.core.upgrade import stepped

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

BEFORE, AFTER = 6, 7
ONLY_ADDED = """
CREATE TRIGGER event_{what} BEFORE {what} ON event
BEGIN SELECT RAISE(ABORT, 'what happened is never rewritten: withdraw it with another event'); END
"""


def upgrade() -> None:
    """Make the new tables, then carry each project over."""
    _tables()
    connection = op.get_bind()
    old = [row[0] for row in connection.execute(sa.text("SELECT hash FROM record"))]
    kept: set[str] = set()
    for (number,) in connection.execute(sa.text("SELECT id FROM project ORDER BY id")).all():
        kept |= _carry(connection, number)
    gone = [{"hash": name} for name in old if name not in kept]
    if gone:
        connection.execute(sa.text("DELETE FROM record WHERE hash = :hash"), gone)
    op.execute("ALTER TABLE project DROP COLUMN plant")  # making the table anew would cascade to its links
    op.create_index("uq_project_key", "project", ["key"], unique=True)
    op.create_index("uq_link_key", "link", ["key"], unique=True)
    for what in ("UPDATE", "DELETE"):
        op.execute(ONLY_ADDED.format(what=what))


def _tables() -> None:
    for table, key in (("project", True), ("link", True), ("history", False)):
        op.add_column(table, sa.Column("schema", sa.Integer, nullable=False, server_default=str(AFTER)))
        if key:
            op.add_column(table, sa.Column("key", sa.String(32), nullable=False, server_default=""))
    op.drop_index("ix_link_riding", "link")
    op.create_table(
        "plant_row",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("shelf", sa.String(12), nullable=False),
        sa.Column("row", sa.String(40), nullable=False),
        sa.Column("position", sa.Float, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("schema", sa.Integer, nullable=False),
        sa.Column("body", sa.JSON, nullable=False),
        sa.UniqueConstraint("project_id", "shelf", "row", name="uq_plant_row"),
    )
    op.create_table(
        "taken",
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("part", sa.String(40), primary_key=True),
        sa.Column("path", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("band", sa.String(40), primary_key=True),
        sa.Column("link_id", sa.Integer, sa.ForeignKey("link.id", ondelete="CASCADE"), nullable=False),
    )
    op.create_index("ix_taken_link", "taken", ["link_id"])
    op.create_table(
        "event",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id"), nullable=False),
        sa.Column("key", sa.String(32), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("link", sa.String(32), nullable=False),
        sa.Column("schema", sa.Integer, nullable=False),
        sa.Column("body", sa.JSON, nullable=False),
    )
    op.create_index("uq_event_key", "event", ["key"], unique=True)
    op.create_index("ix_event_project", "event", ["project_id", "link"])


def _carry(connection: sa.Connection, project: int) -> set[str]:
    """Bring one project up to date; answers with the names of the records that its log has now."""
    plan, links, entries = _document(connection, project)
    plan = stepped(plan, secrets.token_hex(8), BEFORE)
    house = json.dumps(plan["house_rules"])
    connection.execute(
        sa.text("UPDATE project SET key = :key, house_rules = :house WHERE id = :id"),
        {"key": plan["key"], "house": house, "id": project},
    )
    for number, body in zip(links, plan["links"], strict=True):
        _put_link(connection, project, number, body)
    revision = connection.execute(
        sa.text("SELECT plant_revision FROM project WHERE id = :id"), {"id": project}
    ).scalar_one()
    for shelf, rows in plan["plant"].items():
        for place, row in enumerate(rows):
            values = {"project": project, "shelf": shelf, "row": row["id"], "place": place, "revision": revision}
            connection.execute(
                sa.text(
                    "INSERT INTO plant_row (project_id, shelf, row, position, revision, schema, body) "
                    "VALUES (:project, :shelf, :row, :place, :revision, 7, :body)"
                ),
                {**values, "body": _compact(row)},
            )
    _put_events(connection, project, plan["events"])
    for number, entry in zip(entries, plan["history"]["entries"], strict=True):
        values = {"changes": _compact(entry["changes"]), "id": number}
        connection.execute(sa.text("UPDATE history SET changes = :changes WHERE id = :id"), values)
    return {_kept(connection, body) for body in plan["history"]["records"].values()}


def _document(connection: sa.Connection, project: int) -> tuple[dict[str, Any], list[int], list[int]]:
    """A project as a plan document, with the numbers of its links and entries."""
    of = {"id": project}
    head = connection.execute(sa.text("SELECT house_rules, plant FROM project WHERE id = :id"), of).one()
    query = "SELECT id, body FROM link WHERE project_id = :id ORDER BY position, id"
    links = connection.execute(sa.text(query), of).all()
    query = "SELECT id, at, who, state, changes FROM history WHERE project_id = :id ORDER BY id"
    entries = connection.execute(sa.text(query), of).all()
    told = [
        {"at": _aware(at), "who": who, "state": state, "changes": json.loads(changes)}
        for _, at, who, state, changes in entries
    ]
    names = {c[side] for entry in told for c in entry["changes"] for side in ("before", "after") if c[side]}
    plan = {
        "house_rules": json.loads(head.house_rules),
        "plant": json.loads(head.plant),
        "links": [json.loads(body) for _, body in links],
        "history": {
            "numbers": [number for number, _ in links],
            "records": {name: _record(connection, name) for name in names},
            "entries": told,
        },
    }
    return plan, [number for number, _ in links], [entry[0] for entry in entries]


def _aware(at: str) -> str:
    """The time of an entry, which is kept without its zone, in UTC."""
    return str(at).replace(" ", "T").split(".")[0] + "Z"


def _record(connection: sa.Connection, name: str) -> Any:
    query = sa.text("SELECT body FROM record WHERE hash = :hash")
    return json.loads(zlib.decompress(connection.execute(query, {"hash": name}).scalar_one()))


def _compact(value: object) -> str:
    return json.dumps(value, separators=(",", ":"))


def _put_link(connection: sa.Connection, project: int, number: int, body: dict[str, Any]) -> None:
    values = {"key": body["key"], "body": _compact(body), "id": number}
    connection.execute(sa.text("UPDATE link SET key = :key, body = :body WHERE id = :id"), values)
    for piece in body["elements"]:
        for path in piece.get("positions", ()) if piece.get("part") else ():
            spot = {"project": project, "part": piece["part"], "path": path, "link": number}
            connection.execute(
                sa.text("INSERT OR IGNORE INTO taken VALUES (:project, :part, :path, '', :link)"), spot
            )


def _put_events(connection: sa.Connection, project: int, events: list[dict[str, Any]]) -> None:
    links: dict[str, str] = {}
    for event in events:
        links[event["key"]] = event["link"] if event["kind"] == "reading" else links[event["of"]]
        values = {"project": project, "key": event["key"], "kind": event["kind"], "link": links[event["key"]]}
        connection.execute(
            sa.text(
                "INSERT INTO event (project_id, key, kind, link, schema, body) "
                "VALUES (:project, :key, :kind, :link, 7, :body)"
            ),
            {**values, "body": _compact(event)},
        )


def _kept(connection: sa.Connection, body: dict[str, Any]) -> str:
    text = json.dumps(body, sort_keys=True, ensure_ascii=True, separators=(",", ":")).encode("ascii")
    values = {"hash": hashlib.blake2b(text, digest_size=16).hexdigest(), "body": zlib.compress(text)}
    connection.execute(sa.text("INSERT OR IGNORE INTO record (hash, body) VALUES (:hash, :body)"), values)
    return str(values["hash"])


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
