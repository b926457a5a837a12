"""What every reader hands back, and how it refuses."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date

from netnaught.core.money import Currency, MoneyError, parse_plain
from netnaught.core.statement import StatementHead, StatementLine

# A year of a very busy account is some 30 MB of OFX; more than this is no statement.
LARGEST_FILE = 64 * 1024 * 1024

_ISO_DATE = re.compile(r"(\d{4})-(\d{2})-(\d{2})", re.ASCII)


class Unreadable(ValueError):
    """A file, or a place in one, that cannot be read; nothing of the file is used.

    `line` and `column` count from 1 and are None where there is no such place; for tables
    `column` is the column's name. `value`: the offending text.
    """

    def __init__(
        self, what: str, *, line: int | None = None, column: str | int | None = None, value: str | None = None
    ) -> None:
        self.what, self.line, self.column = " ".join(what.split()), line, column
        value = value if value is None else " ".join(value.split())
        self.value = value if value is None or len(value) <= 60 else value[:57] + "..."
        super().__init__(self.sentence())

    def sentence(self, file: str = "") -> str:
        """One line: file, line, column, value, and what is wrong."""
        column = f"column {self.column}" if self.column is not None else ""
        places = [file, f"line {self.line}" if self.line else "", column]
        where = ", ".join(place for place in places if place)
        value = f"{self.value!r}: " if self.value is not None else ""
        return f"{where}: {value}{self.what}" if where else f"{value}{self.what}"


@dataclass(frozen=True, slots=True)
class Problem:
    """Something odd in a file that could be read all the same."""

    where: str
    what: str


@dataclass(frozen=True, slots=True)
class ReadLine:
    """A statement line and what the file itself called it. `bank_id` is None where it has no id."""

    line: StatementLine
    bank_id: str | None


@dataclass(frozen=True, slots=True)
class ReadStatement:
    """One statement as read from a file. `currency` is None where the format states none."""

    format: str
    bank: str
    account: str
    currency: str | None
    head: StatementHead
    lines: tuple[ReadLine, ...]
    problems: tuple[Problem, ...] = ()

    @property
    def amounts(self) -> list[int]:
        """The lines' amounts, minor units, in file order."""
        return [read.line.amount for read in self.lines]


def iso_date(text: str, *, line: int, column: str) -> date:
    """A date written YYYY-MM-DD; Unreadable for anything else and for impossible days."""
    found = _ISO_DATE.fullmatch(text.strip())
    if not found:
        raise Unreadable("is no date of the form YYYY-MM-DD", line=line, column=column, value=text)
    try:
        return date(int(found[1]), int(found[2]), int(found[3]))
    except ValueError:
        raise Unreadable("is no day of the calendar", line=line, column=column, value=text) from None


def table_amount(text: str, of: Currency, *, line: int, column: str) -> int:
    """A signed plain decimal as minor units; Unreadable for anything else."""
    try:
        return parse_plain(text, of)
    except MoneyError as error:
        what = str(error).removeprefix(f"{text.strip()!r} ")
        raise Unreadable(what, line=line, column=column, value=text) from None
