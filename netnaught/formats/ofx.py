"""OFX statements, 1.x and 2.x: bank and credit card, one or several accounts in a file.

The format carries a ledger balance (closing) and no opening balance.
"""

from __future__ import annotations

import re
from datetime import date

from netnaught.core.money import Currency, MoneyError, currency, parse_plain
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats.ofx_syntax import Node, decode_ofx, parse_ofx
from netnaught.formats.progress import in_steps
from netnaught.formats.reading import Problem, ReadLine, ReadStatement, Unreadable

FORMAT = "ofx"

_KINDS = {
    "CHECK": LineKind.CHECK,
    "DEP": LineKind.DEPOSIT,
    "DIRECTDEP": LineKind.DEPOSIT,
    "CREDIT": LineKind.DEPOSIT,
    "DEBIT": LineKind.PAYMENT,
    "PAYMENT": LineKind.PAYMENT,
    "REPEATPMT": LineKind.PAYMENT,
    "XFER": LineKind.TRANSFER,
    "POS": LineKind.CARD,
    "ATM": LineKind.CASH,
    "CASH": LineKind.CASH,
    "FEE": LineKind.FEE,
    "SRVCHG": LineKind.FEE,
    "INT": LineKind.INTEREST,
    "DIV": LineKind.INTEREST,
    "DIRECTDEBIT": LineKind.DIRECT_DEBIT,
}
_DATE = re.compile(r"(\d{4})(\d{2})(\d{2})(?:\d{2}(?:\d{2}(?:\d{2})?)?)?(?:\.\d+)?(?:\s*\[[^\]]*\])?", re.ASCII)


def read_ofx(data: bytes) -> tuple[ReadStatement, ...]:
    """Every bank and card statement in the file, in file order; Unreadable if there is none."""
    root = parse_ofx(decode_ofx(data))
    bank = root.value("SIGNONMSGSRSV1", "SONRS", "FI", "ORG")
    found = [_statement(node, bank) for tag in ("STMTRS", "CCSTMTRS") for node in root.every(tag)]
    if found:
        return tuple(found)
    for status in root.every("STATUS"):
        if status.value("CODE") not in ("", "0"):
            what = status.value("MESSAGE") or "no message"
            raise Unreadable(f"the bank sent an error instead of a statement: {what}", line=status.line)
    raise Unreadable("the file holds no bank or card statement", line=root.line)


def _statement(node: Node, bank: str) -> ReadStatement:
    code = node.value("CURDEF") or _only_currency(node)
    try:
        of = currency(code)
    except MoneyError as error:
        what = str(error).removeprefix(f"{code!r} ")
        raise Unreadable(what, line=_line(node, "CURDEF"), column="CURDEF", value=code) from None
    listed = node.find("BANKTRANLIST")
    seen: dict[str, int] = {}
    lines: list[ReadLine] = []
    for number, item in enumerate(in_steps(listed.all("STMTTRN") if listed else [], "reading its lines"), 1):
        lines.append(_line_of(item, of, number, seen))
    head, problems = _head(node, listed, lines, of)
    account = node.value("BANKACCTFROM", "ACCTID") or node.value("CCACCTFROM", "ACCTID")
    if not account:
        raise Unreadable("the statement names no account", line=node.line, column="ACCTID")
    named = bank or node.value("BANKACCTFROM", "BANKID")
    return ReadStatement(FORMAT, named, account, of.code, head, tuple(lines), tuple(problems))


def _only_currency(node: Node) -> str:
    """The one currency that all lines name, where the head names none."""
    named = {item.value("CURSYM") for item in node.every("CURRENCY")} - {""}
    return named.pop() if len(named) == 1 else ""


