"""How statement lines were recorded before: the text of the line, and where it went in the books."""

from __future__ import annotations

from dataclasses import dataclass

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
        " ORDER BY l.date DESC, l.id DESC",
        (company_id, account_id),
    )
    return [Recorded(*row) for row in rows]
