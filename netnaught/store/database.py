"""The one connection factory, the one way to open a transaction, and the migrations."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from pathlib import Path

DATABASE = "netnaught.sqlite3"
BUSY_MS = 10_000

Connection = sqlite3.Connection
Row = sqlite3.Row


class MigrationFailed(RuntimeError):
    """A migration that could not be applied; the database is as it was before it."""


class DatabaseTooNew(RuntimeError):
    """A database written by a newer program than this one."""


def connect(path: Path | str) -> Connection:
    """A connection as every part of the product uses it: foreign keys on, WAL, rows by name."""
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
    connection.execute("PRAGMA foreign_keys = ON")
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")
    return connection


@contextmanager
def atomic(connection: Connection) -> Iterator[Connection]:
    """A write transaction, taken at once; inside another it is a savepoint. All or nothing."""
    nested = connection.in_transaction
    connection.execute("SAVEPOINT inner_step" if nested else "BEGIN IMMEDIATE")
    try:
        yield connection
    except BaseException:
        if connection.in_transaction:
            connection.execute("ROLLBACK TO inner_step" if nested else "ROLLBACK")
            if nested:
                connection.execute("RELEASE inner_step")
        raise
    connection.execute("RELEASE inner_step" if nested else "COMMIT")


def migrations() -> list[tuple[int, str]]:
    """The numbered .sql files, in order: (number, text)."""
    folder = resources.files("netnaught.store") / "migrations"
    files = sorted((item for item in folder.iterdir() if item.name.endswith(".sql")), key=lambda item: item.name)
    return [(int(item.name[:4]), item.read_text()) for item in files]


def statements(script: str) -> Iterator[str]:
    """The single statements of a script; `executescript` would commit on its own."""
    pending = ""
    for line in script.splitlines(keepends=True):
        pending += line
        if sqlite3.complete_statement(pending):
            yield pending
            pending = ""


def migrate(connection: Connection, todo: list[tuple[int, str]] | None = None) -> list[int]:
    """Apply what is missing, each migration with its record in one transaction; forward only."""
    todo = migrations() if todo is None else todo
    connection.execute("CREATE TABLE IF NOT EXISTS migration (number INTEGER PRIMARY KEY) STRICT")
    done = {row[0] for row in connection.execute("SELECT number FROM migration")}
    newest = max((number for number, _ in todo), default=0)
    if done and max(done) > newest:
        raise DatabaseTooNew(f"the database is at migration {max(done)}, this program knows {newest}")
    applied: list[int] = []
    for number, script in todo:
        if number in done:
            continue
        try:
            with atomic(connection):
                for statement in statements(script):
                    connection.execute(statement)
                connection.execute("INSERT INTO migration VALUES (?)", (number,))
        except sqlite3.Error as error:
            raise MigrationFailed(f"migration {number}: {error}") from error
        applied.append(number)
    return applied


def backup(connection: Connection, target: Path) -> None:
    """A consistent copy of the whole database, original files included, while it is in use."""
    with sqlite3.connect(target) as copy:
        connection.backup(copy)
    copy.close()
