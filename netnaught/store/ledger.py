"""Chart of accounts and journal. The database itself refuses an unbalanced posting."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from netnaught.core.clearing import Posting
from netnaught.core.ledger import AccountKind, JournalEntry, JournalLine
from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class GlAccount:
    """An account of the chart of accounts. `closed`: nothing more is posted to it."""

    id: int
    number: str
    name: str
    kind: AccountKind
    closed: bool = False


@dataclass(frozen=True, slots=True)
class PostedLine:
    """A line of a posted journal entry, with its account. `amount`: minor units, positive = debit of the books."""

    id: int
    account: GlAccount
    amount: int
    base_amount: int
    memo: str
    tax_code_id: int | None = None
    department_id: int | None = None
    tags: tuple[str, ...] = ()


def _account(row: Row) -> GlAccount:
    return GlAccount(row["id"], row["number"], row["name"], AccountKind(row["kind"]), bool(row["closed"]))


def add_gl_account(db: Connection, company_id: int, number: str, name: str, kind: AccountKind) -> GlAccount:
    """A new account; sqlite3.IntegrityError when the number is taken."""
    sql = "INSERT INTO gl_account (company_id, number, name, kind) VALUES (?, ?, ?, ?) RETURNING *"
    return _account(db.execute(sql, (company_id, number, name, kind)).fetchone())


def gl_accounts(db: Connection, company_id: int) -> list[GlAccount]:
    """The chart of accounts, by number."""
    rows = db.execute("SELECT * FROM gl_account WHERE company_id = ? ORDER BY number", (company_id,))
    return [_account(row) for row in rows]


def set_closed(db: Connection, company_id: int, account_id: int, closed: bool) -> None:
    """Close an account for further postings, or open it again."""
    db.execute(
        "UPDATE gl_account SET closed = ? WHERE company_id = ? AND id = ?", (int(closed), company_id, account_id)
    )


def gl_account(db: Connection, company_id: int, account_id: int) -> GlAccount | None:
    """One account of the company."""
    row = db.execute("SELECT * FROM gl_account WHERE company_id = ? AND id = ?", (company_id, account_id)).fetchone()
    return _account(row) if row else None


def post_journal(
    db: Connection, company_id: int, journal: JournalEntry, user_id: int, now: str, external_id: str | None = None
) -> tuple[int, list[int]]:
    """Write and post a journal entry: (its id, the ids of its lines in order)."""
    entry_id: int = db.execute(
        "INSERT INTO journal_entry (company_id, date, memo, created_by, created_at, external_id)"
        " VALUES (?, ?, ?, ?, ?, ?) RETURNING id",
        (company_id, journal.date.isoformat(), journal.memo, user_id, now, external_id),
    ).fetchone()[0]
    line_ids = [_add_line(db, company_id, entry_id, line) for line in journal.lines]
    db.execute("UPDATE journal_entry SET posted = 1 WHERE id = ?", (entry_id,))
    return entry_id, line_ids


def _add_line(db: Connection, company_id: int, entry_id: int, line: JournalLine) -> int:
    found: int = db.execute(
        "INSERT INTO journal_line (company_id, journal_entry_id, gl_account_id, amount, base_amount, memo, tax_code_id,"
        " department_id, tags) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            *(company_id, entry_id, line.gl_account_id, line.amount, line.base_amount, line.memo),
            *(line.tax_code_id, line.department_id, " ".join(line.tags)),
        ),
    ).fetchone()[0]
    return found


def rewrite_journal(db: Connection, company_id: int, entry_id: int, journal: JournalEntry) -> None:
    """Give a posted journal entry new date, memo and line values; lines that stay keep their identity."""
    db.execute(
        "UPDATE journal_entry SET posted = 0, date = ?, memo = ? WHERE company_id = ? AND id = ?",
        (journal.date.isoformat(), journal.memo, company_id, entry_id),
    )
    ids = [r[0] for r in db.execute("SELECT id FROM journal_line WHERE journal_entry_id = ? ORDER BY id", (entry_id,))]
    for line_id, line in zip(ids, journal.lines, strict=False):
        db.execute(
            "UPDATE journal_line SET gl_account_id = ?, amount = ?, base_amount = ?, memo = ?, tax_code_id = ?,"
            " department_id = ?, tags = ? WHERE id = ?",
            (
                *(line.gl_account_id, line.amount, line.base_amount, line.memo),
                *(line.tax_code_id, line.department_id, " ".join(line.tags), line_id),
            ),
        )
    for line in journal.lines[len(ids) :]:
        _add_line(db, company_id, entry_id, line)
    for line_id in ids[len(journal.lines) :]:
        db.execute("DELETE FROM journal_line WHERE id = ?", (line_id,))
    db.execute("UPDATE journal_entry SET posted = 1 WHERE id = ?", (entry_id,))


def set_journal_deleted(db: Connection, company_id: int, entry_id: int, deleted_at: str | None) -> None:
    """Delete a journal entry softly, or bring it back."""
    db.execute(
        "UPDATE journal_entry SET deleted_at = ? WHERE company_id = ? AND id = ?", (deleted_at, company_id, entry_id)
    )


def journal_of_line(db: Connection, company_id: int, journal_line_id: int) -> int:
    """The journal entry that a line belongs to."""
    sql = "SELECT journal_entry_id FROM journal_line WHERE company_id = ? AND id = ?"
    found: int = db.execute(sql, (company_id, journal_line_id)).fetchone()[0]
    return found


def journal_lines(db: Connection, company_id: int, entry_id: int) -> list[PostedLine]:
    """The lines of a journal entry, in order."""
    return lines_of_journals(db, company_id, [entry_id]).get(entry_id, [])


def lines_of_journals(db: Connection, company_id: int, entry_ids: Iterable[int]) -> dict[int, list[PostedLine]]:
    """The lines of journal entries, in order, by entry: one query for all."""
    rows = db.execute(
        "SELECT a.*, l.id AS line_id, l.journal_entry_id, l.amount, l.base_amount, l.memo, l.tax_code_id, l.department_id,"
        " l.tags FROM journal_line l JOIN gl_account a ON a.id = l.gl_account_id WHERE l.company_id = ?"
        " AND l.journal_entry_id IN (SELECT value FROM json_each(?)) ORDER BY l.id",
        (company_id, json.dumps(list(entry_ids))),
    )
    found: dict[int, list[PostedLine]] = {}
    for row in rows:
        found.setdefault(row["journal_entry_id"], []).append(
            PostedLine(
                row["line_id"],
                _account(row),
                row["amount"],
                row["base_amount"],
                row["memo"],
                row["tax_code_id"],
                row["department_id"],
                tuple(row["tags"].split()),
            )
        )
    return found


def trial_balance(db: Connection, company_id: int, on: date) -> list[tuple[GlAccount, int]]:
    """Every account with its balance at the end of a day in the company's currency; they sum to zero."""
    rows = db.execute(
        "SELECT a.*, coalesce((SELECT sum(l.base_amount) FROM journal_line l JOIN journal_entry j"
        " ON j.id = l.journal_entry_id WHERE l.gl_account_id = a.id AND j.posted = 1 AND j.deleted_at IS NULL"
        " AND j.date <= ?), 0) AS balance FROM gl_account a WHERE a.company_id = ? ORDER BY a.number",
        (on.isoformat(), company_id),
    )
    return [(_account(row), row["balance"]) for row in rows]


