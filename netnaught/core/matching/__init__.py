"""Matching: passes that settle what is certain, offers and questions for the rest."""

from __future__ import annotations

from collections.abc import Sequence

from netnaught.core.matching.items import (
    Cause,
    Match,
    OpenItems,
    Outcome,
    PassName,
    Proposal,
    ProposalKind,
    Question,
)
from netnaught.core.matching.near import equal_amounts, near_pairs, one_offer_each
from netnaught.core.matching.passes import (
    DEFAULT_PASSES,
    FAR_APART,
    AmountAndDate,
    Pass,
    ReferenceAndAmount,
    Window,
)

__all__ = [
    "DEFAULT_PASSES",
    "FAR_APART",
    "AmountAndDate",
    "Cause",
    "Match",
    "OpenItems",
    "Outcome",
    "Pass",
    "PassName",
    "Proposal",
    "ProposalKind",
    "Question",
    "ReferenceAndAmount",
    "Window",
    "offers",
    "run_passes",
]


def offers(items: OpenItems) -> tuple[tuple[Proposal, ...], tuple[Question, ...]]:
    """Proposals and questions for items that stay open. Proposals do not point into questions."""
    pairs = near_pairs(items)
    by_amount, questions = equal_amounts(items)
    settled = {item for pair in pairs if pair.difference == 0 for item in pair.lines}
    questions = [q for q in questions if not settled & set(q.lines)]
    asked_lines = {item for question in questions for item in question.lines}
    asked_entries = {item for question in questions for item in question.entries}
    free = [p for p in pairs + by_amount if not asked_lines & set(p.lines) and not asked_entries & set(p.entries)]
    return tuple(one_offer_each(free)), tuple(questions)


def run_passes(items: OpenItems, passes: Sequence[Pass] = DEFAULT_PASSES) -> Outcome:
    """Run the passes in their order, each on what the ones before it left open, until none finds more.

    Guarantees: every item ends up in exactly one place; each match is exact to the minor
    unit; the result does not depend on the order of the input within a day; a second run on
    what is left makes no match.
    """
    matches: list[Match] = []
    counts: dict[PassName, int] = {}
    left = items
    before = -1
    while len(matches) != before:
        before = len(matches)
        for step in passes:
            made = step.run(left)
            counts[step.name] = counts.get(step.name, 0) + len(made)
            matches += made
            left = left.without(made)
    proposals, questions = offers(left)
    asked_lines = {item for question in questions for item in question.lines}
    asked_entries = {item for question in questions for item in question.entries}
    rest = OpenItems(
        tuple(line for line in left.lines if line.id not in asked_lines),
        tuple(entry for entry in left.entries if entry.id not in asked_entries),
    )
    return Outcome(tuple(matches), questions, proposals, rest, counts)
