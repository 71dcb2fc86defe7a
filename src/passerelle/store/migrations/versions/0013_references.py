"""Readings name their reference; those of before stay as they were written, and are told apart by their schema."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """From now on events may be of version 12."""
    connection = op.get_bind()
    for table in ("project", "link", "plant_row", "history"):
        connection.execute(sa.text(f"UPDATE {table} SET schema = 12"))


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
