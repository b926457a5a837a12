"""The books: entries of the bank book, and journal entries of the general ledger."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.coding.splits import Posting
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
    tax_code_id: int | None = None
    department_id: int | None = None
    tags: tuple[str, ...] = ()


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


def bank_journal(on: date, memo: str, control: int, postings: Sequence[Posting]) -> JournalEntry:
    """The journal entry of one bank book entry against its postings, in one currency.

    The first line is the control account's: the one the bank book entry is linked to.
    Postings have the bank's sign, so the other side of the journal is their opposite.
    """
    amount = sum(posting.amount for posting in postings)
    others = (
        JournalLine(p.gl_account_id, -p.amount, -p.amount, p.memo or memo, p.tax_code_id, p.department_id, p.tags)
        for p in postings
    )
    return JournalEntry(on, memo, (JournalLine(control, amount, amount, memo), *others))
