"""Offers for what no pass settles: proposals with their difference, and questions."""

from __future__ import annotations

from collections import defaultdict

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.items import Cause, OpenItems, Proposal, ProposalKind, Question
from netnaught.core.matching.passes import Window, by_key
from netnaught.core.matching.references import contradict, entry_reference, line_reference
from netnaught.core.statement import StatementLine
from netnaught.core.wording import count

# Equal amounts further apart than this are not put as one question.
QUESTION_WINDOW = Window(before=92, after=31)


def digits_swapped(bank: int, books: int) -> tuple[int, int] | None:
    """The two neighbouring digits that changed places between two amounts, as the bank has them.

    None unless exactly one such swap turns one amount into the other. Swapping changes a
    number by exactly 9·d·10^k, d the gap of the digits; divisibility by 9 alone proves nothing.
    """
    if (bank < 0) != (books < 0) or bank == books:
        return None
    width = max(len(str(abs(bank))), len(str(abs(books))))
    left, right = str(abs(bank)).zfill(width), str(abs(books)).zfill(width)
    places = [place for place in range(width) if left[place] != right[place]]
    if len(places) != 2 or places[1] != places[0] + 1:
        return None
    first, second = places
    if left[first] != right[second] or left[second] != right[first]:
        return None
    return int(left[first]), int(left[second])


def near_pairs(items: OpenItems) -> list[Proposal]:
    """One line and one entry, or one line and several entries, of one reference.

    The reference stands once on the bank's side. Equal sums are offered as a group,
    unequal pairs with their difference and its likely cause.
    """
    lines = by_key(items.lines, lambda line: line_reference(line) or None)
    entries = by_key(items.entries, lambda entry: entry_reference(entry) or None)
    found: list[Proposal] = []
    for reference, alike in lines.items():
        partners = entries.get(reference, [])
        if len(alike) != 1 or not partners:
            continue
        line, difference = alike[0], alike[0].amount - sum(entry.amount for entry in partners)
        ids = tuple(entry.id for entry in partners)
        if difference == 0:
            why = (
                f"{count(len(partners), 'entry', 'entries')} of reference {reference} make this line"
                if len(partners) > 1
                else f"reference {reference} and amount agree, but the dates are far apart"
            )
            found.append(Proposal((line.id,), ids, ProposalKind.GROUP, 0, 90, why))
        elif len(partners) == 1:
            found.append(_differing(line, partners[0], str(reference)))
    return found


def _differing(line: StatementLine, entry: BookEntry, reference: str) -> Proposal:
    difference = line.amount - entry.amount
    swapped = digits_swapped(line.amount, entry.amount)
    if swapped:
        why = f"same reference {reference}; {swapped[0]} and {swapped[1]} have changed places"
        return Proposal((line.id,), (entry.id,), ProposalKind.SAME_REFERENCE, difference, 85, why, Cause.DIGITS_SWAPPED)
    why = f"same reference {reference}, another amount"
    return Proposal((line.id,), (entry.id,), ProposalKind.SAME_REFERENCE, difference, 60, why, Cause.OTHER_AMOUNT)


def equal_amounts(items: OpenItems) -> tuple[list[Proposal], list[Question]]:
    """Open items of equal amount: a lone pair is proposed, more than one on a side is a question."""
    lines = by_key(items.lines, lambda line: line.amount)
    entries = by_key(items.entries, lambda entry: entry.amount)
    proposals: list[Proposal] = []
    questions: list[Question] = []
    for amount, alike in lines.items():
        partners = [e for e in entries.get(amount, []) if any(_comparable(line, e) for line in alike)]
        asked = [line for line in alike if any(_comparable(line, e) for e in partners)]
        if not partners or not asked:
            continue
        if len(asked) == 1 and len(partners) == 1:
            days = (asked[0].date - partners[0].date).days
            why = f"the amount agrees, {count(abs(days), 'day')} apart; nothing else does"
            proposals.append(Proposal((asked[0].id,), (partners[0].id,), ProposalKind.AMOUNT_ALONE, 0, 50, why))
        else:
            text = (
                f"{count(len(asked), 'line')} and {count(len(partners), 'entry', 'entries')} "
                "of the same amount: which belong together?"
            )
            questions.append(Question(tuple(i.id for i in asked), tuple(i.id for i in partners), text))
    return proposals, questions


def _comparable(line: StatementLine, entry: BookEntry) -> bool:
    return line.amount != 0 and QUESTION_WINDOW.holds(line, entry) and not contradict(line, entry)


def one_offer_each(proposals: list[Proposal]) -> list[Proposal]:
    """The best offer for each item; an item offered twice keeps its more certain one."""
    taken: dict[str, set[object]] = defaultdict(set)
    kept: list[Proposal] = []
    for proposal in sorted(proposals, key=lambda p: -p.confidence):
        if taken["line"] & set(proposal.lines) or taken["entry"] & set(proposal.entries):
            continue
        taken["line"] |= set(proposal.lines)
        taken["entry"] |= set(proposal.entries)
        kept.append(proposal)
    return kept
