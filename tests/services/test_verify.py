"""`verify` tells tampering from a change that the audit trail accounts for."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest

from netnaught.services import bank_book, deciding, entries, sealing, verifying
from netnaught.store.database import backup, connect
from tests.world import World


@pytest.fixture
def sealed(world: World) -> World:
    for month, opening in (("2026-10", 100_000), ("2026-11", 99_500)):
        world.entry(-500, f"{month}-05")
        at = world.read(world.line(-500, f"{month}-06"), opening=opening, first=f"{month}-01")
        deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
        sealing.seal(world.ctx, world.company.id, at)
    return world


TRIGGERS = (
    *("seal_stands", "seal_stays", "paper_stands", "paper_stays", "audit_event_stands", "audit_event_stays"),
    *("journal_line_update_while_posted", "journal_line_delete_while_posted"),
)

TAMPERING = [
    (
        "UPDATE seal SET content = CAST(replace(CAST(content AS TEXT), '500', '501') AS BLOB) WHERE number = 1",
        "its content is not what was sealed",
    ),
    ("UPDATE seal SET sha256 = 'x' WHERE number = 2", "its content is not what was sealed"),
    ("UPDATE seal SET opening = 1 WHERE number = 2", "its balances are not those in its content"),
    ("UPDATE seal SET content = CAST('{' AS BLOB) WHERE number = 1", "its content cannot be read"),
    ("UPDATE seal SET number = number + 5", "is missing before it"),
    ("UPDATE paper SET content = CAST('x' AS BLOB) WHERE kind = 'report.pdf'", "report.pdf is not as it was sealed"),
    ("DELETE FROM paper WHERE kind = 'report.pdf'", "report.pdf is gone"),
    ("DELETE FROM paper; DELETE FROM seal WHERE number = 2", "1 seal that the audit trail names is gone"),
    ("UPDATE audit_event SET what = 'looked' WHERE what = 'sealed'", "it is not as it was written"),
    ("DELETE FROM audit_event WHERE id = 3", "one before it is gone"),
    ("UPDATE reconciliation SET state = 'open' WHERE id = 1", "its seal was never broken"),
    ("UPDATE reconciliation SET closing_date = '2026-10-30' WHERE id = 1", "its closing date is not the sealed one"),
    ("UPDATE statement SET closing = closing + 1 WHERE id = 1", "its closing is not as it was sealed"),
    ("UPDATE statement_file SET content = CAST('x' AS BLOB) WHERE id = 1", "its content is not what was sealed"),
    ("UPDATE statement_file SET sha256 = 'x' WHERE id = 1", "it is not the file that was sealed"),
    ("UPDATE statement_line SET amount = -501 WHERE id = 1", "its amount is not as it was sealed"),
    ("UPDATE statement_line SET description = 'Z' WHERE id = 1", "its description is not as it was sealed"),
    ("UPDATE statement_line SET deleted_at = 'now' WHERE id = 1", "it was deleted"),
    ("UPDATE decision SET why = 'because' WHERE id = 1", "its kind, reason or time"),
    ("UPDATE decision SET active = 0 WHERE id = 1", "unticked, shift 5.00"),
    ("UPDATE clearing SET active = 0 WHERE decision_id = 1", "unticked, shift 5.00"),
    ("UPDATE book_entry SET amount = -502 WHERE amount = -500", "amended (amount), shift -0.02"),
    ("UPDATE book_entry SET payee = 'Z' WHERE amount = -500", "relabelled (payee), shift 0.00"),
    ("UPDATE book_entry SET date = '2026-10-06' WHERE amount = -500", "its date is not that of bank book entry"),
    ("UPDATE book_entry SET deleted_at = 'now' WHERE amount = -500", "removed, shift 5.00"),
    ("UPDATE journal_line SET amount = -502 WHERE amount = -500", "its amount is not that of bank book entry"),
    ("UPDATE journal_line SET base_amount = -502 WHERE base_amount = -500", "it is posted out of balance"),
]


@pytest.mark.parametrize(("sql", "what"), TAMPERING)
def test_what_was_altered_behind_the_program_s_back_is_named(
    sealed: World, tmp_path: Path, sql: str, what: str
) -> None:
    copy = tmp_path / "copy.sqlite3"
    backup(sealed.db, copy)
    assert verifying.verify(sealed.db).findings == ()
    with connect(copy) as db:
        db.execute("PRAGMA foreign_keys = OFF")
        for name in TRIGGERS:
            db.execute(f"DROP TRIGGER {name}")
        for statement in sql.split(";"):
            db.execute(statement)
        found = verifying.verify(db).findings
    db.close()
    assert any(finding.tampering and what in finding.what for finding in found), found


@pytest.mark.parametrize("step", range(7))
def test_no_byte_of_a_seal_can_be_flipped_unseen(sealed: World, step: int) -> None:
    """Each seventh byte in each of seven runs, so every byte once: named, whatever becomes of what the seal says."""
    db = sealed.db
    for name in TRIGGERS:
        db.execute(f"DROP TRIGGER {name}")
    content: bytes = db.execute("SELECT content FROM seal WHERE number = 1").fetchone()[0]
    for at in range(step, len(content), 7):
        flipped = content[:at] + bytes([content[at] ^ 1]) + content[at + 1 :]
        db.execute("UPDATE seal SET content = ? WHERE number = 1", (flipped,))
        found = verifying.verify(db).findings
        assert any(f.tampering and f.what == "its content is not what was sealed" for f in found), at


def test_a_change_told_by_the_trail_and_then_altered_again_behind_it_is_tampering(sealed: World) -> None:
    ctx = replace(sealed.ctx, reason="so it was")
    entry = sealed.db.execute("SELECT min(id) FROM book_entry WHERE amount = -500").fetchone()[0]
    stored = entries.require_entry(ctx, sealed.company, sealed.account, entry)
    values = entries.values_of(ctx, stored, sealed.company.id).with_amount(-510)
    bank_book.edit_entry(ctx, sealed.company.id, sealed.account.id, entry, values, stored.revision)
    assert [(f.tampering, f.what) for f in verifying.verify(sealed.db).findings] == [
        (False, "amended (amount), shift -0.10")
    ]
    sealed.db.execute("UPDATE book_entry SET amount = -520 WHERE id = ?", (entry,))
    assert any(f.tampering and "shift -0.20" in f.what for f in verifying.verify(sealed.db).findings)


def test_a_backup_is_whole(sealed: World, tmp_path: Path) -> None:
    copy = tmp_path / "backup.sqlite3"
    backup(sealed.db, copy)
    with connect(copy) as db:
        found = verifying.verify(db)
        assert db.execute("SELECT count(*) FROM statement_file").fetchone()[0] == 2
    db.close()
    assert (found.seals, found.findings) == (2, ())
