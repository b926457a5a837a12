"""Matching: passes that settle what is certain, offers and questions for the rest.

traits, field     what can be told of items, and which are open
passes            pairs: reference and amount, amount and date, amount and text
groups, washes    sums of what shares a reference or a party; what cancels on one side
composed          passes that a person composes from fields, after the fixed ones
lags              windows that follow from how long an account's items really take
readers, taught   what reads references and kinds out of texts, taught by example; names learned from matches
near              near pairs with their cause, equal amounts as questions, what is doubled
"""

from __future__ import annotations

from collections.abc import Sequence

from netnaught.core.ledger import BankAccountKind
from netnaught.core.matching.composed import Composed, NotComposed, SameReference, SameText, Sign
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
from netnaught.core.matching.lags import Lag, check_days_from, fitted, window_from
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
from netnaught.core.matching.readers import (
    Example,
    NoRule,
    Reader,
    Side,
    Suggestion,
    TextOf,
    Yield,
    learn,
    suggest,
    yield_of,
)
from netnaught.core.matching.taught import NOTHING_TAUGHT, Taught, name_key
from netnaught.core.matching.washes import Washes

__all__ = [
    "DEFAULT_PASSES",
    "FAR_APART",
    "NOTHING_TAUGHT",
    "AmountAndDate",
    "AmountAndText",
    "Cause",
    "Composed",
    "Example",
    "Groups",
    "Lag",
    "Made",
    "Match",
    "NoRule",
    "NotComposed",
    "OpenItems",
    "Outcome",
    "Pass",
    "PassName",
    "Proposal",
    "ProposalKind",
    "Question",
    "Reader",
    "ReferenceAndAmount",
    "SameReference",
    "SameText",
    "Side",
    "Sign",
    "Suggestion",
    "Taught",
    "TextOf",
    "Wash",
    "Washes",
    "Window",
    "Yield",
    "check_days_from",
    "fitted",
    "learn",
    "name_key",
    "offers",
    "run_passes",
    "suggest",
    "usual_passes",
    "window_from",
    "window_of",
    "with_window",
    "yield_of",
]

DEFAULT_PASSES: tuple[Pass, ...] = (ReferenceAndAmount(), AmountAndDate(), AmountAndText(), Groups(), Washes())


def usual_passes(kind: BankAccountKind) -> tuple[Pass, ...]:
    """The passes of an account of that kind: a card posts within the week and takes no checks."""
    if kind is BankAccountKind.CARD:
        return (
            ReferenceAndAmount(),
            AmountAndDate(Window(before=7, after=5), checks=7),
            AmountAndText(Window(before=21, after=10)),
            Groups(),
            Washes(),
        )
    return DEFAULT_PASSES


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
        left.taught,
    )
    more_offers = tuple(p for p in again if not offered & set(p.entries))
    return Outcome(tuple(matches), tuple(washes), questions, proposals + more_offers, rest, counts)
