"""what the shop's own repeats say of its scatter, and repeat studies"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None

_TABLE = "repeatabilities"
_STALE = f"""
CREATE FUNCTION {_TABLE}_insert_touches() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    INSERT INTO shelf_stale (piece_id)
    SELECT DISTINCT s.piece_id FROM now_there x
      JOIN readings r ON r.instrument_id = x.instrument_id AND r.quantity = x.quantity
      JOIN sheets s ON s.id = r.sheet_id;
    RETURN NULL;
END $body$
"""


def _refers(column: str, to: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{to}.id"], name=op.f(f"fk_{_TABLE}_{column}_{to}"))


def upgrade() -> None:
    op.create_table(
        _TABLE,
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.Column("quantity", sa.String(40), nullable=False),
        sa.Column("instrument_id", sa.Integer(), nullable=False),
        sa.Column("deviation", sa.Double(), nullable=True),
        sa.Column("between_people", sa.Double(), nullable=False),
        sa.Column("freedom", sa.Integer(), nullable=False),
        sa.Column("study", postgresql.JSONB(), nullable=True),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        _refers("instrument_id", "instruments"),
        _refers("person_id", "people"),
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{_TABLE}")),
        sa.UniqueConstraint("client_id", name=op.f(f"uq_{_TABLE}_client_id")),
    )
    op.execute(
        f"CREATE TRIGGER {_TABLE}_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON {_TABLE} "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )
    op.execute(_STALE)
    op.execute(
        f"CREATE TRIGGER {_TABLE}_insert_touches AFTER INSERT ON {_TABLE} "
        "REFERENCING NEW TABLE AS now_there FOR EACH STATEMENT "
        f"EXECUTE FUNCTION {_TABLE}_insert_touches()"
    )
    op.execute(
        f"CREATE TRIGGER {_TABLE}_made AFTER INSERT ON {_TABLE} REFERENCING NEW TABLE AS now_there "
        "FOR EACH STATEMENT EXECUTE FUNCTION audit_made('id', 'x.quantity', '{study}')"
    )
    # uncertainties are counted in another way, so every row has to be written anew
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")


def downgrade() -> None:
    op.drop_table(_TABLE)
    op.execute(f"DROP FUNCTION {_TABLE}_insert_touches()")
    op.execute("INSERT INTO shelf_stale (piece_id) SELECT piece_id FROM shelf")
