"""Reconciliations and the decisions made in them."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from netnaught.core.reconciliation import Decision, DecisionKind
from netnaught.core.statement import LineKind, StatementLine
from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class Reconciliation:
    """From the last seal to a closing date. `change` goes up with everything done in it.

    `stage`, while it is not sealed: in work, in review (prepared by somebody, frozen) or opened again.
    """

    id: int
    company_id: int
    bank_account_id: int
    closing_date: date
    state: str
    change: int
    stage: str = "in work"
    prepared_by: int | None = None
    prepared_at: str | None = None

    @property
    def sealed(self) -> bool:
        """Whether it is complete."""
        return self.state == "sealed"


@dataclass(frozen=True, slots=True)
class NewDecision:
    """A decision about to be stored. `confidence` in percent, None when made by hand."""

    kind: DecisionKind
    lines: tuple[int, ...]
    entries: tuple[int, ...]
    why: str
    by: str | None = None
    confidence: int | None = None
    settles: int | None = None


@dataclass(frozen=True, slots=True)
class OpenError:
    """A line accepted as the bank's error, which no line has corrected yet."""

    decision_id: int
    line: StatementLine


@dataclass(frozen=True, slots=True)
class StoredDecision:
    """A decision with who made it, when and why."""

    decision: Decision
    id: int
    reconciliation_id: int
    active: bool
    by: str | None
    confidence: int | None
    why: str
    made_by: str
    made_at: str


@dataclass(frozen=True, slots=True)
class SealedCount:
    """What one sealed reconciliation counts today. Minor units."""

    reconciliation_id: int
    closing_date: date
    state: str
    counted: int


def _reconciliation(row: Row) -> Reconciliation:
    return Reconciliation(
        row["id"],
        row["company_id"],
        row["bank_account_id"],
        date.fromisoformat(row["closing_date"]),
        row["state"],
        row["change"],
        row["stage"],
        row["prepared_by"],
        row["prepared_at"],
    )


def add_reconciliation(
    db: Connection, company_id: int, account_id: int, closing_date: date, now: str
) -> Reconciliation:
    """Open a reconciliation to a closing date."""
    row = db.execute(
        "INSERT INTO reconciliation (company_id, bank_account_id, closing_date, state, created_at)"
        " VALUES (?, ?, ?, 'open', ?) RETURNING *",
        (company_id, account_id, closing_date.isoformat(), now),
    ).fetchone()
    return _reconciliation(row)


def reconciliation(db: Connection, company_id: int, reconciliation_id: int) -> Reconciliation | None:
    """One reconciliation of the company."""
    row = db.execute(
        "SELECT * FROM reconciliation WHERE company_id = ? AND id = ?", (company_id, reconciliation_id)
    ).fetchone()
    return _reconciliation(row) if row else None


def reconciliations(db: Connection, company_id: int, account_id: int) -> list[Reconciliation]:
    """All reconciliations of an account, by closing date."""
    rows = db.execute(
        "SELECT * FROM reconciliation WHERE company_id = ? AND bank_account_id = ? ORDER BY closing_date",
        (company_id, account_id),
    )
    return [_reconciliation(row) for row in rows]


def set_closing_date(db: Connection, company_id: int, reconciliation_id: int, closing_date: date) -> None:
    """Move the closing date of an open reconciliation."""
    db.execute(
        "UPDATE reconciliation SET closing_date = ? WHERE company_id = ? AND id = ? AND state = 'open'",
        (closing_date.isoformat(), company_id, reconciliation_id),
    )


def set_sealed(db: Connection, company_id: int, reconciliation_id: int) -> None:
    """Mark a reconciliation as sealed."""
    db.execute(
        "UPDATE reconciliation SET state = 'sealed', stage = 'in work' WHERE company_id = ? AND id = ?",
        (company_id, reconciliation_id),
    )


