"""The rows of the list of links are kept, so that a start judges nothing again."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table; it fills as links are judged."""
    op.create_table(
        "listed",
        sa.Column("link_id", sa.Integer, sa.ForeignKey("link.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("house_revision", sa.Integer, nullable=False),
        sa.Column("judged_by", sa.String(32), nullable=False),
        sa.Column("body", sa.LargeBinary, nullable=False),
    )


def downgrade() -> None:
    """Nothing is lost: it can be computed again."""
    op.drop_table("listed")
