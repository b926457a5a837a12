"""The bank book: entries with running balance, adding, changing, deleting, importing, exporting."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Response, UploadFile
from pydantic import BaseModel

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text
from netnaught.core.ledger import BookEntry
from netnaught.services import bank_book
from netnaught.services.bank_book import BookImport, ImportState
from netnaught.services.entries import EntryValues

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
    """An entry as a person enters it; `other_account_id` is the journal entry's other side."""

    date: Day
    amount: Amount
    reference: Text = ""
    payee: Text = ""
    memo: Text = ""
    other_account_id: ItemId | None = None

    def values(self) -> EntryValues:
        return EntryValues(self.date, self.amount, self.reference, self.payee, self.memo, self.other_account_id)


class EntryChange(EntryIn):
    """New values, and the revision they were based on."""

    revision: ItemId


class Created(BaseModel):
    """The id of what was created."""

    id: int


class ImportRowOut(BaseModel):
    """One row of an import, and what it is compared with the books."""

    id: str
    date: Day
    amount: int
    reference: str
    payee: str
    memo: str
    state: ImportState
    was: str
    why: str


class ImportOut(BaseModel):
    """What an import brings, or brought."""

    new: int
    same: int
    changed: int
    held: int
    total: int
    rows: list[ImportRowOut]


def _difference(row: BookEntry, known: BookEntry | None) -> str:
    if known is None:
        return ""
    names = [
        name for name in ("date", "amount", "reference", "payee", "memo") if getattr(row, name) != getattr(known, name)
    ]
    return ", ".join(names)


def _import(found: BookImport) -> ImportOut:
    rows = [
        ImportRowOut(
            id=str(row.entry.id),
            date=row.entry.date,
            amount=row.entry.amount,
            reference=row.entry.reference,
            payee=row.entry.payee,
            memo=row.entry.memo,
            state=row.state,
            was=_difference(row.entry, row.known),
            why=row.why,
        )
        for row in found.rows
    ]
    counts = {state.value: len(found.of(state)) for state in ImportState}
    return ImportOut(**counts, total=sum(row.entry.amount for row in found.of(ImportState.NEW)), rows=rows)


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
    return Created(id=bank_book.add_entry(ctx, company_id, account_id, body.values()))


@router.put("/entries/{entry_id}", operation_id="editEntry", status_code=204)
def put_entry(ctx: Ctx, company_id: Id, account_id: Id, entry_id: Id, body: EntryChange) -> None:
    """Change an uncleared entry; its journal follows."""
    bank_book.edit_entry(ctx, company_id, account_id, entry_id, body.values(), body.revision)


@router.delete("/entries/{entry_id}", operation_id="removeEntry", status_code=204)
def delete_entry(ctx: Ctx, company_id: Id, account_id: Id, entry_id: Id) -> None:
    """Delete an uncleared entry; it keeps its identity and history."""
    bank_book.remove_entry(ctx, company_id, account_id, entry_id)


@router.post("/import/preview", operation_id="previewBookImport")
def post_preview(ctx: Ctx, company_id: Id, account_id: Id, file: Annotated[UploadFile, File()]) -> ImportOut:
    """What a file would bring; nothing is stored."""
    return _import(bank_book.preview_import(ctx, company_id, account_id, file.filename or "file", file.file.read()))


@router.post("/import", operation_id="importBook")
def post_import(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    file: Annotated[UploadFile, File()],
    other_account_id: Annotated[ItemId | None, Form()] = None,
) -> ImportOut:
    """Store the new rows of a file, all or nothing."""
    name, data = file.filename or "file", file.file.read()
    return _import(bank_book.import_book(ctx, company_id, account_id, name, data, other_account_id))
