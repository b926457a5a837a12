"""Evidence: receipts, images and notes that stay with a line, an entry or a reconciliation."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class Evidence:
    """A piece of evidence without its bytes. `sha256` is None for a note."""

    id: int
    entity: str
    entity_id: int
    name: str
    media_type: str
    sha256: str | None
    note: str
    created_by: str
    created_at: str


_COLUMNS = "e.id, e.entity, e.entity_id, e.name, e.media_type, e.sha256, e.note, u.name AS creator, e.created_at"


def _evidence(row: Row) -> Evidence:
    return Evidence(*tuple(row))


def add_evidence(
    db: Connection,
    company_id: int,
    entity: str,
    entity_id: int,
    *,
    name: str,
    media_type: str,
    sha256: str | None,
    content: bytes | None,
    note: str,
    user_id: int,
    now: str,
) -> int:
    """Keep a file or a note."""
    row = db.execute(
        "INSERT INTO evidence (company_id, entity, entity_id, name, media_type, sha256, content, note, created_by,"
        " created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (company_id, entity, entity_id, name, media_type, sha256, content, note, user_id, now),
    ).fetchone()
    return int(row[0])


def evidence_of(db: Connection, company_id: int, entity: str, entity_ids: Iterable[int]) -> list[Evidence]:
    """What is kept with some lines, entries or reconciliations, oldest first."""
    ids = list(entity_ids)
    marks = ", ".join("?" * len(ids))
    rows = db.execute(
        f"SELECT {_COLUMNS} FROM evidence e JOIN user u ON u.id = e.created_by"
        f" WHERE e.company_id = ? AND e.entity = ? AND e.entity_id IN ({marks}) AND e.deleted_at IS NULL ORDER BY e.id",
        (company_id, entity, *ids),
    )
    return [_evidence(row) for row in rows]


def evidence(db: Connection, company_id: int, evidence_id: int) -> tuple[Evidence, bytes] | None:
    """One piece with its bytes."""
    row = db.execute(
        f"SELECT {_COLUMNS}, e.content FROM evidence e JOIN user u ON u.id = e.created_by"
        " WHERE e.company_id = ? AND e.id = ? AND e.deleted_at IS NULL",
        (company_id, evidence_id),
    ).fetchone()
    return (Evidence(*tuple(row)[:-1]), bytes(row["content"] or b"")) if row else None


def set_aside(db: Connection, company_id: int, evidence_id: int, at: str) -> None:
    """Take a piece out of sight, softly."""
    db.execute("UPDATE evidence SET deleted_at = ? WHERE company_id = ? AND id = ?", (at, company_id, evidence_id))


def with_evidence(db: Connection, company_id: int, entity: str, account_id: int) -> set[int]:
    """Ids of the lines or entries of a bank account that hold any evidence."""
    table = {"line": "statement_line", "entry": "book_entry"}[entity]
    rows = db.execute(
        f"SELECT DISTINCT e.entity_id FROM evidence e JOIN {table} t ON t.id = e.entity_id"
        " WHERE e.company_id = ? AND e.entity = ? AND t.bank_account_id = ? AND e.deleted_at IS NULL",
        (company_id, entity, account_id),
    )
    return {row[0] for row in rows}
