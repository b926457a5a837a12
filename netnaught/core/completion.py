"""What stands in the way of sealing: each blocker named, in the order in which one would mend it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from netnaught.core.reconciliation import Standing
from netnaught.core.statement import Notice, NoticeKind
from netnaught.core.wording import Wording, count


class BlockerKind(StrEnum):
    """Why a reconciliation cannot be sealed yet."""

    EARLIER_OPEN = "earlier open"
    NO_CLOSING = "no closing"
    BOOKS_GAP = "books gap"
    BANK_GAP = "bank gap"
    GAP = "gap"
    OVERLAP = "overlap"
    NOT_FOOTING = "not footing"
    UNRESOLVED = "unresolved"
    DIFFERENCE = "difference"


@dataclass(frozen=True, slots=True)
class Blocker:
    """One reason not to seal. `amount`: minor units, 0 where the reason has none."""

    kind: BlockerKind
    text: str
    amount: int = 0


_OF_NOTICE = {
    NoticeKind.GAP: BlockerKind.GAP,
    NoticeKind.OVERLAP: BlockerKind.OVERLAP,
    NoticeKind.NOT_FOOTING: BlockerKind.NOT_FOOTING,
    NoticeKind.BANK_GAP: BlockerKind.BANK_GAP,
}


def blockers(now: Standing, notices: tuple[Notice, ...], earlier_open: str | None, say: Wording) -> tuple[Blocker, ...]:
    """Everything that must be settled before sealing; empty means it may be sealed.

    `notices`: those of the statements covered that are still open. `earlier_open`: the
    closing date, in words, of an earlier reconciliation that is not sealed.
    """
    found: list[Blocker] = []
    if earlier_open:
        found.append(
            Blocker(BlockerKind.EARLIER_OPEN, f"The reconciliation to {earlier_open} comes first: it is not sealed.")
        )
    if now.books_gap:
        direction = "above" if now.books_gap > 0 else "below"
        found.append(
            Blocker(
                BlockerKind.BOOKS_GAP,
                f"The books start {say.amount(abs(now.books_gap))} {direction} the seal: something sealed has changed.",
                now.books_gap,
            )
        )
    found += [Blocker(_OF_NOTICE[notice.kind], notice.sentence(say), notice.amount) for notice in notices]
    if now.closing is None:
        found.append(Blocker(BlockerKind.NO_CLOSING, "The statement's closing balance is not known yet."))
    left = now.lines_total - now.lines_resolved
    if left:
        found.append(
            Blocker(
                BlockerKind.UNRESOLVED, f"{count(left, 'statement line')} {'is' if left == 1 else 'are'} not resolved."
            )
        )
    if now.difference:
        found.append(
            Blocker(
                BlockerKind.DIFFERENCE, f"The difference is {say.amount(now.difference)}, not zero.", now.difference
            )
        )
    return tuple(found)
