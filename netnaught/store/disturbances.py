"""What may have been disturbed in sealed periods, how it stands now, and what was accepted."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from netnaught.core.seal import Acceptance, Item, Present, SealedEntry
from netnaught.store.database import Connection, Row


def touched(db: Connection, company_id: int, account_id: int) -> set[Item]:
    """Items that were touched since they were written: only these can be findings of the account's seals."""
    entries = db.execute(
        "SELECT id FROM book_entry WHERE company_id = ?1 AND bank_account_id = ?2 AND revision > 1"
        " UNION SELECT book_entry_id FROM entry_move WHERE company_id = ?1 AND from_account_id = ?2"
        " UNION SELECT c.book_entry_id FROM reconciliation r JOIN decision d ON d.reconciliation_id = r.id"
        "  JOIN clearing c ON c.decision_id = d.id WHERE r.company_id = ?1 AND r.bank_account_id = ?2"
        f"  AND r.state = 'sealed' AND (c.active = 0 OR {_SINCE})",
        (company_id, account_id),
    )
    lines = db.execute(
        "SELECT x.statement_line_id FROM reconciliation r JOIN decision d ON d.reconciliation_id = r.id"
        "  JOIN resolution x ON x.decision_id = d.id WHERE r.company_id = ?1 AND r.bank_account_id = ?2"
        "  AND r.state = 'sealed' AND d.kind IN ('bank error', 'bank correction')"
        f"  AND (x.active = 0 OR {_SINCE})",
        (company_id, account_id),
    )
    return {Item(False, row[0]) for row in entries} | {Item(True, row[0]) for row in lines}


_SINCE = "d.created_at >= (SELECT min(s.sealed_at) FROM seal s WHERE s.reconciliation_id = r.id)"


# An entry with the values a seal keeps of it: id, date, amount (minor units, as text), reference, payee, memo.
EntryRow = tuple[int, str, str, str, str, str]

_VALUES = "e.id, e.date, CAST(e.amount AS TEXT), e.reference, e.payee, e.memo"


def counting(db: Connection, company_id: int, account_id: int, reconciliation_id: int) -> Iterator[EntryRow]:
    """The entries of an account that count in a reconciliation now, for `verify`: no mark of a change is trusted."""
    rows = db.execute(
        f"SELECT {_VALUES} FROM decision d CROSS JOIN clearing c ON c.decision_id = d.id AND c.active = 1"
        " CROSS JOIN book_entry e ON e.id = c.book_entry_id"
        " WHERE d.reconciliation_id = ?3 AND d.active = 1 AND e.company_id = ?1 AND e.bank_account_id = ?2"
        " AND e.deleted_at IS NULL",
        (company_id, account_id, reconciliation_id),
    )
    rows.row_factory = None
    return rows


def not_counting(
    db: Connection, company_id: int, account_id: int, reconciliation_id: int, ids: Iterable[int]
) -> Iterator[EntryRow]:
    """Those of some entries that stand on an account and do not count in a reconciliation."""
    rows = db.execute(
        f"SELECT {_VALUES} FROM json_each(?4) j CROSS JOIN book_entry e ON e.id = j.value"
        " LEFT JOIN clearing c ON c.book_entry_id = e.id AND c.active = 1"
        " LEFT JOIN decision d ON d.id = c.decision_id AND d.active = 1"
        " WHERE e.company_id = ?1 AND e.bank_account_id = ?2 AND e.deleted_at IS NULL"
        " AND d.reconciliation_id IS NOT ?3",
        (company_id, account_id, reconciliation_id, json.dumps(list(ids))),
    )
    rows.row_factory = None
    return rows


def all_lines(db: Connection, company_id: int, account_id: int) -> set[Item]:
    """The lines of an account that ever counted on the bank side alone."""
    rows = db.execute(
        "SELECT DISTINCT x.statement_line_id FROM resolution x JOIN decision d ON d.id = x.decision_id"
        " JOIN reconciliation r ON r.id = d.reconciliation_id WHERE x.company_id = ? AND r.bank_account_id = ?"
        " AND d.kind IN ('bank error', 'bank correction')",
        (company_id, account_id),
    )
    return {Item(True, row[0]) for row in rows}


def present(db: Connection, company_id: int, items: Iterable[Item]) -> dict[Item, Present]:
    """How items stand now; those without a row are missing."""
    wanted = list(items)
    return {
        **_present_entries(db, company_id, [item.id for item in wanted if not item.is_line]),
        **_present_lines(db, company_id, [item.id for item in wanted if item.is_line]),
    }


