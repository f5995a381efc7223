"""where each piece is, and wishes of customers for whom nothing suited"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None

_SEEN = {
    "made": ("INSERT", "NEW TABLE AS now_there"),
    "changed": ("UPDATE", "OLD TABLE AS was_there NEW TABLE AS now_there"),
    "removed": ("DELETE", "OLD TABLE AS was_there"),
}


def _audit(table: str, named: str, hidden: str) -> None:
    for act, (event, seen) in _SEEN.items():
        op.execute(
            f"CREATE TRIGGER {table}_{act} AFTER {event} ON {table} REFERENCING {seen} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION audit_{act}('id', '{named}', '{hidden}')"
        )


def _audit_pieces(hidden: str) -> None:
    """The audit says that a piece was sold, and not to whom."""
    for act in _SEEN:
        op.execute(f"DROP TRIGGER pieces_{act} ON pieces")
    _audit("pieces", "x.tag", hidden)


def upgrade() -> None:
    op.add_column(
        "pieces", sa.Column("stock", sa.String(12), nullable=False, server_default="on_shelf")
    )
    op.add_column("pieces", sa.Column("stock_on", sa.Date(), nullable=True))
    op.add_column(
        "pieces", sa.Column("stock_for", sa.String(60), nullable=False, server_default="")
    )
    op.create_check_constraint(
        op.f("ck_pieces_stock"), "pieces", "stock IN ('on_shelf', 'reserved', 'sold', 'returned')"
    )
    op.add_column(
        "shelf", sa.Column("stock", sa.String(12), nullable=False, server_default="on_shelf")
    )
    op.create_table(
        "wishes",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("label", sa.String(60), nullable=False),
        sa.Column("profile", postgresql.JSONB(), nullable=False),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_wishes_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_wishes")),
    )
    _audit_pieces("{stock_for}")
    _audit("wishes", "''''", "{label,profile}")
    # what decides between knives is counted in other columns, so every row is written anew
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")


def downgrade() -> None:
    _audit_pieces("{}")
    op.drop_table("wishes")
    op.drop_column("shelf", "stock")
    op.drop_constraint(op.f("ck_pieces_stock"), "pieces")
    for column in ("stock", "stock_on", "stock_for"):
        op.drop_column("pieces", column)
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")
