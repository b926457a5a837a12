"""`verify` tells tampering from a change that the audit trail accounts for."""

from __future__ import annotations

from pathlib import Path

import pytest

from netnaught.services import deciding, sealing, verifying
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


TRIGGERS = ("seal_stands", "seal_stays", "paper_stands", "audit_event_stands", "audit_event_stays")


@pytest.mark.parametrize(
    ("sql", "what"),
    [
        (
            "UPDATE seal SET content = CAST(replace(CAST(content AS TEXT), '500', '501') AS BLOB) WHERE number = 1",
            "its content is not what was sealed",
        ),
        ("UPDATE seal SET sha256 = 'x' WHERE number = 2", "its content is not what was sealed"),
        (
            "UPDATE paper SET content = CAST('x' AS BLOB) WHERE kind = 'report.pdf'",
            "report.pdf is not as it was sealed",
        ),
        ("DELETE FROM paper; DELETE FROM seal WHERE number = 2", "1 seal that the audit trail names is gone"),
        ("UPDATE audit_event SET what = 'looked' WHERE what = 'sealed'", "it is not as it was written"),
        ("DELETE FROM audit_event WHERE id = 3", "one before it is gone"),
    ],
)
def test_what_was_altered_behind_the_program_s_back_is_named(
    sealed: World, tmp_path: Path, sql: str, what: str
) -> None:
    copy = tmp_path / "copy.sqlite3"
    backup(sealed.db, copy)
    assert verifying.verify(sealed.db).findings == ()
    with connect(copy) as db:
        for name in (*TRIGGERS, "paper_stays"):
            db.execute(f"DROP TRIGGER {name}")
        for statement in sql.split(";"):
            db.execute(statement)
        found = verifying.verify(db).findings
    db.close()
    assert any(finding.tampering and what in finding.what for finding in found)


def test_a_backup_is_whole(sealed: World, tmp_path: Path) -> None:
    copy = tmp_path / "backup.sqlite3"
    backup(sealed.db, copy)
    with connect(copy) as db:
        found = verifying.verify(db)
        assert db.execute("SELECT count(*) FROM statement_file").fetchone()[0] == 2
    db.close()
    assert (found.seals, found.findings) == (2, ())
