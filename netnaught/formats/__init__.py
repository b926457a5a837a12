"""Bytes in, statements out, and back: the format is found by content, never by file name."""

from __future__ import annotations

from netnaught.core.money import Currency
from netnaught.formats.bai2 import looks_like_bai2, read_bai2
from netnaught.formats.camt053 import looks_like_camt053, read_camt053, write_camt053
from netnaught.formats.mapped import (
    BOOK,
    CHART,
    DETAIL,
    Columns,
    DetailLine,
    Table,
    read_book_table,
    read_detail,
    table_of,
)
from netnaught.formats.mt940 import looks_like_mt940, read_mt940
from netnaught.formats.ofx import read_ofx
from netnaught.formats.ofx_syntax import looks_like_ofx
from netnaught.formats.ofx_writing import write_ofx, write_ofx2
from netnaught.formats.open_items_csv import OPEN_ITEM_COLUMNS, read_open_items
from netnaught.formats.pdf import looks_like_pdf, pdf_grid
from netnaught.formats.plain_csv import (
    BOOK_COLUMNS,
    STATEMENT_COLUMNS,
    is_plain_statement,
    read_bank_book,
    read_plain_statement,
    write_bank_book,
    write_plain_statement,
)
from netnaught.formats.progress import Progress, Stopped, in_steps, watching
from netnaught.formats.reading import Problem, ReadLine, ReadStatement, Unreadable
from netnaught.formats.tables import Grid, Layout, Proposed, delimited_grid, looks_like_delimited, propose, read_grid
from netnaught.formats.xlsx import looks_like_xlsx, write_xlsx, xlsx_grid

__all__ = [
    "BOOK",
    "BOOK_COLUMNS",
    "CHART",
    "DETAIL",
    "FORMATS",
    "OPEN_ITEM_COLUMNS",
    "STATEMENT_COLUMNS",
    "Columns",
    "DetailLine",
    "Layout",
    "Problem",
    "Progress",
    "Proposed",
    "ReadLine",
    "ReadStatement",
    "Stopped",
    "Table",
    "Unreadable",
    "grid_of",
    "in_steps",
    "propose",
    "read_bank_book",
    "read_book_table",
    "read_detail",
    "read_open_items",
    "read_statements",
    "read_with_layout",
    "table_of",
    "watching",
    "write_bank_book",
    "write_camt053",
    "write_ofx",
    "write_ofx2",
    "write_plain_statement",
    "write_xlsx",
]

# The closed list of names that a reading reports.
FORMATS = ("ofx", "camt.053", "mt940", "bai2", "csv", "delimited", "xlsx", "pdf")

_NAMED = (
    (looks_like_ofx, read_ofx),
    (looks_like_camt053, read_camt053),
    (looks_like_mt940, read_mt940),
    (looks_like_bai2, read_bai2),
)


def grid_of(data: bytes, delimiter: str = "", encoding: str = "") -> Grid | None:
    """The grid of a file that only a layout can read; None for formats that need none.

    `delimiter`, `encoding`: of delimited text, where a person has stated them.
    """
    if any(looks(data) for looks, _ in _NAMED):
        return None
    if looks_like_pdf(data):
        return pdf_grid(data)
    if looks_like_xlsx(data):
        return xlsx_grid(data)
    if looks_like_delimited(data):
        grid = delimited_grid(data, delimiter, encoding)
        plain = bool(grid.rows) and is_plain_statement(",".join(grid.rows[0].cells)) and grid.delimiter == ","
        return None if plain else grid
    return None


def read_with_layout(data: bytes, layout: Layout, of: Currency) -> ReadStatement:
    """A delimited, XLSX or PDF statement read as its layout says."""
    delimited = layout.form == "delimited"
    grid = delimited_grid(data, layout.delimiter, layout.encoding) if delimited else grid_of(data)
    if grid is None or grid.form != layout.form:
        raise Unreadable(f"the layout is one of {layout.form}; the file is something else", line=1)
    return read_grid(grid, layout, of)


def read_statements(data: bytes, of: Currency) -> tuple[ReadStatement, ...]:
    """Every statement in a file. `of`: the currency of formats that state none.

    A table without a layout is read only when it can be read in one way; what is open is
    named as a question. Unreadable says what is wrong and where; nothing is half-read.
    """
    if not data.strip():
        raise Unreadable("the file is empty")
    for looks, read in _NAMED:
        if looks(data):
            return read(data)
    if data.lstrip()[:5] == b"<?xml" or data.lstrip()[:9] == b"<Document":
        return read_camt053(data)
    grid = grid_of(data)
    if grid is not None:
        proposed = propose(grid, of)
        if proposed.questions:
            asked = " ".join(question.text for question in proposed.questions)
            raise Unreadable(f"the table can be read in more than one way: {asked} State it in a layout.", line=1)
        return (read_grid(grid, proposed.layout, of),)
    if looks_like_delimited(data):
        return (read_plain_statement(data, of),)
    first = data[:60].split(b"\n")[0].decode("utf-8", "replace").strip()
    raise Unreadable("this is none of the formats that are read (see docs/formats.md)", line=1, value=first)
