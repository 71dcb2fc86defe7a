"""Sessions end at the server, files belong to projects, and a log knows its end."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_FIELDS = ("file", "picture", "package")


def upgrade() -> None:
    """Make the tables; the files that a project's events name are its own, brought in when this step was made."""
    op.create_table(
        "web_session",
        sa.Column("token", sa.String(64), primary_key=True),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("gate", sa.String(64), nullable=False),
        sa.Column("opened_at", sa.DateTime, nullable=False),
        sa.Column("used_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "attachment_use",
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("hash", sa.String(64), sa.ForeignKey("attachment.hash", ondelete="CASCADE"), primary_key=True),
        sa.Column("added_at", sa.DateTime, nullable=False),
    )
    op.add_column("project", sa.Column("log_end", sa.Integer, nullable=False, server_default="0"))
    connection = op.get_bind()
    connection.execute(
        sa.text(
            "UPDATE project SET log_end = coalesce((SELECT max(id) FROM history WHERE project_id = project.id), 0)"
        )
    )
    here = {row.hash for row in connection.execute(sa.text("SELECT hash FROM attachment"))}
    uses = set()
    for row in connection.execute(sa.text("SELECT project_id, body FROM event")).all():
        body = json.loads(row.body)
        uses |= {(row.project_id, body[name]) for name in _FIELDS if body.get(name) in here}
    for project, name in sorted(uses):
        connection.execute(
            sa.text(
                "INSERT INTO attachment_use (project_id, hash, added_at) "
                "VALUES (:project, :name, CURRENT_TIMESTAMP)"
            ),
            {"project": project, "name": name},
        )


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
