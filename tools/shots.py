"""Retake docs/screenshots from the demo data: one picture of each main view, 1280 by 800."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from netnaught.demo import DEMO_PASSWORD

ROOT = Path(__file__).resolve().parent.parent
TARGET = ROOT / "docs" / "screenshots"
PORT = int(os.environ.get("SHOTS_PORT", "8127"))
CHROMIUM = "--no-sandbox --disable-gpu --disable-quic --disable-background-networking --no-first-run"


class Photographer:
    """Walks through the demo as a person would and takes pictures on the way."""

    def __init__(self, page: Page, files: Path) -> None:
        self.page, self.files = page, files

    def shoot(self, name: str) -> None:
        """One picture, once everything has come to rest."""
        self.page.mouse.move(640, 2)
        self.page.wait_for_load_state("networkidle")
        self.page.wait_for_timeout(300)
        self.page.screenshot(path=TARGET / f"{name}.png")

    def press(self, *keys: str) -> None:
        """Keys, with time for each to take effect."""
        for key in keys:
            self.page.keyboard.press(key)
            self.page.wait_for_timeout(700)

    def sign_in(self) -> None:
        self.page.goto("/")
        self.page.get_by_label("Password").wait_for()
        self.page.get_by_label("E-mail address").fill("iris.hale@skerryline.example")
        self.page.get_by_label("Password").fill(DEMO_PASSWORD)
        self.page.keyboard.press("Enter")
        self.page.get_by_role("heading", name="Next to do").wait_for()
        self.shoot("board")

    def month(self) -> None:
        self.page.get_by_text("120 entries of the bank book wait").click()
        self.page.get_by_label("Statement file").set_input_files(self.files / "lantern-mutual-2026-10.ofx")
        self.page.get_by_role("button", name="Store").wait_for()
        self.shoot("reading")
        self.press("Enter", "p")
        self.shoot("dry-run")
        self.press("Enter")
        self.page.wait_for_timeout(4500)
        self.shoot("spine")
        self.page.evaluate("document.documentElement.dataset.theme = 'dark'")
        self.shoot("spine-dark")
        self.page.evaluate("document.documentElement.dataset.theme = 'light'")
        self.press(*["Enter"] * 3)
        self.page.wait_for_timeout(4500)
        self.shoot("spine-at-naught")
        self.press("s", "Enter")
        self.page.wait_for_timeout(4500)
        self.page.get_by_role("link", name="Papers").click()
        self.shoot("papers")
        self.page.get_by_role("link", name="Books", exact=True).click()
        self.shoot("bank-book")
        self.page.get_by_role("link", name="Outstanding").click()
        self.shoot("outstanding")

    def standing(self) -> None:
        """What was changed in sealed periods, and a fresh export of books kept elsewhere."""
        self.page.goto("/")
        self.page.get_by_role("link", name="Payroll account 5 sealed entries changed").click()
        self.page.get_by_label("Finding").get_by_role("button", name="Put back").wait_for()
        self.shoot("opening-trace")
        self.page.goto("/")
        self.page.get_by_label("Canadian-dollar account, to Aug 31").click()
        self.page.get_by_role("link", name="Books", exact=True).click()
        self.page.get_by_label("Bank book file").set_input_files(self.files / "northpassage-book-2026-11-04.csv")
        self.page.get_by_label("Differences").wait_for()
        self.shoot("reading-again")

    def incoming(self) -> None:
        """Other ways in: a layout, all statements, the original beside the Spine, a check image."""
        self.page.goto("/statements")
        self.page.get_by_role("heading", name="Statements").wait_for()
        table = self.files / "shot.csv"
        rows = "".join(f"0{n}/10/2026,FUEL STOP {n},-{n}1.50\n" for n in range(1, 9))
        table.write_text("Posting date,What,Amount\n" + rows)
        self.page.get_by_role("link", name="Fuel card", exact=True).click()
        self.page.get_by_label("Statement file").set_input_files(table)
        self.page.get_by_role("group").first.wait_for()
        self.shoot("reading-layout")
        self.page.goto("/")
        self.page.get_by_label("Checking account, to Oct 31").click()
        self.page.get_by_test_id("difference").wait_for()
        self.press("v")
        self.page.wait_for_timeout(1000)
        self.shoot("original")
        self.page.goto("/")
        self.page.get_by_role("link", name="Payroll account", exact=True).click()
        self.page.get_by_role("button", name="Fetch from the bank").click()
        self.page.get_by_role("link", name="Go to the Spine").click()
        self.page.get_by_test_id("difference").wait_for()
        self.page.wait_for_timeout(1000)
        self.shoot("check-image")

    def matching(self) -> None:
        """A month with a question, passes composed, a reader being taught."""
        self.page.goto("/")
        self.page.get_by_role("link", name="Ticket-card clearing", exact=True).click()
        self.page.get_by_label("Statement file").set_input_files(self.files / "bank-of-the-sound-2026-10.bai2")
        self.page.get_by_role("button", name="Store").wait_for()
        self.press("Enter", "p", "Enter")
        self.page.wait_for_timeout(4500)
        self.page.locator("[data-kind=question]").first.click()
        self.shoot("spine-question")
        self.page.get_by_text("TRANSFER REEF STORES").click()
        self.page.get_by_role("form", name="Settle").wait_for()
        self.shoot("settling")
        self.page.get_by_text("CARD SERVICE FEE").click()
        inspector = self.page.get_by_label("Inspector")
        inspector.get_by_role("button", name="Split it").click()
        inspector.get_by_label("Amount or percent 1").fill("50.00")
        inspector.get_by_label("Tax, part 1").select_option(label="ST 6.25 %")
        inspector.get_by_label("Account 2").select_option(label="5400 Office and utilities")
        inspector.get_by_label("What it posts").get_by_text("Sales tax").wait_for()
        self.shoot("recording-split")
        self.page.goto("/setup")
        row = self.page.get_by_role("row", name="Operating account")
        row.get_by_role("button", name="Passes").click()
        self.page.get_by_role("button", name="Compose a pass").click()
        self.page.get_by_label("Title").fill("Slip ends in our number")
        self.page.get_by_label("Composed passes").get_by_role("combobox").first.select_option("one ends in the other")
        self.shoot("passes")
        self.press("Escape")
        row.get_by_role("button", name="Readers").click()
        self.page.get_by_role("button", name="Teach by example").click()
        sample = self.page.get_by_label("Sample TRANSFER TO 4428")
        sample.press("End")
        for _ in "4428":
            sample.press("Shift+ArrowLeft")
        self.page.get_by_text("the reference is the digits").wait_for()
        self.shoot("readers")


def main() -> int:
    """Build a demo, serve it, walk through it."""
    TARGET.mkdir(parents=True, exist_ok=True)
    address = f"http://127.0.0.1:{PORT}"
    with tempfile.TemporaryDirectory() as folder:
        command = [
            sys.executable,
            "-m",
            "netnaught.cli",
            "demo",
            "--data",
            folder,
            "--port",
            str(PORT),
            "--bank-port",
            str(PORT + 1),
        ]
        with subprocess.Popen(command, stdout=subprocess.DEVNULL) as server:
            try:
                for _ in range(300):
                    try:
                        urllib.request.urlopen(address, timeout=1).close()
                        break
                    except OSError:
                        time.sleep(0.1)
                with sync_playwright() as playwright:
                    browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM.split())
                    page = browser.new_page(
                        viewport={"width": 1280, "height": 800},
                        base_url=address,
                        locale="en-US",
                        timezone_id="UTC",
                        reduced_motion="reduce",
                    )
                    work = Photographer(page, Path(folder) / "files")
                    work.sign_in()
                    work.month()
                    work.standing()
                    work.incoming()
                    work.matching()
                    browser.close()
            finally:
                server.terminate()
    return 0


if __name__ == "__main__":
    sys.exit(main())
