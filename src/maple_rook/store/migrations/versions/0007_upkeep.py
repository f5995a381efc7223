"""the workshop, upkeep plans and log, work orders"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql
from sqlalchemy.schema import SchemaItem

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

TABLES = (
    "workshop_sets",
    "upkeep_plans",
    "upkeep_plan_marks",
    "upkeep_log",
    "upkeep_voids",
    "work_orders",
    "work_jobs",
    "work_events",
)


def _text(name: str, length: int, *, optional: bool = False) -> sa.Column[str]:
    return sa.Column(name, sa.String(length), nullable=optional)


def _number(name: str, *, optional: bool = True) -> sa.Column[float]:
    return sa.Column(name, sa.Float(), nullable=optional)


def _of(name: str, table: str, target: str, *, optional: bool = False) -> list[SchemaItem]:
    return [
        sa.Column(name, sa.Integer(), nullable=optional),
        sa.ForeignKeyConstraint([name], [f"{target}.id"], name=op.f(f"fk_{table}_{name}_{target}")),
    ]


def _once(table: str) -> list[SchemaItem]:
    return [
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.UniqueConstraint("client_id", name=op.f(f"uq_{table}_client_id")),
    ]


def _table(name: str, *columns: SchemaItem, key: str = "id", written: bool = True) -> None:
    """A table whose rows say who wrote them and when."""
    numbered = [sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False)]
    who = [
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        *_of("person_id", name, "people"),
    ]
    op.create_table(
        name,
        *(numbered if key == "id" else []),
        *columns,
        *(who if written else []),
        sa.PrimaryKeyConstraint(key, name=op.f(f"pk_{name}")),
    )


def upgrade() -> None:
    json = postgresql.JSONB()
    _table("workshop_sets", sa.Column("workshop", json, nullable=False))
    _table(
        "upkeep_plans",
        *_once("upkeep_plans"),
        *_of("piece_id", "upkeep_plans", "pieces"),
        _text("label", 60),
        sa.Column("kitchen", json, nullable=False),
        _text("rods", 40),
        sa.Column("begun_on", sa.Date(), nullable=False),
    )
    _table(
        "upkeep_plan_marks",
        *_of("plan_id", "upkeep_plan_marks", "upkeep_plans"),
        sa.Column("ended", sa.Boolean(), nullable=False),
    )
    _table(
        "upkeep_log",
        *_once("upkeep_log"),
        *_of("piece_id", "upkeep_log", "pieces"),
        _text("care", 20),
        sa.Column("done_on", sa.Date(), nullable=False),
        *(_number(name) for name in ("angle_deg", "height_mm", "behind_edge_mm", "minutes")),
        sa.Column("grit", sa.Integer(), nullable=True),
        _text("note", 400),
        sa.CheckConstraint("height_mm > 0 AND height_mm < 1000", name=op.f("ck_upkeep_log_height")),
        sa.CheckConstraint(
            "behind_edge_mm > 0 AND behind_edge_mm < 100", name=op.f("ck_upkeep_log_behind_edge")
        ),
    )
    _table(
        "upkeep_voids",
        *_of("done_id", "upkeep_voids", "upkeep_log"),
        _text("reason", 200),
        key="done_id",
    )
    _table(
        "work_orders",
        *_once("work_orders"),
        *_of("piece_id", "work_orders", "pieces"),
        *_of("sheet_id", "work_orders", "sheets"),
    )
    _table(
        "work_jobs",
        *_of("order_id", "work_jobs", "work_orders"),
        sa.Column("place", sa.Integer(), nullable=False),
        _text("item", 48),
        _text("aspect", 12),
        _text("severity", 12),
        _text("label", 120),
        _text("note", 400),
        _text("what", 400),
        sa.Column("grits", json, nullable=False),
        sa.Column("materials", json, nullable=False),
        _number("minutes", optional=False),
        _text("caution", 300),
        _text("recheck", 200),
        sa.Column("returns", sa.Boolean(), nullable=False),
        sa.Column("seen_id", sa.BigInteger(), nullable=True),
        sa.ForeignKeyConstraint(
            ["seen_id"], ["observations.id"], name=op.f("fk_work_jobs_seen_id_observations")
        ),
        written=False,
    )
    _table(
        "work_events",
        *_once("work_events"),
        *_of("job_id", "work_events", "work_jobs"),
        _text("kind", 12),
        _number("minutes"),
        _text("value", 12),
        _text("note", 400),
        *_of("photo_id", "work_events", "photos", optional=True),
    )
    for table, column in (
        ("upkeep_plans", "piece_id"),
        ("upkeep_plan_marks", "plan_id"),
        ("upkeep_log", "piece_id"),
        ("work_orders", "piece_id"),
        ("work_jobs", "order_id"),
        ("work_events", "job_id"),
    ):
        op.create_index(op.f(f"ix_{table}_{column}"), table, [column])
    for name in TABLES:
        op.execute(
            f"CREATE TRIGGER {name}_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON {name} "
            "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
        )


def downgrade() -> None:
    for name in reversed(TABLES):
        op.drop_table(name)
