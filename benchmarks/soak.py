"""A shop's day on one server: benches, counters, files, photos and backups, for half an hour."""

from __future__ import annotations

import os
import random
import statistics
import tempfile
import threading
import time
import uuid
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx2 as httpx
import psutil
from tests.signed_in import bearer

from benchmarks.rows import Row
from benchmarks.servers import Served, demo_server
from maple_rook import backup
from maple_rook.store.database import connect

MINUTES = float(os.environ.get("SOAK_MINUTES", "30"))
BENCHES, COUNTERS = 20, 5
LOOKED_AT_EVERY_S = 5.0
READINGS = (("weight", "186 g"), ("handle_thickness", "20 mm"), ("spine_heel", "2.3 mm"))


@dataclass
class Day:
    """What happened: how long each kind of request took, and what was answered."""

    over: threading.Event = field(default_factory=threading.Event)
    times: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    told: Counter[str] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def note(self, kind: str, took: float, status: int, said: str) -> None:
        with self.lock:
            self.times[kind].append(took)
            self.told[f"{status // 100}xx"] += 1
            if status >= 400 and len(self.wrong) < 20:
                self.wrong.append(f"{kind} {status} {said[:120]}")


class Somebody:
    """A client that goes about its work and waits between, as people do."""

    def __init__(self, day: Day, served: Served, entry: dict[str, str], number: int) -> None:
        self.day, self.chance = day, random.Random(number)
        self.http = httpx.Client(base_url=served.address, headers=entry, timeout=120)

    def ask(self, kind: str, method: str, path: str, **more: Any) -> httpx.Response:
        started = time.perf_counter()
        answer = self.http.request(method, path, **more)
        took = time.perf_counter() - started
        self.day.note(kind, took, answer.status_code, "" if answer.is_success else answer.text)
        return answer

    def rest(self, about_s: float) -> None:
        self.day.over.wait(about_s * self.chance.uniform(0.5, 1.5))

    def go(self, work: Callable[[Somebody], None]) -> None:
        while not self.day.over.is_set():
            work(self)


def measure(one: Somebody) -> None:
    """A knife entered and measured, a reading every second or two."""
    body = {"tag": f"S-{uuid.uuid4().hex[:10]}", "model_id": one.chance.randint(1, 8)}
    sheet = one.ask("new piece", "POST", "/api/bench/pieces", json=body).json()["id"]
    for n in range(20):
        if one.day.over.is_set():
            return
        quantity, typed = READINGS[n % len(READINGS)]
        reading = {
            **{"client_id": str(uuid.uuid4()), "quantity": quantity, "typed": typed},
            "confirmed": True,  # as unusual as it may be of the model
        }
        one.ask("reading", "POST", f"/api/bench/sheets/{sheet}/readings", json=reading)
        one.rest(2)
    one.ask("sheet at the Bench", "GET", f"/api/bench/sheets/{sheet}")


def advise(one: Somebody) -> None:
    """A customer advised, and knives looked at."""
    presets = one.ask("counter", "GET", "/api/counter").json()["presets"]
    one.ask("advice", "POST", "/api/counter/advice", json=one.chance.choice(presets))
    one.rest(4)
    one.ask("rack", "GET", "/api/rack", params={"search": one.chance.choice(("gyuto", "", "KH"))})
    one.rest(2)
    laid = one.chance.sample(range(1, 30), 4)
    one.ask("board of four", "POST", "/api/board", json={"pieces": laid})
    one.ask("sheet", "GET", f"/api/pieces/{laid[0]}")
    one.rest(4)


