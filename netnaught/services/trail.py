"""The audit trail of a company, as a list and as a file: who, when, what, before, after, from where."""

from __future__ import annotations

import csv
import io
import json

from netnaught.formats.xlsx import safe_cell
from netnaught.services.access import Context, company_for
from netnaught.store import audit
from netnaught.store.audit import AuditEvent, Wanted

PAGE = 200
COLUMNS = ("event", "at", "person", "what", "entity", "id", "before", "after", "fingerprint")


def events(ctx: Context, company_id: int, wanted: Wanted) -> list[AuditEvent]:
    """The events asked for, newest first, a page of them; those of the company's people signing in included."""
    company_for(ctx, company_id)
    return audit.events(ctx.db, company_id, wanted, PAGE)


def names(ctx: Context, company_id: int) -> tuple[list[str], list[str]]:
    """The kinds of event and the people that occur, for choosing."""
    company_for(ctx, company_id)
    return audit.kinds(ctx.db, company_id), audit.people(ctx.db, company_id)


def export(ctx: Context, company_id: int, wanted: Wanted) -> bytes:
    """All events asked for as CSV, oldest first; texts that a spreadsheet would take for formulas are made safe."""
    company_for(ctx, company_id)
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for event in reversed(audit.events(ctx.db, company_id, wanted, None)):
        values = [json.dumps(v, ensure_ascii=False) if v is not None else "" for v in (event.before, event.after)]
        row = (event.id, event.at, event.user, event.what, event.entity, event.entity_id or "", *values, event.sha256)
        writer.writerow([safe_cell(str(cell)) for cell in row])
    return out.getvalue().encode()
