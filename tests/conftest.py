"""A PostgreSQL of the tests' own, a stocked shop, and the application on it."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings
from hypothesis.internal.conjecture import providers
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy import Engine
from sqlalchemy.orm import Session

from maple_rook.cluster import Cluster, temporary_cluster
from maple_rook.store import people
from maple_rook.store.database import sessions
from shops import shop_api, shop_engine

# A loaded machine is slow, not wrong, and a failure is one anybody can have again: what is drawn
# must not hang on the constants of the modules a worker has loaded by then, which Hypothesis uses.
providers._get_local_constants = lambda: providers._local_constants
settings.register_profile("steady", deadline=None, derandomize=True)
settings.load_profile("steady")

ROOMS = ("core", "reference", "formats", "faults", "photo", "browser", "stations", "store")
"""The order in which rooms begin: what fails soonest first, then what takes longest."""


@pytest.hookimpl(tryfirst=True)  # before xdist writes down which group each test is of
def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Give a module to one worker, for the sake of its fixtures, unless its tests are spread."""
    if not config.pluginmanager.hasplugin("randomly") and not config.getoption("reverse", False):
        items.sort(key=_room)
    for item in items:
        if not item.get_closest_marker("spread"):
            item.add_marker(pytest.mark.xdist_group(_group(item)))


def _group(item: pytest.Item) -> str:
    """Whose tests one worker runs: a module's; of all that kill and fill what others may need."""
    room, module = item.path.parent.name, item.path.stem.removeprefix("test_")
    return room if room == "faults" else f"{room}.{module}"


def _room(item: pytest.Item) -> int:
    room = item.path.parent.name
    return ROOMS.index(room) if room in ROOMS else len(ROOMS)


@pytest.fixture(autouse=True, scope="session")
def served_for_tests() -> Iterator[None]:
    """The name of the test client is known; servers stay who runs the tests."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("MAPLE_ROOK_HOSTS", "testserver")
        patch.setenv("MAPLE_ROOK_RUN_AS", "root")
        yield


@pytest.fixture(autouse=True, scope="session")
def cheap_passwords() -> Iterator[None]:
    """Hundreds of passwords are set and tried; what a hash really costs has a test of its own."""
    with pytest.MonkeyPatch.context() as patch:
        cheap = Argon2Hasher(time_cost=1, memory_cost=64, parallelism=1)
        patch.setattr(people, "HASHER", PasswordHash((cheap,)))
        yield


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    with temporary_cluster() as running:
        yield running


@pytest.fixture(scope="module")
def engine(cluster: Cluster) -> Iterator[Engine]:
    """A database with the demo shop, shared by a module's tests."""
    with shop_engine(cluster, demo=True) as made:
        yield made


@pytest.fixture
def db(engine: Engine) -> Iterator[Session]:
    with sessions(engine)() as session:
        yield session


@pytest.fixture(scope="module")
def api(engine: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """The API on the demo shop, without a front end; a 500 is answered, not raised."""
    with shop_api(engine, tmp_path_factory.mktemp("no-web")) as client:
        yield client
