"""The bank book: reading it, adding, changing and deleting entries, importing the documented table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.ledger import BookEntry
from netnaught.core.money import currency
from netnaught.formats import write_bank_book
from netnaught.services import entries, entry_state, steps, transfers
from netnaught.services.access import (
    Context,
    Desk,
    Right,
    account_for,
    record_event,
    require_account,
    require_reconciliation,
)
from netnaught.services.coding import PartGiven, postings_of
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, Conflict, Refused
from netnaught.services.guards import refuse_cleared, refuse_listed, refuse_locked, refuse_sealed_days
from netnaught.services.writing import wording
from netnaught.store import bank_book, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import EntryClearing, StoredEntry
from netnaught.store.companies import Company
from netnaught.store.database import atomic


@dataclass(frozen=True, slots=True)
class BookLine:
    """An entry, the balance after it (minor units), and where it was cleared, if it was."""

    stored: StoredEntry
    balance: int
    clearing: EntryClearing | None


def read_book(ctx: Context, company_id: int, account_id: int) -> list[BookLine]:
    """The whole bank book with its running balance."""
    _, account = account_for(ctx, company_id, account_id)
    cleared = bank_book.clearings(ctx.db, company_id, account_id)
    balance = account.starting_balance
    found: list[BookLine] = []
    for stored in bank_book.book(ctx.db, company_id, account_id):
        balance += stored.entry.amount
        found.append(BookLine(stored, balance, cleared.get(stored.id)))
    return found


def open_reconciliation(ctx: Context, company: Company, account: BankAccount) -> Desk | None:
    """The account's first reconciliation that is not sealed: where steps in the book are remembered."""
    for found in reconciliations.reconciliations(ctx.db, company.id, account.id):
        if not found.sealed:
            return Desk(company, account, found)
    return None


def _note(ctx: Context, company: Company, account: BankAccount, label: str, operations: list[steps.Operation]) -> None:
    desk = open_reconciliation(ctx, company, account)
    if desk:
        steps.note(ctx, desk, label, operations)


def _split(ctx: Context, account: BankAccount, values: EntryValues, parts: Sequence[PartGiven]) -> EntryValues:
    """The values with their other side split as given."""
    if not parts:
        return values
    postings = postings_of(ctx, account.company_id, values.amount, parts, account.currency)
    return replace(values, other_account_id=postings[0].gl_account_id, postings=postings)


def add_entry(
    ctx: Context, company_id: int, account_id: int, values: EntryValues, parts: Sequence[PartGiven] = ()
) -> int:
    """A new entry by hand, with its journal entry against the other account, or split over several."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    values = _split(ctx, account, values, parts)
    if values.other_account_id is None:
        raise BadInput("Choose the other account: the journal entry needs it.", field="other_account_id")
    with atomic(ctx.db):
        entry_id = entries.create(ctx, company, account, values, origin="typed")
        _note(ctx, company, account, "add entry", [steps.created(entry_id)])
    return entry_id


def edit_entry(
    ctx: Context,
    company_id: int,
    account_id: int,
    entry_id: int,
    values: EntryValues,
    revision: int,
    parts: Sequence[PartGiven] = (),
) -> None:
    """Change an uncleared entry; Conflict when it has been changed since `revision` was seen."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    values = _split(ctx, account, values, parts)
    with atomic(ctx.db):
        stored = entries.require_entry(ctx, company, account, entry_id)
        if stored.revision != revision:
            raise Conflict("Somebody has changed this entry meanwhile. Look at it again; nothing was changed.")
        change_entry(ctx, company, account, entry_id, values)


def change_entry(
    ctx: Context, company: Company, account: BankAccount, entry_id: int, values: EntryValues
) -> steps.Operation:
    """Rewrite an entry and remember the step, inside a transaction; returns the operation."""
    before = entries.rewrite(ctx, company, account, entry_id, values)
    after = entries.values_of(ctx, entries.require_entry(ctx, company, account, entry_id), company.id)
    operation = steps.rewritten(entry_id, before, after)
    _note(ctx, company, account, "change entry", [operation])
    return operation


