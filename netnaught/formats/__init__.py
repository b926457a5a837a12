"""Bytes in, statements out: the format is found by content, never by file name."""

from __future__ import annotations

from netnaught.core.money import Currency
from netnaught.formats.ofx import read_ofx
from netnaught.formats.ofx_syntax import looks_like_ofx
from netnaught.formats.ofx_writing import write_ofx
from netnaught.formats.plain_csv import (
    BOOK_COLUMNS,
    STATEMENT_COLUMNS,
    is_plain_statement,
    read_bank_book,
    read_plain_statement,
    write_bank_book,
)
from netnaught.formats.reading import Problem, ReadLine, ReadStatement, Unreadable
from netnaught.formats.table import decode

__all__ = [
    "BOOK_COLUMNS",
    "STATEMENT_COLUMNS",
    "Problem",
    "ReadLine",
    "ReadStatement",
    "Unreadable",
    "read_bank_book",
    "read_statements",
    "write_bank_book",
    "write_ofx",
]


def read_statements(data: bytes, of: Currency) -> tuple[ReadStatement, ...]:
    """Every statement in a file. `of`: the currency of formats that state none.

    Unreadable says what is wrong and where; nothing is half-read.
    """
    if not data.strip():
        raise Unreadable("the file is empty")
    if looks_like_ofx(data):
        return read_ofx(data)
    text = decode(data)
    if is_plain_statement(text):
        return (read_plain_statement(data, of),)
    raise Unreadable(
        f"this is neither an OFX file nor a table with the header {','.join(STATEMENT_COLUMNS)}",
        line=1,
        value=text.splitlines()[0] if text.splitlines() else "",
    )
