"""The API keeps to its own document, whatever it is asked (library `schemathesis`)."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from netnaught.api.app import create_app
from tests.world import PASSWORD, found_world

# What the rules of the job refuse is refused with 422 although the values fit their schema.
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]


def test_any_request_gets_a_documented_answer(tmp_path: Path) -> None:
    world = found_world(tmp_path)
    world.entry(-500)
    world.read(world.line(-500), world.line(900))
    app = create_app(tmp_path)
    schema = schemathesis.openapi.from_asgi("/api/openapi.json", app)
    client = TestClient(app)
    signed = client.post("/api/sign-in", json={"email": "owner@4410.example", "password": PASSWORD})
    headers = {
        "X-CSRF-Token": signed.json()["csrf_token"],
        "Cookie": f"netnaught_session={client.cookies['netnaught_session']}",
    }
    for result in schema.get_all_operations():
        operation = result.ok()  # type: ignore[union-attr]  # an invalid schema fails here, as it should
        if operation.path in ("/api/sign-out", "/api/sign-in"):
            continue

        @settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck), database=None)
        @given(case=operation.as_strategy())
        def call(case: schemathesis.Case[Any]) -> None:
            case.call_and_validate(headers=headers, checks=CHECKS)

        call()
    client.close()
    world.db.close()
