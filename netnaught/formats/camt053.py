"""camt.053, the ISO 20022 bank statement, versions 01 to 14, read and written.

The sign of an amount is its CdtDbtInd alone, whatever RvslInd says. An entry is one line;
a batch's details stand in its text.
"""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import replace
from datetime import date
from typing import Any

from lxml import etree

from netnaught.core.money import Currency, MoneyError, currency, parse_plain, plain
from netnaught.core.statement import ControlTotals, LineKind, StatementHead, StatementLine
from netnaught.formats.progress import in_steps
from netnaught.formats.reading import Problem, ReadLine, ReadStatement, Unreadable
from netnaught.formats.xml import Element, children, find, line_of, parse_xml, text

FORMAT = "camt.053"
_NAMESPACE = re.compile(r"urn:iso:std:iso:20022:tech:xsd:camt\.053\.001\.(\d\d)")
_OPENING, _CLOSING = ("OPBD", "PRCD"), ("CLBD",)
_KINDS = {
    "CHRG": LineKind.FEE,
    "COMM": LineKind.FEE,
    "FEES": LineKind.FEE,
    "INTR": LineKind.INTEREST,
    "CCHQ": LineKind.CHECK,
    "CQRV": LineKind.CHECK,
    "BCHQ": LineKind.CHECK,
    "CCRD": LineKind.CARD,
    "POSD": LineKind.CARD,
    "CWDL": LineKind.CASH,
    "CDPT": LineKind.DEPOSIT,
    "RCDT": LineKind.DEPOSIT,
    "RDDT": LineKind.DIRECT_DEBIT,
    "IDDT": LineKind.DEPOSIT,
    "ICDT": LineKind.PAYMENT,
    "BOOK": LineKind.TRANSFER,
}
_NOTHING = frozenset({"", "NOTPROVIDED", "NONREF"})


def looks_like_camt053(data: bytes) -> bool:
    """Whether the content names the camt.053 namespace."""
    return b"camt.053.001." in data[:4096] or b"<BkToCstmrStmt" in data[:4096]


def read_camt053(data: bytes) -> tuple[ReadStatement, ...]:
    """Every statement in the file, in file order; Unreadable if there is none."""
    root = parse_xml(data)
    if not any(_NAMESPACE.fullmatch(space or "") for space in root.nsmap.values()):
        raise Unreadable("the file is XML, but no camt.053 statement", line=1, value=str(root.tag))
    found = [node for part in children(root, "BkToCstmrStmt") for node in children(part, "Stmt")]
    if not found:
        raise Unreadable("the file holds no statement (Stmt)", line=line_of(root))
    return tuple(_statement(node) for node in found)


def _statement(node: Element) -> ReadStatement:
    account = find(node, "Acct")
    number = text(account, "Id", "IBAN") or text(account, "Id", "Othr", "Id")
    if not number:
        raise Unreadable("the statement names no account", line=line_of(node), column="Acct")
    of = _currency(node, account)
    problems: list[Problem] = []
    lines: list[ReadLine] = []
    for place, entry in enumerate(in_steps(children(node, "Ntry"), "reading its lines"), 1):
        status = text(entry, "Sts", "Cd") or text(entry, "Sts")
        if status and status != "BOOK":
            problems.append(Problem(f"line {line_of(entry)}", f"an entry is not booked ({status}) and was left out"))
            continue
        lines.append(_line(entry, of, place))
    lines = _known_once(lines)
    head = _head(node, lines, of)
    servicer = find(account, "Svcr", "FinInstnId")
    bank = text(servicer, "Nm") or text(servicer, "BICFI") or text(servicer, "BIC")
    return ReadStatement(FORMAT, bank, number, of.code, head, tuple(lines), tuple(problems))


def _currency(node: Element, account: Element | None) -> Currency:
    amounts = [find(balance, "Amt") for balance in children(node, "Bal")]
    code = text(account, "Ccy") or next((str(amount.get("Ccy")) for amount in amounts if amount is not None), "")
    try:
        return currency(code)
    except MoneyError as error:
        what = str(error).removeprefix(f"{code!r} ")
        raise Unreadable(what, line=line_of(account), column="Ccy", value=code) from None