@dataclass(frozen=True, slots=True)
class LineAt:
    """A journal line: its account, the date of its entry, and whether a bank book entry is linked to it."""

    gl_account_id: int
    date: date
    journal_entry_id: int
    linked: bool


def line_at(db: Connection, company_id: int, line_id: int) -> LineAt | None:
    """A line of a posted entry that stands; None where there is none."""
    row = db.execute(
        "SELECT l.gl_account_id, j.date, j.id, EXISTS (SELECT 1 FROM book_entry e WHERE e.journal_line_id = l.id)"
        " FROM journal_line l JOIN journal_entry j ON j.id = l.journal_entry_id"
        " WHERE l.company_id = ? AND l.id = ? AND j.posted = 1 AND j.deleted_at IS NULL",
        (company_id, line_id),
    ).fetchone()
    return LineAt(row[0], date.fromisoformat(row[1]), row[2], bool(row[3])) if row else None


def move_line(db: Connection, company_id: int, line_id: int, journal_entry_id: int, account_id: int) -> None:
    """Post a journal line to another account; everything else of the entry stays."""
    db.execute("UPDATE journal_entry SET posted = 0 WHERE company_id = ? AND id = ?", (company_id, journal_entry_id))
    db.execute(
        "UPDATE journal_line SET gl_account_id = ? WHERE company_id = ? AND id = ?", (account_id, company_id, line_id)
    )
    db.execute("UPDATE journal_entry SET posted = 1 WHERE company_id = ? AND id = ?", (company_id, journal_entry_id))


def has_postings(db: Connection, company_id: int, account_id: int) -> bool:
    """Whether anything has ever been posted to an account: otherwise its ledger is kept elsewhere."""
    sql = "SELECT EXISTS (SELECT 1 FROM journal_line WHERE company_id = ? AND gl_account_id = ?)"
    return bool(db.execute(sql, (company_id, account_id)).fetchone()[0])


def postings(db: Connection, company_id: int, account_id: int, on: date) -> list[Posting]:
    """The lines of an account up to a day, oldest first, with party and reference of the bank entries behind them."""
    rows = db.execute(
        "SELECT l.id, j.date, l.amount, coalesce(e.payee, ''), coalesce(e.reference, ''), l.memo, j.memo"
        " FROM journal_line l JOIN journal_entry j ON j.id = l.journal_entry_id"
        " LEFT JOIN journal_line own ON own.journal_entry_id = j.id AND own.id IN"
        "  (SELECT journal_line_id FROM book_entry WHERE company_id = ?1)"
        " LEFT JOIN book_entry e ON e.journal_line_id = own.id"
        " WHERE l.company_id = ?1 AND l.gl_account_id = ?2 AND j.posted = 1 AND j.deleted_at IS NULL AND j.date <= ?3"
        " GROUP BY l.id ORDER BY j.date, l.id",
        (company_id, account_id, on.isoformat()),
    )
    return [Posting(r[0], date.fromisoformat(r[1]), r[2], r[3] or r[5] or r[6], r[4]) for r in rows]


def gl_balance(db: Connection, company_id: int, account_id: int, on: date) -> int:
    """Balance of an account at the end of a day, in the account's currency, minor units."""
    total: int = db.execute(
        "SELECT coalesce(sum(l.amount), 0) FROM journal_line l JOIN journal_entry e ON e.id = l.journal_entry_id"
        " WHERE l.company_id = ? AND l.gl_account_id = ? AND e.posted = 1 AND e.deleted_at IS NULL AND e.date <= ?",
        (company_id, account_id, on.isoformat()),
    ).fetchone()[0]
    return total
