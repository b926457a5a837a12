"""The database refuses what is wrong, whoever writes it."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from netnaught.core.statement import LineKind
from netnaught.store.database import MigrationFailed, atomic, connect, migrate, migrations
from tests.world import World


def test_a_failing_migration_rolls_back(tmp_path: Path) -> None:
    db = connect(tmp_path / "x.sqlite3")
    migrate(db, [(1, "CREATE TABLE a (x INTEGER) STRICT;")])
    with pytest.raises(MigrationFailed):
        migrate(db, [(1, ""), (2, "CREATE TABLE b (x INTEGER) STRICT;\nINSERT INTO nowhere VALUES (1);")])
    assert [row[0] for row in db.execute("SELECT number FROM migration")] == [1]
    assert not db.execute("SELECT 1 FROM sqlite_master WHERE name = 'b'").fetchone()


def test_migrations_are_numbered_in_order_and_run_once(tmp_path: Path) -> None:
    numbers = [number for number, _ in migrations()]
    assert numbers == list(range(1, len(numbers) + 1))
    db = connect(tmp_path / "x.sqlite3")
    assert migrate(db) == numbers
    assert migrate(db) == []


def test_an_inner_step_that_fails_leaves_the_outer_one_whole(tmp_path: Path) -> None:
    db = connect(tmp_path / "x.sqlite3")
    db.execute("CREATE TABLE a (x INTEGER) STRICT")
    with atomic(db):
        db.execute("INSERT INTO a VALUES (1)")
        with pytest.raises(ZeroDivisionError), atomic(db):
            db.execute("INSERT INTO a VALUES (2)")
            raise ZeroDivisionError
    assert [row[0] for row in db.execute("SELECT x FROM a")] == [1]


@pytest.mark.parametrize(
    "sql",
    [
        "UPDATE book_entry SET amount = 10.5",
        "UPDATE book_entry SET date = '2026-02-30'",
        "UPDATE statement_line SET kind = 'gift'",
        "UPDATE audit_event SET what = 'nothing'",
        "DELETE FROM audit_event",
        "UPDATE journal_line SET base_amount = base_amount + 1",
        "DELETE FROM journal_line",
        "INSERT INTO journal_entry (company_id, date, memo, posted, created_by, created_at)"
        " VALUES (1, '2026-10-01', '', 1, 1, '')",
        "UPDATE book_entry SET company_id = 99",
    ],
)
def test_bad_data_is_refused(world: World, sql: str) -> None:
    world.entry(-500)
    world.read(world.line(-500))
    with pytest.raises(sqlite3.IntegrityError):
        world.db.execute(sql)


def test_an_unbalanced_journal_cannot_be_posted(world: World) -> None:
    db = world.db
    values = (world.company.id, world.ctx.user.id)
    entry = db.execute(
        "INSERT INTO journal_entry (company_id, date, memo, created_by, created_at) VALUES (?, '2026-10-01', '', ?, '')"
        " RETURNING id",
        values,
    ).fetchone()[0]
    with pytest.raises(sqlite3.IntegrityError, match="out of balance"):
        db.execute("UPDATE journal_entry SET posted = 1 WHERE id = ?", (entry,))
    for account, amount in (("1010", 100), ("5000", -99)):
        db.execute(
            "INSERT INTO journal_line (company_id, journal_entry_id, gl_account_id, amount, base_amount)"
            " VALUES (?, ?, ?, ?, ?)",
            (world.company.id, entry, world.gl[account], amount, amount),
        )
    with pytest.raises(sqlite3.IntegrityError, match="out of balance"):
        db.execute("UPDATE journal_entry SET posted = 1 WHERE id = ?", (entry,))


def test_an_item_is_decided_once_whatever_the_code_does(world: World) -> None:
    world.entry(-500)
    at = world.read(world.line(-500))
    line = next(iter(world.line_ids(at).values()))
    sql = "INSERT INTO decision (company_id, reconciliation_id, kind, why, created_by, created_at) VALUES (?, ?, 'match', '', ?, '') RETURNING id"
    ids = [world.db.execute(sql, (world.company.id, at, world.ctx.user.id)).fetchone()[0] for _ in range(2)]
    resolve = "INSERT INTO resolution (company_id, decision_id, statement_line_id) VALUES (?, ?, ?)"
    world.db.execute(resolve, (world.company.id, ids[0], line))
    with pytest.raises(sqlite3.IntegrityError):
        world.db.execute(resolve, (world.company.id, ids[1], line))


def test_kinds_are_the_same_in_code_and_schema() -> None:
    script = "\n".join(text for _, text in migrations())
    assert all(f"'{kind.value}'" in script for kind in LineKind)
