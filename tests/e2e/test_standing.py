"""Nothing sealed moves unseen: found on the Board, mended from the trace; two people; a seal broken; books read again."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.e2e.conftest import IRIS, TAM, Enter, Site

RAE = "rae.quill@skerryline.example"


def open_trace(page: Page, account: str, text: str) -> None:
    page.get_by_role("link", name=f"{account} {text}").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("above the seal")


def test_five_kinds_are_found_mended_and_taken_back(enter: Enter) -> None:
    page = enter(IRIS)
    expect(page.get_by_label("Payroll account, to Aug 31, 2026: disturbed 791.01")).to_be_visible()
    open_trace(page, "Payroll account", "5 sealed entries changed: the books start 2,074.83 above the seal")
    rows = page.get_by_role("listitem")
    kinds = ["removed", "slipped in", "amended", "relabelled", "unticked"]
    expect(page.locator("[data-kind]")).to_have_count(5)
    assert [row.get_attribute("data-kind") for row in page.locator("[data-kind]").all()] == kinds
    finding = page.get_by_label("Finding")
    expect(finding).to_contain_text("Tam Rowe")
    expect(finding).to_contain_text("“Paid twice, Bo says”")
    for kind, word, gap in (
        ("removed", "Put back", "978.82"),
        ("slipped in", "Release", "1,163.82"),
        ("amended", "Put back", "1,283.82"),
    ):
        rows.and_(page.locator(f"[data-kind='{kind}']")).get_by_role("button", name=word).click()
        expect(page.get_by_role("heading", level=1)).to_have_text(f"The books start {gap} above the seal")
    page.keyboard.press("z")
    expect(page.get_by_role("heading", level=1)).to_have_text("The books start 1,163.82 above the seal")
    page.keyboard.press("p")
    expect(page.get_by_role("dialog")).to_contain_text("from 1,163.82 to 0.00")
    page.get_by_role("button", name="Mend 3 findings").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The books start at the seal again")
    expect(page.locator("[data-kind=mended]")).to_have_count(5)
    page.get_by_role("link", name="Board", exact=True).click()
    expect(page.get_by_label("Payroll account, to Aug 31, 2026: sealed")).to_be_visible()


def test_a_moved_entry_is_accepted_with_an_entry_and_a_name(enter: Enter) -> None:
    page = enter(IRIS)
    open_trace(page, "Ticket-card clearing", "1 sealed entry changed")
    finding = page.get_by_label("Finding")
    expect(finding).to_contain_text("It stands on Payroll account now.")
    form = page.get_by_role("form", name="Accept with entry")
    form.get_by_label("Against").select_option(label="1035 Card takings on their way")
    form.get_by_label("Why").fill("The wire went to payroll")
    expect(form).to_contain_text("takes the shift back and counts in the reconciliation to Sep 30, 2026")
    form.get_by_role("button", name="Accept with entry").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The books start at the seal again")
    expect(page.get_by_role("list", name="Stairs")).to_contain_text("by Iris Hale: “The wire went to payroll”")
    page.get_by_role("link", name="Board", exact=True).click()
    expect(page.get_by_label("Ticket-card clearing, to Sep 30, 2026: accepted")).to_be_visible()


def test_one_prepares_and_another_approves(enter: Enter) -> None:
    tam = enter(TAM)
    open_trace(tam, "Checking account", "1 sealed entry changed")
    tam.keyboard.press("Enter")
    expect(tam.get_by_role("heading", level=1)).to_have_text("The books start at the seal again")
    tam.get_by_role("link", name="Spine").click()
    tam.get_by_label("Inspector").get_by_label("Account").select_option(label="5900 Bank charges")
    tam.get_by_role("button", name="Record and match").click()
    expect(tam.get_by_test_id("difference")).to_have_text("0.00")
    tam.keyboard.press("s")
    tam.get_by_role("dialog").get_by_role("button", name="Hand in").click()
    expect(tam.get_by_role("status", name="Standing")).to_contain_text("you prepared it: another person approves")
    where = tam.url
    rae = enter(RAE)
    rae.goto(where)
    standing = rae.get_by_role("status", name="Standing")
    standing.get_by_role("button", name="Return with a note").click()
    rae.get_by_label("What is to be done").fill("Keep the fee's letter with it")
    rae.get_by_role("button", name="Return it").click()
    expect(standing).to_contain_text("1 open note")
    tam.reload()
    tam.get_by_role("button", name="1 open note").click()
    tam.get_by_role("dialog").get_by_role("button", name="Close", exact=True).click()
    tam.get_by_role("button", name="Done").click()
    tam.keyboard.press("s")
    tam.get_by_role("dialog").get_by_role("button", name="Hand in").click()
    rae.reload()
    standing.get_by_role("button", name="Approve and seal").click()
    expect(standing).to_contain_text("by Rae Quill, seal 7")


def test_a_seal_is_broken_with_a_reason_and_made_again(enter: Enter) -> None:
    page = enter(IRIS)
    page.get_by_label("Fuel card, to Aug 20").click()
    standing = page.get_by_role("status", name="Standing")
    standing.get_by_role("button", name="Break the seal").click()
    page.get_by_label("Why").fill("The late fee belongs here")
    page.get_by_role("dialog").get_by_role("button", name="Break the seal").click()
    expect(standing).to_contain_text("Opened again")
    page.get_by_role("button", name="Seal to Aug 20").click()
    page.keyboard.press("Enter")
    expect(standing).to_contain_text("by Iris Hale, seal 7")
    expect(page.get_by_text("1 later seal was chained to it again.")).to_be_visible()
    standing.get_by_role("button", name="Its seals").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("replaces seal 5")
    expect(dialog).to_contain_text("Its content is that of the seal it replaces.")


def test_books_kept_elsewhere_are_read_again_sealed_periods_first(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    page.get_by_label("Canadian-dollar account, to Aug 31").click()
    page.get_by_role("link", name="Books", exact=True).click()
    page.get_by_label("Bank book file").set_input_files(site.files / "northpassage-book-2026-11-04.csv")
    groups = page.get_by_label("Differences").get_by_role("heading")
    expect(groups).to_have_text(
        ["Sealed periods · 2each of these moves an opening balance or a sealed list", "Open entries · 1", "New · 1"]
    )
    take = page.get_by_role("button", name="Take over")
    expect(take).to_be_disabled()
    page.get_by_label("removed there: remove them here").check()
    take.click()
    expect(page.get_by_text("4 differences taken over.")).to_be_visible()
    page.get_by_role("link", name="Opening trace").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The books start 1,529.04 below the seal")
    # What is kept elsewhere is put right there: the trace says what it must read.
    expect(page.get_by_label("Finding")).to_contain_text("kept elsewhere: put it right there. It must read:")


def test_the_trail_tells_who_altered_what_and_why(enter: Enter) -> None:
    page = enter(IRIS)
    page.get_by_role("link", name="Audit trail").click()
    page.get_by_role("combobox", name="of", exact=True).select_option(label="Skerry Line")
    page.get_by_role("combobox", name="what", exact=True).select_option("entry moved")
    expect(page.get_by_role("row", name="Tam Rowe entry moved")).to_contain_text("reason Went to the payroll account")


def test_a_general_journal_entry_is_posted_in_balance_only(enter: Enter) -> None:
    page = enter(IRIS)
    page.goto("/company/1/journal")
    page.get_by_role("button", name="New journal entry").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Date").fill("2026-11-03")
    dialog.get_by_label("What it is for").fill("Fuel used in October")
    dialog.get_by_label("Account 1").select_option(label="5100 Fuel")
    dialog.get_by_label("Debit in the books").first.fill("410.00")
    dialog.get_by_label("Account 2").select_option(label="2100 Payables")
    dialog.get_by_label("Credit in the books").last.fill("400.00")
    expect(dialog).to_contain_text("out of balance by 10.00")
    expect(dialog.get_by_role("button", name="Post")).to_be_disabled()
    dialog.get_by_label("Credit in the books").last.fill("410.00")
    dialog.get_by_role("button", name="Post").click()
    page.get_by_label("general entries only").check()
    expect(page.get_by_label("Journal entries")).to_contain_text("Fuel used in October")


HEAD = "journal,date,account,debit,credit,memo\n"
ACCRUED = "G-101,2026-10-30,5100,{0},,Fuel accrual\nG-101,2026-10-30,2100,,{0},Fuel accrual\n"
STRAIGHT = "G-102,2026-09-28,1010,{0},,Correction\nG-102,2026-09-28,5900,,{0},Correction\n"


def test_a_ledger_s_detail_is_read_in_again_by_difference_and_what_it_lacks_is_asked(enter: Enter, site: Site) -> None:
    first, again = site.files / "detail.csv", site.files / "detail-again.csv"
    first.write_text(
        HEAD + ACCRUED.format("90.00") + STRAIGHT.format("12.50") + ACCRUED.format("7.00").replace("101", "103")
    )
    again.write_text(HEAD + ACCRUED.format("95.00") + STRAIGHT.format("15.20"))
    page = enter(IRIS)
    page.goto("/company/1/journal")
    page.get_by_label("Read in a ledger's detail").set_input_files(first)
    page.get_by_role("button", name="Take over 3").click()
    expect(page.get_by_text("3 differences taken over.")).to_be_visible()
    page.get_by_label("Read in a ledger's detail").set_input_files(again)
    differences = page.get_by_label("Differences")
    expect(differences.get_by_role("heading").first).to_have_text(
        "In sealed days of a bank account · 1each moves the ledger at a sealed date"
    )
    expect(differences).to_contain_text("1010 Operating account +2.70")
    expect(page.get_by_role("button", name="Take over 2")).to_be_disabled()
    page.get_by_label("removed there: remove them here").check()
    expect(page.get_by_text("1 difference changes the ledger in days that are sealed.")).to_be_visible()
    page.get_by_role("button", name="Take over 3").click()
    page.get_by_label("Read in a ledger's detail").set_input_files(again)
    expect(page.get_by_role("button", name="Nothing to take over")).to_be_visible()
