"""Tables of a bank's own making: read when there is one reading, asked about when there are two."""

from __future__ import annotations

import io
import zipfile
from dataclasses import replace
from datetime import date, timedelta

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st
from reportlab.pdfgen.canvas import Canvas

from netnaught.core.money import currency
from netnaught.core.statement import ControlTotals, StatementHead, StatementLine
from netnaught.formats import (
    Layout,
    ReadLine,
    ReadStatement,
    Unreadable,
    grid_of,
    propose,
    read_statements,
    read_with_layout,
)
from netnaught.formats.tables import ColumnRole, complete, draft_at
from netnaught.formats.tables.values import read_amount, read_day, tells
from netnaught.standins.paper import statement_pdf

USD, EUR = currency("USD"), currency("EUR")
US = """Account Number: 0917 1234
Statement Period: 10/01/2026 - 10/31/2026

Date,Description,Withdrawals,Deposits,Balance
10/02/2026,CHECK 1001,150.00,,850.00
10/05/2026,DEPOSIT,,"1,200.50","2,050.50"
,Totals,150.00,"1,200.50",
"""


def read(table: str, of: object = USD) -> ReadStatement:
    (found,) = read_statements(table.encode(), of)  # type: ignore[arg-type]
    return found


def test_in_and_out_columns_with_period_account_totals_and_running_balance() -> None:
    found = read(US)
    assert (found.format, found.account) == ("delimited", "09171234")
    assert (found.head.start, found.head.end, found.head.dates_stated) == (date(2026, 10, 1), date(2026, 10, 31), True)
    assert (found.head.opening, found.head.closing) == (100_000, 205_050)
    assert found.head.totals == ControlTotals(15_000, -120_050) or found.head.totals == ControlTotals(120_050, -15_000)
    assert found.amounts == [-15_000, 120_050]


def test_a_line_that_breaks_the_running_balance_is_marked() -> None:
    found = read(US.replace('"2,050.50"', '"2,051.50"').replace(',Totals,150.00,"1,200.50",\n', ""))
    assert [(p.where, p.what) for p in found.problems] == [
        ("line 6", "the running balance moves by 1.00 more than the line's amount")
    ]


@pytest.mark.parametrize(
    ("table", "amounts"),
    [
        ("Buchungstag;Text;Betrag\n02.10.2026;Miete;-1.234,50\n03.10.2026;Zins;0,50\n", [-123_450, 50]),
        ("Date,Ref,Details,Dr/Cr,Amount\n2026-03-04,1,a,DR,12.00\n2026-03-05,2,b,CR,13.00\n", [-1200, 1300]),
        ("Date\tText\tCredit\tDebit\n2 Oct 2026\tx\t5.00\t\n3 Oct 2026\ty\t\t7.00\n", [500, -700]),
        (
            "Date,Merchant,Amount,Balance owed\n10/20/2026,PAID,-50.00,30.00\n10/13/2026,FUEL,80.00,80.00\n",
            [-8000, 5000],
        ),
        ("Date,Description,Amount\n2026-10-02,a,($5.00)\n2026-10-03,b,7.00 \n", [-500, 700]),
        ("Date,Description,Amount\n2026-10-02,a,5.00-\n2026-10-03,b,+7.00\n", [-500, 700]),
    ],
)
def test_ways_of_writing_that_can_be_read_in_one_way(table: str, amounts: list[int]) -> None:
    assert read(table, EUR if "Betrag" in table else USD).amounts == amounts


@pytest.mark.parametrize(
    ("table", "question"),
    [
        ("Date,Description,Amount\n03/04/2026,a,-5.00\n05/04/2026,b,6.00\n", "Does 03/04/2026 mean"),
        ("Date;Description;Amount\n2026-03-04;a;-1.234\n", "Is -1.234 more or less than a thousand?"),
        ("Date,Description,Amount\n2026-10-02,a,5.00\n", "No amount has a sign"),
    ],
)
def test_what_can_be_read_in_two_ways_is_put_as_a_question(table: str, question: str) -> None:
    with pytest.raises(Unreadable, match="more than one way") as refused:
        read(table)
    assert question in refused.value.what


def test_a_question_is_settled_by_the_layout_that_answers_it() -> None:
    data = b"Date,Description,Amount\n03/04/2026,a,-5.00\n05/04/2026,b,6.00\n"
    grid = grid_of(data)
    assert grid
    values = propose(grid, USD).layout.values() | {"date_order": "mdy"}
    found = read_with_layout(data, Layout.of_values(values), USD)
    assert [r.line.date for r in found.lines] == [date(2026, 3, 4), date(2026, 5, 4)]
    other = read_with_layout(data, Layout.of_values(values | {"date_order": "dmy"}), USD)
    assert [r.line.date for r in other.lines] == [date(2026, 4, 3), date(2026, 4, 5)]


