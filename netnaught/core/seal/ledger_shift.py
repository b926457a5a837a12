"""The ledger at a sealed date: what the seal had, what it comes to now, and of what the difference is made."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class LedgerShift:
    """`sealed` + `changed` + `added` + `straight` = `now`, the control account's balance at the date; minor units.

    changed    entries that were there when it was sealed and stand, or are dated, otherwise
    added      entries that came since, written or moved here, and are dated up to that day
    straight   what is posted straight to the control account, without an entry of the bank book
    """

    sealed: int
    changed: int
    added: int
    straight: int

    @property
    def now(self) -> int:
        """The balance as it comes to now."""
        return self.sealed + self.changed + self.added + self.straight

    @property
    def total(self) -> int:
        """How far the ledger moved."""
        return self.now - self.sealed


def ledger_shift(sealed_ledger: int, sealed_books: int, ledger: int, books: int, added: int) -> LedgerShift:
    """The shift of a date. Balances of ledger and bank book as sealed and as they are now; `added`: part of the books."""
    straight = (ledger - books) - (sealed_ledger - sealed_books)
    return LedgerShift(sealed_ledger, books - sealed_books - added, added, straight)
