"""Spreadsheets (XLSX): a table of a statement read as a grid, and a stored statement written.

Guarded against zip bombs before anything is unpacked. A number's shortest decimal writing is
taken (12.1, not 12.0999…); what has more decimals than its currency after that is refused.
"""

from __future__ import annotations

import zipfile
from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal
from io import BytesIO

import openpyxl
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from netnaught.core.money import Currency, plain
from netnaught.formats.progress import EVERY, Stopped, came_to
from netnaught.formats.reading import LARGEST_FILE, ReadStatement, Unreadable
from netnaught.formats.tables.grid import MOST_ROWS, Grid, GridRow
from netnaught.formats.tables.layout import ColumnRole
from netnaught.formats.tables.propose import role_of

FORMAT = "xlsx"
# Unpacked, a workbook of 200,000 rows stays well below this; a bomb does not.
LARGEST_UNPACKED = 256 * 1024 * 1024
HIGHEST_RATIO = 200
# The shortest writing of a sum that a spreadsheet computed may still carry its noise.
_NOISE_DIGITS = 7


def looks_like_xlsx(data: bytes) -> bool:
    """Whether the content is a zip archive with a workbook in it."""
    if not data.startswith(b"PK\x03\x04"):
        return False
    try:
        with zipfile.ZipFile(BytesIO(data)) as archive:
            return "xl/workbook.xml" in archive.namelist()
    except Exception:  # no whole archive: the reader says what is wrong
        return b"xl/" in data


def xlsx_grid(data: bytes) -> Grid:
    """The first sheet that has a table, as a grid of texts; dates as ISO days."""
    _guard(data)
    try:
        book = openpyxl.load_workbook(BytesIO(data), read_only=True, data_only=True)
        sheets = [(sheet.title, _rows(sheet)) for sheet in book.worksheets]
        book.close()
    except (Unreadable, Stopped):
        raise
    except Exception as error:  # a damaged archive fails in many ways of the libraries below
        raise Unreadable(f"the workbook cannot be read: {(str(error).splitlines() or ['damaged'])[0]}") from None
    filled = [rows for _, rows in sheets if len(rows) > 1]
    if not filled:
        raise Unreadable("the workbook has no sheet with a table")
    table = max(filled, key=lambda rows: (_has_heading(rows), len(list(rows))))
    texts = tuple(" ".join(cell for cell in row.cells if cell) for rows in filled if rows is not table for row in rows)
    return Grid("xlsx", tuple(table), texts=texts[:200])


def _has_heading(rows: Iterable[GridRow]) -> bool:
    """Whether a row names a date and an amount."""
    for row in list(rows)[:60]:
        roles = {role_of(cell) for cell in row.cells if cell}
        if ColumnRole.DATE in roles and {ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT} & roles:
            return True
    return False


def _guard(data: bytes) -> None:
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    try:
        with zipfile.ZipFile(BytesIO(data)) as archive:
            parts = archive.infolist()
            declared = any(_declares(archive, part) for part in parts if part.filename.endswith((".xml", ".rels")))
    except Exception:  # as above
        raise Unreadable("the workbook is damaged: it is no whole zip archive") from None
    if declared:
        raise Unreadable("the workbook declares entities (DTD), which are not read")
    unpacked = sum(part.file_size for part in parts)
    if unpacked > LARGEST_UNPACKED or unpacked > HIGHEST_RATIO * max(len(data), 4096):
        raise Unreadable(f"the workbook unpacks to {unpacked // 1024 // 1024} MB and is not opened")


def _declares(archive: zipfile.ZipFile, part: zipfile.ZipInfo) -> bool:
    """Whether a part begins with a declaration; only its beginning is unpacked."""
    with archive.open(part) as file:
        return b"<!" in file.read(2048)


def _rows(sheet: Worksheet) -> list[GridRow]:
    found: list[GridRow] = []
    for number, cells in enumerate(sheet.iter_rows(values_only=True), 1):
        if number % EVERY == 0:
            came_to("reading its rows", number, sheet.max_row or number)
        texts = tuple(_text(cell) for cell in cells)
        if any(texts):
            found.append(GridRow(number, texts))
        if len(found) > MOST_ROWS:
            raise Unreadable(f"the table has more than {MOST_ROWS} rows", line=number)
    return found


def _text(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        return cell.date().isoformat()
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, bool):
        return str(cell).upper()
    if isinstance(cell, float):
        near = round(cell, _NOISE_DIGITS)
        text = repr(near) if "e" not in repr(near) else f"{near:.{_NOISE_DIGITS}f}"
        return text.removesuffix(".0")
    return " ".join(str(cell).split())


_DANGEROUS = ("=", "+", "-", "@", "\t", "\r", "\n")
COLUMNS = ("id", "date", "value date", "reference", "description", "kind", "amount")


def safe_cell(text: str) -> str:
    """A text that no spreadsheet takes for a formula (OWASP's prefixes get an apostrophe before them)."""
    return f"'{text}" if text.startswith(_DANGEROUS) else text


def write_xlsx(statement: ReadStatement, of: Currency) -> bytes:
    """One statement: its head on one sheet, its lines on another, amounts as numbers."""
    book = openpyxl.Workbook()
    book.remove(book.worksheets[0])
    lines = book.create_sheet("Lines")
    lines.append(COLUMNS)
    pattern = "#,##0" + ("." + "0" * of.digits if of.digits else "")
    for read in statement.lines:
        line = read.line
        texts = (line.reference, line.description, line.kind.value)
        lines.append(
            [
                read.bank_id or "",
                line.date,
                line.value_date,
                *(safe_cell(text) for text in texts),
                _number(line.amount, of),
            ]
        )
    for cell in lines[1]:
        cell.font = Font(bold=True)
    for row in lines.iter_rows(min_row=2, min_col=2, max_col=len(COLUMNS)):
        for cell in (*row[:2], row[-1]):
            cell.number_format = pattern if cell is row[-1] else "yyyy-mm-dd"
    head = book.create_sheet("Statement")
    period = f"{statement.head.start} to {statement.head.end}"
    for name, value in (
        ("Bank", safe_cell(statement.bank)),
        ("Account number", safe_cell(statement.account)),
        ("Currency", of.code),
        ("Statement period", period),
        ("Opening balance", None if statement.head.opening is None else _number(statement.head.opening, of)),
        ("Closing balance", None if statement.head.closing is None else _number(statement.head.closing, of)),
    ):
        head.append([name, value])
    out = BytesIO()
    book.save(out)
    return out.getvalue()


def _number(amount: int, of: Currency) -> Decimal:
    """A number for the cell, exact."""
    return Decimal(plain(amount, of))


def rows_as_xlsx(title: str, columns: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """A workbook of one sheet of texts; what looks like a formula must have been made harmless before."""
    book = openpyxl.Workbook()
    sheet = book.active or book.create_sheet()
    sheet.title = title
    sheet.append(list(columns))
    for row in rows:
        sheet.append(list(row))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    out = BytesIO()
    book.save(out)
    return out.getvalue()
