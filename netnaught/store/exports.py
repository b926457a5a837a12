"""Journals exported to books kept elsewhere, in batches."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.store.database import Connection


@dataclass(frozen=True, slots=True)
class Batch:
    """An export: its period, how many journals it holds, who made it and when."""

    id: int
    start: date
    end: date
    journals: int
    made_by: str
    made_at: str


@dataclass(frozen=True, slots=True)
class ExportLine:
    """A line of an exported journal. `amount`: minor units of the base currency, positive = debit."""

    journal_id: int
    date: str
    account: str
    account_name: str
    amount: int
    memo: str
    payee: str
    reference: str
    tax: str
    department: str
    tags: str


def add_batch(db: Connection, company_id: int, start: date, end: date, user_id: int, now: str) -> tuple[int, int]:
    """A batch of what was recorded or typed here in a period, general entries too, and is not exported yet.

    Returns its id and how many journals it holds.
    """
    batch: int = db.execute(
        "INSERT INTO export_batch (company_id, start_date, end_date, created_by, created_at) VALUES (?, ?, ?, ?, ?)"
        " RETURNING id",
        (company_id, start.isoformat(), end.isoformat(), user_id, now),
    ).fetchone()[0]
    cursor = db.execute(
        "INSERT INTO exported_journal (company_id, journal_entry_id, batch_id)"
        " SELECT j.company_id, j.id, ?1 FROM journal_entry j"
        " WHERE j.company_id = ?2 AND j.posted = 1 AND j.deleted_at IS NULL AND j.date BETWEEN ?3 AND ?4"
        " AND j.external_id IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM account_start s WHERE s.journal_entry_id = j.id)"
        " AND NOT EXISTS (SELECT 1 FROM journal_line l JOIN book_entry e ON e.journal_line_id = l.id"
        "  WHERE l.journal_entry_id = j.id AND (e.origin NOT IN ('recorded', 'typed') OR e.deleted_at IS NOT NULL))"
        " AND NOT EXISTS (SELECT 1 FROM exported_journal x WHERE x.journal_entry_id = j.id)",
        (batch, company_id, start.isoformat(), end.isoformat()),
    )
    return batch, cursor.rowcount


def batches(db: Connection, company_id: int) -> list[Batch]:
    """All exports, newest first."""
    rows = db.execute(
        "SELECT b.id, b.start_date, b.end_date, count(x.journal_entry_id), u.name, b.created_at FROM export_batch b"
        " JOIN user u ON u.id = b.created_by LEFT JOIN exported_journal x ON x.batch_id = b.id"
        " WHERE b.company_id = ? GROUP BY b.id ORDER BY b.id DESC",
        (company_id,),
    )
    return [Batch(r[0], date.fromisoformat(r[1]), date.fromisoformat(r[2]), r[3], r[4], r[5]) for r in rows]


def lines(db: Connection, company_id: int, batch_id: int) -> list[ExportLine]:
    """The lines of a batch's journals as they stand now, journal by journal."""
    rows = db.execute(
        "SELECT j.id, j.date, a.number, a.name, l.base_amount, l.memo, coalesce(e.payee, ''), coalesce(e.reference, ''),"
        " coalesce(t.code, ''), coalesce(d.name, ''), l.tags FROM exported_journal x"
        " JOIN journal_entry j ON j.id = x.journal_entry_id AND j.deleted_at IS NULL"
        " JOIN journal_line l ON l.journal_entry_id = j.id JOIN gl_account a ON a.id = l.gl_account_id"
        " LEFT JOIN tax_code t ON t.id = l.tax_code_id LEFT JOIN department d ON d.id = l.department_id"
        " LEFT JOIN book_entry e ON e.journal_line_id ="
        "  (SELECT o.id FROM journal_line o JOIN book_entry b ON b.journal_line_id = o.id"
        "   WHERE o.journal_entry_id = j.id LIMIT 1)"
        " WHERE x.company_id = ? AND x.batch_id = ? ORDER BY j.date, j.id, l.id",
        (company_id, batch_id),
    )
    return [ExportLine(*row) for row in rows]