def set_opened_again(db: Connection, company_id: int, reconciliation_id: int) -> None:
    """A sealed reconciliation is open again."""
    db.execute(
        "UPDATE reconciliation SET state = 'open', stage = 'opened again' WHERE company_id = ? AND id = ?",
        (company_id, reconciliation_id),
    )


def set_prepared(db: Connection, company_id: int, reconciliation_id: int, user_id: int, now: str) -> None:
    """Somebody has prepared a reconciliation: it is in review."""
    db.execute(
        "UPDATE reconciliation SET stage = 'in review', prepared_by = ?, prepared_at = ? WHERE company_id = ? AND id = ?",
        (user_id, now, company_id, reconciliation_id),
    )


def set_returned(db: Connection, company_id: int, reconciliation_id: int, stage: str) -> None:
    """A reconciliation in review goes back to work."""
    db.execute(
        "UPDATE reconciliation SET stage = ?, prepared_by = NULL, prepared_at = NULL WHERE company_id = ? AND id = ?",
        (stage, company_id, reconciliation_id),
    )


def remove_empty(db: Connection, company_id: int, reconciliation_id: int) -> None:
    """Forget an open reconciliation that nothing refers to any more."""
    used = db.execute(
        "SELECT EXISTS (SELECT 1 FROM statement WHERE reconciliation_id = ?1)"
        " OR EXISTS (SELECT 1 FROM decision WHERE reconciliation_id = ?1)"
        " OR EXISTS (SELECT 1 FROM step WHERE reconciliation_id = ?1)",
        (reconciliation_id,),
    ).fetchone()[0]
    if not used:
        db.execute("DELETE FROM reconciliation WHERE company_id = ? AND id = ?", (company_id, reconciliation_id))


def note_change(db: Connection, company_id: int, account_id: int) -> None:
    """Let everyone at work on an account see that something was done."""
    db.execute(
        "UPDATE reconciliation SET change = change + 1 WHERE company_id = ? AND bank_account_id = ?",
        (company_id, account_id),
    )


def note_company_change(db: Connection, company_id: int) -> None:
    """Something that touches every open reconciliation of a company was done."""
    db.execute("UPDATE reconciliation SET change = change + 1 WHERE company_id = ? AND state = 'open'", (company_id,))


def counted_now(db: Connection, company_id: int, account_id: int) -> list[SealedCount]:
    """What each reconciliation of an account counts at today's amounts, by closing date.

    Entries deleted or moved to another account since no longer count.
    """
    rows = db.execute(
        "SELECT r.id, r.closing_date, r.state,"
        " (SELECT coalesce(sum(e.amount), 0) FROM decision d JOIN clearing c ON c.decision_id = d.id AND c.active = 1"
        "  JOIN book_entry e ON e.id = c.book_entry_id AND e.deleted_at IS NULL AND e.bank_account_id = r.bank_account_id"
        "  WHERE d.reconciliation_id = r.id AND d.active = 1)"
        " + (SELECT coalesce(sum(l.amount), 0) FROM decision d"
        "  JOIN resolution x ON x.decision_id = d.id AND x.active = 1 JOIN statement_line l ON l.id = x.statement_line_id"
        "  WHERE d.reconciliation_id = r.id AND d.active = 1 AND d.kind IN ('bank error', 'bank correction')) AS counted"
        " FROM reconciliation r WHERE r.company_id = ? AND r.bank_account_id = ? ORDER BY r.closing_date",
        (company_id, account_id),
    )
    return [
        SealedCount(row["id"], date.fromisoformat(row["closing_date"]), row["state"], row["counted"]) for row in rows
    ]


def cleared_before_dated_after(db: Connection, company_id: int, account_id: int, closing_date: date) -> int:
    """Σ entries cleared in reconciliations before a closing date but dated after it."""
    total: int = db.execute(
        "SELECT coalesce(sum(e.amount), 0) FROM book_entry e JOIN clearing c ON c.book_entry_id = e.id AND c.active = 1"
        " JOIN decision d ON d.id = c.decision_id JOIN reconciliation r ON r.id = d.reconciliation_id"
        " WHERE e.company_id = ?1 AND e.bank_account_id = ?2 AND e.deleted_at IS NULL AND e.date > ?3"
        " AND r.closing_date < ?3",
        (company_id, account_id, closing_date.isoformat()),
    ).fetchone()[0]
    return total


