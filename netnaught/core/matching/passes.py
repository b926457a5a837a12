"""The automatic passes over pairs: each guarantees that a match it makes is certain among all open items.

An item is unique when no other open item of its side could take its place, whatever the
window: a rival outside the window still makes the pair a question for a person, unless
references or texts tell the two apart. Where equal counts stand on both sides and nothing
tells them apart, they are paired in the order of their days, marked as interchangeable.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

from netnaught.core.matching.field import Field, by_key
from netnaught.core.matching.items import Match, PassName, Wash
from netnaught.core.matching.traits import Traits, contradict, share_words
from netnaught.core.statement import ItemId
from netnaught.core.wording import count

# A bank date this many days from the book date is worth a notice (common practice, no source).
FAR_APART = 45
# Until an account has clearing lags of its own, checks are looked for this long (common practice).
CHECK_DAYS = 90


@dataclass(frozen=True, slots=True)
class Made:
    """What a pass decided."""

    matches: tuple[Match, ...] = ()
    washes: tuple[Wash, ...] = ()


class Pass(Protocol):
    """One automatic step over the open items."""

    @property
    def name(self) -> PassName: ...

    def run(self, field: Field) -> Made: ...


@dataclass(frozen=True, slots=True)
class Window:
    """How far a book entry may be dated before or after the bank's line, in days."""

    before: int
    after: int

    def holds(self, line: Traits, entry: Traits) -> bool:
        """Whether the entry's date lies inside."""
        return -self.after <= (line.day - entry.day).days <= self.before


def window_of(step: Pass) -> Window | None:
    """The window of a pass; None for one that has none."""
    window = getattr(step, "window", None)
    return window if isinstance(window, Window) else None


def with_window(step: Pass, window: Window) -> Pass:
    """The same pass with another window."""
    changed: Pass = replace(step, window=window)  # type: ignore[type-var]  # every pass with a window is a dataclass
    return changed


def apart(days: int) -> str:
    """The gap of two days in words."""
    return "on the same day" if days == 0 else f"{count(abs(days), 'day')} apart"


def called(line: Traits, entry: Traits) -> str:
    """That a person has matched the line's text with this payee before, in words; "" where it is not so."""
    same = line.called and line.called.casefold() == entry.name.casefold()
    return f"this text has been {entry.name} before" if same else ""


def matched(line: Traits, entry: Traits, by: PassName, confidence: int, why: str) -> Match:
    """A match of one line and one entry; `why` gets the days between."""
    days = (line.day - entry.day).days
    return Match((line.id,), (entry.id,), by, confidence, f"{why}, {apart(days)}", days)


@dataclass(frozen=True, slots=True)
class ReferenceAndAmount:
    """Same cleaned reference and same amount; a reference may stand in the text of the other side."""

    window: Window = Window(before=400, after=31)
    name: PassName = PassName.REFERENCE_AND_AMOUNT

    def run(self, field: Field) -> Made:
        """Matches in the order of the statement."""
        lines = by_key(field.lines.values(), lambda x: (x.reference, x.amount) if x.reference else None)
        entries = by_key(field.entries.values(), lambda e: (e.reference, e.amount) if e.reference else None)
        found: list[Match] = []
        for key, alike in lines.items():
            found += self._pairs(alike, entries.get(key, []))
        taken = {item for match in found for item in match.entries}
        done = {item for match in found for item in match.lines}
        return Made(tuple(found + self._in_text(field, taken, done)))

    def _pairs(self, lines: list[Traits], entries: list[Traits]) -> list[Match]:
        if not entries or len(lines) > len(entries):
            return []
        held = [(x, e) for x, e in zip(lines, entries, strict=False) if self.window.holds(x, e)]
        if len(held) < len(lines):
            return []
        doubled = len(entries) > len(lines)
        extra = f"; the books have it {len(entries)} times" if doubled else ""
        why = "reference {} and amount agree" + extra
        return [matched(x, e, self.name, 90 if doubled else 99, why.format(x.reference)) for x, e in held]

    def _in_text(self, field: Field, taken: set[ItemId], done: set[ItemId]) -> list[Match]:
        entries = by_key(
            (e for e in field.entries.values() if e.id not in taken),
            lambda e: (e.core, e.amount) if e.core else None,
        )
        named: dict[object, list[Traits]] = defaultdict(list)
        for line in field.lines.values():
            if line.id not in done:
                for token in line.tokens:
                    if (token, line.amount) in entries:
                        named[token, line.amount].append(line)
        found: list[Match] = []
        used: set[ItemId] = set()
        for key, lines in named.items():
            line, partners = lines[0], entries[key]
            certain = len(lines) == 1 and len({e.reference for e in partners}) == 1 and line.id not in used
            if certain and self.window.holds(line, partners[0]):
                used.add(line.id)
                doubled = f"; the books have it {len(partners)} times" if len(partners) > 1 else ""
                why = f"reference {partners[0].reference} stands in the bank's text and the amount agrees{doubled}"
                found.append(matched(line, partners[0], self.name, 90 if doubled else 97, why))
        return found


