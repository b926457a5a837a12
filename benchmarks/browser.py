"""The Spine in Chromium with 10,000 rows: from a key to the next paint, 95 of 100 presses."""

from __future__ import annotations

import socket
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import uvicorn
from playwright.sync_api import sync_playwright

from benchmarks.books import large_month
from netnaught.api.app import create_app
from netnaught.services.sign_in import hash_password

PASSWORD = "kelp-and-granite"
CHROMIUM = "--no-sandbox --disable-gpu --disable-quic --disable-background-networking --no-first-run"
PRESS = """async (key) => { const times = []; for (let n = 0; n < 100; n++) { const began = performance.now();
  window.dispatchEvent(new KeyboardEvent('keydown', {key, bubbles: true}));
  await new Promise(done => requestAnimationFrame(() => setTimeout(done, 0)));
  times.push(performance.now() - began); } return times.sort((a, b) => a - b)[94]; }"""


def run() -> Iterator[str]:
    """Row by row, page by page, selecting."""
    with tempfile.TemporaryDirectory() as folder, socket.socket() as free:
        ctx, company, at = large_month(Path(folder), 10_000)
        ctx.db.execute("UPDATE user SET password_hash = ?", (hash_password(PASSWORD),))
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        app = create_app(Path(folder))
        server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="error"))
        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.02)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM.split())
            page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=f"http://127.0.0.1:{port}")
            page.goto("/")
            page.get_by_label("E-mail address").fill(ctx.user.email)
            page.get_by_label("Password").fill(PASSWORD)
            page.keyboard.press("Enter")
            page.get_by_role("heading", name="Next to do").wait_for()
            page.goto(f"/company/{company}/reconciliation/{at}")
            page.get_by_test_id("spine").wait_for()
            page.wait_for_timeout(1500)
            for key in ("ArrowDown", "PageDown", "n", " "):
                yield f"10,000 rows in Chromium, key {key!r:<12} to paint, p95 {page.evaluate(PRESS, key):6.1f} ms   aim 50 ms"
            browser.close()
        server.should_exit = True
        ctx.db.close()
