"""A grid read with a layout; a running balance, where there is one, proves it line by line."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from itertools import pairwise

from netnaught.core.money import Currency, plain
from netnaught.core.statement import ControlTotals, LineKind, StatementHead, StatementLine
from netnaught.formats.progress import in_steps
from netnaught.formats.reading import Problem, ReadLine, ReadStatement, Unreadable
from netnaught.formats.tables.grid import Grid, GridRow, column_name
from netnaught.formats.tables.layout import ColumnRole, Layout
from netnaught.formats.tables.values import looks_like_amount, looks_like_day, read_amount, read_day

_OPENS = re.compile(
    r"\b(opening|beginning|previous|starting)\s+(ledger\s+)?balance|balance\s+(brought )?forward|brought forward|"
    r"carried (over )?from|anfangssaldo|solde initial",
    re.I,
)
_CLOSES = re.compile(r"\b(closing|ending|new|final)\s+(ledger\s+)?balance|endsaldo|schlusssaldo|solde final", re.I)
_CARRIED = re.compile(r"carried forward|carry forward|continued|sub-?total|übertrag", re.I)
_TOTAL = re.compile(r"\btotals?\b|\bsumme\b|\bsum\b", re.I)
_KIND_WORDS: tuple[tuple[str, LineKind], ...] = (
    (r"\bche(ck|que)\b", LineKind.CHECK),
    (r"\binterest\b", LineKind.INTEREST),
    (r"\b(fee|service charge|charges?)\b", LineKind.FEE),
    (r"\bdeposit\b", LineKind.DEPOSIT),
    (r"\btransfer\b", LineKind.TRANSFER),
    (r"\b(atm|cash)\b", LineKind.CASH),
    (r"\b(card|pos)\b", LineKind.CARD),
    (r"\b(direct debit|ach debit)\b", LineKind.DIRECT_DEBIT),
)


@dataclass(frozen=True, slots=True)
class _Found:
    """A line of the table: its row, and the balance printed behind it."""

    row: GridRow
    line: StatementLine
    balance: int | None


def is_line(row: GridRow, layout: Layout) -> bool:
    """Whether a row begins with a day and carries an amount."""
    column = layout.column(ColumnRole.DATE)
    return column is not None and read_day(row.cell(column), layout.date_order) is not None and _has_amount(row, layout)


def _has_amount(row: GridRow, layout: Layout) -> bool:
    roles = (ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT)
    return any(looks_like_amount(row.cell(column)) for role in roles for column in layout.columns(role))


def _cell_amount(row: GridRow, column: int | None, layout: Layout, of: Currency) -> int | None:
    """The amount in a cell; None where it is empty; Unreadable where it is something else."""
    text = row.cell(-1 if column is None else column) if column is not None else ""
    if not text or text in ("-", "--"):
        return None
    amount = read_amount(text, layout.decimal, of)
    if amount is None:
        what = f"is no amount in {of.code} with at most {of.digits} decimals"
        raise Unreadable(what, line=row.line, column=column_name(layout.heading, column or 0), value=text)
    return amount


def amount_of(row: GridRow, layout: Layout, of: Currency) -> int | None:
    """The signed amount of a row; None where it has none."""
    single = layout.column(ColumnRole.AMOUNT)
    if single is None:
        came = _cell_amount(row, layout.column(ColumnRole.MONEY_IN), layout, of)
        went = _cell_amount(row, layout.column(ColumnRole.MONEY_OUT), layout, of)
        if came and went:
            name = column_name(layout.heading, layout.column(ColumnRole.MONEY_OUT) or 0)
            raise Unreadable("the row has money in and money out", line=row.line, column=name)
        if came is None and went is None:
            return None
        # Some banks print money out with its minus, some without.
        return came if came else -abs(went or 0)
    amount = _cell_amount(row, single, layout, of)
    marker = layout.column(ColumnRole.MARKER)
    if amount is not None and marker is not None:
        return -abs(amount) if row.cell(marker) in layout.out_words else abs(amount)
    return -amount if amount is not None and layout.flip else amount


def _balance_of(row: GridRow, layout: Layout, of: Currency) -> int | None:
    """The balance behind a row, as the account's own: what is owed is negative."""
    balance = _cell_amount(row, layout.column(ColumnRole.BALANCE), layout, of)
    return -balance if balance is not None and layout.owed else balance


