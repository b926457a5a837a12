"""The field of a run: all open items with their traits, and which of them are still open."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable
from itertools import chain
from typing import TypeVar

from netnaught.core.matching.items import Match, OpenItems, Wash
from netnaught.core.matching.traits import Traits, Vocabulary, noise_of, of_entry, of_line
from netnaught.core.statement import ItemId

Item = TypeVar("Item")


def by_key(items: Iterable[Item], key: Callable[[Item], Hashable | None]) -> dict[Hashable, list[Item]]:
    """Items under their key, in order; those whose key is None are left out."""
    found: dict[Hashable, list[Item]] = defaultdict(list)
    for item in items:
        value = key(item)
        if value is not None:
            found[value].append(item)
    return found


def _in_order(item: Traits) -> tuple[object, str]:
    return item.day, str(item.id).zfill(20)


class Field:
    """Open lines and entries by id, in the order of their days whatever the order they came in."""

    def __init__(self, items: OpenItems) -> None:
        self._among = items.among or items
        self._noise = noise = noise_of([line.description for line in self._among.lines])
        taught = items.taught
        lines = sorted((of_line(line, noise, taught) for line in items.lines), key=_in_order)
        entries = sorted((of_entry(entry, noise, taught) for entry in items.entries), key=_in_order)
        self.lines: dict[ItemId, Traits] = {t.id: t for t in lines}
        self.entries: dict[ItemId, Traits] = {t.id: t for t in entries}
        self._vocabulary: Vocabulary | None = None

    @property
    def vocabulary(self) -> Vocabulary:
        """The words that name parties in the books."""
        if self._vocabulary is None:
            open_ones = self.entries
            others = (of_entry(e, self._noise) for e in self._among.entries if e.id not in open_ones)
            self._vocabulary = Vocabulary(chain(open_ones.values(), others))
        return self._vocabulary

    def close(self, matches: Iterable[Match], washes: Iterable[Wash] = ()) -> None:
        """Take decided items off the field."""
        for match in matches:
            for item in match.lines:
                del self.lines[item]
            for item in match.entries:
                del self.entries[item]
        for wash in washes:
            side = self.lines if wash.on_bank else self.entries
            for item in wash.ids:
                del side[item]
