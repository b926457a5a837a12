"""The general ledger at the dates that are sealed: where it moved since, and by what."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import cast

from netnaught.core.ledger import BookEntry
from netnaught.core.seal import LedgerShift, ledger_shift, read_content
from netnaught.services.workbench import Chain, anchors_of
from netnaught.store import audit, bank_book, journals, ledger
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection
from netnaught.store.seals import Seal


@dataclass(frozen=True, slots=True)
class PostingChange:
    """What a journal entry posts straight to the control account up to the date: as sealed, and now; minor units."""

    journal_entry_id: int
    date: date
    memo: str
    was: int
    now: int
    deleted: bool


@dataclass(frozen=True, slots=True)
class MovedLedger:
    """A sealed date at which the ledger is not what it was.

    `came`: entries of the bank book written or moved here since; `postings`: straight ones made, changed or deleted.
    """

    reconciliation_id: int
    closing_date: date
    shift: LedgerShift
    came: tuple[BookEntry, ...]
    postings: tuple[PostingChange, ...]


def moved_ledger(db: Connection, account: BankAccount, chain: Chain) -> list[MovedLedger]:
    """The sealed dates of an account at which the ledger moved, newest first; each seal is read once."""
    found: list[MovedLedger] = []
    known: set[int] = set()
    for seal in chain.holding:
        known.update(_entries_of(seal))
        moved = _moved(db, account, chain, seal, known.copy)
        if moved is not None:
            found.insert(0, moved)
    return found


def moved_last(db: Connection, account: BankAccount, chain: Chain) -> MovedLedger | None:
    """The same of the last sealed date alone; the seals before it are read only where it moved."""
    last = chain.last_seal
    if last is None:
        return None
    return _moved(db, account, chain, last, lambda: {entry for seal in chain.holding for entry in _entries_of(seal)})


def _moved(
    db: Connection, account: BankAccount, chain: Chain, seal: Seal, known: Callable[[], set[int]]
) -> MovedLedger | None:
    """What the ledger is away from a seal; None where it has not moved, or is kept elsewhere.

    `known`: the entries that this seal and those before it say something of.
    """
    figures = read_content(seal.content)["figures"]
    if "gl_balance" not in figures:
        return None
    closing = next(r.closing_date for r in chain.reconciliations if r.id == seal.reconciliation_id)
    sealed = int(figures["gl_balance"]), int(figures["book_balance"])
    now = (
        ledger.gl_balance(db, account.company_id, account.gl_account_id, closing),
        account.starting_balance + bank_book.balance(db, account.company_id, account.id, closing),
    )
    if now == sealed:
        return None
    came = bank_book.book_without(db, account.company_id, account.id, closing, known())
    added = sum(stored.entry.amount for stored in came)
    shift = ledger_shift(*sealed, *now, added)
    postings = _postings_since(db, account, closing, anchors_of(db, account).get(seal.sha256, 0))
    entries = tuple(stored.entry for stored in came)
    return MovedLedger(seal.reconciliation_id, closing, shift, entries, tuple(postings))


def _entries_of(seal: Seal) -> set[int]:
    content = read_content(seal.content)
    return {entry["id"] for listed in ("cleared", "outstanding") for entry in content[listed]}


def _postings_since(db: Connection, account: BankAccount, closing: date, event: int) -> list[PostingChange]:
    """The journal entries that post otherwise than when the seal was made, which is the given audit event."""
    since = audit.events_after(db, account.company_id, "journal_entry", event)
    found: list[PostingChange] = []
    for journal in journals.some(db, account.company_id, since):
        # Moving a posting touches no control account, and is written without the lines.
        first = next((e for e in since[journal.id] if "lines" in (e.before or e.after or {})), None)
        if first is None or journal.entry_id is not None:
            continue
        was = _posted(first.before, account.gl_account_id, closing)
        now = 0 if journal.deleted else _posted(journal.written(), account.gl_account_id, closing)
        if was != now:
            found.append(PostingChange(journal.id, journal.date, journal.memo, was, now, journal.deleted))
    return found


def _posted(written: audit.Values | None, gl_account_id: int, closing: date) -> int:
    """What an entry, as the audit trail writes it, posts to an account up to a day."""
    if not written or date.fromisoformat(str(written["date"])) > closing:
        return 0
    lines = cast(list[tuple[int, int]], written["lines"])
    return sum(amount for account, amount in lines if account == gl_account_id)
