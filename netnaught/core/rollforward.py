"""The roll-forward of outstanding items from the last seal to a day, and what is odd about check numbers.

    start + booked in the period + backdated since the last seal ± changed or voided − cleared = end

Entries dated after the day and cleared by it (late in the books) stand apart: they are on neither list.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.references import entry_reference
from netnaught.core.statement import ItemId


@dataclass(frozen=True, slots=True)
class RollForward:
    """Minor units, signed. `end` = start + booked + backdated + changed − cleared. `late` stands apart."""

    start: int
    booked: int
    backdated: int
    changed: int
    cleared: int
    late: int

    @property
    def end(self) -> int:
        """The outstanding list at the end."""
        return self.start + self.booked + self.backdated + self.changed - self.cleared


def roll_forward(
    sealed: Mapping[ItemId, int], entries: Sequence[BookEntry], cleared: Collection[ItemId], after: date, until: date
) -> RollForward:
    """Walk from the list as sealed to the list at `until`.

    `sealed`: the outstanding amounts of the last seal (or the starting items) by entry; `entries`: all not
    cleared in an earlier period; `cleared`: those cleared in this one; the period runs after `after`.
    """
    here = {entry.id: entry for entry in entries if entry.date <= until}
    fresh = [entry for entry in here.values() if entry.id not in sealed]
    changed = sum((here[i].amount if i in here else 0) - amount for i, amount in sealed.items())
    return RollForward(
        start=sum(sealed.values()),
        booked=sum(entry.amount for entry in fresh if entry.date > after),
        backdated=sum(entry.amount for entry in fresh if entry.date <= after),
        changed=changed,
        cleared=sum(entry.amount for entry in here.values() if entry.id in cleared),
        late=sum(entry.amount for entry in entries if entry.id in cleared and entry.date > until),
    )


@dataclass(frozen=True, slots=True)
class CheckNumbers:
    """Runs of numbers missing between two checks that were written, and numbers that stand twice, by entry ids."""

    gaps: tuple[tuple[int, int], ...]
    doubles: tuple[tuple[int, tuple[ItemId, ...]], ...]


# A longer run of missing numbers is another check book, not a gap.
LONGEST_GAP = 20


def check_numbers(entries: Sequence[BookEntry]) -> CheckNumbers:
    """What is odd about the numbers of payments by check."""
    by_number: dict[int, list[ItemId]] = {}
    for entry in entries:
        reference = entry_reference(entry)
        if entry.amount < 0 and reference.isdigit():
            by_number.setdefault(int(reference), []).append(entry.id)
    numbers = sorted(by_number)
    gaps = tuple(
        (before + 1, after - 1) for before, after in pairwise(numbers) if 1 < after - before <= LONGEST_GAP + 1
    )
    doubles = tuple((number, tuple(ids)) for number, ids in sorted(by_number.items()) if len(ids) > 1)
    return CheckNumbers(gaps, doubles)
