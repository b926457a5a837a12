"""References, made comparable: banks and books write the same one differently.

Check numbers are compared exactly after cleaning, never fuzzily: 1001 is not 1010.
"""

from __future__ import annotations

import re

from netnaught.core.ledger import BookEntry
from netnaught.core.statement import StatementLine

_PREFIX = re.compile(r"^(?:CHEQUE|CHECK|CHQ|CHK|CK|NUMBER|NO|NR|REF)(?=[^A-Z]|$)[\s.:#/-]*", re.ASCII)
_CHECK_IN_TEXT = re.compile(r"\b(?:CHECK|CHEQUE|CHK|CK)\s*(?:NO\.?|NR\.?|NUMBER|#)?\s*#?0*([1-9]\d{1,9})\b", re.ASCII)
_ZEROS = re.compile(r"(?<!\d)0+(?=\d)", re.ASCII)
_MARKS = re.compile(r"[\s.,:;#/_\\-]+", re.ASCII)
_MAKE = re.compile(r"[A-Z]+|\d+", re.ASCII)


def clean_reference(text: str) -> str:
    """A reference without the words, marks and zeros that only dress it.

    "CHK #0002291", "Check 2291" and "2291" all become "2291"; "S-0118" becomes "S118".
    A text without any digit is no reference: the result is empty.
    """
    if text.isascii() and text.isdigit():
        return text.lstrip("0")
    rest = text.strip().upper()
    while (shorter := _PREFIX.sub("", rest).lstrip(" #.:")) != rest:
        rest = shorter
    cleaned = _MARKS.sub("", _ZEROS.sub("", rest))
    return cleaned if re.search(r"[1-9]", cleaned) else ""


def line_reference(line: StatementLine) -> str:
    """The cleaned reference of a statement line; a check's number may stand in its text."""
    found = clean_reference(line.reference)
    if found:
        return found
    in_text = _CHECK_IN_TEXT.search(line.description.upper())
    return in_text[1] if in_text else ""


def entry_reference(entry: BookEntry) -> str:
    """The cleaned reference of a book entry."""
    return clean_reference(entry.reference)


def _make(reference: str) -> tuple[str, ...]:
    return tuple(part if part.isalpha() else "9" for part in _MAKE.findall(reference))


def same_make(one: str, other: str) -> bool:
    """Whether two references are of one make, as two check numbers are.

    A bank's own trace number beside a business's slip number is of another make.
    """
    return _make(one) == _make(other) and abs(len(one) - len(other)) <= 1
