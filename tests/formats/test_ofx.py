"""OFX: real files are read, whatever is not certain is refused with its line."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.money import currency
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats import ReadLine, ReadStatement, Unreadable, read_statements, write_ofx

USD = currency("USD")


def sgml(
    lines: str = "", ledger: str = "<LEDGERBAL><BALAMT>100.00<DTASOF>20261031</LEDGERBAL>", code: str = "USD"
) -> bytes:
    return (
        "OFXHEADER:100\nDATA:OFXSGML\nVERSION:102\n\n<OFX>\n<BANKMSGSRSV1><STMTTRNRS><STMTRS>\n"
        f"<CURDEF>{code}\n<BANKACCTFROM><BANKID>1<ACCTID>4410<ACCTTYPE>CHECKING</BANKACCTFROM>\n"
        f"<BANKTRANLIST><DTSTART>20261001<DTEND>20261031\n{lines}</BANKTRANLIST>\n{ledger}\n"
        "</STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>\n"
    ).encode()


def posted(amount: str = "-12.50", day: str = "20261005", ident: str = "F1", rest: str = "<NAME>Shop") -> str:
    return f"<STMTTRN><TRNTYPE>DEBIT<DTPOSTED>{day}<TRNAMT>{amount}<FITID>{ident}{rest}</STMTTRN>\n"


def test_sgml_statement_is_read() -> None:
    (found,) = read_statements(sgml(posted(rest="<CHECKNUM>0017<NAME>Shop<MEMO>Card 12")), USD)
    assert (found.account, found.currency, found.head.closing, found.head.opening) == ("4410", "USD", 10000, None)
    assert (found.head.start, found.head.end) == (date(2026, 10, 1), date(2026, 10, 31))
    (read,) = found.lines
    assert (read.bank_id, read.line.amount, read.line.reference) == ("F1", -1250, "0017")
    assert read.line.description == "Shop · Card 12"


def test_xml_statement_of_a_card_is_read() -> None:
    data = b"""<?xml version="1.0" encoding="UTF-8"?><?OFX OFXHEADER="200" VERSION="211"?>
    <OFX><CREDITCARDMSGSRSV1><CCSTMTTRNRS><CCSTMTRS><CURDEF>USD</CURDEF>
    <CCACCTFROM><ACCTID>7730</ACCTID></CCACCTFROM><BANKTRANLIST><DTSTART>20260921</DTSTART><DTEND>20261020</DTEND>
    <STMTTRN><TRNTYPE>POS</TRNTYPE><DTPOSTED>20260930120000[-5:EST]</DTPOSTED><TRNAMT>-3.10</TRNAMT><FITID>A</FITID>
    <NAME>Fuel &amp; More</NAME></STMTTRN></BANKTRANLIST>
    <LEDGERBAL><BALAMT>-3.10</BALAMT><DTASOF>20261020</DTASOF></LEDGERBAL></CCSTMTRS></CCSTMTTRNRS></CREDITCARDMSGSRSV1></OFX>"""
    (found,) = read_statements(data, USD)
    assert (found.account, found.lines[0].line.description) == ("7730", "Fuel & More")
    assert found.lines[0].line.kind is LineKind.CARD


@pytest.mark.parametrize(
    ("rest", "text"),
    [
        ("<NAME>Smith & Sons", "Smith & Sons"),
        ("<NAME><MEMO>only memo", "only memo"),
        ("<NAME>Caf\u00e9", "Café"),
        ("<NAME>a &lt; b", "a < b"),
    ],
)
def test_texts_as_real_banks_write_them(rest: str, text: str) -> None:
    (found,) = read_statements(sgml(posted(rest=rest)), USD)
    assert found.lines[0].line.description == text


@pytest.mark.parametrize(
    ("amount", "minor"), [("+5", 500), ("-1,234.56", -123456), ("12,50", 1250), (".5", 50), ("-1.234,50", -123450)]
)
def test_amounts_that_can_be_read_in_one_way_only(amount: str, minor: int) -> None:
    (found,) = read_statements(sgml(posted(amount)), USD)
    assert found.lines[0].line.amount == minor


@pytest.mark.parametrize(
    ("data", "line", "value"),
    [
        (sgml(posted("NaN")), 10, "NaN"),
        (sgml(posted("1e3")), 10, "1e3"),
        (sgml(posted("1.234")), 10, "1.234"),
        (sgml(posted(day="20260230")), 10, "20260230"),
        (sgml(posted(day="31.10.2026")), 10, "31.10.2026"),
        (sgml(posted() + posted()), 11, "F1"),
        (sgml(code="EURO"), 7, "EURO"),
        (b"OFXHEADER:100\n<!DOCTYPE OFX [<!ENTITY a 'b'>]>\n<OFX></OFX>", 2, "<!DOCTYPE OFX [<!ENT"),
    ],
)
def test_what_is_not_certain_is_refused_with_its_line(data: bytes, line: int, value: str) -> None:
    with pytest.raises(Unreadable) as refused:
        read_statements(data, USD)
    assert (refused.value.line, refused.value.value) == (line, value)


LINE = posted().replace("\n", "")


@pytest.mark.parametrize(
    ("data", "what"),
    [
        (sgml().replace(b"<ACCTID>4410", b""), "line 6, column ACCTID: the statement names no account"),
        (sgml(LINE.replace("<DTPOSTED>20261005", "")), "column DTPOSTED: the line has no date"),
        (sgml(LINE.replace("<TRNAMT>-12.50", "")), "column TRNAMT: the line has no amount"),
        (
            sgml(ledger="").replace(b"<DTSTART>20261001<DTEND>20261031", b""),
            "the statement has neither lines nor dates",
        ),
        (sgml().replace(b"20261001<DTEND>20261031", b"20261031<DTEND>20261001"), "the period ends before it starts"),
        (sgml().replace(b"<CURDEF>USD", b"<CURDEF>USD<CURDEF>USD"), "<CURDEF> stands twice in <STMTRS>"),
        (
            sgml().replace(b"</BANKTRANLIST>", b"</BANKTRANLIST></INVSTMTRS>"),
            "</INVSTMTRS> closes nothing that is open",
        ),
        (sgml() + b"<OFX></OFX>", "a second <OFX> follows the first: two files have been joined"),
        (sgml(LINE.replace("</STMTTRN>", "<CURRENCY><CURRATE>1<CURSYM>CAD</CURRENCY></STMTTRN>")), "'CAD'"),
        (b"OFXHEADER:100\n\n<OFX><SIGNONMSGSRSV1></SIGNONMSGSRSV1></OFX>", "holds no bank or card statement"),
        (b"OFXHEADER:100\n\n<OFX>" + b"<BANKMSGSRSV1>" * 200, "deep"),
    ],
)
def test_a_fault_is_told_in_a_sentence_with_its_place(data: bytes, what: str) -> None:
    with pytest.raises(Unreadable) as refused:
        read_statements(data, USD)
    assert what in refused.value.sentence("file.ofx")
    assert refused.value.sentence("file.ofx").startswith("file.ofx")


def test_a_balance_of_another_day_is_named_and_the_statement_is_read() -> None:
    late = sgml(posted(), "<LEDGERBAL><BALAMT>100.00<DTASOF>20261104</LEDGERBAL>")
    (found,) = read_statements(late, USD)
    assert [p.what for p in found.problems] == ["the balance is of 2026-11-04, after the period's end 2026-10-31"]


def test_a_file_cut_short_anywhere_is_refused() -> None:
    whole = sgml(posted() + posted(ident="F2"))
    for end in range(70, len(whole) - 8, 7):
        with pytest.raises(Unreadable):
            read_statements(whole[:end], USD)


def test_a_bank_error_message_is_passed_on() -> None:
    data = b"OFXHEADER:100\n<OFX><SIGNONMSGSRSV1><SONRS><STATUS><CODE>15500<SEVERITY>ERROR<MESSAGE>Wrong key</STATUS></SONRS></SIGNONMSGSRSV1></OFX>"
    with pytest.raises(Unreadable, match="Wrong key"):
        read_statements(data, USD)


@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused(noise: bytes) -> None:
    for data in (noise, b"OFXHEADER:100\n<OFX>" + noise, sgml(posted()).replace(b"Shop", noise)):
        try:
            read_statements(data, USD)
        except Unreadable as refused:
            assert "\n" not in refused.sentence("file")


@given(
    st.lists(
        st.tuples(st.integers(-(10**9), 10**9), st.text(st.characters(exclude_categories=["C", "Z"]), max_size=30)),
        max_size=8,
    )
)
def test_what_is_written_is_read_back(rows: list[tuple[int, str]]) -> None:
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), None, sum(a for a, _ in rows))
    lines = tuple(StatementLine(f"F{n}", date(2026, 10, 1 + n), a, "", t or "x") for n, (a, t) in enumerate(rows))
    reads = tuple(ReadLine(x, str(x.id)) for x in lines)
    (found,) = read_statements(write_ofx(ReadStatement("ofx", "B", "4410", "USD", head, reads), USD), USD)
    assert [(r.line.amount, r.line.description) for r in found.lines] == [(x.amount, x.description) for x in lines]
    assert found.head.closing == head.closing
