"""MT940, the SWIFT customer statement.

The library `mt-940` reads the tags; what it lets pass is checked here first, with the line
of each fault: impossible days, amounts, balances that name no currency.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date, timedelta

import mt940

from netnaught.core.money import Currency, MoneyError, currency, parse_plain
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats.progress import in_steps
from netnaught.formats.reading import LARGEST_FILE, ReadLine, ReadStatement, Unreadable

FORMAT = "mt940"
_TAG = re.compile(r"^:(\d{2}[A-Z]?):(.*)$")
_BALANCE = re.compile(r"([DC])(\d{6})([A-Z]{3})([\d,]{1,16})")
_ENTRY = re.compile(r"(\d{6})(\d{4}|\s{4})?(R?[DC])([A-Z])?\s?(\d{1,13}(?:,\d*)?)(.*)")
_KINDS = {
    "CHK": LineKind.CHECK,
    "CHG": LineKind.FEE,
    "COM": LineKind.FEE,
    "INT": LineKind.INTEREST,
    "TRF": LineKind.TRANSFER,
    "DDT": LineKind.DIRECT_DEBIT,
    "MSC": LineKind.OTHER,
}
_OPENINGS, _CLOSINGS = ("60F", "60M"), ("62F", "62M")
_NOTHING = frozenset({"", "NONREF"})


@dataclass(frozen=True, slots=True)
class _Tag:
    """A tag with its text and the line where it stands."""

    name: str
    text: str
    line: int


def looks_like_mt940(data: bytes) -> bool:
    """Whether the content has the tags that every MT940 statement has."""
    head = data[:8192]
    return bool(re.search(rb"^:20:", head, re.M) and re.search(rb"^:(25P?|60[FM]|28C?):", head, re.M))


def read_mt940(data: bytes) -> tuple[ReadStatement, ...]:
    """Every statement in the file; pages of one statement are joined."""
    text = _decode(data)
    pages = [_page(tags) for tags in _statements(_tags(text))]
    if not pages:
        raise Unreadable("the file holds no statement (:20:)", line=1)
    joined: list[ReadStatement] = []
    for page, more in pages:
        if more and joined and joined[-1].account == page.account:
            joined[-1] = _join(joined[-1], page)
        else:
            joined.append(page)
    return tuple(joined)


def _decode(data: bytes) -> str:
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def _tags(text: str) -> list[_Tag]:
    found: list[_Tag] = []
    for number, row in enumerate(text.splitlines(), 1):
        tag = _TAG.match(row)
        if tag:
            found.append(_Tag(tag[1], tag[2].rstrip(), number))
        elif row.startswith(("{", "-}", "-")) and row.strip() in ("-", "-}"):
            continue
        elif found and row.strip() and not row.startswith("{"):
            last = found[-1]
            found[-1] = _Tag(last.name, f"{last.text}\n{row.rstrip()}", last.line)
    return found


def _statements(tags: list[_Tag]) -> list[list[_Tag]]:
    found: list[list[_Tag]] = []
    for tag in tags:
        if tag.name == "20":
            found.append([])
        elif not found:
            raise Unreadable("a tag stands before :20:", line=tag.line, value=f":{tag.name}:")
        found[-1].append(tag)
    return found


def _day(digits: str, tag: _Tag) -> date:
    try:
        return date(2000 + int(digits[:2]), int(digits[2:4]), int(digits[4:6]))
    except ValueError:
        raise Unreadable("is no day of the calendar", line=tag.line, column=f":{tag.name}:", value=digits) from None


def _amount(written: str, of: Currency, tag: _Tag) -> int:
    try:
        return parse_plain(written.replace(",", "."), of)
    except MoneyError:
        what = f"is no amount in {of.code} with at most {of.digits} decimals"
        raise Unreadable(what, line=tag.line, column=f":{tag.name}:", value=written) from None


def _balance(tag: _Tag) -> tuple[int, date, Currency]:
    found = _BALANCE.fullmatch(tag.text.split("\n")[0].strip())
    if not found:
        raise Unreadable("is no balance", line=tag.line, column=f":{tag.name}:", value=tag.text)
    try:
        of = currency(found[3])
    except MoneyError:
        raise Unreadable("is no ISO 4217 currency", line=tag.line, column=f":{tag.name}:", value=found[3]) from None
    amount = _amount(found[4], of, tag)
    return (-amount if found[1] == "D" else amount), _day(found[2], tag), of


def _page(tags: list[_Tag]) -> tuple[ReadStatement, bool]:
    """One message, and whether it continues the one before (:60M:)."""
    first = {tag.name: tag for tag in reversed(tags)}
    last = {tag.name: tag for tag in tags}
    account = first.get("25") or first.get("25P")
    opening = next((first[name] for name in _OPENINGS if name in first), None)
    closing = next((last[name] for name in _CLOSINGS if name in last), None)
    if account is None or not account.text.strip():
        raise Unreadable("the statement names no account", line=tags[0].line, column=":25:")
    if opening is None or closing is None:
        missing = ":60F:" if opening is None else ":62F:"
        raise Unreadable("the statement has been cut short: a balance is missing", line=tags[-1].line, column=missing)
    opens, opened, of = _balance(opening)
    closes, closed, other = _balance(closing)
    if other != of:
        raise Unreadable(f"the balances are in {of.code} and {other.code}", line=closing.line, value=closing.text)
    lines = _lines(tags, of)
    days = [read.line.date for read in lines]
    # The opening balance is dated the day before the period as a rule: the period begins with its first entry.
    begins = min(days, default=min(opened + timedelta(days=1), closed))
    head = StatementHead(begins, max([closed, begins, *days]), opens, closes, dates_stated=False)
    number = account.text.split("\n")[0].strip()
    bank, _, own = number.partition("/")
    return ReadStatement(FORMAT, bank if own else "", own or number, of.code, head, tuple(lines)), opening.name == "60M"


def _lines(tags: list[_Tag], of: Currency) -> list[ReadLine]:
    entries = [tag for tag in tags if tag.name == "61"]
    checked = [_checked(tag, of) for tag in in_steps(entries, "reading its lines")]
    texts = _details(tags)
    source = "\n".join(f":{tag.name}:{tag.text}" for tag in tags)
    try:
        parsed = mt940.models.Transactions(options=mt940.Options.all())
        parsed.parse(source)
        found = [item.data for item in parsed.transactions if "amount" in item.data]
    except (RuntimeError, ValueError, KeyError, TypeError, ArithmeticError) as error:
        raise Unreadable(f"cannot be read as MT940: {str(error).splitlines()[0]}", line=tags[0].line) from None
    if len(found) != len(entries):
        raise Unreadable("an entry cannot be read", line=entries[0].line if entries else tags[0].line, column=":61:")
    lines: list[ReadLine] = []
    for place, (tag, data, (booked, value, amount), about) in enumerate(
        zip(entries, found, checked, texts, strict=True), 1
    ):
        customer, bank = (str(data.get(key) or "").strip() for key in ("customer_reference", "bank_reference"))
        reference = next((ref for ref in (customer, bank) if ref not in _NOTHING), "")
        extra = str(data.get("extra_details") or "").strip()
        line = StatementLine(
            id=f"L{place}",
            date=booked,
            amount=amount,
            reference=reference,
            description=_text(data, about) or extra,
            kind=_KINDS.get(str(data.get("id") or tag.text)[1:4], LineKind.OTHER),
            value_date=value,
        )
        lines.append(ReadLine(line, None))
    return lines


def _checked(tag: _Tag, of: Currency) -> tuple[date, date, int]:
    """Booking day, value day and signed amount of a :61:, each of them possible."""
    found = _ENTRY.fullmatch(tag.text.split("\n")[0])
    if not found:
        raise Unreadable("is no entry", line=tag.line, column=":61:", value=tag.text.split("\n")[0])
    value = _day(found[1], tag)
    booked = value
    if found[2] and found[2].strip():
        # The booking day has no year of its own: the one nearest to the value day.
        near = [_day(f"{(value.year + shift) % 100:02d}{found[2]}", tag) for shift in _years(found[2], value)]
        booked = min(near, key=lambda day: abs((day - value).days))
    amount = _amount(found[5], of, tag)
    # D and RC take money out, C and RD bring it in.
    return booked, value, -amount if found[3] in ("D", "RC") else amount


def _years(month_day: str, value: date) -> tuple[int, ...]:
    """Years to try; Feb 29 only where the value's own year has it."""
    return (0,) if month_day == "0229" or 2 < value.month < 11 else (-1, 0, 1)


