"""The application as people meet it: served over HTTP from the demo data, driven in Chromium."""

from __future__ import annotations

import shutil
import socket
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
import uvicorn
from playwright.sync_api import Browser, Page, expect

from netnaught.api.app import create_app
from netnaught.demo import DEMO_PASSWORD

IRIS, TAM = "iris.hale@skerryline.example", "tam.rowe@skerryline.example"
CHROMIUM = "--no-sandbox --disable-gpu --disable-quic --disable-background-networking --disable-component-update --disable-sync --no-first-run"


@dataclass(frozen=True, slots=True)
class Site:
    """A served demo: its address, and the folder with the files to read in."""

    address: str
    files: Path


@pytest.fixture
def site(built_demo: Path, tmp_path: Path) -> Iterator[Site]:
    """A demo of its own for each test."""
    data = tmp_path / "data"
    shutil.copytree(built_demo, data)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = uvicorn.Server(uvicorn.Config(create_app(data), host="127.0.0.1", port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield Site(f"http://127.0.0.1:{port}", data / "files")
    server.should_exit = True
    thread.join()


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": "/usr/bin/chromium", "headless": True, "args": CHROMIUM.split()}


Enter = Callable[[str], Page]


@pytest.fixture
def enter(site: Site, browser: Browser) -> Iterator[Enter]:
    """Sign somebody in, in a browser of their own. Errors of the page fail the test."""
    opened: list[Page] = []
    faults: list[str] = []

    def sign_in(email: str = IRIS) -> Page:
        context = browser.new_context(
            viewport={"width": 1280, "height": 800},
            locale="en-US",
            timezone_id="UTC",
            reduced_motion="reduce",
            base_url=site.address,
        )
        page = context.new_page()
        page.on("pageerror", lambda error: faults.append(str(error)))
        opened.append(page)
        page.goto("/")
        page.get_by_label("E-mail address").fill(email)
        page.get_by_label("Password").fill(DEMO_PASSWORD)
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Next to do")).to_be_visible()
        return page

    yield sign_in
    for page in opened:
        page.context.close()
    assert not faults
