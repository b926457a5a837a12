"""Bank, card and cash accounts, each tied to its control account in the general ledger."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import BankAccountKind
from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class BankAccount:
    """What is reconciled. `starting_balance`: the statement's at the starting date, minor units."""

    id: int
    company_id: int
    gl_account_id: int
    gl_number: str
    name: str
    bank: str
    number: str
    kind: BankAccountKind
    currency: str
    starting_date: date
    starting_balance: int


_SELECT = "SELECT b.*, g.number AS gl_number FROM bank_account b JOIN gl_account g ON g.id = b.gl_account_id"


def _account(row: Row) -> BankAccount:
    return BankAccount(
        row["id"],
        row["company_id"],
        row["gl_account_id"],
        row["gl_number"],
        row["name"],
        row["bank"],
        row["number"],
        BankAccountKind(row["kind"]),
        row["currency"],
        date.fromisoformat(row["starting_date"]),
        row["starting_balance"],
    )


def add_bank_account(
    db: Connection,
    company_id: int,
    *,
    gl_account_id: int,
    name: str,
    bank: str,
    number: str,
    kind: BankAccountKind,
    currency: str,
    starting_date: date,
    starting_balance: int,
) -> BankAccount:
    """A new account; sqlite3.IntegrityError when its control account is already taken."""
    found: int = db.execute(
        "INSERT INTO bank_account (company_id, gl_account_id, name, bank, number, kind, currency, starting_date,"
        " starting_balance) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (company_id, gl_account_id, name, bank, number, kind, currency, starting_date.isoformat(), starting_balance),
    ).fetchone()[0]
    row = db.execute(f"{_SELECT} WHERE b.id = ?", (found,)).fetchone()
    return _account(row)


def bank_accounts(db: Connection, company_id: int) -> list[BankAccount]:
    """All accounts of a company, in the order they were set up."""
    return [_account(row) for row in db.execute(f"{_SELECT} WHERE b.company_id = ? ORDER BY b.id", (company_id,))]


def bank_account(db: Connection, company_id: int, account_id: int) -> BankAccount | None:
    """One account of the company."""
    row = db.execute(f"{_SELECT} WHERE b.company_id = ? AND b.id = ?", (company_id, account_id)).fetchone()
    return _account(row) if row else None


@dataclass(frozen=True, slots=True)
class Opening:
    """Against which account an opening balance is posted, and its journal entry (None while it is zero)."""

    equity_account_id: int
    journal_entry_id: int | None


def opening_of(db: Connection, company_id: int, account_id: int) -> Opening | None:
    """The opening balance's posting; None where the ledger is kept elsewhere."""
    row = db.execute(
        "SELECT equity_account_id, journal_entry_id FROM account_start WHERE company_id = ? AND bank_account_id = ?",
        (company_id, account_id),
    ).fetchone()
    return Opening(*tuple(row)) if row else None


def set_opening(
    db: Connection, company_id: int, account_id: int, equity_account_id: int, journal_id: int | None
) -> None:
    """Remember the posting of an opening balance."""
    db.execute(
        "INSERT INTO account_start (bank_account_id, company_id, equity_account_id, journal_entry_id) VALUES (?, ?, ?, ?)"
        " ON CONFLICT (bank_account_id) DO UPDATE SET equity_account_id = excluded.equity_account_id,"
        " journal_entry_id = excluded.journal_entry_id",
        (account_id, company_id, equity_account_id, journal_id),
    )


def forget_opening(db: Connection, company_id: int, account_id: int) -> None:
    """The ledger of this account is kept elsewhere."""
    db.execute("DELETE FROM account_start WHERE company_id = ? AND bank_account_id = ?", (company_id, account_id))


def set_start(db: Connection, company_id: int, account_id: int, on: date, balance: int) -> None:
    """Another starting date and balance."""
    db.execute(
        "UPDATE bank_account SET starting_date = ?, starting_balance = ? WHERE company_id = ? AND id = ?",
        (on.isoformat(), balance, company_id, account_id),
    )
