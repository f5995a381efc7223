"""the shelf keeps the cutting ease of small work, and lists by it"""

import sqlalchemy as sa
from alembic import op

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None

_KEY = "cutting_ease.small"
_ORDERS = (("", "ASC"), ("_falling", "DESC"))


def upgrade() -> None:
    for suffix, order in _ORDERS:
        by = sa.text(f"(((predicted -> '{_KEY}') ->> 0)::double precision) {order} NULLS LAST")
        op.create_index(f"ix_shelf_{_KEY}{suffix}", "shelf", [by, "piece_id"])
    # rows are shown as they were stored, and every one has to be written anew
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")


def downgrade() -> None:
    for suffix, _ in _ORDERS:
        op.drop_index(f"ix_shelf_{_KEY}{suffix}", "shelf")
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")
