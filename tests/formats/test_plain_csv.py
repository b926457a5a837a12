"""The documented tables: read strictly, every fault with its line, column and value."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.money import currency
from netnaught.formats import Unreadable, read_bank_book, read_statements, write_bank_book
from tests.strategies import amounts, days

USD, JPY = currency("USD"), currency("JPY")
HEAD = "id,date,reference,description,amount\n"
BOOK = "id,date,reference,payee,memo,amount\n"


def test_statement_table_is_read_and_states_neither_balances_nor_period() -> None:
    (found,) = read_statements(f"{HEAD}A,2026-10-02,17,Check,-5.00\n,2026-10-05,,Deposit,12\n".encode(), USD)
    assert [(r.line.id, r.line.amount, r.bank_id) for r in found.lines] == [("A", -500, "A"), ("L2", 1200, None)]
    assert (found.head.opening, found.head.closing, found.head.dates_stated) == (None, None, False)


text = st.text(st.characters(exclude_categories=["C", "Z"]), max_size=12)


@given(st.lists(st.tuples(days, amounts, text, text, text), min_size=1, max_size=6))
def test_a_written_bank_book_is_read_back(rows: list[tuple[date, int, str, str, str]]) -> None:
    book = tuple(BookEntry(f"B{n}", d, a, r, p, m) for n, (d, a, r, p, m) in enumerate(rows))
    assert read_bank_book(write_bank_book(book, USD), USD) == book


@pytest.mark.parametrize(
    ("table", "line", "column", "value"),
    [
        ("id,date,reference,payee,amount\n", 1, "memo", "id,date,reference,payee,amount"),
        (f"{BOOK}B1,2026-02-30,,p,m,1\n", 2, "date", "2026-02-30"),
        (f"{BOOK}B1,03/04/2026,,p,m,1\n", 2, "date", "03/04/2026"),
        (f"{BOOK}B1,2026-10-01,,p,m,NaN\n", 2, "amount", "NaN"),
        (f"{BOOK}B1,2026-10-01,,p,m,1.005\n", 2, "amount", "1.005"),
        (f"{BOOK}B1,2026-10-01,,p,m,1\n\nB1,2026-10-02,,p,m,1\n", 4, "id", "B1"),
        (f"{BOOK},2026-10-01,,p,m,1\n", 2, "id", ""),
        (f"{BOOK}B1,2026-10-01,,p,m\n", 2, None, None),
        (f'{BOOK}B1,2026-10-01,,"p,m,1\n', 2, None, None),
    ],
)
def test_a_fault_names_line_column_and_value(table: str, line: int, column: str | None, value: str | None) -> None:
    with pytest.raises(Unreadable) as refused:
        read_bank_book(table.encode(), USD)
    assert (refused.value.line, refused.value.column, refused.value.value) == (line, column, value)


def test_decimals_follow_the_currency() -> None:
    with pytest.raises(Unreadable, match="0 decimals of JPY"):
        read_bank_book(f"{BOOK}B1,2026-10-01,,p,m,1.5\n".encode(), JPY)


@pytest.mark.parametrize(
    ("data", "what"),
    [(b"", "empty"), (b"\xff\xfe\x00", "none of the formats"), (b"a\x00b", "none of"), (b"PK\x03\x04", "none of")],
)
def test_foreign_bytes_are_refused(data: bytes, what: str) -> None:
    with pytest.raises(Unreadable, match=what):
        read_statements(data, USD)


@given(st.binary(max_size=200))
def test_any_bytes_are_a_table_or_refused(noise: bytes) -> None:
    for data in (noise, BOOK.encode() + noise):
        try:
            read_bank_book(data, USD)
        except Unreadable as refused:
            assert "\n" not in refused.sentence("book.csv")
