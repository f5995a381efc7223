"""The running server: its instruments, its stream of events, and a clean end with both open."""

from __future__ import annotations

import json
import signal
import time
import uuid
from collections.abc import Iterator
from typing import Any

import httpx2 as httpx
import psutil
import pytest

from stations.test_commands import serving

STAND_INS = "maple_rook.instruments.stand_ins"


def children(pid: int) -> list[psutil.Process]:
    """The simulated instruments a server started."""
    found = psutil.Process(pid).children(recursive=True)
    return [p for p in found if STAND_INS in " ".join(p.cmdline())]


def events(address: str, client: httpx.Client) -> Iterator[dict[str, Any]]:
    """What a Bench hears, one event at a time."""
    with client.stream("GET", f"{address}/api/instruments/events") as stream:
        for line in stream.iter_lines():
            if line.startswith("data:"):
                yield json.loads(line.removeprefix("data:"))


def ready(address: str) -> list[dict[str, Any]]:
    """The instruments on a line, once all of them answer."""
    deadline = time.monotonic() + 20
    while time.monotonic() < deadline:
        rows: list[dict[str, Any]] = httpx.get(f"{address}/api/instruments").json()
        on_line = [r for r in rows if r["address"]]
        if on_line and all(r["state"] == "ready" for r in on_line):
            return on_line
        time.sleep(0.05)
    pytest.fail("the instruments did not answer")


def new_sheet(address: str) -> int:
    body = {"tag": f"L-{uuid.uuid4().hex[:8]}", "model_id": 1}
    return int(httpx.post(f"{address}/api/bench/pieces", json=body).json()["id"])


def test_a_bench_hears_of_instruments_and_of_sheets_that_were_written_to(
    environment: dict[str, str],
) -> None:
    with serving(environment, "demo") as (address, _, said), httpx.Client(timeout=20) as client:
        assert any("Simulated instruments" in line for line in said)
        on_line = ready(address)
        assert len(on_line) == 6
        assert all(r["stand_in"] for r in on_line)
        heard = events(address, client)
        states = [next(heard) for _ in on_line]
        assert {s["instrument_id"] for s in states} == {r["id"] for r in on_line}
        sheet = new_sheet(address)
        body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
        httpx.post(f"{address}/api/bench/sheets/{sheet}/readings", json=body)
        told = next(event for event in heard if event["what"] == "sheet")
        assert told["sheet_id"] == sheet


def test_it_ends_at_once_with_a_bench_listening_and_takes_its_instruments_along(
    environment: dict[str, str],
) -> None:
    with (
        serving(environment, "demo") as (address, process, _),
        httpx.Client(timeout=20) as client,
    ):
        ready(address)
        (started,) = children(process.pid)
        heard = events(address, client)
        next(heard)
        process.send_signal(signal.SIGINT)
        assert process.wait(timeout=15) == 0
        assert all(event["what"] == "instrument" for event in heard)  # and the stream ends
        psutil.wait_procs([started], timeout=10)
        assert not started.is_running()


def test_the_instruments_do_not_outlive_a_server_that_was_killed(
    environment: dict[str, str],
) -> None:
    with serving(environment, "demo") as (address, process, _):
        ready(address)
        (started,) = children(process.pid)
        process.kill()
        psutil.wait_procs([started], timeout=10)
        assert not started.is_running()


def test_a_shop_of_its_own_has_instruments_but_none_that_are_simulated(
    environment: dict[str, str],
) -> None:
    with serving(environment, "start") as (address, process, _):
        rows = httpx.get(f"{address}/api/instruments").json()
        assert {r["kind"] for r in rows} >= {"caliper", "scale", "rule", "reference block"}
        assert not any(r["stand_in"] or r["address"] for r in rows)
        assert children(process.pid) == []


def test_a_killed_server_has_kept_what_it_confirmed(
    environment: dict[str, str],
) -> None:
    body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
    with serving(environment, "demo") as (address, process, _):
        sheet = new_sheet(address)
        sent = httpx.post(f"{address}/api/bench/sheets/{sheet}/readings", json=body)
        assert sent.status_code == 201
        process.kill()
        process.wait()
    with serving(environment, "demo") as (address, _, _):
        again = httpx.post(f"{address}/api/bench/sheets/{sheet}/readings", json=body)
        assert again.json()["id"] == sent.json()["id"]
        state = httpx.get(f"{address}/api/bench/sheets/{sheet}").json()
        assert [r["client_id"] for r in state["readings"]] == [body["client_id"]]
