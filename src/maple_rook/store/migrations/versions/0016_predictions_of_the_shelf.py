"""every prediction that the shelf keeps stands in one column, by key, with its interval"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

BEFORE = {
    "cutting_ease": ("ease", "ease_low", "ease_high"),
    "months_to_stone": ("months_to_stone", "months_low", "months_high"),
}
_ORDERS = (("", "ASC"), ("_falling", "DESC"))


def upgrade() -> None:
    op.add_column(
        "shelf",
        sa.Column("predicted", postgresql.JSONB(), nullable=False, server_default=sa.text("'{}'")),
    )
    op.execute(
        "UPDATE shelf SET predicted = jsonb_strip_nulls(jsonb_build_object("
        + ", ".join(
            f"'{key}', CASE WHEN {c} IS NOT NULL THEN jsonb_build_array({c}, {low}, {high}) END"
            for key, (c, low, high) in BEFORE.items()
        )
        + "))"
    )
    op.alter_column("shelf", "predicted", server_default=None)
    for columns in BEFORE.values():
        for column in columns:
            op.drop_column("shelf", column)  # its indexes go with it
    for key in BEFORE:
        for suffix, order in _ORDERS:
            by = sa.text(f"(((predicted -> '{key}') ->> 0)::double precision) {order} NULLS LAST")
            op.create_index(f"ix_shelf_{key}{suffix}", "shelf", [by, "piece_id"])
    # rows are shown as they were stored, and every one has to be written anew
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")


def downgrade() -> None:
    for key, columns in BEFORE.items():
        for suffix, _ in _ORDERS:
            op.drop_index(f"ix_shelf_{key}{suffix}", "shelf")
        for i, column in enumerate(columns):
            op.add_column("shelf", sa.Column(column, sa.Double(), nullable=True))
            op.execute(f"UPDATE shelf SET {column} = (predicted -> '{key}' ->> {i})::float")
        for suffix, order in _ORDERS:
            by = sa.text(f"{columns[0]} {order} NULLS LAST")
            op.create_index(f"ix_shelf_{columns[0]}{suffix}", "shelf", [by, "piece_id"])
    op.drop_column("shelf", "predicted")
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")
