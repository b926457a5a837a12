"""What lingers: the age of entries not yet at the bank, and when a check is stale."""

from __future__ import annotations

import calendar
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.references import entry_reference
from netnaught.core.statement import Side, money_in, money_out

# UCC § 4-404 (US): a bank need not pay a check presented more than six months after its date.
STALE_MONTHS = 6
# A deposit in transit older than a few business days deserves a question (common practice, no source).
SLOW_DEPOSIT_DAYS = 5


class OutstandingKind(StrEnum):
    """What an entry not at the bank is."""

    CHECK = "check"
    DEPOSIT_IN_TRANSIT = "deposit in transit"
    PAYMENT = "payment"


@dataclass(frozen=True, slots=True)
class Age:
    """How old an outstanding entry is at a day, and whether that is too old."""

    kind: OutstandingKind
    days: int
    stale: bool
    slow: bool


def months_after(day: date, months: int) -> date:
    """The same day some months later; the month's last day where it has no such day."""
    month = day.month - 1 + months
    year, month = day.year + month // 12, month % 12 + 1
    return date(year, month, min(day.day, calendar.monthrange(year, month)[1]))


def age(entry: BookEntry, at: date) -> Age:
    """Judge an outstanding entry. Stale: a check presented on `at` would come later than six months after its date."""
    days = (at - entry.date).days
    if entry.amount > 0:
        return Age(OutstandingKind.DEPOSIT_IN_TRANSIT, days, False, days > SLOW_DEPOSIT_DAYS)
    if entry_reference(entry).isdigit():
        return Age(OutstandingKind.CHECK, days, at > months_after(entry.date, STALE_MONTHS), False)
    return Age(OutstandingKind.PAYMENT, days, False, False)


# The steps of an ageing, in days, the last without end (common practice, no source).
AGES = (30, 60, 90, 180)


@dataclass(frozen=True, slots=True)
class AgeStep:
    """What is outstanding between two ages in days, `until` None for the last; in and out apart, minor units."""

    since: int
    until: int | None
    came_in: Side
    went_out: Side


def ageing(items: Sequence[tuple[Age, int]]) -> tuple[AgeStep, ...]:
    """Outstanding items, given with their amounts, by age: each stands in exactly one step."""
    steps: list[AgeStep] = []
    for since, until in zip((0, *(day + 1 for day in AGES)), (*AGES, None), strict=True):
        here = [a for age, a in items if age.days >= since and (until is None or age.days <= until)]
        steps.append(AgeStep(since, until, money_in(here), money_out(here)))
    return tuple(steps)