def remove_entry(ctx: Context, company_id: int, account_id: int, entry_id: int) -> None:
    """Delete an uncleared entry softly, its journal with it."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    with atomic(ctx.db):
        entries.set_deleted(ctx, company, account, entry_id, True)
        _note(ctx, company, account, "delete entry", [steps.removed(entry_id)])


def move_entry(ctx: Context, company_id: int, account_id: int, entry_id: int, to_account_id: int) -> None:
    """Put an entry on another bank account of the same currency, its journal line with it.

    Refused for a cleared or sealed one, and into a sealed period of the other account, without the right and a reason.
    """
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    with atomic(ctx.db):
        stored = entries.require_entry(ctx, company, account, entry_id)
        target = require_account(ctx, company_id, to_account_id)
        if target.id == account.id:
            raise BadInput("It stands on this account already. Nothing was changed.", field="to_account_id")
        if target.currency != account.currency:
            raise Refused(
                f"{target.name} is kept in {target.currency}, {account.name} in {account.currency}. Nothing was changed."
            )
        if any(side.bank_account_id == target.id for side in transfers.sides_of(ctx, company_id, stored)):
            raise Refused(f"It is a transfer with {target.name}: it cannot move there. Nothing was changed.")
        refuse_cleared(ctx, company, account, entry_id)
        refuse_listed(ctx, company, account, stored)
        refuse_locked(ctx, company, account.currency, stored.entry.date)
        refuse_sealed_days(ctx, company, target, stored.entry.date)
        before = entry_state.state_of(ctx, company, entry_id)
        entry_state.move(ctx, company, stored, target.id)
        after = entry_state.state_of(ctx, company, entry_id)
        _note(ctx, company, account, "move entry", [entry_state.operation(entry_id, before, after)])
        record_event(
            ctx,
            company_id,
            "entry moved",
            "book_entry",
            entry_id,
            before={"account": account.id},
            after={"account": target.id},
        )
        reconciliations.note_company_change(ctx.db, company_id)


@dataclass(frozen=True, slots=True)
class Touched:
    """What changing or removing an entry touches, in sentences; `needs_right`: something sealed or locked is among it."""

    texts: tuple[str, ...]
    needs_right: bool


def touched_by(
    ctx: Context, company_id: int, account_id: int, entry_id: int, day: date | None, to_account_id: int | None
) -> Touched:
    """What a change touches beside the entry itself: other periods and accounts, what is sealed or locked there.

    `day`, `to_account_id`: a new date, another account; None: it stays.
    """
    company, account = account_for(ctx, company_id, account_id)
    stored = entries.require_entry(ctx, company, account, entry_id)
    say, found, sealed = wording(account.currency, company.locale), list[str](), False
    accounts = [account, *(transfers.account_of(ctx, company, s) for s in transfers.sides_of(ctx, company_id, stored))]
    if to_account_id not in (None, account.id):
        accounts.append(require_account(ctx, company_id, to_account_id or 0))
    for at in accounts:
        if at.id != account.id:
            found.append(f"It also stands in the bank book of {at.name}.")
        for days in {stored.entry.date, day or stored.entry.date}:
            period = next(
                (
                    r
                    for r in reconciliations.reconciliations(ctx.db, company_id, at.id)
                    if r.closing_date >= days and r.sealed
                ),
                None,
            )
            if period:
                sealed = True
                found.append(
                    f"{say.day(days)} lies in the period of {at.name} sealed to {say.day(period.closing_date)}."
                )
    decided = reconciliations.decision_on(ctx.db, company_id, entry=entry_id)
    if decided:
        until = require_reconciliation(ctx, company_id, decided.reconciliation_id)
        sealed = sealed or until.sealed
        found.append(
            f"It is cleared in the {'sealed ' if until.sealed else ''}reconciliation to {say.day(until.closing_date)}."
        )
    if company.lock_date and min(stored.entry.date, day or stored.entry.date) <= company.lock_date:
        sealed = True
        found.append(f"The books are locked to {say.day(company.lock_date)}.")
    if day and (day.year, day.month) != (stored.entry.date.year, stored.entry.date.month):
        found.append(f"It moves from {stored.entry.date:%B %Y} to {day:%B %Y}, in the ledger too.")
    return Touched(tuple(dict.fromkeys(found)), sealed)


def export_book(ctx: Context, company_id: int, account_id: int) -> bytes:
    """The bank book as the documented table; ids are those it came with, else our own."""
    _, account = account_for(ctx, company_id, account_id)
    rows = [
        BookEntry(
            s.external_id or f"N{s.id}", s.entry.date, s.entry.amount, s.entry.reference, s.entry.payee, s.entry.memo
        )
        for s in bank_book.book(ctx.db, company_id, account_id)
    ]
    return write_bank_book(rows, currency(account.currency))


def balance_at(ctx: Context, account: BankAccount, on: date) -> int:
    """The book balance at the end of a day, minor units."""
    return account.starting_balance + bank_book.balance(ctx.db, account.company_id, account.id, on)
