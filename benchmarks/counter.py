"""The Counter over a shelf of thousands of models, beside its database query alone."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import httpx2 as httpx
from sqlalchemy import Engine, text

from benchmarks.timing import in_turn_ms
from maple_rook.store.database import sessions
from maple_rook.store.marks import every_mark

PIECES, COPIES = 10_000, 100
"""Pieces on the shelf, and how often each model of the demo shop stands there."""
CUSTOMERS = ("home cook who hates upkeep", "prep line", "galley")


def enlarge(engine: Engine) -> None:
    """Copy models under lines of their own, and measured pieces of them, until there are enough."""
    models = """
        INSERT INTO knife_models (maker_id, line, knife_type, nominal_mm, grind, construction,
            finish, handle, even_machine_edge, steel_id, price)
        SELECT maker_id, line || ' ' || g, knife_type, nominal_mm, grind, construction, finish,
            handle, even_machine_edge, steel_id, price + g % 40
        FROM knife_models, generate_series(1, :copies) g"""
    pieces = """
        WITH source AS (
            SELECT m.*, s.id AS sheet, s.person_id, row_number() OVER (ORDER BY p.id) AS n
            FROM pieces p JOIN sheets s ON s.piece_id = p.id
            JOIN knife_models m ON m.id = p.model_id
            WHERE s.finished_at IS NOT NULL AND p.tag NOT LIKE 'X-%'),
        wanted AS (
            SELECT g, source.sheet, source.person_id, new.id AS model_id
            FROM generate_series(1, :pieces) g
            JOIN source ON source.n = 1 + g % (SELECT count(*) FROM source)
            JOIN knife_models new ON new.line = source.line || ' ' || (1 + g % :copies)
                AND (new.maker_id, new.knife_type, new.nominal_mm)
                    = (source.maker_id, source.knife_type, source.nominal_mm)),
        new_pieces AS (
            INSERT INTO pieces (model_id, tag, condition, note)
            SELECT model_id, 'C-' || g, 'new', '' FROM wanted RETURNING id, tag),
        new_sheets AS (
            INSERT INTO sheets (piece_id, person_id, finished_at)
            SELECT np.id, w.person_id, now() FROM new_pieces np
            JOIN wanted w ON np.tag = 'C-' || w.g RETURNING id, piece_id)
        INSERT INTO readings (client_id, sheet_id, quantity, typed, value, unit, si_value, si_unit,
            instrument_id, method, station, replicate, unusual_confirmed, taken_at, person_id)
        SELECT gen_random_uuid(), ns.id, r.quantity, r.typed, r.value, r.unit, r.si_value,
            r.si_unit, r.instrument_id, r.method, r.station, r.replicate, r.unusual_confirmed,
            r.taken_at, r.person_id
        FROM new_sheets ns JOIN new_pieces np ON np.id = ns.piece_id
        JOIN wanted w ON np.tag = 'C-' || w.g JOIN readings r ON r.sheet_id = w.sheet"""
    with engine.begin() as connection:
        connection.execute(text(models), {"copies": COPIES})
        have = connection.scalar(text("SELECT count(*) FROM pieces"))
        connection.execute(text(pieces), {"pieces": PIECES - int(have or 0), "copies": COPIES})
        connection.execute(text("ANALYZE"))


def rows(
    engine: Engine, client: httpx.Client, server_ms: Callable[[httpx.Response], float]
) -> list[tuple[str, str, str]]:
    """Server time of one customer's short list, the shelf known, and the query it begins with."""
    enlarge(engine)
    presets = {job["label"]: job for job in client.get("/api/counter").json()["presets"]}
    found = client.post("/api/counter/advice", json=presets[CUSTOMERS[0]]).raise_for_status()
    considered = found.json()["considered"]
    prep = presets[CUSTOMERS[1]]

    def advised(job: dict[str, object]) -> float:
        return server_ms(client.post("/api/counter/advice", json=job))

    def just_written() -> float:
        with engine.begin() as connection:
            connection.execute(text("UPDATE shop SET name = name"))
        return advised(prep)

    with sessions(engine)() as session:
        *customers, written, query = in_turn_ms(
            *(partial(advised, presets[customer]) for customer in CUSTOMERS),
            just_written,
            lambda: every_mark(session),
            rounds=9,
        )
    named = [*CUSTOMERS, f"{CUSTOMERS[1]}, just after something was written"]
    return [
        (f"Counter over {considered:,} pieces, against its database query alone (at most 300 ms)",
         f"{query:.0f} ms", "1.00"),
        *((f"  {name}", f"{took:.0f} ms", f"{took / query:.2f}")
          for name, took in zip(named, [*customers, written], strict=True)),
    ]  # fmt: skip
