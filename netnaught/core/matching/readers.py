"""Readers: what reads the kind and the reference of an item out of its text, taught by example.

A person marks the reference in a few sample texts; `learn` generalises them to one rule, which
`Reader.sentence` states. `suggest` finds such rules by itself, where a reading makes many
lines agree with entries; it only proposes them.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import Any

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.references import clean_reference, entry_reference, line_reference
from netnaught.core.statement import LineKind, StatementLine


class Side(StrEnum):
    """Whose texts a reader reads."""

    BANK = "bank"
    BOOKS = "books"


class TextOf(StrEnum):
    """Which text of an item is read: its reference, or its description (payee and memo in the books)."""

    REFERENCE = "reference"
    TEXT = "text"


class NoRule(ValueError):
    """The examples follow no one rule; the message says in what they disagree."""


@dataclass(frozen=True, slots=True)
class Example:
    """A sample text with its reference marked: text[start:end]. An empty mark tells the kind alone."""

    text: str
    start: int
    end: int

    @property
    def mark(self) -> str:
        """The marked reference."""
        return self.text[self.start : self.end]


@dataclass(frozen=True, slots=True)
class Reader:
    """One rule.

    after     the words that stand before the number ("" where any number may be meant)
    skip      characters of the number before its reference, `cut` after it; both left out
    digits    True where the reference has digits only
    marks     what stands between its digits or letters, as in 2026-0042
    shortest  least and most characters of the reference (`longest` 0: no limit)
    kind      what items so read are; None leaves it open
    """

    side: Side
    of: TextOf
    after: str = ""
    skip: int = 0
    cut: int = 0
    digits: bool = True
    marks: str = ""
    shortest: int = 1
    longest: int = 0
    kind: LineKind | None = None
    kind_only: bool = False

    def read(self, text: str) -> str | None:
        """The reference in a text, cleaned; "" where the rule tells the kind alone; None where it does not apply."""
        found = _pattern(self).search(text)
        if found is None:
            return None
        return "" if self.kind_only else clean_reference(found[1]) or None

    def text_of(self, item: StatementLine | BookEntry) -> str:
        """The text of an item that this rule reads."""
        if self.of is TextOf.REFERENCE:
            return item.reference
        return item.description if isinstance(item, StatementLine) else f"{item.payee} {item.memo}"

    def sentence(self) -> str:
        """The rule in words."""
        whose = "the bank's" if self.side is Side.BANK else "the books'"
        where = f"{whose} {'reference' if self.of is TextOf.REFERENCE else 'text'}"
        after = f" after “{self.after.strip()}”" if self.after.strip() else ""
        kind = f"; such an item is a {self.kind.value}" if self.kind else ""
        if self.kind_only:
            return f"Where {where} says “{self.after.strip()}”, the item is a {self.kind.value if self.kind else ''}."
        what = "digits" if self.digits else "letters and digits"
        what += f" with “{self.marks}” between them" if self.marks else ""
        most = self.longest or 0
        length = "" if not most else f"{self.shortest} " if most == self.shortest else f"{self.shortest} to {most} "
        less = [
            f"the {end} {_characters(number)}" for end, number in (("first", self.skip), ("last", self.cut)) if number
        ]
        without = f", without {' and '.join(less)} of the number" if less else ""
        return f"In {where}, the reference is the {length}{what}{after}{without}{kind}."

    def values(self) -> dict[str, Any]:
        """As JSON or TOML values."""
        return asdict(self)

    @classmethod
    def of_values(cls, given: dict[str, Any]) -> Reader:
        """The inverse of `values`; NoRule names what is wrong."""
        unknown = set(given) - set(cls.__dataclass_fields__)
        if unknown:
            raise NoRule(f"{sorted(unknown)[0]!r} is no setting of a reader")
        try:
            made = cls(
                **{**given, "side": Side(given["side"]), "of": TextOf(given.get("of", "text"))},
            )
            made = replace(made, kind=LineKind(made.kind) if made.kind else None)
        except (KeyError, ValueError, TypeError) as error:
            raise NoRule(f"the reader is not complete: {error}") from None
        numbers = (made.skip, made.cut, made.shortest, made.longest)
        if not all(isinstance(n, int) and 0 <= n <= 80 for n in numbers) or not isinstance(made.after, str):
            raise NoRule("a reader's numbers lie between 0 and 80")
        if not isinstance(made.marks, str) or any(char.isalnum() or char.isspace() for char in made.marks):
            raise NoRule("marks between the digits are neither letters nor digits")
        if made.kind_only and not (made.kind and made.after.strip()):
            raise NoRule("a reader of kinds needs a kind, and the words that tell it")
        return made


def _characters(number: int) -> str:
    return "character" if number == 1 else f"{number} characters"


@lru_cache(maxsize=512)
def _pattern(rule: Reader) -> re.Pattern[str]:
    words = r"\s+".join(re.escape(word) for word in rule.after.split())
    before = rf"(?<![^\W_]){words}[^\w\n]*" if words and rule.after[-1:].isalnum() else rf"{words}\s*" if words else ""
    if rule.kind_only:
        return re.compile(before, re.I | re.ASCII)
    first = r"\d" if rule.digits else r"[0-9A-Za-z]"
    one = f"[{re.escape(rule.marks)}{first.strip('[]')}]" if rule.marks else first
    most = str(rule.longest) if rule.longest else ""
    start = before or r"(?<![0-9A-Za-z])"
    skip = rf"[0-9A-Za-z]{{{rule.skip}}}" if rule.skip else ""
    cut = rf"[0-9A-Za-z]{{{rule.cut}}}" if rule.cut else ""
    return re.compile(
        rf"{start}{skip}((?={first}){one}{{{rule.shortest},{most}}}){cut}(?![0-9A-Za-z])", re.I | re.ASCII
    )


# learning ---------------------------------------------------------------------------------------

# As much of what stands before the number as a person would call its name.
_MOST_WORDS = 3
_NUMBER = re.compile(r"[0-9A-Za-z]+", re.ASCII)


def learn(examples: Sequence[Example], side: Side, of: TextOf, kind: LineKind | None = None) -> Reader:
    """The rule that reads every example as it was marked; NoRule says in what the examples disagree."""
    if not examples:
        raise NoRule("a reader is taught by at least one example")
    for example in examples:
        if not 0 <= example.start <= example.end <= len(example.text):
            raise NoRule(f"the mark lies outside the text {example.text!r}")
    if any(not example.mark.strip() for example in examples):
        return _kind_rule(examples, side, of, kind)
    parts = [_in_number(example) for example in examples]
    skips, cuts = {len(skip) for _, skip, _, _ in parts}, {len(cut) for _, _, _, cut in parts}
    marks = [mark for _, _, mark, _ in parts]
    if len(skips) > 1:
        # Zeros that pad a number to its length are no part of what comes before the reference.
        parts = [(before, skip.rstrip("0"), mark, cut) for before, skip, mark, cut in parts]
        skips = {len(skip) for _, skip, _, _ in parts}
    for lengths, where in ((skips, "before"), (cuts, "after")):
        if len(lengths) > 1:
            raise NoRule(f"the examples leave out different numbers of characters {where} the reference")
    after = _common_words([before for before, _, _, _ in parts])
    between = "".join(sorted({char for mark in marks for char in mark if not char.isalnum()}))
    digits = not any(char.isalpha() for mark in marks for char in mark)
    rule = Reader(side, of, after, skips.pop(), cuts.pop(), digits, between, kind=kind)
    if not after:
        sizes = [len(mark) for mark in marks]
        rule = replace(rule, shortest=min(sizes), longest=max(sizes))
    for example in examples:
        found = rule.read(example.text)
        if found != clean_reference(example.mark):
            what = f"reads {found!r}" if found else "reads nothing"
            raise NoRule(f"no one rule reads all examples: the closest {what} in {example.text!r}")
    return rule


def _in_number(example: Example) -> tuple[str, str, str, str]:
    """What stands before the number, and its parts: before the mark, the mark, behind it."""
    text, start, end = example.text, example.start, example.end
    left = start
    while left > 0 and text[left - 1].isalnum():
        left -= 1
    right = end
    while right < len(text) and text[right].isalnum():
        right += 1
    return text[:left], text[left:start], text[start:end], text[end:right]


def _common_words(befores: Sequence[str]) -> str:
    """The words that stand before every number, at most three; "" where there are none in common."""
    tails = [before.split() for before in befores]
    common: list[str] = []
    for back in range(1, _MOST_WORDS + 1):
        here = {tail[-back].lower() for tail in tails if len(tail) >= back}
        if len(here) != 1 or any(len(tail) < back for tail in tails) or any(c.isdigit() for c in next(iter(here))):
            break
        common.insert(0, tails[0][-back])
    # A single example would make a rule of its party's name: its nearest word is name enough.
    return " ".join(common if len(befores) > 1 else common[-1:])


def _kind_rule(examples: Sequence[Example], side: Side, of: TextOf, kind: LineKind | None) -> Reader:
    if kind is None:
        raise NoRule("mark the reference, or say what kind such items are")
    words = [set(re.findall(r"[^\W\d_]{2,}", example.text.lower())) for example in examples]
    order = re.findall(r"[^\W\d_]{2,}", examples[0].text.lower())
    shared = set.intersection(*words)
    run: list[str] = []
    for word in order:
        if word in shared:
            run.append(word)
        elif run:
            break
    if not run:
        raise NoRule("the examples have no word in common that could tell the kind")
    for size in range(len(run[:_MOST_WORDS]), 0, -1):
        rule = Reader(side, of, " ".join(run[:size]), kind=kind, kind_only=True)
        if all(rule.read(example.text) is not None for example in examples):
            return rule
    raise NoRule("the examples have no words in common that stand in one order")


# what a rule yields -----------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Yield:
    """What a rule reads: of how many items, with samples, and how many of them then agree with the other side.

    agree  items whose reference, so read, and amount are those of an item of the other side
    gain   those of them that did not agree as they stood
    """

    reads: int
    of: int
    agree: int
    gain: int
    samples: tuple[tuple[str, str], ...]


def _keys(items: Iterable[StatementLine | BookEntry]) -> set[tuple[str, int]]:
    return {(reference, item.amount) for item in items if (reference := _as_it_stands(item))}


def _as_it_stands(item: StatementLine | BookEntry) -> str:
    return line_reference(item) if isinstance(item, StatementLine) else entry_reference(item)


def yield_of(rule: Reader, lines: Sequence[StatementLine], entries: Sequence[BookEntry], samples: int = 8) -> Yield:
    """What a rule makes of an account's own items."""
    own: Sequence[StatementLine | BookEntry] = lines if rule.side is Side.BANK else entries
    others = _keys(entries if rule.side is Side.BANK else lines)
    reads = agree = gain = 0
    shown: list[tuple[str, str]] = []
    for item in own:
        text = rule.text_of(item)
        found = rule.read(text)
        if found is None:
            continue
        reads += 1
        if found and (found, item.amount) in others:
            agree += 1
            gain += (_as_it_stands(item), item.amount) not in others
        if len(shown) < samples:
            shown.append((text, found or (rule.kind.value if rule.kind else "")))
    return Yield(reads, len(own), agree, gain, tuple(shown))


