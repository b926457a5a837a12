"""Groups: several entries to one line, several lines to one entry, found by what they share.

Shared is a reference, or a party within the window, or a party and a day. A sum that can be
made in more than one way is never taken. By sum alone nothing is decided.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations

from netnaught.core.matching.field import Field, by_key
from netnaught.core.matching.items import Match, PassName
from netnaught.core.matching.passes import Made, Window, apart
from netnaught.core.matching.references import same_make
from netnaught.core.matching.traits import Traits, share_words
from netnaught.core.wording import count

# Subsets are tried in sets up to this size, and up to so many parts: 14 choose up to 5 is 3,472 sums.
_LARGEST_SET = 14
_MOST_PARTS = 5
# A set that so many lines could be paid from is a register, not a group.
_MOST_LINES = 4_000


def subsets(items: Sequence[Traits], total: int) -> list[tuple[Traits, ...]]:
    """Up to two subsets of two or more items that make a total, the whole set first: two mean ambiguous."""
    found: list[tuple[Traits, ...]] = []
    if len(items) > 1 and sum(t.amount for t in items) == total:
        found.append(tuple(items))
    if len(items) > _LARGEST_SET:
        return found
    for size in range(2, min(_MOST_PARTS, len(items) - 1) + 1):
        for chosen in combinations(items, size):
            if sum(t.amount for t in chosen) == total:
                found.append(chosen)
                if len(found) > 1:
                    return found
    return found


@dataclass(frozen=True, slots=True)
class Groups:
    """Sums of what shares a reference, a party, or a party and a day."""

    window: Window = Window(before=31, after=5)
    name: PassName = PassName.GROUPS

    def run(self, field: Field) -> Made:
        """Matches that no other group disputes."""
        found = self._settled(self._by_reference(field))
        found += self._settled(_apart_from(found, self._by_own_reference(field)))
        field_left = _Left(field, found)
        found += self._settled(self._by_party_and_day(field_left))
        field_left = _Left(field, found)
        found += self._settled(self._by_party(field_left))
        return Made(tuple(found))

    def _settled(self, candidates: Iterable[Match]) -> list[Match]:
        """Candidates whose every item stands in that one alone."""
        offered = list(dict.fromkeys(candidates))
        uses: dict[tuple[str, object], int] = defaultdict(int)
        for match in offered:
            for side, ids in (("line", match.lines), ("entry", match.entries)):
                for item in ids:
                    uses[side, item] += 1
        return [
            match
            for match in offered
            if all(uses["line", i] == 1 for i in match.lines) and all(uses["entry", i] == 1 for i in match.entries)
        ]

    def _match(self, lines: Sequence[Traits], entries: Sequence[Traits], why: str, confidence: int) -> Match:
        days = (min(x.day for x in lines) - min(e.day for e in entries)).days
        parts = f"{count(len(entries), 'entry', 'entries')} make this line"
        if len(lines) > 1:
            parts = f"{count(len(lines), 'line')} make {count(len(entries), 'entry', 'entries')}"
        return Match(
            tuple(x.id for x in lines),
            tuple(e.id for e in entries),
            self.name,
            confidence,
            f"{parts}: {why}, {apart(days)}",
            days,
        )

    def _by_reference(self, field: Field) -> Iterable[Match]:
        entries = by_key(field.entries.values(), lambda e: e.reference or None)
        lines = by_key(field.lines.values(), lambda x: x.reference or None)
        cores: dict[str, list[str]] = defaultdict(list)
        for reference, parts in entries.items():
            for name in {str(reference), parts[0].core} - {""}:
                cores[name].append(str(reference))
        named: dict[object, list[Traits]] = defaultdict(list)
        for line in field.lines.values():
            meant = {reference for token in line.tokens for reference in cores.get(token, ())}
            for reference in meant - {line.reference}:
                named[reference].append(line)
        for reference, parts in entries.items():
            sharing = lines.get(reference, []) or named.get(reference, [])
            if not sharing or (len(sharing) == 1 and len(parts) == 1):
                continue
            total, booked = sum(x.amount for x in sharing), sum(e.amount for e in parts)
            why = f"reference {reference}"
            if total == booked and self._near(sharing, parts) and not (_cancels(sharing) or _cancels(parts)):
                yield self._match(sharing, parts, why, 96)
                continue
            for line in sharing:
                ways = subsets(parts, line.amount)
                if len(ways) == 1 and self._near([line], ways[0]):
                    yield self._match([line], ways[0], why, 92)

    def _by_own_reference(self, field: Field) -> Iterable[Match]:
        """Entries under one reference of the books that make a line without any of its own: a slip, a pay run."""
        by_amount = by_key(field.lines.values(), lambda x: x.amount)
        for reference, parts in by_key(field.entries.values(), lambda e: e.reference or None).items():
            total = sum(e.amount for e in parts)
            if len(parts) < 2 or not total or _cancels(parts):
                continue
            for line in by_amount.get(total, []):
                alike = bool(line.reference) and same_make(line.reference, str(reference))
                near = all(Window(7, 1).holds(line, e) for e in parts)
                if near and not alike and not _names_others(field, line, parts):
                    yield self._match([line], parts, f"the books' reference {reference}", 91)

    def _near(self, lines: Sequence[Traits], entries: Sequence[Traits]) -> bool:
        return all(self.window.holds(x, e) for x in lines for e in entries)

    def _by_party_and_day(self, field: _Left) -> Iterable[Match]:
        """All that one party has on one day makes one line."""
        by_amount = by_key(field.lines, lambda x: x.amount)
        for bucket in by_key(field.entries, lambda e: (e.party, e.day) if e.party else None).values():
            if len(bucket) < 2 or _cancels(bucket):
                continue
            total = sum(e.amount for e in bucket)
            for line in by_amount.get(total, []):
                other = field.whole.vocabulary.names_other(line, bucket[0])
                soon = Window(7, 1).holds(line, bucket[0])
                if total and soon and not other:
                    yield self._match([line], bucket, "all of one party and day", 90)

    def _by_party(self, field: _Left) -> Iterable[Match]:
        """One way only to make a line from what its party has open; or an entry from its party's lines."""
        if len(field.lines) > _MOST_LINES:
            return
        sets = [bucket for bucket in by_key(field.entries, lambda e: e.party or None).values() if len(bucket) > 1]
        for line in field.lines:
            if not line.words:
                continue
            own = [e for bucket in sets if share_words(line, bucket[0]) for e in bucket if self.window.holds(line, e)]
            if any(e.amount == line.amount for e in own):
                continue
            ways = subsets(own, line.amount)
            if len(ways) == 1:
                yield self._match([line], ways[0], "one party, and no other sum of its entries does", 88)


def _cancels(items: Sequence[Traits]) -> bool:
    """Whether two of some items cancel each other: then they are a wash, and no part of a group."""
    amounts = {t.amount for t in items}
    return any(-amount in amounts for amount in amounts)


def _names_others(field: Field, line: Traits, parts: Sequence[Traits]) -> bool:
    return all(field.vocabulary.names_other(line, e) for e in parts)


def _apart_from(found: Sequence[Match], candidates: Iterable[Match]) -> list[Match]:
    """Candidates that touch nothing already found."""
    lines = {item for match in found for item in match.lines}
    entries = {item for match in found for item in match.entries}
    return [c for c in candidates if not lines & set(c.lines) and not entries & set(c.entries)]


class _Left:
    """What a step of this pass has left open, without taking it off the field yet."""

    def __init__(self, field: Field, found: Sequence[Match]) -> None:
        lines = {item for match in found for item in match.lines}
        entries = {item for match in found for item in match.entries}
        self.whole = field
        self.lines = [x for x in field.lines.values() if x.id not in lines]
        self.entries = [e for e in field.entries.values() if e.id not in entries]
