"""The whole month as a person does it: from the statement file to the seal, and the next opening."""

from __future__ import annotations

from io import BytesIO

import pypdfium2
from playwright.sync_api import Page, expect

from tests.e2e.conftest import IRIS, TAM, Enter, Site


def read_october(page: Page, site: Site) -> None:
    page.get_by_text("120 entries of the bank book wait").click()
    page.get_by_label("Statement file").set_input_files(site.files / "lantern-mutual-2026-10.ofx")
    expect(page.get_by_text("from the closing of Sep 30, 2026, 71,436.02")).to_be_visible()
    page.get_by_role("button", name="Store 113 new lines").click()
    expect(page.get_by_test_id("spine")).to_be_visible()


def run_passes(page: Page) -> None:
    page.keyboard.press("p")
    expect(page.get_by_role("button", name="Make these 111 matches")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("difference")).to_have_text("−1,503.38")


def difference(page: Page, amount: str) -> None:
    expect(page.get_by_test_id("difference")).to_have_text(amount)


def pdf_text(data: bytes) -> str:
    document = pypdfium2.PdfDocument(BytesIO(data))
    return "\n".join(page.get_textpage().get_text_range() for page in document)


def test_a_month_from_file_to_seal_by_keyboard(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    run_passes(page)
    inspector = page.get_by_label("Inspector")
    expect(inspector).to_contain_text("4 and 8 have changed places")
    page.keyboard.press("c")
    expect(page.get_by_role("dialog")).to_contain_text("SERVICE CHARGE of Oct 9, 2026, −27.50, is not in the books.")
    page.keyboard.press("Escape")
    decisions = 0
    # Correct the swapped digits, record the fee as the last times, record the interest.
    for left in ("−23.38", "4.12", "0.00"):
        page.keyboard.press("Enter")
        decisions += 1
        difference(page, left)
    assert 100 * decisions / 113 < 3, "a person's decisions per hundred lines"
    page.keyboard.press("6")  # not at the bank
    page.keyboard.press("ArrowDown")
    here = page.locator("[aria-selected=true]").get_attribute("data-row")
    page.reload()  # break off and come back: the same place
    difference(page, "0.00")
    assert here
    expect(page.locator("[aria-selected=true]")).to_have_attribute("data-row", here)
    page.keyboard.press("1")
    page.keyboard.press("s")
    expect(page.get_by_role("dialog")).to_contain_text("90,442.33")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Naught strip")).to_contain_text("Sealed by Iris Hale")
    page.get_by_role("link", name="Papers").click()
    expect(page.get_by_text("seal 7 of this account")).to_be_visible()
    link = page.get_by_role("link", name="Open the PDF").get_attribute("href")
    assert link
    text = pdf_text(page.request.get(link).body())
    assert "Sealed by Iris Hale" in text
    assert "90,442.33" in text
    assert "Marram Stationery" in text
    # The next period opens where this one closed.
    page.get_by_role("link", name="Statements").click()
    page.get_by_role("button", name="Type one from paper").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("First day")).to_have_value("2026-11-01")
    expect(dialog.get_by_label("Opening balance")).to_have_value("90442.33")
    dialog.get_by_label("Last day").fill("2026-11-30")
    dialog.get_by_label("Closing balance").fill("90442.33")
    dialog.get_by_role("button", name="Save").click()
    strip = page.get_by_label("Naught strip")
    expect(strip).to_contain_text("Opening, as sealed90,442.33")
    expect(page.get_by_test_id("spine")).to_contain_text("Marram Stationery")