# suggesting -------------------------------------------------------------------------------------

LEAST_AGREEING = 5
_SHORTEST_CORE = 3
_MOST_SUGGESTED = 3
_TEACHING = 12


@dataclass(frozen=True, slots=True)
class Suggestion:
    """A rule found by the program, and what it would yield."""

    reader: Reader
    yields: Yield


def suggest(
    lines: Sequence[StatementLine], entries: Sequence[BookEntry], known: Sequence[Reader] = ()
) -> tuple[Suggestion, ...]:
    """Rules that make at least five more items agree, and most of what they read; the best first."""
    found: list[Suggestion] = []
    for side in Side:
        for examples, of in _alike(side, lines, entries):
            try:
                rule = learn(examples[:_TEACHING], side, of)
            except NoRule:
                continue
            yields = yield_of(rule, lines, entries)
            if rule not in known and yields.gain >= LEAST_AGREEING and yields.agree * 2 >= yields.reads:
                found.append(Suggestion(rule, yields))
    best = sorted(found, key=lambda s: (-s.yields.gain, s.reader.sentence()))
    distinct = list({s.reader: s for s in best}.values())
    return tuple(distinct[:_MOST_SUGGESTED])


def _alike(
    side: Side, lines: Sequence[StatementLine], entries: Sequence[BookEntry]
) -> Iterator[tuple[list[Example], TextOf]]:
    """Texts of one make in which the other side's reference of the same amount stands inside a longer number."""
    own: Sequence[StatementLine | BookEntry] = lines if side is Side.BANK else entries
    others: Sequence[StatementLine | BookEntry] = entries if side is Side.BANK else lines
    by_amount: dict[int, set[str]] = defaultdict(set)
    for item in others:
        reference = _as_it_stands(item)
        if len(reference) >= _SHORTEST_CORE:
            by_amount[item.amount].add(reference)
    groups: dict[tuple[TextOf, str, int, int], list[Example]] = defaultdict(list)
    for item in own:
        wanted = by_amount.get(item.amount, set()) - {_as_it_stands(item)}
        for of in TextOf if wanted else ():
            text = Reader(side, of).text_of(item)
            for reference in wanted:
                for example in _inside(text, reference):
                    before, skip, _, cut = _in_number(example)
                    last = (before.split() or [""])[-1].lower()
                    groups[of, last, len(skip.rstrip("0")), len(cut)].append(example)
    for (of, *_), examples in groups.items():
        if len(examples) >= LEAST_AGREEING:
            yield examples, of


def _inside(text: str, reference: str) -> Iterator[Example]:
    """Where a reference stands in a text, inside a number or as one."""
    folded = text.upper()
    for number in _NUMBER.finditer(folded):
        at = number[0].find(reference)
        if at >= 0:
            yield Example(text, number.start() + at, number.start() + at + len(reference))