def _amount(node: Element, of: Currency) -> int:
    """Signed minor units of an element that has Amt and CdtDbtInd."""
    found, mark = find(node, "Amt"), text(node, "CdtDbtInd")
    written = (found.text or "").strip() if found is not None else ""
    where = line_of(found if found is not None else node)
    if found is not None and found.get("Ccy") != of.code:
        raise Unreadable(f"the amount is not in {of.code}", line=where, column="Amt", value=str(found.get("Ccy")))
    if mark not in ("CRDT", "DBIT"):
        raise Unreadable("says neither CRDT nor DBIT", line=line_of(node), column="CdtDbtInd", value=mark)
    try:
        amount = parse_plain(written, of)
    except MoneyError:
        what = f"is no amount in {of.code} with at most {of.digits} decimals"
        raise Unreadable(what, line=where, column="Amt", value=written) from None
    if amount < 0:
        raise Unreadable("an amount has no sign of its own here", line=where, column="Amt", value=written)
    return amount if mark == "CRDT" else -amount


def _day(node: Element | None, column: str) -> date | None:
    """The calendar day of a date or a date and time, its zone left alone."""
    written = text(node, "Dt") or text(node, "DtTm") or ((node.text or "").strip() if node is not None else "")
    if not written:
        return None
    try:
        return date.fromisoformat(written[:10])
    except ValueError:
        raise Unreadable("is no day of the calendar", line=line_of(node), column=column, value=written) from None


def _line(entry: Element, of: Currency, place: int) -> ReadLine:
    booked = _day(find(entry, "BookgDt"), "BookgDt") or _day(find(entry, "ValDt"), "ValDt")
    if booked is None:
        raise Unreadable("the entry has no date", line=line_of(entry), column="BookgDt")
    details = [item for part in children(entry, "NtryDtls") for item in children(part, "TxDtls")]
    servicer = text(entry, "AcctSvcrRef")
    line = StatementLine(
        id=servicer or f"L{place}",
        date=booked,
        amount=_amount(entry, of),
        reference=_reference(entry, details),
        description=_text(entry, details),
        kind=_kind(entry),
        value_date=_day(find(entry, "ValDt"), "ValDt"),
    )
    return ReadLine(line, servicer or None)


def _reference(entry: Element, details: list[Element]) -> str:
    refs = find(details[0], "Refs") if len(details) == 1 else None
    candidates = [text(refs, name) for name in ("ChqNb", "EndToEndId", "InstrId", "MndtId")]
    candidates += [text(entry, "AcctSvcrRef"), text(entry, "NtryRef")]
    return next((found for found in candidates if found not in _NOTHING), "")


def _party(detail: Element) -> str:
    parties = find(detail, "RltdPties")
    if parties is None:
        return ""
    incoming = text(detail, "CdtDbtInd") != "DBIT"
    order = ("Dbtr", "Cdtr") if incoming else ("Cdtr", "Dbtr")
    names = [text(parties, side, "Nm") or text(parties, side, "Pty", "Nm") for side in order]
    return next((found for found in names if found), "")


def _detail_text(detail: Element) -> str:
    about = [(part.text or "").strip() for part in children(detail, "RmtInf") for part in children(part, "Ustrd")]
    structured = [text(part, "Strd", "CdtrRefInf", "Ref") for part in children(detail, "RmtInf")]
    parts = [_party(detail), *about, *structured, text(detail, "AddtlTxInf")]
    return " · ".join(part for part in parts if part)


