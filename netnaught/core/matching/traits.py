"""What can be told of an item for matching: its references, the words of its text, whether it reverses or charges.

Computed once for each item of a run; the words, which cost most, only where they are asked for.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.references import entry_reference, line_reference, same_make
from netnaught.core.statement import LineKind, StatementLine

_WORD = re.compile(r"[^\W\d_]{3,}")
_TOKEN = re.compile(r"[A-Z]*-?\d{3,}[A-Z]?", re.ASCII)
_REVERSAL = re.compile(r"revers|void|cancel|back(?:ed)?[ -]?out|correct|taken back|in error|storno|undo", re.I)
_CHARGE = re.compile(r"\bfees?\b|charge|interest|commission|\bnsf\b", re.I)
_CHECK = re.compile(r"\bche(?:ck|que)s?\b|\bchk\b", re.I)
# Words that stand in any bank's or book's text and tell nobody apart.
COMMON = frozenset(
    [
        "the",
        "and",
        "for",
        "from",
        "payment",
        "payments",
        "pay",
        "paid",
        "transfer",
        "deposit",
        "deposits",
        "check",
        "checks",
        "cheque",
        "chk",
        "direct",
        "debit",
        "credit",
        "card",
        "cards",
        "ach",
        "ref",
        "reference",
        "electronic",
        "online",
        "bank",
        "account",
        "slip",
        "purchase",
        "settlement",
        "invoice",
        "inv",
        "bill",
        "bills",
        "usd",
        "receipt",
        "received",
        "wire",
        "trf",
        "txn",
        "transaction",
        "services",
        "company",
        "ltd",
        "inc",
        "gmbh",
        "sent",
        "service",
        "monthly",
        "weekly",
    ]
)
_DEEP = 4


def words_of(text: str) -> frozenset[str]:
    """The telling words of a text, in lower case."""
    return frozenset(word for word in _WORD.findall(text.lower()) if word not in COMMON)


class Traits:
    """One item and what can be told of it. What is read out of its text is read when it is first asked for."""

    __slots__ = (
        *("_flags", "_party", "_tokens", "_words", "amount", "check", "charge"),
        *("day", "id", "name", "raw", "reference", "text"),
    )

    def __init__(
        self,
        item: StatementLine | BookEntry,
        reference: str,
        name: str,
        text: str,
        *,
        check: bool | None,
        charge: bool | None,
    ) -> None:
        self.id, self.day, self.amount = item.id, item.date, item.amount
        self.reference, self.raw, self.name, self.text = reference, item.reference, name, text
        self.check, self.charge = check, charge
        self._flags: tuple[bool, bool, bool] | None = None
        self._words: frozenset[str] | None = None
        self._party: frozenset[str] | None = None
        self._tokens: frozenset[str] | None = None

    def _told(self) -> tuple[bool, bool, bool]:
        """Whether it reverses, is a check, is a charge."""
        if self._flags is None:
            check = bool(_CHECK.search(self.text)) if self.check is None else self.check
            charge = bool(_CHARGE.search(self.text)) if self.charge is None else self.charge
            self._flags = bool(_REVERSAL.search(self.text)), check, charge
        return self._flags

    @property
    def reverses(self) -> bool:
        """Whether its text says that it takes something back."""
        return self._told()[0]

    @property
    def is_check(self) -> bool:
        """Whether it is a check."""
        return self._told()[1]

    @property
    def charges(self) -> bool:
        """Whether it is a fee or interest."""
        return self._told()[2]

    @property
    def party(self) -> frozenset[str]:
        """Telling words of the party's name alone, of the whole text where there is none."""
        if self._party is None:
            self._party = words_of(self.name) or self.words
        return self._party

    @property
    def words(self) -> frozenset[str]:
        """Telling words of the text."""
        if self._words is None:
            self._words = words_of(self.text)
        return self._words

    @property
    def tokens(self) -> frozenset[str]:
        """Numbers in reference and text that may be references, cleaned as references are."""
        if self._tokens is None:
            found = (token.replace("-", "") for token in _TOKEN.findall(f"{self.raw} {self.text}".upper()))
            self._tokens = frozenset(re.sub(r"(?<!\d)0+(?=\d)", "", token) for token in found)
        return self._tokens


def of_line(line: StatementLine) -> Traits:
    """The traits of a statement line."""
    check = True if line.kind is LineKind.CHECK else None
    charge = True if line.kind in (LineKind.FEE, LineKind.INTEREST) else None
    return Traits(line, line_reference(line), "", line.description, check=check, charge=charge)


def of_entry(entry: BookEntry) -> Traits:
    """The traits of a book entry."""
    reference = entry_reference(entry)
    numbered = reference.isdigit() and 3 <= len(reference) <= 8 and entry.amount < 0
    return Traits(entry, reference, entry.payee, f"{entry.payee} {entry.memo}", check=numbered, charge=None)


def share_words(one: Traits, other: Traits) -> bool:
    """Whether two texts name the same party; banks cut words short, so a beginning of four letters counts."""
    if one.words & other.words:
        return True
    return any(
        a.startswith(b) or b.startswith(a) for a in one.words if len(a) >= _DEEP for b in other.words if len(b) >= _DEEP
    )


def contradict(line: Traits, entry: Traits) -> bool:
    """Whether line and entry cannot be one event, although their amounts agree.

    Two references of one make that differ; a check's line beside another number; what the
    bank charges beside an entry that is no charge.
    """
    if line.reference and entry.reference and line.reference != entry.reference:
        if line.is_check and entry.is_check:
            return True
        if same_make(line.reference, entry.reference) and entry.reference not in line.tokens:
            return True
    if line.charges != entry.charges and (line.charges or entry.charges):
        return not share_words(line, entry)
    return entry.is_check and not line.is_check and bool(line.words) and not share_words(line, entry)


class Vocabulary:
    """The words that name parties in the open books: a line that names another party is no partner."""

    def __init__(self, entries: Iterable[Traits]) -> None:
        self.words: set[str] = set()
        self.beginnings: set[str] = set()
        for entry in entries:
            self.words |= entry.words
            self.beginnings |= {word[:_DEEP] for word in entry.words if len(word) >= _DEEP}

    def names_other(self, line: Traits, entry: Traits) -> bool:
        """Whether the line's text names a party of the books, and not this entry's."""
        named = any(word in self.words or word[:_DEEP] in self.beginnings for word in line.words)
        return named and not share_words(line, entry)
