"""Long tasks: a large shelf calculated by the queue, stopped and begun again; photos proven."""

from __future__ import annotations

import threading
import time
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.demo.shelves import grow_to
from maple_rook.settings import Settings
from maple_rook.shelf import projection
from maple_rook.shelf.projection import Shelf
from shops import shop_engine
from signed_in import bearing, key_of

PIECES = 400


@pytest.fixture(scope="module")
def large(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster, demo=True) as engine:
        grow_to(engine, PIECES)
        yield engine


@dataclass(frozen=True)
class Started:
    """A shop that worked its shelf out when it was started, and its Rack at first and at last."""

    api: TestClient
    first: dict[str, Any]
    last: dict[str, Any]


@pytest.fixture(scope="module")
def started(large: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Started]:
    app = create_app(Settings(web_root=tmp_path_factory.mktemp("w")), large)
    with TestClient(app) as client:
        bearing(client, key_of(large))
        first = rack(client)
        last = until(lambda: rack(client), lambda head: head["behind"] == 0)
        yield Started(client, first, last)


@pytest.fixture
def shop(started: Started) -> TestClient:
    return started.api


@pytest.fixture
def held(monkeypatch: pytest.MonkeyPatch) -> Iterator[threading.Semaphore]:
    """The queue waits for leave before every chunk of pieces."""
    leave, work_out = threading.Semaphore(0), Shelf.work_out
    monkeypatch.setattr(projection, "CHUNK", 100)

    def waiting(self: Shelf, *arguments: Any, **named: Any) -> int:
        if arguments[1] == 100:
            assert leave.acquire(timeout=120)
        return work_out(self, *arguments, **named)

    monkeypatch.setattr(Shelf, "work_out", waiting)
    yield leave
    leave.release(100)


def until(looked: Callable[[], Any], well: Callable[[Any], bool]) -> Any:
    for _ in range(6000):
        found = looked()
        if well(found):
            return found
        time.sleep(0.02)
    raise AssertionError(f"never came: {found}")


def tasks(api: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = api.get("/api/tasks").json()
    return found


def ended(api: TestClient, number: int) -> dict[str, Any]:
    def named() -> dict[str, Any]:
        return next(j for j in tasks(api)["tasks"] if j["id"] == number)

    found: dict[str, Any] = until(named, lambda j: j["ended_at"] is not None)
    return found


def rack(api: TestClient, **query: Any) -> dict[str, Any]:
    found: dict[str, Any] = api.get("/api/rack", params={"limit": 1, **query}).json()
    return found


def test_a_large_shelf_is_worked_out_by_the_shop_itself_and_shown_meanwhile(
    started: Started,
) -> None:
    first, last, shop = started.first, started.last, started.api
    assert first["behind"] > PIECES / 2
    assert first["total"] + first["behind"] == PIECES  # what is not calculated is not listed yet
    assert (last["total"], sum(last["knife_types"].values())) == (PIECES, PIECES)
    [task] = [j for j in tasks(shop)["tasks"] if (j["kind"], j["person"]) == ("shelf", None)]
    assert ended(shop, task["id"])["state"] == "done"
    assert shop.post("/api/counter/advice", json={}).json()["considered"] == PIECES


def test_a_stopped_job_keeps_what_it_did_and_is_left_alone_until_asked_for(
    shop: TestClient, held: threading.Semaphore
) -> None:
    asked = shop.post("/api/tasks", json={"kind": "shelf"})
    assert asked.status_code == 201
    number = asked.json()["id"]
    assert shop.post("/api/tasks", json={"kind": "shelf"}).json()["id"] == number  # it is there
    held.release()
    found = until(lambda: tasks(shop), lambda found: found["tasks"][0]["done"] > 0)
    done = found["tasks"][0]["done"]
    assert done <= 100  # a few may be held by somebody who looked before
    assert shop.post(f"/api/tasks/{number}/stop").json()["stopping"]
    held.release()
    stopped = ended(shop, number)
    assert (stopped["state"], stopped["total"]) == ("stopped", PIECES)
    assert shop.post(f"/api/tasks/{number}/stop").status_code == 409
    behind = rack(shop)["behind"]
    assert 0 < behind < PIECES - done
    assert rack(shop)["total"] == PIECES  # shown as they were before
    assert tasks(shop)["tasks"][0]["state"] == "stopped"
    again = shop.post("/api/tasks", json={"kind": "shelf"}).json()
    held.release(100)
    assert ended(shop, again["id"])["state"] == "done"
    assert rack(shop)["behind"] == 0


def test_a_job_that_fails_says_so_and_can_be_asked_for_again(
    shop: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object, **__: object) -> int:
        raise RuntimeError("of a test")

    with monkeypatch.context() as patched:
        patched.setattr(Shelf, "work_out", broken)
        number = shop.post("/api/tasks", json={"kind": "shelf"}).json()["id"]
        failed = ended(shop, number)
    assert (failed["state"], "on our side" in failed["problem"]) == ("failed", True)
    again = shop.post("/api/tasks", json={"kind": "shelf"}).json()["id"]
    assert ended(shop, again)["state"] == "done"


def test_photos_are_measured_again_and_what_differs_is_named(
    shop: TestClient, large: Engine
) -> None:
    with large.connect() as connection:
        piece = connection.scalar(text("SELECT id FROM pieces WHERE tag = 'KH-01'"))
    sheet = shop.post(f"/api/bench/pieces/{piece}/sheets").json()["id"]
    made = {"client_id": str(uuid.uuid4()), "sheet_id": sheet, "view": "side", "shot": "straight"}
    photo = shop.post("/api/photos/stand-in", json=made).json()["id"]
    taken = {
        "client_id": str(uuid.uuid4()),
        "how": {},
        "quantities": ["edge_length"],
        "keep_edge": False,
    }
    assert shop.post(f"/api/photos/{photo}/accept", json=taken).status_code == 201
    number = shop.post("/api/tasks", json={"kind": "photos"}).json()["id"]
    found = ended(shop, number)
    assert (found["state"], found["done"], found["differs"]) == ("done", 1, [])
    with large.begin() as connection:  # as if the method had changed since
        connection.execute(
            text("""
            INSERT INTO photo_measurements (client_id, photo_id, method, parameters, results,
                                            person_id)
            SELECT gen_random_uuid(), photo_id, method, parameters,
                   jsonb_set(results, '{figures,edge_length,0}', '1.0'), person_id
              FROM photo_measurements
        """)
        )
    [differs] = ended(shop, shop.post("/api/tasks", json={"kind": "photos"}).json()["id"])[
        "differs"
    ]
    assert (differs["tag"], differs["sheet_id"], differs["photo_id"]) == ("KH-01", sheet, photo)
    assert "edge length" in differs["why"]
