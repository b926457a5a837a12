"""What happened in the demo months: events with their book entries and their lines at the bank."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from datetime import date, timedelta

from netnaught.core.ledger import BookEntry
from netnaught.core.statement import LineKind, StatementLine


@dataclass(slots=True)
class Month:
    """A month being written: book entries with the ledger account they go to, and bank lines."""

    first: date
    last: date
    entries: list[tuple[str, BookEntry]] = field(default_factory=list)
    lines: list[StatementLine] = field(default_factory=list)
    later: list[StatementLine] = field(default_factory=list)


class Teller:
    """Deals out dates, amounts that occur once, and numbers; seeded, so always the same."""

    def __init__(self, seed: int, prefix: str) -> None:
        self.random = random.Random(seed)  # noqa: S311  not for secrets: the same demo every time
        self.prefix = prefix
        self.used: set[int] = set()
        self.check = 2224
        self.slip = 101
        self.serial = 0

    def amount(self, low: int, high: int) -> int:
        """An amount in cents between two amounts of dollars that no other event has."""
        while True:
            found = self.random.randrange(low * 100, high * 100)
            if found not in self.used:
                self.used.add(found)
                return found

    def entry_id(self) -> str:
        """The next id of an entry in the books kept by the company."""
        self.serial += 1
        return f"{self.prefix}-{self.serial:04d}"

    def business_day(self, day: date) -> date:
        """That day, or the Monday after it."""
        return day + timedelta(days={5: 2, 6: 1}.get(day.weekday(), 0))

    def lag(self, low: int, high: int) -> timedelta:
        """Some days until the bank has it."""
        return timedelta(days=self.random.randint(low, high))


@dataclass(frozen=True, slots=True)
class Paid:
    """A kind of payment or receipt: who, for which ledger account, between which dollars."""

    payee: str
    account: str
    low: int
    high: int
    text: str


CHECK_PAYEES = (
    Paid("Sorrel Catering", "5300", 180, 640, "Galley supplies"),
    Paid("Coble Yard Slip", "5210", 600, 2400, "Slip repairs"),
    Paid("Hask Telecom", "5400", 70, 160, "Ship phones"),
    Paid("Merrow Insurance", "5500", 300, 900, "Hull cover"),
    Paid("Pellow Crane Hire", "5210", 250, 900, "Crane at the slip"),
    Paid("Whin Hill Water", "5400", 60, 210, "Fresh water"),
    Paid("Marram Stationery", "5400", 30, 120, "Tickets and paper"),
    Paid("Teasel Rope & Chain", "5210", 80, 520, "Mooring gear"),
    Paid("Ebb Street Laundry", "5300", 40, 150, "Uniforms"),
    Paid("Cormorant Safety", "5210", 120, 700, "Raft inspection"),
    Paid("Brill & Dabb Accountants", "5400", 400, 800, "Monthly fee"),
)
DEBITS = (
    Paid("Gannet Fuel Dock", "5100", 1400, 3200, "FUEL DOCK DEBIT"),
    Paid("Port of Northreach", "5200", 300, 900, "HARBOR DUES"),
    Paid("Islet Power Coop", "5400", 90, 260, "POWER COOP"),
)
RECEIPTS = (
    Paid("Eider Tours", "4200", 600, 2400, "Charter balance"),
    Paid("Dunlin School Trips", "4100", 300, 1300, "Group fares"),
    Paid("Plover Parcel", "4300", 150, 800, "Parcel freight"),
    Paid("Teal Freight", "4300", 400, 1900, "Freight"),
    Paid("Turnstone Lodge", "4200", 250, 900, "Guest transfers"),
    Paid("Avocet Wedding Hire", "4200", 500, 1500, "Wedding charter"),
)


class OperatingMonth:
    """Writes one ordinary month of the operating account."""

    def __init__(self, teller: Teller, first: date, last: date) -> None:
        self.teller = teller
        self.month = Month(first, last)

    def book(self, account: str, day: date, amount: int, payee: str, memo: str, reference: str = "") -> None:
        """An entry of the bank book."""
        entry = BookEntry(self.teller.entry_id(), day, amount, reference, payee, memo)
        self.month.entries.append((account, entry))

    def bank(self, day: date, amount: int, text: str, kind: LineKind, reference: str = "") -> None:
        """A line at the bank, in this month's statement or a later one."""
        line = StatementLine("", day, amount, reference, text, kind)
        (self.month.lines if day <= self.month.last else self.month.later).append(line)

    def days(self) -> list[date]:
        """The days of the month."""
        return [self.month.first + timedelta(days=n) for n in range((self.month.last - self.month.first).days + 1)]

    def takings(self) -> None:
        """Card takings of every day, settled by the bank one to three days later."""
        for day in self.days():
            amount = self.teller.amount(240, 1600)
            self.book("1035", day, amount, "Ticket card takings", f"Fares of {day:%b %d}")
            self.bank(
                self.teller.business_day(day + self.teller.lag(1, 2)), amount, "CARD SETTLEMENT SOUND", LineKind.DEPOSIT
            )

    def checks(self, number: int, keep_last: int) -> None:
        """Checks; the last few of the month are cashed in the next."""
        step = (self.month.last - self.month.first).days
        for index in range(number):
            paid = CHECK_PAYEES[(index * 5 + self.month.first.month) % len(CHECK_PAYEES)]
            day = self.teller.business_day(self.month.first + timedelta(days=min(step, index * step // number)))
            reference, amount = str(self.teller.check), -self.teller.amount(paid.low, paid.high)
            self.teller.check += 1
            self.book(paid.account, min(day, self.month.last), amount, paid.payee, paid.text, reference)
            cashed = self.teller.business_day(day + self.teller.lag(2, 9))
            if index >= number - keep_last:
                cashed = self.month.last + timedelta(days=4 + index % 5)
            self.bank(cashed, amount, "CHECK", LineKind.CHECK, reference.zfill(7))

    def debits(self) -> None:
        """Direct debits, booked when announced."""
        for week in range(4):
            for paid in DEBITS if week != 2 else DEBITS[:2]:
                day = self.teller.business_day(self.month.first + timedelta(days=2 + 7 * week))
                amount = -self.teller.amount(paid.low, paid.high)
                self.book(paid.account, day, amount, paid.payee, paid.text.capitalize())
                self.bank(
                    day + self.teller.lag(0, 1), amount, f"{paid.text} · {paid.payee.upper()}", LineKind.DIRECT_DEBIT
                )

    def receipts(self, number: int) -> None:
        """Deposits by slip."""
        for index in range(number):
            paid = RECEIPTS[index % len(RECEIPTS)]
            day = self.teller.business_day(self.month.first + timedelta(days=1 + index * 27 // number))
            amount, slip = self.teller.amount(paid.low, paid.high), f"S-{self.teller.slip}"
            self.teller.slip += 1
            self.book(paid.account, day, amount, paid.payee, paid.text, slip)
            self.bank(
                self.teller.business_day(day + self.teller.lag(0, 2)),
                amount,
                "DEPOSIT",
                LineKind.DEPOSIT,
                slip.replace("S-", "S0"),
            )

    def pay_run(self) -> None:
        """Two transfers to the payroll account."""
        for day in (self.month.first + timedelta(days=13), self.month.last - timedelta(days=2)):
            on = self.teller.business_day(day)
            amount = -self.teller.amount(6200, 8100)
            self.book("1025", on, amount, "Payroll account", "Crew pay")
            self.bank(on, amount, "TRANSFER TO 4428", LineKind.TRANSFER)

    def charges(self, fee: int, interest: int) -> None:
        """The bank's fee and interest, which the books learn of from the statement."""
        self.bank(self.month.first + timedelta(days=8), -fee, "SERVICE CHARGE", LineKind.FEE)
        self.bank(self.month.last, interest, "INTEREST PAID", LineKind.INTEREST)

    def ordinary(self, checks: int, receipts: int, keep_last: int) -> None:
        """Everything an ordinary month has."""
        self.takings()
        self.checks(checks, keep_last)
        self.debits()
        self.receipts(receipts)
        self.pay_run()


def numbered(lines: list[StatementLine], prefix: str) -> tuple[StatementLine, ...]:
    """Lines in the order of the statement, with the bank's ids."""
    ordered = sorted(lines, key=lambda line: (line.date, line.kind.value, line.amount))
    counts: dict[date, int] = {}
    found: list[StatementLine] = []
    for line in ordered:
        counts[line.date] = counts.get(line.date, 0) + 1
        ident = f"{prefix}-{line.date:%Y%m%d}-{counts[line.date]:03d}"
        found.append(StatementLine(ident, line.date, line.amount, line.reference, line.description, line.kind))
    return tuple(found)
