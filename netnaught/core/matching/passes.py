"""The automatic passes: each guarantees that a match it makes is unique among all open items.

An item is unique when no other open item of its side could take its place, whatever the
window: a rival outside the window still makes the pair a question for a person.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from typing import Protocol, TypeVar

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.items import Match, OpenItems, PassName
from netnaught.core.matching.references import contradict, entry_reference, line_reference
from netnaught.core.statement import StatementLine
from netnaught.core.wording import count

Item = TypeVar("Item")

# A bank date this many days from the book date is worth a notice (common practice, no source).
FAR_APART = 45


class Pass(Protocol):
    """One automatic step: from open items to matches."""

    @property
    def name(self) -> PassName: ...

    def run(self, items: OpenItems) -> list[Match]: ...


@dataclass(frozen=True, slots=True)
class Window:
    """How far a book entry may be dated before or after the bank's line, in days."""

    before: int
    after: int

    def holds(self, line: StatementLine, entry: BookEntry) -> bool:
        """Whether the entry's date lies inside."""
        return -self.after <= (line.date - entry.date).days <= self.before


def by_key(items: Iterable[Item], key: Callable[[Item], Hashable | None]) -> dict[Hashable, list[Item]]:
    """Items under their key; those whose key is None are left out."""
    found: dict[Hashable, list[Item]] = defaultdict(list)
    for item in items:
        value = key(item)
        if value is not None:
            found[value].append(item)
    return found


def _apart(days: int) -> str:
    if days == 0:
        return "on the same day"
    return f"{count(abs(days), 'day')} apart"


@dataclass(frozen=True, slots=True)
class ReferenceAndAmount:
    """Same cleaned reference and same amount, once on each side."""

    window: Window = Window(before=400, after=31)
    name: PassName = PassName.REFERENCE_AND_AMOUNT

    def run(self, items: OpenItems) -> list[Match]:
        """Matches in the order of the statement."""
        lines = by_key(items.lines, lambda line: (ref, line.amount) if (ref := line_reference(line)) else None)
        entries = by_key(items.entries, lambda entry: (ref, entry.amount) if (ref := entry_reference(entry)) else None)
        found: list[Match] = []
        for key, alike in lines.items():
            partners = entries.get(key, [])
            if len(alike) != 1 or len(partners) != 1 or not self.window.holds(alike[0], partners[0]):
                continue
            line, entry = alike[0], partners[0]
            days = (line.date - entry.date).days
            why = f"reference {line_reference(line)} and amount agree, {_apart(days)}"
            found.append(Match((line.id,), (entry.id,), self.name, 99, why, days))
        return found


@dataclass(frozen=True, slots=True)
class AmountAndDate:
    """Same amount, dates inside the window, and no other open item of that amount on either side."""

    window: Window = Window(before=10, after=5)
    name: PassName = PassName.AMOUNT_AND_DATE

    def run(self, items: OpenItems) -> list[Match]:
        """Matches in the order of the statement."""
        lines = by_key(items.lines, lambda line: line.amount)
        entries = by_key(items.entries, lambda entry: entry.amount)
        found: list[Match] = []
        for amount, alike in lines.items():
            partners = entries.get(amount, [])
            if len(alike) != 1 or len(partners) != 1:
                continue
            line, entry = alike[0], partners[0]
            if line.amount == 0 or not self.window.holds(line, entry) or contradict(line, entry):
                continue
            days = (line.date - entry.date).days
            why = f"amount agrees, {_apart(days)}, and no other open item has this amount"
            found.append(Match((line.id,), (entry.id,), self.name, 95 - min(abs(days), 10), why, days))
        return found


DEFAULT_PASSES: tuple[Pass, ...] = (ReferenceAndAmount(), AmountAndDate())