def _present_entries(db: Connection, company_id: int, ids: list[int]) -> dict[Item, Present]:
    rows = db.execute(
        "SELECT e.id, e.date, e.amount, e.reference, e.payee, e.memo, e.bank_account_id, e.deleted_at,"
        " (SELECT d.reconciliation_id FROM clearing c JOIN decision d ON d.id = c.decision_id AND d.active = 1"
        "  WHERE c.book_entry_id = e.id AND c.active = 1) AS counts_in"
        " FROM book_entry e WHERE e.company_id = ?1 AND e.id IN (SELECT value FROM json_each(?2))",
        (company_id, json.dumps(ids)),
    )
    return {Item(False, row["id"]): _present(row) for row in rows}


def _present_lines(db: Connection, company_id: int, ids: list[int]) -> dict[Item, Present]:
    rows = db.execute(
        "SELECT l.id, l.date, l.amount, l.reference, l.description AS payee, '' AS memo, l.bank_account_id, l.deleted_at,"
        " (SELECT d.reconciliation_id FROM resolution x JOIN decision d ON d.id = x.decision_id AND d.active = 1"
        "  AND d.kind IN ('bank error', 'bank correction') WHERE x.statement_line_id = l.id AND x.active = 1) AS counts_in"
        " FROM statement_line l WHERE l.company_id = ?1 AND l.id IN (SELECT value FROM json_each(?2))",
        (company_id, json.dumps(ids)),
    )
    return {Item(True, row["id"]): _present(row) for row in rows}


def _present(row: Row) -> Present:
    values = SealedEntry(row["id"], row["date"], row["amount"], row["reference"], row["payee"], row["memo"])
    return Present(values, row["bank_account_id"], row["deleted_at"] is not None, row["counts_in"])


# Acceptances --------------------------------------------------------------------------------------


def acceptances(db: Connection, company_id: int, reconciliation_id: int) -> dict[int, Acceptance]:
    """The acceptances of a sealed period, by the entry they are about."""
    rows = db.execute(
        "SELECT a.*, u.name AS person,"
        " (SELECT coalesce(sum(e.amount), 0) FROM book_entry e JOIN clearing c ON c.book_entry_id = e.id AND c.active = 1"
        "  JOIN decision d ON d.id = c.decision_id AND d.active = 1 AND d.reconciliation_id = a.reconciliation_id"
        "  JOIN reconciliation r ON r.id = d.reconciliation_id AND r.bank_account_id = e.bank_account_id"
        "  WHERE e.id = a.by_entry_id AND e.deleted_at IS NULL) AS counted"
        " FROM acceptance a JOIN user u ON u.id = a.created_by"
        " WHERE a.company_id = ? AND a.reconciliation_id = ? AND a.withdrawn_at IS NULL",
        (company_id, reconciliation_id),
    )
    return {
        row["book_entry_id"]: Acceptance(
            row["id"],
            row["by_entry_id"],
            row["counted"],
            _kept(json.loads(row["accepted"])),
            row["reason"],
            row["person"],
            row["created_at"],
        )
        for row in rows
    }


def _kept(values: dict[str, object] | None) -> SealedEntry | None:
    return SealedEntry(**values) if values else None  # type: ignore[arg-type]  # written by add_acceptance


@dataclass(frozen=True, slots=True)
class NewAcceptance:
    """An acceptance about to be stored."""

    reconciliation_id: int
    entry_id: int
    by_entry_id: int | None
    decision_id: int | None
    accepted: SealedEntry | None
    reason: str


def add_acceptance(db: Connection, company_id: int, new: NewAcceptance, user_id: int, now: str) -> int:
    """Keep an acceptance; sqlite3.IntegrityError when the entry has one in that period."""
    kept = None
    if new.accepted is not None:
        a = new.accepted
        kept = {
            "id": a.id,
            "date": a.date,
            "amount": a.amount,
            "reference": a.reference,
            "payee": a.payee,
            "memo": a.memo,
        }
    found: int = db.execute(
        "INSERT INTO acceptance (company_id, reconciliation_id, book_entry_id, by_entry_id, decision_id, accepted, reason,"
        " created_by, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            *(company_id, new.reconciliation_id, new.entry_id, new.by_entry_id, new.decision_id),
            *(json.dumps(kept), new.reason, user_id, now),
        ),
    ).fetchone()[0]
    return found


def set_withdrawn(db: Connection, company_id: int, acceptance_id: int, at: str | None) -> None:
    """Take an acceptance back, or (None) let it stand again."""
    db.execute(
        "UPDATE acceptance SET withdrawn_at = ? WHERE company_id = ? AND id = ?", (at, company_id, acceptance_id)
    )
