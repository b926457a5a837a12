"""The bank book: entries with running balance, adding, changing, deleting, importing, exporting."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile
from pydantic import BaseModel, Field

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text, altering
from netnaught.api.routers.deciding import PartIn
from netnaught.api.routers.tables import BookTableOut, columns_of
from netnaught.core.ledger import BookEntry
from netnaught.core.reimport import Comparison, Doubt, RowChange, Touches
from netnaught.formats import Table
from netnaught.services import bank_book, reimport
from netnaught.services.coding import PartGiven
from netnaught.services.entries import EntryValues
from netnaught.services.reimport import Absent, Answers

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}/book", tags=["books"])


class BookLineOut(BaseModel):
    """An entry of the bank book, the balance after it, and where it was cleared."""

    id: int
    date: Day
    amount: int
    reference: str
    payee: str
    memo: str
    balance: int
    origin: str
    revision: int
    has_journal: bool
    cleared_on: Day | None
    cleared_in: int | None
    sealed: bool


class EntryIn(BaseModel):
    """An entry as a person enters it; the journal entry's other side is one account, or (if given) `parts`."""

    date: Day
    amount: Amount
    reference: Text = ""
    payee: Text = ""
    memo: Text = ""
    other_account_id: ItemId | None = None
    parts: Annotated[list[PartIn], Field(max_length=60)] = []

    def given(self) -> list[PartGiven]:
        return [part.given() for part in self.parts]

    def values(self) -> EntryValues:
        return EntryValues(self.date, self.amount, self.reference, self.payee, self.memo, self.other_account_id)


class EntryChange(EntryIn):
    """New values, and the revision they were based on; `reason`: for altering what is sealed or locked."""

    revision: ItemId
    reason: Text = ""


class Created(BaseModel):
    """The id of what was created."""

    id: int


class RowValues(BaseModel):
    """An entry as the file, or as the books here, have it. Minor units."""

    date: Day
    amount: int
    reference: str
    payee: str
    memo: str


class ImportRowOut(BaseModel):
    """One difference: the row of the file, the entry known here, by what they belong together, what it touches."""

    change: RowChange
    touches: Touches
    row: RowValues | None
    known: RowValues | None
    entry_id: int | None
    fields: list[str]
    how: str
    alters: bool
    shift: int
    period: Day | None


class ImportOut(BaseModel):
    """What a file says that is not known, by consequence; `same` counts the rows that say nothing new."""

    rows: list[ImportRowOut]
    same: int
    new: int
    new_total: int
    doubts: list[Doubt]
    table: BookTableOut | None


def _values(entry: BookEntry | None) -> RowValues | None:
    return RowValues.model_validate(entry, from_attributes=True) if entry else None


def _import(found: Comparison, period: dict[int, date], table: Table | None = None) -> ImportOut:
    rows = [
        ImportRowOut(
            change=x.change,
            touches=x.touches,
            row=_values(x.row),
            known=_values(x.known.entry if x.known else None),
            entry_id=int(x.known.entry.id) if x.known else None,
            fields=list(x.fields),
            how=x.how,
            alters=x.alters,
            shift=x.shift,
            period=period.get(int(x.known.entry.id)) if x.known else None,
        )
        for x in found.differences
        if x.change is not RowChange.SAME
    ]
    new = found.of(RowChange.NEW)
    return ImportOut(
        rows=rows,
        same=len(found.of(RowChange.SAME)),
        new=len(new),
        new_total=sum(x.shift for x in new),
        doubts=list(found.doubts),
        table=BookTableOut.of_table(table) if table else None,
    )


@router.get("", operation_id="book")
def get_book(ctx: Ctx, company_id: Id, account_id: Id) -> list[BookLineOut]:
    """The whole bank book, oldest first."""
    return [
        BookLineOut(
            id=line.stored.id,
            date=line.stored.entry.date,
            amount=line.stored.entry.amount,
            reference=line.stored.entry.reference,
            payee=line.stored.entry.payee,
            memo=line.stored.entry.memo,
            balance=line.balance,
            origin=line.stored.origin,
            revision=line.stored.revision,
            has_journal=line.stored.journal_line_id is not None,
            cleared_on=(line.clearing.line_date or line.clearing.closing_date) if line.clearing else None,
            cleared_in=line.clearing.reconciliation_id if line.clearing else None,
            sealed=line.clearing.sealed if line.clearing else False,
        )
        for line in bank_book.read_book(ctx, company_id, account_id)
    ]


