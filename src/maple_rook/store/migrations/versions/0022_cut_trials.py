"""cut trials: force against depth of knives and foods"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None

TABLES = ("cut_sessions", "cuts", "cut_marks")


def _append_only(name: str, *columns: sa.Column[Any] | sa.Constraint) -> None:
    """A table whose rows say who wrote them and when, and stay as they are."""
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


def _refers(table: str, column: str, to: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{to}.id"], name=op.f(f"fk_{table}_{column}_{to}"))


def _column(name: str, kind: Any, *, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, kind, nullable=nullable)


def upgrade() -> None:
    _append_only(
        "cut_sessions",
        _column("client_id", sa.Uuid()),
        _column("source", sa.String(12)),
        _column("edge", sa.String(20)),
        _column("given", sa.Text()),
        _column("note", sa.String(400)),
        _column("started_at", postgresql.TIMESTAMP(timezone=True)),
        sa.UniqueConstraint("client_id", name=op.f("uq_cut_sessions_client_id")),
    )
    _append_only(
        "cuts",
        _column("client_id", sa.Uuid()),
        _column("session_id", sa.Integer()),
        _column("piece_id", sa.Integer()),
        _column("food", sa.String(40)),
        _column("stroke", sa.String(12)),
        _column("lot", sa.String(80)),
        _column("height_mm", sa.Double(), nullable=True),
        _column("width_mm", sa.Double(), nullable=True),
        _column("depth_mm", postgresql.JSONB()),
        _column("force_n", postgresql.JSONB()),
        _column("instrument_id", sa.Integer(), nullable=True),
        _refers("cuts", "session_id", "cut_sessions"),
        _refers("cuts", "piece_id", "pieces"),
        _refers("cuts", "instrument_id", "instruments"),
        sa.UniqueConstraint("client_id", name=op.f("uq_cuts_client_id")),
    )
    op.create_index(op.f("ix_cuts_session_id"), "cuts", ["session_id"])
    op.create_index(op.f("ix_cuts_piece_id"), "cuts", ["piece_id"])
    _append_only(
        "cut_marks",
        _column("cut_id", sa.Integer()),
        _column("reason", sa.String(200)),
        _refers("cut_marks", "cut_id", "cuts"),
    )
    op.create_index(op.f("ix_cut_marks_cut_id"), "cut_marks", ["cut_id"])


def downgrade() -> None:
    for name in reversed(TABLES):
        op.drop_table(name)
