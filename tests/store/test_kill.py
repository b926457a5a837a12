"""Kill −9 in the middle of importing, reading, matching, sealing and reading again: nothing is half-written.

Ten kills by default; NETNAUGHT_KILLS sets another number (`make torture`: a hundred).
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from dataclasses import replace
from datetime import date
from pathlib import Path

from netnaught.services import bank_book, deciding, ledger_import, reimport, sealing, spine, tracing, verifying
from netnaught.services.access import Context
from netnaught.services.reimport import Absent, Answers
from netnaught.store import reconciliations, users
from netnaught.store.database import DATABASE, connect
from tests.world import NOW, USD, found_world

KILLS = int(os.environ.get("NETNAUGHT_KILLS", "10"))
LINES = 60
JOURNALS = 30


def work_for_ever(folder: Path) -> None:
    """Month after month: import the book, read the statement, run the passes, seal. Says when it has begun."""
    from netnaught.core.ledger import BookEntry
    from netnaught.formats import write_bank_book

    world = found_world(folder)
    print("begun", flush=True)
    opening = 100_000
    for number in range(2000):
        first = date(2026 + (9 + number) // 12, (9 + number) % 12 + 1, 1)
        lines = [world.line(-(n + 1), f"{first:%Y-%m}-{n % 28 + 1:02d}", str(n + 100)) for n in range(LINES)]
        book = [BookEntry(f"M{number}-{x.id}", x.date, x.amount, x.reference, "P", "") for x in lines]
        args = (world.ctx, world.company.id, world.account.id)
        reimport.apply(*args, "book.csv", write_bank_book(book, USD), world.gl["5000"])
        ledger_import.apply(world.ctx, world.company.id, "gl.csv", detail(number, first))
        at = world.read(*lines, opening=opening, first=first.isoformat())
        deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
        sealing.seal(world.ctx, world.company.id, at)
        opening += sum(x.amount for x in lines)
        # Read again with sealed amounts changed, then as they were: a disturbance, and its mending from elsewhere.
        changed = [replace(entry, amount=entry.amount - 5) if n < 20 else entry for n, entry in enumerate(book)]
        for again in (changed, book):
            answers = Answers(Absent.KEEP, Absent.KEEP)
            reimport.apply(*args, "book.csv", write_bank_book(again, USD), world.gl["5000"], answers)


def detail(number: int, day: date) -> bytes:
    """A month of the ledger's detail."""
    rows = ["journal,date,account,amount,memo"]
    for n in range(JOURNALS):
        rows += [f"G{number}-{n},{day},5000,{n + 1}.00,Accrual", f"G{number}-{n},{day},3000,-{n + 1}.00,Accrual"]
    return "\n".join(rows).encode()


def check(folder: Path) -> None:
    """Everything holds: the file, the books, the equations, the chain."""
    db = connect(folder / DATABASE)
    assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    assert db.execute("PRAGMA foreign_key_check").fetchall() == []
    assert not any(finding.tampering for finding in verifying.verify(db).findings)
    user = users.user_by_email(db, "owner@4410.example")
    assert user
    ctx = Context(db, user, NOW)
    assert len(bank_book.read_book(ctx, 1, 1)) % LINES == 0, "an import is whole or not there"
    posted = db.execute("SELECT count(*) FROM journal_entry WHERE external_id IS NOT NULL").fetchone()[0]
    assert posted % JOURNALS == 0, "a ledger's detail is whole or not there"
    trace = tracing.trace(ctx, 1, 1)
    assert trace.stairs.counted_today == trace.counted_today
    assert trace.stairs.gap in (0, -100), "what was read again is taken over whole or not at all"
    for found in reconciliations.reconciliations(db, 1, 1):
        view = spine.view(ctx, 1, found.id)
        assert view.bench.standing.book_balance == view.bench.book_footing.end
        assert view.bench.gl_balance == view.bench.book_footing.end
        assert len(view.bench.lines) == LINES
        assert view.bench.standing.lines_resolved in (0, LINES), "a run of the passes is whole or not there"
    db.close()


def test_a_killed_process_leaves_whole_books(tmp_path: Path) -> None:
    pick = random.Random(4410)
    for number in range(KILLS):
        folder = tmp_path / str(number)
        program = f"from pathlib import Path; from tests.store.test_kill import work_for_ever; work_for_ever(Path({str(folder)!r}))"
        with subprocess.Popen([sys.executable, "-c", program], stdout=subprocess.PIPE) as child:
            assert child.stdout
            assert child.stdout.readline() == b"begun\n"
            time.sleep(pick.uniform(0.01, 0.7))
            child.send_signal(signal.SIGKILL)
        check(folder)
