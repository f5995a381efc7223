"""readings say whether they were measured, estimated or told, how finely, and carry a note"""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

_ADDED = ("kind", "typed_step", "note", "photo_id")
_COLUMNS = (
    *("client_id", "sheet_id", "quantity", "typed", "value", "unit", "si_value", "si_unit"),
    *("instrument_id", "method", "station", "station_mm", "above_edge_mm", "reference_id"),
    *("replicate", "unusual_confirmed", "standard_uncertainty", "taken_at", "person_id"),
)
_NOT_MEASURED = ("estimated", "told")
_SHARE = "(given ->> 'share')::float"
_KEEP_READING = """
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
    {measured}r.instrument_id := coalesce(r.instrument_id, usual_instrument(
            ARRAY(SELECT jsonb_array_elements_text(given -> 'kinds')),
            (given ->> 'resolution')::float));
        IF r.instrument_id IS NULL THEN
            told := 'no instrument';
            RETURN;
        END IF;{end_measured}
    IF r.station_mm IS NULL AND given ? 'share' THEN
        r.station_mm := round(((given ->> 'offset_mm')::float + {of_edge}(
            SELECT avg(e.si_value) FROM readings e
             WHERE e.sheet_id = r.sheet_id AND e.quantity = 'edge_length' AND NOT EXISTS
                   (SELECT 1 FROM reading_voids v WHERE v.reading_id = e.id)){end_of_edge}
            )::numeric, 3);
    END IF;
    INSERT INTO readings ({columns})
    VALUES ({values})
    ON CONFLICT (client_id) DO NOTHING
    RETURNING 'kept', readings.id, readings.sheet_id, readings.replicate
         INTO told, id, sheet_id, replicate;
    IF NOT FOUND THEN  -- the same reading came in on another sheet at the same moment
        SELECT 'known', k.id, k.sheet_id, k.replicate INTO told, id, sheet_id, replicate
          FROM readings k WHERE k.client_id = r.client_id;
    END IF;
END $$
"""


def _keep_reading(*, kinds: bool) -> str:
    columns = (*_COLUMNS, *_ADDED) if kinds else _COLUMNS
    defaults = {"kind": "coalesce(r.kind, 'measured')", "note": "coalesce(r.note, '')"}
    return _KEEP_READING.format(
        measured="IF coalesce(r.kind, 'measured') = 'measured' THEN\n        " if kinds else "",
        end_measured="\n    END IF;" if kinds else "",
        of_edge=f"CASE {_SHARE} WHEN 0 THEN 0 ELSE {_SHARE} * " if kinds else f"{_SHARE} * ",
        end_of_edge=" END" if kinds else "",
        columns=", ".join(columns),
        values=", ".join(defaults.get(name, f"r.{name}") for name in columns),
    )


def _on_readings(statement: str) -> None:
    """Readings are only added to; a change of their shape is the one exception."""
    op.execute("ALTER TABLE readings DISABLE TRIGGER USER")
    op.execute(statement)
    op.execute("ALTER TABLE readings ENABLE TRIGGER USER")


def upgrade() -> None:
    op.alter_column("readings", "instrument_id", existing_type=sa.Integer(), nullable=True)
    op.add_column(
        "readings", sa.Column("kind", sa.String(10), nullable=False, server_default="measured")
    )
    op.add_column("readings", sa.Column("typed_step", sa.Float(), nullable=True))
    op.add_column("readings", sa.Column("note", sa.String(400), nullable=False, server_default=""))
    op.add_column("readings", sa.Column("photo_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        op.f("fk_readings_photo_id_photos"), "readings", "photos", ["photo_id"], ["id"]
    )
    _on_readings(
        "UPDATE readings SET kind = method, method = 'manual', instrument_id = NULL"
        f" WHERE method IN {_NOT_MEASURED}"
    )
    op.create_check_constraint(
        op.f("ck_readings_kind"),
        "readings",
        "kind IN ('measured', 'estimated', 'told')"
        " AND (kind <> 'measured' OR instrument_id IS NOT NULL)",
    )
    op.execute(_keep_reading(kinds=True))


def downgrade() -> None:
    """What was estimated or told is a reading by eye there, whose method says so."""
    op.execute(_keep_reading(kinds=False))
    op.drop_constraint(op.f("ck_readings_kind"), "readings")
    _on_readings(
        "UPDATE readings SET method = kind, instrument_id ="
        " (SELECT id FROM instruments ORDER BY kind <> 'eye', id LIMIT 1)"
        " WHERE kind <> 'measured'"
    )
    op.drop_constraint(op.f("fk_readings_photo_id_photos"), "readings")
    for name in reversed(_ADDED):
        op.drop_column("readings", name)
    op.alter_column("readings", "instrument_id", existing_type=sa.Integer(), nullable=False)
