"""Schemathesis throws whatever the OpenAPI description allows, and more, at every route."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

import pytest
import schemathesis
from hypothesis import HealthCheck, given
from hypothesis import settings as how
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi import checks
from schemathesis.specs.openapi.schemas import OpenApiSchema

from described import described_paths
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.settings import Settings
from shops import shop_engine
from signed_in import key_of

ENDLESS = "/api/instruments/events"  # a stream of events has no end to wait for

CHECKS = (
    not_a_server_error,
    checks.status_code_conformance,
    checks.content_type_conformance,
    checks.response_headers_conformance,
    checks.response_schema_conformance,
    checks.negative_data_rejection,
    checks.missing_required_header,
    checks.unsupported_method,
)
"""All that hold of every route; who is let in is held against each role elsewhere."""
LEAVING = {
    ("DELETE", "/api/session"),
    ("DELETE", "/api/sign-ins"),
    ("DELETE", "/api/sign-ins/{sign_in_id}"),
}
"""After these nobody would be signed in, and every answer be the same."""
ROUTES = [
    (method.upper(), path)
    for path, methods in described_paths().items()
    for method in methods
    if path != ENDLESS and (method.upper(), path) not in LEAVING
]
LISTS = re.compile(r"GET [^{]*")
"""Whatever was asked before, nearly all of these answer: they need no row that is there."""
ONLY_REFUSED = 4
"""Lists that may answer no input drawn: some need a browser, some a file or a text that fits."""


@dataclass
class Served:
    """A demo shop, where there is something to answer with, and what was asked of it."""

    description: OpenApiSchema
    bearer: dict[str, str]
    asked: set[str] = field(default_factory=set)
    done: set[str] = field(default_factory=set)


@pytest.fixture(scope="module")
def shop(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    nowhere = tmp_path_factory.mktemp("no-web")
    settings = Settings(web_root=nowhere, requests_per_minute=1_000_000)
    with shop_engine(cluster, demo=True) as engine:
        app = create_app(settings, engine)
        description = schemathesis.openapi.from_asgi("/api/openapi.json", app)
        served = Served(description, {"Authorization": f"Bearer {key_of(engine)}"})
        yield served
    lists = {label for label in served.asked if LISTS.fullmatch(label)}
    refused = lists - served.done
    assert len(refused) <= max(ONLY_REFUSED, len(lists) / 4), refused


def test_the_description_has_all_routes() -> None:
    assert len(ROUTES) >= 150


@pytest.mark.spread
@pytest.mark.parametrize(("method", "path"), ROUTES)
def test_no_input_makes_a_server_error_or_an_answer_nobody_described(
    shop: Served, method: str, path: str
) -> None:
    @given(case=shop.description[path][method].as_strategy())
    @how(max_examples=15, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
    def any_input(case: schemathesis.Case) -> None:
        response = case.call(headers=shop.bearer)
        case.validate_response(response, checks=CHECKS)
        shop.asked.add(case.operation.label)
        if response.status_code < 300:
            shop.done.add(case.operation.label)

    any_input()
