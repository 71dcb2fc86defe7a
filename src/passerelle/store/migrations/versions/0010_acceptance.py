"""Traces and pictures are kept by their hash; addresses of instruments that a person has confirmed."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Two tables; readings of before stay as they were written, and are told apart by their schema."""
    op.create_table(
        "attachment",
        sa.Column("hash", sa.String(64), primary_key=True),
        sa.Column("media_type", sa.String(60), nullable=False),
        sa.Column("body", sa.LargeBinary, nullable=False),
    )
    op.create_table(
        "reached",
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("address", sa.String(200), primary_key=True),
    )
    connection = op.get_bind()
    for table in ("project", "link", "plant_row", "history"):
        connection.execute(sa.text(f"UPDATE {table} SET schema = 9"))


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
