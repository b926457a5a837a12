"""The chart of accounts, imported from a table; nothing is stored on any error."""

from __future__ import annotations

from dataclasses import dataclass

from netnaught.core.ledger import AccountKind
from netnaught.core.money import currency
from netnaught.formats import CHART, Columns, Table, Unreadable
from netnaught.services.access import Context, Right, company_for, record_event
from netnaught.services.columns import keep_columns, read_table, require_whole
from netnaught.services.errors import BadInput
from netnaught.store import ledger
from netnaught.store.database import atomic
from netnaught.store.layouts import TableAt, TableKind


@dataclass(frozen=True, slots=True)
class Understood:
    """What a table holds: how many accounts are new, how many known as they are, and known ones that say otherwise."""

    table: Table
    new: int = 0
    known: int = 0
    held: tuple[str, ...] = ()


def read_chart(
    ctx: Context, company_id: int, name: str, data: bytes, stated: Columns | None = None, *, store: bool = False
) -> Understood:
    """Accounts of a table that are not known yet; with `store` they are added, all or none."""
    company = company_for(ctx, company_id, Right.MANAGE)
    at = TableAt(company_id, TableKind.CHART)
    table = read_table(ctx, at, currency(company.currency), name, data, stated)
    if not store and table.missing:
        return Understood(table)
    require_whole(name, table)
    with atomic(ctx.db):
        known = {account.number: account for account in ledger.gl_accounts(ctx.db, company_id)}
        new = same = 0
        held: list[str] = []
        seen: set[str] = set()
        for row in table.rows:
            number, title, kind = (table.cell(row, role) for role in CHART)
            if not number or number in seen or not title:
                what = (
                    "the number stands twice in the table" if number in seen else "an account needs a number and a name"
                )
                raise BadInput.of_file(name, Unreadable(what, line=row.line, column="number", value=number))
            seen.add(number)
            if kind.lower() not in set(AccountKind):
                kinds = ", ".join(AccountKind)
                raise BadInput.of_file(
                    name, Unreadable(f"is none of {kinds}", line=row.line, column="kind", value=kind)
                )
            mine = known.get(number)
            if mine is None:
                new += 1
                if store:
                    ledger.add_gl_account(ctx.db, company_id, number, title, AccountKind(kind.lower()))
            elif (mine.name, mine.kind) == (title, kind.lower()):
                same += 1
            else:
                held.append(f"{number} is {mine.name} ({mine.kind}) here")
        if store:
            keep_columns(ctx, at, table, stated)
            record_event(ctx, company_id, "chart imported", "company", company_id, after={"file": name, "new": new})
    return Understood(table, new, same, tuple(held))
