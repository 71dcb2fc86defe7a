"""Projects that were removed stay in the database, so that they can be brought back."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Mark no project as removed."""
    op.add_column("project", sa.Column("removed", sa.Boolean, nullable=False, server_default="0"))


def downgrade() -> None:
    """Forget which projects were removed."""
    with op.batch_alter_table("project") as batch:
        batch.drop_column("removed")
