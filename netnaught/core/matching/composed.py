"""Passes that a person composes from fields; they run after the fixed ones."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from netnaught.core.matching.field import Field, by_key
from netnaught.core.matching.items import Match, PassName
from netnaught.core.matching.passes import Made, Window, matched
from netnaught.core.matching.traits import Traits, contradict, share_words
from netnaught.core.statement import ItemId, LineKind


class SameReference(StrEnum):
    """How closely two references agree."""

    NO_MATTER = "no matter"
    EQUAL = "equal"
    DIGITS = "same digits"
    ENDING = "one ends in the other"


class SameText(StrEnum):
    """How closely two texts agree."""

    NO_MATTER = "no matter"
    PARTY = "same party"
    WORDS = "every word of one in the other"


class Sign(StrEnum):
    """Which way the money goes."""

    ANY = "in or out"
    IN = "in"
    OUT = "out"


# A reference that ends in another is the same one only where the other is long enough to be none by chance.
SHORTEST_ENDING = 4


class NotComposed(ValueError):
    """A composition that could not be certain of any match."""


@dataclass(frozen=True, slots=True)
class Composed:
    """Amounts agree exactly, and what else is asked for; a match is made where no other open item could take a side.

    `kind`: of the bank's line, None for any. `window`: days as in the fixed passes.
    """

    title: str
    reference: SameReference = SameReference.NO_MATTER
    text: SameText = SameText.NO_MATTER
    window: Window = Window(before=30, after=10)
    sign: Sign = Sign.ANY
    kind: LineKind | None = None
    name: PassName = PassName.COMPOSED

    def check(self) -> None:
        """NotComposed where amount and date alone would decide, or the title is empty."""
        if not self.title.strip():
            raise NotComposed("a composed pass has a title")
        if self.reference is SameReference.NO_MATTER and self.text is SameText.NO_MATTER:
            raise NotComposed("amount alone only proposes: name a reference or a text that has to agree")

    def sentence(self) -> str:
        """What has to agree, in words."""
        parts = ["amount"]
        if self.reference is not SameReference.NO_MATTER:
            parts.append(f"reference ({self.reference.value})")
        if self.text is not SameText.NO_MATTER:
            parts.append(f"text ({self.text.value})")
        which = f"{self.kind.value} lines" if self.kind else "lines"
        way = f", money {self.sign.value}" if self.sign is not Sign.ANY else ""
        return f"{' and '.join(parts)} agree, for {which}{way}"

    def run(self, field: Field) -> Made:
        """Matches in the order of the statement."""
        entries = by_key(field.entries.values(), lambda e: e.amount if self._right_way(e) else None)
        pairs: list[tuple[Traits, Traits]] = []
        for line in field.lines.values():
            if self._right_way(line) and (self.kind is None or line.kind is self.kind):
                pairs += [(line, entry) for entry in entries.get(line.amount, []) if self._agree(line, entry)]
        return Made(tuple(self._certain(pairs)))

    def _right_way(self, item: Traits) -> bool:
        return self.sign is Sign.ANY or (item.amount > 0) == (self.sign is Sign.IN)

    def _agree(self, line: Traits, entry: Traits) -> bool:
        return (
            _references_agree(self.reference, line, entry)
            and _texts_agree(self.text, line, entry)
            and not contradict(line, entry)
        )

    def _certain(self, pairs: list[tuple[Traits, Traits]]) -> Iterator[Match]:
        """Pairs whose two items stand in no other pair, whatever the window."""
        times: dict[tuple[bool, ItemId], int] = defaultdict(int)
        for line, entry in pairs:
            times[True, line.id] += 1
            times[False, entry.id] += 1
        for line, entry in pairs:
            if times[True, line.id] == times[False, entry.id] == 1 and self.window.holds(line, entry):
                yield matched(line, entry, self.name, 90, f"“{self.title}”: {self.sentence()}")


def _references_agree(how: SameReference, line: Traits, entry: Traits) -> bool:
    if how is SameReference.NO_MATTER:
        return True
    one, other = line.reference, entry.reference
    if not one or not other:
        return False
    if how is SameReference.EQUAL:
        return one == other
    if how is SameReference.DIGITS:
        return bool(line.core) and line.core == entry.core
    shorter, longer = sorted((one, other), key=len)
    return len(shorter) >= SHORTEST_ENDING and longer.endswith(shorter)


def _texts_agree(how: SameText, line: Traits, entry: Traits) -> bool:
    if how is SameText.NO_MATTER:
        return True
    if how is SameText.PARTY:
        return share_words(line, entry)
    return bool(line.words and entry.words) and (line.words <= entry.words or entry.words <= line.words)
