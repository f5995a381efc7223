"""records mended with their history: amendments, sheets set aside, retired models and pieces"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0029"
down_revision = "0028"
branch_labels = None
depends_on = None

_STATES = "'on_shelf', 'reserved', 'sold', 'returned'"
_REFUSE = """
CREATE OR REPLACE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    {unless}RAISE EXCEPTION '% is append-only', TG_TABLE_NAME;
END $$
"""
_WHILE_MENDING = """IF TG_OP = 'UPDATE' AND TG_TABLE_NAME = ANY (
           string_to_array(current_setting('maple_rook.moving', true), ',')) THEN
        RETURN NULL;  -- rows of one piece move to another, which the audit says
    END IF;
    """
_TOUCHED = """
CREATE FUNCTION shelf_by_sheets_update() RETURNS trigger LANGUAGE plpgsql AS $body$
BEGIN
    INSERT INTO shelf_stale (piece_id)
    SELECT DISTINCT touched.id
      FROM was_there o JOIN now_there x ON x.id = o.id
      CROSS JOIN LATERAL (VALUES (o.piece_id), (x.piece_id)) touched(id)
     WHERE (o.piece_id, o.set_aside) IS DISTINCT FROM (x.piece_id, x.set_aside);
    RETURN NULL;
END $body$
"""


def upgrade() -> None:
    op.create_table(
        "amendments",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("act", sa.String(16), nullable=False),
        sa.Column("about", sa.String(8), nullable=False),
        sa.Column("about_id", sa.Integer(), nullable=False),
        sa.Column("named", sa.String(200), nullable=False),
        sa.Column("reason", sa.String(200), nullable=False, server_default=""),
        sa.Column("changes", postgresql.JSONB(), nullable=False),
        sa.Column("undoes_id", sa.Integer(), nullable=True),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_amendments_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["undoes_id"], ["amendments.id"], name=op.f("fk_amendments_undoes_id_amendments")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_amendments")),
        sa.UniqueConstraint("undoes_id", name=op.f("uq_amendments_undoes_id")),
    )
    op.execute(
        "CREATE TRIGGER amendments_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON amendments "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )
    op.execute(
        "CREATE TRIGGER amendments_made AFTER INSERT ON amendments REFERENCING NEW TABLE AS"
        " now_there FOR EACH STATEMENT EXECUTE FUNCTION"
        " audit_made('id', 'x.named', '{changes}')"
    )
    op.execute(_REFUSE.format(unless=_WHILE_MENDING))
    op.add_column("sheets", sa.Column("set_aside", sa.String(200), nullable=True))
    op.add_column(
        "knife_models",
        sa.Column("retired", sa.Boolean(), nullable=False, server_default=sa.text("false")),
    )
    op.add_column("pieces", sa.Column("merged_into_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        op.f("fk_pieces_merged_into_id_pieces"), "pieces", "pieces", ["merged_into_id"], ["id"]
    )
    _stock(f"{_STATES}, 'retired'")
    op.execute(_TOUCHED)
    op.execute(
        "CREATE TRIGGER shelf_by_sheets_update AFTER UPDATE ON sheets REFERENCING OLD TABLE AS"
        " was_there NEW TABLE AS now_there FOR EACH STATEMENT"
        " EXECUTE FUNCTION shelf_by_sheets_update()"
    )


def downgrade() -> None:
    op.execute("DROP TRIGGER shelf_by_sheets_update ON sheets")
    op.execute("DROP FUNCTION shelf_by_sheets_update()")
    op.execute("UPDATE pieces SET stock = 'returned' WHERE stock = 'retired'")
    _stock(_STATES)
    op.drop_constraint(op.f("fk_pieces_merged_into_id_pieces"), "pieces")
    op.drop_column("pieces", "merged_into_id")
    op.drop_column("knife_models", "retired")
    op.drop_column("sheets", "set_aside")
    op.execute(_REFUSE.format(unless=""))
    op.drop_table("amendments")


def _stock(states: str) -> None:
    op.drop_constraint(op.f("ck_pieces_stock"), "pieces")
    op.create_check_constraint(op.f("ck_pieces_stock"), "pieces", f"stock IN ({states})")
