"""the shelf as it was last worked out, which pieces changed since, and long jobs"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

_OF_SHEET = "SELECT s.piece_id FROM now_there x JOIN sheets s ON s.id = x.sheet_id"
_OF_MODEL = "SELECT p.id FROM pieces p JOIN knife_models m ON m.id = p.model_id"
TOUCHES = {
    ("readings", "INSERT"): _OF_SHEET,
    ("observations", "INSERT"): _OF_SHEET,
    ("edge_traces", "INSERT"): _OF_SHEET,
    ("reading_voids", "INSERT"): "SELECT s.piece_id FROM now_there x"
    " JOIN readings r ON r.id = x.reading_id JOIN sheets s ON s.id = r.sheet_id",
    ("work_events", "INSERT"): "SELECT o.piece_id FROM now_there x"
    " JOIN work_jobs j ON j.id = x.job_id JOIN work_orders o ON o.id = j.order_id",
    ("pieces", "INSERT"): "SELECT x.id FROM now_there x",
    ("pieces", "UPDATE"): "SELECT x.id FROM now_there x",
    ("claims", "INSERT"): f"{_OF_MODEL} JOIN now_there x ON x.model_id = m.id",
    ("claims", "UPDATE"): f"{_OF_MODEL} JOIN now_there x ON x.model_id = m.id",
    ("claims", "DELETE"): f"{_OF_MODEL} JOIN was_there x ON x.model_id = m.id",
    ("knife_models", "UPDATE"): f"{_OF_MODEL} JOIN now_there x ON x.id = m.id",
    ("makers", "UPDATE"): f"{_OF_MODEL} JOIN now_there x ON x.id = m.maker_id",
    ("steels", "UPDATE"): f"{_OF_MODEL} JOIN now_there x ON x.id = m.steel_id",
    ("instruments", "UPDATE"): "SELECT s.piece_id FROM now_there x"
    " JOIN was_there o ON o.id = x.id AND (o.resolution, o.mpe, o.certified)"
    " IS DISTINCT FROM (x.resolution, x.mpe, x.certified)"
    " JOIN readings r ON x.id IN (r.instrument_id, r.reference_id)"
    " JOIN sheets s ON s.id = r.sheet_id",
}
"""By table and event: the pieces of which something is not as it was."""
_SEEN = {
    "INSERT": "NEW TABLE AS now_there",
    "UPDATE": "OLD TABLE AS was_there NEW TABLE AS now_there",
    "DELETE": "OLD TABLE AS was_there",
}
_FUNCTION = """
CREATE FUNCTION {name}() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    INSERT INTO shelf_stale (piece_id)
    SELECT DISTINCT touched.id FROM ({pieces}) touched(id)
     WHERE NOT EXISTS (SELECT FROM shelf_stale told WHERE told.piece_id = touched.id
                          AND told.xmin = pg_current_xact_id()::xid);
    RETURN NULL;
