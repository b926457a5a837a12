"""Statements as stored: heads, lines, and the original files byte for byte."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from netnaught.core.statement import (
    ControlTotals,
    Delivered,
    LineKind,
    Side,
    StatementHead,
    StatementLine,
)
from netnaught.store.database import Connection, Row

# Statements whose lines nobody typed: entries are ticked.
ON_PAPER = frozenset({"typed", "counted"})
# Lines of the running month from the bank's service, until its statement is there.
FEED = "feed"


@dataclass(frozen=True, slots=True)
class StoredStatement:
    """A statement: its head, what it delivered, and where it belongs."""

    id: int
    bank_account_id: int
    reconciliation_id: int
    format: str
    head: StatementHead
    delivered: Delivered
    file_id: int | None
    file_name: str | None
    file_sha256: str | None
    created_by: str
    created_at: str


@dataclass(frozen=True, slots=True)
class StoredLine:
    """A stored statement line, the bank's id for it, and its place in the statement."""

    line: StatementLine
    id: int
    statement_id: int
    position: int
    bank_id: str | None


@dataclass(frozen=True, slots=True)
class StatementFile:
    """An original file."""

    id: int
    name: str
    sha256: str
    content: bytes


_SELECT = (
    "SELECT s.*, f.name AS file_name, f.sha256 AS file_sha256, u.name AS creator FROM statement s"
    " LEFT JOIN statement_file f ON f.id = s.file_id JOIN user u ON u.id = s.created_by"
)


def _statement(row: Row) -> StoredStatement:
    totals = ControlTotals(row["total_in"], row["total_out"], row["count_in"], row["count_out"])
    head = StatementHead(
        date.fromisoformat(row["start_date"]),
        date.fromisoformat(row["end_date"]),
        row["opening"],
        row["closing"],
        totals,
        bool(row["dates_stated"]),
    )
    lines = Delivered(
        Side(row["delivered_in"], row["delivered_count_in"]),
        Side(row["delivered_out"], row["delivered_count_out"]),
        listed=row["format"] not in ON_PAPER,
    )
    return StoredStatement(
        row["id"],
        row["bank_account_id"],
        row["reconciliation_id"],
        row["format"],
        head,
        lines,
        row["file_id"],
        row["file_name"],
        row["file_sha256"],
        row["creator"],
        row["created_at"],
    )


_KINDS = {kind.value: kind for kind in LineKind}


_LINE = (
    "l.id, l.statement_id, l.position, l.date, l.value_date, l.amount, l.reference, l.description, l.kind, l.bank_id"
)


def _value_date(text: str | None) -> date | None:
    return date.fromisoformat(text) if text else None


def _line(row: Row) -> StoredLine:
    line = StatementLine(
        row["id"],
        date.fromisoformat(row["date"]),
        row["amount"],
        row["reference"],
        row["description"],
        _KINDS[row["kind"]],
        _value_date(row["value_date"]),
    )
    return StoredLine(line, row["id"], row["statement_id"], row["position"], row["bank_id"])


def add_file(db: Connection, company_id: int, name: str, sha256: str, content: bytes, now: str) -> int:
    """Keep an original file; the same bytes are kept once."""
    known = db.execute(
        "SELECT id FROM statement_file WHERE company_id = ? AND sha256 = ?", (company_id, sha256)
    ).fetchone()
    if known:
        return int(known[0])
    sql = (
        "INSERT INTO statement_file (company_id, name, sha256, content, created_at) VALUES (?, ?, ?, ?, ?) RETURNING id"
    )
    return int(db.execute(sql, (company_id, name, sha256, content, now)).fetchone()[0])


def statement_file(db: Connection, company_id: int, statement_id: int) -> StatementFile | None:
    """The original file of a statement."""
    row = db.execute(
        "SELECT f.* FROM statement s JOIN statement_file f ON f.id = s.file_id"
        " WHERE s.company_id = ? AND s.id = ? AND s.deleted_at IS NULL",
        (company_id, statement_id),
    ).fetchone()
    return StatementFile(row["id"], row["name"], row["sha256"], row["content"]) if row else None


def add_statement(
    db: Connection,
    company_id: int,
    account_id: int,
    reconciliation_id: int,
    *,
    head: StatementHead,
    lines: Delivered,
    form: str,
    file_id: int | None,
    user_id: int,
    now: str,
) -> int:
    """Store a statement's head; its lines follow with `add_lines`."""
    totals = head.totals
    row = db.execute(
        "INSERT INTO statement (company_id, bank_account_id, reconciliation_id, file_id, format, start_date, end_date,"
        " dates_stated, opening, closing, total_in, total_out, count_in, count_out, delivered_total, delivered_in,"
        " delivered_out, delivered_count_in, delivered_count_out, created_by, created_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            *(company_id, account_id, reconciliation_id, file_id, form),
            *(head.start.isoformat(), head.end.isoformat(), int(head.dates_stated), head.opening, head.closing),
            *(totals.total_in, totals.total_out, totals.count_in, totals.count_out),
            *(lines.total, lines.came_in.total, lines.went_out.total, lines.came_in.lines, lines.went_out.lines),
            *(user_id, now),
        ),
    ).fetchone()
    return int(row[0])


