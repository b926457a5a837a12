"""Entries of the bank book. Deleted ones keep their row and identity."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import BookEntry
from netnaught.core.statement import Side
from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class StoredEntry:
    """A bank book entry and what the store knows of it beside its values."""

    entry: BookEntry
    id: int
    bank_account_id: int
    external_id: str | None
    origin: str
    journal_line_id: int | None
    revision: int
    created_by: str
    created_at: str
    deleted_at: str | None


@dataclass(frozen=True, slots=True)
class EntryClearing:
    """Where an entry was cleared: the reconciliation, the statement's date and its line, if it has lines."""

    entry_id: int
    decision_id: int
    reconciliation_id: int
    closing_date: date
    sealed: bool
    line_date: date | None


def _entry(row: Row) -> BookEntry:
    return BookEntry(
        row["id"],
        date.fromisoformat(row["date"]),
        row["amount"],
        row["reference"],
        row["payee"],
        row["memo"],
    )


def _stored(row: Row) -> StoredEntry:
    return StoredEntry(
        _entry(row),
        row["id"],
        row["bank_account_id"],
        row["external_id"],
        row["origin"],
        row["journal_line_id"],
        row["revision"],
        row["creator"],
        row["created_at"],
        row["deleted_at"],
    )


def add_entries(
    db: Connection,
    company_id: int,
    account_id: int,
    entries: Iterable[tuple[BookEntry, str | None, int | None]],
    *,
    origin: str,
    user_id: int,
    now: str,
) -> list[int]:
    """Store entries given as (values, external id, journal line); the ids they got, in order."""
    sql = (
        "INSERT INTO book_entry (company_id, bank_account_id, external_id, date, reference, payee, memo, amount, origin,"
        " journal_line_id, created_by, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id"
    )
    ids: list[int] = []
    for entry, external_id, journal_line_id in entries:
        values = (entry.date.isoformat(), entry.reference, entry.payee, entry.memo, entry.amount)
        row = (company_id, account_id, external_id, *values, origin, journal_line_id, user_id, now)
        ids.append(db.execute(sql, row).fetchone()[0])
    return ids


@dataclass(frozen=True, slots=True)
class EntryLink:
    """How an entry and another belong together. `kind`: reverses or replaces, said by `entry_id` of `of_id`."""

    entry_id: int
    of_id: int
    kind: str
    reason: str


def link(db: Connection, company_id: int, entry_id: int, of_id: int, kind: str, reason: str) -> None:
    """An entry reverses or replaces another."""
    db.execute(
        "INSERT INTO entry_link (company_id, book_entry_id, of_entry_id, kind, reason) VALUES (?, ?, ?, ?, ?)",
        (company_id, entry_id, of_id, kind, reason),
    )


def links_of(db: Connection, company_id: int, *entry_ids: int) -> list[EntryLink]:
    """The links of entries in either direction, with entries that stand."""
    rows = db.execute(
        "SELECT l.book_entry_id, l.of_entry_id, l.kind, l.reason FROM entry_link l"
        " JOIN book_entry e ON e.id = l.book_entry_id AND e.deleted_at IS NULL"
        " WHERE l.company_id = ?1 AND (l.book_entry_id IN (SELECT value FROM json_each(?2))"
        " OR l.of_entry_id IN (SELECT value FROM json_each(?2))) ORDER BY l.book_entry_id",
        (company_id, json.dumps(entry_ids)),
    )
    return [EntryLink(*row) for row in rows]


def stored_entry(db: Connection, company_id: int, entry_id: int) -> StoredEntry | None:
    """One entry, deleted or not."""
    row = db.execute(
        "SELECT e.*, u.name AS creator FROM book_entry e JOIN user u ON u.id = e.created_by"
        " WHERE e.company_id = ? AND e.id = ?",
        (company_id, entry_id),
    ).fetchone()
    return _stored(row) if row else None


def entries_of_journal(db: Connection, company_id: int, journal_id: int) -> list[StoredEntry]:
    """The entries, deleted or not, tied to the lines of a journal entry: more than one for a transfer."""
    rows = db.execute(
        "SELECT e.*, u.name AS creator FROM book_entry e JOIN user u ON u.id = e.created_by"
        " JOIN journal_line l ON l.id = e.journal_line_id"
        " WHERE e.company_id = ? AND l.journal_entry_id = ? ORDER BY l.id",
        (company_id, journal_id),
    )
    return [_stored(row) for row in rows]


