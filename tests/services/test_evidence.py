"""Originals and evidence: byte for byte, viewable, never lost."""

from __future__ import annotations

import hashlib
import sqlite3
from datetime import date

import pytest

from netnaught.formats import read_statements
from netnaught.services import evidence, overview, reading, writing_out
from netnaught.services.errors import BadInput, NotFound
from netnaught.services.incoming import How
from tests.formats.test_tables import statement
from tests.world import USD, World


def pdf(world: World) -> tuple[bytes, int]:
    from dataclasses import replace

    from netnaught.standins.paper import statement_pdf

    given = replace(statement(60), account="00004410")
    head = replace(given.head, opening=100_000, closing=100_000 + sum(given.amounts))
    data = statement_pdf(replace(given, head=head), USD)
    at = reading.store_file(world.ctx, world.company.id, world.account.id, "paper.pdf", data)
    return data, world.view(at).bench.statements[0].id


def test_an_original_is_kept_byte_for_byte_and_shown_page_by_page(world: World) -> None:
    data, statement_id = pdf(world)
    kept = reading.original(world.ctx, world.company.id, statement_id)
    assert (kept.content, kept.sha256) == (data, hashlib.sha256(data).hexdigest())
    shown = evidence.view_original(world.ctx, world.company.id, statement_id)
    assert (shown.pages, shown.text) == (3, None)
    assert evidence.original_page(world.ctx, world.company.id, statement_id, 2).startswith(b"\x89PNG")
    with pytest.raises(NotFound, match="has 3 pages"):
        evidence.original_page(world.ctx, world.company.id, statement_id, 4)


@pytest.mark.parametrize("form", sorted(writing_out.WRITERS))
def test_a_stored_statement_is_written_in_every_format_and_read_back(world: World, form: str) -> None:
    _, statement_id = pdf(world)
    _, _, written = writing_out.write_out(world.ctx, world.company.id, statement_id, form)
    (found,) = read_statements(written, USD)
    assert found.amounts == [
        amount for _, amount in sorted((r.line.date, r.line.amount) for r in statement(60).lines)
    ] or (sorted(found.amounts) == sorted(statement(60).amounts))


def test_evidence_stays_in_the_database_when_it_is_set_aside(world: World) -> None:
    entry = world.entry(-500)
    kept = evidence.attach(
        world.ctx, world.company.id, "entry", entry, "receipt.png", b"\x89PNG\r\n\x1a\nx", "paper one"
    )
    evidence.attach(world.ctx, world.company.id, "entry", entry, "", None, "asked the payee")
    evidence.set_aside(world.ctx, world.company.id, kept)
    (note,) = evidence.list_evidence(world.ctx, world.company.id, "entry", entry)
    assert (note.note, note.sha256) == ("asked the payee", None)
    with pytest.raises(sqlite3.IntegrityError, match="never removed"):
        world.db.execute("DELETE FROM evidence")
    with pytest.raises(BadInput, match="A note has a text"):
        evidence.attach(world.ctx, world.company.id, "entry", entry, "", None, "  ")


def test_a_layout_is_kept_and_recognised_by_its_heading(world: World) -> None:
    table = b"Date,Description,Amount\n10/03/2026,a,-5.00\n10/04/2026,b,6.00\n"
    args = (world.ctx, world.company.id, world.account.id, "bank.csv")
    asked = reading.read_file(*args, table).table
    assert asked
    assert [q.setting for q in asked.questions] == ["date_order"]
    with pytest.raises(BadInput, match="more than one way"):
        reading.store_file(*args, table)
    import json

    layout = json.dumps(asked.layout.values() | {"date_order": "mdy"})
    given = reading.HeadGiven(date(2026, 10, 1), date(2026, 10, 31), closing=100_100)
    at = reading.store_file(*args, table, given, frozenset(), How(layout, frozenset({"date_order"})))
    assert [x.line.date for x in world.view(at).bench.lines] == [date(2026, 10, 3), date(2026, 10, 4)]
    known = reading.read_file(*args, table.replace(b"a,-5.00", b"c,-5.50")).table
    assert known
    assert (known.known, known.questions, known.layout.date_order) == (True, (), "mdy")
    with pytest.raises(BadInput, match="The layout cannot be read"):
        reading.read_file(*args, table, None, How("{"))


def test_missing_months_stand_among_the_statements(world: World) -> None:
    world.entry(-500, "2026-10-05")
    world.entry(-500, "2026-11-05")
    (row,) = overview.statements_by_month(world.ctx, world.company.id)
    assert [(slot.month, slot.statement) for slot in row.slots] == [("2026-11", None), ("2026-10", None)]
