"""Every route by every role: what is not allowed is refused, and nothing is forgotten."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from described import described_paths
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.http.policy import POLICY, ROLES, May, Role
from maple_rook.settings import Settings
from maple_rook.store import people
from maple_rook.store.database import sessions
from maple_rook.store.tables import Person
from shops import shop_engine

ANYBODY = (None, Role.READER, Role.COUNTER, Role.BENCH, Role.OWNER)
ENDLESS = "instruments_events"
ROUTES = {
    found["operationId"]: (method, path)
    for path, methods in described_paths().items()
    if path.startswith("/api/")
    for method, found in methods.items()
}


@pytest.fixture(scope="module")
def shop(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster) as engine:
        yield engine


@pytest.fixture(scope="module")
def client(shop: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    settings = Settings(web_root=tmp_path_factory.mktemp("no-web"), requests_per_minute=1_000_000)
    with TestClient(create_app(settings, shop), raise_server_exceptions=False) as made:
        yield made


def fresh_key(engine: Engine, role: Role) -> str:
    """A key of somebody who has only this one."""
    with sessions(engine)() as db:
        person = Person(name=f"{role} {db.query(Person).count()}", role=role)
        db.add(person)
        db.flush()
        key = people.let_in(db, person.id, kind=people.PROGRAM, label="matrix")
        db.commit()
    return key


def test_every_route_has_a_policy_and_every_policy_a_route() -> None:
    assert set(POLICY) == set(ROUTES)


def test_roles_contain_each_other_as_people_expect() -> None:
    reader, counter, bench, owner = (ROLES[role].permitted for role in ANYBODY[1:] if role)
    assert reader < counter < bench < owner
    assert owner == frozenset(May)
    assert May.GOVERN not in bench


COMPUTED_ONLY = {
    "bench_preview_edge",
    "board_board",
    "counter_advice",
    "counter_card",
    "cut_trials_read",
    "office_study_preview",
    "predict_predict",
    "sheet_try_figures",
    "steels_estimate_carbides",
    "trials_read",
    "upkeep_reprofile",
}
"""Asked with a body, and nothing of it is kept."""


def writes(role: Role) -> set[str]:
    """What a role may ask for other than by GET."""
    return {a for a, (m, _) in ROUTES.items() if m != "get" and POLICY[a] in ROLES[role].permitted}


def test_who_reads_writes_nothing_but_their_own_way_in() -> None:
    written = writes(Role.READER) - COMPUTED_ONLY
    assert {action.partition("_")[0] for action in written} == {"people"}
    assert {POLICY[action] for action in written} == {May.COME, May.SELF}


def test_the_counter_writes_customers_comparisons_and_plans_and_no_measurement() -> None:
    assert writes(Role.COUNTER) - writes(Role.READER) == {
        "board_save_comparison",
        "board_put_comparison_away",
        "counter_forget_customer",
        "counter_keep_customer",
        "trials_store_prediction",
        "upkeep_begin_plan",
        "upkeep_end_plan",
        "upkeep_strike",
        "upkeep_write",
    }


@pytest.mark.parametrize("action", sorted(ROUTES))
def test_a_route_lets_in_whom_the_policy_says_and_nobody_else(
    client: TestClient, shop: Engine, action: str
) -> None:
    method, path = ROUTES[action]
    path = re.sub(r"\{(\w*id|key|earlier_id)\}", "999999", path)
    path = re.sub(r"\{\w+\}", "nowhere", path)
    for role in ANYBODY:
        bearer = {"Authorization": f"Bearer {fresh_key(shop, role)}"} if role else {}
        allowed = POLICY[action] in (ROLES[role].permitted if role else {May.COME})
        if allowed and action == ENDLESS:
            continue
        answer = client.request(method, path, headers=bearer)
        kind = answer.json()["type"] if answer.status_code in (401, 403) else ""
        if role is None:
            assert (kind == "sign-in-needed") is not allowed, (action, answer.text)
        else:
            assert (kind == "not-permitted") is not allowed, (action, role, answer.text)
        assert answer.status_code != 500, (action, role, answer.text)
