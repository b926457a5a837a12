"""The journal entries of a ledger's detail, exported afresh, against those that are known.

By id where there is one; an entry that was exported from here, or stands under another id, by its day and
what it posts, where there are as many of it on both sides. What a difference does is told by control account.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import JournalEntry
from netnaught.core.reimport.changes import APPLIED, Doubt, RowChange, Touches, alters, signs_turned, weight


@dataclass(frozen=True, slots=True)
class KnownJournal:
    """A journal entry as it stands here. `external_id`: None while it waits to come back from where it was exported to.

    `made_here`: it was exported from here, so its texts are this side's. `belongs_to`: what must be changed
    instead, such as "an entry of Operating account"; `deleted`: "read again", "by hand", or "" while it stands.
    """

    id: int
    external_id: str | None
    entry: JournalEntry
    made_here: bool = False
    belongs_to: str = ""
    deleted: str = ""


@dataclass(frozen=True, slots=True)
class JournalDifference:
    """One entry of the file against one known; either may be missing. `row_id`: its id in the file.

    `shifts`: what applying it does to each control account, minor units of the base currency.
    """

    change: RowChange
    touches: Touches
    row_id: str
    row: JournalEntry | None
    known: KnownJournal | None = None
    how: str = ""
    fields: tuple[str, ...] = ()
    shifts: tuple[tuple[int, int], ...] = ()

    @property
    def alters(self) -> bool:
        """Whether applying it changes what stands in sealed days of a control account."""
        return alters(self.change, self.touches)


@dataclass(frozen=True, slots=True)
class JournalComparison:
    """All differences, heaviest first. Every entry of the file, and every known one that stands, is in exactly one."""

    differences: tuple[JournalDifference, ...]
    doubts: tuple[Doubt, ...] = ()

    def of(self, change: RowChange) -> list[JournalDifference]:
        """The differences of one kind."""
        return [found for found in self.differences if found.change is change]


def compare_journals(
    rows: Mapping[str, JournalEntry],
    known: Sequence[KnownJournal],
    sealed_to: Mapping[int, date],
    *,
    with_memos: bool = True,
) -> JournalComparison:
    """Compare the entries of a file, by their ids, with what is known.

    `sealed_to`: every control account with the last day that is sealed of it (`date.min`: none).
    Known entries from elsewhere that the file lacks are gone (outside: beyond the file's days) when it is a fresh
    export, that is when it holds an id that is known, or says the same under other ids throughout.
    """
    comparing = _Comparing(sealed_to, with_memos)
    by_id = {k.external_id: k for k in known if k.external_id is not None}
    found = [comparing.of_id(ident, row, by_id[ident]) for ident, row in rows.items() if ident in by_id]
    left = {ident: row for ident, row in rows.items() if ident not in by_id}
    waiting = [k for k in known if k.external_id is None and not k.deleted]
    missing = [k for k in known if k.external_id is not None and k.external_id not in rows and not k.deleted]
    fresh, met = bool(found), set[int]()
    for ident, k in _alike(left, waiting):
        how = "exported from here: the same day and postings"
        found.append(comparing.made(RowChange.RETURNED, ident, left.pop(ident), k, how))
    for ident, k in _alike(left, missing):
        found.append(comparing.made(RowChange.SAME, ident, left.pop(ident), k, "another id, but the same postings"))
        met.add(k.id)
    fresh = fresh or bool(met and not left)
    doubled = {_content(k.entry) for k in waiting} & {_content(row) for row in left.values()}
    for ident, row in left.items():
        how = "others of the same day and postings were exported from here" if _content(row) in doubled else ""
        found.append(comparing.made(RowChange.NEW, ident, row, None, how))
    first = min((row.date for row in rows.values()), default=date.max)
    last = max((row.date for row in rows.values()), default=date.min)
    for k in missing if fresh else ():
        if k.id in met:
            continue
        inside = first <= k.entry.date <= last
        found.append(comparing.made(RowChange.GONE if inside else RowChange.OUTSIDE, "", None, k))
    return JournalComparison(tuple(sorted(found, key=_consequence)), tuple(_doubts(rows, by_id)))


_Content = tuple[date, tuple[tuple[int, int], ...]]


def _postings(entry: JournalEntry) -> tuple[tuple[int, int], ...]:
    return tuple(sorted((line.gl_account_id, line.base_amount) for line in entry.lines))


def _content(entry: JournalEntry) -> _Content:
    """What makes two entries the same: the day, and what is posted to which account."""
    return entry.date, _postings(entry)


def _alike(rows: Mapping[str, JournalEntry], known: Sequence[KnownJournal]) -> list[tuple[str, KnownJournal]]:
    """Rows and known entries of the same content, where there are as many of it on both sides.

    Those of one content cannot be told apart, so any of them may be taken for any other; of an unequal number none is.
    """
    mine: dict[_Content, list[str]] = {}
    theirs: dict[_Content, list[KnownJournal]] = {}
    for ident, row in rows.items():
        mine.setdefault(_content(row), []).append(ident)
    for k in known:
        theirs.setdefault(_content(k.entry), []).append(k)
    return [
        pair
        for content, idents in mine.items()
        if len(idents) == len(theirs.get(content, []))
        for pair in zip(idents, theirs[content], strict=True)
    ]


@dataclass(frozen=True, slots=True)
class _Comparing:
    sealed_to: Mapping[int, date]
    with_memos: bool

    def of_id(self, ident: str, row: JournalEntry, k: KnownJournal) -> JournalDifference:
        if k.deleted:
            back = k.deleted == "read again"
            return self.made(RowChange.BACK if back else RowChange.HELD, ident, row, k, "deleted here")
        fields = self._fields(row, k)
        if fields and k.belongs_to:
            return self.made(RowChange.HELD, ident, row, k, f"it belongs to {k.belongs_to}: change it there", fields)
        return self.made(RowChange.CHANGED if fields else RowChange.SAME, ident, row, k, "same id", fields)

    def made(
        self,
        change: RowChange,
        ident: str,
        row: JournalEntry | None,
        k: KnownJournal | None,
        how: str = "",
        fields: tuple[str, ...] = (),
    ) -> JournalDifference:
        if change in (RowChange.GONE, RowChange.OUTSIDE) and k and k.belongs_to:
            change, how = RowChange.HELD, f"it belongs to {k.belongs_to}: remove it there"
        standing = [k.entry] if k and not k.deleted else []
        entries = ([row] if row else []) + standing
        shifts = self._shifts(row, standing) if change in APPLIED or change is RowChange.OUTSIDE else ()
        return JournalDifference(change, self._touches(entries), ident, row, k, how, fields, shifts)

    def _fields(self, row: JournalEntry, k: KnownJournal) -> tuple[str, ...]:
        differ = {
            "date": row.date != k.entry.date,
            "memo": self.with_memos and not k.made_here and row.memo != k.entry.memo,
            "lines": _postings(row) != _postings(k.entry),
        }
        return tuple(name for name, so in differ.items() if so)

    def _touches(self, entries: Iterable[JournalEntry]) -> Touches:
        sealed = any(
            entry.date <= self.sealed_to.get(line.gl_account_id, date.min) for entry in entries for line in entry.lines
        )
        return Touches.SEALED if sealed else Touches.OPEN

    def _shifts(self, row: JournalEntry | None, standing: Sequence[JournalEntry]) -> tuple[tuple[int, int], ...]:
        found: dict[int, int] = {}
        for sign, entry in ((1, row), *((-1, entry) for entry in standing)):
            for line in entry.lines if entry else ():
                if line.gl_account_id in self.sealed_to:
                    found[line.gl_account_id] = found.get(line.gl_account_id, 0) + sign * line.base_amount
        return tuple((account, amount) for account, amount in sorted(found.items()) if amount)


def _consequence(x: JournalDifference) -> tuple[int, int, date, str]:
    entry = x.row or (x.known.entry if x.known else None)
    return *weight(x.change, x.touches), entry.date if entry else date.min, x.row_id


def _doubts(rows: Mapping[str, JournalEntry], by_id: Mapping[str, KnownJournal]) -> Iterator[Doubt]:
    pairs = [(row, by_id[ident].entry) for ident, row in rows.items() if ident in by_id]
    turned = sum(_turned(row, entry) for row, entry in pairs)
    if signs_turned(len(pairs), turned):
        yield Doubt.TURNED_SIGNS


def _turned(row: JournalEntry, entry: JournalEntry) -> bool:
    was = _postings(entry)
    return _postings(row) != was and _postings(row) == tuple(sorted((account, -amount) for account, amount in was))
