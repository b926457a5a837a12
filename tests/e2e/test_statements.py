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


def test_a_heading_that_is_not_recognised_is_pointed_at_and_the_columns_are_named(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    rows = "".join(f"{day:02d}.10.2026;FUEL STOP {day};S{day};9{day},50-\n" for day in (5, 3))
    table = site.files / "odd.csv"
    table.write_text("Head of the bank\n\nWann;Was;Wozu;Wieviel\n" + rows)
    account(page, "Fuel card")
    page.get_by_label("Statement file").set_input_files(table)
    expect(page.get_by_role("alert")).to_contain_text("odd.csv, line 1: 'Head of the bank': no heading was found")
    page.get_by_role("button", name="Line 3 names the columns").press("Enter")
    page.get_by_label("Column Wozu").select_option("reference")
    lines = page.get_by_label("Lines of the statement")
    expect(lines.get_by_role("row").nth(1)).to_have_text("Oct 03FUEL STOP 3S3other−93.50")
    # Another row can be pointed at; a layout without a date column is refused and can be mended.
    page.get_by_role("button", name="Another row is the heading").click()
    page.get_by_role("button", name="No row names them").click()
    page.get_by_label("Column 1", exact=True).select_option("text")
    expect(page.get_by_role("alert")).to_contain_text("the layout needs one date column")
    page.get_by_label("Column 1", exact=True).select_option("date")
    expect(page.get_by_label("Lines of the statement")).to_contain_text("FUEL STOP 3")


def test_several_statements_in_one_file_are_stored_one_after_the_other(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    text = (site.files / "lantern-mutual-2026-10.ofx").read_text()
    start, end = text.index("<STMTTRNRS>"), text.index("</BANKMSGSRSV1>")
    strange = text[start:end].replace("7004104410", "7004100001")
    (site.files / "both.ofx").write_text(text[:end] + strange + text[end:])
    account(page, "Operating account")
    page.get_by_label("Statement file").set_input_files(site.files / "both.ofx")
    listed = page.get_by_label("Statements in the file")
    expect(listed).to_contain_text("7004104410Oct 1, 2026 – Oct 31, 2026")
    page.get_by_label("Account of 7004100001").select_option(label="Operating account")
    expect(page.get_by_text("The file names account 7004100001")).to_be_visible()
    listed.get_by_role("button", name="Show 7004104410").click()
    page.get_by_role("button", name="Store").click()
    expect(page.get_by_test_id("spine")).to_be_visible()


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
