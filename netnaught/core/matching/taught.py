"""What an account was taught: readers of its texts, and the names by which the bank calls its parties."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.readers import Reader, Side
from netnaught.core.statement import LineKind, StatementLine

_LETTERS = re.compile(r"[^\W\d_]{2,}")


def name_key(description: str) -> str:
    """A bank text without its numbers and marks: what stays the same when the bank names a party again."""
    return " ".join(_LETTERS.findall(description.lower()))[:120]


@dataclass(frozen=True, slots=True)
class Taught:
    """`readers` in their order, the first that applies counts; `names`: payee by the key of the bank's text.

    `reversals`: by side the words that, besides the usual ones, say that something is taken back.
    """

    readers: tuple[Reader, ...] = ()
    names: Mapping[str, str] = field(default_factory=dict)
    reversals: Mapping[Side, tuple[str, ...]] = field(default_factory=dict)

    def reverses(self, text: str, side: Side) -> bool:
        """Whether a text holds one of the account's own words of reversal, as a whole word."""
        words = self.reversals.get(side, ())
        return any(re.search(rf"(?<!\w){re.escape(word)}(?!\w)", text, re.I) for word in words)

    def read(self, item: StatementLine | BookEntry) -> tuple[str | None, LineKind | None]:
        """Reference and kind as the readers tell them; None where none does."""
        side = Side.BANK if isinstance(item, StatementLine) else Side.BOOKS
        reference: str | None = None
        kind: LineKind | None = None
        for reader in self.readers:
            if reader.side is side and (found := reader.read(reader.text_of(item))) is not None:
                reference = reference or found or None
                kind = kind or reader.kind
        return reference, kind

    def payee_of(self, line: StatementLine) -> str:
        """The payee that a person has matched such a text with; "" where nobody has."""
        return self.names.get(name_key(line.description), "") if self.names else ""


NOTHING_TAUGHT = Taught()
