"""What lingers and what moved: a rule of the company's own, a stale check written off, the ledger at a sealed date."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.e2e.conftest import IRIS, TAM, Enter, Site
from tests.e2e.test_month import read_october

STALE = "Check 2081, Marram Stationery, 180.00"


def rule(page: Page, label: str, value: str) -> None:
    """Set a stale rule of Skerry Line, the second company in Setup."""
    page.get_by_role("link", name="Setup").click()
    forms = page.get_by_role("form", name="When an outstanding entry is stale")
    expect(forms).to_have_count(2)
    form = forms.last
    form.get_by_label(label).fill(value)
    form.get_by_role("button", name="Save").click()
    expect(form.get_by_role("button", name="Save")).to_be_disabled()


def test_when_an_entry_is_stale_is_the_company_s_own_rule(enter: Enter) -> None:
    page = enter(IRIS)
    todo = page.get_by_role("complementary")
    expect(todo).to_contain_text(STALE)
    rule(page, "A check, after", "12")
    page.get_by_role("link", name="Board", exact=True).click()
    expect(todo).to_contain_text("Ticket-card clearing")
    expect(todo).not_to_contain_text(STALE)
    rule(page, "A check, after", "2")
    page.get_by_role("link", name="Board", exact=True).click()
    expect(todo).to_contain_text("past 2 months · decide")
    page = enter(TAM)
    page.goto("/setup")
    expect(page.get_by_text("Only an owner changes the setup of a company.")).to_be_visible()


def test_a_stale_check_is_written_off_from_the_list_and_leaves_it(site: Site, enter: Enter) -> None:
    page = enter(IRIS)
    read_october(page, site)
    page.get_by_role("link", name="Outstanding").click()
    entries = page.get_by_label("Outstanding entries")
    stale = entries.get_by_role("button", name="2081 Marram Stationery")
    chosen = page.get_by_label("Chosen entry")
    expect(chosen).to_contain_text("2081 Marram Stationery")
    expect(stale).to_contain_text("check, past 6 months")
    chosen.get_by_role("button", name="Reverse, reissue, write off").click()
    chosen.get_by_label("What to do").select_option("write off")
    form = chosen.get_by_role("form", name="Write off")
    form.get_by_label("Why").fill("never cashed, payee gone")
    expect(form.get_by_role("button", name="Write off")).to_be_disabled()
    form.get_by_label("Against").select_option(label="2100 Payables")
    form.get_by_role("button", name="Write off").click()
    expect(stale).to_have_count(0)
    page.goto("/company/1/journal?day=2026-10-31")
    expect(page.get_by_label("Journal entries")).to_contain_text("never cashed, payee gone")


STRAIGHT = (
    "journal,date,account,debit,credit,memo\n"
    "G-7,2026-09-28,1010,12.50,,By the accountant\nG-7,2026-09-28,5900,,12.50,By the accountant\n"
)


def test_a_posting_into_sealed_days_is_named_on_the_board_and_leads_to_its_journal(enter: Enter, site: Site) -> None:
    detail = site.files / "detail.csv"
    detail.write_text(STRAIGHT)
    page = enter(IRIS)
    page.goto("/company/1/journal")
    page.get_by_label("Read in a ledger's detail").set_input_files(detail)
    page.get_by_role("button", name="Take over 1").click()
    expect(page.get_by_text("1 difference taken over.")).to_be_visible()
    page.get_by_role("link", name="Board", exact=True).click()
    page.get_by_role("link", name="The ledger at Sep 30, 2026 is no longer as sealed: 12.50 of postings").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The books start at the seal")
    moved = page.get_by_label("The ledger at sealed dates")
    expect(moved.get_by_role("row", name="Sep 30, 2026")).to_contain_text("68,963.6500+12.5068,976.15")
    moved.get_by_role("link", name="journal").click()
    expect(page.get_by_label("Journal entries")).to_contain_text("By the accountant")
