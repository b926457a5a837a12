"""Journals for books kept elsewhere: what was recorded here in a period, exactly once, and to be had again."""

from __future__ import annotations

import csv
import io
from datetime import date

from netnaught.core.money import currency, plain
from netnaught.formats.xlsx import rows_as_xlsx, safe_cell
from netnaught.services.access import Context, Right, company_for, record_event
from netnaught.services.errors import BadInput, NotFound, Refused
from netnaught.store import exports
from netnaught.store.database import atomic
from netnaught.store.exports import Batch

COLUMNS = (
    "journal",
    "date",
    "account",
    "account name",
    "amount",
    "memo",
    "payee",
    "reference",
    "tax",
    "department",
    "tags",
)
_MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


def export(ctx: Context, company_id: int, start: date, end: date) -> int:
    """A batch of what was recorded or typed here in a period and not exported before; Refused where there is none."""
    if end < start:
        raise BadInput("The period ends before it starts. Nothing was changed.", field="end", value=end.isoformat())
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        batch, number = exports.add_batch(ctx.db, company_id, start, end, ctx.user.id, ctx.stamp)
        if not number:
            raise Refused(
                "Nothing recorded here in that period waits to be exported: earlier exports can be had again. "
                "Nothing was changed."
            )
        record_event(ctx, company_id, "journals exported", "export_batch", batch, after={"journals": number})
        return batch


def batches(ctx: Context, company_id: int) -> list[Batch]:
    """All exports, newest first."""
    company_for(ctx, company_id)
    return exports.batches(ctx.db, company_id)


def written(ctx: Context, company_id: int, batch_id: int, form: str) -> tuple[str, str, bytes]:
    """An export as csv or xlsx: (file name, media type, content). Amounts are plain decimals, positive = debit."""
    company = company_for(ctx, company_id)
    if form not in _MEDIA:
        raise BadInput(f"An export is written as {' or '.join(_MEDIA)}.", field="format", value=form)
    if batch_id not in {batch.id for batch in exports.batches(ctx.db, company_id)}:
        raise NotFound("There is no such export.")
    of = currency(company.currency)
    rows = [
        (
            *(str(x.journal_id), x.date, x.account, safe_cell(x.account_name), plain(x.amount, of)),
            *(safe_cell(text) for text in (x.memo, x.payee, x.reference, x.tax, x.department, x.tags)),
        )
        for x in exports.lines(ctx.db, company_id, batch_id)
    ]
    name = f"journals-{batch_id}.{form}"
    if form == "xlsx":
        return name, _MEDIA[form], rows_as_xlsx("Journals", COLUMNS, rows)
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    writer.writerows(rows)
    return name, _MEDIA[form], out.getvalue().encode()
