"""Matching: passes that settle what is certain, offers and questions for the rest.

traits, field     what can be told of items, and which are open
passes            pairs: reference and amount, amount and date, amount and text
groups, washes    sums of what shares a reference or a party; what cancels on one side
near              near pairs with their cause, equal amounts as questions, what is doubled
"""

from __future__ import annotations

from collections.abc import Sequence

from netnaught.core.matching.field import Field
from netnaught.core.matching.groups import Groups
from netnaught.core.matching.items import (
    Cause,
    Match,
    OpenItems,
    Outcome,
    PassName,
    Proposal,
    ProposalKind,
    Question,
    Wash,
)
from netnaught.core.matching.near import doubled, offers
from netnaught.core.matching.passes import (
    FAR_APART,
    AmountAndDate,
    AmountAndText,
    Made,
    Pass,
    ReferenceAndAmount,
    Window,
    window_of,
    with_window,
)
from netnaught.core.matching.washes import Washes

__all__ = [
    "DEFAULT_PASSES",
    "FAR_APART",
    "AmountAndDate",
    "AmountAndText",
    "Cause",
    "Groups",
    "Made",
    "Match",
    "OpenItems",
    "Outcome",
    "Pass",
    "PassName",
    "Proposal",
    "ProposalKind",
    "Question",
    "ReferenceAndAmount",
    "Wash",
    "Washes",
    "Window",
    "offers",
    "run_passes",
    "window_of",
    "with_window",
]

DEFAULT_PASSES: tuple[Pass, ...] = (ReferenceAndAmount(), AmountAndDate(), AmountAndText(), Groups(), Washes())


def run_passes(items: OpenItems, passes: Sequence[Pass] = DEFAULT_PASSES) -> Outcome:
    """Run the passes in their order, each on what the ones before it left open, until none finds more.

    Guarantees: every item ends up in exactly one place; each match is exact to the minor
    unit, each wash cancels to zero; the result does not depend on the order of the input
    within a day; a second run on what is left decides nothing.
    """
    field = Field(items)
    references = {entry.id: (entry.reference, entry.amount) for entry in field.entries.values()}
    matches: list[Match] = []
    washes: list[Wash] = []
    counts: dict[PassName, int] = {step.name: 0 for step in passes}
    more = True
    while more:
        more = False
        for step in passes:
            made = step.run(field)
            field.close(made.matches, made.washes)
            counts[step.name] += len(made.matches) + len(made.washes)
            matches += made.matches
            washes += made.washes
            more = more or bool(made.matches or made.washes)
    left = items.without(matches, washes)
    proposals, questions = offers(field)
    asked_lines = {item for question in questions for item in question.lines}
    asked_entries = {item for question in questions for item in question.entries}
    offered = {item for proposal in proposals for item in proposal.entries} | asked_entries
    again = doubled(field, (references[item] for match in matches for item in match.entries))
    rest = OpenItems(
        tuple(line for line in left.lines if line.id not in asked_lines),
        tuple(entry for entry in left.entries if entry.id not in asked_entries),
        left.among,
    )
    more_offers = tuple(p for p in again if not offered & set(p.entries))
    return Outcome(tuple(matches), tuple(washes), questions, proposals + more_offers, rest, counts)
