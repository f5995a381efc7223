"""Schemathesis throws whatever the OpenAPI description allows, and more, at every route."""

from __future__ import annotations

from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, given
from hypothesis import settings as how
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi import checks
from sqlalchemy import Engine, text

from maple_rook.app import create_app
from maple_rook.settings import Settings
from maple_rook.store.database import sessions
from maple_rook.store.tables import Person
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
LEAVING = {("DELETE", "/api/session"), ("DELETE", "/api/sign-ins")}
"""After these nobody would be signed in, and every answer be the same."""


def test_no_input_makes_a_server_error_or_an_answer_nobody_described(
    engine: Engine, tmp_path: Path
) -> None:
    settings = Settings(draws=100, web_root=tmp_path, requests_per_minute=1_000_000)
    app = create_app(settings, engine)
    with sessions(engine)() as session:
        session.add(Person(name="Whoever", role="owner"))
        session.commit()
    bearer = {"Authorization": f"Bearer {key_of(engine, name='Whoever')}"}
    description = schemathesis.openapi.from_asgi("/api/openapi.json", app)
    found = [route.ok() for route in description.get_all_operations()]
    routes = [
        route for route in found
        if route.path != ENDLESS and (route.method.upper(), route.path) not in LEAVING
    ]  # fmt: skip
    assert len(routes) >= 20
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

        any_input()
    with sessions(engine)() as session:
        # nobody listens to the instruments made up here, nobody eats the foods, and predictions are
        # made with the published coefficients again
        session.execute(
            text(
                "INSERT INTO coefficient_sets (changes, note, person_id) "
                "SELECT '{}', 'as published', min(id) FROM people"
            )
        )
        session.execute(text("UPDATE instruments SET address = '' WHERE NOT stand_in"))
        session.execute(text("DELETE FROM foods"))
        session.execute(text("DELETE FROM failed_sign_ins"))
        session.commit()
