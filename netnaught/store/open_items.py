"""Unpaid invoices and bills, and what entries settle of them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from netnaught.core.settling import ItemKind, OpenItem
from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class StoredItem:
    """An open item, its id in the file it came from, and the account it was posted to."""

    item: OpenItem
    external_id: str
    gl_account_id: int


@dataclass(frozen=True, slots=True)
class Settled:
    """What one entry settled of an item. Minor units."""

    number: str
    party: str
    amount: int
    open: int


_ITEMS = (
    "SELECT i.*, i.amount - coalesce((SELECT sum(s.amount) FROM settlement s JOIN book_entry e ON e.id = s.book_entry_id"
    " WHERE s.open_item_id = i.id AND e.deleted_at IS NULL), 0) AS open FROM open_item i WHERE i.company_id = ?"
)


def _stored(row: Row) -> StoredItem:
    item = OpenItem(
        row["id"],
        ItemKind(row["kind"]),
        row["party"],
        row["number"],
        date.fromisoformat(row["date"]),
        date.fromisoformat(row["due"]),
        row["amount"],
        row["open"],
    )
    return StoredItem(item, row["external_id"], row["gl_account_id"])


def open_items(db: Connection, company_id: int) -> list[StoredItem]:
    """All items with what is still owed, by due date."""
    return [_stored(row) for row in db.execute(f"{_ITEMS} ORDER BY i.due, i.id", (company_id,))]


def add_items(db: Connection, company_id: int, items: Iterable[tuple[str, OpenItem, int]], now: str) -> None:
    """New items: (id in the file, item, account)."""
    db.executemany(
        "INSERT INTO open_item (company_id, external_id, kind, party, number, date, due, amount, gl_account_id,"
        " created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            (
                *(company_id, external, i.kind, i.party, i.number, i.issued.isoformat(), i.due.isoformat()),
                *(i.amount, account, now),
            )
            for external, i, account in items
        ),
    )


def settle(db: Connection, company_id: int, entry_id: int, paid: Iterable[tuple[int, int]]) -> None:
    """An entry settles amounts of items: (item, minor units)."""
    db.executemany(
        "INSERT INTO settlement (company_id, open_item_id, book_entry_id, amount) VALUES (?, ?, ?, ?)",
        ((company_id, item, entry_id, amount) for item, amount in paid),
    )


def settled_by(db: Connection, company_id: int, entry_id: int) -> list[Settled]:
    """What an entry settled, and what is still owed of each item."""
    rows = db.execute(
        f"SELECT x.number, x.party, s.amount, x.open FROM settlement s JOIN ({_ITEMS}) x ON x.id = s.open_item_id"
        " WHERE s.book_entry_id = ? ORDER BY x.due, x.id",
        (company_id, entry_id),
    )
    return [Settled(*row) for row in rows]
