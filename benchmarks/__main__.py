"""``./rook bench``: a table of figures and ratios."""

from __future__ import annotations

import gzip
import os
import re
import statistics
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

import httpx2 as httpx
import numpy as np
from playwright.sync_api import sync_playwright
from rich.console import Console
from rich.table import Table
from sqlalchemy import Engine
from tests.signed_in import bearer, in_browser, key_of

from benchmarks import by_hand, cutting, moving, photo, shelf, trying, writing
from benchmarks.timing import in_turn_ms, median_ms
from maple_rook.cluster import free_port, temporary_cluster
from maple_rook.core.blade import Blade
from maple_rook.core.inputs import height_shares, input_arrays
from maple_rook.core.predict import predict, predict_arrays
from maple_rook.core.uncertainty import Array
from maple_rook.front_end import DIST
from maple_rook.settings import PROJECT_ROOT
from maple_rook.store import records
from maple_rook.store.database import connect, sessions
from maple_rook.store.people import BROWSER

BOARD_TAGS = ("KH-01", "HS-24", "PM-21", "BF-16", "PK-21", "KH-15")
MANY = 10_000
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking",
         "--disable-component-update", "--disable-sync", "--no-first-run"]  # fmt: skip


@contextmanager
def server(url: str) -> Iterator[tuple[str, int]]:
    """The real server as ``./rook demo`` runs it, on a database of our own."""
    port = free_port()
    environment = {
        **os.environ, "MAPLE_ROOK_DATABASE_URL": url, "MAPLE_ROOK_PORT": str(port),
        "MAPLE_ROOK_REQUESTS_PER_MINUTE": "10000000",
        "MAPLE_ROOK_HOME": str(Path(os.environ.get("TMPDIR", "/tmp")) / f"rook-bench-{port}"),
    }  # fmt: skip
    process = subprocess.Popen(
        [sys.executable, "-m", "maple_rook.cli", "demo", "--no-browser"],
        cwd=PROJECT_ROOT, env=environment, stdout=subprocess.DEVNULL,
    )  # fmt: skip
    address = f"http://127.0.0.1:{port}"
    try:
        for _ in range(300):
            try:
                httpx.get(f"{address}/api/session").raise_for_status()
                break
            except httpx.HTTPError:
                assert process.poll() is None, "the server ended at once"
                time.sleep(0.1)
        yield address, process.pid
    finally:
        process.terminate()
        process.wait(timeout=15)


def server_ms(answer: httpx.Response) -> float:
    """The server's own time from its Server-Timing header."""
    return float(answer.headers["server-timing"].split("dur=")[1])


def peak_memory_mb(pid: int) -> float:
    status = Path(f"/proc/{pid}/status").read_text()
    found = re.search(r"VmHWM:\s+(\d+) kB", status)
    return int(found[1]) / 1024 if found else float("nan")


def initial_javascript_kb(address: str, engine: Engine) -> tuple[float, float]:
    """Gzipped script a first visit to the Rack loads, and its first contentful paint in ms."""
    paints = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for _ in range(5):
            page = browser.new_context(**in_browser(key_of(engine, kind=BROWSER))).new_page()
            page.goto(f"{address}/rack")
            page.wait_for_selector(".rails li")
            scripts = page.evaluate(
                "performance.getEntriesByType('resource').map(e => e.name)"
                ".filter(n => n.endsWith('.js'))"
            )
            paints.append(
                page.evaluate("performance.getEntriesByName('first-contentful-paint')[0].startTime")
            )
            page.close()
        browser.close()
    sizes = [len(gzip.compress((DIST / "assets" / Path(s).name).read_bytes())) for s in scripts]
    return sum(sizes) / 1000, statistics.median(paints)


def same(by_hand_central: Array, blades: list[Blade]) -> None:
    """Stop where the two do not compute the same figures: a ratio would mean nothing."""
    ours = predict_arrays(blades, draws=100, shares=False).central
    known = ~np.isnan(ours)
    assert np.allclose(ours[known], by_hand_central[known], rtol=1e-4, atol=1e-9)


def main() -> None:
    rows: list[tuple[str, str, str]] = []
    with temporary_cluster() as cluster:
        cluster.ensure_database("bench")
        url = cluster.url("bench")
        with server(url) as (address, pid):
            engine = connect(url)
            with sessions(engine)() as session:
                tags = {p.tag: p.id for p in records.pieces(session)}
                ids = [tags[tag] for tag in BOARD_TAGS]
                figures = records.figures(session, ids)
                blades = records.blades(session, records.pieces(session, ids), figures)
            means, spreads = input_arrays(blades)
            heights = height_shares(blades)
            density = np.array([b.density_g_cm3 for b in blades])
            even = np.array([b.even_machine_edge for b in blades])
            seeds = [b.seed for b in blades]
            with httpx.Client(base_url=address, headers=bearer(engine)) as client:
                same(by_hand.board(means, spreads, seeds, 1000, heights, density, even)[0], blades)
                hand, arrays, explained, board = in_turn_ms(
                    lambda: by_hand.board(means, spreads, seeds, 1000, heights, density, even),
                    lambda: predict_arrays(blades, draws=1000),
                    lambda: predict(blades, draws=1000),
                    lambda: server_ms(client.get("/api/board", params={"piece": ids})),
                )
                whole = median_ms(lambda: client.get("/api/board", params={"piece": ids}).read())
                rack = median_ms(lambda: client.get("/api/rack").read())
            rows += [
                ("Board of six, 1,000 draws: the same arithmetic in numpy by hand",
                 f"{hand:.1f} ms", "1.00"),
                ("  core, arrays", f"{arrays:.1f} ms", f"{arrays / hand:.2f}"),
                ("  core, every number explained",
                 f"{explained:.1f} ms", f"{explained / hand:.2f}"),
                ("  server time: database, core, JSON, gzip (at most 2.0)",
                 f"{board:.1f} ms", f"{board / hand:.2f}"),
                ("  the same seen by a client on loopback",
                 f"{whole:.1f} ms", f"{whole / hand:.2f}"),
                ("Rack of the demo shop, server", f"{rack:.1f} ms", ""),
            ]  # fmt: skip
            many = [replace(blades[i % len(blades)], seed=i) for i in range(MANY)]
            started = time.perf_counter()
            predict_arrays(many, draws=64, shares=False)
            took = time.perf_counter() - started
            rows.append((f"{MANY:,} knives in one call, 64 draws, 37 figures each",
                         f"{took:.2f} s", f"{MANY / took:,.0f} knives/s"))  # fmt: skip
            rows += cutting.rows() + trying.rows()
            script, paint = initial_javascript_kb(address, engine)
            rows += [
                ("Initial JavaScript, gzipped (at most 250 kB)", f"{script:.0f} kB", ""),
                ("Rack, first contentful paint", f"{paint:.0f} ms", ""),
                ("Peak memory of the server (at most 350 MB)", f"{peak_memory_mb(pid):.0f} MB", ""),
            ]
            engine.dispose()
        rows += shelf.rows(cluster, server, FLAGS)
    with temporary_cluster(durable=True) as cluster:  # as a shop's own writes, to the disk
        cluster.ensure_database("bench")
        url = cluster.url("bench")
        with server(url) as (address, _):
            port = int(address.rsplit(":", 1)[1])
            rows += writing.rows(port, url, FLAGS)
        rows += moving.rows(cluster) + photo.rows()
    table = Table("figure", "value", "ratio or rate", title="Maple Rook benchmarks (medians)")
    for row in rows:
        table.add_row(*row)
    Console(width=110).print(table)


if __name__ == "__main__":
    main()