def _of_one_amount(field: Field) -> Iterator[tuple[list[Traits], list[Traits]]]:
    """Lines and entries of one amount, in the order of the statement; the entries may be none."""
    entries = by_key(field.entries.values(), lambda e: e.amount or None)
    for amount, lines in by_key(field.lines.values(), lambda x: x.amount or None).items():
        yield lines, entries.get(amount, [])


def in_order(
    lines: Sequence[Traits], entries: Sequence[Traits], window: Window, field: Field, check_days: int = CHECK_DAYS
) -> list[tuple[Traits, Traits]]:
    """Equal numbers of lines and entries paired by their days; empty unless every pair can be one event."""
    pairs = list(zip(lines, entries, strict=True))
    check = Window(max(window.before, check_days), window.after)
    for line, entry in pairs:
        held = check if line.is_check else window
        if not held.holds(line, entry) or contradict(line, entry) or field.vocabulary.names_other(line, entry):
            return []
    return pairs


@dataclass(frozen=True, slots=True)
class AmountAndDate:
    """Same amount and dates inside the window, as often on one side as on the other.

    `checks`: how many days a check may have been on its way.
    """

    window: Window = Window(before=10, after=5)
    checks: int = CHECK_DAYS
    name: PassName = PassName.AMOUNT_AND_DATE

    def run(self, field: Field) -> Made:
        """Matches in the order of the statement."""
        found: list[Match] = []
        for alike, partners in _of_one_amount(field):
            if len(alike) != len(partners):
                continue
            pairs = in_order(alike, partners, self.window, field, self.checks)
            for line, entry in pairs:
                gap = min(abs((line.day - entry.day).days), 10)
                if len(pairs) == 1:
                    why = "no other open item has this amount; it agrees"
                    found.append(matched(line, entry, self.name, 95 - gap, why))
                else:
                    why = f"{len(pairs)} of this amount on each side, interchangeable, paired in date order"
                    found.append(matched(line, entry, self.name, 88 - gap, why))
        return Made(tuple(found))


@dataclass(frozen=True, slots=True)
class AmountAndText:
    """Same amount and the same party named: texts tell apart what amounts and dates do not."""

    window: Window = Window(before=45, after=10)
    name: PassName = PassName.AMOUNT_AND_TEXT

    def run(self, field: Field) -> Made:
        """Matches in the order of the statement."""
        found: list[Match] = []
        for alike, partners in _of_one_amount(field):
            if not partners or len(alike) * len(partners) > 10_000:
                continue
            for own, theirs in _parties(alike, partners):
                if len(own) == len(theirs):
                    found += self._pair(own, theirs)
        return Made(tuple(found))

    def _pair(self, lines: list[Traits], entries: list[Traits]) -> list[Match]:
        pairs = list(zip(lines, entries, strict=True))
        if any(not self.window.holds(x, e) or contradict(x, e) for x, e in pairs):
            return []
        extra = "" if len(pairs) == 1 else ", interchangeable, paired in date order"
        found: list[Match] = []
        for line, entry in pairs:
            own = called(line, entry)
            why = f"amount and party agree{extra}" if not own else f"amount agrees, and {own}{extra}"
            found.append(matched(line, entry, self.name, 94 if own else 92, why))
        return found


def _parties(lines: list[Traits], entries: list[Traits]) -> list[tuple[list[Traits], list[Traits]]]:
    """Lines and entries of one amount parted by the party they name; only sets with both sides, closed to others."""
    sets: list[tuple[list[Traits], list[Traits]]] = []
    free = list(lines)
    while free:
        own: list[Traits] = [free.pop(0)]
        theirs: list[Traits] = []
        grown = True
        while grown:
            more = [e for e in entries if e not in theirs and any(share_words(x, e) for x in own)]
            joined = [x for x in free if any(share_words(x, e) for e in [*theirs, *more])]
            theirs += more
            own += joined
            free = [x for x in free if x not in joined]
            grown = bool(more or joined)
        if theirs:
            sets.append((sorted(own, key=lambda x: x.day), sorted(theirs, key=lambda e: e.day)))
    return sets
