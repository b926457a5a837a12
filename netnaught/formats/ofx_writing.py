"""Writing a statement as OFX 1.6 (SGML) or 2.0 (XML), valid against the published DTDs."""

from __future__ import annotations

import re
from datetime import date

from netnaught.core.money import Currency, plain
from netnaught.core.statement import LineKind
from netnaught.formats.reading import ReadLine, ReadStatement

_TYPES = {
    LineKind.CHECK: "CHECK",
    LineKind.DEPOSIT: "DEP",
    LineKind.PAYMENT: "PAYMENT",
    LineKind.TRANSFER: "XFER",
    LineKind.CARD: "POS",
    LineKind.CASH: "ATM",
    LineKind.FEE: "FEE",
    LineKind.INTEREST: "INT",
    LineKind.DIRECT_DEBIT: "DIRECTDEBIT",
    LineKind.OTHER: "OTHER",
}
_SGML = (
    "OFXHEADER:100\r\nDATA:OFXSGML\r\nVERSION:160\r\nSECURITY:NONE\r\nENCODING:UTF-8\r\nCHARSET:NONE\r\n"
    "COMPRESSION:NONE\r\nOLDFILEUID:NONE\r\nNEWFILEUID:NONE\r\n\r\n"
)
_XML = (
    '<?xml version="1.0" encoding="UTF-8"?>\r\n'
    '<?OFX OFXHEADER="200" VERSION="201" SECURITY="NONE" OLDFILEUID="NONE" NEWFILEUID="NONE"?>\r\n'
)
# Field lengths of the specification.
_NAME, _MEMO, _CHECK_NUMBER, _ACCOUNT, _BANK = 32, 255, 12, 22, 9
# A value's end tag may be left out in SGML and must stand in XML.
_VALUE = re.compile(r"<([A-Z0-9]+)>([^<\r\n]+)")


def _day(day: date) -> str:
    return f"{day:%Y%m%d}120000"


def _text(text: str, most: int) -> str:
    return text[:most].replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _line(read: ReadLine, place: int, of: Currency) -> list[str]:
    line = read.line
    name, _, memo = line.description.partition(" · ")
    if len(name) > _NAME:
        name, memo = "", line.description
    found = ["<STMTTRN>", f"<TRNTYPE>{_TYPES[line.kind]}", f"<DTPOSTED>{_day(line.date)}"]
    if line.value_date:
        found.append(f"<DTAVAIL>{_day(line.value_date)}")
    found += [f"<TRNAMT>{plain(line.amount, of)}", f"<FITID>{_text(read.bank_id or f'L{place}', 255)}"]
    if line.reference:
        short = len(line.reference) <= _CHECK_NUMBER and line.kind is LineKind.CHECK
        found.append(f"<{'CHECKNUM' if short else 'REFNUM'}>{_text(line.reference, 32)}")
    if name:
        found.append(f"<NAME>{_text(name, _NAME)}")
    if memo:
        found.append(f"<MEMO>{_text(memo, _MEMO)}")
    return [*found, "</STMTTRN>"]


def _body(statement: ReadStatement, of: Currency, bank_id: str) -> str:
    head = statement.head
    account = _text(statement.account or "0", _ACCOUNT)
    parts = [
        "<OFX>",
        "<SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS>",
        f"<DTSERVER>{_day(head.end)}<LANGUAGE>ENG<FI><ORG>{_text(statement.bank or 'Bank', 32)}<FID>{bank_id}</FI></SONRS>"
        "</SIGNONMSGSRSV1>",
        "<BANKMSGSRSV1><STMTTRNRS><TRNUID>1<STATUS><CODE>0<SEVERITY>INFO</STATUS>",
        f"<STMTRS><CURDEF>{of.code}",
        f"<BANKACCTFROM><BANKID>{bank_id}<ACCTID>{account}<ACCTTYPE>CHECKING</BANKACCTFROM>",
        "<BANKTRANLIST>",
        f"<DTSTART>{_day(head.start)}",
        f"<DTEND>{_day(head.end)}",
    ]
    for place, read in enumerate(statement.lines, 1):
        parts += _line(read, place, of)
    parts.append("</BANKTRANLIST>")
    closing = 0 if head.closing is None else head.closing
    parts.append(f"<LEDGERBAL><BALAMT>{plain(closing, of)}<DTASOF>{_day(head.end)}</LEDGERBAL>")
    parts.append("</STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>")
    return "\r\n".join(parts) + "\r\n"


def write_ofx(statement: ReadStatement, of: Currency, bank_id: str = "000000000") -> bytes:
    """One bank statement as OFX 1.6. The format has no opening balance: it is not written."""
    return (_SGML + _body(statement, of, bank_id[:_BANK])).encode()


def write_ofx2(statement: ReadStatement, of: Currency, bank_id: str = "000000000") -> bytes:
    """The same as OFX 2.0.1, in XML."""
    return (_XML + _VALUE.sub(r"<\1>\2</\1>", _body(statement, of, bank_id[:_BANK]))).encode()
