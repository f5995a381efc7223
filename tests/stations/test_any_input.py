"""Schemathesis throws whatever the OpenAPI description allows, and more, at every route."""

from __future__ import annotations

from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, given
from hypothesis import settings as how
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi import checks

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
LEAVING = {("DELETE", "/api/session"), ("DELETE", "/api/sign-ins"),
           ("DELETE", "/api/sign-ins/{sign_in_id}")}  # fmt: skip
"""After these nobody would be signed in, and every answer be the same."""


def test_no_input_makes_a_server_error_or_an_answer_nobody_described(
    cluster: Cluster, tmp_path: Path
) -> None:
    settings = Settings(draws=100, web_root=tmp_path, requests_per_minute=1_000_000)
    with shop_engine(cluster, demo=True) as engine:  # where there is something to answer with
        app = create_app(settings, engine)
        bearer = {"Authorization": f"Bearer {key_of(engine)}"}
        description = schemathesis.openapi.from_asgi("/api/openapi.json", app)
        found = [route.ok() for route in description.get_all_operations()]
        routes = [
            route for route in found
            if route.path != ENDLESS and (route.method.upper(), route.path) not in LEAVING
        ]  # fmt: skip
        assert len(routes) >= 20
        done: set[str] = set()
        for route in routes:

            @given(case=route.as_strategy())
            @how(
                max_examples=25,
                deadline=None,
                derandomize=True,
                suppress_health_check=list(HealthCheck),
            )
            def any_input(case: schemathesis.Case) -> None:
                response = case.call(headers=bearer)
                case.validate_response(response, checks=CHECKS)
                if response.status_code < 300:
                    done.add(case.operation.label)

            any_input()
        assert len(done) > len(routes) / 2  # not all of it was only refused
