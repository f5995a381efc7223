"""Clients that send half a request, or never fetch an answer: they are given up, others go on."""

from __future__ import annotations

import socket
import time
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path

import httpx2 as httpx
import pytest
from fastapi import FastAPI
from sqlalchemy import Engine

from bench_line import until
from maple_rook.app import create_app
from maple_rook.http import patience, problems
from maple_rook.settings import Settings
from maple_rook.stations.exchange import exporting
from served import served
from signed_in import bearing, key_of

SOON_S = 0.4
STALLED = 25


@pytest.fixture
def app(engine: Engine, tmp_path: Path) -> FastAPI:
    return create_app(Settings(web_root=tmp_path), engine)


@pytest.fixture
def address(app: FastAPI) -> Iterator[str]:
    with served(app) as found:
        yield found


def line(address: str) -> socket.socket:
    where = httpx.URL(address)
    return socket.create_connection((where.host, where.port), timeout=20)


def running(app: FastAPI) -> float:
    """Requests that are being answered."""
    found = app.state.watch.registry.get_sample_value("maple_rook_requests_running")
    assert found is not None
    return float(found)


def told(opened: socket.socket) -> bytes:
    """All that is answered until the line is ended."""
    said = b""
    while part := opened.recv(65_536):
        said += part
    return said


@pytest.mark.parametrize("sent", [b"", b"GET /api/session HT", b"GET / HTTP/1.1\r\nHost: x\r\nA"])
def test_half_a_head_is_given_up(
    address: str, monkeypatch: pytest.MonkeyPatch, sent: bytes
) -> None:
    monkeypatch.setattr(patience, "HEAD_WITHIN_S", SOON_S)
    with line(address) as opened:
        opened.sendall(sent)
        assert told(opened).startswith(b"HTTP/1.1 408 ")


def test_half_a_second_head_is_given_up_too(address: str, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = b"GET /api/health/alive HTTP/1.1\r\nHost: localhost\r\n\r\n"
    monkeypatch.setattr(patience, "HEAD_WITHIN_S", SOON_S)
    with line(address) as opened:
        opened.sendall(whole)
        answer = b""
        while not answer.endswith(b"}"):  # head and body may come one after the other
            answer += opened.recv(65_536)
        assert answer.startswith(b"HTTP/1.1 200 ")
        time.sleep(2 * SOON_S)  # a line that is kept for the next request is not half a head
        opened.sendall(whole[:10])
        assert told(opened).startswith(b"HTTP/1.1 408 ")


def test_a_head_is_as_long_as_heads_are(address: str) -> None:
    with line(address) as opened:
        opened.sendall(b"GET /api/session HTTP/1.1\r\nHost: localhost\r\n")
        opened.sendall(b"A: " + b"x" * patience.HEAD_BYTES)
        assert told(opened).startswith(b"HTTP/1.1 431 ")


def test_a_body_in_drops_is_given_up(address: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(problems, "BODY_GRACE_S", SOON_S)
    with line(address) as opened:
        opened.sendall(
            b"POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\n"
            b"Content-Length: 100\r\n\r\n{"
        )
        said = told(opened)
    assert said.startswith(b"HTTP/1.1 408 ")
    assert b"nothing was stored" in said


def test_downloads_that_nobody_fetches_keep_no_connection(
    app: FastAPI, engine: Engine, address: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Larger than what lies between server and client; given up once nothing is fetched."""
    monkeypatch.setattr(patience, "FETCHED_WITHIN_S", 5 * SOON_S)
    monkeypatch.setattr(exporting, "table_csv", lambda *_: ("x" * 99_999 + "\n" for _ in range(70)))
    ask = (
        b"GET /api/v1/readings.csv HTTP/1.1\r\nHost: localhost\r\nAuthorization: Bearer "
        + key_of(engine).encode()
        + b"\r\n\r\n"
    )
    with ExitStack() as stack:
        stalled = [stack.enter_context(line(address)) for _ in range(STALLED)]
        for opened in stalled:
            opened.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4_096)
            opened.sendall(ask)
        for opened in stalled:
            assert opened.recv(1_000).startswith(b"HTTP/1.1 200 ")  # and no more is fetched
        assert [e.pool.checkedout() for e in (engine, *app.state.engines)] == [0, 0]  # type: ignore[attr-defined]
        with bearing(httpx.Client(base_url=address, timeout=20), key_of(engine)) as other:
            assert other.get("/api/rack").status_code == 200
            assert len(other.get("/api/v1/readings.csv").content) == 7_000_000
        until(lambda: running(app) == 0)  # while all of them are still connected


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("localhost", 200),
        ("127.0.0.1:8420", 200),
        ("[::1]:8420", 200),
        ("10.0.0.7", 200),
        ("knives.example", 200),
        ("rebound.example", 421),
        ("localhost.rebound.example", 421),
        ("", 421),
    ],
)
def test_the_shop_answers_under_its_own_names(
    engine: Engine, tmp_path: Path, host: str, status: int
) -> None:
    """RFC 9110, 15.5.20: 421 where the server does not answer for the name."""
    app = create_app(Settings(web_root=tmp_path, public_url="https://knives.example"), engine)
    with served(app) as address, line(address) as opened:
        opened.sendall(
            f"GET /api/session HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\n\r\n".encode()
        )
        assert told(opened).startswith(f"HTTP/1.1 {status} ".encode())
