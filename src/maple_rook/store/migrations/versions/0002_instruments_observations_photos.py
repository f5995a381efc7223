"""instruments as records, observations and photos"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

APPEND_ONLY_TABLES = ("photos", "observations")

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

_TIME = postgresql.TIMESTAMP(timezone=True)

KEEP_READING = """
CREATE FUNCTION keep_reading(
    given jsonb, OUT told text, OUT id bigint, OUT sheet_id integer, OUT replicate integer)
LANGUAGE plpgsql AS $$
DECLARE
    r readings := jsonb_populate_record(NULL::readings, given);
    ended timestamptz;
BEGIN
    SELECT s.finished_at INTO ended FROM sheets s WHERE s.id = r.sheet_id FOR UPDATE;
    IF NOT FOUND THEN
        told := 'no sheet';
        RETURN;
    END IF;
    -- Every statement from here on sees what was stored before the sheet was locked.
    SELECT 'known', k.id, k.sheet_id, k.replicate INTO told, id, sheet_id, replicate
      FROM readings k WHERE k.client_id = r.client_id;
    IF FOUND THEN
        RETURN;
    END IF;
    IF ended IS NOT NULL THEN
        told := 'signed off';
        RETURN;
    END IF;
    r.replicate := (SELECT count(*) + 1 FROM readings k
                     WHERE k.sheet_id = r.sheet_id AND k.quantity = r.quantity);
    r.instrument_id := coalesce(r.instrument_id, (
        SELECT i.id FROM instruments i
         WHERE i.kind = given ->> 'kind' AND i.certified IS NULL
         ORDER BY i.resolution <> (given ->> 'resolution')::float, i.retired, i.id LIMIT 1));
    IF r.station_mm IS NULL AND given ? 'share' THEN
        r.station_mm := (given ->> 'offset_mm')::float + (given ->> 'share')::float * (
            SELECT avg(e.si_value) FROM readings e
             WHERE e.sheet_id = r.sheet_id AND e.quantity = 'edge_length' AND NOT EXISTS
                   (SELECT 1 FROM reading_voids v WHERE v.reading_id = e.id));
    END IF;
    INSERT INTO readings (client_id, sheet_id, quantity, typed, value, unit, si_value, si_unit,
           instrument_id, method, station, station_mm, above_edge_mm, reference_id, replicate,
           unusual_confirmed, taken_at, person_id)
    VALUES (r.client_id, r.sheet_id, r.quantity, r.typed, r.value, r.unit, r.si_value, r.si_unit,
           r.instrument_id, r.method, r.station, r.station_mm, r.above_edge_mm, r.reference_id,
           r.replicate, r.unusual_confirmed, r.taken_at, r.person_id)
    ON CONFLICT (client_id) DO NOTHING
    RETURNING 'kept', readings.id, readings.sheet_id, readings.replicate
         INTO told, id, sheet_id, replicate;
    IF NOT FOUND THEN  -- the same reading came in on another sheet at the same moment
        SELECT 'known', k.id, k.sheet_id, k.replicate INTO told, id, sheet_id, replicate
          FROM readings k WHERE k.client_id = r.client_id;
    END IF;
END $$
"""


def _now(name: str) -> sa.Column[object]:
    return sa.Column(name, _TIME, server_default=sa.text("now()"), nullable=False)


def upgrade() -> None:
    for column in (
        sa.Column("serial", sa.String(length=40), server_default="", nullable=False),
        sa.Column("calibration_due", sa.Date(), nullable=True),
        sa.Column("address", sa.String(length=64), server_default="", nullable=False),
        sa.Column("certified", sa.Double(), nullable=True),
        sa.Column("stand_in", sa.Boolean(), server_default="false", nullable=False),
        sa.Column("retired", sa.Boolean(), server_default="false", nullable=False),
    ):
        op.add_column("instruments", column)
    op.add_column("readings", sa.Column("above_edge_mm", sa.Double(), nullable=True))
    op.add_column("readings", sa.Column("reference_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        op.f("fk_readings_reference_id_instruments"),
        "readings",
        "instruments",
        ["reference_id"],
        ["id"],
    )
    op.create_table(
        "photos",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("media_type", sa.String(length=20), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        _now("recorded_at"),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_photos_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name=op.f("fk_photos_sheet_id_sheets")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photos")),
        sa.UniqueConstraint("client_id", name=op.f("uq_photos_client_id")),
    )
    op.create_index(op.f("ix_photos_sheet_id"), "photos", ["sheet_id"], unique=False)
    op.create_table(
        "observations",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("item", sa.String(length=48), nullable=False),
        sa.Column("aspect", sa.String(length=12), nullable=False),
        sa.Column("value", sa.String(length=200), nullable=False),
        sa.Column("note", sa.String(length=400), nullable=False),
        sa.Column("replaces", sa.Uuid(), nullable=True),
        sa.Column("photo_id", sa.Integer(), nullable=True),
        sa.Column("taken_at", _TIME, nullable=False),
        _now("recorded_at"),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name=op.f("fk_observations_person_id_people")
        ),
        sa.ForeignKeyConstraint(
            ["photo_id"], ["photos.id"], name=op.f("fk_observations_photo_id_photos")
        ),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name=op.f("fk_observations_sheet_id_sheets")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_observations")),
        sa.UniqueConstraint("client_id", name=op.f("uq_observations_client_id")),
    )
    op.create_index(
        "ix_observations_sheet_item", "observations", ["sheet_id", "item", "aspect"], unique=False
    )
    for table in APPEND_ONLY_TABLES:
        op.execute(
            f"CREATE TRIGGER {table}_append_only BEFORE UPDATE OR DELETE OR TRUNCATE ON {table} "
            "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
        )
    op.execute(KEEP_READING)


def downgrade() -> None:
    op.execute("DROP FUNCTION keep_reading(jsonb)")
    op.drop_table("observations")
    op.drop_table("photos")
    op.drop_constraint(op.f("fk_readings_reference_id_instruments"), "readings", type_="foreignkey")
    op.drop_column("readings", "reference_id")
    op.drop_column("readings", "above_edge_mm")
    for name in ("retired", "stand_in", "certified", "address", "calibration_due", "serial"):
        op.drop_column("instruments", name)
