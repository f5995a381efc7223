"""What an operator watches: figures of the shop, and rules and a dashboard that use them."""

from __future__ import annotations

import json
import os
import re
import time
from pathlib import Path

import pytest
import yaml
from fastapi.testclient import TestClient
from prometheus_client.parser import text_string_to_metric_families
from sqlalchemy import Engine, text

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.settings import PROJECT_ROOT, Settings
from shops import shop_engine
from signed_in import bearing, key_of

MONITORING = PROJECT_ROOT / "docs" / "monitoring"
NAME = re.compile(r"\bmaple_rook_\w+")


def figures(api: TestClient) -> dict[str, float]:
    """Every sample by its name and labels, as Prometheus's own parser reads them."""
    answer = api.get("/api/metrics")
    assert answer.status_code == 200, answer.text
    return {
        sample.name + "".join(f" {v}" for v in sample.labels.values()): sample.value
        for family in text_string_to_metric_families(answer.text)
        for sample in family.samples
    }


def test_the_figures_of_a_shop_follow_it(cluster: Cluster, tmp_path: Path) -> None:
    with shop_engine(cluster) as engine:
        app = create_app(Settings(web_root=tmp_path, home=tmp_path), engine)
        with TestClient(app) as api:
            bearing(api, key_of(engine))
            before = figures(api)
            assert before["maple_rook_shelf_behind_pieces"] == 0
            assert "maple_rook_backup_age_seconds" not in before
            assert before["maple_rook_database_bytes"] == _size(engine)
            _hold_a_task(engine)
            model = {"maker": "Test Smithy", "line": "One", "knife_type": "gyuto", "nominal": "210"}
            api.post("/api/bench/pieces", json={"tag": "T", "model": model})
            (tmp_path / "backups").mkdir()
            backup = tmp_path / "backups" / "shop.dump"
            backup.touch()
            an_hour_ago = time.time() - 3600
            os.utime(backup, (an_hour_ago, an_hour_ago))
            after = figures(api)
            assert after["maple_rook_shelf_behind_pieces"] == 1
            assert after["maple_rook_tasks waiting"] == before["maple_rook_tasks waiting"] + 1
            assert after["maple_rook_task_oldest_seconds waiting"] >= 0
            assert after["maple_rook_backup_age_seconds"] == pytest.approx(3600, abs=60)
            assert after["maple_rook_event_streams"] == 0


def test_rules_and_dashboard_use_figures_that_there_are(cluster: Cluster, tmp_path: Path) -> None:
    (tmp_path / "backups").mkdir()
    (tmp_path / "backups" / "shop.dump").touch()
    with shop_engine(cluster) as engine:
        app = create_app(Settings(web_root=tmp_path, home=tmp_path), engine)
        with TestClient(app) as api:
            bearing(api, key_of(engine))
            api.get("/api/rack")
            known = {name.split(" ")[0] for name in figures(api)}
    rules = yaml.safe_load((MONITORING / "alerts.yml").read_text())["groups"][0]["rules"]
    board = json.loads((MONITORING / "dashboard.json").read_text())
    asked = [rule["expr"] for rule in rules]
    asked += [target["expr"] for panel in board["panels"] for target in panel["targets"]]
    assert len(asked) > 15
    assert {name for expr in asked for name in NAME.findall(expr)} <= known
    for expr in asked:
        for opened, closed in ("()", "[]", "{}"):
            assert expr.count(opened) == expr.count(closed), expr


def _size(engine: Engine) -> float:
    with engine.connect() as db:
        return float(db.scalar(text("SELECT pg_database_size(current_database())")))


def _hold_a_task(engine: Engine) -> None:
    """A task that waits for another day."""
    with engine.begin() as db:
        db.execute(text("SET LOCAL search_path TO jobs, public"))
        db.execute(
            text(
                "INSERT INTO jobs.procrastinate_jobs (queue_name, task_name, status, priority,"
                " args, attempts, scheduled_at)"
                " VALUES ('later', 'nothing', 'todo', 0, '{}', 0, now() + interval '1 day')"
            )
        )
