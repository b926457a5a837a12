"""What was changed in the sealed months of the demo: one of each kind, by someone with the right, each with a reason."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

from netnaught.core.ledger import BookEntry
from netnaught.core.money import currency
from netnaught.formats import write_bank_book
from netnaught.services import bank_book, deciding, entries
from netnaught.services.access import Context
from netnaught.services.bank_book import BookLine
from netnaught.store import bank_accounts, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company

WHEN = datetime(2026, 11, 4, 11, 2, tzinfo=UTC)


class Meddler:
    """Somebody with the right to alter sealed entries, at work on one account."""

    def __init__(self, ctx: Context, company: Company, account_name: str) -> None:
        self.ctx, self.company = replace(ctx, now=WHEN), company
        accounts = {a.name: a for a in bank_accounts.bank_accounts(ctx.db, company.id)}
        self.account: BankAccount = accounts[account_name]
        self.accounts = accounts

    def because(self, reason: str) -> tuple[Context, int, int]:
        """Who, where and why."""
        return replace(self.ctx, reason=reason), self.company.id, self.account.id

    def cleared(self, month: str, place: int) -> BookLine:
        """A check that the period to a month's end cleared, by its place there."""
        rows = [
            row
            for row in bank_book.read_book(self.ctx, self.company.id, self.account.id)
            if row.clearing and f"{row.clearing.closing_date:%Y-%m}" == month and row.stored.entry.amount < 0
        ]
        return rows[place]

    def period(self, month: str) -> int:
        """The reconciliation to a month's end."""
        found = reconciliations.reconciliations(self.ctx.db, self.company.id, self.account.id)
        return next(r.id for r in found if f"{r.closing_date:%Y-%m}" == month)

    def amend(self, row: BookLine, reason: str, *, amount: int = 0, day: int = 0) -> None:
        """Give an entry another amount, or another day of its month."""
        ctx, company, account = self.because(reason)
        values = entries.values_of(ctx, row.stored, company)
        if amount:
            values = values.with_amount(amount)
        if day:
            values = replace(values, date=values.date.replace(day=day))
        bank_book.edit_entry(ctx, company, account, row.stored.id, values, row.stored.revision)


def disturb(ctx: Context, company: Company, trust: Company) -> None:
    """Payroll: amended, removed, slipped in, relabelled, unticked; ticket cards: moved; the trust: unticked."""
    payroll = Meddler(ctx, company, "Payroll account")
    bank_book.add_entry(
        replace(payroll.ctx, reason=""),
        company.id,
        payroll.account.id,
        replace(
            entries.values_of(payroll.ctx, payroll.cleared("2026-09", 0).stored, company.id).with_amount(-18_500),
            date=WHEN.date().replace(month=10, day=2),
            reference="T1002",
            payee="Fay Kittiwake",
            memo="Overtime of August",
        ),
    )
    late = bank_book.read_book(payroll.ctx, company.id, payroll.account.id)
    overtime = next(row.stored.id for row in late if row.stored.entry.reference == "T1002")
    august = payroll.cleared("2026-08", 2)
    payroll.amend(august, "Overtime was higher", amount=august.stored.entry.amount - 12_000)
    bank_book.remove_entry(*payroll.because("Paid twice, Bo says"), payroll.cleared("2026-08", 5).stored.id)
    ctx_in, company_id, _ = payroll.because("Belongs to August")
    deciding.tick(ctx_in, company_id, payroll.period("2026-08"), [overtime])
    relabelled = payroll.cleared("2026-08", 7)
    payroll.amend(relabelled, "Date on the stub", day=27)
    row = payroll.cleared("2026-09", 3)
    if row.clearing:
        ctx_in, company_id, _ = payroll.because("Not on my list of cashed checks")
        deciding.withdraw(ctx_in, company_id, payroll.period("2026-09"), [row.clearing.decision_id])
    cards = Meddler(ctx, company, "Ticket-card clearing")
    sent = cards.cleared("2026-09", 0)
    target = cards.accounts["Payroll account"].id
    bank_book.move_entry(*cards.because("Went to the payroll account"), sent.stored.id, target)
    dome = Meddler(ctx, trust, "Checking account")
    row = dome.cleared("2026-09", 0)
    if row.clearing:
        ctx_in, company_id, _ = dome.because("The roofer says it was never cashed")
        deciding.withdraw(ctx_in, company_id, dome.period("2026-09"), [row.clearing.decision_id])


def leave_fresh_export(ctx: Context, company: Company, files: Path) -> None:
    """A fresh export of the Canadian-dollar book, kept elsewhere: changed, gone and new entries, sealed ones among them."""
    canadian = Meddler(ctx, company, "Canadian-dollar account")
    rows = [
        replace(row.stored.entry, id=row.stored.external_id or "")
        for row in bank_book.read_book(ctx, company.id, canadian.account.id)
        if row.stored.external_id
    ]
    by_reference = {row.reference: n for n, row in enumerate(rows)}
    amended, gone, renamed = (by_reference[name] for name in ("I082", "I073", "I103"))
    rows[amended] = replace(rows[amended], amount=rows[amended].amount + 4_500)
    rows[renamed] = replace(rows[renamed], payee="Brant Island Freight Ltd")
    last = rows[-1]
    rows.append(BookEntry("CA-9001", last.date, 38_800, "I105", "Whiteport Lodge", "Fares from the Canadian side"))
    rows.pop(gone)
    (files / "northpassage-book-2026-11-04.csv").write_bytes(write_bank_book(rows, currency("CAD")))