def test_the_running_balance_settles_the_direction() -> None:
    assert read("Date,Text,Amount,Balance\n2026-10-02,a,5.00,95.00\n2026-10-03,b,6.00,89.00\n").amounts == [-500, -600]


@pytest.mark.parametrize(
    ("table", "line", "column", "value"),
    [
        ("Date,Description,Amount\n2026-10-02,a,-5.123\n2026-10-03,b,6.00\n", 2, "Amount", "-5.123"),
        ("Date,Description,Amount\n2026-10-02,a,NaN\n2026-10-03,b,-6.00\n", 2, "Amount", "NaN"),
        ("Date,Description,Amount\n30/02/2026,a,-5.00\n28/02/2026,b,7.00\n", 2, "Date", "30/02/2026"),
        ("Date,Description,Amount\n2026-10-02,a,-5.00\n,b,7.00\n", 3, "Date", ""),
        ("Date,Description,Debit,Credit\n2026-10-02,a,5.00,5.00\n2026-10-03,a,5.00,\n", 2, "Debit", None),
    ],
)
def test_a_fault_names_line_column_and_value(table: str, line: int, column: str, value: str | None) -> None:
    with pytest.raises(Unreadable) as refused:
        read(table)
    assert (refused.value.line, refused.value.column, refused.value.value) == (line, column, value)


@given(st.dates(date(2000, 1, 1), date(2099, 12, 31)))
def test_every_day_is_read_in_the_order_it_is_written_in(day: date) -> None:
    for order, pattern in (
        ("ymd", "%Y-%m-%d"),
        ("dmy", "%d/%m/%Y"),
        ("mdy", "%m/%d/%Y"),
        ("dmy", "%d %b %Y"),
        ("mdy", "%B %d, %Y"),
    ):
        assert read_day(day.strftime(pattern), order) == day


@given(st.integers(-(10**9), 10**9))
def test_grouped_amounts_are_read_back_in_both_ways_of_writing(minor: int) -> None:
    text = f"{minor / 100:,.2f}" if abs(minor) < 10**9 else "0.00"
    expected = minor if abs(minor) < 10**9 else 0
    assert read_amount(text, ".", USD) == expected
    assert read_amount(text.translate(str.maketrans(",.", ".,")), ",", USD) == expected


def test_one_mark_before_three_digits_tells_nothing() -> None:
    assert [tells(text, EUR) for text in ("1.234", "1,234", "1.23", "1.234,5", "1234")] == [
        "either",
        "either",
        ".",
        ",",
        "",
    ]


def statement(number: int) -> ReadStatement:
    """Lines over several pages, long texts among them."""
    texts = ("DEPOSIT TICKETS", "CHECK PAID WITH A RATHER LONG TEXT THAT RUNS ON BELOW", "TRANSFER")
    lines = tuple(
        ReadLine(
            StatementLine(
                "",
                date(2026, 10, 1) + timedelta(days=n * 30 // number),
                (-1) ** n * (1000 * n + 12_345),
                "" if n % 4 else str(1000 + n),
                texts[n % 3],
            ),
            None,
        )
        for n in range(number)
    )
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 500_000, 500_000 + sum(r.line.amount for r in lines))
    return ReadStatement("", "Hollow Valley Bank", "88008105", "USD", head, lines)


@pytest.mark.parametrize("ruled", [False, True])
def test_a_pdf_of_several_pages_is_read_line_by_line(ruled: bool) -> None:
    given = statement(90)
    (found,) = read_statements(statement_pdf(given, USD, ruled=ruled), USD)
    told = [(r.line.date, r.line.amount, r.line.reference, r.line.description) for r in found.lines]
    assert told == [(r.line.date, r.line.amount, r.line.reference, r.line.description) for r in given.lines]
    assert (found.account, found.head.opening, found.head.closing) == ("88008105", 500_000, given.head.closing)
    assert found.problems == ()


def test_a_scan_a_damaged_and_an_empty_pdf_say_so() -> None:
    out = io.BytesIO()
    Canvas(out).save()
    whole = statement_pdf(statement(3), USD)
    for data, what in ((out.getvalue(), "no text"), (whole[:400], "damaged"), (b"%PDF-1.4 nonsense", "damaged")):
        with pytest.raises(Unreadable, match=what):
            read_statements(data, USD)


