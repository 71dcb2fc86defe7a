"""The log keeps each record once, compressed; entries say who made them; house rules have their own revision."""

import hashlib
import json
import zlib

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

RIDING = """instr(replace(body, '"cable":""', ''), '"cable":"') > 0"""


def upgrade() -> None:
    """Move what the entries hold into records, and name it there by its hash."""
    op.create_table(
        "record",
        sa.Column("hash", sa.String(32), primary_key=True),
        sa.Column("body", sa.LargeBinary, nullable=False),
    )
    op.add_column("history", sa.Column("who", sa.String(60), nullable=False, server_default=""))
    op.add_column("project", sa.Column("house_revision", sa.Integer, nullable=False, server_default="1"))
    op.execute("""UPDATE link SET body = replace(body, '"cable": "', '"cable":"')""")
    op.create_index("ix_link_riding", "link", ["project_id"], sqlite_where=sa.text(RIDING))
    connection = op.get_bind()
    numbers = [row[0] for row in connection.execute(sa.text("SELECT id FROM history"))]
    for number in numbers:
        text = connection.execute(
            sa.text("SELECT changes FROM history WHERE id = :id"), {"id": number}
        ).scalar_one()
        changes = json.loads(text)
        for change in changes:
            for side in ("before", "after"):
                change[side] = _kept(connection, change[side])
        values = {"id": number, "changes": json.dumps(changes)}
        connection.execute(sa.text("UPDATE history SET changes = :changes WHERE id = :id"), values)


def _kept(connection: sa.Connection, body: dict[str, object] | None) -> str | None:
    if body is None:
        return None
    text = json.dumps(body, sort_keys=True, ensure_ascii=True, separators=(",", ":")).encode("ascii")
    values = {"hash": hashlib.blake2b(text, digest_size=16).hexdigest(), "body": zlib.compress(text)}
    connection.execute(sa.text("INSERT OR IGNORE INTO record (hash, body) VALUES (:hash, :body)"), values)
    return str(values["hash"])


def downgrade() -> None:
    """Put the records back into the entries."""
    connection = op.get_bind()
    for number, text in connection.execute(sa.text("SELECT id, changes FROM history")).all():
        changes = json.loads(text)
        for change in changes:
            for side in ("before", "after"):
                if change[side] is not None:
                    query = sa.text("SELECT body FROM record WHERE hash = :hash")
                    body = connection.execute(query, {"hash": change[side]}).scalar_one()
                    change[side] = json.loads(zlib.decompress(body))
        values = {"id": number, "changes": json.dumps(changes)}
        connection.execute(sa.text("UPDATE history SET changes = :changes WHERE id = :id"), values)
    op.drop_index("ix_link_riding", "link")
    with op.batch_alter_table("history") as batch:
        batch.drop_column("who")
    with op.batch_alter_table("project") as batch:
        batch.drop_column("house_revision")
    op.drop_table("record")
