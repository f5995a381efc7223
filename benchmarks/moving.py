"""50,000 readings imported beside plain COPY, and 10,000 pieces exported as a stream.

Each runs in a separate process, so that its peak memory is its own.
"""

from __future__ import annotations

import datetime as dt
import json
import random
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

import psycopg
from sqlalchemy import Engine, func, select

from benchmarks.page import peak_memory_mb
from benchmarks.rows import Row, going_on
from maple_rook.cluster import Cluster, temporary_cluster
from maple_rook.demo.shelves import enlarge
from maple_rook.formats.incoming.fields import Kind
from maple_rook.formats.incoming.opening import open_tables
from maple_rook.server import prepare
from maple_rook.settings import PROJECT_ROOT
from maple_rook.stations.exchange import use_cases
from maple_rook.stations.exchange.exporting import table_csv, whole_json
from maple_rook.stations.exchange.model_storage import Choices
from maple_rook.stations.exchange.row_import import import_rows
from maple_rook.store.archive import write_archive
from maple_rook.store.database import connect, sessions
from maple_rook.store.incoming import READING_COLUMNS
from maple_rook.store.tables import Piece, Reading

READINGS, PIECES, TAKEN_OUT = 50_000, 2_000, 10_000
_EACH = {
    "weight": ("g", 170, 210),
    "edge_length": ("mm", 200, 216),
    "spine_heel": ("mm", 1.9, 3.2),
    "height_heel": ("mm", 44, 52),
    "hardness": ("HRC", 58, 63),
}
_REPEATS = READINGS // PIECES // len(_EACH)


def _file(folder: Path) -> Path:
    """Readings as a shop might have them: a line each, tags in any order."""
    random.seed(5)
    lines = []
    for piece in range(PIECES):
        for quantity, (unit, low, high) in _EACH.items():
            lines += [
                f"BN-{piece:04},{quantity},{random.uniform(low, high):.2f},{unit},2026-09-14"
                for _ in range(_REPEATS)
            ]
    path = folder / "readings.csv"
    path.write_text("\n".join(["tag,quantity,value,unit,date", *lines]))
    return path


def _brought(url: str, file: str) -> float:
    engine = connect(url)
    with sessions(engine)() as db:
        started = time.perf_counter()
        tables = open_tables(Path(file), "readings")
        mapped = [use_cases.mapped_by_guess(table) for table in tables]
        report = import_rows(db, 1, mapped, Choices(dt.date(2026, 9, 14)))
        db.commit()
        took = time.perf_counter() - started
        assert report.added["readings"] == READINGS
    return took


def _taken_out(url: str, what: str) -> float:
    engine = connect(url)
    with sessions(engine)() as db, TemporaryDirectory() as name:
        started = time.perf_counter()
        if what == "zip":
            write_archive(db, Path(name) / "shop.zip")
            length = (Path(name) / "shop.zip").stat().st_size
        else:
            lines = table_csv(db, Kind.READINGS) if what == "csv" else whole_json(db)
            length = sum(len(line) for line in lines)
        took = time.perf_counter() - started
        assert length > 1_000_000
    return took


def _alone(*arguments: str) -> tuple[float, float]:
    """Seconds and peak memory in MB of one profile in a separate process."""
    done = subprocess.run(
        [sys.executable, "-m", "benchmarks.moving", *arguments],
        cwd=PROJECT_ROOT,
        capture_output=True,
        text=True,
        check=True,
    )
    took, peak = json.loads(done.stdout)
    return took, peak


def _copied(url: str) -> float:
    """Plain COPY of the very rows that were imported, under new keys."""
    columns = ", ".join(READING_COLUMNS)
    fresh = columns.replace("client_id", "gen_random_uuid()", 1)
    with psycopg.connect(url.replace("+psycopg", "")) as connection, connection.cursor() as cursor:
        with cursor.copy(f"COPY (SELECT {fresh} FROM readings) TO STDOUT") as out:
            rows = b"".join(bytes(part) for part in out)
        started = time.perf_counter()
        with cursor.copy(f"COPY readings ({columns}) FROM STDIN") as into:
            into.write(rows)
        connection.commit()
        return time.perf_counter() - started


def rows() -> Iterator[Row]:
    with temporary_cluster(durable=True) as cluster:  # as a shop's own writes, to the disk
        yield from going_on("readings brought in", lambda: _in(cluster))
        yield from going_on("pieces taken out", lambda: _out(cluster))


def _shop(cluster: Cluster, name: str, *, demo: bool) -> Engine:
    cluster.ensure_database(name)
    engine = connect(cluster.url(name))
    prepare(engine, is_demo=demo, say=lambda _: None)
    return engine


def _in(cluster: Cluster) -> Iterator[Row]:
    engine, url = _shop(cluster, "moving", demo=False), cluster.url("moving")
    pieces = "".join(f"BN-{n:04},Bench,Row,gyuto,210\n" for n in range(PIECES))
    with TemporaryDirectory() as name, sessions(engine)() as db:
        table = Path(name) / "pieces.csv"
        table.write_text(f"tag,maker,line,type,size\n{pieces}")
        mapped = [use_cases.mapped_by_guess(t) for t in open_tables(table, "pieces")]
        import_rows(db, 1, mapped, Choices(dt.date(2026, 9, 14)))
        db.commit()
        brought, peak = _alone("in", url, str(_file(Path(name))))
    plain = _copied(url)
    engine.dispose()
    yield Row(f"{READINGS:,} readings by plain COPY", plain, "s", 1.0)
    yield Row(
        "  brought in from CSV: read, judged, written (at most 15)", brought, "s", brought / plain
    )
    yield Row("  peak memory (at most 400 MB)", peak, "MB")


def _out(cluster: Cluster) -> Iterator[Row]:
    engine, url = _shop(cluster, "taken", demo=True), cluster.url("taken")
    enlarge(engine, TAKEN_OUT)
    with sessions(engine)() as db:
        pieces_there = db.scalar(select(func.count(Piece.id))) or 0
        readings_there = db.scalar(select(func.count(Reading.id))) or 0
    engine.dispose()
    for what, label in (
        ("csv", "readings, CSV"),
        ("json", "all tables, one JSON"),
        ("zip", "the archive"),
    ):
        took, peak = _alone(what, url)
        yield Row(
            f"{pieces_there:,} pieces taken out, {label}",
            readings_there / took,
            "readings/s",
            note=f"{took:.1f} s, {peak:.0f} MB",
        )


if __name__ == "__main__":
    profiles: dict[str, Callable[[], float]] = {
        "in": lambda: _brought(sys.argv[2], sys.argv[3]),
        "csv": lambda: _taken_out(sys.argv[2], "csv"),
        "json": lambda: _taken_out(sys.argv[2], "json"),
        "zip": lambda: _taken_out(sys.argv[2], "zip"),
    }
    print(json.dumps([profiles[sys.argv[1]](), peak_memory_mb()]))