def _head(node: Node, listed: Node | None, lines: list[ReadLine], of: Currency) -> tuple[StatementHead, list[Problem]]:
    ledger = node.find("LEDGERBAL")
    closing = _amount(ledger, "BALAMT", of) if ledger else None
    as_of = _date(ledger, "DTASOF") if ledger else None
    start = _date(listed, "DTSTART") if listed else None
    end = _date(listed, "DTEND") if listed else None
    dates = [read.line.date for read in lines]
    stated = bool(start and end)
    known = [day for day in (*dates, as_of) if day]
    if not known and not stated:
        raise Unreadable("the statement has neither lines nor dates", line=node.line)
    start = start or min(dates, default=end or as_of or known[0])
    end = end or max(known, default=start)
    if end < start:
        raise Unreadable("the period ends before it starts", line=node.line, value=f"{start} to {end}")
    problems: list[Problem] = []
    outside = [read for read in lines if not start <= read.line.date <= end]
    if outside:
        problems.append(Problem(f"line {outside[0].line.id}", f"{outside[0].line.date} lies outside {start} to {end}"))
    if as_of and as_of > end:
        problems.append(Problem("LEDGERBAL", f"the balance is of {as_of}, after the period's end {end}"))
    if as_of and dates and as_of < max(dates):
        problems.append(Problem("LEDGERBAL", f"the balance is of {as_of}, lines go on to {max(dates)}"))
    return StatementHead(start, end, None, closing, dates_stated=stated), problems


def _line_of(item: Node, of: Currency, number: int, seen: dict[str, int]) -> ReadLine:
    fitid = item.value("FITID")
    if fitid in seen:
        raise Unreadable(
            f"the id stands on line {seen[fitid]} too", line=_line(item, "FITID"), column="FITID", value=fitid
        )
    if fitid:
        seen[fitid] = _line(item, "FITID")
    own = item.value("CURRENCY", "CURSYM")
    if own and own != of.code:
        raise Unreadable(f"the line is in another currency than {of.code}", line=item.line, column="CURSYM", value=own)
    posted, amount = _date(item, "DTPOSTED"), _amount(item, "TRNAMT", of)
    if posted is None:
        raise Unreadable("the line has no date", line=item.line, column="DTPOSTED")
    if amount is None:
        raise Unreadable("the line has no amount", line=item.line, column="TRNAMT")
    name = item.value("NAME") or item.value("PAYEE", "NAME")
    memo = item.value("MEMO")
    text = f"{name} · {memo}" if name and memo and memo != name else name or memo
    line = StatementLine(
        id=fitid or f"L{number}",
        date=posted,
        amount=amount,
        reference=item.value("CHECKNUM") or item.value("REFNUM"),
        description=text,
        kind=_KINDS.get(item.value("TRNTYPE").upper(), LineKind.OTHER),
        value_date=_date(item, "DTAVAIL"),
    )
    return ReadLine(line, fitid or None)


def _line(node: Node, tag: str) -> int:
    found = node.find(tag)
    return found.line if found else node.line


def _amount(node: Node, tag: str, of: Currency) -> int | None:
    found = node.find(tag)
    if found is None or not found.text:
        return None
    try:
        return parse_plain(_plain_decimal(found.text), of)
    except MoneyError:
        what = f"is no amount in {of.code} with at most {of.digits} decimals"
        raise Unreadable(what, line=found.line, column=tag, value=found.text) from None


def _plain_decimal(text: str) -> str:
    """Decimal commas, grouped thousands and a bare leading point, where they can be read in one way only."""
    text = text.strip()
    if re.fullmatch(r"[+-]?\d{1,3}(,\d{3})+\.\d+", text):
        return text.replace(",", "")
    if re.fullmatch(r"[+-]?\d{1,3}(\.\d{3})+,\d+", text):
        text = text.replace(".", "")
    text = text.replace(",", ".") if text.count(",") == 1 and "." not in text else text
    return re.sub(r"^([+-]?)\.", r"\g<1>0.", text)


def _date(node: Node | None, tag: str) -> date | None:
    """The calendar day as the bank wrote it, its time zone left alone; None where absent or zeros."""
    found = node.find(tag) if node else None
    if found is None or not found.text or not found.text.strip("0"):
        return None
    read = _DATE.fullmatch(found.text.strip())
    if not read:
        raise Unreadable("is no date of the form YYYYMMDD", line=found.line, column=tag, value=found.text)
    try:
        return date(int(read[1]), int(read[2]), int(read[3]))
    except ValueError:
        raise Unreadable("is no day of the calendar", line=found.line, column=tag, value=found.text) from None
