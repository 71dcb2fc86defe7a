"""Numbers of links are never given twice: undo brings a link back under its own number."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Let SQLite remember the highest number, those in the history included."""
    with op.batch_alter_table("link", recreate="always", table_kwargs={"sqlite_autoincrement": True}):
        pass
    connection = op.get_bind()
    highest = connection.scalar(sa.text("SELECT max(id) FROM link")) or 0
    for (changes,) in connection.execute(sa.text("SELECT changes FROM history")):
        highest = max([highest, *(change.get("link_id") or 0 for change in json.loads(changes))])
    connection.execute(sa.text("DELETE FROM sqlite_sequence WHERE name = 'link'"))
    values = {"highest": highest}
    connection.execute(sa.text("INSERT INTO sqlite_sequence (name, seq) VALUES ('link', :highest)"), values)


def downgrade() -> None:
    """Forget the highest number."""
    with op.batch_alter_table("link", recreate="always", table_kwargs={"sqlite_autoincrement": False}):
        pass
