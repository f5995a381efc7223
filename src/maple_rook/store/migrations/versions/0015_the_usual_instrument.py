"""the usual instrument of a quantity is found by one function, and is never a retired one"""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

USUAL_INSTRUMENT = """
CREATE FUNCTION usual_instrument(kinds text[], wanted_resolution double precision)
RETURNS integer LANGUAGE sql STABLE AS $$
    SELECT i.id FROM instruments i
     WHERE i.kind = ANY (kinds) AND i.certified IS NULL AND NOT i.retired
     ORDER BY i.stand_in, array_position(kinds, i.kind::text), i.resolution <> wanted_resolution,
              i.id
     LIMIT 1
$$
"""
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
{instrument}
    IF r.station_mm IS NULL AND given ? 'share' THEN
        r.station_mm := round(((given ->> 'offset_mm')::float + (given ->> 'share')::float * (
            SELECT avg(e.si_value) FROM readings e
             WHERE e.sheet_id = r.sheet_id AND e.quantity = 'edge_length' AND NOT EXISTS
                   (SELECT 1 FROM reading_voids v WHERE v.reading_id = e.id)))::numeric, 3);
    END IF;
    INSERT INTO readings (client_id, sheet_id, quantity, typed, value, unit, si_value, si_unit,
           instrument_id, method, station, station_mm, above_edge_mm, reference_id, replicate,
           unusual_confirmed, standard_uncertainty, taken_at, person_id)
    VALUES (r.client_id, r.sheet_id, r.quantity, r.typed, r.value, r.unit, r.si_value, r.si_unit,
           r.instrument_id, r.method, r.station, r.station_mm, r.above_edge_mm, r.reference_id,
           r.replicate, r.unusual_confirmed, r.standard_uncertainty, r.taken_at, r.person_id)
    ON CONFLICT (client_id) DO NOTHING
    RETURNING 'kept', readings.id, readings.sheet_id, readings.replicate
         INTO told, id, sheet_id, replicate;
    IF NOT FOUND THEN  -- the same reading came in on another sheet at the same moment
        SELECT 'known', k.id, k.sheet_id, k.replicate INTO told, id, sheet_id, replicate
          FROM readings k WHERE k.client_id = r.client_id;
    END IF;
END $$
"""
_USUAL = """    r.instrument_id := coalesce(r.instrument_id, usual_instrument(
        ARRAY(SELECT jsonb_array_elements_text(given -> 'kinds')),
        (given ->> 'resolution')::float));
    IF r.instrument_id IS NULL THEN
        told := 'no instrument';
        RETURN;
    END IF;"""
_BEFORE = """    r.instrument_id := coalesce(r.instrument_id, (
        SELECT i.id FROM instruments i
         WHERE i.kind = given ->> 'kind' AND i.certified IS NULL
         ORDER BY i.resolution <> (given ->> 'resolution')::float, i.retired, i.id LIMIT 1));"""


def upgrade() -> None:
    op.execute(USUAL_INSTRUMENT)
    op.execute(_KEEP_READING.format(instrument=_USUAL))


def downgrade() -> None:
    op.execute(_KEEP_READING.format(instrument=_BEFORE))
    op.execute("DROP FUNCTION usual_instrument(text[], double precision)")
