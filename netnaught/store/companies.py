"""Companies, and who belongs to them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from netnaught.core.outstanding import StaleRules
from netnaught.store.database import Connection, Row


@dataclass(frozen=True, slots=True)
class Company:
    """A set of books. `currency`: ISO 4217, the base currency; `locale`: how its people write.

    `lock_date`: no entry is written, changed or removed on or before that day; None where none is set.
    `review`: whether a second person approves before a reconciliation is sealed. `stale`: when an outstanding entry is.
    """

    id: int
    name: str
    currency: str
    locale: str
    lock_date: date | None = None
    review: bool = False
    stale: StaleRules = StaleRules()


@dataclass(frozen=True, slots=True)
class Membership:
    """A company as one user sees it. `switched`: rights switched on or off for this user against the role's."""

    company: Company
    role: str
    switched: Mapping[str, bool] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Member:
    """A person of a company."""

    user_id: int
    name: str
    email: str
    role: str
    switched: Mapping[str, bool]


def _company(row: Row) -> Company:
    locked = date.fromisoformat(row["lock_date"]) if row["lock_date"] else None
    stale = StaleRules(row["check_months"], row["deposit_days"], row["payment_days"])
    return Company(row["id"], row["name"], row["currency"], row["locale"], locked, bool(row["review"]), stale)


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


def set_review(db: Connection, company_id: int, review: bool) -> None:
    """Whether a second person approves."""
    db.execute("UPDATE company SET review = ? WHERE id = ?", (int(review), company_id))


def set_stale_rules(db: Connection, company_id: int, rules: StaleRules) -> None:
    """When an outstanding entry is stale."""
    db.execute(
        "UPDATE company SET check_months = ?, deposit_days = ?, payment_days = ? WHERE id = ?",
        (rules.check_months, rules.deposit_days, rules.payment_days, company_id),
    )


def _switched(db: Connection, company_id: int, user_id: int) -> dict[str, bool]:
    rows = db.execute(
        "SELECT name, allowed FROM membership_right WHERE company_id = ? AND user_id = ?", (company_id, user_id)
    )
    return {name: bool(allowed) for name, allowed in rows}


def switch_right(db: Connection, company_id: int, user_id: int, name: str, allowed: bool | None) -> None:
    """Switch a right on or off for one person; None: as the role says."""
    db.execute(
        "DELETE FROM membership_right WHERE company_id = ? AND user_id = ? AND name = ?", (company_id, user_id, name)
    )
    if allowed is not None:
        db.execute(
            "INSERT INTO membership_right (company_id, user_id, name, allowed) VALUES (?, ?, ?, ?)",
            (company_id, user_id, name, int(allowed)),
        )


def members(db: Connection, company_id: int) -> list[Member]:
    """The people of a company, by name."""
    rows = db.execute(
        "SELECT u.id, u.name, u.email, m.role FROM membership m JOIN user u ON u.id = m.user_id"
        " WHERE m.company_id = ? ORDER BY u.name",
        (company_id,),
    ).fetchall()
    return [Member(row[0], row[1], row[2], row[3], _switched(db, company_id, row[0])) for row in rows]


def memberships(db: Connection, user_id: int) -> list[Membership]:
    """The companies of a user, by name."""
    rows = db.execute(
        "SELECT c.*, m.role FROM membership m JOIN company c ON c.id = m.company_id WHERE m.user_id = ? ORDER BY c.name",
        (user_id,),
    )
    return [Membership(_company(row), row["role"], _switched(db, row["id"], user_id)) for row in rows.fetchall()]


def membership(db: Connection, company_id: int, user_id: int) -> Membership | None:
    """One company as a user sees it; None when they are no member."""
    row = db.execute(
        "SELECT c.*, m.role FROM membership m JOIN company c ON c.id = m.company_id"
        " WHERE m.company_id = ? AND m.user_id = ?",
        (company_id, user_id),
    ).fetchone()
    return Membership(_company(row), row["role"], _switched(db, company_id, user_id)) if row else None
