"""So many clients that ask again as soon as they have an answer, on connections kept open."""

from __future__ import annotations

import asyncio
import json
import random
import statistics
import time
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

LEAST = 3


@dataclass(frozen=True)
class Asked:
    """One request, whole, as it goes over the line."""

    address: str
    raw: bytes

    @classmethod
    def get(cls, address: str, path: str, headers: dict[str, str]) -> Asked:
        return cls(address, _head("GET", path, headers) + b"\r\n")

    @classmethod
    def post(cls, address: str, path: str, headers: dict[str, str], body: Any) -> Asked:
        content = json.dumps(body).encode()
        more = {**headers, "content-type": "application/json", "content-length": len(content)}
        return cls(address, _head("POST", path, more) + b"\r\n" + content)


def _head(method: str, path: str, headers: dict[str, Any]) -> bytes:
    lines = [
        f"{method} {path} HTTP/1.1",
        "host: 127.0.0.1",
        "accept-encoding: gzip",
        *(f"{key}: {value}" for key, value in headers.items()),
    ]
    return "".join(f"{line}\r\n" for line in lines).encode()


@dataclass(frozen=True)
class Borne:
    """Median and 95th percentile of an answer, ms, and answers a second."""

    median: float
    p95: float
    per_second: float


def bear(asked: Asked, clients: int, seconds: float = 3.0, every_s: float = 0.0) -> Borne:
    """``every_s`` is how often each client asks; as soon as it has an answer if not said."""
    return asyncio.run(_bear(asked, clients, seconds, every_s))


async def _bear(asked: Asked, clients: int, seconds: float, every_s: float) -> Borne:
    times: list[float] = []
    until = time.perf_counter() + seconds
    await asyncio.gather(*(_client(asked, until, times, every_s) for _ in range(clients)))
    ordered = sorted(times)
    return Borne(
        1000 * statistics.median(ordered),
        1000 * ordered[int(0.95 * len(ordered))],
        len(times) / seconds,
    )


async def _client(asked: Asked, until: float, times: list[float], every_s: float) -> None:
    placed = urlsplit(asked.address)
    reader, writer = await asyncio.open_connection(placed.hostname, placed.port, limit=2**22)
    for number in range(1_000_000):
        started = time.perf_counter()
        writer.write(asked.raw)
        head = await reader.readuntil(b"\r\n\r\n")
        status = int(head.split(b" ", 2)[1])
        assert status in (200, 201, 304), head
        await reader.readexactly(_length(head))
        now = time.perf_counter()
        if number:  # the first opens the line
            times.append(now - started)
        if now > until and number >= LEAST:
            break
        await asyncio.sleep(max(0.0, random.uniform(0.5, 1.5) * every_s - (now - started)))
    writer.close()


def _length(head: bytes) -> int:
    found = [line for line in head.lower().split(b"\r\n") if line.startswith(b"content-length:")]
    return int(found[0].split(b":")[1]) if found else 0
