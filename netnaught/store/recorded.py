"""How statement lines were recorded before: the text of the line, and where it went in the books."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.core.statement import LineKind, StatementLine
from netnaught.store.database import Connection


@dataclass(frozen=True, slots=True)
class Recorded:
    """One line that was recorded from the statement, and its other account."""

    description: str
    account_id: int
    account_name: str
    payee: str


def recorded_lines(db: Connection, company_id: int, account_id: int) -> list[Recorded]:
    """All of an account's recorded lines, newest first."""
    rows = db.execute(
        "SELECT l.description, a.id, a.name, e.payee FROM book_entry e"
        " JOIN clearing c ON c.book_entry_id = e.id AND c.active = 1"
        " JOIN resolution x ON x.decision_id = c.decision_id AND x.active = 1"
        " JOIN statement_line l ON l.id = x.statement_line_id"
        " JOIN journal_line own ON own.id = e.journal_line_id"
        " JOIN journal_line other ON other.journal_entry_id = own.journal_entry_id AND other.id <> own.id"
        " JOIN gl_account a ON a.id = other.gl_account_id"
        " WHERE e.company_id = ? AND e.bank_account_id = ? AND e.origin = 'recorded' AND e.deleted_at IS NULL"
        " AND (SELECT count(*) FROM journal_line n WHERE n.journal_entry_id = own.journal_entry_id) = 2"
        " ORDER BY l.date DESC, l.id DESC",
        (company_id, account_id),
    )
    return [Recorded(*row) for row in rows]


@dataclass(frozen=True, slots=True)
class PastLine:
    """A line of any account, and the account it was recorded to; None and "" where it was not recorded from it."""

    line: StatementLine
    bank_account_id: int
    account_id: int | None
    account_name: str


def lines_with_accounts(db: Connection, company_id: int) -> list[PastLine]:
    """All statement lines of a company, newest first, with the account that those recorded from them went to."""
    rows = db.execute(
        "SELECT l.id, l.date, l.amount, l.reference, l.description, l.kind, l.bank_account_id, a.id, a.name"
        " FROM statement_line l"
        " LEFT JOIN resolution x ON x.statement_line_id = l.id AND x.active = 1"
        " LEFT JOIN clearing c ON c.decision_id = x.decision_id AND c.active = 1"
        " LEFT JOIN book_entry e ON e.id = c.book_entry_id AND e.origin = 'recorded' AND e.deleted_at IS NULL"
        " LEFT JOIN journal_line own ON own.id = e.journal_line_id"
        " LEFT JOIN journal_line other ON other.journal_entry_id = own.journal_entry_id AND other.id <> own.id"
        " LEFT JOIN gl_account a ON a.id = other.gl_account_id"
        " WHERE l.company_id = ? GROUP BY l.id ORDER BY l.date DESC, l.id DESC LIMIT 20000",
        (company_id,),
    )
    return [
        PastLine(
            StatementLine(r[0], date.fromisoformat(r[1]), r[2], r[3], r[4], LineKind(r[5])), r[6], r[7], r[8] or ""
        )
        for r in rows
    ]
