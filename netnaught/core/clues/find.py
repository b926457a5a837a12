"""Looking for clues, the most telling first."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.near import cause_of
from netnaught.core.matching.references import entry_reference
from netnaught.core.statement import ItemId, StatementLine
from netnaught.core.wording import Wording

# Pairs of mistakes are tried among so many signatures at most.
_MOST_SINGLE = 600
_MOST_SHOWN = 8


class ClueKind(StrEnum):
    """The closed list of explanations."""

    NOT_FOOTING = "not footing"
    BANK_GAP = "bank gap"
    MISSING_ENTRY = "missing entry"
    NOT_TICKED = "not ticked"
    TICKED_BY_MISTAKE = "ticked by mistake"
    DOUBLED = "doubled"
    WRONG_SIDE = "wrong side"
    DIGITS_SWAPPED = "digits swapped"
    SLIDE = "slide"
    ONE_DIGIT = "one digit"
    TWO_MISTAKES = "two mistakes"
    ONE_SIDE = "one side"


@dataclass(frozen=True, slots=True)
class Clue:
    """One explanation. `explains`: its part of the amount in question, minor units."""

    kind: ClueKind
    lines: tuple[ItemId, ...]
    entries: tuple[ItemId, ...]
    explains: int
    text: str


@dataclass(frozen=True, slots=True)
class Puzzle:
    """What is to be explained, and what it may lie in.

    amount    the difference or the residual
    lines     statement lines that are unresolved and not offered to anything
    open      entries not counted; `counted`: entries counted
    off       what the statement does not foot by; bank_gap: its opening less the closing before
    side_off  what money in and money out are off by, where printed totals tell (ticking), else None
    """

    amount: int
    lines: tuple[StatementLine, ...]
    open: tuple[BookEntry, ...]
    counted: tuple[BookEntry, ...]
    off: int = 0
    bank_gap: int = 0
    side_off: tuple[int | None, int | None] = (None, None)


def find_clues(puzzle: Puzzle, say: Wording) -> tuple[Clue, ...]:
    """Explanations of the amount, ranked; empty when it is zero or nothing explains it."""
    if puzzle.amount == 0:
        return ()
    whole = [clue for clue in _whole(puzzle, say) if clue.explains == puzzle.amount]
    sides = list(_sides(puzzle, say))
    if whole:
        return tuple((whole + sides)[:_MOST_SHOWN])
    pairs = _two(puzzle, say)
    missing = list(_missing(puzzle, say))
    return tuple((pairs + sides + missing)[:_MOST_SHOWN])


def _whole(puzzle: Puzzle, say: Wording) -> Iterator[Clue]:
    """Single explanations, in the order of trust."""
    amount = say.amount(puzzle.amount)
    if puzzle.off:
        yield Clue(
            ClueKind.NOT_FOOTING,
            (),
            (),
            puzzle.off,
            f"The statement itself does not foot, by {say.amount(puzzle.off)}.",
        )
    if puzzle.bank_gap:
        text = f"The statement opens {say.amount(puzzle.bank_gap)} away from the closing before it."
        yield Clue(ClueKind.BANK_GAP, (), (), puzzle.bank_gap, text)
    yield from _missing(puzzle, say)
    if not puzzle.lines:
        for entry in puzzle.open:
            text = f"{_named(entry, say)} is exactly {amount} and not ticked."
            yield Clue(ClueKind.NOT_TICKED, (), (entry.id,), entry.amount, text)
        if len(puzzle.open) > 1:
            text = f"Everything not ticked yet, {len(puzzle.open)} entries, makes exactly {amount}."
            total = sum(e.amount for e in puzzle.open)
            yield Clue(ClueKind.NOT_TICKED, (), tuple(e.id for e in puzzle.open), total, text)
    yield from _in_counted(puzzle, say)


def _missing(puzzle: Puzzle, say: Wording) -> Iterator[Clue]:
    for line in puzzle.lines:
        text = (
            f"{line.description or 'A line'} of {say.day(line.date)}, {say.amount(line.amount)}, is not in the books."
        )
        yield Clue(ClueKind.MISSING_ENTRY, (line.id,), (), line.amount, text)


def _named(entry: BookEntry, say: Wording) -> str:
    name = " ".join(part for part in (entry.reference, entry.payee or entry.memo) if part) or "An entry"
    return f"{name} of {say.day(entry.date)}"


def _in_counted(puzzle: Puzzle, say: Wording) -> Iterator[Clue]:
    """Mistakes in what is counted: one of two, on the wrong side, digits swapped or slipped."""
    twins: dict[tuple[str, int], list[BookEntry]] = defaultdict(list)
    for entry in puzzle.counted:
        if reference := entry_reference(entry):
            twins[reference, entry.amount].append(entry)
    for (reference, amount), alike in twins.items():
        if len(alike) > 1 and -amount == puzzle.amount:
            text = f"Reference {reference} over {say.amount(amount)} is counted {len(alike)} times."
            yield Clue(ClueKind.DOUBLED, (), tuple(e.id for e in alike), -amount, text)
    if puzzle.lines:
        return
    for entry in puzzle.counted:
        if -entry.amount == puzzle.amount:
            text = f"{_named(entry, say)} is counted and may not be on the statement."
            yield Clue(ClueKind.TICKED_BY_MISTAKE, (), (entry.id,), -entry.amount, text)
        right = entry.amount + puzzle.amount
        cause, words = cause_of(right, entry.amount)
        kind = _KINDS.get(cause.value)
        if kind and right:
            text = f"{_named(entry, say)}: {say.amount(entry.amount)} may be {say.amount(right)}; {words}."
            yield Clue(kind, (), (entry.id,), puzzle.amount, text)


_KINDS = {
    "digits swapped": ClueKind.DIGITS_SWAPPED,
    "decimal point slipped": ClueKind.SLIDE,
    "one digit differs": ClueKind.ONE_DIGIT,
    "wrong side": ClueKind.WRONG_SIDE,
}


def _sides(puzzle: Puzzle, say: Wording) -> Iterator[Clue]:
    came, went = puzzle.side_off
    if came is None or went is None:
        return
    if came == 0 and went:
        yield Clue(
            ClueKind.ONE_SIDE,
            (),
            (),
            went,
            f"Money in agrees with the printed total; money out is {say.amount(went)} off.",
        )
    if went == 0 and came:
        yield Clue(
            ClueKind.ONE_SIDE,
            (),
            (),
            came,
            f"Money out agrees with the printed total; money in is {say.amount(came)} off.",
        )


def _two(puzzle: Puzzle, say: Wording) -> list[Clue]:
    """Two mistakes that together make the amount, where only one pair of them does."""
    singles: list[tuple[int, tuple[ItemId, ...], tuple[ItemId, ...], str]] = [
        (x.amount, (x.id,), (), f"{x.description or 'a line'} of {say.day(x.date)}") for x in puzzle.lines
    ]
    if not puzzle.lines:
        singles += [(e.amount, (), (e.id,), f"{_named(e, say)} not ticked") for e in puzzle.open]
        singles += [(-e.amount, (), (e.id,), f"{_named(e, say)} ticked by mistake") for e in puzzle.counted]
    return _pair_up(puzzle.amount, singles[:_MOST_SINGLE])


def _pair_up(amount: int, singles: Sequence[tuple[int, tuple[ItemId, ...], tuple[ItemId, ...], str]]) -> list[Clue]:
    seen: dict[int, list[int]] = defaultdict(list)
    found: list[Clue] = []
    for place, (part, lines, entries, words) in enumerate(singles):
        for other in seen[amount - part]:
            first = singles[other]
            text = f"Two together: {first[3]}, and {words}."
            found.append(Clue(ClueKind.TWO_MISTAKES, first[1] + lines, first[2] + entries, amount, text))
        seen[part].append(place)
        if len(found) > 3:
            break
    return found
