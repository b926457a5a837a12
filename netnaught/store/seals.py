"""Seals and the papers produced with them."""

from __future__ import annotations

from dataclasses import dataclass

from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class Seal:
    """A seal as stored. `opening`, `closing`: minor units; `made`: sealed, sealed again or chained again."""

    id: int
    company_id: int
    bank_account_id: int
    reconciliation_id: int
    number: int
    opening: int
    closing: int
    content: bytes
    previous: str
    sha256: str
    sealed_by: str
    sealed_at: str
    made: str = "sealed"
    replaces_id: int | None = None


@dataclass(frozen=True, slots=True)
class Paper:
    """A sealed paper, unchanged since it was produced."""

    seal_id: int
    kind: str
    content: bytes
    sha256: str


_SELECT = "SELECT s.*, u.name AS sealer FROM seal s JOIN user u ON u.id = s.sealed_by"


def _seal(row: Row) -> Seal:
    return Seal(
        row["id"],
        row["company_id"],
        row["bank_account_id"],
        row["reconciliation_id"],
        row["number"],
        row["opening"],
        row["closing"],
        bytes(row["content"]),
        row["previous"],
        row["sha256"],
        row["sealer"],
        row["sealed_at"],
        row["made"],
        row["replaces_id"],
    )


def add_seal(
    db: Connection,
    company_id: int,
    account_id: int,
    reconciliation_id: int,
    *,
    number: int,
    opening: int,
    closing: int,
    content: bytes,
    previous: str,
    sha256: str,
    user_id: int,
    now: str,
    made: str = "sealed",
    replaces_id: int | None = None,
) -> int:
    """Store a seal at the end of its account's chain."""
    row = db.execute(
        "INSERT INTO seal (company_id, bank_account_id, reconciliation_id, number, opening, closing, content, previous,"
        " sha256, made, replaces_id, sealed_by, sealed_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            *(company_id, account_id, reconciliation_id, number, opening, closing, content, previous),
            *(sha256, made, replaces_id, user_id, now),
        ),
    ).fetchone()
    return int(row[0])


def seals(db: Connection, company_id: int, account_id: int) -> list[Seal]:
    """The chain of an account, in order."""
    rows = db.execute(
        f"{_SELECT} WHERE s.company_id = ? AND s.bank_account_id = ? ORDER BY s.number", (company_id, account_id)
    )
    return [_seal(row) for row in rows]


def holding(db: Connection, company_id: int, account_id: int) -> list[Seal]:
    """The seals that hold, by closing date: of each sealed reconciliation the newest."""
    rows = db.execute(
        f"{_SELECT} JOIN reconciliation r ON r.id = s.reconciliation_id AND r.state = 'sealed'"
        " WHERE s.company_id = ? AND s.bank_account_id = ? AND s.number ="
        "  (SELECT max(n.number) FROM seal n WHERE n.reconciliation_id = s.reconciliation_id) ORDER BY r.closing_date",
        (company_id, account_id),
    )
    return [_seal(row) for row in rows]


def seals_of(db: Connection, company_id: int, reconciliation_id: int) -> list[Seal]:
    """All seals a reconciliation has had, newest first."""
    rows = db.execute(
        f"{_SELECT} WHERE s.company_id = ? AND s.reconciliation_id = ? ORDER BY s.number DESC",
        (company_id, reconciliation_id),
    )
    return [_seal(row) for row in rows]


def seal_of(db: Connection, company_id: int, reconciliation_id: int) -> Seal | None:
    """The newest seal of a reconciliation."""
    return next(iter(seals_of(db, company_id, reconciliation_id)), None)


def add_paper(db: Connection, company_id: int, seal_id: int, kind: str, content: bytes, sha256: str) -> None:
    """Keep a paper with its seal."""
    db.execute(
        "INSERT INTO paper (company_id, seal_id, kind, content, sha256) VALUES (?, ?, ?, ?, ?)",
        (company_id, seal_id, kind, content, sha256),
    )


def papers(db: Connection, company_id: int, seal_id: int) -> list[Paper]:
    """The papers of a seal."""
    rows = db.execute("SELECT * FROM paper WHERE company_id = ? AND seal_id = ? ORDER BY id", (company_id, seal_id))
    return [Paper(row["seal_id"], row["kind"], bytes(row["content"]), row["sha256"]) for row in rows]
