"""Connections of bank accounts to their banks' services."""

from __future__ import annotations

from dataclasses import dataclass

from netnaught.store.database import Connection


@dataclass(frozen=True, slots=True)
class BankConnection:
    """Where an account's bank is asked, what it calls the account, and since when new lines are asked for."""

    bank_account_id: int
    address: str
    remote_id: str
    mark: str
    fetched_at: str | None


def connection_of(db: Connection, company_id: int, account_id: int) -> BankConnection | None:
    """The connection of an account, if it has one."""
    row = db.execute(
        "SELECT bank_account_id, address, remote_id, mark, fetched_at FROM connection"
        " WHERE company_id = ? AND bank_account_id = ?",
        (company_id, account_id),
    ).fetchone()
    return BankConnection(*tuple(row)) if row else None


def connect_account(
    db: Connection, company_id: int, account_id: int, address: str, remote_id: str, user_id: int, now: str
) -> None:
    """Connect an account, or connect it elsewhere."""
    db.execute(
        "INSERT INTO connection (bank_account_id, company_id, address, remote_id, created_by, created_at)"
        " VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (bank_account_id) DO UPDATE SET address = excluded.address,"
        " remote_id = excluded.remote_id, mark = ''",
        (account_id, company_id, address, remote_id, user_id, now),
    )


def set_mark(db: Connection, company_id: int, account_id: int, mark: str, now: str) -> None:
    """Remember up to where the bank has been asked."""
    db.execute(
        "UPDATE connection SET mark = ?, fetched_at = ? WHERE company_id = ? AND bank_account_id = ?",
        (mark, now, company_id, account_id),
    )


def disconnect(db: Connection, company_id: int, account_id: int) -> None:
    """Forget a connection; what was fetched stays."""
    db.execute("DELETE FROM connection WHERE company_id = ? AND bank_account_id = ?", (company_id, account_id))
