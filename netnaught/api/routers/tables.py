"""Tables whose columns a person points out: the chart of accounts and the ledger's detail, imported."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from pydantic import BaseModel, Field, ValidationError

from netnaught.api.deps import Ctx, Day, Id, Text
from netnaught.core.ledger import JournalEntry
from netnaught.core.reimport import Doubt, RowChange, Touches
from netnaught.formats import Columns, Table
from netnaught.services import chart_import, ledger_import
from netnaught.services.errors import BadInput
from netnaught.services.ledger_import import ReadLedger
from netnaught.services.reimport import Absent, Answers
from netnaught.store.ledger import GlAccount

router = APIRouter(prefix="/api/companies/{company_id}", tags=["books"])


class ColumnsIn(BaseModel):
    """Which column has which role; the order of dates (ymd, dmy, mdy) and the decimal sign; "" where not stated."""

    by_role: Annotated[dict[str, Text], Field(max_length=12)] = {}
    order: Annotated[str, Field(pattern="^(ymd|dmy|mdy)?$")] = ""
    decimal: Annotated[str, Field(pattern="^[.,]?$")] = ""


class BookTableOut(BaseModel):
    """A table with its columns as proposed or stated; `missing`: what must still be said before it is read."""

    roles: list[str]
    heading: list[str]
    sample: list[list[str]]
    by_role: dict[str, str]
    order: str
    decimal: str
    missing: list[str]

    @classmethod
    def of_table(cls, table: Table) -> BookTableOut:
        return cls(
            roles=list(table.roles),
            heading=list(table.heading),
            sample=[list(row.cells) for row in table.rows[:8]],
            by_role=dict(table.columns.by_role),
            order=table.columns.order,
            decimal=table.columns.decimal,
            missing=list(table.missing),
        )


def columns_of(text: str) -> Columns | None:
    """The columns as a form field gives them, JSON; None when it is empty."""
    if not text:
        return None
    try:
        given = ColumnsIn.model_validate_json(text)
    except ValidationError as error:
        raise BadInput("The columns cannot be read. Nothing was changed.", field="columns") from error
    return Columns(given.by_role, given.order, given.decimal)


class UnderstoodOut(BaseModel):
    """What a chart holds: new accounts, known ones, and known ones that say otherwise, which are left as they are."""

    table: BookTableOut
    new: int
    known: int
    held: list[str]
    stored: bool


class JournalSideOut(BaseModel):
    """A line of a journal entry: account as number and name. Minor units, positive = debit."""

    account: str
    amount: int
    memo: str


class JournalVersionOut(BaseModel):
    """A journal entry as the file, or as the ledger here, has it."""

    date: Day
    memo: str
    lines: list[JournalSideOut]


class ControlShiftOut(BaseModel):
    """What a difference does to a control account. Minor units of the base currency."""

    account: str
    amount: int


class JournalChangeOut(BaseModel):
    """One difference: the entry of the file, the one known here, by what they belong together, what it touches."""

    change: RowChange
    touches: Touches
    id: str
    row: JournalVersionOut | None
    known: JournalVersionOut | None
    fields: list[str]
    how: str
    alters: bool
    shifts: list[ControlShiftOut]


class LedgerReadOut(BaseModel):
    """What a ledger's detail says that is not known, by consequence; `same` counts the entries that say nothing new."""

    table: BookTableOut
    rows: list[JournalChangeOut]
    same: int
    doubts: list[Doubt]


def _version(entry: JournalEntry | None, accounts: Mapping[int, GlAccount]) -> JournalVersionOut | None:
    if entry is None:
        return None
    lines = [
        JournalSideOut(account=_named(accounts, x.gl_account_id), amount=x.base_amount, memo=x.memo)
        for x in entry.lines
    ]
    return JournalVersionOut(date=entry.date, memo=entry.memo, lines=lines)


def _named(accounts: Mapping[int, GlAccount], account_id: int) -> str:
    account = accounts[account_id]
    return f"{account.number} {account.name}"


def _ledger_read(found: ReadLedger) -> LedgerReadOut:
    accounts = found.accounts
    rows = [
        JournalChangeOut(
            change=x.change,
            touches=x.touches,
            id=x.row_id or (x.known.external_id if x.known and x.known.external_id else ""),
            row=_version(x.row, accounts),
            known=_version(x.known.entry if x.known else None, accounts),
            fields=list(x.fields),
            how=x.how,
            alters=x.alters,
            shifts=[ControlShiftOut(account=_named(accounts, a), amount=n) for a, n in x.shifts],
        )
        for x in found.comparison.differences
        if x.change is not RowChange.SAME
    ]
    return LedgerReadOut(
        table=BookTableOut.of_table(found.table),
        rows=rows,
        same=len(found.comparison.of(RowChange.SAME)),
        doubts=list(found.comparison.doubts),
    )


@router.post("/chart/import", operation_id="importChart")
def post_chart(
    ctx: Ctx,
    company_id: Id,
    file: Annotated[UploadFile, File()],
    columns: Annotated[str, Form(max_length=4000)] = "",
    store: Annotated[bool, Form()] = False,
) -> UnderstoodOut:
    """Accounts of a table; nothing is stored without `store`."""
    name, data = file.filename or "file", file.file.read()
    found = chart_import.read_chart(ctx, company_id, name, data, columns_of(columns), store=store)
    table = BookTableOut.of_table(found.table)
    return UnderstoodOut(table=table, new=found.new, known=found.known, held=list(found.held), stored=store)


@router.post("/journal/import/preview", operation_id="previewLedger")
def post_ledger_preview(
    ctx: Ctx,
    company_id: Id,
    file: Annotated[UploadFile, File()],
    columns: Annotated[str, Form(max_length=4000)] = "",
) -> LedgerReadOut:
    """What a ledger's detail says that is not known here; nothing is stored."""
    name, data = file.filename or "file", file.file.read()
    return _ledger_read(ledger_import.preview(ctx, company_id, name, data, columns_of(columns)))


@router.post("/journal/import", operation_id="importLedger")
def post_ledger(
    ctx: Ctx,
    company_id: Id,
    file: Annotated[UploadFile, File()],
    gone: Annotated[Absent | None, Form()] = None,
    outside: Annotated[Absent | None, Form()] = None,
    columns: Annotated[str, Form(max_length=4000)] = "",
) -> LedgerReadOut:
    """Take the differences of a ledger's detail over, all or nothing."""
    name, data = file.filename or "file", file.file.read()
    answers = Answers(gone, outside)
    return _ledger_read(ledger_import.apply(ctx, company_id, name, data, answers, columns_of(columns)))
