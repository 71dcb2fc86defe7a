"""Projects, links and the history of changes."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Create the first tables."""
    op.create_table(
        "project",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("house_rules", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
    )
    op.create_table(
        "link",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("body", sa.JSON, nullable=False),
    )
    op.create_index("ix_link_project_id", "link", ["project_id"])
    op.create_table(
        "history",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("label", sa.String(300), nullable=False),
        sa.Column("link_id", sa.Integer, nullable=True),
        sa.Column("state", sa.String(8), nullable=False),
        sa.Column("changes", sa.JSON, nullable=False),
    )
    op.create_index("ix_history_project_state", "history", ["project_id", "state"])


def downgrade() -> None:
    """Drop all tables."""
    for table in ("history", "link", "project"):
        op.drop_table(table)
