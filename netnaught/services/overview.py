"""All statements of all accounts by month: what is there, and what is missing."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from netnaught.services.access import Context, company_for
from netnaught.store import bank_accounts, bank_book, connections, statements
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.statements import StoredStatement


@dataclass(frozen=True, slots=True)
class Slot:
    """A month, and a statement that ends in it; None where none covers it."""

    month: str
    statement: StoredStatement | None


@dataclass(frozen=True, slots=True)
class AccountStatements:
    """An account's months, newest first."""

    account: BankAccount
    connected: bool
    slots: tuple[Slot, ...]


def _months(first: date, last: date) -> list[str]:
    found: list[str] = []
    day = first.replace(day=1)
    while day <= last:
        found.append(f"{day:%Y-%m}")
        day = (day + timedelta(days=32)).replace(day=1)
    return found


def statements_by_month(ctx: Context, company_id: int) -> list[AccountStatements]:
    """Every account of the company with its statements; months that have entries but no statement stand as missing."""
    company_for(ctx, company_id)
    found: list[AccountStatements] = []
    for account in bank_accounts.bank_accounts(ctx.db, company_id):
        stored = statements.statements(ctx.db, company_id, account.id)
        booked = bank_book.months(ctx.db, company_id, account.id)
        first = account.starting_date + timedelta(days=1)
        ends = [s.head.end for s in stored] + [date.fromisoformat(f"{month}-01") for month in booked]
        slots: list[Slot] = []
        for month in _months(first, max(ends, default=account.starting_date)):
            ending = [s for s in stored if f"{s.head.end:%Y-%m}" == month]
            covered = any(f"{s.head.start:%Y-%m}" <= month <= f"{s.head.end:%Y-%m}" for s in stored)
            slots += [Slot(month, s) for s in ending]
            if not covered:
                slots.append(Slot(month, None))
        link = connections.connection_of(ctx.db, company_id, account.id)
        found.append(AccountStatements(account, link is not None, tuple(reversed(slots))))
    return found
