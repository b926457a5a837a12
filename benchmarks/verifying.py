"""`verify` over a database of sealed entries against SHA-256 of the same bytes and one scan of the rows."""

from __future__ import annotations

import hashlib
import tempfile
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path

from benchmarks.timing import best, row
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.seal import FIRST, SealContent, SealedEntry, canonical, fingerprint
from netnaught.core.seal.content import Json
from netnaught.services import verifying
from netnaught.store import audit, reconciliations, seals
from netnaught.store.database import Connection, atomic
from tests.world import STAMP, World, found_world

ENTRIES = 1_000
SIZES = (20, 1_000)


def run() -> Iterator[str]:
    """Twenty and a thousand seals of a thousand entries each, in a real database."""
    for number in SIZES:
        yield from _of_size(number)


def _of_size(number: int) -> Iterator[str]:
    with tempfile.TemporaryDirectory() as folder:
        world = found_world(Path(folder))
        with atomic(world.db):
            contents = _fill(world, number)
        plain = b"".join(contents)

        def reference() -> None:
            hashlib.sha256(plain).digest()
            _scan(world.db)

        assert verifying.verify(world.db).findings == ()  # noqa: S101  a wrong bench would tell nothing
        ours = best(lambda: verifying.verify(world.db))
        name = f"verifying {number * ENTRIES:,} sealed entries"
        yield row(name, ours, "SHA-256 of the same bytes and one scan", best(reference), "3x")
        world.db.close()


def _scan(db: Connection) -> None:
    db.execute(
        "SELECT id, date, amount, reference, payee, memo, bank_account_id, deleted_at FROM book_entry"
    ).fetchall()


def _fill(world: World, seals_wanted: int) -> list[bytes]:
    """Entries cleared and sealed month by month; the contents of the seals."""
    contents: list[bytes] = []
    previous, opening = FIRST, world.account.starting_balance
    for number in range(1, seals_wanted + 1):
        end = date(2026, 10, 1) + timedelta(days=number)
        at = reconciliations.add_reconciliation(world.db, world.company.id, world.account.id, end, STAMP)
        first = world.db.execute("SELECT coalesce(max(id), 0) FROM book_entry").fetchone()[0] + 1
        rows = [
            (first + n, end.isoformat(), f"{100_000 + n}", "Coble Yard Slip", "Rudder bearing", n + 1)
            for n in range(ENTRIES)
        ]
        world.db.executemany(
            "INSERT INTO book_entry (id, company_id, bank_account_id, date, reference, payee, memo, amount, origin,"
            f" created_by, created_at) VALUES (?, 1, 1, ?, ?, ?, ?, ?, 'imported', 1, '{STAMP}')",
            rows,
        )
        new = [reconciliations.NewDecision(DecisionKind.TICK, (), (r[0],), "t") for r in rows]
        ids = reconciliations.add_decisions(world.db, 1, at.id, new, 1, STAMP)
        total = sum(r[5] for r in rows)
        decisions: tuple[Json, ...] = tuple(
            {
                "id": i,
                "kind": "tick",
                "lines": [],
                "entries": [r[0]],
                "pass": None,
                "why": "t",
                "made_by": "Ona Owner",
                "made_at": STAMP,
            }
            for i, r in zip(ids, rows, strict=True)
        )
        content = canonical(
            SealContent(
                world.company.name,
                world.account.name,
                "USD",
                end.isoformat(),
                end.isoformat(),
                "Ona Owner",
                STAMP,
                opening,
                opening + total,
                {},
                (),
                decisions,
                (),
                tuple(SealedEntry(r[0], r[1], r[5], r[2], r[3], r[4]) for r in rows),
                (),
            ).content()
        )
        digest = fingerprint(content, previous)
        seal = seals.add_seal(
            world.db,
            1,
            1,
            at.id,
            number=number,
            opening=opening,
            closing=opening + total,
            content=content,
            previous=previous,
            sha256=digest,
            user_id=1,
            now=STAMP,
        )
        for kind in ("report.json", "report.pdf"):
            seals.add_paper(world.db, 1, seal, kind, b"x", hashlib.sha256(b"x").hexdigest())
        reconciliations.set_sealed(world.db, 1, at.id)
        audit.append(
            world.db,
            company_id=1,
            user_id=1,
            at=STAMP,
            what="sealed",
            entity="bank_account",
            entity_id=1,
            after={"sha256": digest},
        )
        previous, opening = digest, opening + total
        contents.append(content)
    return contents