def breaks_of(rows: Sequence[GridRow], layout: Layout, of: Currency) -> int:
    """How many lines the running balance does not prove, oldest first or newest first, whichever is fewer."""
    try:
        steps = [(amount_of(row, layout, of), _balance_of(row, layout, of)) for row in rows if is_line(row, layout)]
    except Unreadable:
        return len(rows)
    told = [(amount or 0, balance) for amount, balance in steps if balance is not None]
    forward = sum(b != a + amount for (_, a), (amount, b) in pairwise(told))
    backward = sum(a != b + amount for (amount, a), (_, b) in pairwise(told))
    return min(forward, backward)


def read_grid(grid: Grid, layout: Layout, of: Currency) -> ReadStatement:
    """The statement in a grid. Unreadable names line and column of what does not fit the layout."""
    layout.check()
    below = _below_heading(grid, layout)
    lines, balances, totals = _walk(below, layout, of)
    if not lines:
        raise Unreadable("the table has a heading but no lines", line=below[0].line if below else 1)
    if _newest_first(lines):
        lines = lines[::-1]
    lines = [replace(found, line=replace(found.line, id=found.line.id or f"L{n}")) for n, found in enumerate(lines, 1)]
    problems = _proof(lines, of)
    facts = _facts(grid, layout, of)
    first, last = lines[0], lines[-1]
    opening = balances.get("opening", facts.opening)
    closing = balances.get("closing", facts.closing)
    if opening is None and first.balance is not None:
        opening = first.balance - first.line.amount
    if closing is None and last.balance is not None:
        closing = last.balance
    days = [found.line.date for found in lines]
    start, end = facts.start or min(days), facts.end or max(days)
    outside = [found for found in lines if not start <= found.line.date <= end]
    if outside:
        start, end = min([start, *days]), max([end, *days])
    head = StatementHead(start, end, opening, closing, totals, dates_stated=bool(facts.start and facts.end))
    reads = tuple(ReadLine(found.line, _bank_id(found, layout)) for found in lines)
    code = _currency_of(below, layout, of)
    return ReadStatement(grid.form, "", facts.account, code, head, reads, problems)


def _bank_id(found: _Found, layout: Layout) -> str | None:
    column = layout.column(ColumnRole.ID)
    return found.row.cell(column) or None if column is not None else None


def _below_heading(grid: Grid, layout: Layout) -> list[GridRow]:
    for place, row in enumerate(grid.rows):
        if layout.fits(row.cells):
            return [r for r in grid.rows[place + 1 :] if not layout.fits(r.cells)]
    if layout.heading:
        raise Unreadable("the file has not the heading of this layout", line=1, value=" | ".join(layout.heading))
    return list(grid.rows)


def _walk(rows: Sequence[GridRow], layout: Layout, of: Currency) -> tuple[list[_Found], dict[str, int], ControlTotals]:
    found: list[_Found] = []
    balances: dict[str, int] = {}
    totals = ControlTotals()
    for row in in_steps(rows, "reading its lines"):
        whole = " ".join(cell for cell in row.cells if cell)
        if is_line(row, layout):
            balance = _balance_of(row, layout, of)
            found.append(_Found(row, _line(row, layout, of), balance))
        elif _OPENS.search(whole) or _CLOSES.search(whole) or _CARRIED.search(whole) or _TOTAL.search(whole):
            _note_balance(row, whole, layout, of, balances)
            totals = _note_totals(row, whole, layout, of, totals)
        elif _has_amount(row, layout):
            column = layout.column(ColumnRole.DATE) or 0
            what = "the row has no date"
            if row.cell(column):
                calendar = "is no day of the calendar" if looks_like_day(row.cell(column)) else "is no date"
                what = f"{calendar} in the order {layout.date_order}"
            name = column_name(layout.heading, column)
            raise Unreadable(what, line=row.line, column=name, value=row.cell(column))
        elif _dated(row, layout):
            name = column_name(
                layout.heading, layout.column(ColumnRole.AMOUNT) or layout.column(ColumnRole.MONEY_OUT) or 0
            )
            raise Unreadable("the row has no amount", line=row.line, column=name, value=whole)
        elif found and grid_continues(row, layout):
            last = found[-1]
            text = f"{last.line.description} {_text(row, layout)}".strip()
            found[-1] = replace(last, line=replace(last.line, description=text))
    return found, balances, totals


