"""The running server as a person starts it: demo, start, status, stop, a clean end, a kill."""

from __future__ import annotations

import json
import re
import signal
import socket
import subprocess
import sys
import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import httpx2 as httpx
import psutil
import pytest

from maple_rook import __version__, front_end
from maple_rook.cluster import Cluster
from shops import new_shop
from signed_in import as_owner

READY = re.compile(r"ready at (http://127\.0\.0\.1:(\d+))")
STAND_INS = "maple_rook.instruments.stand_ins"
PATIENCE_S = 60


def command(environment: dict[str, str], *words: str) -> str:
    """What a command in a separate process says."""
    return subprocess.run(
        [sys.executable, "-m", "maple_rook.cli", *words],
        env=environment,
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        check=False,
        timeout=PATIENCE_S,
    ).stdout


@contextmanager
def serving(
    environment: dict[str, str], which: str
) -> Iterator[tuple[str, subprocess.Popen[str], list[str]]]:
    """A server as ``./rook demo`` or ``./rook start`` runs it, once it says it is ready."""
    front_end.ensure_built(lambda _: None)
    process = subprocess.Popen(
        [sys.executable, "-m", "maple_rook.cli", which, "--no-browser"],
        env=environment,
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
    )
    said: list[str] = []
    assert process.stdout is not None
    try:
        for line in process.stdout:
            said.append(line)
            if found := READY.search(line):
                yield found[1], process, said
                break
        else:
            pytest.fail(f"never ready: {''.join(said)}")
    finally:
        process.kill()
        process.wait()
        process.stdout.close()


def at(address: str, environment: dict[str, str]) -> httpx.Client:
    return as_owner(address, environment["MAPLE_ROOK_DATABASE_URL"], timeout=PATIENCE_S)


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
    deadline = time.monotonic() + PATIENCE_S
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


def test_the_demo_serves_pages_api_and_a_stream_and_ends_cleanly_on_interrupt(
    environment: dict[str, str],
) -> None:
    with serving(environment, "demo") as (address, process, said):
        assert any("Loading the demo shop" in line for line in said)
        assert any("Simulated instruments" in line for line in said)
        page = httpx.get(f"{address}/board")
        assert page.status_code == 200
        assert '<div id="app">' in page.text
        assert address in command(environment, "status")
        with at(address, environment) as shop:
            assert shop.get("/api/rack").json()["total"] >= 12
            on_line = ready(shop)
            assert len(on_line) == 6
            assert all(r["stand_in"] for r in on_line)
            heard = events(shop)
            states = [next(heard) for _ in on_line]
            assert {s["instrument_id"] for s in states} == {r["id"] for r in on_line}
            sheet = new_sheet(shop)
            body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
            shop.post(f"/api/bench/sheets/{sheet}/readings", json=body)
            told = next(event for event in heard if event["what"] == "sheet")
            assert told["sheet_id"] == sheet
            (started,) = children(process.pid)
            process.send_signal(signal.SIGINT)  # with a Bench listening
            assert process.wait(timeout=PATIENCE_S) == 0
            assert all(event["what"] != "reading" for event in heard)  # and the stream ends
        psutil.wait_procs([started], timeout=PATIENCE_S)
        assert not started.is_running()
        assert process.stdout is not None
        assert "Traceback" not in process.stdout.read()
    assert "No server runs" in command(environment, "status")


def test_start_serves_an_empty_shop_at_the_port_that_is_set_and_stop_ends_it(
    environment: dict[str, str],
) -> None:
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", int(environment["MAPLE_ROOK_PORT"])))
        busy.listen()
        refused = command(environment, "start", "--no-browser")
        assert f"Port {environment['MAPLE_ROOK_PORT']} is taken" in refused
    with serving(environment, "start") as (address, process, _):
        assert address == f"http://127.0.0.1:{environment['MAPLE_ROOK_PORT']}"
        with at(address, environment) as shop:
            assert shop.get("/api/rack").json()["total"] == 0
            assert shop.get("/api/catalogue").json()["demo"] is False
            rows = shop.get("/api/instruments").json()
        assert {r["kind"] for r in rows} >= {"caliper", "scale", "rule", "reference_block"}
        assert not any(r["stand_in"] or r["address"] for r in rows)
        assert children(process.pid) == []
        said = command(environment, "status")
        for told in (
            address,
            f"process {process.pid} as",
            __version__,
            "up to date",
            "Last backup",
        ):
            assert told in said
        assert "Stopped the server" in command(environment, "stop")
        assert process.wait(timeout=PATIENCE_S) == 0
        assert "No server runs" in command(environment, "status")


def test_a_killed_server_has_kept_what_it_confirmed_and_its_instruments_end_with_it(
    environment: dict[str, str], cluster: Cluster
) -> None:
    stocked = cluster.url(new_shop(cluster, demo=True))
    environment = {**environment, "MAPLE_ROOK_DATABASE_URL": stocked}
    body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
    with serving(environment, "demo") as (address, process, _):
        with at(address, environment) as shop:
            ready(shop)
            sheet = new_sheet(shop)
            sent = shop.post(f"/api/bench/sheets/{sheet}/readings", json=body)
            assert sent.status_code == 201
        (started,) = children(process.pid)
        process.kill()
        process.wait()
        psutil.wait_procs([started], timeout=PATIENCE_S)
        assert not started.is_running()
    with serving(environment, "demo") as (address, _, _), at(address, environment) as shop:
        again = shop.post(f"/api/bench/sheets/{sheet}/readings", json=body)
        assert again.json()["id"] == sent.json()["id"]
        state = shop.get(f"/api/bench/sheets/{sheet}").json()
        assert [r["client_id"] for r in state["readings"]] == [body["client_id"]]
