"""the shelf keeps the cutting ease by what is cut, and lists by it"""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None

_EASES = tuple(f"cutting_ease.{mix}" for mix in ("vegetables", "roots", "slicing"))
_ORDERS = (("", "ASC"), ("_falling", "DESC"))


def upgrade() -> None:
    for key in _EASES:
        for suffix, order in _ORDERS:
            by = sa.text(f"(((predicted -> '{key}') ->> 0)::double precision) {order} NULLS LAST")
            op.create_index(f"ix_shelf_{key}{suffix}", "shelf", [by, "piece_id"])
    # rows are shown as they were stored, and every one has to be written anew
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")


def downgrade() -> None:
    for key in _EASES:
        for suffix, _ in _ORDERS:
            op.drop_index(f"ix_shelf_{key}{suffix}", "shelf")
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")