def _dated(row: GridRow, layout: Layout) -> bool:
    column = layout.column(ColumnRole.DATE)
    balance = layout.column(ColumnRole.BALANCE)
    has_balance = balance is not None and looks_like_amount(row.cell(balance))
    return column is not None and read_day(row.cell(column), layout.date_order) is not None and not has_balance


def grid_continues(row: GridRow, layout: Layout) -> bool:
    """Whether a row only carries on the text of the line above it."""
    texts = set(layout.columns(ColumnRole.TEXT)) | set(layout.columns(ColumnRole.REFERENCE))
    filled = {number for number, cell in enumerate(row.cells) if cell.strip()}
    return bool(filled) and filled <= texts


def _note_balance(row: GridRow, whole: str, layout: Layout, of: Currency, balances: dict[str, int]) -> None:
    column = layout.column(ColumnRole.BALANCE)
    if column is None:
        column = layout.column(ColumnRole.AMOUNT)
    text = row.cell(column) if column is not None else ""
    amount = read_amount(text, layout.decimal, of) if text else None
    if amount is None:
        return
    amount = -amount if layout.owed else amount
    if _CLOSES.search(whole):
        balances["closing"] = amount
    elif _OPENS.search(whole) and not _CARRIED.search(whole):
        balances.setdefault("opening", amount)


def _note_totals(row: GridRow, whole: str, layout: Layout, of: Currency, totals: ControlTotals) -> ControlTotals:
    came, went = layout.column(ColumnRole.MONEY_IN), layout.column(ColumnRole.MONEY_OUT)
    if came is None or went is None or not _TOTAL.search(whole) or _CARRIED.search(whole):
        return totals
    total_in, total_out = (read_amount(row.cell(n), layout.decimal, of) if row.cell(n) else None for n in (came, went))
    if total_in is None or total_out is None:
        return totals
    return ControlTotals(total_in, -abs(total_out))


def _text(row: GridRow, layout: Layout) -> str:
    return " · ".join(
        text for column in layout.columns(ColumnRole.TEXT) if (text := " ".join(row.cell(column).split()))
    )


def _line(row: GridRow, layout: Layout, of: Currency) -> StatementLine:
    booked = read_day(row.cell(layout.column(ColumnRole.DATE) or 0), layout.date_order)
    amount = amount_of(row, layout, of)
    if booked is None or amount is None:
        raise Unreadable("the row has no amount", line=row.line)
    text = _text(row, layout)
    value_column = layout.column(ColumnRole.VALUE_DATE)
    value = read_day(row.cell(value_column), layout.date_order) if value_column is not None else None
    references = [cell for column in layout.columns(ColumnRole.REFERENCE) if (cell := row.cell(column))]
    ident = layout.column(ColumnRole.ID)
    return StatementLine(
        id=row.cell(ident) if ident is not None else "",
        date=booked,
        amount=amount,
        reference=references[0] if references else "",
        description=text,
        kind=_kind(row, layout, text),
        value_date=value,
    )


def _kind(row: GridRow, layout: Layout, text: str) -> LineKind:
    column = layout.column(ColumnRole.KIND)
    said = row.cell(column).lower() if column is not None else ""
    if said in set(LineKind):
        return LineKind(said)
    return next((kind for pattern, kind in _KIND_WORDS if re.search(pattern, text, re.I)), LineKind.OTHER)


