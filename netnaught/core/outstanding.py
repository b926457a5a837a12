"""What lingers: the age of entries not yet at the bank, and by which rule one is stale."""

from __future__ import annotations

import calendar
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.references import entry_reference
from netnaught.core.statement import Side, money_in, money_out
from netnaught.core.wording import count

# UCC § 4-404 (US): a bank need not pay a check presented more than six months after its date.
STALE_MONTHS = 6
# A deposit in transit older than a few business days deserves a question, and a payment that has not reached
# the bank after two months is probably a mistake (common practice, no source).
DEPOSIT_DAYS = 5
PAYMENT_DAYS = 60


class OutstandingKind(StrEnum):
    """What an entry not at the bank is."""

    CHECK = "check"
    DEPOSIT_IN_TRANSIT = "deposit in transit"
    PAYMENT = "payment"


@dataclass(frozen=True, slots=True)
class StaleRules:
    """When an outstanding entry is stale, by its kind: a check after months, others after days; None: never."""

    check_months: int = STALE_MONTHS
    deposit_days: int | None = DEPOSIT_DAYS
    payment_days: int | None = PAYMENT_DAYS

    def days(self, kind: OutstandingKind) -> int | None:
        """The days after which an entry that is no check is stale."""
        return self.deposit_days if kind is OutstandingKind.DEPOSIT_IN_TRANSIT else self.payment_days


@dataclass(frozen=True, slots=True)
class Age:
    """How old an outstanding entry is at a day. `stale`: what it is past, such as "6 months"; "" while it is not."""

    kind: OutstandingKind
    days: int
    stale: str


def months_after(day: date, months: int) -> date:
    """The same day some months later; the month's last day where it has no such day."""
    month = day.month - 1 + months
    year, month = day.year + month // 12, month % 12 + 1
    return date(year, month, min(day.day, calendar.monthrange(year, month)[1]))


def kind_of(entry: BookEntry) -> OutstandingKind:
    """What an outstanding entry is: money in is a deposit, money out with a number as its reference a check."""
    if entry.amount > 0:
        return OutstandingKind.DEPOSIT_IN_TRANSIT
    return OutstandingKind.CHECK if entry_reference(entry).isdigit() else OutstandingKind.PAYMENT


def age(entry: BookEntry, at: date, rules: StaleRules) -> Age:
    """Judge an outstanding entry. A check is stale when one presented on `at` would come later than the rule allows."""
    kind, days = kind_of(entry), (at - entry.date).days
    if kind is OutstandingKind.CHECK:
        # No month is shorter than 28 days: most entries need no calendar.
        past = days > 28 * rules.check_months and at > months_after(entry.date, rules.check_months)
        return Age(kind, days, count(rules.check_months, "month") if past else "")
    limit = rules.days(kind)
    return Age(kind, days, count(limit, "day") if limit is not None and days > limit else "")


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
