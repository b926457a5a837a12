"""Companies, and who belongs to them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class Company:
    """A set of books. `currency`: ISO 4217, the base currency; `locale`: how its people write.

    `lock_date`: no entry is written, changed or removed on or before that day; None where none is set.
    """

    id: int
    name: str
    currency: str
    locale: str
    lock_date: date | None = None


@dataclass(frozen=True, slots=True)
class Membership:
    """A company as one user sees it."""

    company: Company
    role: str


def _company(row: Row) -> Company:
    locked = date.fromisoformat(row["lock_date"]) if row["lock_date"] else None
    return Company(row["id"], row["name"], row["currency"], row["locale"], locked)


def add_company(db: Connection, name: str, currency: str, locale: str, now: str) -> Company:
    """A new company."""
    sql = "INSERT INTO company (name, currency, locale, created_at) VALUES (?, ?, ?, ?) RETURNING *"
    return _company(db.execute(sql, (name, currency, locale, now)).fetchone())


def companies(db: Connection) -> list[Company]:
    """Every company of the installation: for `verify`, never for a screen."""
    return [_company(row) for row in db.execute("SELECT * FROM company ORDER BY id")]


def company_named(db: Connection, name: str) -> Company | None:
    """The company of that name."""
    row = db.execute("SELECT * FROM company WHERE name = ?", (name,)).fetchone()
    return _company(row) if row else None


def set_lock_date(db: Connection, company_id: int, day: date | None) -> None:
    """Lock the books up to a day, or open them."""
    db.execute("UPDATE company SET lock_date = ? WHERE id = ?", (day.isoformat() if day else None, company_id))


def set_role(db: Connection, company_id: int, user_id: int, role: str) -> None:
    """Make a user a member, or change their role."""
    db.execute(
        "INSERT INTO membership (company_id, user_id, role) VALUES (?, ?, ?)"
        " ON CONFLICT (company_id, user_id) DO UPDATE SET role = excluded.role",
        (company_id, user_id, role),
    )


def memberships(db: Connection, user_id: int) -> list[Membership]:
    """The companies of a user, by name."""
    rows = db.execute(
        "SELECT c.*, m.role FROM membership m JOIN company c ON c.id = m.company_id WHERE m.user_id = ? ORDER BY c.name",
        (user_id,),
    )
    return [Membership(_company(row), row["role"]) for row in rows]


def membership(db: Connection, company_id: int, user_id: int) -> Membership | None:
    """One company as a user sees it; None when they are no member."""
    row = db.execute(
        "SELECT c.*, m.role FROM membership m JOIN company c ON c.id = m.company_id"
        " WHERE m.company_id = ? AND m.user_id = ?",
        (company_id, user_id),
    ).fetchone()
    return Membership(_company(row), row["role"]) if row else None