def test_dates_and_numbers_of_a_workbook_are_read_exactly() -> None:
    book = openpyxl.Workbook()
    sheet = book.worksheets[0]
    for row in (
        ("My bank", None, None),
        ("Date", "Description", "Amount"),
        (date(2026, 10, 2), "a", -0.1 - 0.2),
        (date(2026, 10, 3), "b", 1234.5),
    ):
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    (found,) = read_statements(out.getvalue(), USD)
    assert [(r.line.date, r.line.amount) for r in found.lines] == [
        (date(2026, 10, 2), -30),
        (date(2026, 10, 3), 123_450),
    ]


def test_a_zip_bomb_is_not_opened() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", b"<workbook/>")
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * 60_000_000)
    with pytest.raises(Unreadable, match="unpacks to 57 MB"):
        read_statements(out.getvalue(), USD)


@given(
    st.lists(
        st.lists(
            st.sampled_from(["2026-10-02", "03/04/2026", "5.00", "-1.234", "x", "", "NaN", "1,00"]),
            min_size=1,
            max_size=5,
        ),
        max_size=6,
    )
)
def test_any_table_is_read_asked_about_or_refused(rows: list[list[str]]) -> None:
    text = "Date,Description,Amount,Balance\n" + "\n".join(",".join(f'"{cell}"' for cell in row) for row in rows)
    try:
        read(text)
    except Unreadable as refused:
        assert "\n" not in refused.sentence("file")


ODD = """Head of the bank
Stand 20.10.2026

Wann;Was;Wozu;Wieviel;Rest
03/10/2026;FUEL STOP;REF3;9,50-;90,50
05/10/2026;FUEL STOP;REF5;1,50;92,00
"""


def test_a_heading_pointed_at_by_hand_is_read_by_what_stands_below_it() -> None:
    with pytest.raises(Unreadable, match="no heading was found"):
        read(ODD)
    grid = grid_of(ODD.encode())
    assert grid
    draft = draft_at(grid, 2)
    # A reference is no amount, though three letters may be a currency; the balance is left to the person.
    assert [role.value for role in draft.roles] == ["date", "text", "ignore", "amount", "ignore"]
    named = draft.with_role(4, ColumnRole.BALANCE)
    proposed = complete(grid, named, frozenset(), USD)
    assert (proposed.layout.date_order, proposed.layout.decimal, proposed.questions) == ("dmy", ",", ())
    found = read_with_layout(ODD.encode(), proposed.layout, USD)
    assert (found.amounts, found.head.opening, found.head.closing) == ([-950, 150], 10_000, 9_200)


def test_a_table_without_any_heading_is_read_and_known_again_by_its_width_and_days() -> None:
    data = b"10/31/2026,FUEL,-9.50\n10/30/2026,FUEL,-1.50\n"
    grid = grid_of(data)
    assert grid
    layout = complete(grid, draft_at(grid, None), frozenset(), USD).layout
    assert (layout.heading, read_with_layout(data, layout, USD).amounts) == ((), [-150, -950])
    for other, known in ((b"11/01/2026,OIL,-3.00\n" * 2, True), (b"OIL,11/01/2026,-3.00\n" * 2, False)):
        again = grid_of(other)
        assert again
        assert layout.knows(again) is known


def test_each_open_question_is_asked_until_a_person_has_stated_its_answer() -> None:
    """Answering one question never answers another in passing."""
    grid = grid_of(b"Date,What,Amount\n03/04/2026,A,5.00\n04/05/2026,B,6.00\n")
    assert grid
    proposed = propose(grid, USD)
    assert [q.setting for q in proposed.questions] == ["date_order", "flip"]
    half = complete(grid, replace(proposed.layout, date_order="dmy"), frozenset({"date_order"}), USD)
    assert ([q.setting for q in half.questions], half.layout.date_order) == (["flip"], "dmy")
    done = complete(grid, replace(half.layout, flip=True), frozenset({"date_order", "flip"}), USD)
    assert (done.questions, done.layout.flip) == ((), True)


@pytest.mark.parametrize(
    ("delimiter", "encoding", "message"),
    [("x", "", "'x': is no sign"), ("", "rot13", "'rot13': is none of"), ("", "utf-8", "line 2: 'e9': is no utf-8")],
)
def test_a_stated_delimiter_or_encoding_that_does_not_fit_is_refused(
    delimiter: str, encoding: str, message: str
) -> None:
    with pytest.raises(Unreadable, match=message):
        grid_of("Date,What,Amount\n10/31/2026,caf\u00e9,5.00\n".encode("cp1252"), delimiter, encoding)
    assert grid_of(b"Date;What\n10/31/2026;a,b\n", ",", "cp850")
