"""How often the database is asked: as often for many pieces as for few, whatever is listed."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, event
from sqlalchemy.orm import Session

from bench_line import until
from described import described_paths
from maple_rook.demo.shelves import grow_to
from maple_rook.store.shelf import moment

MANY, TRIES = 60, 10
ENDLESS = "/api/instruments/events"
OWN = ("/api/sign-ins", "/api/two-step")
"""Told to nobody with a key."""
WHOLE = ("/api/v1/archive.zip", "/api/v1/shop.json", "/api/v1/shop.xlsx")
"""The record from end to end, read table by table."""
SIGN_IN = "SELECT sign_ins"
"""What a sign-in is looked up by, again every other second."""
LISTS = sorted(
    path
    for path, methods in described_paths().items()
    if "get" in methods
    and path not in (ENDLESS, *WHOLE, *OWN)
    and not any(p.get("required") for p in methods["get"].get("parameters", []))
)
SIX = "&".join(f"piece={number}" for number in range(1, 7))
FEW_AND_SIX = {
    "/api/strip": ("piece=1", SIX),
    "/api/v1/pieces": ("limit=2", "limit=20"),
    "/api/rack": ("limit=2", "limit=60"),
}


@contextmanager
def counted(api: TestClient, engine: Engine) -> Iterator[list[str]]:
    """Statements of requests and of long work, which have connections apart."""
    engines = [engine, *api.app.state.engines]  # type: ignore[attr-defined]
    asked: list[str] = []

    def note(_: object, __: object, statement: str, *___: object) -> None:
        if not statement.startswith(SIGN_IN):
            asked.append(statement)

    for one in engines:
        event.listen(one, "before_cursor_execute", note)
    yield asked
    for one in engines:
        event.remove(one, "before_cursor_execute", note)


def statements(api: TestClient, engine: Engine, address: str) -> list[str]:
    """What is asked for an answer while nobody writes, or the least of all tries.

    Whenever anything at all was written, such as that the queue lives, the shelf looks again: only
    a second request between two equal moments tells what the answer itself needs.
    """
    times = []
    for _ in range(TRIES):
        before = _moment(engine)
        api.get(address)
        with counted(api, engine) as asked:
            answer = api.get(address)
        assert answer.is_success, answer.text
        times.append(asked)
        if before == _moment(engine):
            break
    return min(times, key=len)


def _moment(engine: Engine) -> str | None:
    with Session(engine) as db:
        return moment(db)


@pytest.fixture(scope="module")
def few_and_many(api: TestClient, engine: Engine) -> dict[str, tuple[list[str], list[str]]]:
    """The statements of every list, of the demo shop and of one nearly twice as large."""
    until(lambda: api.get("/api/rack").json()["behind"] == 0)
    few = {path: statements(api, engine, path) for path in LISTS}
    grow_to(engine, MANY)
    until(lambda: api.get("/api/rack").json()["behind"] == 0)
    return {path: (few[path], statements(api, engine, path)) for path in LISTS}


@pytest.mark.parametrize("path", LISTS)
def test_a_list_asks_no_more_often_for_many_pieces(
    few_and_many: dict[str, tuple[list[str], list[str]]], path: str
) -> None:
    few, many = few_and_many[path]
    assert len(many) <= len(few), [s[:80] for s in many[len(few) :]]


@pytest.mark.parametrize("path", FEW_AND_SIX)
def test_nor_for_more_of_them_at_once(api: TestClient, engine: Engine, path: str) -> None:
    until(lambda: api.get("/api/rack").json()["behind"] == 0)
    few, more = (statements(api, engine, f"{path}?{query}") for query in FEW_AND_SIX[path])
    assert len(more) <= len(few), [s[:80] for s in more[len(few) :]]


MOST = {
    "/api/pieces/1": 17,
    "/api/pieces/1/upkeep": 13,
    "/api/pieces/1/work": 9,
    "/api/pieces/1/care": 8,
    "/api/bench/sheets/1": 10,
    "/api/rack?limit=60": 3,
    "/api/trials/1": 11,
    "/api/trials/calibration": 14,
    "/api/upkeep/plans": 12,
    "/api/claims": 4,
}
"""The ten largest answers, and how often each asks at most."""


@pytest.mark.parametrize("address", sorted(MOST))
def test_a_large_answer_is_had_in_so_many_statements(
    api: TestClient, engine: Engine, address: str
) -> None:
    until(lambda: api.get("/api/rack").json()["behind"] == 0)
    assert len(statements(api, engine, address)) <= MOST[address]
