"""The reconciliation: what is resolved, what is counted, and the difference that must come to zero.

    opening     closing of the last seal, or the starting balance
    counted     entries cleared here + lines resolved on the bank side alone
    difference  closing − opening − counted

All amounts are integers of minor units, signed, positive = money into the account.
The meaning of each word follows the equations of the trade as the docs state them
(docs/architecture.md, "The equations").
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.statement import ControlTotals, ItemId, Side, StatementLine, money_in, money_out


class DecisionKind(StrEnum):
    """The ways in which a statement line is resolved or a book entry cleared."""

    MATCH = "match"
    WASH = "wash"
    TICK = "tick"
    BANK_ERROR = "bank error"
    BANK_CORRECTION = "bank correction"


class DecisionRefused(ValueError):
    """A decision that the rules of the job do not allow; the message says which rule."""


@dataclass(frozen=True, slots=True)
class Decision:
    """One decision, by a pass or by a person, over lines and entries."""

    id: ItemId
    kind: DecisionKind
    lines: tuple[ItemId, ...] = ()
    entries: tuple[ItemId, ...] = ()


def check_decision(kind: DecisionKind, lines: Sequence[int], entries: Sequence[int]) -> None:
    """Refuse, with DecisionRefused, a decision whose amounts do not allow it.

    `lines`, `entries`: the amounts on the bank's and on the books' side.
    """
    if kind is DecisionKind.MATCH:
        if not lines or not entries:
            raise DecisionRefused("a match needs at least one statement line and one book entry")
        if sum(lines) != sum(entries):
            raise DecisionRefused("the two sides of a match must be equal to the cent")
    elif kind is DecisionKind.WASH:
        if bool(lines) == bool(entries) or len(lines) + len(entries) < 2:
            raise DecisionRefused("a wash takes two or more items of one side only")
        if sum(lines) + sum(entries):
            raise DecisionRefused("the items of a wash must cancel to zero")
    elif kind is DecisionKind.TICK:
        if lines or not entries:
            raise DecisionRefused("only book entries are ticked")
    elif len(lines) != 1 or entries:
        raise DecisionRefused(f"a {kind} is one statement line alone")


@dataclass(frozen=True, slots=True)
class Past:
    """What went before the period in work, at today's amounts.

    opening       closing of the last seal, or the starting balance; while an earlier
                  reconciliation is still open, provisionally its statement's closing
    books_gap     what the books count now over all sealed periods, less what was sealed
    late          entries cleared before, dated after the end of the period in work
    bank_errors   lines accepted before as bank errors and not yet corrected
    unfinished    the differences that earlier reconciliations still have
    """

    opening: int
    books_gap: int = 0
    late: int = 0
    bank_errors: int = 0
    unfinished: int = 0


def books_gap(shifts: Iterable[int]) -> int:
    """What all sealed periods count today − what was sealed: the sum of their shifts (counted now − in the seal).

    While no period is opened again that is starting balance + counted now − the last sealed closing.
    """
    return sum(shifts)


@dataclass(frozen=True, slots=True)
class Work:
    """Everything a standing is computed from.

    `lines` are those of this reconciliation, `entries` all that are not cleared in an
    earlier one, `cleared_later` those of them cleared in a later one, `decisions` those
    made in this one.
    """

    end: date
    closing: int | None
    past: Past
    lines: tuple[StatementLine, ...]
    entries: tuple[BookEntry, ...]
    decisions: tuple[Decision, ...]
    totals: ControlTotals = ControlTotals()
    cleared_later: frozenset[ItemId] = frozenset()

    @property
    def ticking(self) -> bool:
        """Whether entries are ticked because the statement has no lines."""
        return not self.lines


@dataclass(frozen=True, slots=True)
class Standing:
    """A reconciliation's figures at one moment; every one leads to the items it sums.

    `difference` and `rest` are None as long as no closing balance is known.
    """

    opening: int
    closing: int | None
    came_in: Side
    went_out: Side
    counted: int
    unresolved_in: Side
    unresolved_out: Side
    lines_total: int
    outstanding_in: Side
    outstanding_out: Side
    late: int
    bank_errors: int
    books_gap: int
    unfinished: int
    ticked_in: Side
    ticked_out: Side
    totals: ControlTotals
    ticking: bool

    @property
    def difference(self) -> int | None:
        """closing − opening − counted."""
        return None if self.closing is None else self.closing - self.opening - self.counted

    @property
    def lines_resolved(self) -> int:
        """Statement lines that are resolved."""
        return self.lines_total - self.unresolved_in.lines - self.unresolved_out.lines

    @property
    def rest(self) -> int | None:
        """The part of the difference that no unresolved line accounts for."""
        if self.difference is None:
            return None
        return self.difference - self.unresolved_in.total - self.unresolved_out.total

    @property
    def counted_so_far(self) -> int:
        """Opening and what is counted: where the books stand against the closing."""
        return self.opening + self.counted

    @property
    def book_balance(self) -> int:
        """The book balance at the period's end, built up from what is counted.

        counted so far + outstanding − late in the books − open bank errors + books gap
        − what earlier reconciliations still lack.
        Equals the sum of the bank book up to that day: a property test holds it to that.
        """
        return (
            self.counted_so_far
            + self.outstanding_in.total
            + self.outstanding_out.total
            - self.late
            - self.bank_errors
            + self.books_gap
            - self.unfinished
        )

    @property
    def adjusted_balance(self) -> int | None:
        """The bank's side of the two-sided form: closing, outstanding, late, bank errors."""
        if self.closing is None:
            return None
        return self.closing + self.outstanding_in.total + self.outstanding_out.total - self.late - self.bank_errors

    @property
    def complete(self) -> bool:
        """Difference zero and every statement line resolved. Outstanding entries are fine."""
        return self.difference == 0 and self.lines_resolved == self.lines_total

    @property
    def share(self) -> tuple[int, int]:
        """How much of the ring is drawn: (done, of all).

        Statement lines resolved; when ticking, the control totals reached, if given.
        A ring without anything to resolve is full only when the difference is zero.
        """
        if not self.ticking:
            return self.lines_resolved, self.lines_total
        wanted = abs(self.totals.total_in or 0) + abs(self.totals.total_out or 0)
        if not wanted:
            return (1, 1) if self.difference == 0 else (0, 1)
        ticked = abs(self.ticked_in.total) + abs(self.ticked_out.total)
        return min(ticked, wanted), wanted