def set_account(db: Connection, company_id: int, entry_id: int, from_id: int, to_id: int) -> None:
    """Move an entry to another bank account; sqlite3.IntegrityError when its id is known there."""
    db.execute(
        "UPDATE book_entry SET bank_account_id = ?, revision = revision + 1 WHERE company_id = ? AND id = ?",
        (to_id, company_id, entry_id),
    )
    db.execute(
        "INSERT INTO entry_move (company_id, book_entry_id, from_account_id, to_account_id) VALUES (?, ?, ?, ?)",
        (company_id, entry_id, from_id, to_id),
    )


def untie(db: Connection, company_id: int, entry_id: int) -> None:
    """Take an entry off its journal line."""
    db.execute("UPDATE book_entry SET journal_line_id = NULL WHERE company_id = ? AND id = ?", (company_id, entry_id))


def waiting_transfers(db: Connection, company_id: int, account_id: int, other_id: int) -> list[BookEntry]:
    """Uncleared entries of an account that share their journal with an entry of another account."""
    rows = db.execute(
        "SELECT e.* FROM book_entry e JOIN journal_line l ON l.id = e.journal_line_id"
        " JOIN journal_line m ON m.journal_entry_id = l.journal_entry_id AND m.id <> l.id"
        " JOIN book_entry o ON o.journal_line_id = m.id AND o.bank_account_id = ?3 AND o.deleted_at IS NULL"
        " WHERE e.company_id = ?1 AND e.bank_account_id = ?2 AND e.deleted_at IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM clearing c WHERE c.book_entry_id = e.id AND c.active = 1) ORDER BY e.date, e.id",
        (company_id, account_id, other_id),
    )
    return [_entry(row) for row in rows]


def book(db: Connection, company_id: int, account_id: int) -> list[StoredEntry]:
    """The whole bank book of an account in its order: date, then entry."""
    rows = db.execute(
        "SELECT e.*, u.name AS creator FROM book_entry e JOIN user u ON u.id = e.created_by"
        " WHERE e.company_id = ? AND e.bank_account_id = ? AND e.deleted_at IS NULL ORDER BY e.date, e.id",
        (company_id, account_id),
    )
    return [_stored(row) for row in rows]


def everything(db: Connection, company_id: int, account_id: int) -> list[StoredEntry]:
    """All entries of an account, deleted ones included."""
    rows = db.execute(
        "SELECT e.*, u.name AS creator FROM book_entry e JOIN user u ON u.id = e.created_by"
        " WHERE e.company_id = ? AND e.bank_account_id = ? ORDER BY e.date, e.id",
        (company_id, account_id),
    )
    return [_stored(row) for row in rows]


def adopt(db: Connection, company_id: int, entry_id: int, external_id: str) -> None:
    """An entry is known under this id elsewhere."""
    db.execute(
        "UPDATE book_entry SET external_id = ? WHERE company_id = ? AND id = ?", (external_id, company_id, entry_id)
    )


def clearings(db: Connection, company_id: int, account_id: int) -> dict[int, EntryClearing]:
    """Where each cleared entry of an account was cleared, by entry id."""
    rows = db.execute(
        "SELECT c.book_entry_id, d.id AS decision_id, r.id AS reconciliation_id, r.closing_date, r.state,"
        " (SELECT min(l.date) FROM resolution x JOIN statement_line l ON l.id = x.statement_line_id"
        "  WHERE x.decision_id = d.id) AS line_date"
        " FROM clearing c JOIN decision d ON d.id = c.decision_id JOIN reconciliation r ON r.id = d.reconciliation_id"
        " WHERE c.company_id = ? AND r.bank_account_id = ? AND c.active = 1",
        (company_id, account_id),
    )
    return {
        row["book_entry_id"]: EntryClearing(
            row["book_entry_id"],
            row["decision_id"],
            row["reconciliation_id"],
            date.fromisoformat(row["closing_date"]),
            row["state"] == "sealed",
            date.fromisoformat(row["line_date"]) if row["line_date"] else None,
        )
        for row in rows
    }


def write_values(db: Connection, company_id: int, entry: BookEntry) -> None:
    """Give an entry new values; its revision goes up by one."""
    db.execute(
        "UPDATE book_entry SET date = ?, reference = ?, payee = ?, memo = ?, amount = ?, revision = revision + 1"
        " WHERE company_id = ? AND id = ?",
        (entry.date.isoformat(), entry.reference, entry.payee, entry.memo, entry.amount, company_id, entry.id),
    )


def set_deleted(db: Connection, company_id: int, entry_id: int, deleted_at: str | None) -> None:
    """Delete an entry softly, or bring it back."""
    db.execute(
        "UPDATE book_entry SET deleted_at = ?, revision = revision + 1 WHERE company_id = ? AND id = ?",
        (deleted_at, company_id, entry_id),
    )