END $body$
"""
"""One transaction says of a piece only once that it changed."""

FIGURES = (
    "edge_length",
    "weight",
    "height_heel",
    "hardness",
    "edge_angle",
    "thickness_behind_edge",
    "ease",
    "months_to_stone",
    "price",
)
_LIMITS = ("ease_low", "ease_high", "months_low", "months_high")


def _piece(table: str) -> tuple[sa.Column[object], sa.ForeignKeyConstraint]:
    named = op.f(f"fk_{table}_piece_id_pieces")
    return (
        sa.Column("piece_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.ForeignKeyConstraint(["piece_id"], ["pieces.id"], name=named, ondelete="CASCADE"),
    )


def _needed(name: str, kind: sa.types.TypeEngine[Any]) -> sa.Column[Any]:
    return sa.Column(name, kind, nullable=False)


def _tables() -> None:
    plain, json = sa.Text(collation="C"), postgresql.JSONB()
    op.create_table(
        "shelf",
        *_piece("shelf"),
        _needed("model_id", sa.Integer()),
        _needed("version", sa.BigInteger()),
        _needed("reckoned", sa.String(16)),
        sa.Column(
            "written",
            sa.BigInteger(),
            nullable=False,
            server_default=sa.text("pg_current_xact_id()::text::bigint"),
        ),
        _needed("tag", sa.String(40)),
        _needed("name", plain),
        _needed("type_label", plain),
        _needed("knife_type", sa.String(40)),
        _needed("condition", sa.String(20)),
        sa.Column("grade_class", sa.String(40), nullable=True),
        _needed("words", sa.Text()),
        *(sa.Column(name, sa.Double(), nullable=True) for name in (*FIGURES, *_LIMITS)),
        _needed("drawn_mm", sa.Double()),
        _needed("figures", json),
        _needed("row", sa.Text()),
        _needed("decides", postgresql.ARRAY(sa.Double())),
        _needed("central", postgresql.ARRAY(sa.Double())),
        sa.PrimaryKeyConstraint("piece_id", name=op.f("pk_shelf")),
    )
    for column in ("reckoned", "written", "knife_type"):
        op.create_index(op.f(f"ix_shelf_{column}"), "shelf", [column])
    for column in ("name", "type_label", *FIGURES):
        for suffix, order in (("", "ASC"), ("_falling", "DESC")):
            by = sa.text(f"{column} {order} NULLS LAST")
            op.create_index(f"ix_shelf_{column}{suffix}", "shelf", [by, "piece_id"])
    op.create_index(
        "ix_shelf_words",
        "shelf",
        ["words"],
        postgresql_using="gin",
        postgresql_ops={"words": "gin_trgm_ops"},
    )
    op.create_table(
        "shelf_claims",
        *_piece("shelf_claims"),
        sa.Column("number", sa.Integer(), autoincrement=False, nullable=False),
        _needed("model_id", sa.Integer()),
        _needed("model", plain),
        _needed("quantity", sa.String(40)),
        _needed("label", plain),
        _needed("gravity", sa.Integer()),
        _needed("tag", sa.String(40)),
        _needed("claim", json),
        sa.Column("measured", json, nullable=True),
        sa.PrimaryKeyConstraint("piece_id", "number", name=op.f("pk_shelf_claims")),
    )
    op.create_index("ix_shelf_claims_model_quantity", "shelf_claims", ["model_id", "quantity"])
    op.create_table(
        "shelf_stale",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        _needed("piece_id", sa.Integer()),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_shelf_stale")),
    )
    op.create_index(op.f("ix_shelf_stale_piece_id"), "shelf_stale", ["piece_id"])
    op.create_table(
        "long_jobs",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        _needed("kind", sa.String(20)),
        _needed("state", sa.String(12)),
        _needed("done", sa.Integer()),
        _needed("total", sa.Integer()),
        _needed("cancelled", sa.Boolean()),
        _needed("problem", sa.Text()),
        sa.Column("found", json, nullable=True),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("ended_at", postgresql.TIMESTAMP(timezone=True), nullable=True),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_long_jobs_person_id_people")
        ),
        sa.CheckConstraint(
            "state IN ('waiting', 'running', 'done', 'stopped', 'failed')",
            name=op.f("ck_long_jobs_state"),
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_long_jobs")),
    )
    op.create_index("ix_long_jobs_kind", "long_jobs", ["kind", "id"])


def upgrade() -> None:
    op.execute("CREATE EXTENSION IF NOT EXISTS pg_trgm")
    _tables()
    for (table, event), pieces in TOUCHES.items():
        name = f"shelf_by_{table}_{event.lower()}"
        op.execute(_FUNCTION.format(name=name, pieces=pieces))
        op.execute(
            f"CREATE TRIGGER {name} AFTER {event} ON {table} REFERENCING {_SEEN[event]} "
            f"FOR EACH STATEMENT EXECUTE FUNCTION {name}()"
        )
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT id FROM pieces")


def downgrade() -> None:
    for table, event in TOUCHES:
        name = f"shelf_by_{table}_{event.lower()}"
        op.execute(f"DROP TRIGGER {name} ON {table}")
        op.execute(f"DROP FUNCTION {name}()")
    for table in ("long_jobs", "shelf_stale", "shelf_claims", "shelf"):
        op.drop_table(table)
