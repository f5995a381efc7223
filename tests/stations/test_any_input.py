"""Schemathesis throws whatever the OpenAPI description allows, and more, at every route."""

from __future__ import annotations

import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error

ENDLESS = "/api/instruments/events"  # a stream of events has no end to wait for


def test_no_input_makes_a_server_error(api: TestClient) -> None:
    description = schemathesis.openapi.from_asgi("/api/openapi.json", api.app)
    found = [route.ok() for route in description.get_all_operations()]
    routes = [route for route in found if route.path != ENDLESS]
    assert len(routes) >= 20
    for route in routes:

        @given(case=route.as_strategy())
        @settings(
            max_examples=30,
            deadline=None,
            derandomize=True,
            suppress_health_check=list(HealthCheck),
        )
        def any_input(case: schemathesis.Case) -> None:
            response = case.call()
            case.validate_response(response, checks=(not_a_server_error,))

        any_input()
