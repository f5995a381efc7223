"""Large shelves, made of the demo shop's measured pieces."""

from __future__ import annotations

from sqlalchemy import Engine, text

_MODELS = """
    INSERT INTO knife_models (maker_id, line, knife_type, nominal_mm, grind, construction, finish,
        handle, even_machine_edge, steel_id, price)
    SELECT maker_id, line || ' ' || g, knife_type, nominal_mm, grind, construction, finish, handle,
        even_machine_edge, steel_id, price + g % 40
    FROM knife_models, generate_series(1, :copies) g"""
_PIECES = """
    WITH source AS (
        SELECT m.*, s.id AS sheet, s.person_id, row_number() OVER (ORDER BY p.id) AS n
        FROM pieces p JOIN sheets s ON s.piece_id = p.id JOIN knife_models m ON m.id = p.model_id
        WHERE s.finished_at IS NOT NULL AND p.tag NOT LIKE 'X%-%'),
    wanted AS (
        SELECT g, source.sheet, source.person_id, new.id AS model_id
        FROM generate_series(1, :pieces) g
        JOIN source ON source.n = 1 + g % (SELECT count(*) FROM source)
        JOIN knife_models new
            ON new.line = source.line || CASE :copies WHEN 0 THEN ''
                ELSE ' ' || (1 + g % greatest(:copies, 1)) END
            AND (new.maker_id, new.knife_type, new.nominal_mm)
                = (source.maker_id, source.knife_type, source.nominal_mm)),
    new_pieces AS (
        INSERT INTO pieces (model_id, tag, condition, note)
        SELECT model_id, 'X' || :copies || '-' || g, 'new', '' FROM wanted RETURNING id, tag),
    new_sheets AS (
        INSERT INTO sheets (piece_id, person_id, finished_at)
        SELECT np.id, w.person_id, now() FROM new_pieces np
        JOIN wanted w ON np.tag = 'X' || :copies || '-' || w.g RETURNING id, piece_id)
    INSERT INTO readings (client_id, sheet_id, quantity, typed, value, unit, si_value, si_unit,
        instrument_id, method, station, replicate, unusual_confirmed, taken_at, person_id)
    SELECT gen_random_uuid(), ns.id, r.quantity, r.typed, r.value, r.unit, r.si_value, r.si_unit,
        r.instrument_id, r.method, r.station, r.replicate, r.unusual_confirmed, r.taken_at,
        r.person_id
    FROM new_sheets ns JOIN new_pieces np ON np.id = ns.piece_id
    JOIN wanted w ON np.tag = 'X' || :copies || '-' || w.g
    JOIN readings r ON r.sheet_id = w.sheet"""


def enlarge(engine: Engine, pieces: int, copies: int = 0) -> None:
    """Copy measured pieces, readings and all, until so many more stand on the shelf.

    With ``copies`` every model stands there so often more, and the pieces are spread over those.
    """
    with engine.begin() as connection:
        connection.execute(text("SET LOCAL maple_rook.audit = 'off'"))
        connection.execute(text("SET LOCAL statement_timeout = 0"))
        connection.execute(text(_MODELS), {"copies": copies})
        connection.execute(text(_PIECES), {"pieces": pieces, "copies": copies})
        connection.execute(text("ANALYZE"))


def grow_to(engine: Engine, pieces: int) -> int:
    """Bring the demo shelf to so many pieces of ever more models; how many were added."""
    with engine.connect() as connection:
        have = int(connection.scalar(text("SELECT count(*) FROM pieces")) or 0)
    if pieces > have:
        enlarge(engine, pieces - have, max(1, pieces // 100))
    return max(0, pieces - have)
