"""BAI2, the cash management statement of US banks.

The library `bai2` reads the records; their lines, types it does not know and the control
totals are checked here. Amounts are unsigned minor units: the type code tells the direction.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

from bai2 import bai2 as library
from bai2.constants import TypeCodes
from bai2.exceptions import IntegrityException, NotSupportedYetException, ParsingException
from bai2.models import Account, Bai2File, Group, TransactionDetail

from netnaught.core.money import LARGEST, Currency, MoneyError, currency
from netnaught.core.statement import ControlTotals, LineKind, StatementHead, StatementLine
from netnaught.formats.progress import in_steps
from netnaught.formats.reading import LARGEST_FILE, Problem, ReadLine, ReadStatement, Unreadable

FORMAT = "bai2"
_RECORD = re.compile(r"(01|02|03|16|49|88|98|99),")
# Types of a bank's own, read by their range: credits 100-399, debits 400-699.
_OTHER_CREDIT, _OTHER_DEBIT = "399", "699"
_OPENING, _CLOSING, _CREDITS, _DEBITS = "010", "015", "100", "400"
_KINDS = {
    "475": LineKind.CHECK,
    "395": LineKind.CHECK,
    "301": LineKind.DEPOSIT,
    "175": LineKind.DEPOSIT,
    "165": LineKind.DEPOSIT,
    "142": LineKind.DEPOSIT,
    "195": LineKind.TRANSFER,
    "495": LineKind.TRANSFER,
    "275": LineKind.TRANSFER,
    "575": LineKind.TRANSFER,
    "354": LineKind.INTEREST,
    "698": LineKind.FEE,
    "661": LineKind.FEE,
    "455": LineKind.DIRECT_DEBIT,
    "451": LineKind.DIRECT_DEBIT,
    "506": LineKind.CARD,
}


@dataclass(frozen=True, slots=True)
class _Record:
    """A record as it stands in the file."""

    code: str
    text: str
    line: int


def looks_like_bai2(data: bytes) -> bool:
    """Whether the content begins as a BAI2 file does."""
    return bool(re.match(rb"\s*01,[^,\r\n]*,[^,\r\n]*,\d{6},", data[:400]))


def read_bai2(data: bytes) -> tuple[ReadStatement, ...]:
    """One statement for each account; days of one account in several groups are joined."""
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", "replace")
    records = _records(text)
    problems: list[Problem] = []
    parsed = _parse(records, problems)
    found: dict[str, list[ReadStatement]] = {}
    lines_of = iter([r.line for r in records if r.code == "16"])
    for group in parsed.children:
        for account in group.children:
            statement = _statement(parsed, group, account, lines_of)
            found.setdefault(statement.account, []).append(statement)
    return tuple(_joined(days, tuple(problems)) for days in found.values())


def _records(text: str) -> list[_Record]:
    found: list[_Record] = []
    for number, row in enumerate(text.splitlines(), 1):
        if not row.strip():
            continue
        code = _RECORD.match(row.strip() + ",")
        if not code:
            raise Unreadable("is no BAI2 record", line=number, value=row.strip())
        if code[1] in ("03", "16"):
            _check_amounts(row.strip(), code[1], number)
        found.append(_Record(code[1], row.strip(), number))
    if not found or found[0].code != "01" or found[-1].code != "99":
        last = found[-1].line if found else 1
        raise Unreadable("the file has been cut short: it does not run from record 01 to 99", line=last)
    return found


def _check_amounts(row: str, code: str, number: int) -> None:
    fields = row.rstrip("/").split(",")
    amounts = [fields[2]] if code == "16" and len(fields) > 2 else fields[4:5]
    for written in amounts:
        if written and not re.fullmatch(r"[+-]?[0-9]{1,15}", written):
            raise Unreadable("is no amount in minor units", line=number, column=f"record {code}", value=written)
        if written and abs(int(written)) > LARGEST:
            raise Unreadable("is larger than any amount this program keeps", line=number, value=written)


def _known(record: _Record) -> str:
    """The record as the library can read it: a bank's own type code by its range."""
    fields = record.text.split(",")
    if record.code == "16":
        code = fields[1].strip().zfill(3) if len(fields) > 1 else ""
        if not (code.isascii() and code.isdigit()) or not (100 <= int(code) <= 699 or code in TypeCodes):
            raise Unreadable("is no type of a credit or debit", line=record.line, column="type code", value=code)
        if code not in TypeCodes:
            fields[1] = _OTHER_CREDIT if int(code) < 400 else _OTHER_DEBIT
    return ",".join(fields)


