"""The books: entries of the bank book, and journal entries of the general ledger."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.statement import ItemId


class Unbalanced(ValueError):
    """A journal entry whose lines do not sum to zero. `off`: what they sum to, minor units."""

    def __init__(self, off: int) -> None:
        super().__init__(f"journal entry is out of balance by {off} minor units")
        self.off = off


class AccountKind(StrEnum):
    """The five kinds of ledger account."""

    ASSET = "asset"
    LIABILITY = "liability"
    EQUITY = "equity"
    INCOME = "income"
    EXPENSE = "expense"


class BankAccountKind(StrEnum):
    """What is reconciled: a bank account, a card, or a cash box without a bank."""

    BANK = "bank"
    CARD = "card"
    CASH = "cash"


@dataclass(frozen=True, slots=True)
class BookEntry:
    """One entry of the bank book. `amount`: minor units, positive = money into the account."""

    id: ItemId
    date: date
    amount: int
    reference: str = ""
    payee: str = ""
    memo: str = ""


@dataclass(frozen=True, slots=True)
class JournalLine:
    """One line of a journal entry.

    `amount`: minor units of the account's currency, positive = into the account (the
    books' debit). `base_amount`: the same in the company's currency; journals balance in it.
    """

    gl_account_id: int
    amount: int
    base_amount: int
    memo: str = ""


@dataclass(frozen=True, slots=True)
class JournalEntry:
    """A journal entry; Unbalanced is raised unless its base amounts sum to zero."""

    date: date
    memo: str
    lines: tuple[JournalLine, ...]

    def __post_init__(self) -> None:
        off = sum(line.base_amount for line in self.lines)
        if off:
            raise Unbalanced(off)
        if len(self.lines) < 2:
            raise ValueError("a journal entry has at least two lines")


def bank_journal(on: date, memo: str, control: int, other: int, amount: int) -> JournalEntry:
    """The journal entry of one bank book entry against one other account, in one currency.

    The first line is the control account's: the one the bank book entry is linked to.
    """
    return JournalEntry(
        on, memo, (JournalLine(control, amount, amount, memo), JournalLine(other, -amount, -amount, memo))
    )
