"""PDF statements: words placed under the heading they stand below, by position; then read as a table.

Tables with rulings and without are read alike (library `pdfplumber`). A scanned page holds
images and no words: it says so.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from io import BytesIO
from typing import Any

import pdfplumber
from pdfminer.pdfdocument import PDFPasswordIncorrect
from pdfplumber.utils.exceptions import PdfminerException

from netnaught.formats.progress import Stopped, came_to
from netnaught.formats.reading import LARGEST_FILE, Unreadable
from netnaught.formats.tables.grid import Grid, GridRow
from netnaught.formats.tables.layout import ColumnRole
from netnaught.formats.tables.propose import role_of
from netnaught.formats.tables.values import looks_like_amount

FORMAT = "pdf"
MOST_PAGES = 200
# Words whose tops lie within this are on one line; a gap wider than so many heights of the type
# parts two cells of a heading (a space is a quarter of it).
_SAME_LINE = 3.0
_HEADING_GAP = 0.55
_MONEY = (ColumnRole.AMOUNT, ColumnRole.MONEY_IN, ColumnRole.MONEY_OUT, ColumnRole.BALANCE)


@dataclass(frozen=True, slots=True)
class _Word:
    """A word and where it stands."""

    text: str
    left: float
    right: float
    top: float
    height: float


@dataclass(frozen=True, slots=True)
class _Column:
    """A column of the heading."""

    name: str
    left: float
    right: float

    @property
    def money(self) -> bool:
        """Whether amounts stand below it, flush right."""
        return role_of(self.name) in _MONEY


def looks_like_pdf(data: bytes) -> bool:
    """Whether the content begins as a PDF does."""
    return b"%PDF-" in data[:1024]


def pdf_grid(data: bytes) -> Grid:
    """The table of a PDF statement, page after page, as a grid; line numbers count over all pages."""
    pages = _pages(data)
    rows: list[GridRow] = []
    texts: list[str] = []
    columns: list[_Column] = []
    number = 0
    for lines in pages:
        for line in lines:
            number += 1
            heading = _heading(line)
            if heading:
                columns = heading
                rows.append(GridRow(number, tuple(column.name for column in heading)))
            elif columns:
                rows.append(GridRow(number, _cells(line, columns)))
            else:
                texts.append(" ".join(word.text for word in line))
    if not columns:
        first = texts[0] if texts else ""
        raise Unreadable("no table was found: no line names a date and an amount", line=1, value=first)
    return Grid("pdf", tuple(rows), texts=tuple(texts))


def _pages(data: bytes) -> list[list[list[_Word]]]:
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    try:
        with pdfplumber.open(BytesIO(data)) as document:
            if len(document.pages) > MOST_PAGES:
                raise Unreadable(f"the PDF has more than {MOST_PAGES} pages")
            found = []
            for number, page in enumerate(document.pages):
                came_to("reading its pages", number, len(document.pages))
                found.append(_lines(page.extract_words(x_tolerance=1.5, y_tolerance=2)))
            images = any(page.images for page in document.pages)
    except (Unreadable, Stopped):
        raise
    except PdfminerException as error:
        if isinstance(error.args[0] if error.args else None, PDFPasswordIncorrect):
            raise Unreadable("the PDF is locked with a password") from None
        raise Unreadable("the PDF is damaged and cannot be read") from None
    except Exception as error:
        raise Unreadable(f"the PDF is damaged and cannot be read ({type(error).__name__})") from None
    if not any(found):
        what = "the PDF is a scan: its pages are pictures without text" if images else "the PDF has no text"
        raise Unreadable(what)
    return found


def _lines(words: list[dict[str, Any]]) -> list[list[_Word]]:
    found: list[list[_Word]] = []
    placed = [
        _Word(w["text"], float(w["x0"]), float(w["x1"]), float(w["top"]), float(w["bottom"]) - float(w["top"]))
        for w in words
    ]
    for word in sorted(placed, key=lambda w: (w.top, w.left)):
        if found and abs(word.top - found[-1][0].top) <= _SAME_LINE:
            found[-1].append(word)
        else:
            found.append([word])
    return [sorted(line, key=lambda w: w.left) for line in found]


def _heading(line: list[_Word]) -> list[_Column]:
    """The columns that a line names; none unless it names a date and an amount."""
    columns: list[_Column] = []
    for word in line:
        if columns and word.left - columns[-1].right < _HEADING_GAP * word.height:
            joined = f"{columns[-1].name} {word.text}"
            columns[-1] = _Column(joined, columns[-1].left, word.right)
        else:
            columns.append(_Column(word.text, word.left, word.right))
    roles = [role_of(column.name) for column in columns]
    if len(columns) >= 3 and ColumnRole.DATE in roles and any(role in _MONEY for role in roles):
        return columns if not any(re.search(r"\d{2}", column.name) for column in columns) else []
    return []


def _cells(line: list[_Word], columns: list[_Column]) -> tuple[str, ...]:
    """Each word in its column: amounts by the nearest right edge, other words by where they begin."""
    cells = [""] * len(columns)
    money = [n for n, column in enumerate(columns) if column.money]
    leftmost = min((columns[n].left for n in money), default=0.0)
    for part in _joined(line):
        if money and looks_like_amount(part.text) and part.right > leftmost - 30 and re.search(r"\d", part.text):
            at = min(money, key=lambda n: abs(columns[n].right - part.right))
            if abs(columns[at].right - part.right) < 40 or part.left > columns[at].left - 30:
                cells[at] = f"{cells[at]} {part.text}".strip()
                continue
        starts = [n for n, column in enumerate(columns) if not column.money and column.left <= part.left + 4]
        at = max(starts, key=lambda n: columns[n].left, default=0)
        cells[at] = f"{cells[at]} {part.text}".strip()
    return tuple(cells)


def _joined(line: list[_Word]) -> list[_Word]:
    """Signs and currency marks standing apart joined to their amount ("- 12.50", "12.50 -", "$ 5")."""
    found: list[_Word] = []
    for word in line:
        last = found[-1] if found else None
        if last and last.text in ("-", "−", "$", "€", "£", "(") and looks_like_amount(word.text):
            found[-1] = _Word(last.text + word.text, last.left, word.right, last.top, last.height)
        elif last and word.text in ("-", "−") and looks_like_amount(last.text) and word.left - last.right < 4:
            found[-1] = _Word(last.text + "-", last.left, word.right, last.top, last.height)
        else:
            found.append(word)
    return found