def bank_errors_before(db: Connection, company_id: int, account_id: int, closing_date: date) -> int:
    """Σ lines accepted as bank errors, and their corrections, in reconciliations before a closing date."""
    total: int = db.execute(
        "SELECT coalesce(sum(l.amount), 0) FROM statement_line l JOIN resolution x ON x.statement_line_id = l.id"
        " AND x.active = 1 JOIN decision d ON d.id = x.decision_id JOIN reconciliation r ON r.id = d.reconciliation_id"
        " WHERE l.company_id = ?1 AND l.bank_account_id = ?2 AND r.closing_date < ?3"
        " AND d.kind IN ('bank error', 'bank correction')",
        (company_id, account_id, closing_date.isoformat()),
    ).fetchone()[0]
    return total


def open_errors(db: Connection, company_id: int, account_id: int, closing_date: date) -> list[OpenError]:
    """Bank errors accepted up to a closing date that nothing has corrected yet, oldest first."""
    rows = db.execute(
        "SELECT d.id, l.id, l.date, l.amount, l.reference, l.description, l.kind FROM decision d"
        " JOIN reconciliation r ON r.id = d.reconciliation_id"
        " JOIN resolution x ON x.decision_id = d.id JOIN statement_line l ON l.id = x.statement_line_id"
        " WHERE d.company_id = ?1 AND r.bank_account_id = ?2 AND r.closing_date <= ?3"
        " AND d.active = 1 AND d.kind = 'bank error'"
        " AND NOT EXISTS (SELECT 1 FROM decision c WHERE c.settles_id = d.id AND c.active = 1)"
        " ORDER BY l.date, l.id",
        (company_id, account_id, closing_date.isoformat()),
    )
    return [
        OpenError(row[0], StatementLine(row[1], date.fromisoformat(row[2]), row[3], row[4], row[5], LineKind(row[6])))
        for row in rows
    ]


def settled_by(db: Connection, decision_ids: Iterable[int]) -> int | None:
    """A decision that rests on one of these; None where none does."""
    for decision_id in decision_ids:
        row = db.execute("SELECT id FROM decision WHERE settles_id = ? AND active = 1", (decision_id,)).fetchone()
        if row:
            return int(row[0])
    return None


def add_decisions(
    db: Connection, company_id: int, reconciliation_id: int, new: Sequence[NewDecision], user_id: int, now: str
) -> list[int]:
    """Store decisions; sqlite3.IntegrityError when an item is already decided."""
    first: int = db.execute("SELECT coalesce(max(id), 0) + 1 FROM decision").fetchone()[0]
    ids = list(range(first, first + len(new)))
    db.executemany(
        "INSERT INTO decision (id, company_id, reconciliation_id, kind, pass, confidence, why, settles_id, created_by,"
        " created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            (i, company_id, reconciliation_id, n.kind, n.by, n.confidence, n.why, n.settles, user_id, now)
            for i, n in zip(ids, new, strict=True)
        ),
    )
    db.executemany(
        "INSERT INTO resolution (company_id, decision_id, statement_line_id) VALUES (?, ?, ?)",
        ((company_id, i, line) for i, n in zip(ids, new, strict=True) for line in n.lines),
    )
    db.executemany(
        "INSERT INTO clearing (company_id, decision_id, book_entry_id) VALUES (?, ?, ?)",
        ((company_id, i, entry) for i, n in zip(ids, new, strict=True) for entry in n.entries),
    )
    return ids


