"""Notes of a review, on a reconciliation or on one of its items."""

from __future__ import annotations

from dataclasses import dataclass

from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class ReviewNote:
    """A note: about a line, an entry, or (neither) the whole. `closed_at`: None while it is open."""

    id: int
    reconciliation_id: int
    line_id: int | None
    entry_id: int | None
    text: str
    person: str
    at: str
    closed_by: str
    closed_at: str | None


_SELECT = (
    "SELECT n.*, u.name AS person, coalesce(c.name, '') AS closer FROM review_note n JOIN user u ON u.id = n.created_by"
    " LEFT JOIN user c ON c.id = n.closed_by WHERE n.company_id = ?"
)


def _note(row: Row) -> ReviewNote:
    return ReviewNote(
        row["id"],
        row["reconciliation_id"],
        row["statement_line_id"],
        row["book_entry_id"],
        row["text"],
        row["person"],
        row["created_at"],
        row["closer"],
        row["closed_at"],
    )


def notes(db: Connection, company_id: int, reconciliation_id: int) -> list[ReviewNote]:
    """The notes of a reconciliation, oldest first."""
    rows = db.execute(f"{_SELECT} AND n.reconciliation_id = ? ORDER BY n.id", (company_id, reconciliation_id))
    return [_note(row) for row in rows]


def note(db: Connection, company_id: int, note_id: int) -> ReviewNote | None:
    """One note."""
    row = db.execute(f"{_SELECT} AND n.id = ?", (company_id, note_id)).fetchone()
    return _note(row) if row else None


def add_note(
    db: Connection,
    company_id: int,
    reconciliation_id: int,
    item: tuple[int | None, int | None],
    text: str,
    user_id: int,
    now: str,
) -> int:
    """A new note; `item`: (line, entry)."""
    found: int = db.execute(
        "INSERT INTO review_note (company_id, reconciliation_id, statement_line_id, book_entry_id, text, created_by,"
        " created_at) VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (company_id, reconciliation_id, *item, text, user_id, now),
    ).fetchone()[0]
    return found


def close_note(db: Connection, company_id: int, note_id: int, user_id: int, now: str) -> None:
    """A note is dealt with."""
    db.execute(
        "UPDATE review_note SET closed_by = ?, closed_at = ? WHERE company_id = ? AND id = ?",
        (user_id, now, company_id, note_id),
    )
