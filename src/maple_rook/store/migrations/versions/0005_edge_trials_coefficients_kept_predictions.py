"""edge trials, versions of the coefficients, kept predictions"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

TABLES = (
    "coefficient_sets",
    "trials",
    "trial_points",
    "trial_protocols",
    "trial_marks",
    "kept_predictions",
)


def _append_only(name: str, *columns: sa.Column[Any] | sa.Constraint, big: bool = False) -> None:
    """A table whose rows say who wrote them and when, and stay as they are."""
    kind = sa.BigInteger() if big else sa.Integer()
    op.create_table(
        name,
        sa.Column("id", kind, sa.Identity(always=False), nullable=False),
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
    json = postgresql.JSONB()
    _append_only("coefficient_sets", _column("changes", json), _column("note", sa.String(200)))
    _append_only(
        "trials",
        _column("client_id", sa.Uuid()),
        _column("piece_id", sa.Integer()),
        _column("kind", sa.String(20)),
        _column("source", sa.String(12)),
        _column("given", sa.Text()),
        _column("note", sa.String(400)),
        _column("instrument_id", sa.Integer(), nullable=True),
        _column("started_at", postgresql.TIMESTAMP(timezone=True)),
        _refers("trials", "piece_id", "pieces"),
        _refers("trials", "instrument_id", "instruments"),
        sa.UniqueConstraint("client_id", name=op.f("uq_trials_client_id")),
    )
    op.create_index(op.f("ix_trials_piece_id"), "trials", ["piece_id"])
    _append_only(
        "trial_points",
        _column("client_id", sa.Uuid()),
        _column("trial_id", sa.Integer()),
        _column("x", sa.Double()),
        _column("value", sa.Double(), nullable=True),
        _column("event", sa.String(12)),
        sa.CheckConstraint("x = x AND abs(x) < 1e6", name=op.f("ck_trial_points_finite_x")),
        sa.CheckConstraint(
            "value = value AND abs(value) < 1e6", name=op.f("ck_trial_points_finite_value")
        ),
        _refers("trial_points", "trial_id", "trials"),
        sa.UniqueConstraint("client_id", name=op.f("uq_trial_points_client_id")),
        big=True,
    )
    op.create_index("ix_trial_points_trial_x", "trial_points", ["trial_id", "x"])
    for name, column in (
        ("trial_protocols", _column("protocol", json)),
        ("trial_marks", _column("reason", sa.String(200))),
    ):
        _append_only(
            name, _column("trial_id", sa.Integer()), column, _refers(name, "trial_id", "trials")
        )
        op.create_index(op.f(f"ix_{name}_trial_id"), name, ["trial_id"])
    _append_only(
        "kept_predictions",
        _column("piece_id", sa.Integer()),
        _column("trial_id", sa.Integer(), nullable=True),
        _column("coefficients_id", sa.Integer(), nullable=True),
        _column("basis", sa.String(12)),
        _column("note", sa.String(200)),
        _column("made_with", json),
        _column("cards", json),
        _column("results", json),
        _refers("kept_predictions", "piece_id", "pieces"),
        _refers("kept_predictions", "trial_id", "trials"),
        _refers("kept_predictions", "coefficients_id", "coefficient_sets"),
    )
    op.create_index(op.f("ix_kept_predictions_piece_id"), "kept_predictions", ["piece_id"])


def downgrade() -> None:
    for name in reversed(TABLES):
        op.drop_table(name)