def _text(entry: Element, details: list[Element]) -> str:
    extra = " ".join(text(entry, "AddtlNtryInf").split())
    if len(details) > 1:
        number = text(entry, "NtryDtls", "Btch", "NbOfTxs") or str(len(details))
        listed = "; ".join(found for found in (_detail_text(item) for item in details) if found)
        return " · ".join(part for part in (extra, f"batch of {number}", listed) if part)
    own = _detail_text(details[0]) if details else ""
    return " · ".join(part for part in (extra, own) if part) or text(entry, "BkTxCd", "Prtry", "Cd")


def _kind(entry: Element) -> LineKind:
    family = find(entry, "BkTxCd", "Domn", "Fmly")
    for code in (text(family, "SubFmlyCd"), text(family, "Cd")):
        if code in _KINDS:
            return _KINDS[code]
    return LineKind.OTHER


def _known_once(lines: list[ReadLine]) -> list[ReadLine]:
    """Where a bank gives one reference to several entries of a file, it is no id."""
    seen = Counter(read.bank_id for read in lines)
    return [
        read if read.bank_id is None or seen[read.bank_id] == 1 else ReadLine(replace(read.line, id=f"L{place}"), None)
        for place, read in enumerate(lines, 1)
    ]


def _head(node: Element, lines: list[ReadLine], of: Currency) -> StatementHead:
    balances: dict[str, tuple[int, date | None]] = {}
    for balance in children(node, "Bal"):
        code = text(balance, "Tp", "CdOrPrtry", "Cd")
        # A statement on several pages repeats balances: the first opening and the last closing count.
        if code not in balances or code in _CLOSING:
            balances[code] = (_amount(balance, of), _day(find(balance, "Dt"), "Dt"))
    opening = next((balances[code] for code in _OPENING if code in balances), None)
    closing = next((balances[code] for code in _CLOSING if code in balances), None)
    period = find(node, "FrToDt")
    start = _day(find(period, "FrDtTm"), "FrDtTm") or _day(find(period, "FrDt"), "FrDt")
    end = _day(find(period, "ToDtTm"), "ToDtTm") or _day(find(period, "ToDt"), "ToDt")
    days = [read.line.date for read in lines] + [day for _, day in (opening or (0, None), closing or (0, None)) if day]
    if not days and not (start and end):
        raise Unreadable("the statement has neither entries nor dates", line=line_of(node))
    begins = start or min([read.line.date for read in lines], default=min(days))
    ends = end or max(days)
    if ends < begins:
        raise Unreadable("the period ends before it starts", line=line_of(period), value=f"{begins} to {ends}")
    return StatementHead(
        begins,
        ends,
        opening[0] if opening else None,
        closing[0] if closing else None,
        _totals(find(node, "TxsSummry"), of),
        dates_stated=bool(start and end),
    )


def _totals(summary: Element | None, of: Currency) -> ControlTotals:
    def part(tag: str, sign: int) -> tuple[int | None, int | None]:
        found = find(summary, tag)
        written, number = text(found, "Sum"), text(found, "NbOfNtries")
        try:
            total = sign * parse_plain(written, of) if written else None
        except MoneyError:
            raise Unreadable("is no amount", line=line_of(found), column="Sum", value=written) from None
        if number and not number.isdigit():
            raise Unreadable("is no number", line=line_of(found), column="NbOfNtries", value=number)
        return total, int(number) if number else None

    total_in, count_in = part("TtlCdtNtries", 1)
    total_out, count_out = part("TtlDbtNtries", -1)
    return ControlTotals(total_in, total_out, count_in, count_out)


# Writing ------------------------------------------------------------------------------------------

_CODES = {
    LineKind.CHECK: ("PMNT", "ICHQ", "CCHQ"),
    LineKind.DEPOSIT: ("PMNT", "RCDT", "OTHR"),
    LineKind.PAYMENT: ("PMNT", "ICDT", "OTHR"),
    LineKind.TRANSFER: ("PMNT", "ICDT", "BOOK"),
    LineKind.CARD: ("PMNT", "CCRD", "POSD"),
    LineKind.CASH: ("PMNT", "CNTR", "CWDL"),
    LineKind.FEE: ("ACMT", "MDOP", "CHRG"),
    LineKind.INTEREST: ("ACMT", "MCOP", "INTR"),
    LineKind.DIRECT_DEBIT: ("PMNT", "RDDT", "OTHR"),
    LineKind.OTHER: ("PMNT", "MCOP", "OTHR"),
}