def _parse(records: list[_Record], problems: list[Problem]) -> Bai2File:
    rows = [_known(record) for record in records]
    try:
        return library.parse_from_lines(rows)
    except IntegrityException as error:
        problems.append(Problem("control totals", str(error)))
    except (ParsingException, NotSupportedYetException, ValueError, KeyError, IndexError, TypeError) as error:
        raise Unreadable(f"cannot be read as BAI2: {_first(error)}", line=records[0].line) from None
    try:
        return library.parse_from_lines(rows, check_integrity=False)
    except (ParsingException, NotSupportedYetException, ValueError, KeyError, IndexError, TypeError) as error:
        raise Unreadable(f"cannot be read as BAI2: {_first(error)}", line=records[0].line) from None


def _first(error: Exception) -> str:
    return (str(error).splitlines() or [type(error).__name__])[0]


def _statement(file: Bai2File, group: Group, account: Account, lines_of: object) -> ReadStatement:
    header = account.header
    code = header.currency or group.header.currency or "USD"
    try:
        of = currency(code)
    except MoneyError:
        raise Unreadable("is no ISO 4217 currency", column="record 03", value=code) from None
    on = group.header.as_of_date
    if on is None:
        raise Unreadable("the group has no date", column="record 02")
    summaries = {item.type_code.code: item for item in header.summary_items if item.type_code}
    lines = tuple(_line(item, on, of, next(lines_of)) for item in in_steps(account.children, "reading its lines"))  # type: ignore[call-overload]

    def amount(key: str) -> int | None:
        return summaries[key].amount if key in summaries else None

    def number(key: str) -> int | None:
        return summaries[key].item_count if key in summaries else None

    debits = amount(_DEBITS)
    totals = ControlTotals(amount(_CREDITS), None if debits is None else -debits, number(_CREDITS), number(_DEBITS))
    head = StatementHead(on, on, amount(_OPENING), amount(_CLOSING), totals, dates_stated=False)
    bank = str(file.header.sender_id or group.header.originator_id or "")
    return ReadStatement(FORMAT, bank, str(header.customer_account_number), of.code, head, lines)


def _line(item: TransactionDetail, on: date, of: Currency, number: int) -> ReadLine:
    code = item.type_code.code
    if item.amount is None:
        raise Unreadable("the record has no amount", line=number, column="record 16")
    text = " ".join(str(item.text or "").rstrip("/").split())
    reference = next((str(ref) for ref in (item.customer_reference, item.bank_reference) if ref), "")
    line = StatementLine(
        id="",
        date=on,
        amount=item.amount if int(code) < 400 else -item.amount,
        reference=reference.strip("/").strip(),
        description=text or item.type_code.description,
        kind=_KINDS.get(code, LineKind.OTHER),
    )
    return ReadLine(line, None)


def _joined(days: list[ReadStatement], problems: tuple[Problem, ...]) -> ReadStatement:
    """The days of one account as one statement: each must open where the one before closed."""
    days = sorted(days, key=lambda day: day.head.start)
    found = list(problems)
    for one, other in pairwise(days):
        if None not in (one.head.closing, other.head.opening) and one.head.closing != other.head.opening:
            found.append(Problem(f"{other.head.start}", "the day does not open where the day before closed"))
    lines = [read.line for day in days for read in day.lines]
    renumbered = tuple(
        ReadLine(StatementLine(f"L{n}", x.date, x.amount, x.reference, x.description, x.kind), None)
        for n, x in enumerate(lines, 1)
    )
    heads = [day.head for day in days]

    def total(name: str) -> int | None:
        given = [getattr(head.totals, name) for head in heads]
        return None if None in given else sum(given)

    totals = ControlTotals(*(total(name) for name in ("total_in", "total_out", "count_in", "count_out")))
    head = StatementHead(heads[0].start, heads[-1].end, heads[0].opening, heads[-1].closing, totals, dates_stated=False)
    first = days[0]
    return ReadStatement(FORMAT, first.bank, first.account, first.currency, head, renumbered, tuple(found))
