"""files brought in, knives shown in public"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def _table(name: str, *columns: sa.Column[object] | sa.Constraint) -> None:
    """An append-only table whose rows say who wrote them and when."""
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        *columns,
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f(f"fk_{name}_person_id_people")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}")),
    )
    op.execute(
        f"CREATE TRIGGER {name}_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON {name} "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )


def upgrade() -> None:
    json = postgresql.JSONB()
    _table(
        "imports",
        sa.Column("source", sa.String(80), nullable=False),
        sa.Column("file", sa.String(200), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("columns", json, nullable=False),
        sa.Column("counts", json, nullable=False),
        sa.Column("added", json, nullable=False),
    )
    _table(
        "publications",
        sa.Column("piece_id", sa.Integer(), nullable=False),
        sa.Column("address", sa.String(80), nullable=False),
        sa.Column("on", sa.Boolean(), nullable=False),
        sa.Column("shown", json, nullable=False),
        sa.Column("words", sa.String(600), nullable=False),
        sa.ForeignKeyConstraint(
            ["piece_id"], ["pieces.id"], name=op.f("fk_publications_piece_id_pieces")
        ),
    )
    for table, column in (
        ("imports", "source"),
        ("publications", "piece_id"),
        ("publications", "address"),
    ):
        op.create_index(op.f(f"ix_{table}_{column}"), table, [column])


def downgrade() -> None:
    for name in ("publications", "imports"):
        op.drop_table(name)