def set_active(
    db: Connection, company_id: int, decision_ids: Iterable[int], active: bool, user_id: int, now: str
) -> None:
    """Withdraw decisions or make them again; sqlite3.IntegrityError when an item is decided otherwise by now."""
    for decision_id in decision_ids:
        db.execute(
            "UPDATE decision SET active = ?1, withdrawn_by = iif(?1, NULL, ?2), withdrawn_at = iif(?1, NULL, ?3)"
            " WHERE company_id = ?4 AND id = ?5",
            (int(active), user_id, now, company_id, decision_id),
        )
        for table in ("resolution", "clearing"):
            db.execute(
                f"UPDATE {table} SET active = ? WHERE company_id = ? AND decision_id = ?",
                (int(active), company_id, decision_id),
            )


@dataclass(frozen=True, slots=True)
class EntryDecision:
    """A decision over an entry, in force or withdrawn. `row_active`: whether it still clears this very entry."""

    decision_id: int
    reconciliation_id: int
    closing_date: date
    active: bool
    row_active: bool
    why: str
    by: str
    at: str
    withdrawn_by: str
    withdrawn_at: str | None


def decisions_of_entry(db: Connection, company_id: int, entry_id: int) -> list[EntryDecision]:
    """Every decision that ever cleared an entry, oldest first."""
    rows = db.execute(
        "SELECT d.id, d.reconciliation_id, r.closing_date, d.active, c.active, d.why, u.name, d.created_at,"
        " coalesce(w.name, ''), d.withdrawn_at FROM clearing c JOIN decision d ON d.id = c.decision_id"
        " JOIN reconciliation r ON r.id = d.reconciliation_id JOIN user u ON u.id = d.created_by"
        " LEFT JOIN user w ON w.id = d.withdrawn_by WHERE c.company_id = ? AND c.book_entry_id = ? ORDER BY d.id",
        (company_id, entry_id),
    )
    return [EntryDecision(r[0], r[1], date.fromisoformat(r[2]), bool(r[3]), bool(r[4]), *tuple(r)[5:]) for r in rows]


def decisions_of_line(db: Connection, company_id: int, line_id: int) -> list[tuple[int, int, bool]]:
    """Every decision over a line, oldest first: (decision, reconciliation, in force)."""
    rows = db.execute(
        "SELECT d.id, d.reconciliation_id, d.active FROM resolution x JOIN decision d ON d.id = x.decision_id"
        " WHERE x.company_id = ? AND x.statement_line_id = ? ORDER BY d.id",
        (company_id, line_id),
    )
    return [(row[0], row[1], bool(row[2])) for row in rows]


def set_clears(db: Connection, company_id: int, decision_id: int, entry_id: int, active: bool) -> None:
    """Let a decision clear one of its entries, or no longer; sqlite3.IntegrityError when another one does."""
    db.execute(
        "UPDATE clearing SET active = ? WHERE company_id = ? AND decision_id = ? AND book_entry_id = ?",
        (int(active), company_id, decision_id, entry_id),
    )


_KINDS = {kind.value: kind for kind in DecisionKind}


def _members(db: Connection, where: str, values: tuple[object, ...]) -> dict[int, tuple[list[int], list[int]]]:
    found: dict[int, tuple[list[int], list[int]]] = {}
    sql = "SELECT x.decision_id, x.{0} FROM {1} x JOIN decision d ON d.id = x.decision_id WHERE {2} ORDER BY x.{0}"
    for side, (table, column) in enumerate((("resolution", "statement_line_id"), ("clearing", "book_entry_id"))):
        for decision_id, item in db.execute(sql.format(column, table, where), values):
            found.setdefault(decision_id, ([], []))[side].append(item)
    return found