def standing(work: Work) -> Standing:
    """Compute every figure of the naught strip from the items themselves."""
    resolved = {line for decision in work.decisions for line in decision.lines}
    cleared = {entry for decision in work.decisions for entry in decision.entries}
    bank_alone = {
        line
        for decision in work.decisions
        if decision.kind in (DecisionKind.BANK_ERROR, DecisionKind.BANK_CORRECTION)
        for line in decision.lines
    }
    cleared_entries = [entry for entry in work.entries if entry.id in cleared]
    bank_alone_total = sum(line.amount for line in work.lines if line.id in bank_alone)
    open_amounts = [line.amount for line in work.lines if line.id not in resolved]
    outstanding = [e.amount for e in work.entries if e.id not in cleared and e.date <= work.end]
    return Standing(
        opening=work.past.opening,
        closing=work.closing,
        came_in=money_in(line.amount for line in work.lines),
        went_out=money_out(line.amount for line in work.lines),
        counted=sum(entry.amount for entry in cleared_entries) + bank_alone_total,
        unresolved_in=money_in(open_amounts),
        unresolved_out=money_out(open_amounts),
        lines_total=len(work.lines),
        outstanding_in=money_in(outstanding),
        outstanding_out=money_out(outstanding),
        late=work.past.late + sum(entry.amount for entry in cleared_entries if entry.date > work.end),
        bank_errors=work.past.bank_errors + bank_alone_total,
        books_gap=work.past.books_gap,
        unfinished=work.past.unfinished,
        ticked_in=money_in(entry.amount for entry in cleared_entries),
        ticked_out=money_out(entry.amount for entry in cleared_entries),
        totals=work.totals,
        ticking=work.ticking,
    )


@dataclass(frozen=True, slots=True)
class BookFooting:
    """The books foot too: balance at start + entries of the period = balance at end.

    The three figures are taken from the book separately, so that `off` can show a loss.
    """

    start: int
    came_in: Side
    went_out: Side
    end: int

    @property
    def off(self) -> int:
        """end − (start + entries of the period)."""
        return self.end - self.start - self.came_in.total - self.went_out.total


def resolved_once(decisions: Iterable[Decision]) -> Mapping[tuple[str, ItemId], Decision]:
    """The decision of each ("line"|"entry", id); DecisionRefused if an item is in two."""
    found: dict[tuple[str, ItemId], Decision] = {}
    for decision in decisions:
        items = [("line", item) for item in decision.lines] + [("entry", item) for item in decision.entries]
        for item in items:
            if item in found:
                raise DecisionRefused(f"{item[0]} {item[1]} is decided twice")
            found[item] = decision
    return found
