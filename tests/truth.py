"""Months whose truth is known, in several styles of books and banks.

Written from the trade alone (how checks, deposits, takings, pay runs, fees and mistakes come
about), without any look at how the passes work. A month says which lines and entries belong
together, which cancel among themselves, which nothing can tell apart, and which stay alone.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, timedelta

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import OpenItems, Outcome
from netnaught.core.statement import LineKind, StatementLine

FIRST = date(2026, 10, 1)
PARTIES = (
    "Whin Hill Water", "Coble Yard Slip", "Marram Stationery", "Sorrel Catering", "Hask Telecom", "Merrow Insurance",
    "Pellow Crane Hire", "Teasel Rope Works", "Ebb Street Laundry", "Cormorant Safety", "Brill Accountants",
    "Gannet Fuel Dock", "Northreach Port", "Islet Power Coop", "Plover Parcel", "Teal Freight", "Turnstone Lodge",
    "Avocet Weddings", "Dunlin School", "Eider Tours", "Razorbill Charter", "Knot Net Makers",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Style:
    """How a bank and a business write things."""

    name: str
    check: Callable[[int], str]
    slip: Callable[[int], str]
    text: Callable[[str], str]
    kinds: bool = True
    in_text: bool = False
    trace: bool = False


_NO_VOWELS = str.maketrans("", "", "AEIOU")

STYLES = (
    Style("plain", str, lambda n: f"S-{n}", lambda p: p.upper()),
    Style("padded", lambda n: f"{n:010d}", lambda n: f"S{n:06d}", lambda p: f"ACH {p.upper()[:14]} 0042"),
    Style("dressed", lambda n: f"CHK# {n}", lambda n: f"SLIP S-{n}", lambda p: f"{p} payment ref", kinds=False),
    Style("in the text", lambda n: f"CHECK {n}", lambda n: f"DEPOSIT S{n}", lambda p: p.upper(), in_text=True),
    Style("terse", str, lambda n: "", lambda _: "ELECTRONIC PAYMENT"),
    Style("suffixed", lambda n: f"4410-{n:07d}-1", lambda n: f"DEP/{n}/26", lambda p: f"POS {p.upper()} NORTHREACH"),
    Style("traced", lambda n: f"CHECK {n}", lambda n: f"SLIP {n}", lambda p: p.upper(), in_text=True, trace=True),
    Style("abbreviated", lambda n: f"#{n}", lambda n: f"S{n}", lambda p: p.upper().translate(_NO_VOWELS)),
)


@dataclass(slots=True)
class TruthMonth:
    """A month and its truth, by ids.

    `apart`: what nothing can decide. `alike`: items that stand for another. `loose`: equal amounts without any
    text, whose pairing is as good one way as the other: not judged.
    """

    lines: list[StatementLine] = field(default_factory=list)
    entries: list[BookEntry] = field(default_factory=list)
    together: list[tuple[frozenset[str], frozenset[str]]] = field(default_factory=list)
    washed: list[frozenset[str]] = field(default_factory=list)
    apart: set[str] = field(default_factory=set)
    alike: dict[str, str] = field(default_factory=dict)
    loose: set[str] = field(default_factory=set)

    @property
    def items(self) -> OpenItems:
        """As the passes get them: by date, shuffled by nothing."""
        return OpenItems(
            tuple(sorted(self.lines, key=lambda x: (x.date, str(x.id)))),
            tuple(sorted(self.entries, key=lambda e: (e.date, str(e.id)))),
        )


class Author:
    """Writes one month."""

    def __init__(self, style: Style, seed: int) -> None:
        self.style, self.pick, self.month = style, random.Random(seed), TruthMonth()
        self.used: set[int] = set()
        self.number = 2000 + seed % 500

    def amount(self, low: int = 2_000, high: int = 250_000) -> int:
        """An amount no other event has."""
        while True:
            found = self.pick.randrange(low, high)
            if found not in self.used:
                self.used.add(found)
                return found

    def often(self) -> int:
        """An amount as people agree on: round, and had by others too."""
        return self.pick.choice((5_000, 7_500, 10_000, 12_000, 15_000, 20_000, 25_000, 40_000, 50_000))

    def day(self, last: int = 27) -> date:
        return FIRST + timedelta(days=self.pick.randrange(last))

    def line(self, day: date, amount: int, reference: str, text: str, kind: LineKind = LineKind.OTHER) -> str:
        ident = f"L{len(self.month.lines) + 1}"
        if self.style.in_text and reference:
            reference, text = "", f"{text} {reference}"
        if self.style.trace:
            reference = f"{100_000_000_000 + 7_919 * len(self.month.lines)}"
        shown = kind if self.style.kinds else LineKind.OTHER
        self.month.lines.append(StatementLine(ident, day, amount, reference, text, shown))
        return ident

    def entry(self, day: date, amount: int, reference: str, payee: str, memo: str = "") -> str:
        ident = f"B{len(self.month.entries) + 1}"
        self.month.entries.append(BookEntry(ident, day, amount, reference, payee, memo))
        return ident

    def join(self, lines: list[str], entries: list[str]) -> None:
        self.month.together.append((frozenset(lines), frozenset(entries)))

    def party(self) -> str:
        return self.pick.choice(PARTIES)

    def later(self, day: date, low: int, high: int) -> date:
        return day + timedelta(days=self.pick.randint(low, high))

    def checks(self, number: int) -> None:
        for _ in range(number):
            self.number += 1
            day, amount, party = self.day(), -self.amount(), self.party()
            entry = self.entry(day, amount, str(self.number), party)
            cashed = self.later(day, 1, 16)
            if cashed <= FIRST + timedelta(days=30):
                line = self.line(cashed, amount, self.style.check(self.number), "CHECK", LineKind.CHECK)
                self.join([line], [entry])

    def carried_checks(self) -> None:
        for place in range(6):
            self.number += 1
            day, amount = FIRST - timedelta(days=self.pick.randint(5, 80)), -self.amount()
            entry = self.entry(day, amount, str(self.number), self.party())
            if place < 3:
                line = self.line(self.day(12), amount, self.style.check(self.number), "CHECK", LineKind.CHECK)
                self.join([line], [entry])

    def debits(self, number: int) -> None:
        for _ in range(number):
            day, amount, party = self.day(), -self.amount(), self.party()
            entry = self.entry(day, amount, "", party, "direct debit")
            self.join([self.line(self.later(day, 0, 3), amount, "", self.style.text(party))], [entry])

    def receipts(self, number: int) -> None:
        for n in range(number):
            day, party = self.day(), self.party()
            amount, slip = self.amount(), 500 + n
            entry = self.entry(day, amount, f"S-{slip}", party, "receipt")
            line = self.line(self.later(day, 0, 3), amount, self.style.slip(slip), "DEPOSIT", LineKind.DEPOSIT)
            self.join([line], [entry])

    def weekly(self) -> None:
        """The same amount to the same party every week: the counts agree."""
        amount, party = -4_900, self.party()
        for week in range(4):
            day = FIRST + timedelta(days=1 + 7 * week)
            entry = self.entry(day, amount, "", party, "weekly service")
            line = self.line(day + timedelta(days=1), amount, "", self.style.text(party))
            self.join([line], [entry])

    def undecidable(self) -> None:
        """Two receipts of one amount from different people, one of them at the bank."""
        amount = self.amount(10_000, 90_000) // 5_000 * 5_000
        self.used.add(amount)
        one = self.entry(FIRST + timedelta(days=9), amount, "", "Counter sale")
        two = self.entry(FIRST + timedelta(days=10), amount, "", "Counter sale")
        line = self.line(FIRST + timedelta(days=11), amount, "", "DEPOSIT", LineKind.DEPOSIT)
        self.month.apart |= {one, two, line}

    def takings(self) -> None:
        """Card takings of a day by brand, one settlement; once with a refund of the same brand."""
        for day_number in range(2, 27, 3):
            day = FIRST + timedelta(days=day_number)
            parts = [self.entry(day, self.amount(), "", "Card takings", brand) for brand in ("blue", "green", "red")]
            if day_number == 8:
                parts.append(self.entry(day, -self.amount(500, 1_900), "", "Card takings", "refund blue"))
            total = sum(e.amount for e in self.month.entries if e.id in parts)
            line = self.line(self.later(day, 1, 2), total, "", "CARD SETTLEMENT", LineKind.DEPOSIT)
            self.join([line], parts)

    def slips(self) -> None:
        """One deposit of several receipts, carried to the bank on one slip."""
        for n in range(5):
            day = self.day()
            slip = 900 + n
            parts = [self.entry(day, self.amount(), f"S-{slip}", self.party()) for _ in range(self.pick.randint(2, 4))]
            total = sum(e.amount for e in self.month.entries if e.id in parts)
            reference = self.style.slip(slip)
            line = self.line(self.later(day, 0, 2), total, reference, "DEPOSIT", LineKind.DEPOSIT)
            self.join([line], parts)

    def bills(self) -> None:
        """Several bills of one party paid in one transfer."""
        for party in self.pick.sample(PARTIES, 4):
            paid = self.day(24)
            parts = [self.entry(paid, -self.amount(), f"INV{self.pick.randrange(10**5)}", party) for _ in range(2)]
            total = sum(e.amount for e in self.month.entries if e.id in parts)
            line = self.line(self.later(paid, 0, 2), total, "", self.style.text(party))
            self.join([line], parts)

    def in_parts(self) -> None:
        """One invoice paid in two parts under one reference."""
        for n in range(3):
            party, reference = self.party(), f"INV{70_000 + n}"
            one, two = self.amount(), self.amount()
            booked = self.day(18)
            entry = self.entry(booked, one + two, reference, party)
            day = self.later(booked, 1, 9)
            lines = [self.line(day, part, reference, self.style.text(party)) for part in (one, two)]
            self.join(lines, [entry])

    def washes(self) -> None:
        """Booked and taken back; a check that the bank doubled and backed out."""
        for n in range(2):
            amount, party, day = self.amount(), self.party(), self.day(24)
            pair = [
                self.entry(day, amount, f"J-{n}", party, "sent in error"),
                self.entry(self.later(day, 1, 3), -amount, f"J-{n}R", party, "reversal"),
            ]
            self.month.washed.append(frozenset(pair))
        self.number += 1
        amount, day = -self.amount(), self.day(20)
        entry = self.entry(day, amount, str(self.number), self.party())
        reference = self.style.check(self.number)
        first, second = (self.line(day + timedelta(days=3), amount, reference, "CHECK", LineKind.CHECK) for _ in "ab")
        back = self.line(day + timedelta(days=5), -amount, reference, "CORRECTION OF CHECK")
        self.join([first], [entry])
        self.month.washed.append(frozenset([second, back]))
        self.month.alike[second] = first

    def doubled(self) -> None:
        """An entry typed twice: either may match, the other is a mistake."""
        self.number += 1
        amount, day, party = -self.amount(), self.day(20), self.party()
        one, two = (self.entry(day, amount, str(self.number), party) for _ in "ab")
        line = self.line(self.later(day, 2, 6), amount, self.style.check(self.number), "CHECK", LineKind.CHECK)
        self.join([line], [one])
        self.month.alike[two] = one

    def only_at_the_bank(self) -> None:
        for text, amount, kind in (
            ("SERVICE CHARGE", -2_750, LineKind.FEE),
            ("INTEREST PAID", 412, LineKind.INTEREST),
            ("WIRE FEE", -1_500, LineKind.FEE),
        ):
            self.line(self.day(), amount, "", text, kind)

    def nearly(self) -> None:
        """The same check with two digits swapped, and one with a slip of the decimal point."""
        for wrong in (-184_000, -54_000):
            self.number += 1
            right = {-184_000: -148_000, -54_000: -540_000}[wrong]
            booked = self.day(15)
            self.entry(booked, wrong, str(self.number), self.party())
            self.line(self.later(booked, 2, 9), right, self.style.check(self.number), "CHECK", LineKind.CHECK)

    def round_amounts(self) -> None:
        """Equal round amounts to two parties at different times: text and date tell them apart."""
        for amount in (-10_000, -25_000):
            for party, start in zip(self.pick.sample(PARTIES, 2), (3, 18), strict=True):
                day = FIRST + timedelta(days=start)
                entry = self.entry(day, amount, "", party)
                line = self.line(day + timedelta(days=1), amount, "", self.style.text(party))
                if self.style.name == "terse":
                    self.month.loose |= {entry, line}
                else:
                    self.join([line], [entry])

    def agreed_prices(self) -> None:
        """Round amounts that several parties have, in and out, some of them not at the bank yet."""
        for n in range(14):
            sign = self.pick.choice((-1, 1))
            day, amount, party = self.day(), sign * self.often(), PARTIES[n]
            entry = self.entry(day, amount, "", party, "agreed price")
            booked = self.later(day, 0, 4)
            if self.style.name == "terse":
                text = "ELECTRONIC PAYMENT"
                self.month.loose |= {entry, self.line(booked, amount, "", text)}
            else:
                self.join([self.line(booked, amount, "", self.style.text(party))], [entry])

    def with_charge(self) -> None:
        """A payment abroad and the bank's charge for it, taken as one debit."""
        day, party = self.day(24), self.party()
        reference = "W-77"
        parts = [
            self.entry(day, -self.amount(), reference, party),
            self.entry(day, -1_250, reference, "Bank", "transfer charge"),
        ]
        total = sum(e.amount for e in self.month.entries if e.id in parts)
        self.join([self.line(self.later(day, 0, 2), total, "", self.style.text(party))], parts)

    def returned(self) -> None:
        """A deposit that the bank took back: the books have the deposit, not yet the return."""
        day, party, amount = self.day(15), self.party(), self.amount()
        entry = self.entry(day, amount, "S-777", party)
        line = self.line(self.later(day, 0, 2), amount, self.style.slip(777), "DEPOSIT", LineKind.DEPOSIT)
        self.line(self.later(day, 5, 9), -amount, "", "RETURNED DEPOSIT ITEM")
        self.join([line], [entry])

    def strangers(self) -> None:
        """Debits nobody booked, of amounts that open entries of other parties happen to have."""
        for n, (party, other) in enumerate(self.pick.sample(PARTIES, 2) for _ in range(3)):
            amount = -self.often() - 37 - n
            self.entry(self.day(), amount, "", party, "not at the bank yet")
            if self.style.name != "terse":
                self.line(self.day(), amount, "", self.style.text(other))


