"""A served shop whose parts can be killed, and benches that write to it all the while."""

from __future__ import annotations

import contextlib
import http.client
import json
import threading
import time
import uuid
from collections import Counter
from pathlib import Path

import psutil
import psycopg

from maple_rook.cluster import Cluster
from maple_rook.store.database import connect, driver_address
from server_process import ServerProcess
from signed_in import key_of

ASKED = (("weight", "186 g"), ("handle_thickness", "20 mm"), ("flat_length", "90 mm"))


def kill_family(pid: int) -> None:
    """Kill a process and all that it started, at once."""
    parent = psutil.Process(pid)
    family = [parent, *parent.children(recursive=True)]
    for process in family:
        with contextlib.suppress(psutil.NoSuchProcess):
            process.kill()
    psutil.wait_procs(family, timeout=20)


def kill_postgresql(data: Path) -> None:
    """Kill the PostgreSQL of a data directory, as a power cut would."""
    kill_family(int((data / "postmaster.pid").read_text().splitlines()[0]))


class KeyedShop(ServerProcess):
    """A served shop, and the key of its owner."""

    def start(self) -> None:
        super().start()
        engine = connect(self.url)
        self.key = key_of(engine)
        engine.dispose()

    def rows(self, query: str, *values: object) -> list[tuple[object, ...]]:
        with psycopg.connect(driver_address(self.url)) as connection:
            return connection.execute(query, values).fetchall()  # type: ignore[arg-type]


class ServedShop(KeyedShop):
    """A served shop on a cluster of its own."""

    def __init__(
        self,
        cluster: Cluster,
        home: Path,
        *,
        workers: int = 1,
        settings: dict[str, str] | None = None,
    ) -> None:
        self.cluster = cluster
        cluster.ensure_database("shop")
        super().__init__(cluster.url("shop"), home, workers=workers, settings=settings)
        self.start()

    def kill_postgresql(self) -> None:
        """Kill the postmaster and every process of its own, as a power cut would."""
        kill_postgresql(self.cluster.data)
        self.cluster.start()


class Line:
    """One line to the server, kept open as a browser keeps it."""

    def __init__(self, port: int, key: str) -> None:
        self._line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        self._headers = {"Content-Type": "application/json", "Authorization": f"Bearer {key}"}

    def ask(self, method: str, path: str, body: object = None) -> tuple[int, dict]:
        try:
            text = None if body is None else json.dumps(body)
            self._line.request(method, path, text, self._headers)
            answer = self._line.getresponse()
            return answer.status, json.loads(answer.read() or b"{}")
        except BaseException:
            self._line.close()
            raise


class Benches:
    """Benches that write readings, send each until it is confirmed, and note what they did."""

    def __init__(self, shop: KeyedShop, count: int) -> None:
        self.shop, self.stopped = shop, threading.Event()
        line = Line(shop.port, shop.key)
        model = {"maker": "Test Smithy", "line": "One", "knife_type": "gyuto", "nominal": "210"}
        first = line.ask("POST", "/api/bench/pieces", {"tag": "F-0", "model": model})[1]
        sheets = [first["id"]]
        [[model_id]] = shop.rows("SELECT id FROM knife_models")
        for n in range(1, count):
            body = {"tag": f"F-{n}", "model_id": model_id}
            sheets.append(line.ask("POST", "/api/bench/pieces", body)[1]["id"])
        self.sent: list[dict[str, int]] = [{} for _ in sheets]
        """By bench: the readings sent, by id, with their sheet."""
        self.confirmed: list[dict[str, int]] = [{} for _ in sheets]
        self.moments: list[float] = []
        """When anything was confirmed, by the monotonic clock."""
        self.unclear: list[str] = []
        """Answers that neither confirmed a reading nor said that it has to be sent again."""
        self.threads = [
            threading.Thread(target=self._write, args=(n, sheet)) for n, sheet in enumerate(sheets)
        ]
        for thread in self.threads:
            thread.start()

    def _write(self, bench: int, sheet: int) -> None:
        line, number = Line(self.shop.port, self.shop.key), 0
        while not self.stopped.is_set():
            quantity, typed = ASKED[number % len(ASKED)]
            body = {"client_id": str(uuid.uuid4()), "quantity": quantity, "typed": typed}
            self.sent[bench][body["client_id"]] = sheet
            while not self._confirmed(line, bench, sheet, body):
                if self.stopped.is_set():
                    return
                time.sleep(0.1)
            number += 1

    def _confirmed(self, line: Line, bench: int, sheet: int, body: dict[str, str]) -> bool:
        try:
            status, said = line.ask("POST", f"/api/bench/sheets/{sheet}/readings", body)
        except (OSError, http.client.HTTPException, ValueError):
            return False
        if status == 201:
            self.confirmed[bench][body["client_id"]] = sheet
            self.moments.append(time.monotonic())
        elif status != 503:
            self.unclear.append(f"{status} {said}")
        return status == 201

    def stop(self) -> None:
        self.stopped.set()
        for thread in self.threads:
            thread.join(timeout=30)

    def check(self) -> None:
        """That what was confirmed is there once, in its place, and nothing else is."""
        assert self.unclear == []
        found = self.shop.rows(
            "SELECT client_id::text, sheet_id, quantity, replicate FROM readings"
        )
        there = Counter(str(key) for key, *_ in found)
        sheets = {str(key): sheet for key, sheet, *_ in found}
        confirmed, sent = self.all_confirmed(), self.all_sent()
        assert set(confirmed) <= set(there)  # nothing lost
        assert set(there) <= set(sent)  # nothing invented
        assert max(there.values()) == 1
        assert all(sent[key] == sheet for key, sheet in sheets.items())
        numbers = Counter((sheet, quantity, replicate) for _, sheet, quantity, replicate in found)
        assert max(numbers.values()) == 1  # repeats are numbered once each

    def all_sent(self) -> dict[str, int]:
        return _together(self.sent)

    def all_confirmed(self) -> dict[str, int]:
        return _together(self.confirmed)


def _together(benches: list[dict[str, int]]) -> dict[str, int]:
    """What all benches have, as they are at this moment: they go on writing."""
    return {key: sheet for bench in benches for key, sheet in list(bench.items())}
