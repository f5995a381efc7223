"""Every route by every role: what is not allowed is refused, and nothing is forgotten."""

from __future__ import annotations

import re
import uuid
from collections.abc import Iterator
from typing import NamedTuple

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from described import described_paths
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.http.authentication import COOKIE, TOKEN_HEADER, page_token
from maple_rook.http.policy import GRAVE, POLICY, ROLES, May, Role
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


class Identity(NamedTuple):
    """Somebody of a role, in a browser or with a key narrowed to another role."""

    role: Role
    kind: str
    narrowed_to: Role | None = None


GIVEN = [role for role in ANYBODY if role is not None]
KEYS = [Identity(role, people.PROGRAM, to) for role in GIVEN for to in (None, *GIVEN)]
BROWSERS = [Identity(role, people.BROWSER) for role in GIVEN]


def token_of(engine: Engine, who: Identity) -> str:
    """What lets in somebody who has come in by nothing else."""
    with sessions(engine)() as db:
        person = Person(name=f"{who.role} {uuid.uuid4()}", role=who.role)
        db.add(person)
        db.flush()
        token = people.let_in(db, person.id, kind=who.kind, label="matrix", role=who.narrowed_to)
        db.commit()
    return token


@pytest.fixture(scope="module")
def keys(shop: Engine) -> dict[Identity, str]:
    return {who: token_of(shop, who) for who in KEYS}


def may(who: Identity, action: str) -> bool:
    """What the policy says, calculated the long way."""
    allowed = POLICY[action] in ROLES[who.role].permitted
    if who.kind == people.BROWSER:
        return allowed
    narrowed = who.narrowed_to is None or POLICY[action] in ROLES[who.narrowed_to].permitted
    return allowed and narrowed and POLICY[action] is not May.SELF and action not in GRAVE


def test_every_route_has_a_policy_and_every_policy_a_route() -> None:
    assert set(POLICY) == set(ROUTES)


def test_roles_contain_each_other_as_people_expect() -> None:
    reader, counter, bench, owner = (ROLES[role].permitted for role in ANYBODY[1:] if role)
    assert reader < counter < bench < owner
    assert owner == frozenset(May)
    assert May.GOVERN not in bench


COMPUTED_ONLY = {
    "bench_figure_by_method",
    "bench_preview_edge",
    "board_board",
    "counter_advice",
    "counter_card",
    "counter_pair",
    "cut_trials_read",
    "office_study_preview",
    "predict_predict",
    "sheet_try_figures",
    "steels_estimate_carbides",
    "trials_read",
    "upkeep_reprofile",
    "v1_compared",
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
        "counter_forget_wish",
        "counter_keep_customer",
        "counter_keep_wish",
        "pages_begin",
        "pages_change",
        "pages_change_photograph",
        "pages_discard",
        "pages_drop_photograph",
        "pages_keep_photograph",
        "pages_order_photographs",
        "sheet_move_stock",
        "trials_store_prediction",
        "upkeep_begin_plan",
        "upkeep_end_plan",
        "upkeep_strike",
        "upkeep_write",
    }


def test_what_is_grave_is_known() -> None:
    assert set(POLICY) > GRAVE
    assert {POLICY[action] for action in GRAVE} == {May.SELF, May.GOVERN}


@pytest.mark.parametrize("action", sorted(ROUTES))
def test_a_route_lets_in_whom_the_policy_says_and_nobody_else(
    client: TestClient, shop: Engine, keys: dict[Identity, str], action: str
) -> None:
    """Without a sign-in, in a browser of each role, with a key of each role and width."""
    method, path = ROUTES[action]
    path = re.sub(r"\{(\w*id|key|earlier_id)\}", "999999", path)
    path = re.sub(r"\{\w+\}", "nowhere", path)
    answer = client.request(method, path)
    refused = answer.status_code == 401 and answer.json()["type"] == "sign-in-needed"
    assert refused is (POLICY[action] is not May.COME), (action, answer.text)
    for who in (*KEYS, *BROWSERS):
        allowed = may(who, action)
        if allowed and action == ENDLESS:
            continue
        if who.kind == people.BROWSER:
            token = token_of(shop, who)
            client.cookies.set(COOKIE, token)
            headers = {TOKEN_HEADER: page_token(token)}
        else:
            headers = {"Authorization": f"Bearer {keys[who]}"}
        answer = client.request(method, path, headers=headers)
        client.cookies.clear()
        kind = answer.json()["type"] if answer.status_code in (401, 403) else ""
        assert (kind == "not-permitted") is not allowed, (action, who, answer.text)
        assert answer.status_code != 500, (action, who, answer.text)
