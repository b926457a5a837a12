"""Writing a statement as OFX 1.6 (SGML), as a bank would hand it out; valid against the published DTD."""

from __future__ import annotations

from datetime import date

from netnaught.core.money import Currency, plain
from netnaught.core.statement import LineKind, StatementHead, StatementLine

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
_HEADER = (
    "OFXHEADER:100\r\nDATA:OFXSGML\r\nVERSION:160\r\nSECURITY:NONE\r\nENCODING:UTF-8\r\nCHARSET:NONE\r\n"
    "COMPRESSION:NONE\r\nOLDFILEUID:NONE\r\nNEWFILEUID:NONE\r\n\r\n"
)
# Field lengths of the specification.
_NAME, _MEMO, _CHECK_NUMBER = 32, 255, 12


def _day(day: date) -> str:
    return f"{day:%Y%m%d}120000"


def _text(text: str, most: int) -> str:
    return text[:most].replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _line(line: StatementLine, of: Currency) -> list[str]:
    name, _, memo = line.description.partition(" · ")
    found = [
        "<STMTTRN>",
        f"<TRNTYPE>{_TYPES[line.kind]}",
        f"<DTPOSTED>{_day(line.date)}",
        f"<TRNAMT>{plain(line.amount, of)}",
        f"<FITID>{line.id}",
    ]
    if line.reference:
        tag = "CHECKNUM" if line.kind is LineKind.CHECK else "REFNUM"
        found.append(f"<{tag}>{_text(line.reference, _CHECK_NUMBER)}")
    found.append(f"<NAME>{_text(name or 'Entry', _NAME)}")
    if memo:
        found.append(f"<MEMO>{_text(memo, _MEMO)}")
    return [*found, "</STMTTRN>"]


def write_ofx(
    head: StatementHead,
    lines: tuple[StatementLine, ...],
    of: Currency,
    *,
    bank: str,
    bank_id: str,
    account: str,
) -> bytes:
    """One bank statement. The format has no opening balance: it is not written."""
    parts = [
        "<OFX>",
        "<SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS>",
        f"<DTSERVER>{_day(head.end)}<LANGUAGE>ENG<FI><ORG>{_text(bank, 32)}<FID>{bank_id}</FI></SONRS></SIGNONMSGSRSV1>",
        "<BANKMSGSRSV1><STMTTRNRS><TRNUID>1<STATUS><CODE>0<SEVERITY>INFO</STATUS>",
        f"<STMTRS><CURDEF>{of.code}",
        f"<BANKACCTFROM><BANKID>{bank_id}<ACCTID>{account}<ACCTTYPE>CHECKING</BANKACCTFROM>",
        "<BANKTRANLIST>",
        f"<DTSTART>{_day(head.start)}",
        f"<DTEND>{_day(head.end)}",
    ]
    for line in lines:
        parts += _line(line, of)
    parts.append("</BANKTRANLIST>")
    if head.closing is not None:
        parts.append(f"<LEDGERBAL><BALAMT>{plain(head.closing, of)}<DTASOF>{_day(head.end)}</LEDGERBAL>")
    parts.append("</STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>")
    return (_HEADER + "\r\n".join(parts) + "\r\n").encode()
