"""What the matching works on and what it hands back."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.statement import ItemId, StatementLine


class PassName(StrEnum):
    """The closed list of automatic passes."""

    REFERENCE_AND_AMOUNT = "reference and amount"
    AMOUNT_AND_DATE = "amount and date"


@dataclass(frozen=True, slots=True)
class OpenItems:
    """All open items of an account, carried ones of both sides included."""

    lines: tuple[StatementLine, ...]
    entries: tuple[BookEntry, ...]

    def without(self, matches: list[Match]) -> OpenItems:
        """The items that `matches` leave open."""
        lines = {item for match in matches for item in match.lines}
        entries = {item for match in matches for item in match.entries}
        return OpenItems(
            tuple(line for line in self.lines if line.id not in lines),
            tuple(entry for entry in self.entries if entry.id not in entries),
        )


@dataclass(frozen=True, slots=True)
class Match:
    """A match made by a pass. `confidence` in percent; `days` is bank date − book date."""

    lines: tuple[ItemId, ...]
    entries: tuple[ItemId, ...]
    by: PassName
    confidence: int
    why: str
    days: int


class ProposalKind(StrEnum):
    """Why two sides are offered to each other."""

    READY = "ready"
    SAME_REFERENCE = "same reference"
    GROUP = "group"
    AMOUNT_ALONE = "amount alone"


class Cause(StrEnum):
    """What makes a near pair differ."""

    DIGITS_SWAPPED = "digits swapped"
    OTHER_AMOUNT = "other amount"
    NONE = ""


@dataclass(frozen=True, slots=True)
class Proposal:
    """An offer to a person, never made by itself. `difference`: bank − books, minor units."""

    lines: tuple[ItemId, ...]
    entries: tuple[ItemId, ...]
    kind: ProposalKind
    difference: int
    confidence: int
    why: str
    cause: Cause = Cause.NONE

    @classmethod
    def of_match(cls, made: Match) -> Proposal:
        """What a pass would match, as an offer while it has not run."""
        return cls(made.lines, made.entries, ProposalKind.READY, 0, made.confidence, made.why)


@dataclass(frozen=True, slots=True)
class Question:
    """Lines and entries that nothing tells apart: put to a person as one question."""

    lines: tuple[ItemId, ...]
    entries: tuple[ItemId, ...]
    question: str


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a run of the passes makes of the open items.

    Every item is in exactly one of matches, questions and `left`; proposals point into
    questions or `left`.
    """

    matches: tuple[Match, ...]
    questions: tuple[Question, ...]
    proposals: tuple[Proposal, ...]
    left: OpenItems
    counts: dict[PassName, int] = field(default_factory=dict)
