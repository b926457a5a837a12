"""Washes: what was booked and taken back, what the bank posted twice and backed out.

A pair washes only where both halves are in excess of what stands opposite: a deposit and
its return by the bank are two events when the books have the deposit.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from netnaught.core.matching.field import Field, by_key
from netnaught.core.matching.items import PassName, Wash
from netnaught.core.matching.passes import Made, apart
from netnaught.core.matching.traits import Traits, share_words


@dataclass(frozen=True, slots=True)
class Washes:
    """Same amount with opposite signs on one side, near in time, told to belong together.

    `days`: how far apart with a reference or a word of reversal; `near`: with the same party alone.
    """

    days: int = 45
    near: int = 14
    name: PassName = PassName.WASHES

    def run(self, field: Field) -> Made:
        """Washes of both sides, by date."""
        bank = self._side(field.lines.values(), field.entries.values(), on_bank=True)
        books = self._side(field.entries.values(), field.lines.values(), on_bank=False)
        return Made(washes=tuple(bank + books))

    def _side(self, own: Iterable[Traits], other: Iterable[Traits], *, on_bank: bool) -> list[Wash]:
        items = list(own)
        mine, theirs = Counter(t.amount for t in items), Counter(t.amount for t in other)
        excess = {amount: mine[amount] - theirs[amount] for amount in mine}
        by_amount = by_key(
            (t for t in items if excess[t.amount] > 0 and excess.get(-t.amount, 0) > 0), lambda t: t.amount
        )
        found: list[Wash] = []
        used: set[object] = set()
        for amount, takers in by_amount.items():
            if not isinstance(amount, int) or amount < 0:
                continue
            for one in takers:
                partner = self._partner(one, [t for t in by_amount.get(-amount, []) if t.id not in used])
                if partner is None or excess[amount] <= 0 or excess[-amount] <= 0:
                    continue
                used |= {one.id, partner.id}
                excess[amount] -= 1
                excess[-amount] -= 1
                first, second = sorted((one, partner), key=lambda t: t.day)
                gap = apart((second.day - first.day).days)
                why = f"the same amount in and out, {self._why(one, partner)}, {gap}"
                found.append(Wash(on_bank, (first.id, second.id), 93, why))
        return found

    def _partner(self, one: Traits, others: list[Traits]) -> Traits | None:
        """The only candidate, or the nearest of candidates that are alike."""
        held = [t for t in others if self._belongs(one, t)]
        if not held:
            return None
        if len({t.reference for t in held}) > 1 and len({t.text for t in held}) > 1:
            return None
        return min(held, key=lambda t: (abs((t.day - one.day).days), str(t.id)))

    def _belongs(self, one: Traits, other: Traits) -> bool:
        gap = abs((one.day - other.day).days)
        if gap <= self.days and (_related(one, other) or _reversed(one, other)):
            return True
        return gap <= self.near and bool(one.words) and one.words == other.words

    def _why(self, one: Traits, other: Traits) -> str:
        if _related(one, other):
            return f"reference {one.reference or other.reference}"
        return "one takes the other back" if _reversed(one, other) else "the same party"


def _related(one: Traits, other: Traits) -> bool:
    """Whether one reference is the other, its beginning, or stands in the other's text."""
    if one.tokens & other.tokens:
        return True
    if not one.reference or not other.reference:
        return False
    return one.reference.startswith(other.reference) or other.reference.startswith(one.reference)


def _reversed(one: Traits, other: Traits) -> bool:
    if one.reverses == other.reverses and not one.reverses:
        return False
    named = (
        one.reference in other.tokens or other.reference in one.tokens if one.reference or other.reference else False
    )
    return named or share_words(one, other)
