"""From every schema that was ever released to the newest, with a shop in it; through a crash."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, text

from maple_rook.cluster import Cluster
from maple_rook.core.cutting.foods import FOODS
from maple_rook.settings import PROJECT_ROOT
from maple_rook.store.database import migrate, migrations, newest_revision, sessions
from maple_rook.store.foods import estimated_foods, shop_foods
from maple_rook.store.tables import Base
from shops import shop_engine

CONFIG = migrations()
RELEASED = sorted(r.revision for r in ScriptDirectory.from_config(CONFIG).walk_revisions())
KEPT = ("makers", "knife_models", "pieces", "sheets", "readings", "reading_voids", "claims")


@pytest.fixture(scope="module")
def stocked(cluster: Cluster) -> Iterator[Engine]:
    """The demo shop in a database of its own, taken back and forth."""
    with shop_engine(cluster, demo=True) as made:
        yield made


def back_to(engine: Engine, revision: str) -> None:
    with engine.begin() as connection:
        CONFIG.attributes["connection"] = connection
        command.downgrade(CONFIG, revision)


def revision_of(engine: Engine) -> str:
    with engine.connect() as connection:
        return str(connection.scalar(text("SELECT version_num FROM alembic_version")))


def migrating(engine: Engine) -> subprocess.Popen[bytes]:
    """A process that brings the database up to date, as a starting server does."""
    script = (
        "from maple_rook.store.database import connect, migrate; import sys;"
        "migrate(connect(sys.argv[1]))"
    )
    url = engine.url.render_as_string(hide_password=False)
    environment = {"PYTHONPATH": str(Path(PROJECT_ROOT, "src"))}
    return subprocess.Popen([sys.executable, "-c", script, url], env=environment)


def readings(engine: Engine) -> list[tuple[object, ...]]:
    """What every release kept of a reading."""
    query = "SELECT client_id, sheet_id, quantity, typed, si_value, replicate FROM readings"
    with engine.connect() as connection:
        return [tuple(row) for row in connection.execute(text(f"{query} ORDER BY id"))]


@pytest.mark.parametrize("revision", RELEASED)
def test_a_shop_of_every_release_comes_up_to_date_with_nothing_lost(
    stocked: Engine, revision: str
) -> None:
    before = readings(stocked)
    back_to(stocked, revision)
    assert revision_of(stocked) == revision
    counts = "SELECT " + ", ".join(f"(SELECT count(*) FROM {table})" for table in KEPT)
    with stocked.connect() as connection:
        there = connection.execute(text(counts)).one()
    migrate(stocked)
    assert revision_of(stocked) == newest_revision() == RELEASED[-1]
    with stocked.connect() as connection:
        assert connection.execute(text(counts)).one() == there
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, Base.metadata) == []
    assert readings(stocked) == before


def test_a_migration_that_is_killed_half_way_changes_nothing(stocked: Engine) -> None:
    oldest = RELEASED[0]
    back_to(stocked, oldest)
    with stocked.connect() as connection:
        # The last revision changes people: it waits here, with all before it done.
        connection.execute(text("LOCK TABLE people IN ACCESS SHARE MODE"))
        process = migrating(stocked)
        waiting = text("SELECT count(*) FROM pg_locks WHERE NOT granted")
        deadline = time.monotonic() + 30
        while not connection.scalar(waiting) and time.monotonic() < deadline:
            time.sleep(0.05)
        assert connection.scalar(waiting)
        process.kill()
        process.wait()
        connection.rollback()
    assert revision_of(stocked) == oldest
    migrate(stocked)
    assert revision_of(stocked) == newest_revision()


def test_two_servers_that_start_at_once_migrate_once(stocked: Engine) -> None:
    back_to(stocked, "0008")
    started = [migrating(stocked) for _ in range(3)]
    assert [process.wait(timeout=60) for process in started] == [0, 0, 0]
    assert revision_of(stocked) == newest_revision()


def test_a_shops_own_foods_keep_their_values_and_get_the_new_ones_estimated(
    stocked: Engine,
) -> None:
    """A food as it was shipped becomes what is shipped now; the shop's own stays and is marked."""
    back_to(stocked, "0019")
    values = "(:key, :key, :r, :rf, :k, 0.2, 30, 28, 0)"
    row = text(
        f"INSERT INTO foods (key, label, toughness_j_m2, blunting_um, stiffness_n_mm3,"
        f" friction, height_mm, width_mm, place) VALUES {values}"
    )
    shipped = text(
        "INSERT INTO foods VALUES ('cheese', 'firm cheese', 20, 10, 0.008, 0.5, 40, 60, 1)"
    )
    with stocked.begin() as connection:
        connection.execute(row, {"key": "carrot", "r": 900, "rf": 20, "k": 0.09})
        connection.execute(row, {"key": "beetroot", "r": 700, "rf": 20, "k": 0.05})
        connection.execute(shipped)
    migrate(stocked)
    with sessions(stocked)() as db:
        foods = {food.key: food for food in shop_foods(db)}
        assert estimated_foods(db) == {"carrot", "beetroot"}
    carrot, like = foods["carrot"], FOODS["carrot"]
    assert (carrot.toughness_j_m2, carrot.stiffness_n_mm3) == (900, 0.09)
    assert (carrot.modulus_mpa, carrot.adhesion_kpa) == (like.modulus_mpa, like.adhesion_kpa)
    assert foods["beetroot"].modulus_mpa == like.modulus_mpa, "it presses most like carrot"
    assert foods["cheese"] == FOODS["cheese"]
