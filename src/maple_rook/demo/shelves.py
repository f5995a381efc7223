"""Large shelves, made of the demo shop's measured pieces."""

from __future__ import annotations

from sqlalchemy import Engine, text

_MODELS = """
    INSERT INTO knife_models (maker_id, line, knife_type, nominal_mm, grind, construction, finish,
        handle, even_machine_edge, steel_id, price)
    SELECT maker_id, line || ' ' || g, knife_type, nominal_mm, grind, construction, finish, handle,
        even_machine_edge, steel_id, price + g % 40
    FROM knife_models, generate_series(1, :copies) g"""
_WANTED = """
    CREATE TEMPORARY TABLE wanted ON COMMIT DROP AS
    WITH source AS (
        SELECT m.*, s.id AS sheet, s.person_id, row_number() OVER (ORDER BY p.id) AS n
        FROM pieces p JOIN sheets s ON s.piece_id = p.id JOIN knife_models m ON m.id = p.model_id
        WHERE s.finished_at IS NOT NULL AND p.tag NOT LIKE 'X%-%'),
    placed AS (
        SELECT g, 1 + g % (SELECT count(*) FROM source) AS n,
            CASE CAST(:copies AS integer) WHEN 0 THEN ''
                ELSE ' ' || (1 + g % greatest(:copies, 1)) END AS suffix
        FROM generate_series(1, :pieces) g)
    SELECT source.sheet, source.person_id, new.id AS model_id, 'X' || :copies || '-' || g AS tag
    FROM placed JOIN source ON source.n = placed.n
    JOIN knife_models new ON new.line = source.line || placed.suffix
        AND (new.maker_id, new.knife_type, new.nominal_mm)
            = (source.maker_id, source.knife_type, source.nominal_mm)"""
_PIECES = """
    INSERT INTO pieces (model_id, tag, condition, note)
    SELECT model_id, tag, 'new', '' FROM wanted"""
_SHEETS = """
    INSERT INTO sheets (piece_id, person_id, finished_at)
    SELECT p.id, w.person_id, now() FROM wanted w JOIN pieces p ON p.tag = w.tag"""
_READINGS = """
    INSERT INTO readings (client_id, sheet_id, quantity, typed, value, unit, si_value, si_unit,
        instrument_id, method, station, replicate, unusual_confirmed, taken_at, person_id)
    SELECT gen_random_uuid(), s.id, r.quantity, r.typed, r.value, r.unit, r.si_value, r.si_unit,
        r.instrument_id, r.method, r.station, r.replicate, r.unusual_confirmed, r.taken_at,
        r.person_id
    FROM wanted w JOIN pieces p ON p.tag = w.tag JOIN sheets s ON s.piece_id = p.id
    JOIN readings r ON r.sheet_id = w.sheet"""


def enlarge(engine: Engine, pieces: int, copies: int = 0) -> None:
    """Copy measured pieces, readings and all, until so many more stand on the shelf.

    With ``copies`` every model stands there so often more, and the pieces are spread over those.
    """
    with engine.begin() as connection:
        connection.execute(text("SET LOCAL maple_rook.audit = 'off'"))
        connection.execute(text("SET LOCAL statement_timeout = 0"))
        connection.execute(text(_MODELS), {"copies": copies})
        connection.execute(text(_WANTED), {"pieces": pieces, "copies": copies})
        for step in (_PIECES, _SHEETS, _READINGS):  # with statistics of what was written before
            connection.execute(text("ANALYZE"))
            connection.execute(text(step))
        connection.execute(text("ANALYZE"))


def grow_to(engine: Engine, pieces: int) -> int:
    """Bring the demo shelf to so many pieces of ever more models; how many were added."""
    with engine.connect() as connection:
        have = int(connection.scalar(text("SELECT count(*) FROM pieces")) or 0)
    if pieces > have:
        enlarge(engine, pieces - have, max(1, pieces // 100))
    return max(0, pieces - have)
