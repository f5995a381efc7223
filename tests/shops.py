"""Further shops beside the demo's, on databases of their own."""

from __future__ import annotations

import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from fastapi.testclient import TestClient
from sqlalchemy import Engine

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.server import prepare
from maple_rook.settings import Settings
from maple_rook.store.database import connect
from signed_in import bearing, key_of

TODAY = "2026-11-20"


def new_shop(cluster: Cluster, *, demo: bool = False, name: str | None = None) -> str:
    """Name of a new database with a shop in it: a copy of one that each cluster makes once."""
    template = "template_demo" if demo else "template_empty"
    if cluster.ensure_database(template):
        engine = connect(cluster.url(template))
        prepare(engine, is_demo=demo, say=lambda _: None)
        engine.dispose()
    name = name or f"shop_{uuid.uuid4().hex}"
    cluster.copy_database(template, name)
    return name


@contextmanager
def shop_engine(cluster: Cluster, *, demo: bool = False) -> Iterator[Engine]:
    """A shop of its own: empty, as a fresh start founds it, or another demo shop."""
    name = new_shop(cluster, demo=demo)
    engine = connect(cluster.url(name))
    yield engine
    engine.dispose()
    cluster.drop_database(name)


@contextmanager
def shop_api(engine: Engine, nowhere: Path) -> Iterator[TestClient]:
    app = create_app(Settings(web_root=nowhere), engine)
    with TestClient(app, raise_server_exceptions=False) as client:
        bearing(client, key_of(engine))
        yield client


def given(api: TestClient, content: bytes | str, name: str = "list.csv") -> dict:
    """A file handed in, as the server understands it."""
    body = content.encode() if isinstance(content, str) else content
    answer = api.post("/api/imports", params={"name": name}, content=body)
    assert answer.status_code == 201, answer.text
    return answer.json()


def run(
    api: TestClient,
    found: dict,
    *,
    for_good: bool = True,
    origin: str = "ours",
    **choices: object,
) -> dict:
    """The file tried or imported as it was guessed, once it is done.

    Figures are the shop's own, where no other ``origin`` is said.
    """
    tables = [
        {
            "kind": t["kind"],
            "origin": origin,
            "decimals": t["decimals"],
            "columns": [{"field": c["field"], "unit": c["unit"]} for c in t["columns"]],
        }
        for t in found["tables"]
    ]
    asked = {"source": "a friend's list", "measured_on": TODAY, "tables": tables, **choices}
    answer = api.post(f"/api/imports/{found['id']}/run", json={**asked, "for_good": for_good})
    assert answer.status_code == 202, answer.text
    for _ in range(2400):
        now = api.get(f"/api/imports/{found['id']}").json()
        if now["state"] != "running":
            return now
        time.sleep(0.05)
    raise AssertionError("still running")