def write_month(style: Style, seed: int) -> TruthMonth:
    """One month in one style."""
    author = Author(style, seed)
    author.checks(45)
    author.carried_checks()
    author.debits(30)
    author.receipts(25)
    author.weekly()
    author.undecidable()
    author.takings()
    author.slips()
    author.bills()
    author.in_parts()
    author.washes()
    author.doubled()
    author.only_at_the_bank()
    author.nearly()
    author.round_amounts()
    author.agreed_prices()
    author.with_charge()
    author.returned()
    author.strangers()
    return author.month


@dataclass(frozen=True, slots=True)
class Score:
    """How a run did. `wrong` holds what was decided and should not have been."""

    decided: int
    right: int
    decidable: int
    found: int
    wrong: tuple[object, ...]
    missed: tuple[object, ...]

    @property
    def precision(self) -> float:
        return self.right / max(1, self.decided)

    @property
    def recall(self) -> float:
        return self.found / max(1, self.decidable)


def score(month: TruthMonth, outcome: Outcome) -> Score:
    """Compare what was decided automatically with the truth; items that are alike stand for each other."""

    def same(items: frozenset[str]) -> frozenset[str]:
        return frozenset(month.alike.get(item, item) for item in items)

    truth = {(same(lines), same(entries)) for lines, entries in month.together}
    washes = {same(items) for items in month.washed}
    decided: list[object] = []
    right: list[object] = []
    for made in outcome.matches:
        if {*map(str, made.lines), *map(str, made.entries)} <= month.loose:
            continue
        pair = same(frozenset(map(str, made.lines))), same(frozenset(map(str, made.entries)))
        decided.append((made.by.value, sorted(pair[0]), sorted(pair[1])))
        if pair in truth:
            right.append(pair)
    for wash in outcome.washes:
        items = same(frozenset(map(str, wash.ids)))
        decided.append(("wash", sorted(items)))
        if items in washes:
            right.append(items)
    wrong = tuple(d for d in decided if not _is_right(d, truth, washes))
    missed = tuple(t for t in [*truth, *washes] if t not in right)
    return Score(len(decided), len(right), len(truth) + len(washes), len(set(map(str, right))), wrong, missed)


def _is_right(decided: object, truth: set[tuple[frozenset[str], frozenset[str]]], washes: set[frozenset[str]]) -> bool:
    if not isinstance(decided, tuple):
        return False
    if decided[0] == "wash":
        return frozenset(decided[1]) in washes
    return (frozenset(decided[1]), frozenset(decided[2])) in truth
