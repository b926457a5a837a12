"""Departments, taxes, parties and coding rules of a company."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from netnaught.core.coding import TaxCode
from netnaught.store.database import Connection


@dataclass(frozen=True, slots=True)
class Department:
    """A department that postings are counted for."""

    id: int
    name: str


@dataclass(frozen=True, slots=True)
class Party:
    """Somebody who pays or is paid, with the account, tax and department that usually go with them."""

    id: int
    name: str
    gl_account_id: int | None
    tax_code_id: int | None
    department_id: int | None


@dataclass(frozen=True, slots=True)
class StoredRule:
    """A coding rule as its stored values, in its place, with how often it was used."""

    id: int
    active: bool
    uses: int
    values: dict[str, Any]
    created_by: str


def departments(db: Connection, company_id: int) -> list[Department]:
    """All departments by name."""
    rows = db.execute("SELECT id, name FROM department WHERE company_id = ? ORDER BY name", (company_id,))
    return [Department(*row) for row in rows]


def add_department(db: Connection, company_id: int, name: str) -> int:
    """A new department; sqlite3.IntegrityError when the name is taken."""
    sql = "INSERT INTO department (company_id, name) VALUES (?, ?) RETURNING id"
    return int(db.execute(sql, (company_id, name)).fetchone()[0])


def tax_codes(db: Connection, company_id: int) -> list[TaxCode]:
    """All taxes by code."""
    rows = db.execute(
        "SELECT id, code, rate, gl_account_id FROM tax_code WHERE company_id = ? ORDER BY code", (company_id,)
    )
    return [TaxCode(*row) for row in rows]


def add_tax_code(db: Connection, company_id: int, code: str, rate: int, gl_account_id: int) -> int:
    """A new tax; sqlite3.IntegrityError when the code is taken."""
    sql = "INSERT INTO tax_code (company_id, code, rate, gl_account_id) VALUES (?, ?, ?, ?) RETURNING id"
    return int(db.execute(sql, (company_id, code, rate, gl_account_id)).fetchone()[0])


def parties(db: Connection, company_id: int) -> list[Party]:
    """All parties by name."""
    rows = db.execute(
        "SELECT id, name, gl_account_id, tax_code_id, department_id FROM party WHERE company_id = ? ORDER BY name",
        (company_id,),
    )
    return [Party(*row) for row in rows]


def write_party(db: Connection, company_id: int, party: Party) -> None:
    """A party's usual account, tax and department; one of the same name is changed."""
    db.execute(
        "INSERT INTO party (company_id, name, gl_account_id, tax_code_id, department_id) VALUES (?, ?, ?, ?, ?)"
        " ON CONFLICT (company_id, name) DO UPDATE SET gl_account_id = excluded.gl_account_id,"
        " tax_code_id = excluded.tax_code_id, department_id = excluded.department_id",
        (company_id, party.name, party.gl_account_id, party.tax_code_id, party.department_id),
    )


def rules(db: Connection, company_id: int) -> list[StoredRule]:
    """The coding rules of a company in their order."""
    rows = db.execute(
        "SELECT r.id, r.active, r.uses, r.content, u.name FROM coding_rule r JOIN user u ON u.id = r.created_by"
        " WHERE r.company_id = ? AND r.removed_at IS NULL ORDER BY r.place, r.id",
        (company_id,),
    )
    return [StoredRule(row[0], bool(row[1]), row[2], json.loads(row[3]), row[4]) for row in rows]


def add_rule(db: Connection, company_id: int, values: dict[str, Any], user_id: int, now: str) -> int:
    """A new rule, after the others."""
    sql = (
        "INSERT INTO coding_rule (company_id, place, content, created_by, created_at) VALUES"
        " (?1, (SELECT coalesce(max(place), 0) + 1 FROM coding_rule WHERE company_id = ?1), ?2, ?3, ?4) RETURNING id"
    )
    content = json.dumps(values, ensure_ascii=False)
    return int(db.execute(sql, (company_id, content, user_id, now)).fetchone()[0])


def write_rule(db: Connection, company_id: int, rule_id: int, values: dict[str, Any], active: bool) -> None:
    """Change a rule."""
    db.execute(
        "UPDATE coding_rule SET content = ?, active = ? WHERE company_id = ? AND id = ? AND removed_at IS NULL",
        (json.dumps(values, ensure_ascii=False), int(active), company_id, rule_id),
    )


def order_rules(db: Connection, company_id: int, ids: Sequence[int]) -> None:
    """Put the rules in an order."""
    db.executemany(
        "UPDATE coding_rule SET place = ? WHERE company_id = ? AND id = ?",
        ((place, company_id, rule_id) for place, rule_id in enumerate(ids, 1)),
    )


def remove_rule(db: Connection, company_id: int, rule_id: int, now: str) -> bool:
    """Take a rule away; what it has coded stays."""
    cursor = db.execute(
        "UPDATE coding_rule SET removed_at = ? WHERE company_id = ? AND id = ? AND removed_at IS NULL",
        (now, company_id, rule_id),
    )
    return cursor.rowcount == 1


def count_use(db: Connection, company_id: int, rule_id: int, times: int = 1) -> None:
    """A rule has coded so many lines more."""
    db.execute("UPDATE coding_rule SET uses = uses + ? WHERE company_id = ? AND id = ?", (times, company_id, rule_id))