def write_camt053(statement: ReadStatement, of: Currency) -> bytes:
    """One statement as camt.053.001.08, valid against ISO's schema."""
    head = statement.head
    document = _Writer(of)
    group = document.put(document.body, "GrpHdr")
    document.put(group, "MsgId", value=f"NN-{head.end:%Y%m%d}")
    document.put(group, "CreDtTm", value=f"{head.end}T00:00:00Z")
    node = document.put(document.body, "Stmt")
    document.put(node, "Id", value=f"{head.start:%Y%m%d}-{head.end:%Y%m%d}")
    document.put(node, "CreDtTm", value=f"{head.end}T00:00:00Z")
    period = document.put(node, "FrToDt")
    document.put(period, "FrDtTm", value=f"{head.start}T00:00:00Z")
    document.put(period, "ToDtTm", value=f"{head.end}T23:59:59Z")
    owner = document.put(node, "Acct")
    document.put(owner, "Id", "Othr", "Id", value=statement.account[:34])
    document.put(owner, "Ccy", value=of.code)
    document.put(owner, "Svcr", "FinInstnId", "Nm", value=statement.bank[:140] or "Bank")
    for code, amount, day in (("OPBD", head.opening, head.start), ("CLBD", head.closing, head.end)):
        if amount is not None:
            balance = document.put(node, "Bal")
            document.put(balance, "Tp", "CdOrPrtry", "Cd", value=code)
            document.money(balance, amount)
            document.put(balance, "Dt", "Dt", value=day.isoformat())
    for read in statement.lines:
        document.entry(node, read)
    return document.bytes()


class _Writer:
    """Puts elements of one namespace in their order."""

    SPACE = "urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"

    def __init__(self, of: Currency) -> None:
        self.of = of
        spaces: Any = {None: self.SPACE}
        self.root = etree.Element(f"{{{self.SPACE}}}Document", nsmap=spaces)
        self.body = self.put(self.root, "BkToCstmrStmt")

    def put(self, node: Element, *path: str, value: str = "") -> Element:
        for tag in path:
            node = etree.SubElement(node, f"{{{self.SPACE}}}{tag}")
        node.text = value or None
        return node

    def money(self, node: Element, amount: int) -> None:
        self.put(node, "Amt", value=plain(abs(amount), self.of)).set("Ccy", self.of.code)
        self.put(node, "CdtDbtInd", value="DBIT" if amount < 0 else "CRDT")

    def entry(self, node: Element, read: ReadLine) -> None:
        line, entry = read.line, self.put(node, "Ntry")
        self.money(entry, line.amount)
        self.put(entry, "Sts", "Cd", value="BOOK")
        self.put(entry, "BookgDt", "Dt", value=line.date.isoformat())
        if line.value_date:
            self.put(entry, "ValDt", "Dt", value=line.value_date.isoformat())
        if read.bank_id:
            self.put(entry, "AcctSvcrRef", value=read.bank_id[:35])
        codes = self.put(entry, "BkTxCd", "Domn")
        domain, family, sub = _CODES[line.kind]
        self.put(codes, "Cd", value=domain)
        parts = self.put(codes, "Fmly")
        self.put(parts, "Cd", value=family)
        self.put(parts, "SubFmlyCd", value=sub)
        if line.reference:
            tag = "ChqNb" if line.kind is LineKind.CHECK else "EndToEndId"
            self.put(entry, "NtryDtls", "TxDtls", "Refs", tag, value=line.reference[:35])
        if line.description:
            self.put(entry, "AddtlNtryInf", value=line.description[:500])

    def bytes(self) -> bytes:
        written: bytes = etree.tostring(self.root, xml_declaration=True, encoding="UTF-8")
        return written
