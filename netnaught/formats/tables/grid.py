"""A grid: rows of cells as they stand in the file, before anything is understood."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from netnaught.formats.progress import EVERY, came_to
from netnaught.formats.reading import LARGEST_FILE, Unreadable

MOST_ROWS = 200_000
_DELIMITERS = (";", ",", "\t", "|")
# What delimited text may be written in, besides what is found by its first bytes.
ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "cp1252", "iso-8859-15", "cp850", "mac-roman")


@dataclass(frozen=True, slots=True)
class GridRow:
    """A row: where it begins in the file (a line, a sheet's row, a page's line) and its cells."""

    line: int
    cells: tuple[str, ...]

    def cell(self, column: int) -> str:
        """A cell, stripped; empty where the row is shorter."""
        return self.cells[column].strip() if 0 <= column < len(self.cells) else ""


@dataclass(frozen=True, slots=True)
class Grid:
    """The rows of a table. `form`: delimited, xlsx or pdf. `texts`: lines that stand outside the table."""

    form: str
    rows: tuple[GridRow, ...]
    delimiter: str = ""
    encoding: str = ""
    texts: tuple[str, ...] = ()
    account: str = ""


def decode_any(data: bytes, stated: str = "") -> tuple[str, str]:
    """Text and its encoding: the one stated (of ENCODINGS), else by byte order mark, as UTF-8, else as Windows-1252.

    Unreadable when none fits.
    """
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    if stated:
        try:
            return data.decode(stated), stated
        except UnicodeDecodeError as error:
            line = data[: error.start].count(b"\n") + 1
            raise Unreadable(f"is no {stated} text", line=line, value=data[error.start : error.end].hex()) from None
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(encoding), encoding
            except UnicodeDecodeError:
                raise Unreadable(f"the file is not the {encoding} text that it begins as") from None
    if b"\x00" in data:
        line = data[: data.index(b"\x00")].count(b"\n") + 1
        raise Unreadable("the file holds zero bytes and is no text", line=line)
    for encoding in ("utf-8", "cp1252"):
        try:
            return data.decode(encoding), encoding
        except UnicodeDecodeError:
            continue
    raise Unreadable("the file is neither UTF-8 nor Windows-1252 text")


def _rows(text: str, delimiter: str) -> list[GridRow]:
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    found: list[GridRow] = []
    start, lines = 1, text.count("\n") + 1
    while True:
        try:
            cells = next(reader)
        except StopIteration:
            return found
        except csv.Error as error:
            raise Unreadable(f"the row cannot be read: {error}", line=start) from None
        if any(cell.strip() for cell in cells):
            found.append(GridRow(start, tuple(cell.strip() for cell in cells)))
        if len(found) > MOST_ROWS:
            raise Unreadable(f"the table has more than {MOST_ROWS} rows", line=start)
        start = reader.line_num + 1
        if start % EVERY == 0:
            came_to("reading the file", start, lines)


def _best_delimiter(text: str) -> str:
    """The delimiter that splits most rows into the same number of fields, and into most of them."""
    sample = "\n".join(text.splitlines()[:200])
    scores: list[tuple[int, int, str]] = []
    for delimiter in _DELIMITERS:
        try:
            widths = Counter(len(row.cells) for row in _rows(sample, delimiter))
        except Unreadable:
            continue
        wide = {width: times for width, times in widths.items() if width > 1}
        if wide:
            width, times = max(wide.items(), key=lambda item: (item[1], item[0]))
            scores.append((times, width, delimiter))
    return max(scores, default=(0, 0, ""))[2]


def looks_like_delimited(data: bytes) -> bool:
    """Whether the content is text in which several rows have the same number of fields."""
    try:
        text, _ = decode_any(data)
    except Unreadable:
        return False
    if sum(1 for char in text[:4000] if ord(char) < 32 and char not in "\r\n\t") > 0:
        return False
    return bool(_best_delimiter(text))


def delimited_grid(data: bytes, delimiter: str = "", stated: str = "") -> Grid:
    """The grid of delimited text; its delimiter and encoding are found unless they are given."""
    if stated and stated not in ENCODINGS:
        raise Unreadable(f"is none of {', '.join(ENCODINGS)}", column="encoding", value=stated)
    if delimiter and delimiter not in _DELIMITERS:
        raise Unreadable("is no sign that fields are parted by", column="delimiter", value=delimiter)
    text, encoding = decode_any(data, stated)
    chosen = delimiter or _best_delimiter(text)
    if not chosen:
        raise Unreadable("is no table: no row has more than one field", line=1, value=_first_line(text))
    return Grid("delimited", tuple(_rows(text, chosen)), chosen, encoding)


def _first_line(text: str) -> str:
    return next(iter(text.splitlines()), "")


def column_name(heading: Sequence[str], column: int) -> str:
    """What to call a column in a message: its heading, else its number."""
    name = heading[column].strip() if 0 <= column < len(heading) else ""
    return name or str(column + 1)