def _newest_first(lines: Sequence[_Found]) -> bool:
    days = [found.line.date for found in lines]
    if days[0] != days[-1]:
        return days[0] > days[-1]
    told = [found for found in lines if found.balance is not None]
    pairs = list(pairwise(told))
    forward = all(b.balance == (a.balance or 0) + b.line.amount for a, b in pairs)
    backward = all(a.balance == (b.balance or 0) + a.line.amount for a, b in pairs)
    return bool(pairs) and backward and not forward


def _proof(lines: Sequence[_Found], of: Currency) -> tuple[Problem, ...]:
    """Each line that the running balance does not prove, marked."""
    found: list[Problem] = []
    running: int | None = None
    for item in lines:
        if running is not None:
            running += item.line.amount
        if item.balance is not None:
            if running is not None and running != item.balance:
                off = plain(item.balance - running, of)
                what = f"the running balance moves by {off} more than the line's amount"
                found.append(Problem(f"line {item.row.line}", what))
            running = item.balance
    return tuple(found)


@dataclass(frozen=True, slots=True)
class _Facts:
    """What stands around the table: account, period, balances."""

    account: str = ""
    start: date | None = None
    end: date | None = None
    opening: int | None = None
    closing: int | None = None


_ACCOUNT = re.compile(
    r"\b(?:account|card|konto|a/c|iban|compte)[\s.]*(?:number|no\.?|nr\.?|#)?[\s:.#]*([A-Z]{2}\d{2}[A-Z0-9 ]{8,30}|[\dX*][\dX* .\-]{2,24}\d|(?=[A-Z0-9*\-]*\d{3})[A-Z0-9*\-]{4,34})",
    re.I,
)
_PERIOD = re.compile(
    r"(?:period|statement|from|zeitraum|dates?)\b.{0,24}?((?:\d|[A-Z][a-z]{2,8} \d)[^|]*?)\s*(?:to|-|–|—|bis|through|until)\s*"
    r"((?:\d|[A-Z][a-z]{2,8} \d)[\w,./ \-]*)",
    re.I,
)
_MONEY = re.compile(r"[-−(]?[$€£]?\s?\d[\d.,' ]*\d\)?-?|[-−]?\d")


def _facts(grid: Grid, layout: Layout, of: Currency) -> _Facts:
    facts = _Facts(account=grid.account)
    heading = next((n for n, row in enumerate(grid.rows) if layout.fits(row.cells)), 0)
    outside = [" ".join(cell for cell in row.cells if cell) for row in grid.rows[:heading]] + list(grid.texts)
    for text in outside:
        account = _ACCOUNT.search(text)
        if account and not facts.account:
            facts = replace(facts, account=re.sub(r"[ .\-]", "", account[1]))
        period = _PERIOD.search(text)
        if period and facts.start is None:
            days = [read_day(part.strip(" ,."), layout.date_order) for part in (period[1], period[2])]
            if days[0] and days[1] and days[0] <= days[1]:
                facts = replace(facts, start=days[0], end=days[1])
        for pattern, name in ((_OPENS, "opening"), (_CLOSES, "closing")):
            said = pattern.search(text)
            if said and getattr(facts, name) is None:
                amounts = _MONEY.findall(text[said.end() :])
                amount = read_amount(amounts[-1].strip(), layout.decimal, of) if amounts else None
                facts = replace(facts, opening=amount) if name == "opening" else replace(facts, closing=amount)
    return facts


def _currency_of(rows: Sequence[GridRow], layout: Layout, of: Currency) -> str | None:
    column = layout.column(ColumnRole.CURRENCY)
    if column is None:
        return None
    for row in rows:
        code = row.cell(column)
        if is_line(row, layout) and code and code != of.code:
            name = column_name(layout.heading, column)
            raise Unreadable(f"the line is in another currency than {of.code}", line=row.line, column=name, value=code)
    return of.code
