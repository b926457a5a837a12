"""Offers for what no pass settles: near pairs and groups with their difference and likely cause, and questions."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from netnaught.core.matching.field import Field, by_key
from netnaught.core.matching.items import Cause, Proposal, ProposalKind, Question
from netnaught.core.matching.passes import Window, apart
from netnaught.core.matching.traits import Traits, contradict, share_words
from netnaught.core.wording import count

# Equal amounts further apart than this are not put as one question.
QUESTION_WINDOW = Window(before=92, after=31)
NEAR_WINDOW = Window(before=14, after=7)
# Takings arrive less a fee of at most so many percent.
HIGHEST_FEE = 6
# Pairs by sum alone are looked for among so few items: more would make chance sums likely.
_MOST_OPEN = 300


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


def cause_of(bank: int, books: int) -> tuple[Cause, str]:
    """Why two amounts of one event differ, most telling first, and in words."""
    if bank == -books:
        return Cause.SIGN, "booked on the wrong side"
    for power in (10, 100, 1000):
        if bank == books * power or books == bank * power:
            return Cause.SLIDE, f"the decimal point has slipped by {count(len(str(power)) - 1, 'place')}"
    swapped = digits_swapped(bank, books)
    if swapped:
        return Cause.DIGITS_SWAPPED, f"{swapped[0]} and {swapped[1]} have changed places"
    a, b = str(abs(bank)), str(abs(books))
    if (bank < 0) == (books < 0) and len(a) == len(b) and sum(x != y for x, y in zip(a, b, strict=True)) == 1:
        place = next(n for n in range(len(a)) if a[n] != b[n])
        return Cause.ONE_DIGIT, f"one digit differs: {a[place]} at the bank, {b[place]} in the books"
    return Cause.OTHER_AMOUNT, "another amount"


def offers(field: Field) -> tuple[tuple[Proposal, ...], tuple[Question, ...]]:
    """Proposals and questions for what stays open. Proposals do not point into questions."""
    pairs = [*_by_reference(field), *_by_party(field), *_net_of_fee(field), *_pairs_by_sum(field)]
    by_amount, questions = equal_amounts(field)
    settled = {item for pair in pairs if pair.difference == 0 for item in pair.lines}
    questions = [q for q in questions if not settled & set(q.lines)]
    asked_lines = {item for question in questions for item in question.lines}
    asked_entries = {item for question in questions for item in question.entries}
    free = [p for p in pairs + by_amount if not asked_lines & set(p.lines) and not asked_entries & set(p.entries)]
    return tuple(one_offer_each(free)), tuple(questions)


def doubled(field: Field, matched: Iterable[tuple[str, int]]) -> list[Proposal]:
    """Open entries that stand in the books again under the reference and amount of one that has been matched."""
    known = set(matched)
    return [
        Proposal(
            (),
            (entry.id,),
            ProposalKind.DOUBLED,
            -entry.amount,
            80,
            f"reference {entry.reference} and amount stand in the books twice; the other one is at the bank: reverse it",
        )
        for entry in field.entries.values()
        if entry.reference and (entry.reference, entry.amount) in known
    ]


def _differing(line: Traits, entry: Traits, kind: ProposalKind, ground: str, sure: int) -> Proposal:
    cause, words = cause_of(line.amount, entry.amount)
    confidence = sure if cause is not Cause.OTHER_AMOUNT else sure - 25
    why = f"{ground}; {words}" if cause is not Cause.OTHER_AMOUNT else f"{ground}, another amount"
    return Proposal((line.id,), (entry.id,), kind, line.amount - entry.amount, confidence, why, cause)


def _by_reference(field: Field) -> list[Proposal]:
    """One line and what the books have under its reference: equal sums far apart, or near ones with their difference."""
    lines = by_key(field.lines.values(), lambda x: x.reference or None)
    entries = by_key(field.entries.values(), lambda e: e.reference or None)
    found: list[Proposal] = []
    for reference, partners in entries.items():
        named = [x for x in field.lines.values() if reference in x.tokens] if len(field.lines) <= _MOST_OPEN else []
        alike = lines.get(reference, []) or named
        if len(alike) != 1:
            continue
        line, ids = alike[0], tuple(e.id for e in partners)
        difference = line.amount - sum(e.amount for e in partners)
        if difference == 0:
            why = (
                f"{count(len(partners), 'entry', 'entries')} of reference {reference} make this line"
                if len(partners) > 1
                else f"reference {reference} and amount agree, but the dates are far apart"
            )
            found.append(Proposal((line.id,), ids, ProposalKind.GROUP, 0, 90, why))
        elif len(partners) == 1:
            found.append(_differing(line, partners[0], ProposalKind.SAME_REFERENCE, f"same reference {reference}", 85))
        elif abs(difference) * 20 <= abs(line.amount):
            why = f"{len(partners)} entries of reference {reference} nearly make this line"
            found.append(Proposal((line.id,), ids, ProposalKind.GROUP, difference, 55, why, Cause.OTHER_AMOUNT))
    return found


def _by_party(field: Field) -> list[Proposal]:
    """One line and one entry of the same party and near date whose amounts differ by a telling mistake."""
    if len(field.lines) > _MOST_OPEN:
        return []
    found: list[Proposal] = []
    for line in field.lines.values():
        if not line.words:
            continue
        near = [
            e
            for e in field.entries.values()
            if e.amount != line.amount
            and NEAR_WINDOW.holds(line, e)
            and share_words(line, e)
            and not contradict(line, e)
            and cause_of(line.amount, e.amount)[0] is not Cause.OTHER_AMOUNT
        ]
        if len(near) == 1:
            found.append(_differing(line, near[0], ProposalKind.SAME_PARTY, "same party, near in time", 75))
    return found


def _net_of_fee(field: Field) -> list[Proposal]:
    """Takings that arrive less a fee: one line a little below one entry, or below all of a party's day."""
    if len(field.lines) > _MOST_OPEN:
        return []
    entries = [e for e in field.entries.values() if e.amount > 0]
    days = by_key(entries, lambda e: (e.words, e.day))
    sets = [[e] for e in entries] + [bucket for bucket in days.values() if len(bucket) > 1]
    found: list[Proposal] = []
    for line in field.lines.values():
        if line.amount <= 0 or line.reference:
            continue
        near = []
        for parts in sets:
            fee = sum(e.amount for e in parts) - line.amount
            if 0 < fee * 100 <= HIGHEST_FEE * line.amount and Window(5, 0).holds(line, parts[0]):
                near.append((parts, fee))
        if len(near) == 1 and not field.vocabulary.names_other(line, near[0][0][0]):
            parts, fee = near[0]
            what = "takings" if len(parts) == 1 else f"{len(parts)} takings of one day"
            why = f"{what} less a fee, {apart((line.day - parts[0].day).days)}"
            ids = tuple(e.id for e in parts)
            found.append(Proposal((line.id,), ids, ProposalKind.NET_OF_FEE, -fee, 60, why, Cause.FEE))
    return found


