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

from signed_in import as_owner
from stations.test_commands import serving

STAND_INS = "maple_rook.instruments.stand_ins"


def at(address: str, environment: dict[str, str]) -> httpx.Client:
    return as_owner(address, environment["MAPLE_ROOK_DATABASE_URL"])


def children(pid: int) -> list[psutil.Process]:
    """The simulated instruments a server started."""
    found = psutil.Process(pid).children(recursive=True)
    return [p for p in found if STAND_INS in " ".join(p.cmdline())]


def events(client: httpx.Client) -> Iterator[dict[str, Any]]:
    """What a Bench hears, one event at a time."""
    with client.stream("GET", "/api/instruments/events") as stream:
        for line in stream.iter_lines():
            if line.startswith("data:"):
                yield json.loads(line.removeprefix("data:"))


def ready(shop: httpx.Client) -> list[dict[str, Any]]:
    """The instruments on a line, once all of them answer."""
    deadline = time.monotonic() + 20
    while time.monotonic() < deadline:
        rows: list[dict[str, Any]] = shop.get("/api/instruments").json()
        on_line = [r for r in rows if r["address"]]
        if on_line and all(r["state"] == "ready" for r in on_line):
            return on_line
        time.sleep(0.05)
    pytest.fail("the instruments did not answer")


def new_sheet(shop: httpx.Client) -> int:
    body = {"tag": f"L-{uuid.uuid4().hex[:8]}", "model_id": 1}
    return int(shop.post("/api/bench/pieces", json=body).json()["id"])


def test_a_bench_hears_of_instruments_and_of_sheets_that_were_written_to(
    environment: dict[str, str],
) -> None:
    with serving(environment, "demo") as (address, _, said), at(address, environment) as client:
        assert any("Simulated instruments" in line for line in said)
        on_line = ready(client)
        assert len(on_line) == 6
        assert all(r["stand_in"] for r in on_line)
        heard = events(client)
        states = [next(heard) for _ in on_line]
        assert {s["instrument_id"] for s in states} == {r["id"] for r in on_line}
        sheet = new_sheet(client)
        body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
        client.post(f"/api/bench/sheets/{sheet}/readings", json=body)
        told = next(event for event in heard if event["what"] == "sheet")
        assert told["sheet_id"] == sheet


def test_it_ends_at_once_with_a_bench_listening_and_takes_its_instruments_along(
    environment: dict[str, str],
) -> None:
    with (
        serving(environment, "demo") as (address, process, _),
        at(address, environment) as client,
    ):
        ready(client)
        (started,) = children(process.pid)
        heard = events(client)
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
        ready(at(address, environment))
        (started,) = children(process.pid)
        process.kill()
        psutil.wait_procs([started], timeout=10)
        assert not started.is_running()


def test_a_shop_of_its_own_has_instruments_but_none_that_are_simulated(
    environment: dict[str, str],
) -> None:
    with serving(environment, "start") as (address, process, _):
        rows = at(address, environment).get("/api/instruments").json()
        assert {r["kind"] for r in rows} >= {"caliper", "scale", "rule", "reference block"}
        assert not any(r["stand_in"] or r["address"] for r in rows)
        assert children(process.pid) == []


def test_a_killed_server_has_kept_what_it_confirmed(
    environment: dict[str, str],
) -> None:
    body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
    with serving(environment, "demo") as (address, process, _):
        shop = at(address, environment)
        sheet = new_sheet(shop)
        sent = shop.post(f"/api/bench/sheets/{sheet}/readings", json=body)
        assert sent.status_code == 201
        process.kill()
        process.wait()
    with serving(environment, "demo") as (address, _, _):
        shop = at(address, environment)
        again = shop.post(f"/api/bench/sheets/{sheet}/readings", json=body)
        assert again.json()["id"] == sent.json()["id"]
        state = shop.get(f"/api/bench/sheets/{sheet}").json()
        assert [r["client_id"] for r in state["readings"]] == [body["client_id"]]
