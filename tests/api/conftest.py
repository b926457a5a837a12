"""The application over a fresh world, and clients signed in to it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from netnaught.api.app import create_app
from tests.world import PASSWORD, World

SignIn = Callable[[str], TestClient]


@pytest.fixture
def app(world: World, tmp_path: Path) -> FastAPI:
    return create_app(tmp_path)


@pytest.fixture
def sign_in(app: FastAPI) -> Iterator[SignIn]:
    clients: list[TestClient] = []

    def enter(email: str) -> TestClient:
        client = TestClient(app, raise_server_exceptions=False)
        clients.append(client)
        answer = client.post("/api/sign-in", json={"email": email, "password": PASSWORD})
        assert answer.status_code == 200, answer.text
        client.headers["X-CSRF-Token"] = answer.json()["csrf_token"]
        return client

    yield enter
    for client in clients:
        client.close()


@pytest.fixture
def owner(sign_in: SignIn) -> TestClient:
    return sign_in("owner@4410.example")