def _pairs_by_sum(field: Field) -> list[Proposal]:
    """Two entries that make a line by their sum alone, where no other two do; two lines that make an entry."""
    if len(field.lines) > _MOST_OPEN or len(field.entries) > _MOST_OPEN:
        return []
    found: list[Proposal] = []
    lines, entries = list(field.lines.values()), list(field.entries.values())
    for line in lines:
        near = [e for e in entries if Window(10, 2).holds(line, e) and (e.amount < 0) == (line.amount < 0)]
        ways = _pairs(near, line.amount)
        if len(ways) == 1:
            why = "two entries make this line by their sum alone, and no other two do"
            found.append(Proposal((line.id,), tuple(e.id for e in ways[0]), ProposalKind.GROUP, 0, 45, why))
    for entry in entries:
        near = [x for x in lines if Window(31, 2).holds(x, entry) and (x.amount < 0) == (entry.amount < 0)]
        ways = _pairs(near, entry.amount)
        if len(ways) == 1:
            why = "two lines make this entry by their sum alone, and no other two do"
            found.append(Proposal(tuple(x.id for x in ways[0]), (entry.id,), ProposalKind.GROUP, 0, 40, why))
    return found


def _pairs(items: list[Traits], total: int) -> list[tuple[Traits, Traits]]:
    """Up to two pairs that make a total."""
    seen: dict[int, list[Traits]] = defaultdict(list)
    found: list[tuple[Traits, Traits]] = []
    for item in items:
        for other in seen[total - item.amount]:
            found.append((other, item))
            if len(found) > 1:
                return found
        seen[item.amount].append(item)
    return found


def equal_amounts(field: Field) -> tuple[list[Proposal], list[Question]]:
    """Open items of equal amount: a lone pair is proposed, more than one on a side is a question."""
    lines = by_key(field.lines.values(), lambda x: x.amount or None)
    entries = by_key(field.entries.values(), lambda e: e.amount or None)
    proposals: list[Proposal] = []
    questions: list[Question] = []
    for amount, alike in lines.items():
        partners = [e for e in entries.get(amount, []) if any(_comparable(x, e) for x in alike)]
        asked = [x for x in alike if any(_comparable(x, e) for e in partners)]
        if not partners or not asked:
            continue
        if len(asked) == 1 and len(partners) == 1:
            line, entry = asked[0], partners[0]
            why = f"the amount agrees, {apart((line.day - entry.day).days)}; nothing else does"
            proposals.append(Proposal((line.id,), (entry.id,), ProposalKind.AMOUNT_ALONE, 0, 50, why))
        else:
            text = (
                f"{count(len(asked), 'line')} and {count(len(partners), 'entry', 'entries')} "
                "of the same amount: which belong together?"
            )
            questions.append(Question(tuple(x.id for x in asked), tuple(e.id for e in partners), text))
    return proposals, questions


def _comparable(line: Traits, entry: Traits) -> bool:
    return QUESTION_WINDOW.holds(line, entry) and not contradict(line, entry)


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
