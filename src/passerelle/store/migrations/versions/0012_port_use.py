"""Which ports links use, so that two links on one port are found without reading the others."""

import json

import sqlalchemy as sa
from alembic import op

from passerelle.core.link.port_use import port_uses

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Make the table and fill it from the links that there are; from now on pieces may be of version 11."""
    op.create_table(
        "port_use",
        sa.Column("link_id", sa.Integer, sa.ForeignKey("link.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("place", sa.String(120), primary_key=True),
        sa.Column("label", sa.String(120), primary_key=True),
        sa.Column("leg", sa.Integer, primary_key=True),
        sa.Column("project_id", sa.Integer, sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
    )
    op.create_index("ix_port_use_port", "port_use", ["project_id", "place", "label", "link_id"])
    connection = op.get_bind()
    for row in connection.execute(sa.text("SELECT id, project_id, body FROM link")).all():
        uses = [
            {"link": row.id, "project": row.project_id, **use._asdict()}
            for use in set(port_uses(json.loads(row.body)["elements"]))
        ]
        if uses:
            connection.execute(
                sa.text(
                    "INSERT INTO port_use (link_id, place, label, leg, project_id) "
                    "VALUES (:link, :place, :label, :leg, :project)"
                ),
                uses,
            )
    for table in ("project", "link", "plant_row", "history"):
        connection.execute(sa.text(f"UPDATE {table} SET schema = 11"))


def downgrade() -> None:
    """There is no way down: the copy that was made before is the older database."""
    raise RuntimeError("put the copy back that was made before this step: 'passerelle restore'")
