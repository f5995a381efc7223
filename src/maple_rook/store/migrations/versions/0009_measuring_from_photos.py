"""photos that are measured, readings with an uncertainty of their own, traced spines"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

KEEP_READING = """
CREATE OR REPLACE FUNCTION keep_reading(
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
           unusual_confirmed, {own} taken_at, person_id)
    VALUES (r.client_id, r.sheet_id, r.quantity, r.typed, r.value, r.unit, r.si_value, r.si_unit,
           r.instrument_id, r.method, r.station, r.station_mm, r.above_edge_mm, r.reference_id,
           r.replicate, r.unusual_confirmed, {of_own} r.taken_at, r.person_id)
    ON CONFLICT (client_id) DO NOTHING
    RETURNING 'kept', readings.id, readings.sheet_id, readings.replicate
         INTO told, id, sheet_id, replicate;
    IF NOT FOUND THEN  -- the same reading came in on another sheet at the same moment
        SELECT 'known', k.id, k.sheet_id, k.replicate INTO told, id, sheet_id, replicate
          FROM readings k WHERE k.client_id = r.client_id;
    END IF;
END $$
"""


def _table(name: str, *columns: sa.Column[object] | sa.Constraint) -> None:
    """A table whose rows say who wrote them and when, each known by the key its writer made."""
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("client_id", sa.Uuid(), nullable=False),
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
        sa.UniqueConstraint("client_id", name=op.f(f"uq_{name}_client_id")),
    )


def _refuse(name: str, what: str) -> None:
    op.execute(
        f"CREATE TRIGGER {name}_append_only BEFORE {what} ON {name} "
        "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
    )


def upgrade() -> None:
    op.add_column("readings", sa.Column("standard_uncertainty", sa.Double(), nullable=True))
    op.execute(KEEP_READING.format(own="standard_uncertainty,", of_own="r.standard_uncertainty,"))
    op.add_column("edge_traces", sa.Column("spine", postgresql.JSONB(), nullable=True))
    json = postgresql.JSONB()
    _table(
        "measuring_photos",
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("view", sa.String(8), nullable=False),
        sa.Column("media_type", sa.String(20), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("width_px", sa.Integer(), nullable=False),
        sa.Column("height_px", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name=op.f("fk_measuring_photos_sheet_id_sheets")
        ),
        sa.CheckConstraint("width_px > 0 AND height_px > 0", name=op.f("ck_measuring_photos_size")),
    )
    op.create_index(op.f("ix_measuring_photos_sheet_id"), "measuring_photos", ["sheet_id"])
    _refuse("measuring_photos", "UPDATE OR TRUNCATE")
    _table(
        "photo_measurements",
        sa.Column("photo_id", sa.Integer(), nullable=False),
        sa.Column("method", sa.Integer(), nullable=False),
        sa.Column("parameters", json, nullable=False),
        sa.Column("results", json, nullable=False),
        sa.ForeignKeyConstraint(
            ["photo_id"],
            ["measuring_photos.id"],
            name=op.f("fk_photo_measurements_photo_id_measuring_photos"),
        ),
    )
    op.create_index(op.f("ix_photo_measurements_photo_id"), "photo_measurements", ["photo_id"])
    _refuse("photo_measurements", "UPDATE OR DELETE OR TRUNCATE")


def downgrade() -> None:
    for name in ("photo_measurements", "measuring_photos"):
        op.drop_table(name)
    op.drop_column("edge_traces", "spine")
    op.execute(KEEP_READING.format(own="", of_own=""))
    op.drop_column("readings", "standard_uncertainty")
