"""Coding rules: text, sign, amount, kind and account of a line say where it goes in the books.

Patterns run in RE2, whose time grows with the text alone: no pattern can run away.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import re2

from netnaught.core.statement import LineKind, StatementLine


class RuleRefused(ValueError):
    """A rule that cannot be used; the message says why."""


class TextMatch(StrEnum):
    """How a rule's text is looked for."""

    CONTAINS = "contains"
    WORDS = "whole words"
    PATTERN = "pattern"


class WayOfMoney(StrEnum):
    """Which lines a rule is for."""

    ANY = "in or out"
    IN = "in"
    OUT = "out"


@dataclass(frozen=True, slots=True)
class Share:
    """A part of a rule's coding: an account and its share in hundredths of a percent."""

    gl_account_id: int
    share: int = 10_000
    tax_code_id: int | None = None
    department_id: int | None = None
    tags: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Coding:
    """Where a line goes: payee, memo, and one account or a split by shares."""

    shares: tuple[Share, ...]
    payee: str = ""
    memo: str = ""


@dataclass(frozen=True, slots=True)
class Rule:
    """One rule. `low`, `high`: the amount without its sign, minor units; `at_once`: recorded along with the passes."""

    id: int
    name: str
    text: str
    how: TextMatch
    coding: Coding
    way: WayOfMoney = WayOfMoney.ANY
    low: int | None = None
    high: int | None = None
    kind: LineKind | None = None
    bank_account_id: int | None = None
    at_once: bool = False
    active: bool = True

    def check(self) -> None:
        """RuleRefused where the rule has no name, would take every line, or its pattern is none."""
        if not self.name.strip():
            raise RuleRefused("a rule has a name")
        if not self.text.strip() and self.kind is None:
            raise RuleRefused("a rule needs a text or a kind: it would take every line")
        if self.low is not None and self.high is not None and self.low > self.high:
            raise RuleRefused("the lowest amount is above the highest")
        if not self.coding.shares:
            raise RuleRefused("a rule names an account")
        if sum(share.share for share in self.coding.shares) != 10_000:
            raise RuleRefused("the percentages of a rule make 100")
        if self.how is TextMatch.PATTERN:
            _pattern(self.text)

    def applies(self, line: StatementLine, bank_account_id: int) -> bool:
        """Whether the rule is for this line of this account."""
        size = abs(line.amount)
        return (
            self.active
            and self.bank_account_id in (None, bank_account_id)
            and (self.way is WayOfMoney.ANY or (line.amount > 0) == (self.way is WayOfMoney.IN))
            and (self.low is None or size >= self.low)
            and (self.high is None or size <= self.high)
            and (self.kind is None or line.kind is self.kind)
            and self._says(f"{line.description} {line.reference}")
        )

    def _says(self, text: str) -> bool:
        wanted = self.text.strip()
        if not wanted:
            return True
        if self.how is TextMatch.PATTERN:
            return _pattern(self.text).search(text) is not None
        if self.how is TextMatch.CONTAINS:
            return wanted.casefold() in text.casefold()
        return all(_word(word).search(text) for word in wanted.split())


@lru_cache(maxsize=512)
def _pattern(text: str) -> re.Pattern[str]:
    options = re2.Options()
    options.case_sensitive = False
    options.log_errors = False
    options.max_mem = 1 << 20
    try:
        found: re.Pattern[str] = re2.compile(text, options=options)
    except re2.error as error:
        said = error.args[0] if error.args else "it cannot be read"
        why = said.decode("utf-8", "replace") if isinstance(said, bytes) else str(said)
        raise RuleRefused(f"the pattern cannot be used: {why}") from None
    return found


@lru_cache(maxsize=2048)
def _word(word: str) -> re.Pattern[str]:
    return re.compile(rf"(?<!\w){re.escape(word)}(?!\w)", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Coded:
    """The rule that codes a line, and further ones that would code it otherwise: a conflict to be shown."""

    rule: Rule
    others: tuple[Rule, ...]


def code(line: StatementLine, bank_account_id: int, rules: Sequence[Rule]) -> Coded | None:
    """The first rule in order that applies; None where none does."""
    found = [rule for rule in rules if rule.applies(line, bank_account_id)]
    if not found:
        return None
    return Coded(found[0], tuple(rule for rule in found[1:] if rule.coding != found[0].coding))
