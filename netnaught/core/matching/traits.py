"""What can be told of an item for matching: its references, the words of its text, whether it reverses or charges.

Computed once for each item of a run; the words, which cost most, only where they are asked for.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence

from netnaught.core.ledger import BookEntry
from netnaught.core.matching.readers import Side
from netnaught.core.matching.references import entry_reference, line_reference, same_make
from netnaught.core.matching.taught import NOTHING_TAUGHT, Taught
from netnaught.core.statement import LineKind, StatementLine

_WORD = re.compile(r"[^\W\d_]{3,}")
_TOKEN = re.compile(r"[A-Z]*-?\d{3,}[A-Z]?", re.ASCII)
_CHARGES = (LineKind.FEE, LineKind.INTEREST)
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
_SHORT = 3


_VOWELS = str.maketrans("", "", "aeiouy")
# A word that so large a part of a bank's lines carry names a place or a product, and nobody.
_NOISE_SHARE, _NOISE_LEAST, _NOISE_SAMPLE = 0.2, 8, 2_000


def words_of(text: str) -> frozenset[str]:
    """The telling words of a text, in lower case."""
    return frozenset(word for word in _WORD.findall(text.lower()) if word not in COMMON)


def noise_of(texts: Sequence[str]) -> frozenset[str]:
    """Words that stand in a large part of some texts, judged by a sample of them."""
    sample = texts[:_NOISE_SAMPLE]
    seen = Counter(word for text in sample for word in words_of(text))
    least = max(_NOISE_LEAST, int(_NOISE_SHARE * len(sample)))
    return frozenset(word for word, times in seen.items() if times >= least)


def _skeletons(words: Iterable[str]) -> frozenset[str]:
    """Words without their vowels, as banks short of room write them."""
    return frozenset(bare for word in words if len(bare := word[0] + word[1:].translate(_VOWELS)) >= _SHORT)


class Traits:
    """One item and what can be told of it. What is read out of its text is read when it is first asked for.

    `kind`: of a bank's line; None for entries. `taken_back`: the account's own words say so. `called`: the payee that a person has matched a line of such a text with; "" where nobody has.
    """

    __slots__ = (
        *("_flags", "_party", "_skeletons", "_tokens", "_words", "amount", "check", "charge"),
        *("called", "day", "id", "kind", "name", "noise", "raw", "reference", "taken_back", "text"),
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
        noise: frozenset[str],
    ) -> None:
        self.id, self.day, self.amount = item.id, item.date, item.amount
        self.reference, self.raw, self.name, self.text = reference, item.reference, name, text
        self.check, self.charge, self.noise = check, charge, noise
        self.called, self.taken_back = "", False
        self.kind: LineKind | None = None
        self._flags: tuple[bool, bool, bool] | None = None
        self._words: frozenset[str] | None = None
        self._party: frozenset[str] | None = None
        self._tokens: frozenset[str] | None = None
        self._skeletons: frozenset[str] | None = None

    def _told(self) -> tuple[bool, bool, bool]:
        """Whether it reverses, is a check, is a charge."""
        if self._flags is None:
            check = bool(_CHECK.search(self.text)) if self.check is None else self.check
            charge = bool(_CHARGE.search(self.text)) if self.charge is None else self.charge
            self._flags = self.taken_back or bool(_REVERSAL.search(self.text)), check, charge
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
            called = words_of(self.called) if self.called else frozenset()
            self._words = (words_of(self.text) - self.noise) | called
        return self._words

    @property
    def skeletons(self) -> frozenset[str]:
        """Telling words without their vowels."""
        if self._skeletons is None:
            self._skeletons = _skeletons(self.words)
        return self._skeletons

    @property
    def core(self) -> str:
        """The digits of the reference, where they are three or more: what no prefix changes."""
        digits = "".join(char for char in self.reference if char.isdigit()).lstrip("0")
        return digits if len(digits) >= _SHORT else ""

    @property
    def tokens(self) -> frozenset[str]:
        """Numbers in reference and text that may be references, cleaned as references are."""
        if self._tokens is None:
            found = (token.replace("-", "") for token in _TOKEN.findall(f"{self.raw} {self.text}".upper()))
            cleaned = {re.sub(r"(?<!\d)0+(?=\d)", "", token) for token in found}
            self._tokens = frozenset(cleaned | {token.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ") for token in cleaned})
        return self._tokens


def of_line(line: StatementLine, noise: frozenset[str] = frozenset(), taught: Taught = NOTHING_TAUGHT) -> Traits:
    """The traits of a statement line."""
    reference, kind = taught.read(line) if taught.readers else (None, None)
    kind = kind or line.kind
    check = True if kind is LineKind.CHECK else None
    charge = True if kind in _CHARGES else None
    reference = line_reference(line) if reference is None else reference
    found = Traits(line, reference, "", line.description, check=check, charge=charge, noise=noise)
    found.called = taught.payee_of(line)
    found.taken_back = bool(taught.reversals) and taught.reverses(line.description, Side.BANK)
    found.kind = kind
    return found


def of_entry(entry: BookEntry, noise: frozenset[str] = frozenset(), taught: Taught = NOTHING_TAUGHT) -> Traits:
    """The traits of a book entry."""
    reference, kind = taught.read(entry) if taught.readers else (None, None)
    reference = entry_reference(entry) if reference is None else reference
    charge = True if kind in _CHARGES else None
    numbered = reference.isdigit() and 3 <= len(reference) <= 8 and entry.amount < 0
    text = f"{entry.payee} {entry.memo}"
    check = numbered if kind is None else kind is LineKind.CHECK
    found = Traits(entry, reference, entry.payee, text, check=check, charge=charge, noise=noise)
    found.taken_back = bool(taught.reversals) and taught.reverses(text, Side.BOOKS)
    return found


def share_words(one: Traits, other: Traits) -> bool:
    """Whether two texts name the same party; banks cut words short, so a beginning of four letters counts."""
    if one.words & other.words or one.skeletons & other.skeletons:
        return True
    return any(
        a.startswith(b) or b.startswith(a) for a in one.words if len(a) >= _DEEP for b in other.words if len(b) >= _DEEP
    )


def contradict(line: Traits, entry: Traits) -> bool:
    """Whether line and entry cannot be one event, although their amounts agree.

    Two references of one make that differ; a check's line beside another number; what the
    bank charges beside an entry that is no charge.
    """
    named = entry.reference in line.tokens or (entry.core and entry.core in line.tokens)
    if line.reference and entry.reference and line.reference != entry.reference and not named:
        if line.is_check and entry.is_check:
            return True
        if same_make(line.reference, entry.reference):
            return True
    if line.charges != entry.charges and (line.charges or entry.charges):
        return not share_words(line, entry)
    return entry.is_check and not line.is_check and bool(line.words) and not share_words(line, entry)


class Vocabulary:
    """The words that name parties in the open books: a line that names another party is no partner."""

    def __init__(self, entries: Iterable[Traits]) -> None:
        self.words: set[str] = set()
        self.skeletons: set[str] = set()
        self.beginnings: set[str] = set()
        for entry in entries:
            self.words |= entry.words
            self.skeletons |= entry.skeletons
            self.beginnings |= {word[:_DEEP] for word in entry.words if len(word) >= _DEEP}

    def names_other(self, line: Traits, entry: Traits) -> bool:
        """Whether the line's text names a party of the books, and not this entry's."""
        named = any(word in self.words or word[:_DEEP] in self.beginnings for word in line.words)
        return (named or bool(line.skeletons & self.skeletons)) and not share_words(line, entry)
