"""Layouts kept per bank account, columns pointed out, and the names that banks give to accounts."""

from __future__ import annotations

import json
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from netnaught.store.database import Connection


def layouts(db: Connection, company_id: int, account_id: int) -> list[dict[str, Any]]:
    """The layouts of an account, newest first, as their stored values."""
    rows = db.execute(
        "SELECT content FROM layout WHERE company_id = ? AND bank_account_id = ? ORDER BY id DESC",
        (company_id, account_id),
    )
    return [json.loads(row["content"]) for row in rows]


def keep_layout(
    db: Connection, company_id: int, account_id: int, values: dict[str, Any], user_id: int, now: str
) -> None:
    """Keep a layout; one of the same heading is replaced."""
    heading = json.dumps([" ".join(str(cell).lower().split()) for cell in values["heading"]], ensure_ascii=False)
    db.execute(
        "INSERT INTO layout (company_id, bank_account_id, heading, content, created_by, created_at)"
        " VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (bank_account_id, heading) DO UPDATE SET content = excluded.content,"
        " created_by = excluded.created_by, created_at = excluded.created_at",
        (company_id, account_id, heading, json.dumps(values, ensure_ascii=False), user_id, now),
    )


def aliases(db: Connection, company_id: int) -> dict[str, int]:
    """Bank account ids by the number that a bank gives them, as people have said."""
    rows = db.execute("SELECT number, bank_account_id FROM account_alias WHERE company_id = ?", (company_id,))
    return {row["number"]: row["bank_account_id"] for row in rows}


def remember_alias(db: Connection, company_id: int, number: str, account_id: int) -> None:
    """From now on that number is this account."""
    db.execute(
        "INSERT INTO account_alias (company_id, bank_account_id, number) VALUES (?, ?, ?)"
        " ON CONFLICT (company_id, number) DO UPDATE SET bank_account_id = excluded.bank_account_id",
        (company_id, account_id, number),
    )


class TableKind(StrEnum):
    """What a table of books kept elsewhere holds."""

    BOOK = "book"
    CHART = "chart"
    DETAIL = "detail"


@dataclass(frozen=True, slots=True)
class TableAt:
    """A kind of table of a company; `account_id`: whose bank book it is, None for the others."""

    company_id: int
    kind: TableKind
    account_id: int | None = None


def told_columns(db: Connection, at: TableAt, heading: str) -> str | None:
    """How the columns of a table with this heading were pointed out, as JSON; None when they never were."""
    row = db.execute(
        "SELECT content FROM told_columns WHERE company_id = ? AND kind = ? AND bank_account_id IS ? AND heading = ?",
        (at.company_id, at.kind, at.account_id, heading),
    ).fetchone()
    return row[0] if row else None


def keep_told_columns(db: Connection, at: TableAt, heading: str, content: str) -> None:
    """Remember how the columns of a table were pointed out."""
    db.execute(
        "INSERT INTO told_columns (company_id, kind, bank_account_id, heading, content) VALUES (?, ?, ?, ?, ?)"
        " ON CONFLICT (company_id, kind, coalesce(bank_account_id, 0), heading) DO UPDATE SET content = excluded.content",
        (at.company_id, at.kind, at.account_id, heading, content),
    )
