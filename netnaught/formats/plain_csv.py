"""The two documented tables: a statement, and a bank book. See docs/formats.md."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from netnaught.core.ledger import BookEntry
from netnaught.core.money import Currency, plain
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats.reading import ReadLine, ReadStatement, Unreadable, iso_date, table_amount
from netnaught.formats.table import TableRow, decode, header_of, table_rows

STATEMENT_COLUMNS = ("id", "date", "reference", "description", "amount")
BOOK_COLUMNS = ("id", "date", "reference", "payee", "memo", "amount")
FORMAT = "csv"


def is_plain_statement(text: str) -> bool:
    """Whether the first row is, or is meant to be, the documented statement header: at most one name is missing."""
    return len(set(STATEMENT_COLUMNS) & set(header_of(text))) >= len(STATEMENT_COLUMNS) - 1


def _unique(seen: dict[str, int], row: TableRow) -> str:
    ident = row.fields["id"].strip()
    if ident in seen:
        raise Unreadable(f"the id stands on line {seen[ident]} too", line=row.line, column="id", value=ident)
    if ident:
        seen[ident] = row.line
    return ident


def read_plain_statement(data: bytes, of: Currency) -> ReadStatement:
    """A statement table, amounts in currency `of`. The format states neither balances nor period."""
    seen: dict[str, int] = {}
    lines: list[ReadLine] = []
    for number, row in enumerate(table_rows(decode(data), STATEMENT_COLUMNS), 1):
        ident = _unique(seen, row)
        line = StatementLine(
            id=ident or f"L{number}",
            date=iso_date(row.fields["date"], line=row.line, column="date"),
            amount=table_amount(row.fields["amount"], of, line=row.line, column="amount"),
            reference=row.fields["reference"].strip(),
            description=row.fields["description"].strip(),
            kind=LineKind.OTHER,
        )
        lines.append(ReadLine(line, ident or None))
    if not lines:
        raise Unreadable("the table has a header but no rows", line=2)
    dates = [read.line.date for read in lines]
    head = StatementHead(min(dates), max(dates), None, None, dates_stated=False)
    return ReadStatement(FORMAT, "", "", None, head, tuple(lines))


def write_plain_statement(statement: ReadStatement, of: Currency) -> bytes:
    """The inverse of `read_plain_statement`; texts that a spreadsheet would take for formulas are written as they are."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(STATEMENT_COLUMNS)
    for read in statement.lines:
        line = read.line
        writer.writerow(
            (read.bank_id or "", line.date.isoformat(), line.reference, line.description, plain(line.amount, of))
        )
    return out.getvalue().encode()


def read_bank_book(data: bytes, of: Currency) -> tuple[BookEntry, ...]:
    """A bank book table, amounts in currency `of`, ids required and unique, in file order."""
    text = decode(data)
    seen: dict[str, int] = {}
    entries: list[BookEntry] = []
    for row in table_rows(text, BOOK_COLUMNS):
        ident = _unique(seen, row)
        if not ident:
            raise Unreadable("every entry of a bank book needs an id", line=row.line, column="id", value="")
        entries.append(
            BookEntry(
                id=ident,
                date=iso_date(row.fields["date"], line=row.line, column="date"),
                amount=table_amount(row.fields["amount"], of, line=row.line, column="amount"),
                reference=row.fields["reference"].strip(),
                payee=row.fields["payee"].strip(),
                memo=row.fields["memo"].strip(),
            )
        )
    return tuple(entries)


def write_bank_book(entries: Iterable[BookEntry], of: Currency) -> bytes:
    """The inverse of `read_bank_book`."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(BOOK_COLUMNS)
    for entry in entries:
        writer.writerow(
            (entry.id, entry.date.isoformat(), entry.reference, entry.payee, entry.memo, plain(entry.amount, of))
        )
    return out.getvalue().encode()
