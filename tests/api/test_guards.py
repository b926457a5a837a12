"""Every route: signed in, of the company, with the role for it, from our own pages."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from netnaught.services.access import Role
from tests.api.conftest import SignIn
from tests.world import PASSWORD, World, found_world

OPEN = {("POST", "/api/sign-in")}
OWN = {("GET", "/api/me"), ("GET", "/api/board"), ("POST", "/api/sign-out")}


def routes(app: FastAPI) -> list[tuple[str, str, dict[str, Any]]]:
    """Method, path and operation of every route of the API, from its own document."""
    return [
        (method.upper(), path, operation)
        for path, methods in app.openapi()["paths"].items()
        for method, operation in methods.items()
    ]


def example(schema: dict[str, Any], components: dict[str, Any]) -> Any:
    """A value that fits a schema, so that a refusal is about who asks and not about what."""
    if "$ref" in schema:
        return example(components[schema["$ref"].rsplit("/", 1)[1]], components)
    if "anyOf" in schema:
        return example(schema["anyOf"][0], components)
    if "enum" in schema:
        return schema["enum"][0]
    match schema.get("type"):
        case "object":
            needed = schema.get("required", [])
            return {name: example(schema["properties"][name], components) for name in needed}
        case "array":
            return [example(schema["items"], components)] * schema.get("minItems", 0)
        case "integer":
            return 1
        case "boolean":
            return False
        case "string":
            return "2026-10-01" if schema.get("format") == "date" else "x"
    return None


def ask(client: TestClient, app: FastAPI, method: str, path: str, operation: dict[str, Any], **ids: int) -> int:
    path = re.sub(r"\{(\w+)\}", lambda name: str(ids.get(name[1], 1)), path)
    components = app.openapi()["components"]["schemas"]
    needed = [p for p in operation.get("parameters", []) if p["in"] == "query" and p.get("required")]
    query = {p["name"]: example(p["schema"], components) for p in needed}
    content = operation.get("requestBody", {}).get("content", {})
    body: dict[str, Any] = {}
    if "application/json" in content:
        body["json"] = example(content["application/json"]["schema"], components)
    elif content:
        body["files"] = {"file": ("a.csv", b"id,date,reference,description,amount\n")}
        body["data"] = {"other_account_id": "1"}
    return client.request(method, path, params=query, **body).status_code


def test_nobody_signed_in_reaches_nothing(app: FastAPI) -> None:
    with TestClient(app) as client:
        for method, path, operation in routes(app):
            if (method, path) not in OPEN:
                assert ask(client, app, method, path, operation) == 401, f"{method} {path}"


def test_another_company_is_not_found_on_every_route(
    world: World, app: FastAPI, sign_in: SignIn, tmp_path: Path
) -> None:
    world.entry(-500)
    world.read(world.line(-500))
    found_world(tmp_path, "5520", "Other & Co")
    stranger = sign_in("owner@5520.example")
    for method, path, operation in routes(app):
        if (method, path) in OPEN | OWN:
            continue
        assert ask(stranger, app, method, path, operation, company_id=world.company.id) == 404, f"{method} {path}"


def test_things_of_one_company_are_not_found_through_another(
    world: World, app: FastAPI, sign_in: SignIn, tmp_path: Path
) -> None:
    world.entry(-500)
    world.read(world.line(-500))
    mine = found_world(tmp_path, "5520", "Other & Co").company.id
    stranger = sign_in("owner@5520.example")
    for method, path, operation in routes(app):
        if "{company_id}" in path and path.count("{") > 1:
            assert ask(stranger, app, method, path, operation, company_id=mine) == 404, f"{method} {path}"


def test_a_viewer_changes_nothing_on_any_route(world: World, app: FastAPI, sign_in: SignIn) -> None:
    world.entry(-500)
    world.read(world.line(-500))
    world.as_user("vera", Role.VIEWER)
    viewer = sign_in("vera@kelp.example")
    for method, path, operation in routes(app):
        if "{company_id}" in path and method != "GET":
            assert ask(viewer, app, method, path, operation) == 403, f"{method} {path}"


def test_a_request_from_elsewhere_is_refused(owner: TestClient, app: FastAPI) -> None:
    owner.headers["X-CSRF-Token"] = "guessed"
    for method, path, operation in routes(app):
        if method != "GET" and (method, path) not in OPEN:
            assert ask(owner, app, method, path, operation) == 403, f"{method} {path}"


def test_an_expired_session_is_told_apart_and_loses_nothing(world: World, owner: TestClient) -> None:
    past = (datetime.now(UTC) - timedelta(minutes=1)).isoformat(timespec="seconds").replace("+00:00", "Z")
    world.db.execute("UPDATE session SET expires_at = ?", (past,))
    answer = owner.get("/api/board")
    assert answer.status_code == 401
    assert "expired" in answer.json()["detail"]


def test_signing_out_ends_the_session_on_the_server(owner: TestClient) -> None:
    cookie = dict(owner.cookies)
    assert owner.post("/api/sign-out").status_code == 204
    owner.cookies.update(cookie)
    assert owner.get("/api/me").status_code == 401


def test_failures_are_throttled_and_the_right_password_does_not_help(app: FastAPI) -> None:
    with TestClient(app) as client:
        wrong = {"email": "owner@4410.example", "password": "wrong"}
        assert [client.post("/api/sign-in", json=wrong).status_code for _ in range(6)] == [401] * 5 + [429]
        assert client.post("/api/sign-in", json={**wrong, "password": PASSWORD}).status_code == 429


def test_cookie_and_headers_are_safe(app: FastAPI) -> None:
    with TestClient(app) as client:
        answer = client.post("/api/sign-in", json={"email": "owner@4410.example", "password": PASSWORD})
    cookie = answer.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=strict" in cookie
    policy = answer.headers["content-security-policy"]
    assert "script-src" not in policy
    assert "default-src 'self'" in policy
    assert answer.headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize("method", ["PATCH", "PUT"])
def test_unknown_routes_and_methods_are_problem_documents(owner: TestClient, method: str) -> None:
    assert owner.get("/api/nothing").headers["content-type"] == "application/problem+json"
    assert owner.request(method, "/api/board").status_code == 405
