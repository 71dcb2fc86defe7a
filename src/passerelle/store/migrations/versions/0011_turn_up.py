"""Boxes and what happened at turn-up: new kinds of rows and events, in the tables that there are."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Nothing is rewritten: what was written before is a plan of today."""
    connection = op.get_bind()
    for table in ("project", "link", "plant_row", "history"):
        connection.execute(sa.text(f"UPDATE {table} SET schema = 10"))


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
