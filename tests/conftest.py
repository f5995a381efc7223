"""A PostgreSQL of the tests' own, a stocked shop, and the application on it."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings
from sqlalchemy import Engine
from sqlalchemy.orm import Session

from maple_rook.app import create_app
from maple_rook.cluster import Cluster, temporary_cluster
from maple_rook.server import prepare
from maple_rook.settings import Settings
from maple_rook.store.database import connect, sessions
from signed_in import bearing, key_of

# A loaded machine is slow, not wrong, and a failure is one anybody can have again.
settings.register_profile("steady", deadline=None, derandomize=True)
settings.load_profile("steady")


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    with temporary_cluster() as running:
        yield running


@pytest.fixture(scope="session")
def engine(cluster: Cluster) -> Iterator[Engine]:
    """A database with the demo shop, shared by the session's tests."""
    cluster.ensure_database("demo")
    made = connect(cluster.url("demo"))
    prepare(made, is_demo=True, say=lambda _: None)
    yield made
    made.dispose()


@pytest.fixture
def db(engine: Engine) -> Iterator[Session]:
    with sessions(engine)() as session:
        yield session


@pytest.fixture(scope="session")
def api(engine: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """The API on the demo shop, without a front end; a 500 is answered, not raised."""
    nowhere: Path = tmp_path_factory.mktemp("no-web")
    app = create_app(Settings(draws=400, web_root=nowhere), engine)
    with TestClient(app, raise_server_exceptions=False) as client:
        bearing(client, key_of(engine))
        yield client
