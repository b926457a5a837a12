"""Settling open items: which unpaid invoices or bills a bank line pays, and how its amount is laid out over them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from itertools import combinations

from netnaught.core.matching.traits import words_of
from netnaught.core.statement import StatementLine


class ItemKind(StrEnum):
    """What is owed: to the company, or by it."""

    INVOICE = "invoice"
    BILL = "bill"


class SettlingRefused(ValueError):
    """Items that a line cannot settle; the message says why."""


@dataclass(frozen=True, slots=True)
class OpenItem:
    """An unpaid invoice or bill. `amount`: what it was for, `open`: what is still owed; minor units, positive."""

    id: int
    kind: ItemKind
    party: str
    number: str
    issued: date
    due: date
    amount: int
    open: int


@dataclass(frozen=True, slots=True)
class Proposal:
    """Items that a line seems to settle. `off`: the line's size less what they owe; minor units."""

    items: tuple[OpenItem, ...]
    off: int
    why: str


@dataclass(frozen=True, slots=True)
class Paid:
    """What a line pays of one item, minor units, positive."""

    item: OpenItem
    amount: int


@dataclass(frozen=True, slots=True)
class Layout:
    """How a line's size is laid out.

    paid       per item; more than the line where the rest is written off
    written    what is written off, positive
    on_account what stays with the party, positive
    """

    paid: tuple[Paid, ...]
    written: int = 0
    on_account: int = 0


# Sums of several items of one party are looked for among so few: more would make chance sums likely.
_MOST_OF_PARTY = 12
# What may be missing for a fee or a few cents, beside a number that stands in the text.
_SHORT = 5_000
_SHORT_SHARE = 20


def fitting(line: StatementLine, items: Sequence[OpenItem]) -> list[OpenItem]:
    """Items that a line can settle: invoices with money in, bills with money out, oldest due first."""
    kind = ItemKind.INVOICE if line.amount > 0 else ItemKind.BILL
    return sorted((i for i in items if i.kind is kind and i.open > 0), key=lambda i: (i.due, i.issued, i.id))


def propose(line: StatementLine, items: Sequence[OpenItem]) -> Proposal | None:
    """The items a line most likely settles: by numbers in its text, by party and exact sum, by one exact amount."""
    mine, size = fitting(line, items), abs(line.amount)
    text = f"{line.description} {line.reference}".upper()
    named = [item for item in mine if _stands_in(item.number, text)]
    if named:
        off = size - sum(item.open for item in named)
        if off >= 0 or -off <= min(_SHORT, size // _SHORT_SHARE) or len(named) == 1:
            listed = ", ".join(item.number for item in named)
            return Proposal(tuple(named), off, f"{listed} in the bank's text")
    words = words_of(line.description)
    party = [item for item in mine if (own := words_of(item.party)) and own <= words]
    if party:
        for count in range(1, min(len(party), 4) + 1):
            sums = [c for c in combinations(party[:_MOST_OF_PARTY], count) if sum(i.open for i in c) == size]
            if len(sums) == 1:
                return Proposal(sums[0], 0, f"{party[0].party} is named and the sum is exact")
            if sums:
                return None  # more than one way to make it: a person chooses
        if len({item.party for item in party}) == 1 and sum(item.open for item in party) == size:
            return Proposal(tuple(party), 0, f"all that {party[0].party} owes")
    exact = [item for item in mine if item.open == size]
    if len(exact) == 1 and not named:
        return Proposal((exact[0],), 0, "the only open item of this amount")
    return None


def _stands_in(number: str, text: str) -> bool:
    """Whether a number of three characters and more stands in a text, not inside a longer one."""
    wanted = number.upper().strip()
    return len(wanted) >= 3 and bool(re.search(rf"(?<![0-9A-Z]){re.escape(wanted)}(?![0-9A-Z])", text))


def lay_out(amount: int, items: Sequence[OpenItem], *, write_off: bool) -> Layout:
    """Lay a line's amount over items in their order.

    Too little: the last item stays open in part, or with `write_off` all are settled and the rest is
    written off. Too much: the rest stays on account. SettlingRefused: no item, one twice, a wrong
    sign, nothing left to pay, or more written off than paid.
    """
    size = abs(amount)
    if not items:
        raise SettlingRefused("no open item is named")
    if len({item.id for item in items}) < len(items):
        raise SettlingRefused("an item is named twice")
    kind = ItemKind.INVOICE if amount > 0 else ItemKind.BILL
    for item in items:
        if item.kind is not kind:
            raise SettlingRefused(f"{item.number} is {_a(item.kind)}, which money {_way(amount)} cannot settle")
        if item.open <= 0:
            raise SettlingRefused(f"{item.number} is settled already")
    owed = sum(item.open for item in items)
    if write_off:
        if owed <= size:
            raise SettlingRefused("nothing is short: there is nothing to write off")
        if owed - size > size:
            raise SettlingRefused("more would be written off than was paid")
        return Layout(tuple(Paid(item, item.open) for item in items), written=owed - size)
    left, paid = size, list[Paid]()
    for item in items:
        if left == 0:
            raise SettlingRefused(f"nothing is left for {item.number}")
        paid.append(Paid(item, min(left, item.open)))
        left -= paid[-1].amount
    return Layout(tuple(paid), on_account=left)


def _a(kind: ItemKind) -> str:
    return "an invoice" if kind is ItemKind.INVOICE else "a bill"


def _way(amount: int) -> str:
    return "in" if amount > 0 else "out"
