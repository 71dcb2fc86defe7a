"""The plant of a project: places, ways, cables, as one document."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Give each project an empty plant."""
    op.add_column("project", sa.Column("plant", sa.JSON, nullable=False, server_default="{}"))
    op.add_column("project", sa.Column("plant_revision", sa.Integer, nullable=False, server_default="1"))


def downgrade() -> None:
    """Drop the plants."""
    with op.batch_alter_table("project") as batch:
        batch.drop_column("plant")
        batch.drop_column("plant_revision")
