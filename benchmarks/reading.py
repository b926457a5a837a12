"""Reading a 50,000-line OFX file against the faster of two readers, each alone."""

from __future__ import annotations

import warnings
from collections.abc import Iterator
from datetime import date, timedelta
from io import BytesIO

import ofxparse
from ofxtools.Parser import OFXTree

from benchmarks.timing import best, row
from netnaught.core.money import currency
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats import ReadLine, ReadStatement, read_statements, write_ofx

USD = currency("USD")


def file_of(number: int) -> bytes:
    """A statement of so many lines."""
    first = date(2026, 1, 1)
    lines = tuple(
        StatementLine(f"F{n}", first + timedelta(days=n % 300), -100 - n, str(n), f"CARD PURCHASE {n}", LineKind.CARD)
        for n in range(number)
    )
    head = StatementHead(first, date(2026, 12, 31), None, 0)
    reads = tuple(ReadLine(x, str(x.id)) for x in lines)
    return write_ofx(ReadStatement("ofx", "Bank", "4410", "USD", head, reads), USD)


def with_ofxtools(data: bytes) -> object:
    tree = OFXTree()
    tree.parse(BytesIO(data))
    return tree.convert()


def with_ofxparse(data: bytes) -> object:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return ofxparse.OfxParser.parse(BytesIO(data))


def run() -> Iterator[str]:
    """50,000 lines against the faster reader; which one that is, is found on 2,000: the other grows with the square."""
    small, data, half = file_of(2_000), file_of(50_000), file_of(25_000)
    readers = {"ofxtools": with_ofxtools, "ofxparse": with_ofxparse}
    taken = {name: best(lambda read=read: read(small), 1) for name, read in readers.items()}  # type: ignore[misc]
    faster = min(taken, key=lambda name: taken[name])
    ours = best(lambda: read_statements(data, USD), 2)
    yield row("reading 50,000 lines of OFX", ours, faster, best(lambda: readers[faster](data), 1), "1x")
    yield row(
        "the same, doubled from 25,000", ours, "ours on 25,000", best(lambda: read_statements(half, USD), 2), "2.3x"
    )
