"""customers' jobs, kept comparisons"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def _table(name: str, *columns: sa.Column[object] | sa.Constraint) -> None:
    """A table whose rows say who wrote them and when."""
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


def _append_only(name: str) -> None:
    op.execute(
        f"CREATE TRIGGER {name}_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON {name} "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )


def upgrade() -> None:
    json = postgresql.JSONB()
    _table(
        "customers",
        sa.Column("label", sa.String(60), nullable=False),
        sa.Column("job", json, nullable=False),
        sa.UniqueConstraint("label", name=op.f("uq_customers_label")),
    )
    _table(
        "comparisons",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("pieces", json, nullable=False),
        sa.Column("asked", json, nullable=False),
        sa.Column("answered", json, nullable=False),
    )
    _table(
        "comparison_marks",
        sa.Column("comparison_id", sa.Integer(), nullable=False),
        sa.Column("away", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["comparison_id"],
            ["comparisons.id"],
            name=op.f("fk_comparison_marks_comparison_id_comparisons"),
        ),
    )
    op.create_index(
        op.f("ix_comparison_marks_comparison_id"), "comparison_marks", ["comparison_id"]
    )
    for name in ("comparisons", "comparison_marks"):
        _append_only(name)


def downgrade() -> None:
    for name in ("comparison_marks", "comparisons", "customers"):
        op.drop_table(name)
