"""OFX against the outside: the specification's example, the published DTDs, an independent reader."""

from __future__ import annotations

import subprocess
from datetime import date
from io import BytesIO
from pathlib import Path

import pytest
from ofxtools.Parser import OFXTree

from netnaught.core.money import currency, plain
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats import ReadLine, ReadStatement, read_statements, write_ofx

USD = currency("USD")
# The DTDs that OFX publishes, as Debian's package libofx7 ships them.
DTD = Path("/usr/share/libofx7/libofx/dtd")

# OFX 1.6 specification, section 11.14, "Statement download": the response's statement.
SPECIFICATION = b"""OFXHEADER:100
DATA:OFXSGML
VERSION:160
SECURITY:NONE
ENCODING:USASCII
CHARSET:1252
COMPRESSION:NONE
OLDFILEUID:NONE
NEWFILEUID:NONE

<OFX><SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS><DTSERVER>20051029101003<LANGUAGE>ENG
<DTPROFUP>20041029101003<DTACCTUP>20041029101003<FI><ORG>NCH<FID>1001</FI></SONRS></SIGNONMSGSRSV1>
<BANKMSGSRSV1><STMTTRNRS><TRNUID>1001<STATUS><CODE>0<SEVERITY>INFO</STATUS><STMTRS><CURDEF>USD
<BANKACCTFROM><BANKID>121099999<ACCTID>999988<ACCTTYPE>CHECKING</BANKACCTFROM>
<BANKTRANLIST><DTSTART>20051001<DTEND>20051028
<STMTTRN><TRNTYPE>CHECK<DTPOSTED>20051004<TRNAMT>-200.00<FITID>00002<CHECKNUM>1000</STMTTRN>
<STMTTRN><TRNTYPE>ATM<DTPOSTED>20051020<DTUSER>20051020<TRNAMT>-300.00<FITID>00003</STMTTRN>
</BANKTRANLIST><LEDGERBAL><BALAMT>200.29<DTASOF>200510291120</LEDGERBAL>
<AVAILBAL><BALAMT>200.29<DTASOF>200510291120</AVAILBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>
"""


def written() -> bytes:
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), None, 123_456)
    lines = tuple(
        StatementLine(f"LM-{n}", date(2026, 10, 1 + n), (-1) ** n * 1000 * (n + 1), str(2290 + n), f"A & B <{n}>", kind)
        for n, kind in enumerate(LineKind)
    )
    reads = tuple(ReadLine(x, str(x.id)) for x in lines)
    return write_ofx(ReadStatement("ofx", "Lantern Mutual", "7004104410", "USD", head, reads), USD, "091000019")


def test_specification_example_is_read_as_the_specification_says() -> None:
    (found,) = read_statements(SPECIFICATION, USD)
    assert [(r.line.kind, r.line.amount, r.line.reference) for r in found.lines] == [
        (LineKind.CHECK, -20000, "1000"),
        (LineKind.CASH, -30000, ""),
    ]
    assert (found.head.closing, found.account, found.bank) == (20029, "999988", "NCH")


def test_what_we_write_is_valid_against_the_published_dtd(tmp_path: Path) -> None:
    """`onsgmls -s` (package opensp) with OFX's own declaration and document type."""
    if not (DTD / "ofx160.dtd").exists():
        pytest.fail("the OFX document types are missing: run `make browser`")
    body = written()[written().index(b"<OFX>") :]
    document = tmp_path / "statement.sgml"
    document.write_bytes(body)
    parts = [str(DTD / "opensp.dcl"), str(DTD / "ofx160.dtd"), str(document)]
    checked = subprocess.run(["onsgmls", "-s", *parts], capture_output=True, text=True, check=False)
    assert [row for row in checked.stderr.splitlines() if ":E:" in row] == []
    spoiled = body.replace(b"<FITID>", b"<NOSUCHTAG>", 1)
    document.write_bytes(spoiled)
    assert subprocess.run(["onsgmls", "-s", *parts], capture_output=True, check=False).returncode


def test_an_independent_reader_agrees_line_by_line() -> None:
    tree = OFXTree()
    tree.parse(BytesIO(written()))
    theirs = tree.convert().statements[0]
    (ours,) = read_statements(written(), USD)
    assert [(str(t.fitid), str(t.trnamt)) for t in theirs.transactions] == [
        (r.bank_id, plain(r.line.amount, USD)) for r in ours.lines
    ]
    assert str(theirs.ledgerbal.balamt) == "1234.56"
