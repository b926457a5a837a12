"""The bank book: reading it, adding, changing and deleting entries, importing the documented table."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.money import currency
from netnaught.formats import Unreadable, read_bank_book, write_bank_book
from netnaught.services import entries, steps
from netnaught.services.access import Context, Desk, Right, account_for, record_event
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, Conflict
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


class ImportState(StrEnum):
    """What an imported row is, compared with the books."""

    NEW = "new"
    SAME = "same"
    CHANGED = "changed"
    HELD = "held"


@dataclass(frozen=True, slots=True)
class ImportRow:
    """One row of an import. `known`: the entry as it is here; `why`: why it is held back."""

    entry: BookEntry
    state: ImportState
    known: BookEntry | None = None
    why: str = ""


@dataclass(frozen=True, slots=True)
class BookImport:
    """What importing a file would do."""

    rows: tuple[ImportRow, ...]

    def of(self, state: ImportState) -> list[ImportRow]:
        """The rows in one state."""
        return [row for row in self.rows if row.state is state]


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


def add_entry(ctx: Context, company_id: int, account_id: int, values: EntryValues) -> int:
    """A new entry by hand, with its journal entry against the other account."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    if values.other_account_id is None:
        raise BadInput("Choose the other account: the journal entry needs it.", field="other_account_id")
    with atomic(ctx.db):
        entry_id = entries.create(ctx, company, account, values, origin="typed")
        _note(ctx, company, account, "add entry", [steps.created(entry_id)])
    return entry_id


def edit_entry(
    ctx: Context, company_id: int, account_id: int, entry_id: int, values: EntryValues, revision: int
) -> None:
    """Change an uncleared entry; Conflict when it has been changed since `revision` was seen."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
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


def _compare(ctx: Context, company: Company, account: BankAccount, rows: tuple[BookEntry, ...]) -> BookImport:
    known = bank_book.by_external_id(ctx.db, company.id, account.id)
    cleared = bank_book.clearings(ctx.db, company.id, account.id)
    found: list[ImportRow] = []
    for row in rows:
        stored = known.get(str(row.id))
        if stored is None:
            found.append(ImportRow(row, ImportState.NEW))
            continue
        mine = stored.entry
        same = (mine.date, mine.amount, mine.reference, mine.payee, mine.memo) == (
            *(row.date, row.amount, row.reference, row.payee, row.memo),
        )
        if stored.deleted_at:
            found.append(ImportRow(row, ImportState.HELD, mine, "it was deleted here"))
        elif same:
            found.append(ImportRow(row, ImportState.SAME, mine))
        elif stored.id in cleared:
            found.append(ImportRow(row, ImportState.HELD, mine, "it is cleared here"))
        else:
            found.append(ImportRow(row, ImportState.CHANGED, mine))
    return BookImport(tuple(found))


def _read(account: BankAccount, name: str, data: bytes) -> tuple[BookEntry, ...]:
    try:
        return read_bank_book(data, currency(account.currency))
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None


def preview_import(ctx: Context, company_id: int, account_id: int, name: str, data: bytes) -> BookImport:
    """What a file would bring: new rows, changed ones, those held back; nothing is stored."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    return _compare(ctx, company, account, _read(account, name, data))


def import_book(
    ctx: Context, company_id: int, account_id: int, name: str, data: bytes, other_account_id: int | None
) -> BookImport:
    """Store the new rows of a file and carry changes into uncleared entries, all or nothing.

    `other_account_id`: the ledger account to post new entries against; None where the
    ledger is kept elsewhere.
    """
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    rows = _read(account, name, data)
    with atomic(ctx.db):
        found = _compare(ctx, company, account, rows)
        known = bank_book.by_external_id(ctx.db, company.id, account.id)
        for row in found.of(ImportState.NEW):
            values = _values(row.entry, other_account_id)
            entries.create(ctx, company, account, values, origin="imported", external_id=str(row.entry.id))
        for row in found.of(ImportState.CHANGED):
            stored = known[str(row.entry.id)]
            other = entries.values_of(ctx, stored, company.id).other_account_id
            entries.rewrite(ctx, company, account, stored.id, _values(row.entry, other))
        counts: dict[str, object] = {state.value: len(found.of(state)) for state in ImportState}
        record_event(ctx, company.id, "bank book imported", "bank_account", account.id, after={"file": name, **counts})
        reconciliations.note_change(ctx.db, company.id, account.id)
    return found


def _values(entry: BookEntry, other_account_id: int | None) -> EntryValues:
    return EntryValues(entry.date, entry.amount, entry.reference, entry.payee, entry.memo, other_account_id)


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
