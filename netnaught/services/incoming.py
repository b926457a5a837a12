"""A file on its way in: what it holds, which statement of it is meant, and how a table of it is read."""

from __future__ import annotations

import json
from dataclasses import dataclass

from netnaught.core.money import currency
from netnaught.formats import (
    Layout,
    ReadStatement,
    Unreadable,
    grid_of,
    propose,
    read_statements,
    read_with_layout,
)
from netnaught.formats.tables import Grid, LayoutQuestion, read_grid
from netnaught.services.access import Context
from netnaught.services.errors import BadInput
from netnaught.store import bank_accounts, layouts
from netnaught.store.bank_accounts import BankAccount

SHOWN_ROWS = 12


@dataclass(frozen=True, slots=True)
class InFile:
    """A statement in the file, and the bank account it belongs to, where that is known."""

    number: str
    bank: str
    currency: str | None
    lines: int
    bank_account_id: int | None


@dataclass(frozen=True, slots=True)
class TableReading:
    """How a table is read: its layout, whether it was known, what is still asked, and its first rows."""

    layout: Layout
    known: bool
    questions: tuple[LayoutQuestion, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True, slots=True)
class Incoming:
    """The statement meant, the others beside it, and the table behind it. `stranger`: nobody knows its account."""

    statement: ReadStatement
    in_file: tuple[InFile, ...]
    table: TableReading | None
    stranger: bool


def open_file(
    ctx: Context, account: BankAccount, name: str, data: bytes, layout: str = "", number: str | None = None
) -> Incoming:
    """Read a file for an account. BadInput: unreadable, another account's or currency's, several that fit.

    `layout`: the layout to read a table with, as JSON; empty: a known or a proposed one.
    `number`: which statement of the file is meant, by the bank's number of the account.
    """
    of = currency(account.currency)
    try:
        grid = grid_of(data) if data.strip() else None
        table = _table(ctx, account, grid, layout) if grid else None
        found = (_with(data, grid, table, account),) if table and grid else read_statements(data, of)
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None
    owners = _owners(ctx, account)
    listed = tuple(
        InFile(item.account, item.bank, item.currency, len(item.lines), _owner(owners, item.account)) for item in found
    )
    chosen = _choose(account, name, found, listed, number)
    stranger = bool(chosen.account and account.number) and _owner(owners, chosen.account) is None
    if chosen.currency is not None and chosen.currency != account.currency:
        raise BadInput(
            f"{name} is in {chosen.currency}, {account.name} is kept in {account.currency}. Nothing was stored.",
            file=name,
            column="currency",
            value=chosen.currency,
        )
    return Incoming(chosen, listed, table, stranger)


def _with(data: bytes, grid: Grid, table: TableReading, account: BankAccount) -> ReadStatement:
    of = currency(account.currency)
    if table.layout.form == "delimited" and table.layout.delimiter != grid.delimiter:
        return read_with_layout(data, table.layout, of)
    return read_grid(grid, table.layout, of)


def _table(ctx: Context, account: BankAccount, grid: Grid, layout: str) -> TableReading:
    if layout:
        try:
            values = json.loads(layout)
            given = Layout.of_values(values)
        except (ValueError, TypeError, AttributeError):
            raise BadInput("The layout cannot be read. Nothing was stored.", field="layout") from None
        return TableReading(given, False, (), _sample(grid, given))
    for values in layouts.layouts(ctx.db, account.company_id, account.id):
        kept = Layout.of_values(values)
        if kept.form == grid.form and any(kept.fits(row.cells) for row in grid.rows[:80]):
            return TableReading(kept, True, (), _sample(grid, kept))
    proposed = propose(grid, currency(account.currency))
    return TableReading(proposed.layout, False, proposed.questions, _sample(grid, proposed.layout))


def _sample(grid: Grid, layout: Layout) -> tuple[tuple[str, ...], ...]:
    place = next((n for n, row in enumerate(grid.rows) if layout.fits(row.cells)), -1)
    return tuple(row.cells for row in grid.rows[place + 1 : place + 1 + SHOWN_ROWS])


def _digits(text: str) -> str:
    return "".join(char for char in text.upper() if char.isalnum())


def _owners(ctx: Context, account: BankAccount) -> dict[str, int]:
    """Bank account ids by the numbers they are known by, this account's own last."""
    known = {_digits(a.number): a.id for a in bank_accounts.bank_accounts(ctx.db, account.company_id) if a.number}
    said = {_digits(number): owner for number, owner in layouts.aliases(ctx.db, account.company_id).items()}
    return {**known, **said}


def _owner(owners: dict[str, int], number: str) -> int | None:
    """Whose account a number is: that number itself, or one that ends in ours (four digits or more)."""
    theirs = _digits(number)
    if theirs in owners:
        return owners[theirs]
    ends = {owner for mine, owner in owners.items() if len(mine) >= 4 and theirs.endswith(mine)}
    return ends.pop() if len(ends) == 1 else None


def _choose(
    account: BankAccount, name: str, found: tuple[ReadStatement, ...], listed: tuple[InFile, ...], number: str | None
) -> ReadStatement:
    if number is not None:
        mine = [item for item in found if item.account == number]
    else:
        mine = [
            item
            for item, seen in zip(found, listed, strict=True)
            if seen.bank_account_id == account.id or not item.account or not account.number
        ]
        if not mine and len(found) == 1 and listed[0].bank_account_id is None:
            mine = [found[0]]
    if not mine:
        others = ", ".join(sorted({item.account for item in found}))
        raise BadInput(
            f"{name} is the statement of account {others}; {account.name} is {account.number}. Nothing was stored.",
            file=name,
            column="account",
            value=others,
        )
    if len(mine) > 1:
        raise BadInput(
            f"{name} holds {len(mine)} statements of account {mine[0].account}. Nothing was stored.", file=name
        )
    owner = next(seen.bank_account_id for seen, item in zip(listed, found, strict=True) if item is mine[0])
    if owner is not None and owner != account.id and account.number:
        raise BadInput(
            f"{name} is the statement of account {mine[0].account}, which is another of this company's. "
            f"Nothing was stored.",
            file=name,
            column="account",
            value=mine[0].account,
        )
    return mine[0]