def bring_in(one: Somebody) -> None:
    """A list of two hundred pieces imported for good, as a person waits for it."""
    name = uuid.uuid4().hex[:8]
    lines = (f"I-{name}-{n},Kesterby,Harbour,gyuto,210,{180 + n % 20}" for n in range(200))
    text = "tag,maker,line,type,size,weight g\n" + "\n".join(lines)
    found = one.ask("file", "POST", "/api/imports", params={"name": "l.csv"}, content=text).json()
    tables = [
        {
            "kind": t["kind"],
            "origin": "ours",
            "columns": [{"field": c["field"], "unit": c["unit"]} for c in t["columns"]],
        }
        for t in found["tables"]
    ]
    asked = {"source": name, "measured_on": "2026-11-20", "tables": tables, "for_good": True}
    one.ask("bring in", "POST", f"/api/imports/{found['id']}/run", json=asked)
    while not one.day.over.is_set():
        if one.ask("how far", "GET", f"/api/imports/{found['id']}").json()["state"] != "running":
            break
        one.rest(0.5)
    one.rest(60)


def photograph(one: Somebody) -> None:
    """A photo by the simulated camera, measured."""
    sheet = one.ask("sheet begun", "POST", f"/api/bench/pieces/{one.chance.randint(1, 30)}/sheets")
    asked = {"sheet_id": sheet.json()["id"], "client_id": str(uuid.uuid4()), "shot": "straight"}
    photo = one.ask("photo", "POST", "/api/photos/stand-in", json={**asked, "view": "side"})
    if photo.is_success:
        one.ask("photo measured", "POST", f"/api/photos/{photo.json()['id']}/measure", json={})
    one.rest(20)


def take_out(one: Somebody) -> None:
    for path in ("/api/rack.csv", "/api/v1/readings.csv", "/api/v1/shop.json"):
        one.ask("download", "GET", path)
    one.rest(60)


def back_up(served: Served, day: Day, folder: Path) -> None:
    while not day.over.wait(min(600.0, MINUTES * 20)):
        backup.write(served.url, folder, keep=2)


def rows() -> Iterator[Row]:
    with demo_server(durable=True) as served, tempfile.TemporaryDirectory() as folder:
        engine = connect(served.url)
        entry = {**bearer(engine), "If-Match": "*"}
        engine.dispose()
        day = Day()
        work = [*[measure] * BENCHES, *[advise] * COUNTERS, bring_in, photograph, take_out]
        threads = [
            threading.Thread(target=Somebody(day, served, entry, n).go, args=(of,), daemon=True)
            for n, of in enumerate(work)
        ]
        threads.append(
            threading.Thread(target=back_up, args=(served, day, Path(folder)), daemon=True)
        )
        for thread in threads:
            thread.start()
        memory = _memory(served, MINUTES * 60)
        day.over.set()
        for thread in threads:
            thread.join(timeout=120)
    yield from _said(day, memory)


def _memory(served: Served, seconds: float) -> list[float]:
    """Memory of the server process, MB, looked at all the while."""
    found, process = [], psutil.Process(served.pid)
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        time.sleep(LOOKED_AT_EVERY_S)
        found.append(process.memory_info().rss / 1e6)
    return found


def _said(day: Day, memory: list[float]) -> Iterator[Row]:
    every = sum(len(times) for times in day.times.values())
    answers = ", ".join(f"{n:,} {kind}" for kind, n in sorted(day.told.items()))
    yield Row(
        f"{BENCHES} benches, {COUNTERS} counters, {MINUTES:g} min: requests", every, note=answers
    )
    for kind, times in sorted(day.times.items()):
        ordered = sorted(times)
        p99 = 1000 * ordered[min(len(ordered) - 1, int(0.99 * len(ordered)))]
        median = 1000 * statistics.median(ordered)
        yield Row(
            f"  {kind}: 99 in 100 within", p99, "ms", note=f"median {median:.0f} ms, {len(times):,}"
        )
    third = max(1, len(memory) // 3)
    early, late = (statistics.median(part) for part in (memory[third : 2 * third], memory[-third:]))
    yield Row("Memory of the server: second third", early, "MB")
    yield Row("  last third", late, "MB", late / early)
    for wrong in day.wrong:
        yield Row(f"  {wrong}")
