"""What people have taught an account: readers, composed passes, and what their own matches tell of names and lags."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from netnaught.store.database import Connection


@dataclass(frozen=True, slots=True)
class StoredReader:
    """A reader as its stored values, and who taught it."""

    id: int
    values: dict[str, Any]
    created_by: str
    created_at: str


@dataclass(frozen=True, slots=True)
class StoredComposed:
    """A composed pass as its stored values, on or off."""

    active: bool
    values: dict[str, Any]


@dataclass(frozen=True, slots=True)
class HandMatch:
    """A line and the payee of the entry that a person matched it with."""

    description: str
    payee: str
    made_by: str


def readers(db: Connection, company_id: int, account_id: int) -> list[StoredReader]:
    """The readers of an account in the order in which they were taught."""
    rows = db.execute(
        "SELECT r.id, r.content, u.name, r.created_at FROM reader r JOIN user u ON u.id = r.created_by"
        " WHERE r.company_id = ? AND r.bank_account_id = ? AND r.removed_at IS NULL ORDER BY r.id",
        (company_id, account_id),
    )
    return [StoredReader(row[0], json.loads(row[1]), row[2], row[3]) for row in rows]


def add_reader(
    db: Connection, company_id: int, account_id: int, values: dict[str, Any], user_id: int, now: str
) -> int | None:
    """Keep a reader; None where the account has it already."""
    cursor = db.execute(
        "INSERT INTO reader (company_id, bank_account_id, content, created_by, created_at) VALUES (?, ?, ?, ?, ?)"
        " ON CONFLICT DO NOTHING",
        (company_id, account_id, json.dumps(values, ensure_ascii=False, sort_keys=True), user_id, now),
    )
    return cursor.lastrowid if cursor.rowcount else None


def remove_reader(db: Connection, company_id: int, account_id: int, reader_id: int, now: str) -> bool:
    """Take a reader away; False where the account has no such one."""
    cursor = db.execute(
        "UPDATE reader SET removed_at = ? WHERE company_id = ? AND bank_account_id = ? AND id = ?"
        " AND removed_at IS NULL",
        (now, company_id, account_id, reader_id),
    )
    return cursor.rowcount == 1


def composed_passes(db: Connection, company_id: int, account_id: int) -> list[StoredComposed]:
    """The passes that people composed for an account, in their order."""
    rows = db.execute(
        "SELECT active, content FROM composed_pass WHERE company_id = ? AND bank_account_id = ? ORDER BY place",
        (company_id, account_id),
    )
    return [StoredComposed(bool(row[0]), json.loads(row[1])) for row in rows]


def write_composed(db: Connection, company_id: int, account_id: int, composed: Sequence[StoredComposed]) -> None:
    """Set the composed passes of an account anew."""
    db.execute("DELETE FROM composed_pass WHERE company_id = ? AND bank_account_id = ?", (company_id, account_id))
    db.executemany(
        "INSERT INTO composed_pass (company_id, bank_account_id, place, active, content) VALUES (?, ?, ?, ?, ?)",
        (
            (company_id, account_id, place, int(item.active), json.dumps(item.values, ensure_ascii=False))
            for place, item in enumerate(composed, 1)
        ),
    )


def hand_matches(db: Connection, company_id: int, account_id: int) -> list[HandMatch]:
    """Lines that people matched with one entry of the books that was there before, newest first."""
    rows = db.execute(
        "SELECT l.description, e.payee, u.name FROM decision d"
        " JOIN user u ON u.id = d.created_by"
        " JOIN resolution x ON x.decision_id = d.id"
        " JOIN statement_line l ON l.id = x.statement_line_id"
        " JOIN clearing c ON c.decision_id = d.id"
        " JOIN book_entry e ON e.id = c.book_entry_id"
        " WHERE d.company_id = ? AND e.bank_account_id = ? AND d.active = 1 AND d.kind = 'match' AND d.pass IS NULL"
        " AND d.created_by IS NOT NULL AND e.origin <> 'recorded' AND e.payee <> ''"
        " ORDER BY d.id DESC LIMIT 5000",
        (company_id, account_id),
    )
    return [HandMatch(*row) for row in rows]


def names_set_aside(db: Connection, company_id: int, account_id: int) -> set[str]:
    """Keys of the names that are not to be used."""
    rows = db.execute(
        "SELECT name_key FROM name_set_aside WHERE company_id = ? AND bank_account_id = ?", (company_id, account_id)
    )
    return {row[0] for row in rows}


def set_name_aside(db: Connection, company_id: int, account_id: int, key: str, user_id: int, now: str) -> None:
    """Do not use a name again."""
    db.execute(
        "INSERT INTO name_set_aside (company_id, bank_account_id, name_key, created_by, created_at)"
        " VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
        (company_id, account_id, key, user_id, now),
    )


def sealed_lags(db: Connection, company_id: int, account_id: int) -> list[tuple[int, bool]]:
    """Bank date − book date in days of what cleared one to one in sealed periods, newest first; whether a check."""
    rows = db.execute(
        "SELECT CAST(julianday(l.date) - julianday(e.date) AS INTEGER), l.kind = 'check' FROM reconciliation r"
        " JOIN decision d ON d.reconciliation_id = r.id AND d.active = 1 AND d.kind = 'match'"
        " JOIN resolution x ON x.decision_id = d.id"
        " JOIN statement_line l ON l.id = x.statement_line_id"
        " JOIN clearing c ON c.decision_id = d.id"
        " JOIN book_entry e ON e.id = c.book_entry_id"
        " WHERE r.company_id = ? AND r.bank_account_id = ? AND r.state = 'sealed'"
        " GROUP BY d.id HAVING count(*) = 1 ORDER BY d.id DESC LIMIT 2000",
        (company_id, account_id),
    )
    return [(row[0], bool(row[1])) for row in rows]


def reversal_words(db: Connection, company_id: int, account_id: int) -> list[tuple[str, str]]:
    """(side, word) of every word that an account takes for a reversal, by side and word."""
    rows = db.execute(
        "SELECT side, word FROM reversal_word WHERE company_id = ? AND bank_account_id = ? ORDER BY side, word",
        (company_id, account_id),
    )
    return [(row[0], row[1]) for row in rows]


def write_reversal_words(db: Connection, company_id: int, account_id: int, words: Sequence[tuple[str, str]]) -> None:
    """Set an account's words of reversal anew."""
    db.execute("DELETE FROM reversal_word WHERE company_id = ? AND bank_account_id = ?", (company_id, account_id))
    db.executemany(
        "INSERT OR IGNORE INTO reversal_word (company_id, bank_account_id, side, word) VALUES (?, ?, ?, ?)",
        ((company_id, account_id, side, word) for side, word in words),
    )
