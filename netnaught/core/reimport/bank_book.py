"""A fresh export of a bank book against what is known: new, changed, gone, same, and what came back.

By id where there is one; else by the best correspondence that is unique both ways, and then it is said
which. Nothing here decides what happens: the differences are listed by consequence, sealed periods first.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import BookEntry
from netnaught.core.reimport.changes import APPLIED, Doubt, RowChange, Touches, alters, signs_turned, weight

FIELDS = ("date", "amount", "reference", "payee", "memo")
# A row that came back may be dated a few days from where it was recorded here.
RETURNS_WITHIN_DAYS = 5


@dataclass(frozen=True, slots=True)
class Known:
    """An entry as it stands here. `external_id`: None when it was recorded here; `deleted`: by whom, or ""."""

    entry: BookEntry
    external_id: str | None
    touches: Touches
    deleted: str = ""
    starting: bool = False


@dataclass(frozen=True, slots=True)
class Difference:
    """One row against one known entry; either may be missing. `how`: by what they belong together."""

    change: RowChange
    row: BookEntry | None
    known: Known | None = None
    how: str = ""

    @property
    def fields(self) -> tuple[str, ...]:
        """What differs, by name."""
        if self.row is None or self.known is None:
            return ()
        return tuple(f for f in FIELDS if getattr(self.row, f) != getattr(self.known.entry, f))

    @property
    def touches(self) -> Touches:
        """What applying it touches."""
        return self.known.touches if self.known else Touches.OPEN

    @property
    def alters(self) -> bool:
        """Whether applying it changes something sealed."""
        return alters(self.change, self.touches)

    @property
    def shift(self) -> int:
        """What applying it does to the book balance, minor units."""
        now = self.row.amount if self.row else 0
        was = self.known.entry.amount if self.known and not self.known.deleted else 0
        return now - was if self.change in APPLIED else 0


@dataclass(frozen=True, slots=True)
class Comparison:
    """All differences, by consequence. Every row and every known entry that stands is in exactly one."""

    differences: tuple[Difference, ...]
    doubts: tuple[Doubt, ...] = ()

    def of(self, change: RowChange) -> list[Difference]:
        """The differences of one kind."""
        return [found for found in self.differences if found.change is change]

    def touching(self, touches: Touches) -> list[Difference]:
        """What would change something sealed, cleared or open."""
        return [x for x in self.differences if x.touches is touches and x.change in APPLIED]


def compare(rows: Sequence[BookEntry], known: Sequence[Known], elsewhere: frozenset[str] = frozenset()) -> Comparison:
    """Compare the rows of a file (ids unique) with what is known.

    `elsewhere`: ids known on other accounts. Entries that the file lacks are gone only when it is a
    fresh export, that is when it holds a known id or nothing unknown; inside its own days gone, else outside.
    """
    by_id = {k.external_id: k for k in known if k.external_id is not None}
    found = [_of_id(row, by_id[str(row.id)]) for row in rows if str(row.id) in by_id]
    first, last = (min(r.date for r in rows), max(r.date for r in rows)) if rows else (date.max, date.min)
    left = [row for row in rows if str(row.id) not in by_id]
    seen = {str(row.id) for row in rows}
    missing = [k for k in known if k.external_id not in seen and not k.deleted and not k.starting]
    inside = [k for k in missing if k.external_id is None or first <= k.entry.date <= last]
    met = list(_correspond(left, inside, renumbered=not found))
    found += met
    rows_met, known_met = {str(x.row.id) for x in met if x.row}, {x.known.entry.id for x in met if x.known}
    new = [row for row in left if str(row.id) not in rows_met]
    found += [Difference(RowChange.NEW, row) for row in new]
    fresh = bool(by_id.keys() & seen) or not new
    for k in missing if fresh else ():
        if k.external_id is not None and k.entry.id not in known_met:
            gone = first <= k.entry.date <= last
            found.append(Difference(RowChange.GONE if gone else RowChange.OUTSIDE, None, k))
    ordered = sorted(found, key=_consequence)
    return Comparison(tuple(ordered), tuple(_doubts(ordered, rows, elsewhere)))


def _of_id(row: BookEntry, known: Known) -> Difference:
    if known.deleted:
        came_off = known.deleted == "read again"
        return Difference(RowChange.BACK if came_off else RowChange.HELD, row, known, "same id, deleted here")
    same = Difference(RowChange.SAME, row, known, "same id")
    return Difference(RowChange.CHANGED, row, known, "same id") if same.fields else same


def _consequence(x: Difference) -> tuple[int, int, date, int]:
    day = x.row.date if x.row else x.known.entry.date if x.known else date.min
    return *weight(x.change, x.touches), day, -abs(x.shift)


_Key = Callable[[BookEntry], Hashable]


def _returned(row: BookEntry, k: Known) -> bool:
    return abs((row.date - k.entry.date).days) <= RETURNS_WITHIN_DAYS


_KEYS: tuple[tuple[str, _Key], ...] = (
    ("everything but the id", lambda e: (e.date, e.amount, e.reference, e.payee, e.memo)),
    ("date, amount and reference", lambda e: (e.date, e.amount, e.reference) if e.reference else None),
    ("amount and reference", lambda e: (e.amount, e.reference) if e.reference else None),
    ("date and amount", lambda e: (e.date, e.amount)),
    ("date, reference and payee", lambda e: (e.date, e.reference, e.payee) if e.reference else None),
)


def _correspond(rows: Sequence[BookEntry], known: Sequence[Known], renumbered: bool) -> Iterable[Difference]:
    """Rows and known entries that belong together by the strongest key that is unique on both sides.

    `renumbered`: no row has a known id; then an entry from elsewhere is only taken for a row that says all the same.
    """
    left, free = {str(row.id): row for row in rows}, {k.entry.id: k for k in known}
    for name, key in _KEYS:
        mine: dict[Hashable, list[BookEntry]] = {}
        theirs: dict[Hashable, list[Known]] = {}
        for row in left.values():
            mine.setdefault(key(row), []).append(row)
        for k in free.values():
            theirs.setdefault(key(k.entry), []).append(k)
        for value, group in mine.items():
            others = theirs.get(value, [])
            if value is None or len(group) != 1 or len(others) != 1:
                continue
            change = _pair(group[0], others[0], name, renumbered)
            if change is not None:
                yield Difference(change, group[0], others[0], f"another id, but the same {name}")
                del left[str(group[0].id)], free[others[0].entry.id]


def _pair(row: BookEntry, k: Known, name: str, renumbered: bool) -> RowChange | None:
    """What a row is to an entry of the same key; None where that key is not enough for it."""
    if k.external_id is None:
        return RowChange.RETURNED if row.amount == k.entry.amount and _returned(row, k) else None
    if name != _KEYS[0][0] and (renumbered or name == "date and amount"):
        return None
    return RowChange.CHANGED if Difference(RowChange.SAME, row, k).fields else RowChange.SAME


def _doubts(found: Sequence[Difference], rows: Sequence[BookEntry], elsewhere: frozenset[str]) -> Iterable[Doubt]:
    pairs = [x for x in found if x.row and x.known and x.how == "same id"]
    turned = [x for x in pairs if x.row and x.known and x.row.amount == -x.known.entry.amount]
    if signs_turned(len(pairs), len(turned)):
        yield Doubt.TURNED_SIGNS
    foreign = sum(str(row.id) in elsewhere for row in rows)
    if not pairs and foreign * 2 > len(rows):
        yield Doubt.OTHER_ACCOUNT
