"""The audit trail: append-only by trigger, each event hashed over the one before it."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from netnaught.store.database import Connection, Row

FIRST = "0" * 64
Values = dict[str, object]


@dataclass(frozen=True, slots=True)
class AuditEvent:
    """Who did what to which thing, when; what it was before and after."""

    id: int
    company_id: int | None
    user: str
    at: str
    what: str
    entity: str
    entity_id: int | None
    before: Values | None
    after: Values | None
    sha256: str = ""


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which events: of one thing, one person, some days (ISO, both included), one kind; before an event (for paging)."""

    entity: str = ""
    entity_id: int | None = None
    person: str = ""
    what: str = ""
    start: str = ""
    end: str = ""
    before_id: int | None = None


def _digest(previous: str, values: tuple[object, ...]) -> str:
    return hashlib.sha256((previous + json.dumps(values, ensure_ascii=False)).encode()).hexdigest()


def append(
    db: Connection,
    *,
    company_id: int | None,
    user_id: int | None,
    at: str,
    what: str,
    entity: str,
    entity_id: int | None = None,
    before: Values | None = None,
    after: Values | None = None,
) -> None:
    """Add one event to the end of the trail."""
    last = db.execute("SELECT sha256 FROM audit_event ORDER BY id DESC LIMIT 1").fetchone()
    previous = last[0] if last else FIRST
    was = None if before is None else json.dumps(before, ensure_ascii=False)
    now = None if after is None else json.dumps(after, ensure_ascii=False)
    values = (company_id, user_id, at, what, entity, entity_id, was, now)
    db.execute(
        "INSERT INTO audit_event (company_id, user_id, at, what, entity, entity_id, before, after, previous, sha256)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (*values, previous, _digest(previous, values)),
    )


def _event(row: Row) -> AuditEvent:
    return AuditEvent(
        row["id"],
        row["company_id"],
        row["user"] or "",
        row["at"],
        row["what"],
        row["entity"],
        row["entity_id"],
        json.loads(row["before"]) if row["before"] else None,
        json.loads(row["after"]) if row["after"] else None,
        row["sha256"],
    )


def _filters(company_id: int, wanted: Wanted) -> tuple[str, list[object]]:
    """Clause and parameters: events of the company, and of its people signing in or failing to."""
    clause = (
        "(a.company_id = ? OR (a.company_id IS NULL AND a.user_id IN"
        " (SELECT user_id FROM membership WHERE company_id = ?)))"
    )
    values: list[object] = [company_id, company_id]
    for column, value in (
        ("a.entity = ?", wanted.entity),
        ("a.entity_id = ?", wanted.entity_id),
        ("u.name = ?", wanted.person),
        ("a.what = ?", wanted.what),
        ("a.at >= ?", wanted.start),
        ("substr(a.at, 1, 10) <= ?", wanted.end),
        ("a.id < ?", wanted.before_id),
    ):
        if value:
            clause += f" AND {column}"
            values.append(value)
    return clause, values


def events(db: Connection, company_id: int, wanted: Wanted, limit: int | None) -> list[AuditEvent]:
    """The events asked for, newest first; at most `limit`, None: all."""
    clause, values = _filters(company_id, wanted)
    rows = db.execute(
        "SELECT a.*, u.name AS user FROM audit_event a LEFT JOIN user u ON u.id = a.user_id"
        f" WHERE {clause} ORDER BY a.id DESC LIMIT ?",
        (*values, -1 if limit is None else limit),
    )
    return [_event(row) for row in rows]


def kinds(db: Connection, company_id: int) -> list[str]:
    """The kinds of event that occur in a company."""
    rows = db.execute("SELECT DISTINCT what FROM audit_event WHERE company_id = ? ORDER BY what", (company_id,))
    return [row[0] for row in rows]


def people(db: Connection, company_id: int) -> list[str]:
    """The people who did something in a company."""
    rows = db.execute(
        "SELECT DISTINCT u.name FROM audit_event a JOIN user u ON u.id = a.user_id WHERE a.company_id = ? ORDER BY u.name",
        (company_id,),
    )
    return [row[0] for row in rows]


def events_of_many(db: Connection, company_id: int, entity: str, ids: Iterable[int]) -> dict[int, list[AuditEvent]]:
    """The histories of several things of one kind, oldest first, by id: one query for all."""
    rows = db.execute(
        "SELECT a.*, u.name AS user FROM audit_event a LEFT JOIN user u ON u.id = a.user_id"
        " WHERE a.company_id = ? AND a.entity = ? AND a.entity_id IN (SELECT value FROM json_each(?)) ORDER BY a.id",
        (company_id, entity, json.dumps(list(ids))),
    )
    return _by_entity(rows)


def _by_entity(rows: Iterable[Row]) -> dict[int, list[AuditEvent]]:
    found: dict[int, list[AuditEvent]] = {}
    for row in rows:
        found.setdefault(row["entity_id"], []).append(_event(row))
    return found


def events_after(db: Connection, company_id: int, entity: str, event_id: int) -> dict[int, list[AuditEvent]]:
    """What happened to the things of one kind after an event, oldest first, by id."""
    rows = db.execute(
        "SELECT a.*, u.name AS user FROM audit_event a LEFT JOIN user u ON u.id = a.user_id"
        " WHERE a.company_id = ? AND a.entity = ? AND a.id > ? ORDER BY a.id",
        (company_id, entity, event_id),
    )
    return _by_entity(rows)


def events_of(db: Connection, company_id: int, entity: str, entity_id: int) -> list[AuditEvent]:
    """The history of one thing, oldest first."""
    return events_of_many(db, company_id, entity, [entity_id]).get(entity_id, [])


def broken_links(db: Connection) -> Iterator[int]:
    """Ids of events that do not hold: altered, or an event before them removed."""
    expected = FIRST
    for row in db.execute("SELECT * FROM audit_event ORDER BY id"):
        columns = ("company_id", "user_id", "at", "what", "entity", "entity_id", "before", "after")
        values = tuple(row[name] for name in columns)
        if row["previous"] != expected or _digest(row["previous"], values) != row["sha256"]:
            yield row["id"]
        expected = row["sha256"]
