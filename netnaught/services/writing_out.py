"""Writing a stored statement out, in an open format."""

from __future__ import annotations

from collections.abc import Callable

from netnaught.core.money import Currency, currency
from netnaught.formats import ReadLine, ReadStatement, write_camt053, write_ofx2, write_plain_statement, write_xlsx
from netnaught.services.access import Context, Right
from netnaught.services.errors import BadInput
from netnaught.services.reading import require_statement
from netnaught.store import statements

Writer = Callable[[ReadStatement, Currency], bytes]
# Name of a format: its writer, its file name's ending, its media type.
WRITERS: dict[str, tuple[Writer, str, str]] = {
    "csv": (write_plain_statement, "csv", "text/csv"),
    "ofx": (write_ofx2, "ofx", "application/x-ofx"),
    "camt.053": (write_camt053, "xml", "application/xml"),
    "xlsx": (write_xlsx, "xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
}


def write_out(ctx: Context, company_id: int, statement_id: int, form: str) -> tuple[str, str, bytes]:
    """A stored statement as a file: (name, media type, bytes); BadInput for a format that is not written."""
    if form not in WRITERS:
        raise BadInput(f"Statements are written as {', '.join(WRITERS)}.", field="format", value=form)
    desk, found = require_statement(ctx, company_id, statement_id, Right.READ)
    lines = [
        x for x in statements.lines_of(ctx.db, company_id, desk.reconciliation.id) if x.statement_id == statement_id
    ]
    reads = tuple(ReadLine(x.line, x.bank_id) for x in lines)
    account = desk.account
    statement = ReadStatement(form, account.bank, account.number, account.currency, found.head, reads)
    write, ending, media = WRITERS[form]
    return f"statement-{found.head.end}.{ending}", media, write(statement, currency(account.currency))