def by_external_id(db: Connection, company_id: int, account_id: int) -> dict[str, StoredEntry]:
    """Entries that came with an id from elsewhere, deleted ones included."""
    rows = db.execute(
        "SELECT e.*, u.name AS creator FROM book_entry e JOIN user u ON u.id = e.created_by"
        " WHERE e.company_id = ? AND e.bank_account_id = ? AND e.external_id IS NOT NULL",
        (company_id, account_id),
    )
    return {row["external_id"]: _stored(row) for row in rows}


def open_entries(db: Connection, company_id: int, account_id: int, closing_date: date) -> list[tuple[BookEntry, bool]]:
    """Entries not cleared in a reconciliation before `closing_date`: (entry, cleared in a later one)."""
    rows = db.execute(
        "SELECT e.id, e.date, e.amount, e.reference, e.payee, e.memo, coalesce(r.closing_date > ?3, 0) FROM book_entry e"
        " LEFT JOIN clearing c ON c.book_entry_id = e.id AND c.active = 1"
        " LEFT JOIN decision d ON d.id = c.decision_id LEFT JOIN reconciliation r ON r.id = d.reconciliation_id"
        " WHERE e.company_id = ?1 AND e.bank_account_id = ?2 AND e.deleted_at IS NULL"
        " AND (r.closing_date IS NULL OR r.closing_date >= ?3) ORDER BY e.date, e.id",
        (company_id, account_id, closing_date.isoformat()),
    )
    rows.row_factory = None
    return [(BookEntry(row[0], date.fromisoformat(row[1]), *row[2:6]), bool(row[6])) for row in rows]


def uncleared(db: Connection, company_id: int, account_id: int) -> list[BookEntry]:
    """Entries of an account that no reconciliation has cleared, by date."""
    rows = db.execute(
        "SELECT e.* FROM book_entry e WHERE e.company_id = ? AND e.bank_account_id = ? AND e.deleted_at IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM clearing c WHERE c.book_entry_id = e.id AND c.active = 1) ORDER BY e.date, e.id",
        (company_id, account_id),
    )
    return [_entry(row) for row in rows]


def balance(db: Connection, company_id: int, account_id: int, on: date) -> int:
    """Σ entries up to and including a day, minor units, without the starting balance."""
    total: int = db.execute(
        "SELECT coalesce(sum(amount), 0) FROM book_entry"
        " WHERE company_id = ? AND bank_account_id = ? AND deleted_at IS NULL AND date <= ?",
        (company_id, account_id, on.isoformat()),
    ).fetchone()[0]
    return total


def book_without(db: Connection, company_id: int, account_id: int, on: date, known: Iterable[int]) -> list[StoredEntry]:
    """The entries up to and including a day that are not among some known ones, oldest first."""
    rows = db.execute(
        "SELECT e.*, u.name AS creator FROM book_entry e JOIN user u ON u.id = e.created_by WHERE e.company_id = ?1"
        " AND e.bank_account_id = ?2 AND e.deleted_at IS NULL AND e.date <= ?3"
        " AND e.id NOT IN (SELECT value FROM json_each(?4)) ORDER BY e.date, e.id",
        (company_id, account_id, on.isoformat(), json.dumps(list(known))),
    )
    return [_stored(row) for row in rows]


def movements(db: Connection, company_id: int, account_id: int, after: date, until: date) -> tuple[Side, Side]:
    """Money in and out of the book over the days after `after` up to and including `until`."""
    row = db.execute(
        "SELECT coalesce(sum(amount) FILTER (WHERE amount > 0), 0), count(*) FILTER (WHERE amount > 0),"
        " coalesce(sum(amount) FILTER (WHERE amount < 0), 0), count(*) FILTER (WHERE amount < 0) FROM book_entry"
        " WHERE company_id = ? AND bank_account_id = ? AND deleted_at IS NULL AND date > ? AND date <= ?",
        (company_id, account_id, after.isoformat(), until.isoformat()),
    ).fetchone()
    return Side(row[0], row[1]), Side(row[2], row[3])


def months(db: Connection, company_id: int, account_id: int) -> dict[str, int]:
    """The number of entries in each month that has any, months as YYYY-MM."""
    rows = db.execute(
        "SELECT substr(date, 1, 7) AS month, count(*) FROM book_entry"
        " WHERE company_id = ? AND bank_account_id = ? AND deleted_at IS NULL AND origin <> 'starting' GROUP BY month",
        (company_id, account_id),
    )
    return {row[0]: row[1] for row in rows}
