"""The Spine of 10,000 rows over HTTP's own code path, against fetching the rows and json.dumps."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Iterator
from pathlib import Path

from benchmarks.books import large_month
from benchmarks.timing import best, row
from netnaught.api.app import collect_rarely
from netnaught.api.routers.spine import get_spine
from netnaught.services import deciding


def run() -> Iterator[str]:
    """10,000 lines and entries, first all open, then all matched."""
    collect_rarely()
    with tempfile.TemporaryDirectory() as folder:
        ctx, company, at = large_month(Path(folder), 10_000)

        def ours() -> str:
            return get_spine(ctx, company, at).model_dump_json()

        def theirs() -> str:
            rows = (
                ctx.db.execute("SELECT * FROM statement_line").fetchall()
                + ctx.db.execute("SELECT * FROM book_entry").fetchall()
            )
            return json.dumps([tuple(found) for found in rows])

        reference = best(theirs)
        yield row("the Spine, 10,000 lines open", best(ours), "fetchall and json.dumps", reference, "5x")
        deciding.apply_passes(ctx, company, at, frozenset())
        yield row("the Spine, 10,000 lines matched", best(ours), "fetchall and json.dumps", reference, "5x")
        ctx.db.close()
