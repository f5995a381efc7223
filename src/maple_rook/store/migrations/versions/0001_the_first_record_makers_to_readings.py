"""the first record: makers to readings"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

APPEND_ONLY_TABLES = ("readings", "reading_voids")

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "instruments",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("kind", sa.String(length=40), nullable=False),
        sa.Column("resolution", sa.Double(), nullable=False),
        sa.Column("mpe", sa.Double(), nullable=False),
        sa.Column("unit", sa.String(length=8), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_instruments")),
        sa.UniqueConstraint("name", name=op.f("uq_instruments_name")),
    )
    op.create_table(
        "makers",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_makers")),
        sa.UniqueConstraint("name", name=op.f("uq_makers_name")),
    )
    op.create_table(
        "people",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("role", sa.String(length=40), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_people")),
        sa.UniqueConstraint("name", name=op.f("uq_people_name")),
    )
    op.create_table(
        "shop",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("place", sa.String(length=120), nullable=False),
        sa.Column("currency", sa.String(length=12), nullable=False),
        sa.Column("demo", sa.Boolean(), nullable=False),
        sa.CheckConstraint("id = 1", name=op.f("ck_shop_single")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_shop")),
    )
    op.create_table(
        "steels",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("designation", sa.String(length=40), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("standard", sa.String(length=60), nullable=False),
        sa.Column("composition", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("carbides", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("usual_hrc_low", sa.Double(), nullable=False),
        sa.Column("usual_hrc_high", sa.Double(), nullable=False),
        sa.Column("toughness", sa.String(length=20), nullable=False),
        sa.Column("sharpening", sa.String(length=20), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_steels")),
        sa.UniqueConstraint("designation", name=op.f("uq_steels_designation")),
    )
    op.create_table(
        "knife_models",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("maker_id", sa.Integer(), nullable=False),
        sa.Column("line", sa.String(length=80), nullable=False),
        sa.Column("knife_type", sa.String(length=40), nullable=False),
        sa.Column("nominal_mm", sa.Double(), nullable=False),
        sa.Column("grind", sa.String(length=40), nullable=False),
        sa.Column("construction", sa.String(length=120), nullable=False),
        sa.Column("finish", sa.String(length=120), nullable=False),
        sa.Column("handle", sa.String(length=120), nullable=False),
        sa.Column("even_machine_edge", sa.Boolean(), nullable=False),
        sa.Column("steel_id", sa.Integer(), nullable=True),
        sa.Column("price", sa.Numeric(precision=10, scale=2), nullable=True),
        sa.ForeignKeyConstraint(
            ["maker_id"], ["makers.id"], name=op.f("fk_knife_models_maker_id_makers")
        ),
        sa.ForeignKeyConstraint(
            ["steel_id"], ["steels.id"], name=op.f("fk_knife_models_steel_id_steels")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_knife_models")),
    )
    op.create_index(op.f("ix_knife_models_maker_id"), "knife_models", ["maker_id"], unique=False)
    op.create_index(op.f("ix_knife_models_steel_id"), "knife_models", ["steel_id"], unique=False)
    op.create_index(
        "uq_knife_models_name",
        "knife_models",
        ["maker_id", "line", "knife_type", "nominal_mm"],
        unique=True,
    )
    op.create_table(
        "claims",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("model_id", sa.Integer(), nullable=False),
        sa.Column("quantity", sa.String(length=40), nullable=False),
        sa.Column("printed", sa.String(length=64), nullable=False),
        sa.Column("low", sa.Double(), nullable=False),
        sa.Column("high", sa.Double(), nullable=False),
        sa.ForeignKeyConstraint(
            ["model_id"], ["knife_models.id"], name=op.f("fk_claims_model_id_knife_models")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_claims")),
    )
    op.create_index(op.f("ix_claims_model_id"), "claims", ["model_id"], unique=False)
    op.create_table(
        "pieces",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("model_id", sa.Integer(), nullable=False),
        sa.Column("tag", sa.String(length=40), nullable=False),
        sa.Column("condition", sa.String(length=20), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column(
            "created_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.ForeignKeyConstraint(
            ["model_id"], ["knife_models.id"], name=op.f("fk_pieces_model_id_knife_models")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pieces")),
        sa.UniqueConstraint("tag", name=op.f("uq_pieces_tag")),
    )
    op.create_index(op.f("ix_pieces_model_id"), "pieces", ["model_id"], unique=False)
    op.create_table(
        "sheets",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column(
            "started_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("finished_at", postgresql.TIMESTAMP(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_sheets_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["piece_id"], ["pieces.id"], name=op.f("fk_sheets_piece_id_pieces")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sheets")),
    )
    op.create_index(op.f("ix_sheets_piece_id"), "sheets", ["piece_id"], unique=False)
    op.create_table(
        "readings",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("quantity", sa.String(length=40), nullable=False),
        sa.Column("typed", sa.String(length=64), nullable=False),
        sa.Column("value", sa.Double(), nullable=False),
        sa.Column("unit", sa.String(length=8), nullable=False),
        sa.Column("si_value", sa.Double(), nullable=False),
        sa.Column("si_unit", sa.String(length=8), nullable=False),
        sa.Column("instrument_id", sa.Integer(), nullable=False),
        sa.Column("method", sa.String(length=40), nullable=False),
        sa.Column("station", sa.String(length=40), nullable=False),
        sa.Column("station_mm", sa.Double(), nullable=True),
        sa.Column("replicate", sa.Integer(), nullable=False),
        sa.Column("unusual_confirmed", sa.Boolean(), nullable=False),
        sa.Column("taken_at", postgresql.TIMESTAMP(timezone=True), nullable=False),
        sa.Column(
            "recorded_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.CheckConstraint("replicate >= 1", name=op.f("ck_readings_replicate")),
        sa.CheckConstraint(
            "si_value = si_value AND abs(si_value) < 1e6", name=op.f("ck_readings_finite")
        ),
        sa.ForeignKeyConstraint(
            ["instrument_id"],
            ["instruments.id"],
            name=op.f("fk_readings_instrument_id_instruments"),
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_readings_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name=op.f("fk_readings_sheet_id_sheets")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_readings")),
        sa.UniqueConstraint("client_id", name=op.f("uq_readings_client_id")),
    )
    op.create_index(
        "ix_readings_sheet_quantity", "readings", ["sheet_id", "quantity"], unique=False
    )
    op.create_table(
        "reading_voids",
        sa.Column("reading_id", sa.BigInteger(), autoincrement=False, nullable=False),
        sa.Column("reason", sa.String(length=200), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column(
            "voided_at",
            postgresql.TIMESTAMP(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_reading_voids_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["reading_id"], ["readings.id"], name=op.f("fk_reading_voids_reading_id_readings")
        ),
        sa.PrimaryKeyConstraint("reading_id", name=op.f("pk_reading_voids")),
    )
    op.execute(
        "CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$ "
        "BEGIN RAISE EXCEPTION '% is append-only', TG_TABLE_NAME; END $$"
    )
    for table in APPEND_ONLY_TABLES:
        op.execute(
            f"CREATE TRIGGER {table}_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON {table} "
            "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
        )


def downgrade() -> None:
    op.drop_table("reading_voids")
    op.drop_index("ix_readings_sheet_quantity", table_name="readings")
    op.drop_table("readings")
    op.drop_index(op.f("ix_sheets_piece_id"), table_name="sheets")
    op.drop_table("sheets")
    op.drop_index(op.f("ix_pieces_model_id"), table_name="pieces")
    op.drop_table("pieces")
    op.drop_index(op.f("ix_claims_model_id"), table_name="claims")
    op.drop_table("claims")
    op.drop_index("uq_knife_models_name", table_name="knife_models")
    op.drop_index(op.f("ix_knife_models_steel_id"), table_name="knife_models")
    op.drop_index(op.f("ix_knife_models_maker_id"), table_name="knife_models")
    op.drop_table("knife_models")
    op.drop_table("steels")
    op.drop_table("shop")
    op.drop_table("people")
    op.drop_table("makers")
    op.drop_table("instruments")
    op.execute("DROP FUNCTION refuse_change()")
