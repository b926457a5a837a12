"""The passes of an account as it has them set; none stored means the usual ones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from netnaught.core.matching import PassName
from netnaught.store.database import Connection


@dataclass(frozen=True, slots=True)
class PassSetting:
    """One pass in its place: on or off, and its window in days, None where it has none."""

    name: PassName
    active: bool
    before: int | None
    after: int | None


def pass_settings(db: Connection, company_id: int, account_id: int) -> list[PassSetting]:
    """The settings of an account, in order; empty where it has the usual ones."""
    rows = db.execute(
        "SELECT name, active, days_before, days_after FROM pass_setting WHERE company_id = ? AND bank_account_id = ?"
        " ORDER BY place",
        (company_id, account_id),
    )
    return [PassSetting(PassName(row[0]), bool(row[1]), row[2], row[3]) for row in rows]


def write_pass_settings(db: Connection, company_id: int, account_id: int, settings: Sequence[PassSetting]) -> None:
    """Set the passes of an account anew."""
    db.execute("DELETE FROM pass_setting WHERE company_id = ? AND bank_account_id = ?", (company_id, account_id))
    db.executemany(
        "INSERT INTO pass_setting (company_id, bank_account_id, place, name, active, days_before, days_after)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        (
            (company_id, account_id, place, s.name, int(s.active), s.before, s.after)
            for place, s in enumerate(settings, 1)
        ),
    )