def test_undo_takes_back_a_decision_and_redo_makes_it_again(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    run_passes(page)
    page.keyboard.press("z")
    difference(page, "19,006.31")
    page.keyboard.press("y")
    difference(page, "−1,503.38")


def test_entries_that_cancel_are_washed_by_hand_with_running_sums(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    run_passes(page)
    page.keyboard.press("5")
    page.keyboard.press("/")
    page.get_by_label("Search").fill("450.00")
    page.keyboard.press("Enter")
    spine = page.get_by_test_id("spine")
    spine.get_by_text("Sent in error").click()
    page.keyboard.press("u")
    page.keyboard.press("1")
    spine.get_by_text("Sent in error").click()
    expect(page.get_by_label("Inspector").get_by_role("button", name="Wash these")).to_be_visible()
    page.keyboard.press("Space")
    bar = page.get_by_role("status").filter(has_text="selected")
    expect(bar.get_by_role("button", name="Wash")).to_be_enabled()
    page.keyboard.press("m")
    expect(spine.get_by_text("a wash: these cancel inside the books")).to_be_visible()
    difference(page, "−1,503.38")


def test_a_near_pair_is_cured_by_posting_the_difference(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    run_passes(page)
    inspector = page.get_by_label("Inspector")
    inspector.get_by_label("Account").select_option(label="5210 Slip repairs")
    inspector.get_by_role("button", name="Post 360.00 and match").click()
    difference(page, "−23.38")
    page.keyboard.press("z")
    difference(page, "−1,503.38")


def test_a_bank_error_is_kept_open_and_stands_in_the_two_sided_form(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    run_passes(page)
    page.get_by_test_id("spine").get_by_text("SERVICE CHARGE").click()
    page.keyboard.press("b")
    difference(page, "−1,475.88")
    expect(page.get_by_label("Naught strip")).to_contain_text("Open bank errors27.50")


def test_two_people_on_one_item_the_second_is_told(site: Site, enter: Enter) -> None:
    iris = enter(IRIS)
    read_october(iris, site)
    run_passes(iris)
    tam = enter(TAM)
    tam.goto(iris.url)
    difference(tam, "−1,503.38")
    # Tam's screen must not learn of it before he acts.
    tam.route("**/change", lambda route: route.abort())
    iris.keyboard.press("Enter")
    difference(iris, "−23.38")
    tam.keyboard.press("Enter")
    expect(tam.get_by_text("Iris Hale has already matched this item")).to_be_visible()
    difference(tam, "−23.38")
    # And what one does, the other sees by itself.
    tam.unroute("**/change")
    iris.keyboard.press("Enter")
    expect(tam.get_by_test_id("difference")).to_have_text("4.12", timeout=8000)


def test_an_expired_session_leads_to_signing_in_and_back_to_the_same_place(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    page.context.clear_cookies()
    page.keyboard.press("p")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.get_by_label("E-mail address").fill(IRIS)
    page.get_by_label("Password").fill("quiet-harbor-26")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("spine")).to_be_visible()


def test_a_damaged_file_is_refused_on_screen_with_its_place(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    whole = (site.files / "lantern-mutual-2026-10.ofx").read_bytes()
    (site.files / "cut.ofx").write_bytes(whole[: len(whole) // 2])
    page.get_by_text("120 entries of the bank book wait").click()
    page.get_by_label("Statement file").set_input_files(site.files / "cut.ofx")
    trouble = page.get_by_role("alert")
    expect(trouble).to_contain_text("cut.ofx, line ")
    expect(trouble).to_contain_text("Nothing was stored")


def test_the_cash_box_is_ticked_to_its_counted_balance(enter: Enter) -> None:
    page = enter(IRIS)
    page.get_by_label("Quay cash box, to Oct 31").click()
    difference(page, "−901.80")
    page.keyboard.press("/")
    page.keyboard.type("<=2026-10-21")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Tick all shown").click()
    difference(page, "−855.97")
    page.keyboard.press("/")
    page.get_by_label("Search").fill("")
    page.keyboard.press("Enter")
    page.keyboard.press("2")  # to tick
    for left in ("−1,252.60", "−1,212.10", "0.00"):
        page.keyboard.press("t")
        difference(page, left)
    expect(page.get_by_role("button", name="Seal to Oct 31")).to_be_visible()


def test_from_the_bank_book_one_jump_leads_to_the_line(enter: Enter) -> None:
    page = enter(IRIS)
    page.get_by_label("Operating account, to Sep 30").click()
    page.get_by_role("link", name="Books", exact=True).click()
    expect(page.get_by_role("heading", name="Bank book")).to_be_visible()  # the Spine has a search of its own
    page.get_by_role("searchbox").fill("<=2026-09-29")
    page.get_by_role("link", name="cleared Sep 30").first.click()
    expect(page.locator("[aria-selected=true]")).to_have_attribute("data-kind", "matched")
    expect(page.get_by_label("Inspector")).to_contain_text("Bank record")


def test_a_reader_is_taught_by_marking_a_text_and_rows_are_grouped(enter: Enter) -> None:
    page = enter(IRIS)
    page.goto("/setup")
    page.get_by_role("row", name="Operating account").get_by_role("button", name="Readers").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Teach by example").click()
    dialog.get_by_label("Find texts").fill("transfer to")
    sample = dialog.get_by_label("Sample TRANSFER TO 4428")
    sample.press("End")
    for _ in "4428":
        sample.press("Shift+ArrowLeft")
    expect(dialog.get_by_text("In the bank's text, the reference is the digits after “TO”.")).to_be_visible()
    dialog.get_by_role("button", name="Use this reader").click()
    expect(dialog.get_by_label("Readers")).to_contain_text("taught by Iris Hale")
    dialog.get_by_label("Readers").get_by_role("button", name="Remove").click()
    expect(dialog.get_by_label("Readers")).to_contain_text("None yet")
    page.goto("/")
    page.get_by_label("Operating account, to Sep 30").click()
    page.get_by_role("button", name="Order: sorted by date").click()
    page.get_by_role("menuitemradio", name="kind").click()
    heads = page.locator("[data-kind=heading]")
    expect(heads.first).to_have_text("check33−13,375.81−13,375.81")
    page.keyboard.press("ArrowDown")
    expect(page.locator("[aria-selected=true]")).to_have_attribute("data-kind", "fold")


def read_card_month(page: Page, site: Site) -> None:
    page.get_by_role("link", name="Ticket-card clearing", exact=True).click()
    page.get_by_label("Statement file").set_input_files(site.files / "bank-of-the-sound-2026-10.bai2")
    page.get_by_role("button", name="Store").click()
    run = page.get_by_role("button", name="Make these")
    page.get_by_test_id("difference").wait_for()
    page.keyboard.press("p")
    expect(run).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("difference")).to_have_text("−175.44")


def test_a_line_is_split_with_tax_and_a_rule_made_from_it_codes_the_next_month(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_card_month(page, site)
    page.get_by_text("CARD SERVICE FEE").click()
    form = page.get_by_label("Inspector")
    form.get_by_role("button", name="Split it").click()
    form.get_by_label("Amount or percent 1").fill("50.00")
    form.get_by_label("Tax, part 1").select_option(label="ST 6.25 %")
    form.get_by_label("Account 2").select_option(label="5400 Office and utilities")
    effect = form.get_by_label("What it posts")
    expect(effect).to_contain_text("Bank charges47.06")
    expect(effect).to_contain_text("Sales tax2.94")
    expect(effect).to_contain_text("Office and utilities51.79")
    form.get_by_role("button", name="Make a rule").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name of the rule").fill("Card fee")
    expect(dialog.get_by_text("It would have coded 7 past lines")).to_be_visible()
    dialog.get_by_role("button", name="Keep the rule").click()
    expect(dialog).to_be_hidden()
    difference(page, "−175.44")  # keeping a rule records nothing by itself
    form.get_by_role("button", name="Record and match").click()
    difference(page, "−73.65")
    page.keyboard.press("z")
    difference(page, "−175.44")
    # The rule now fills the form, and outranks what was done before.
    page.get_by_text("CARD SERVICE FEE").click()
    expect(page.get_by_test_id("spine")).to_contain_text("record as Bank charges and 1 more, rule “Card fee”")
    page.keyboard.press("r")
    difference(page, "−73.65")


def test_three_bills_are_settled_by_one_line_short_by_a_fee(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_card_month(page, site)
    page.get_by_text("TRANSFER REEF STORES").click()
    row = page.locator("[aria-selected=true]")
    expect(row).to_contain_text("settles 3 bills, RS-2207, RS-2231, RS-2254 in the bank's text")
    form = page.get_by_role("form", name="Settle")
    page.keyboard.press("Enter")  # nothing is posted yet: it is short, and the write-off needs an account
    expect(form.get_by_label("To account")).to_be_focused()
    expect(form).to_contain_text("Proposed: RS-2207, RS-2231, RS-2254 in the bank's text.")
    expect(form).to_contain_text("Short by1.50")
    form.get_by_label("To account").select_option(label="5900 Bank charges")
    form.get_by_role("button", name="Settle and match").click()
    difference(page, "520.21")
    page.get_by_label("Search").fill("REEF")
    page.get_by_test_id("spine").get_by_text("TRANSFER REEF STORES").click()
    expect(page.get_by_label("Inspector")).to_contain_text("RS-2254 Reef Stores96.40")
    page.goto("/company/1/open-items")
    expect(page.get_by_role("row")).to_have_count(4)  # the heading, and what is still open
    page.get_by_label("settled ones too").check()
    expect(page.get_by_role("row", name="RS-2207")).to_contain_text("settled")


def test_suspense_is_reallocated_and_the_trial_balance_stays_zero(enter: Enter) -> None:
    page = enter(IRIS)
    page.goto("/company/1/ledger")
    balance = page.get_by_label("Trial balance")
    expect(balance.get_by_role("row", name="All accounts")).to_contain_text("0.00")
    balance.get_by_text("Suspense").click()
    postings = page.get_by_label("Postings of Suspense")
    expect(postings.get_by_role("row").first).to_contain_text("Banked at Lantern Mutual")
    before = postings.get_by_role("row").count()
    postings.get_by_role("combobox").first.select_option(label="1025 Transfers between accounts")
    expect(postings.get_by_role("row")).to_have_count(before - 1)
    expect(balance.get_by_role("row", name="All accounts")).to_contain_text("0.00")
    page.get_by_role("button", name="Lock the books").click()
    page.get_by_label("locked to").fill("2026-10-31")
    page.get_by_role("button", name="Lock", exact=True).click()
    expect(page.get_by_text("locked to Oct 31, 2026")).to_be_visible()
    postings.get_by_role("combobox").first.select_option(label="1025 Transfers between accounts")
    expect(page.get_by_role("alert")).to_contain_text("The books of Skerry Line are locked to Oct 31, 2026")


def test_a_stale_check_is_voided_and_written_anew_from_the_row(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    run_passes(page)
    page.keyboard.press("6")  # not at the bank
    page.get_by_test_id("spine").get_by_text("Marram Stationery").first.click()
    inspector = page.get_by_label("Inspector")
    inspector.get_by_role("button", name="Reverse it, or void and reissue").click()
    form = page.get_by_role("form", name="Reverse")
    form.get_by_label("Why").fill("lost in the mail")
    form.get_by_label("New check").fill("2401")
    form.get_by_role("button", name="Void, and write 2401").click()
    expect(page.get_by_test_id("spine")).to_contain_text("2401")
    difference(page, "−1,503.38")
    page.keyboard.press("5")
    page.get_by_label("Search").fill("180.00")
    expect(page.get_by_test_id("spine")).to_contain_text("Reversal: lost in the mail")
