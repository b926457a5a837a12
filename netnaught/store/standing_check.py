"""Rows against what was sealed of them, for `verify`: each deviation as (table, row, what)."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from operator import itemgetter
from typing import Any

from netnaught.store.database import Connection

Content = dict[str, Any]


def statements_against(db: Connection, company_id: int, content: Content) -> Iterable[tuple[str, int, str]]:
    """Statement lines, heads and original files that are not as sealed."""
    sealed = {line["id"]: line for line in content["lines"]}
    rows = db.execute(
        "SELECT l.id, l.date, l.amount, l.reference, l.description, l.bank_id, l.deleted_at FROM statement_line l"
        " WHERE l.company_id = ?1 AND l.id IN (SELECT value FROM json_each(?2))",
        (company_id, json.dumps(list(sealed))),
    )
    seen: set[int] = set()
    for row in rows:
        seen.add(row["id"])
        was = sealed[row["id"]]
        for name in ("date", "reference", "description", "bank_id"):
            if row[name] != was[name]:
                yield "statement_line", row["id"], f"its {name} is not as it was sealed"
        if str(row["amount"]) != was["amount"]:
            yield "statement_line", row["id"], "its amount is not as it was sealed"
        if row["deleted_at"]:
            yield "statement_line", row["id"], "it was deleted"
    for gone in sealed.keys() - seen:
        yield "statement_line", gone, "it is gone"
    for head in content["statements"]:
        yield from _head(db, company_id, head)


def _head(db: Connection, company_id: int, was: Content) -> Iterable[tuple[str, int, str]]:
    row = db.execute(
        "SELECT s.*, f.id AS file, f.sha256, f.content FROM statement s LEFT JOIN statement_file f ON f.id = s.file_id"
        " WHERE s.company_id = ? AND s.id = ?",
        (company_id, was["id"]),
    ).fetchone()
    if row is None:
        yield "statement", was["id"], "it is gone"
        return
    now = {
        "start": row["start_date"],
        "end": row["end_date"],
        "opening": None if row["opening"] is None else str(row["opening"]),
        "closing": None if row["closing"] is None else str(row["closing"]),
    }
    for name, value in now.items():
        if value != was[name]:
            yield "statement", was["id"], f"its {name} is not as it was sealed"
    if row["sha256"] != was["file_sha256"]:
        yield "statement_file", row["file"] or 0, "it is not the file that was sealed"
    elif row["content"] is not None and hashlib.sha256(row["content"]).hexdigest() != was["file_sha256"]:
        yield "statement_file", row["file"], "its content is not what was sealed"


_DECISION = itemgetter("id", "kind", "why", "pass", "made_at")
_DECISIONS = "SELECT id, kind, why, pass, created_at FROM decision WHERE company_id = ?1 AND "


def decisions_against(
    db: Connection, company_id: int, reconciliation_id: int, content: Content
) -> Iterable[tuple[int, str]]:
    """Decisions in force or withdrawn since whose kind, reason or time is not as sealed: (row, what)."""
    now = db.execute(_DECISIONS + "reconciliation_id = ?2 AND active = 1", (company_id, reconciliation_id))
    now.row_factory = None
    left = set(map(_DECISION, content["decisions"])).difference(now)
    withdrawn = db.execute(
        _DECISIONS + "reconciliation_id = ?2 AND id IN (SELECT value FROM json_each(?3))",
        (company_id, reconciliation_id, json.dumps([was[0] for was in left])),
    )
    rows = {row[0]: tuple(row) for row in withdrawn}
    for was in sorted(left, key=itemgetter(0)):
        if was[0] not in rows:
            yield was[0], "it is gone"
        elif rows[was[0]] != was:
            yield was[0], "its kind, reason or time is not as it was sealed"


def ledger_against_book(db: Connection, company_id: int) -> Iterable[tuple[str, int, str]]:
    """Posted journals out of balance; bank book entries that say otherwise than their line of the ledger."""
    rows = db.execute(
        "SELECT j.id FROM journal_entry j JOIN journal_line l ON l.journal_entry_id = j.id WHERE j.company_id = ?"
        " AND j.posted = 1 GROUP BY j.id HAVING sum(l.base_amount) <> 0",
        (company_id,),
    )
    for row in rows:
        yield "journal_entry", row[0], "it is posted out of balance"
    rows = db.execute(
        "SELECT e.id, l.id AS line, e.amount <> l.amount AS amount, j.date <> e.date AS day,"
        " a.gl_account_id <> l.gl_account_id AS account, (e.deleted_at IS NULL) <> (j.deleted_at IS NULL) AS gone"
        " FROM book_entry e JOIN journal_line l ON l.id = e.journal_line_id JOIN journal_entry j"
        " ON j.id = l.journal_entry_id JOIN bank_account a ON a.id = e.bank_account_id WHERE e.company_id = ?"
        " AND (e.amount <> l.amount OR j.date <> e.date OR a.gl_account_id <> l.gl_account_id"
        "  OR (e.deleted_at IS NULL) <> (j.deleted_at IS NULL))",
        (company_id,),
    )
    for row in rows:
        names = {"amount": "amount", "day": "date", "account": "account", "gone": "standing"}
        what = next(text for column, text in names.items() if row[column])
        yield "journal_line", row["line"], f"its {what} is not that of bank book entry {row['id']}"
