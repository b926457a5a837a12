"""The bank gap: a statement that does not open where the last seal closed, and why."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from netnaught.core.statement import Join, Notice, NoticeKind
from netnaught.core.wording import Wording


class BankGapCause(StrEnum):
    """Why a statement does not open where the last seal closed."""

    STATEMENT_MISSING = "statement missing"
    CLOSING_MISTYPED = "closing mistyped"
    BANK_RESTATED = "bank restated"
    TYPED_OR_RESTATED = "mistyped or restated"
    NO_START = "no starting balance"


@dataclass(frozen=True, slots=True)
class BankGap:
    """statement's own opening − sealed closing, minor units, with its cause in a sentence."""

    amount: int
    cause: BankGapCause
    text: str


def bank_gap(
    notices: Sequence[Notice], before: Join, *, first: bool, stated: Callable[[], int | None], say: Wording
) -> BankGap | None:
    """The gap among the notices of the first open period; None where its first statement opens at `before`.

    `before`: the day and balance where the last seal closed, or where the account starts (`first`). `stated`: what
    the original file of the last sealed statement says it closed at (None: no file tells); only asked when nothing else
    explains the gap.
    """
    gap = next((n for n in notices if n.kind is NoticeKind.BANK_GAP and n.expected == before.closing), None)
    if gap is None or before.closing is None:
        return None
    missing = next((n for n in notices if n.kind is NoticeKind.GAP and n.start > before.end), None)
    if missing is not None and missing.start <= gap.start:
        return BankGap(gap.amount, BankGapCause.STATEMENT_MISSING, missing.sentence(say))
    if first:
        text = (
            f"This is the account's first reconciliation: it starts from {say.amount(before.closing)} on "
            f"{say.day(before.end)}, the statement opens {say.amount(gap.amount)} away from it. Correct the start in Setup."
        )
        return BankGap(gap.amount, BankGapCause.NO_START, text)
    closed = stated()
    if closed is None:
        text = (
            f"The statement opens {say.amount(gap.amount)} away from {say.amount(before.closing)}, a closing balance that "
            "no file tells: either it was mistyped, or the bank has restated it. Compare it with the statement on paper."
        )
        return BankGap(gap.amount, BankGapCause.TYPED_OR_RESTATED, text)
    if closed != before.closing:
        text = (
            f"The seal closed at {say.amount(before.closing)}, but the file of that statement says {say.amount(closed)}: "
            "its closing balance was mistyped. Break that seal and correct it."
        )
        return BankGap(gap.amount, BankGapCause.CLOSING_MISTYPED, text)
    text = (
        f"The bank opens {say.amount(gap.amount)} away from where its own last statement closed, and no statement is "
        "missing: the bank has restated its balance. Ask the bank; a corrected statement settles it."
    )
    return BankGap(gap.amount, BankGapCause.BANK_RESTATED, text)