@router.get("/export.csv", operation_id="exportBook", response_class=Response)
def get_export(ctx: Ctx, company_id: Id, account_id: Id) -> Response:
    """The bank book as the documented table."""
    headers = {"Content-Disposition": 'attachment; filename="bank-book.csv"'}
    return Response(bank_book.export_book(ctx, company_id, account_id), media_type="text/csv", headers=headers)


@router.post("/entries", operation_id="addEntry", status_code=201)
def post_entry(ctx: Ctx, company_id: Id, account_id: Id, body: EntryIn) -> Created:
    """A new entry with its journal entry."""
    return Created(id=bank_book.add_entry(ctx, company_id, account_id, body.values(), body.given()))


@router.put("/entries/{entry_id}", operation_id="editEntry", status_code=204)
def put_entry(ctx: Ctx, company_id: Id, account_id: Id, entry_id: Id, body: EntryChange) -> None:
    """Change an entry; what is sealed only with the right and a reason."""
    work = altering(ctx, body.reason)
    bank_book.edit_entry(work, company_id, account_id, entry_id, body.values(), body.revision, body.given())


@router.delete("/entries/{entry_id}", operation_id="removeEntry", status_code=204)
def delete_entry(ctx: Ctx, company_id: Id, account_id: Id, entry_id: Id, reason: Text = "") -> None:
    """Delete an entry; it stays in its history. What is sealed only with the right and a reason."""
    bank_book.remove_entry(altering(ctx, reason), company_id, account_id, entry_id)


class MoveEntryIn(BaseModel):
    """The bank account an entry belongs on; `reason`: for altering what is sealed or locked."""

    to_account_id: ItemId
    reason: Text = ""


@router.post("/entries/{entry_id}/move", operation_id="moveEntry", status_code=204)
def post_move_entry(ctx: Ctx, company_id: Id, account_id: Id, entry_id: Id, body: MoveEntryIn) -> None:
    """Put an entry on another bank account, its journal with it."""
    bank_book.move_entry(altering(ctx, body.reason), company_id, account_id, entry_id, body.to_account_id)


class TouchedOut(BaseModel):
    """What a change touches, in sentences; `needs_right`: something sealed or locked is among it."""

    texts: list[str]
    needs_right: bool


@router.get("/entries/{entry_id}/touches", operation_id="touchedBy")
def get_touches(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    entry_id: Id,
    day: Day | None = None,
    to_account: Annotated[int | None, Query(ge=1, le=2**53)] = None,
) -> TouchedOut:
    """What changing or removing an entry touches beside itself; nothing is changed."""
    found = bank_book.touched_by(ctx, company_id, account_id, entry_id, day, to_account)
    return TouchedOut(texts=list(found.texts), needs_right=found.needs_right)


@router.post("/import/preview", operation_id="previewBookImport")
def post_import_preview(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    file: Annotated[UploadFile, File()],
    columns: Annotated[str, Form(max_length=4000)] = "",
) -> ImportOut:
    """Compare a file with the bank book; nothing is stored. `columns`: as pointed out by hand, JSON."""
    name, data = file.filename or "file", file.file.read()
    found = reimport.preview(ctx, company_id, account_id, name, data, columns_of(columns))
    return _import(found.comparison, found.period, found.table)


@router.post("/import", operation_id="importBook", status_code=201)
def post_import(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    file: Annotated[UploadFile, File()],
    other_account_id: Annotated[int | None, Form(ge=1, le=2**53)] = None,
    gone: Annotated[Absent | None, Form()] = None,
    outside: Annotated[Absent | None, Form()] = None,
    columns: Annotated[str, Form(max_length=4000)] = "",
) -> ImportOut:
    """Take a file's differences over, all or nothing; 409 while it has not been said what becomes of absent entries."""
    name, data = file.filename or "file", file.file.read()
    answers = Answers(gone, outside)
    stated = columns_of(columns)
    return _import(reimport.apply(ctx, company_id, account_id, name, data, other_account_id, answers, stated), {})
