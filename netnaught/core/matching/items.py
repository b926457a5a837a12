"""What the matching works on and what it hands back."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.taught import NOTHING_TAUGHT, Taught
from netnaught.core.statement import ItemId, StatementLine


class PassName(StrEnum):
    """The closed list of automatic passes."""

    REFERENCE_AND_AMOUNT = "reference and amount"
    AMOUNT_AND_DATE = "amount and date"
    AMOUNT_AND_TEXT = "amount and text"
    GROUPS = "groups"
    WASHES = "washes"
    COMPOSED = "composed"


@dataclass(frozen=True, slots=True)
class OpenItems:
    """All open items of an account, carried ones of both sides included.

    `among`: the items these are left of, decided ones included. From them a run learns which
    words name a party, so that a word tells as much on the second run as on the first.
    `taught`: what people have taught the account about its texts.
    """

    lines: tuple[StatementLine, ...]
    entries: tuple[BookEntry, ...]
    among: OpenItems | None = None
    taught: Taught = NOTHING_TAUGHT

    def without(self, matches: list[Match], washes: list[Wash] | None = None) -> OpenItems:
        """The items that `matches` and `washes` leave open."""
        lines = {item for match in matches for item in match.lines}
        entries = {item for match in matches for item in match.entries}
        for wash in washes or []:
            (lines if wash.on_bank else entries).update(wash.ids)
        return OpenItems(
            tuple(line for line in self.lines if line.id not in lines),
            tuple(entry for entry in self.entries if entry.id not in entries),
            self.among or self,
            self.taught,
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


@dataclass(frozen=True, slots=True)
class Wash:
    """Items of one side that cancel to zero among themselves. `on_bank`: lines of the statement, else entries."""

    on_bank: bool
    ids: tuple[ItemId, ...]
    confidence: int
    why: str


class ProposalKind(StrEnum):
    """Why two sides are offered to each other."""

    READY = "ready"
    SAME_REFERENCE = "same reference"
    GROUP = "group"
    SAME_PARTY = "same party"
    NET_OF_FEE = "net of fee"
    AMOUNT_ALONE = "amount alone"
    DOUBLED = "doubled"
    BANK_CORRECTION = "bank correction"


class Cause(StrEnum):
    """What makes a near pair differ."""

    DIGITS_SWAPPED = "digits swapped"
    SLIDE = "decimal point slipped"
    ONE_DIGIT = "one digit differs"
    SIGN = "wrong side"
    FEE = "a fee was taken"
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

    @classmethod
    def of_wash(cls, made: Wash) -> Proposal:
        """What the passes would wash, as an offer while they have not run."""
        lines, entries = (made.ids, ()) if made.on_bank else ((), made.ids)
        return cls(lines, entries, ProposalKind.READY, 0, made.confidence, made.why)


@dataclass(frozen=True, slots=True)
class Question:
    """Lines and entries that nothing tells apart: put to a person as one question."""

    lines: tuple[ItemId, ...]
    entries: tuple[ItemId, ...]
    question: str


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a run of the passes makes of the open items.

    Every item is in exactly one of matches, washes, questions and `left`; proposals point into
    questions or `left`.
    """

    matches: tuple[Match, ...]
    washes: tuple[Wash, ...]
    questions: tuple[Question, ...]
    proposals: tuple[Proposal, ...]
    left: OpenItems
    counts: dict[PassName, int] = field(default_factory=dict)
