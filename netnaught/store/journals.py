"""The journal as a list: entries of the general ledger with their lines and where they came from."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from netnaught.store.database import Connection, Row
from netnaught.store.ledger import PostedLine, lines_of_journals


@dataclass(frozen=True, slots=True)
class StoredJournal:
    """A journal entry. `entry_id`: the bank book entry that made it, None for a general one.

    `opening`: it is the opening balance of a bank account; `made_here`: it was exported from here.
    """

    id: int
    date: date
    memo: str
    lines: tuple[PostedLine, ...]
    entry_id: int | None
    bank_account_id: int | None
    opening: bool
    made_by: str
    external_id: str | None = None
    made_here: bool = False
    deleted: bool = False

    def written(self) -> dict[str, object]:
        """As the audit trail keeps it."""
        lines = [[line.account.id, line.amount] for line in self.lines]
        return {"date": self.date.isoformat(), "memo": self.memo, "lines": lines}


_SELECT = (
    "SELECT j.id, j.date, j.memo, j.external_id, j.deleted_at, u.name AS maker, e.id AS entry_id, e.bank_account_id,"
    " EXISTS (SELECT 1 FROM account_start s WHERE s.journal_entry_id = j.id) AS opening,"
    " EXISTS (SELECT 1 FROM exported_journal x WHERE x.journal_entry_id = j.id) AS made_here"
    " FROM journal_entry j JOIN user u ON u.id = j.created_by"
    " LEFT JOIN book_entry e ON e.journal_line_id = (SELECT min(l.id) FROM journal_line l WHERE l.journal_entry_id = j.id)"
    " WHERE j.company_id = ? AND j.posted = 1"
)
_STANDING = f"{_SELECT} AND j.deleted_at IS NULL"


def _journals(db: Connection, company_id: int, rows: Sequence[Row]) -> list[StoredJournal]:
    """Rows with their lines, in two queries however many there are."""
    lines = lines_of_journals(db, company_id, [row["id"] for row in rows])
    return [
        StoredJournal(
            row["id"],
            date.fromisoformat(row["date"]),
            row["memo"],
            tuple(lines.get(row["id"], [])),
            row["entry_id"],
            row["bank_account_id"],
            bool(row["opening"]),
            row["maker"],
            row["external_id"],
            bool(row["made_here"]),
            row["deleted_at"] is not None,
        )
        for row in rows
    ]


def journals(db: Connection, company_id: int, start: date, end: date) -> list[StoredJournal]:
    """The entries of some days, both included, oldest first."""
    days = (company_id, start.isoformat(), end.isoformat())
    rows = db.execute(f"{_STANDING} AND j.date BETWEEN ? AND ? ORDER BY j.date, j.id", days).fetchall()
    return _journals(db, company_id, rows)


def journal(db: Connection, company_id: int, journal_id: int) -> StoredJournal | None:
    """One entry that stands."""
    rows = db.execute(f"{_STANDING} AND j.id = ?", (company_id, journal_id)).fetchall()
    return next(iter(_journals(db, company_id, rows)), None)


def some(db: Connection, company_id: int, ids: Iterable[int]) -> list[StoredJournal]:
    """Some entries, deleted ones too, oldest first."""
    sql = f"{_SELECT} AND j.id IN (SELECT value FROM json_each(?)) ORDER BY j.date, j.id"
    return _journals(db, company_id, db.execute(sql, (company_id, json.dumps(list(ids)))).fetchall())


def known_elsewhere(db: Connection, company_id: int) -> list[StoredJournal]:
    """Entries that books kept elsewhere have: those with an id from there, deleted ones too, and those exported to them."""
    rows = db.execute(
        f"{_SELECT} AND (j.external_id IS NOT NULL OR (j.deleted_at IS NULL"
        " AND j.id IN (SELECT journal_entry_id FROM exported_journal))) ORDER BY j.date, j.id",
        (company_id,),
    ).fetchall()
    return _journals(db, company_id, rows)


def adopt(db: Connection, company_id: int, journal_id: int, external_id: str) -> None:
    """An entry is known under this id elsewhere."""
    db.execute(
        "UPDATE journal_entry SET external_id = ? WHERE company_id = ? AND id = ?",
        (external_id, company_id, journal_id),
    )
