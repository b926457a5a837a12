"""Tables of books kept elsewhere, as delimited text or XLSX, whose columns a person may point out.

Each kind of table has roles; a column is proposed for a role by its name. What can be read in two ways (the
order of a date, the decimal sign) must be stated; nothing is guessed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from netnaught.core.ledger import BookEntry
from netnaught.core.money import Currency
from netnaught.formats.reading import Unreadable
from netnaught.formats.tables.grid import Grid, GridRow, delimited_grid, looks_like_delimited
from netnaught.formats.tables.values import ORDERS, read_amount, read_day, tells
from netnaught.formats.xlsx import looks_like_xlsx, xlsx_grid

BOOK = ("id", "date", "reference", "payee", "memo", "amount", "in", "out")
CHART = ("number", "name", "kind")
DETAIL = ("journal", "date", "account", "amount", "debit", "credit", "memo")
_NEEDED = {BOOK: ("id", "date"), CHART: CHART, DETAIL: ("journal", "date", "account")}
_PAIRS = {BOOK: ("in", "out"), DETAIL: ("debit", "credit")}
# Names that such columns commonly have, by role.
_NAMES = {
    "id": "id entry number no nr key",
    "date": "date day posted booked",
    "reference": "reference ref check cheque voucher document",
    "payee": "payee party name payer",
    "memo": "memo description text note details",
    "amount": "amount total value",
    "in": "in received deposit receipts",
    "out": "out paid payment payments",
    "journal": "journal entry id number",
    "account": "account gl code",
    "debit": "debit dr",
    "credit": "credit cr",
    "number": "number code account no",
    "name": "name title description",
    "kind": "kind type class",
}


@dataclass(frozen=True, slots=True)
class Columns:
    """Which column (by its heading) has which role, and how days and amounts are written; "" where not stated."""

    by_role: Mapping[str, str] = field(default_factory=dict)
    order: str = ""
    decimal: str = ""


@dataclass(frozen=True, slots=True)
class Table:
    """A table with its heading; `columns`: as proposed or stated; `missing`: what must still be said before it is read."""

    roles: tuple[str, ...]
    heading: tuple[str, ...]
    rows: tuple[GridRow, ...]
    columns: Columns
    missing: tuple[str, ...]

    def cell(self, row: GridRow, role: str) -> str:
        """The cell of a role; empty where no column has it."""
        name = self.columns.by_role.get(role, "")
        return row.cell(self.heading.index(name)) if name in self.heading else ""

    def day(self, row: GridRow) -> date:
        """The date of a row."""
        text = self.cell(row, "date")
        found = read_day(text, self.columns.order or "ymd")
        if found is None:
            raise Unreadable("is no date in the order stated", line=row.line, column="date", value=text)
        return found

    def amount(self, row: GridRow, of: Currency) -> int:
        """The signed amount of a row: from one column, or from the pair of its kind, first minus second."""
        if self.columns.by_role.get("amount"):
            return self._money(row, "amount", of)
        plus, minus = _PAIRS[self.roles]
        given = [self._money(row, role, of) if self.cell(row, role) else 0 for role in (plus, minus)]
        return abs(given[0]) - abs(given[1])

    def _money(self, row: GridRow, role: str, of: Currency) -> int:
        text = self.cell(row, role)
        found = read_amount(text, self.columns.decimal or ".", of)
        if found is None:
            raise Unreadable(f"is no amount in {of.code}", line=row.line, column=role, value=text)
        return found


def table_of(data: bytes, roles: tuple[str, ...], of: Currency, stated: Columns | None = None) -> Table:
    """The table in a file. `stated`: what a person has said; the rest is proposed."""
    grid = _grid(data)
    if not grid.rows:
        raise Unreadable("the table has no rows", line=1)
    heading = tuple(cell.strip() for cell in grid.rows[0].cells)
    doubled = next((name for name in heading if name and heading.count(name) > 1), None)
    if doubled:
        raise Unreadable("the column stands twice in the header", line=1, column=doubled, value=",".join(heading))
    rows = tuple(grid.rows[1:])
    if not rows:
        raise Unreadable("the table has a header but no rows", line=2)
    stated = stated or Columns()
    by_role = {**_proposed(heading, roles), **{r: c for r, c in stated.by_role.items() if r in roles}}
    for role, column in by_role.items():
        if column and column not in heading:
            raise Unreadable("is no column of this table", line=1, column=role, value=column)
    draft = Table(roles, heading, rows, Columns(by_role, stated.order, stated.decimal), ())
    order, order_open = _order(draft, stated.order)
    decimal, decimal_open = _decimal(draft, of, stated.decimal)
    missing = [role for role in _NEEDED[roles] if not by_role.get(role)]
    pair = _PAIRS.get(roles)
    if pair and not by_role.get("amount") and not all(by_role.get(role) for role in pair):
        missing.append("amount")
    missing += ["order"] * order_open + ["decimal"] * decimal_open
    return Table(roles, heading, rows, Columns(by_role, order, decimal), tuple(missing))


def _grid(data: bytes) -> Grid:
    if not data.strip():
        raise Unreadable("the file is empty")
    if looks_like_xlsx(data):
        return xlsx_grid(data)
    if looks_like_delimited(data):
        return delimited_grid(data)
    raise Unreadable("is no table: neither delimited text nor XLSX", line=1)


def _proposed(heading: Sequence[str], roles: Sequence[str]) -> dict[str, str]:
    """A column for each role by its name: the very word first, then a name that holds one of its words; each once."""
    found: dict[str, str] = {}
    for exact in (True, False):
        for role in roles:
            for name in heading:
                words = name.lower().replace("_", " ").replace("-", " ").split()
                fits = name.lower() == role if exact else bool(set(words) & set(_NAMES[role].split()))
                if fits and role not in found and name not in found.values():
                    found[role] = name
    if "amount" in found:
        found = {role: name for role, name in found.items() if role not in ("in", "out", "debit", "credit")}
    return found


def _order(table: Table, stated: str) -> tuple[str, bool]:
    """The order of dates: stated, or the only one that fits every row; and whether it must be asked."""
    if "date" not in table.roles or not table.columns.by_role.get("date") or stated in ORDERS:
        return stated, False
    texts = [table.cell(row, "date") for row in table.rows]
    fitting = [order for order in ORDERS if all(read_day(text, order) for text in texts)]
    if len({tuple(read_day(text, order) for text in texts) for order in fitting}) == 1:
        return fitting[0], False
    return "", bool(fitting)


def _decimal(table: Table, of: Currency, stated: str) -> tuple[str, bool]:
    """The decimal sign: stated, or told by an amount; and whether it must be asked."""
    if stated in (".", ","):
        return stated, False
    roles = ("amount", *_PAIRS.get(table.roles, ()))
    texts = [table.cell(row, role) for row in table.rows for role in roles if table.cell(row, role)]
    told = {sign for text in texts if (sign := tells(text, of)) in (".", ",")}
    if len(told) == 1:
        return told.pop(), False
    both = [text for text in texts if read_amount(text, ".", of) != read_amount(text, ",", of)]
    return (".", False) if not both else ("", True)


def read_book_table(table: Table, of: Currency) -> tuple[BookEntry, ...]:
    """The entries of a bank book; ids required and unique."""
    seen: dict[str, int] = {}
    entries: list[BookEntry] = []
    for row in table.rows:
        ident = table.cell(row, "id")
        if not ident or ident in seen:
            what = f"the id stands on line {seen[ident]} too" if ident else "every entry of a bank book needs an id"
            raise Unreadable(what, line=row.line, column="id", value=ident)
        seen[ident] = row.line
        texts = (table.cell(row, role) for role in ("reference", "payee", "memo"))
        entries.append(BookEntry(ident, table.day(row), table.amount(row, of), *texts))
    return tuple(entries)


@dataclass(frozen=True, slots=True)
class DetailLine:
    """A line of the general ledger's detail. `amount`: minor units, positive = debit of the books."""

    line: int
    journal: str
    date: date
    account: str
    amount: int
    memo: str


def read_detail(table: Table, of: Currency) -> tuple[DetailLine, ...]:
    """The lines of a general ledger's detail, in file order."""
    return tuple(
        DetailLine(
            row.line,
            table.cell(row, "journal"),
            table.day(row),
            table.cell(row, "account"),
            table.amount(row, of),
            table.cell(row, "memo"),
        )
        for row in table.rows
    )