def _decisions(db: Connection, where: str, values: tuple[object, ...]) -> list[StoredDecision]:
    members = _members(db, where, values)
    rows = db.execute(
        f"SELECT d.*, u.name AS maker FROM decision d JOIN user u ON u.id = d.created_by WHERE {where} ORDER BY d.id",
        values,
    )
    found: list[StoredDecision] = []
    for row in rows:
        lines, entries = members.get(row["id"], ([], []))
        decision = Decision(row["id"], _KINDS[row["kind"]], tuple(lines), tuple(entries))
        found.append(
            StoredDecision(
                decision,
                row["id"],
                row["reconciliation_id"],
                bool(row["active"]),
                row["pass"],
                row["confidence"],
                row["why"],
                row["maker"],
                row["created_at"],
            )
        )
    return found


def decisions(db: Connection, company_id: int, reconciliation_id: int) -> list[StoredDecision]:
    """The decisions in force in a reconciliation."""
    where = "d.company_id = ? AND d.reconciliation_id = ? AND d.active = 1"
    return _decisions(db, where, (company_id, reconciliation_id))


def decision(db: Connection, company_id: int, decision_id: int) -> StoredDecision | None:
    """One decision, in force or withdrawn."""
    found = _decisions(db, "d.company_id = ? AND d.id = ?", (company_id, decision_id))
    return found[0] if found else None


def decision_on(
    db: Connection, company_id: int, *, line: int | None = None, entry: int | None = None
) -> StoredDecision | None:
    """The decision in force over a line or an entry."""
    table, column, item = ("resolution", "statement_line_id", line) if line else ("clearing", "book_entry_id", entry)
    row = db.execute(
        f"SELECT decision_id FROM {table} WHERE company_id = ? AND {column} = ? AND active = 1", (company_id, item)
    ).fetchone()
    return decision(db, company_id, row[0]) if row else None


# Steps ------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Step:
    """One thing a person did, as a list of operations that can be taken back and done again."""

    id: int
    label: str
    operations: list[dict[str, object]]


def add_step(
    db: Connection,
    company_id: int,
    reconciliation_id: int,
    user_id: int,
    label: str,
    operations: list[dict[str, object]],
    now: str,
) -> None:
    """Note a step; steps that were undone before it can no longer be redone."""
    db.execute(
        "UPDATE step SET state = 'dropped' WHERE reconciliation_id = ? AND user_id = ? AND state = 'undone'",
        (reconciliation_id, user_id),
    )
    db.execute(
        "INSERT INTO step (company_id, reconciliation_id, user_id, label, operations, state, at)"
        " VALUES (?, ?, ?, ?, ?, 'done', ?)",
        (company_id, reconciliation_id, user_id, label, json.dumps(operations), now),
    )


def next_step(db: Connection, company_id: int, reconciliation_id: int, user_id: int, state: str) -> Step | None:
    """The step to undo (the last one done) or to redo (the last one undone)."""
    order = "DESC" if state == "done" else "ASC"
    row = db.execute(
        "SELECT * FROM step WHERE company_id = ? AND reconciliation_id = ? AND user_id = ? AND state = ?"
        f" ORDER BY id {order} LIMIT 1",
        (company_id, reconciliation_id, user_id, state),
    ).fetchone()
    return Step(row["id"], row["label"], json.loads(row["operations"])) if row else None


def set_step_state(db: Connection, step_id: int, state: str) -> None:
    """Mark a step as done or undone."""
    db.execute("UPDATE step SET state = ? WHERE id = ?", (state, step_id))


def last_step_like(
    db: Connection, company_id: int, account_id: int, user_id: int, label: str
) -> tuple[int, int, Step] | None:
    """A person's last step done in any reconciliation of an account whose label begins so: (id, reconciliation, step)."""
    row = db.execute(
        "SELECT s.* FROM step s JOIN reconciliation r ON r.id = s.reconciliation_id WHERE s.company_id = ?"
        " AND r.bank_account_id = ? AND s.user_id = ? AND s.state = 'done' AND s.label LIKE ? || '%' ORDER BY s.id DESC"
        " LIMIT 1",
        (company_id, account_id, user_id, label),
    ).fetchone()
    return (
        (row["id"], row["reconciliation_id"], Step(row["id"], row["label"], json.loads(row["operations"])))
        if row
        else None
    )