def _details(tags: list[_Tag]) -> list[str]:
    """The :86: that follows each :61:, as one line of text."""
    found: list[str] = []
    before = ""
    for tag in tags:
        if tag.name == "61":
            found.append("")
        elif tag.name == "86" and before == "61":
            found[-1] = tag.text
        before = tag.name
    return found


def _text(data: dict[str, object], about: str) -> str:
    """Structured fields in reading order where the :86: has them, else its text."""
    if re.match(r"\d{3}\?", about):
        parts = [str(data.get(key) or "").strip() for key in ("posting_text", "applicant_name", "purpose")]
        return " · ".join(" ".join(part.split()) for part in parts if part)
    return " ".join(about.split())


def _join(one: ReadStatement, other: ReadStatement) -> ReadStatement:
    """Two pages of one statement; the second must open where the first closed."""
    if other.head.opening != one.head.closing:
        raise Unreadable("a page does not continue from the one before (:60M: against :62M:)", value=one.account)
    lines = [*one.lines, *other.lines]
    renumbered = tuple(
        ReadLine(StatementLine(f"L{n}", x.date, x.amount, x.reference, x.description, x.kind, x.value_date), None)
        for n, x in enumerate((read.line for read in lines), 1)
    )
    head = StatementHead(
        one.head.start, max(one.head.end, other.head.end), one.head.opening, other.head.closing, dates_stated=False
    )
    return ReadStatement(one.format, one.bank, one.account, one.currency, head, renumbered)
