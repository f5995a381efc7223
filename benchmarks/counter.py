"""The Counter over a shelf of thousands of models, beside its database query alone."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import httpx2 as httpx
from sqlalchemy import Engine, text

from benchmarks.timing import in_turn_ms
from maple_rook.demo.shelves import enlarge
from maple_rook.store.database import sessions
from maple_rook.store.marks import every_mark

PIECES, COPIES = 10_000, 100
"""Pieces on the shelf, and how often each model of the demo shop stands there."""
CUSTOMERS = ("home cook who hates upkeep", "prep line", "galley")


def rows(
    engine: Engine, client: httpx.Client, server_ms: Callable[[httpx.Response], float]
) -> list[tuple[str, str, str]]:
    """Server time of one customer's short list, the shelf known, and the query it begins with."""
    with engine.connect() as connection:
        have = int(connection.scalar(text("SELECT count(*) FROM pieces")) or 0)
    enlarge(engine, PIECES - have, COPIES)
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