def write_head(db: Connection, company_id: int, statement_id: int, head: StatementHead) -> None:
    """Correct the head of a statement."""
    totals = head.totals
    db.execute(
        "UPDATE statement SET start_date = ?, end_date = ?, dates_stated = ?, opening = ?, closing = ?, total_in = ?,"
        " total_out = ?, count_in = ?, count_out = ? WHERE company_id = ? AND id = ?",
        (
            *(head.start.isoformat(), head.end.isoformat(), int(head.dates_stated), head.opening, head.closing),
            *(totals.total_in, totals.total_out, totals.count_in, totals.count_out, company_id, statement_id),
        ),
    )


def add_lines(
    db: Connection,
    company_id: int,
    account_id: int,
    statement_id: int,
    lines: Iterable[tuple[int, StatementLine, str | None]],
) -> None:
    """Store lines given as (position in the file, values, the bank's id)."""
    db.executemany(
        "INSERT INTO statement_line (company_id, bank_account_id, statement_id, position, bank_id, date, value_date,"
        " amount, reference, description, kind) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            (
                *(company_id, account_id, statement_id, position, bank_id, line.date.isoformat()),
                *(line.value_date.isoformat() if line.value_date else None, line.amount),
                *(line.reference, line.description, line.kind),
            )
            for position, line, bank_id in lines
        ),
    )


def statements(db: Connection, company_id: int, account_id: int) -> list[StoredStatement]:
    """All statements of an account, by period."""
    rows = db.execute(
        f"{_SELECT} WHERE s.company_id = ? AND s.bank_account_id = ? AND s.deleted_at IS NULL"
        " ORDER BY s.start_date, s.end_date, s.id",
        (company_id, account_id),
    )
    return [_statement(row) for row in rows]


def statement(db: Connection, company_id: int, statement_id: int) -> StoredStatement | None:
    """One statement."""
    row = db.execute(
        f"{_SELECT} WHERE s.company_id = ? AND s.id = ? AND s.deleted_at IS NULL", (company_id, statement_id)
    ).fetchone()
    return _statement(row) if row else None


def statements_of(db: Connection, company_id: int, reconciliation_id: int) -> list[StoredStatement]:
    """The statements a reconciliation covers, by period."""
    rows = db.execute(
        f"{_SELECT} WHERE s.company_id = ? AND s.reconciliation_id = ? AND s.deleted_at IS NULL"
        " ORDER BY s.start_date, s.end_date, s.id",
        (company_id, reconciliation_id),
    )
    return [_statement(row) for row in rows]


def lines_of(db: Connection, company_id: int, reconciliation_id: int) -> list[StoredLine]:
    """The lines of all statements a reconciliation covers, by date, then place."""
    rows = db.execute(
        f"SELECT {_LINE} FROM statement s JOIN statement_line l ON l.statement_id = s.id AND l.deleted_at IS NULL"
        " WHERE s.company_id = ? AND s.reconciliation_id = ? AND s.deleted_at IS NULL"
        " ORDER BY l.date, s.start_date, l.position",
        (company_id, reconciliation_id),
    )
    rows.row_factory = None
    return [
        StoredLine(
            StatementLine(
                ident, date.fromisoformat(day), amount, reference, description, _KINDS[kind], _value_date(value_date)
            ),
            *(ident, statement, position, bank_id),
        )
        for ident, statement, position, day, value_date, amount, reference, description, kind, bank_id in rows
    ]


def lines_between(db: Connection, company_id: int, account_id: int, start: date, end: date) -> list[StoredLine]:
    """All stored lines of an account over some days, both included."""
    rows = db.execute(
        "SELECT * FROM statement_line WHERE company_id = ? AND bank_account_id = ? AND deleted_at IS NULL"
        " AND date BETWEEN ? AND ? ORDER BY date, id",
        (company_id, account_id, start.isoformat(), end.isoformat()),
    )
    return [_line(row) for row in rows]


def line_by_bank_id(db: Connection, company_id: int, account_id: int, bank_id: str) -> StoredLine | None:
    """The stored line that the bank calls by that id."""
    row = db.execute(
        "SELECT * FROM statement_line WHERE company_id = ? AND bank_account_id = ? AND bank_id = ? AND deleted_at IS NULL",
        (company_id, account_id, bank_id),
    ).fetchone()
    return _line(row) if row else None


def stored_line(db: Connection, company_id: int, line_id: int) -> StoredLine | None:
    """One line."""
    row = db.execute(
        "SELECT * FROM statement_line WHERE company_id = ? AND id = ? AND deleted_at IS NULL", (company_id, line_id)
    ).fetchone()
    return _line(row) if row else None


def set_withdrawn(db: Connection, company_id: int, statement_id: int, at: str) -> None:
    """Take a statement and its lines out, softly."""
    db.execute("UPDATE statement SET deleted_at = ? WHERE company_id = ? AND id = ?", (at, company_id, statement_id))
    db.execute(
        "UPDATE statement_line SET deleted_at = ? WHERE company_id = ? AND statement_id = ?",
        (at, company_id, statement_id),
    )
