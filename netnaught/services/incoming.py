"""A file on its way in: what it holds, which statement of it is meant, and how a table of it is read."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.money import currency
from netnaught.formats import (
    Layout,
    ReadStatement,
    Unreadable,
    grid_of,
    propose,
    read_statements,
)
from netnaught.formats.tables import Grid, GridRow, LayoutQuestion, complete, draft_at, read_grid
from netnaught.services.access import Context
from netnaught.services.errors import BadInput
from netnaught.store import bank_accounts, layouts, reconciliations
from netnaught.store.bank_accounts import BankAccount

SHOWN_ROWS = 12
SHOWN_RAW = 60


@dataclass(frozen=True, slots=True)
class InFile:
    """A statement in the file, from which place on, and the bank account it belongs to, where that is known."""

    place: int
    number: str
    bank: str
    currency: str | None
    start: date
    end: date
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
    place: int
    in_file: tuple[InFile, ...]
    table: TableReading | None
    stranger: bool


@dataclass(frozen=True, slots=True)
class How:
    """How a file is to be read.

    layout   the layout of its table, as JSON; empty: a known or a proposed one
    settled  which settings of that layout a person has stated; the others are worked out or asked
    place    which statement of the file is meant, counted from 1; None: the account's own, the earliest to come
    """

    layout: str = ""
    settled: frozenset[str] = frozenset()
    place: int | None = None


def open_file(ctx: Context, account: BankAccount, name: str, data: bytes, how: How) -> Incoming:
    """Read a file for an account. BadInput: unreadable, another account's or currency's, several that fit."""
    of = currency(account.currency)
    try:
        given = _given(how.layout)
        grid = _grid(data, given) if data.strip() else None
        table = None
        if grid is None:
            found = read_statements(data, of)
        else:
            grid, table = _table(ctx, account, data, grid, given, how.settled)
            found = (read_grid(grid, table.layout, of),)
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None
    owners = _owners(ctx, account)
    listed = tuple(
        InFile(
            place,
            item.account,
            item.bank,
            item.currency,
            item.head.start,
            item.head.end,
            len(item.lines),
            _owner(owners, item.account),
        )
        for place, item in enumerate(found, 1)
    )
    meant = _choose(account, name, listed, how.place, _sealed_to(ctx, account))
    chosen = found[meant.place - 1]
    stranger = bool(chosen.account and account.number) and _owner(owners, chosen.account) is None
    if chosen.currency is not None and chosen.currency != account.currency:
        raise BadInput(
            f"{name} is in {chosen.currency}, {account.name} is kept in {account.currency}. Nothing was stored.",
            file=name,
            column="currency",
            value=chosen.currency,
        )
    return Incoming(chosen, meant.place, listed, table, stranger)


def _given(layout: str) -> Layout | None:
    if not layout:
        return None
    try:
        return Layout.of_values(json.loads(layout))
    except Unreadable:
        raise
    except (ValueError, TypeError, AttributeError):
        raise BadInput("The layout cannot be read. Nothing was stored.", field="layout") from None


def _grid(data: bytes, layout: Layout | None) -> Grid | None:
    return grid_of(data, layout.delimiter, layout.encoding) if layout else grid_of(data)


def _table(
    ctx: Context, account: BankAccount, data: bytes, grid: Grid, given: Layout | None, settled: frozenset[str]
) -> tuple[Grid, TableReading]:
    """The grid and how it is read: as given, as kept for the account, or as proposed from the table itself."""
    of = currency(account.currency)
    if given:
        proposed = complete(grid, given, settled, of)
        return grid, TableReading(proposed.layout, False, proposed.questions, _sample(grid, proposed.layout))
    for values in layouts.layouts(ctx.db, account.company_id, account.id):
        kept = Layout.of_values(values)
        otherwise = kept.encoding or (kept.delimiter and kept.delimiter != grid.delimiter)
        again = _grid(data, kept) if otherwise else grid
        if again is not None and kept.knows(again):
            return again, TableReading(kept, True, (), _sample(again, kept))
    proposed = propose(grid, of)
    return grid, TableReading(proposed.layout, False, proposed.questions, _sample(grid, proposed.layout))


@dataclass(frozen=True, slots=True)
class RawTable:
    """A table as it stands in the file, before a layout: its first rows, and a draft for the heading pointed at.

    `encoding`: what the text was read as; empty for sheets and PDF.
    """

    form: str
    delimiter: str
    encoding: str
    rows: tuple[GridRow, ...]
    draft: Layout | None


def raw_table(name: str, data: bytes, delimiter: str, encoding: str, heading: int | None) -> RawTable | None:
    """The rows of a table for a person to point at; None where the file is no table.

    `heading`: the line of the heading row, 0 where the table has none, None while nobody has said.
    BadInput: the table cannot be taken apart, or no row begins at that line.
    """
    try:
        grid = grid_of(data, delimiter, encoding) if data.strip() else None
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None
    if grid is None:
        return None
    draft = None
    if heading is not None:
        place = next((n for n, row in enumerate(grid.rows) if row.line == heading), None)
        if heading and place is None:
            raise BadInput(f"{name}: no row begins at line {heading}. Nothing was stored.", file=name, line=heading)
        draft = replace(draft_at(grid, place), encoding=encoding)
    return RawTable(grid.form, grid.delimiter, grid.encoding, grid.rows[:SHOWN_RAW], draft)


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


def _sealed_to(ctx: Context, account: BankAccount) -> date:
    sealed = [
        r.closing_date for r in reconciliations.reconciliations(ctx.db, account.company_id, account.id) if r.sealed
    ]
    return max(sealed, default=account.starting_date)


def _choose(account: BankAccount, name: str, listed: tuple[InFile, ...], place: int | None, done: date) -> InFile:
    """The statement meant; of several of the account the earliest that ends after `done`."""
    if place is not None:
        mine = [item for item in listed if item.place == place]
    else:
        mine = [x for x in listed if x.bank_account_id == account.id or not x.number or not account.number]
        if not mine and len(listed) == 1 and listed[0].bank_account_id is None:
            mine = list(listed)
    if not mine:
        others = ", ".join(sorted({item.number for item in listed}))
        raise BadInput(
            f"{name} is the statement of account {others}; {account.name} is {account.number}. Nothing was stored.",
            file=name,
            column="account",
            value=others,
        )
    chosen = min(mine, key=lambda item: (item.end <= done, item.end, item.place))
    if chosen.bank_account_id not in (None, account.id) and account.number:
        raise BadInput(
            f"{name} is the statement of account {chosen.number}, which is another of this company's. "
            f"Nothing was stored.",
            file=name,
            column="account",
            value=chosen.number,
        )
    return chosen
