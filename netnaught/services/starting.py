"""How an account starts: starting date, starting balance, items outstanding then, and the ledger's opening balance.

Book balance at start = starting balance + starting outstanding = the ledger at that date.
The items have no journal of their own. Everything can be corrected while nothing is sealed.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.core.coding import Posting
from netnaught.core.ledger import BookEntry, bank_journal
from netnaught.services.access import Context, Right, account_for, record_event
from netnaught.services.errors import BadInput, Conflict, Refused
from netnaught.services.writing import wording
from netnaught.store import bank_accounts, bank_book, ledger, reconciliations, seals
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import StoredEntry
from netnaught.store.database import atomic


@dataclass(frozen=True, slots=True)
class Start:
    """The start of an account. `balance`: the statement's, minor units. `outstanding`: items with their ids, 0 for new
    ones. `equity_account_id`: None where the ledger is kept elsewhere."""

    on: date
    balance: int
    outstanding: tuple[BookEntry, ...]
    equity_account_id: int | None


def read_start(ctx: Context, company_id: int, account_id: int) -> Start:
    """How an account starts now."""
    _, account = account_for(ctx, company_id, account_id)
    opening = bank_accounts.opening_of(ctx.db, company_id, account_id)
    items = tuple(stored.entry for stored in _starting(ctx, account))
    return Start(account.starting_date, account.starting_balance, items, opening.equity_account_id if opening else None)


def _starting(ctx: Context, account: BankAccount) -> list[StoredEntry]:
    return [s for s in bank_book.book(ctx.db, account.company_id, account.id) if s.origin == "starting"]


def write_start(ctx: Context, company_id: int, account_id: int, start: Start) -> None:
    """Say how an account starts, or correct it; the ledger's opening balance follows.

    Refused once anything is sealed. Conflict when an item that has been cleared would change.
    """
    company, account = account_for(ctx, company_id, account_id, Right.MANAGE)
    say = wording(account.currency, company.locale)
    if start.equity_account_id is not None and ledger.gl_account(ctx.db, company_id, start.equity_account_id) is None:
        raise BadInput("There is no such ledger account in this company.", field="equity_account_id")
    for item in start.outstanding:
        if item.date > start.on:
            raise BadInput(
                f"An item outstanding at the start is dated {say.day(item.date)}, after {say.day(start.on)}.",
                field="outstanding",
                value=item.date.isoformat(),
            )
        if item.amount == 0:
            raise BadInput("An item of zero moves no money.", field="outstanding", value="0")
    with atomic(ctx.db):
        if seals.seals(ctx.db, company_id, account_id):
            raise Refused(f"{account.name} has sealed periods: its start stands. Nothing was changed.")
        earlier = [
            r for r in reconciliations.reconciliations(ctx.db, company_id, account_id) if r.closing_date <= start.on
        ]
        if earlier:
            raise Refused(
                f"There is a reconciliation to {say.day(earlier[0].closing_date)}: the start must lie before it. "
                "Nothing was changed."
            )
        before = read_start(ctx, company_id, account_id)
        bank_accounts.set_start(ctx.db, company_id, account_id, start.on, start.balance)
        _write_items(ctx, account, start)
        _write_opening(ctx, account, start)
        reconciliations.note_change(ctx.db, company_id, account_id)
        record_event(
            ctx, company_id, "start written", "bank_account", account_id, before=_values(before), after=_values(start)
        )


def _values(start: Start) -> dict[str, object]:
    return {"date": start.on.isoformat(), "balance": start.balance, "outstanding": len(start.outstanding)}


def _write_items(ctx: Context, account: BankAccount, start: Start) -> None:
    known = {s.id: s for s in _starting(ctx, account)}
    cleared = bank_book.clearings(ctx.db, account.company_id, account.id)
    wanted = {int(item.id): item for item in start.outstanding if item.id}
    for entry_id, stored in known.items():
        item = wanted.get(entry_id)
        if item == stored.entry:
            continue
        if entry_id in cleared:
            raise Conflict(
                f"{stored.entry.payee or 'An item'} of the start is cleared; unmatch it first. Nothing was changed."
            )
        if item is None:
            bank_book.set_deleted(ctx.db, account.company_id, entry_id, ctx.stamp)
        else:
            bank_book.write_values(ctx.db, account.company_id, item)
    unknown = set(wanted) - set(known)
    if unknown:
        raise BadInput("An item does not belong to the start of this account.", field="outstanding")
    new = [(item, None, None) for item in start.outstanding if not item.id]
    bank_book.add_entries(
        ctx.db, account.company_id, account.id, new, origin="starting", user_id=ctx.user.id, now=ctx.stamp
    )


def _write_opening(ctx: Context, account: BankAccount, start: Start) -> None:
    """The journal entry of the opening balance: posted, rewritten, or taken out where it is zero."""
    opening = bank_accounts.opening_of(ctx.db, account.company_id, account.id)
    if opening and opening.journal_entry_id is not None:
        ledger.set_journal_deleted(ctx.db, account.company_id, opening.journal_entry_id, ctx.stamp)
    if start.equity_account_id is None:
        bank_accounts.forget_opening(ctx.db, account.company_id, account.id)
        return
    total = start.balance + sum(item.amount for item in start.outstanding)
    journal_id: int | None = None
    if total:
        journal = bank_journal(
            start.on, "Opening balance", account.gl_account_id, (Posting(start.equity_account_id, total),)
        )
        journal_id, _ = ledger.post_journal(ctx.db, account.company_id, journal, ctx.user.id, ctx.stamp)
    bank_accounts.set_opening(ctx.db, account.company_id, account.id, start.equity_account_id, journal_id)
