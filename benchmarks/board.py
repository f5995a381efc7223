"""The Board of six knives, beside the same arithmetic in plain numpy; many knives in one call."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import replace
from itertools import cycle

import httpx2 as httpx
import numpy as np
from sqlalchemy import Engine
from tests.signed_in import bearer

from benchmarks import by_hand
from benchmarks.rows import Row
from benchmarks.servers import demo_server
from benchmarks.timing import in_turn_ms, median_ms
from maple_rook.core.cutting.foods import CUT_SHARES
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.measurement.places import THICKNESS_AT_MM
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.inputs import height_shares, input_arrays
from maple_rook.core.prediction.predict import DRAWS, predict, predict_arrays
from maple_rook.store import records
from maple_rook.store.database import connect, sessions

TAGS = ("KH-01", "HS-24", "PM-21", "BF-16", "PK-21", "KH-15")
MANY = 10_000


def rows() -> Iterator[Row]:
    with demo_server() as served:
        engine = connect(served.url)
        ids, blades = _blades(engine)
        means, spreads = input_arrays(blades)
        heights, cuts = height_shares(blades), height_shares(blades, np.array(CUT_SHARES))
        density = np.array([b.density_g_cm3 for b in blades])
        even = np.array([b.even_machine_edge for b in blades])
        toughness = np.array([b.toughness_60 for b in blades])
        seeds = [b.seed for b in blades]
        with httpx.Client(base_url=served.address, headers=bearer(engine)) as client:
            given = (means, spreads, seeds, DRAWS, heights, cuts, density, even, toughness)
            _same(by_hand.board(*given)[0], blades)
            edges = cycle(EdgeState)

            def board_ms(*, again: bool) -> float:
                """Of another edge than before, so that every knife is recalculated; or not."""
                asked = {"pieces": ids, "edge": next(edges)}
                if again:
                    client.post("/api/board", json=asked)
                return server_ms(client.post("/api/board", json=asked))

            hand, arrays, explained, first, again = in_turn_ms(
                lambda: by_hand.board(*given),
                lambda: predict_arrays(blades),
                lambda: predict(blades),
                lambda: board_ms(again=False),
                lambda: board_ms(again=True),
            )
            whole = median_ms(lambda: client.post("/api/board", json={"pieces": ids}).read())
            rack = median_ms(lambda: client.get("/api/rack").read())
        engine.dispose()
    yield Row(f"Board of six, {DRAWS} draws: the same arithmetic in numpy by hand", hand, "ms", 1.0)
    for figure, took in (
        ("  core, arrays", arrays),
        ("  core, every number explained", explained),
        ("  server time: database, core, verdict, JSON, gzip; knives new to the Board", first),
        ("  the same of knives that lay there before (at most 1.6)", again),
        ("  the same seen by a client on loopback", whole),
    ):
        yield Row(figure, took, "ms", took / hand)
    yield Row("Rack of the demo shop, server", rack, "ms")
    many = [replace(blades[i % len(blades)], seed=i) for i in range(MANY)]
    started = time.perf_counter()
    predict_arrays(many, draws=64, shares=False)
    took = time.perf_counter() - started
    yield Row(f"{MANY:,} knives in one call, 64 draws, 46 figures each", MANY / took, "knives/s")


def _blades(engine: Engine) -> tuple[list[int], list[Blade]]:
    with sessions(engine)() as session:
        tags = {p.tag: p.id for p in records.pieces(session)}
        ids = [tags[tag] for tag in TAGS]
        figures = records.figures(session, ids)
        found = records.blades(session, records.pieces(session, ids), figures)
        return ids, [_with_straight_faces(blade) for blade in found]


def _with_straight_faces(blade: Blade) -> Blade:
    """What was measured up the face bends it, which the arithmetic by hand does not know."""
    kept = {key: f for key, f in blade.figures.items() if key not in THICKNESS_AT_MM}
    return replace(blade, figures=kept)


def _same(by_hand_central: Array, blades: list[Blade]) -> None:
    """Stop where the two do not compute the same figures: a ratio would mean nothing."""
    ours = predict_arrays(blades, draws=100, shares=False).central
    known = ~np.isnan(ours)
    if not np.allclose(ours[known], by_hand_central[known], rtol=1e-4, atol=1e-9):
        raise ValueError("core and numpy by hand do not compute the same figures")


def server_ms(answer: httpx.Response) -> float:
    """The server's own time from its Server-Timing header."""
    return float(answer.headers["server-timing"].split("dur=")[1])
