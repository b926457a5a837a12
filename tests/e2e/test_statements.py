"""Getting statements in: a PDF, a table with a new layout, from the bank's service; originals beside the Spine."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from datetime import date

import pytest
import uvicorn
from playwright.sync_api import Page, expect

from netnaught.standins.bank import create_bank, load_books
from tests.e2e.conftest import IRIS, Enter, Site


def account(page: Page, name: str) -> None:
    page.goto("/")
    page.get_by_role("link", name=name, exact=True).click()
    expect(page.get_by_role("heading", name="Statements")).to_be_visible()


def test_a_table_with_a_new_layout_is_asked_about_corrected_and_known_the_next_time(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    rows = "".join(
        f"{day:%d/%m/%Y},FUEL STOP {day.day},-{day.day}.50\n" for day in (date(2026, 10, n) for n in (3, 5, 9))
    )
    table = site.files / "other-card.csv"
    table.write_text("Day of posting date,What,Amount\n" + rows)
    account(page, "Fuel card")
    page.get_by_label("Statement file").set_input_files(table)
    question = page.get_by_role("group", name="Does 03/10/2026 mean")
    expect(question).to_be_visible()
    expect(page.get_by_role("button", name="Answer the question first")).to_be_disabled()
    question.get_by_role("button", name="day first").click()
    expect(question).to_be_hidden()
    page.get_by_label("Column What").select_option("text")
    expect(page.get_by_label("Lines of the statement")).to_contain_text("Oct 03FUEL STOP 3")
    page.get_by_label("Last day").fill("2026-10-20")
    page.get_by_label("First day").fill("2026-09-21")
    page.get_by_label("Closing balance").fill("-3265.59")
    button = page.get_by_role("button", name="Store 3 new lines")
    expect(button).to_be_enabled()
    button.click()
    expect(page.get_by_test_id("spine")).to_contain_text("FUEL STOP 3")
    table.write_text("Day of posting date,What,Amount\n" + rows.replace("/10/", "/11/"))
    account(page, "Fuel card")
    page.get_by_label("Statement file").set_input_files(table)
    expect(page.get_by_text("Known from the last time, by its heading.")).to_be_visible()


def test_a_pdf_is_read_and_stands_beside_the_spine(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    account(page, "Checking account")
    page.get_by_label("Statement file").set_input_files(site.files / "hollow-valley-2026-10.pdf")
    understood = page.get_by_label("What was understood")
    expect(understood).to_contain_text("Known already6 of 6 lines")
    expect(understood).to_contain_text("yes: opening and lines make the closing")
    expect(page.get_by_role("button", name="Nothing new to store")).to_be_disabled()
    page.goto("/")
    page.get_by_label("Checking account, to Oct 31").click()
    page.get_by_test_id("difference").wait_for()
    page.keyboard.press("v")
    original = page.get_by_label("Original")
    expect(original).to_contain_text("SHA-256")
    picture = original.get_by_alt_text("Page 1 of hollow-valley-2026-10.pdf")
    expect(picture).to_be_visible()
    assert picture.evaluate("img => img.decode().then(() => img.naturalWidth)") > 1000


@pytest.fixture
def bank_served(site: Site) -> Iterator[None]:
    """The stand-in bank where the demo expects it."""
    with socket.socket() as taken:
        if taken.connect_ex(("127.0.0.1", 8027)) == 0:
            pytest.fail("port 8027 is in use: stop the demo that is running")
    books = load_books(site.files.parent / "bank.json")
    server = uvicorn.Server(uvicorn.Config(create_bank(books), host="127.0.0.1", port=8027, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield
    server.should_exit = True
    thread.join()


def test_statements_and_check_images_are_fetched(bank_served: None, enter: Enter) -> None:
    page = enter(IRIS)
    page.get_by_role("link", name="Statements", exact=True).click()
    expect(page.get_by_text("no statement").first).to_be_visible()
    account(page, "Payroll account")
    page.get_by_role("button", name="Fetch from the bank").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("October 2026: its statement is stored.")
    expect(dialog).to_contain_text("2 new lines of the running month.")
    dialog.get_by_role("link", name="Go to the Spine").click()
    page.get_by_test_id("spine").get_by_text("CHECK").first.click()
    image = page.get_by_label("Inspector").get_by_alt_text("check-")
    expect(image).to_be_visible()
    assert image.evaluate("img => img.decode().then(() => img.naturalWidth)") == 900


def test_a_bank_that_does_not_answer_is_named(enter: Enter) -> None:
    page = enter(IRIS)
    account(page, "Payroll account")
    page.get_by_role("button", name="Fetch from the bank").click()
    expect(page.get_by_role("dialog")).to_contain_text("was tried 3 times: it cannot be reached", timeout=20_000)
