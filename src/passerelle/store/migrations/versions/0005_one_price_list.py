"""The prices that stood beside the plan move into the one price list of the project."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

ITEMS = {
    "trench_per_m": "trench, a metre",
    "duct_per_m": "duct, a metre",
    "tray_per_m": "tray, a metre",
    "pole_per_m": "poles, a metre",
    "pull_per_m": "pulling, a metre",
    "cable_per_m": "cable single-mode, a metre",
    "strand_per_m": "each strand of a cable, a metre",
    "panel_each": "panel",
    "switch_each": "switch of 24 ports",
    "module_each": "module 10GBASE-LR",
}


def upgrade() -> None:
    """Move each price that the list does not have as its own yet."""
    connection = op.get_bind()
    rows = connection.execute(sa.text("SELECT id, plant, house_rules FROM project")).all()
    for project_id, plant_text, rules_text in rows:
        plant, rules = json.loads(plant_text), json.loads(rules_text)
        old = plant.get("prices")
        if not old:
            continue
        own = rules.get("own_prices", [])
        known = {line["item"] for line in own}
        own += [{"item": item, "price": old[n]} for n, item in ITEMS.items() if n in old and item not in known]
        plant["prices"], rules["own_prices"] = None, own
        values = {"id": project_id, "plant": json.dumps(plant), "rules": json.dumps(rules)}
        connection.execute(
            sa.text("UPDATE project SET plant = :plant, house_rules = :rules WHERE id = :id"), values
        )


def downgrade() -> None:
    """The list keeps them."""
