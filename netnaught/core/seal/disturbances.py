"""Disturbances: what has changed in something sealed, one finding per sealed reconciliation and item.

    shift  counted there now − counted in the seal

The kind comes from comparing the two states; the steps in between are history. So the shifts of all
findings of an account add up to its books gap, always: a property test holds it to that.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from operator import itemgetter
from typing import Any

from netnaught.core.seal.content import SealedEntry

TEXTS = ("date", "reference", "payee", "memo")


class DisturbanceKind(StrEnum):
    """What became of a sealed item."""

    AMENDED = "amended"
    REMOVED = "removed"
    MOVED = "moved"
    UNTICKED = "unticked"
    SLIPPED_IN = "slipped in"
    RELABELLED = "relabelled"


class Repair(StrEnum):
    """What mends a finding."""

    PUT_BACK = "put back"
    CLEAR_AGAIN = "clear again"
    RELEASE = "release"
    ACCEPT = "accept with entry"
    NOTE = "note"


@dataclass(frozen=True, slots=True)
class Item:
    """What a finding is about: a book entry, or a statement line that counts on the bank side alone."""

    is_line: bool
    id: int


@dataclass(frozen=True, slots=True)
class Present:
    """An item as it stands now. `counts_in`: the reconciliation that counts it, None where none does."""

    values: SealedEntry
    account_id: int
    deleted: bool
    counts_in: int | None


@dataclass(frozen=True, slots=True)
class Acceptance:
    """A change accepted as it stands. `by`: the entry that takes the shift back, as it counts now; minor units.

    `accepted`: the item's values when it was accepted; None for a removed one.
    """

    id: int
    by_entry: int | None
    by: int
    accepted: SealedEntry | None
    reason: str
    person: str
    at: str


@dataclass(frozen=True, slots=True)
class SealedPeriod:
    """What a seal says: the account, what it counted and what it listed as outstanding, by item."""

    reconciliation_id: int
    account_id: int
    counted: Mapping[Item, SealedEntry]
    outstanding: Mapping[Item, SealedEntry]


@dataclass(frozen=True, slots=True)
class Finding:
    """One disturbance. `shift`: minor units of the counted total, `list_shift`: of the outstanding list.

    `was`: None for what slipped in; `now`: None only when the item's row is gone altogether.
    """

    reconciliation_id: int
    item: Item
    kind: DisturbanceKind
    shift: int
    was: SealedEntry | None
    now: Present | None
    list_shift: int = 0
    acceptance: Acceptance | None = None

    @property
    def net(self) -> int:
        """The shift that is left: an acceptance takes its own back."""
        return self.shift + (self.acceptance.by if self.acceptance else 0)

    @property
    def mended(self) -> bool:
        """Accepted, with nothing left, and still as it was accepted."""
        if self.acceptance is None or self.net:
            return False
        now = None if self.now is None or self.now.deleted else self.now.values
        return now == self.acceptance.accepted

    @property
    def fields(self) -> tuple[str, ...]:
        """The values that differ, by name."""
        if self.was is None or self.now is None:
            return ()
        was, now = self.was, self.now.values
        return tuple(name for name in ("amount", *TEXTS) if getattr(was, name) != getattr(now, name))

    @property
    def repairs(self) -> tuple[Repair, ...]:
        """What fits the kind."""
        if self.item.is_line:
            return (Repair.RELEASE,) if self.kind is DisturbanceKind.SLIPPED_IN else (Repair.CLEAR_AGAIN,)
        match self.kind:
            case DisturbanceKind.SLIPPED_IN:
                return (Repair.RELEASE,)
            case DisturbanceKind.UNTICKED:
                return (Repair.PUT_BACK,) if self.fields else (Repair.CLEAR_AGAIN, Repair.PUT_BACK)
            case DisturbanceKind.RELABELLED:
                return (Repair.PUT_BACK, Repair.NOTE)
            case _:
                return (Repair.PUT_BACK, Repair.ACCEPT if self.shift else Repair.NOTE)


def findings(
    sealed: SealedPeriod,
    now: Mapping[Item, Present],
    among: Iterable[Item],
    acceptances: Mapping[int, Acceptance] | None = None,
) -> list[Finding]:
    """What has changed among some items of a sealed period, in their order.

    `acceptances`: those of this period, by entry. An entry that an acceptance brought in is no finding of
    its own while there is something it accepts: it counts in the one it belongs to.
    """
    acceptances = acceptances or {}
    order = list(among)
    found: dict[Item, Finding] = {}
    for item in order:
        finding = _compare(sealed, item, now.get(item), None if item.is_line else acceptances.get(item.id))
        if finding is not None:
            found[item] = finding
    for entry, accepted in acceptances.items():
        if accepted.by_entry is not None and Item(False, entry) in found:
            found.pop(Item(False, accepted.by_entry), None)
    return [found[item] for item in order if item in found]


def _compare(sealed: SealedPeriod, item: Item, now: Present | None, accepted: Acceptance | None) -> Finding | None:
    at = sealed.reconciliation_id
    counts = now is not None and now.counts_in == at and not now.deleted and now.account_id == sealed.account_id
    was = sealed.counted.get(item)
    if was is not None:
        kind = _kind(sealed, was, now, counts)
        counted = now.values.amount if counts and now else 0
        return Finding(at, item, kind, counted - was.amount, was, now, 0, accepted) if kind else None
    listed = sealed.outstanding.get(item)
    if counts and now is not None:
        return Finding(at, item, DisturbanceKind.SLIPPED_IN, now.values.amount, listed, now, 0, accepted)
    if listed is None:
        return None
    kind = _kind(sealed, listed, now, counts=True)
    if kind is None:
        return None
    gone = kind in (DisturbanceKind.REMOVED, DisturbanceKind.MOVED)
    amount = 0 if gone or now is None else now.values.amount
    return Finding(at, item, kind, 0, listed, now, amount - listed.amount, accepted)


def _kind(sealed: SealedPeriod, was: SealedEntry, now: Present | None, counts: bool) -> DisturbanceKind | None:
    if now is None or now.deleted:
        return DisturbanceKind.REMOVED
    if now.account_id != sealed.account_id:
        return DisturbanceKind.MOVED
    if not counts:
        return DisturbanceKind.UNTICKED
    if now.values.amount != was.amount:
        return DisturbanceKind.AMENDED
    if any(getattr(now.values, name) != getattr(was, name) for name in TEXTS):
        return DisturbanceKind.RELABELLED
    return None


_AS_SEALED = itemgetter("id", "date", "amount", "reference", "payee", "memo")


def not_as_sealed(
    content: Mapping[str, Any], counting: Iterable[tuple[Any, ...]], not_counting: Iterable[tuple[Any, ...]]
) -> set[Item]:
    """Entries that do not stand as a seal's content says, without saying what became of them: sets, so it is quick.

    Rows are (id, date, amount as text, reference, payee, memo). `counting`: those that count in the period now;
    `not_counting`: those of its outstanding list that stand and do not count in it.
    """
    counted = set(map(_AS_SEALED, content["cleared"])).symmetric_difference(counting)
    listed = set(map(_AS_SEALED, content["outstanding"])).difference(not_counting)
    return {Item(False, row[0]) for row in (*counted, *listed)}
