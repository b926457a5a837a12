"""The statement: what the bank says, whether it foots, and whether it joins the one before."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from netnaught.core.wording import Wording

ItemId = int | str
Day = date


class LineKind(StrEnum):
    """What the bank says a line is; `other` where it does not say."""

    CHECK = "check"
    DEPOSIT = "deposit"
    PAYMENT = "payment"
    TRANSFER = "transfer"
    CARD = "card"
    CASH = "cash"
    FEE = "fee"
    INTEREST = "interest"
    DIRECT_DEBIT = "direct debit"
    OTHER = "other"


@dataclass(frozen=True, slots=True)
class StatementLine:
    """One line of a statement. `amount`: minor units, positive = money into the account."""

    id: ItemId
    date: Day
    amount: int
    reference: str = ""
    description: str = ""
    kind: LineKind = LineKind.OTHER
    value_date: Day | None = None


@dataclass(frozen=True, slots=True)
class Side:
    """Money in one direction: its sum (minor units, signed) and its number of lines."""

    total: int
    lines: int


def money_in(amounts: Iterable[int]) -> Side:
    """What came in among `amounts`."""
    came = [amount for amount in amounts if amount > 0]
    return Side(sum(came), len(came))


def money_out(amounts: Iterable[int]) -> Side:
    """What went out among `amounts`; the total is negative or zero."""
    went = [amount for amount in amounts if amount < 0]
    return Side(sum(went), len(went))


@dataclass(frozen=True, slots=True)
class ControlTotals:
    """Totals printed on a statement; None where it prints none. `total_out` is negative or zero."""

    total_in: int | None = None
    total_out: int | None = None
    count_in: int | None = None
    count_out: int | None = None


@dataclass(frozen=True, slots=True)
class StatementHead:
    """Dates and balances at the head of a statement. Balances are None where it states none."""

    start: date
    end: date
    opening: int | None
    closing: int | None
    totals: ControlTotals = ControlTotals()
    dates_stated: bool = True


@dataclass(frozen=True, slots=True)
class Footing:
    """Whether opening + lines = closing. `off` is closing − (opening + lines), 0 when it foots.

    `told` is False where a balance is missing, so that footing cannot be told.
    `faults` names printed totals that the lines do not agree with: (name, printed, found),
    sums in minor units, counts as numbers.
    """

    told: bool
    off: int
    faults: tuple[tuple[str, int, int], ...] = ()

    @property
    def foots(self) -> bool | None:
        """True, False, or None when it cannot be told."""
        if self.off or self.faults:
            return False
        return True if self.told else None


@dataclass(frozen=True, slots=True)
class Delivered:
    """What a statement's lines make, as the file delivered them: lines already known included.

    `listed` is False for paper: the statement has lines, but nobody typed them.
    """

    came_in: Side
    went_out: Side
    listed: bool = True

    @property
    def total(self) -> int:
        """Σ lines, minor units."""
        return self.came_in.total + self.went_out.total

    @property
    def lines(self) -> int:
        """How many lines moved money."""
        return self.came_in.lines + self.went_out.lines


def delivered(amounts: Iterable[int], listed: bool = True) -> Delivered:
    """Sum up the lines of a statement."""
    given = list(amounts)
    return Delivered(money_in(given), money_out(given), listed)


def footing(head: StatementHead, lines: Delivered) -> Footing:
    """Judge a statement as delivered.

    A statement typed without lines is judged by its printed totals, if it has both.
    """
    printed = head.totals
    total: int | None = lines.total
    faults: tuple[tuple[str, int, int], ...] = ()
    if lines.listed:
        compared = (
            ("total in", printed.total_in, lines.came_in.total),
            ("total out", printed.total_out, lines.went_out.total),
            ("number in", printed.count_in, lines.came_in.lines),
            ("number out", printed.count_out, lines.went_out.lines),
        )
        faults = tuple((name, said, found) for name, said, found in compared if said is not None and said != found)
    else:
        known = printed.total_in is not None and printed.total_out is not None
        total = (printed.total_in or 0) + (printed.total_out or 0) if known else None
    if head.opening is None or head.closing is None or total is None:
        return Footing(False, 0, faults)
    return Footing(True, head.closing - head.opening - total, faults)


def opening_of(head: StatementHead, lines: Delivered) -> int | None:
    """The opening a statement states, else the one its closing and lines imply, else None."""
    if head.opening is not None:
        return head.opening
    return None if head.closing is None or not lines.listed else head.closing - lines.total


class NoticeKind(StrEnum):
    """What may be wrong between a statement and what went before it."""

    GAP = "gap"
    OVERLAP = "overlap"
    NOT_FOOTING = "not footing"
    BANK_GAP = "bank gap"
    OTHER_ACCOUNT = "other account"


@dataclass(frozen=True, slots=True)
class Notice:
    """One thing that a person must confirm before storing and settle before sealing.

    `start`/`end`: the days concerned; `amount`: minor units concerned, 0 where none.
    `expected`/`found`: the two balances that disagree, where balances do.
    """

    kind: NoticeKind
    start: date
    end: date
    amount: int = 0
    expected: int | None = None
    found: int | None = None
    detail: str = ""

    def sentence(self, say: Wording) -> str:
        """The notice in words, with its dates and amounts."""
        days = say.day(self.start) if self.start == self.end else f"{say.day(self.start)} to {say.day(self.end)}"
        if self.kind is NoticeKind.OTHER_ACCOUNT:
            return f"{self.detail}. Stored here, that number is remembered as this account's."
        if self.kind is NoticeKind.GAP:
            return f"No statement covers {days}."
        if self.kind is NoticeKind.OVERLAP:
            more = f": {self.detail}" if self.detail else ""
            return f"An earlier statement already covers {days}{more}."
        if self.kind is NoticeKind.NOT_FOOTING:
            if self.detail:
                return f"The statement {days} does not foot: {self.detail}."
            return (
                f"The statement {days} does not foot: opening and lines make "
                f"{say.amount(self.expected or 0)}, it says {say.amount(self.found or 0)}, "
                f"{say.amount(self.amount)} apart."
            )
        return (
            f"The statement {days} opens at {say.amount(self.found or 0)}, the closing before it is "
            f"{say.amount(self.expected or 0)}: a bank gap of {say.amount(self.amount)}."
        )


@dataclass(frozen=True, slots=True)
class Join:
    """Where a statement has to join on: the last day covered and the balance there (None: unknown)."""

    end: date
    closing: int | None


def continuity(head: StatementHead, opening: int | None, before: Join) -> tuple[Notice, ...]:
    """Gap, overlap and bank gap of a statement against what came before it.

    Dates taken from the lines, because the format states none, cannot show a gap in days;
    the balances still can.
    """
    found: list[Notice] = []
    day = timedelta(days=1)
    if head.dates_stated and head.start > before.end + day:
        found.append(Notice(NoticeKind.GAP, before.end + day, head.start - day))
    if head.start <= before.end:
        found.append(Notice(NoticeKind.OVERLAP, head.start, min(before.end, head.end)))
    elif opening is not None and before.closing is not None and opening != before.closing:
        found.append(
            Notice(
                NoticeKind.BANK_GAP,
                head.start,
                head.end,
                amount=opening - before.closing,
                expected=before.closing,
                found=opening,
            )
        )
    return tuple(found)


def footing_notices(head: StatementHead, judged: Footing, say: Wording) -> tuple[Notice, ...]:
    """The ways in which a statement does not foot."""
    found: list[Notice] = []
    if judged.off:
        closing = head.closing or 0
        found.append(
            Notice(
                NoticeKind.NOT_FOOTING, head.start, head.end, judged.off, expected=closing - judged.off, found=closing
            )
        )
    for name, printed, counted in judged.faults:
        write = say.amount if name.startswith("total") else str
        found.append(
            Notice(
                NoticeKind.NOT_FOOTING,
                head.start,
                head.end,
                detail=f"its {name} is printed as {write(printed)}, the lines make {write(counted)}",
            )
        )
    return tuple(found)
