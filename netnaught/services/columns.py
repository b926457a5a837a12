"""The columns of a table of books kept elsewhere: proposed, pointed out, and known again by the heading."""

from __future__ import annotations

import json

from netnaught.core.money import Currency
from netnaught.formats import BOOK, CHART, DETAIL, Columns, Table, Unreadable, table_of
from netnaught.services.access import Context
from netnaught.services.errors import BadInput
from netnaught.store import layouts
from netnaught.store.layouts import TableAt, TableKind

_ROLES = {TableKind.BOOK: BOOK, TableKind.CHART: CHART, TableKind.DETAIL: DETAIL}


def read_table(ctx: Context, at: TableAt, of: Currency, name: str, data: bytes, stated: Columns | None) -> Table:
    """The table of a file with its columns as stated, else as they were last time, else as proposed."""
    roles = _ROLES[at.kind]
    try:
        table = table_of(data, roles, of, stated)
        kept = layouts.told_columns(ctx.db, at, _heading(table)) if stated is None else None
        return table if kept is None else table_of(data, roles, of, Columns(**json.loads(kept)))
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None


def keep_columns(ctx: Context, at: TableAt, table: Table, stated: Columns | None) -> None:
    """Columns that were pointed out serve next time."""
    if stated is not None:
        told = {"by_role": dict(table.columns.by_role), "order": table.columns.order, "decimal": table.columns.decimal}
        layouts.keep_told_columns(ctx.db, at, _heading(table), json.dumps(told))


def require_whole(name: str, table: Table) -> None:
    """BadInput while it must still be said which column is which."""
    if table.missing:
        what = table.missing[0]
        raise BadInput.of_file(name, Unreadable(f"it must still be said which column is {what}", line=1, column=what))


def _heading(table: Table) -> str:
    """What a table is recognised by."""
    return "\t".join(table.heading)
