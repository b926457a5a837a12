"""A page asks a fixed number of queries, however much is on it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date

import pytest

from netnaught.services import bank_book, board, deciding, entries, journals, lingering, sealing, tracing
from tests.world import World, found_world

PAGES: dict[str, Callable[[World], object]] = {
    "journal": lambda w: journals.list_journals(w.ctx, 1, date(2026, 10, 1), date(2026, 12, 31)),
    "outstanding": lambda w: lingering.lingering(w.ctx, 1, 1),
    "trace": lambda w: tracing.trace(w.ctx, 1, 1),
    "bank book": lambda w: bank_book.read_book(w.ctx, 1, 1),
    "board": lambda w: board.board(w.ctx),
}


def disturbed_month(world: World, number: int) -> None:
    """A sealed month with so many disturbed entries and so many left outstanding; the next one open."""
    amounts = [-(n + 1) * 10 for n in range(number)]
    mine = [world.entry(a, "2026-10-05", str(100 + n)) for n, a in enumerate(amounts)]
    for n in range(number):
        world.entry(-7, "2026-10-09", f"9{n:02d}", f"Other {n}")
    at = world.read(*[world.line(a, "2026-10-06", str(100 + n)) for n, a in enumerate(amounts)])
    deciding.apply_passes(world.ctx, 1, at, frozenset())
    sealing.seal(world.ctx, 1, at)
    ctx = replace(world.ctx, reason="so it was")
    for entry in mine:
        stored = entries.require_entry(ctx, world.company, world.account, entry)
        changed = replace(entries.values_of(ctx, stored, 1), payee="Another")
        bank_book.edit_entry(ctx, 1, 1, entry, changed, stored.revision)
    world.read(opening=100_000 + sum(amounts), first="2026-11-01")


@pytest.fixture(scope="module")
def asked(tmp_path_factory: pytest.TempPathFactory) -> dict[int, dict[str, int]]:
    """Queries of each page with 3 and with 12 entries of each sort."""
    found: dict[int, dict[str, int]] = {}
    for number in (3, 12):
        world = found_world(tmp_path_factory.mktemp(str(number)))
        disturbed_month(world, number)
        found[number] = {}
        for name, page in PAGES.items():
            queries: list[str] = []
            world.db.set_trace_callback(queries.append)
            page(world)
            world.db.set_trace_callback(None)
            found[number][name] = len(queries)
        world.db.close()
    return found


@pytest.mark.parametrize("page", PAGES)
def test_more_rows_ask_no_more_queries(asked: dict[int, dict[str, int]], page: str) -> None:
    assert 0 < asked[12][page] == asked[3][page]
