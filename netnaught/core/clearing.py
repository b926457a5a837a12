"""Clearing accounts: what nets to zero by reference or by party is settled, the rest is owed or paid without cause.

Works on any ledger account that should empty itself again: takings on their way, transfers
between own accounts, suspense.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.matching.references import clean_reference
from netnaught.core.statement import ItemId


class SettledBy(StrEnum):
    """What the postings of a settled group have in common."""

    REFERENCE = "reference"
    PARTY = "party"


@dataclass(frozen=True, slots=True)
class Posting:
    """One line of a ledger account. `amount`: minor units, signed."""

    id: ItemId
    date: date
    amount: int
    party: str
    reference: str


@dataclass(frozen=True, slots=True)
class Group:
    """Postings of one reference or party, and what they come to: zero in a settled group."""

    by: SettledBy
    name: str
    postings: tuple[Posting, ...]

    @property
    def remainder(self) -> int:
        """Σ amounts, minor units."""
        return sum(posting.amount for posting in self.postings)


@dataclass(frozen=True, slots=True)
class Cleared:
    """Every posting in exactly one group.

    settled        groups that come to zero
    owed           what is still to come in, largest first
    without_cause  what was paid out with nothing against it, largest first
    """

    settled: tuple[Group, ...]
    owed: tuple[Group, ...]
    without_cause: tuple[Group, ...]

    @property
    def total_owed(self) -> int:
        """What is still to come in, minor units."""
        return sum(group.remainder for group in self.owed)

    @property
    def total_without_cause(self) -> int:
        """What was paid out with nothing against it, minor units."""
        return sum(group.remainder for group in self.without_cause)

    @property
    def balance(self) -> int:
        """What the account holds: the sum of the two remainders."""
        return self.total_owed + self.total_without_cause


def settle(postings: Iterable[Posting]) -> Cleared:
    """Group by reference first, then what is left by party."""
    rest = sorted(postings, key=lambda p: (p.date, str(p.id).zfill(20)))
    settled, rest = _netting(rest, SettledBy.REFERENCE, lambda p: clean_reference(p.reference))
    by_party, rest = _netting(rest, SettledBy.PARTY, lambda p: p.party.casefold().strip())
    left = _groups(rest, SettledBy.PARTY, lambda p: p.party.casefold().strip() or "no party")
    largest = sorted(left, key=lambda g: (-abs(g.remainder), g.name))
    return Cleared(
        (*settled, *by_party),
        tuple(group for group in largest if group.remainder > 0),
        tuple(group for group in largest if group.remainder <= 0),
    )


def _netting(
    postings: Sequence[Posting], by: SettledBy, key: Callable[[Posting], str]
) -> tuple[list[Group], list[Posting]]:
    """The groups of two and more that come to zero, and the postings of no such group."""
    groups = _groups([p for p in postings if key(p)], by, key)
    done = [group for group in groups if len(group.postings) > 1 and group.remainder == 0]
    taken = {posting.id for group in done for posting in group.postings}
    return done, [posting for posting in postings if posting.id not in taken]


def _groups(postings: Sequence[Posting], by: SettledBy, key: Callable[[Posting], str]) -> list[Group]:
    found: dict[str, list[Posting]] = {}
    for posting in postings:
        found.setdefault(key(posting), []).append(posting)
    return [Group(by, _name(part[0], by), tuple(part)) for part in found.values()]


def _name(posting: Posting, by: SettledBy) -> str:
    return posting.reference if by is SettledBy.REFERENCE else posting.party.strip() or "no party"
