"""Comma-separated tables with a documented header, read strictly: every row whole, every place named."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from netnaught.formats.progress import EVERY, came_to
from netnaught.formats.reading import LARGEST_FILE, Unreadable


@dataclass(frozen=True, slots=True)
class TableRow:
    """One row: its line number in the file, and its fields by column name."""

    line: int
    fields: dict[str, str]


def decode(data: bytes) -> str:
    """UTF-8 text, with or without a byte order mark; Unreadable names the line of the first bad byte."""
    if len(data) > LARGEST_FILE:
        raise Unreadable(f"the file is larger than {LARGEST_FILE // 1024 // 1024} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise Unreadable("the file is not UTF-8 text", line=line, value=f"byte 0x{data[error.start]:02x}") from None
    if "\x00" in text:
        raise Unreadable("the file holds zero bytes and is no text", line=text[: text.index("\x00")].count("\n") + 1)
    return text


def header_of(text: str) -> list[str]:
    """The names in the first row, as written, in lower case."""
    first = next(iter(text.splitlines()), "")
    return [name.strip().lower() for name in next(csv.reader([first]), [])]


def table_rows(text: str, columns: Sequence[str]) -> Iterator[TableRow]:
    """Rows of a table that has at least `columns`; further columns are not looked at.

    Unreadable: no header, a missing or doubled column, a row with more or fewer fields,
    a quote that is never closed.
    """
    reader = csv.reader(io.StringIO(text, newline=""), strict=True)
    try:
        header = [name.strip().lower() for name in next(reader)]
    except (StopIteration, csv.Error):
        raise Unreadable("the file has no header row", line=1) from None
    for column in columns:
        if header.count(column) != 1:
            what = "is missing from the header" if column not in header else "stands twice in the header"
            raise Unreadable(f"the column {what}", line=1, column=column, value=",".join(header))
    start, lines = reader.line_num + 1, text.count("\n") + 1
    while True:
        if start % EVERY == 0:
            came_to("reading its lines", start, lines)
        try:
            row = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            raise Unreadable(f"the row cannot be read: {error}", line=start) from None
        if row:
            if len(row) != len(header):
                raise Unreadable(f"the row has {len(row)} fields, the header {len(header)}", line=start)
            yield TableRow(start, dict(zip(header, row, strict=True)))
        start = reader.line_num + 1
