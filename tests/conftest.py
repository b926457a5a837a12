"""What all tests share."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from netnaught.demo import build_demo
from tests.world import World, found_world

settings.register_profile("all", deadline=None, max_examples=60, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("all")


@pytest.fixture
def world(tmp_path: Path) -> Iterator[World]:
    found = found_world(tmp_path)
    yield found
    found.db.close()


@pytest.fixture(scope="session")
def built_demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo, built once; who changes anything copies it."""
    folder = tmp_path_factory.mktemp("demo")
    build_demo(folder)
    return folder
