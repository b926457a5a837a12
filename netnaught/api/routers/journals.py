"""The journal: its entries, and general ones made, changed, reversed and removed."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text
from netnaught.services import journals
from netnaught.services.journals import JournalPart

router = APIRouter(prefix="/api/companies/{company_id}/journal", tags=["books"])


class JournalPartOut(BaseModel):
    """A line of a journal entry. `amount`: minor units of the base currency, positive = debit of the books."""

    gl_account_id: int
    number: str
    name: str
    amount: int
    memo: str


class JournalOut(BaseModel):
    """A journal entry; `entry_id`: of the bank book, null for a general one; `opening`: of a bank account's start."""

    id: int
    date: Day
    memo: str
    made_by: str
    entry_id: int | None
    bank_account_id: int | None
    opening: bool
    lines: list[JournalPartOut]


class JournalPartIn(BaseModel):
    """A line of a general journal entry, debit positive."""

    gl_account_id: ItemId
    amount: Amount
    memo: Text = ""
    department_id: ItemId | None = None


class JournalIn(BaseModel):
    """A general journal entry: its lines sum to zero."""

    date: Day
    memo: Text
    lines: Annotated[list[JournalPartIn], Field(max_length=500)]

    def parts(self) -> list[JournalPart]:
        return [JournalPart(x.gl_account_id, x.amount, x.memo, x.department_id) for x in self.lines]


class JournalMade(BaseModel):
    """The id of a new journal entry."""

    id: int


class ReversalIn(BaseModel):
    """When and why a general journal entry is taken back."""

    date: Day
    reason: Annotated[Text, Field(min_length=1)]


@router.get("", operation_id="journal")
def get_journal(ctx: Ctx, company_id: Id, start: Day, end: Day) -> list[JournalOut]:
    """The journal entries of some days, oldest first."""
    return [
        JournalOut(
            id=j.id,
            date=j.date,
            memo=j.memo,
            made_by=j.made_by,
            entry_id=j.entry_id,
            bank_account_id=j.bank_account_id,
            opening=j.opening,
            lines=[
                JournalPartOut(
                    gl_account_id=x.account.id,
                    number=x.account.number,
                    name=x.account.name,
                    amount=x.base_amount,
                    memo=x.memo,
                )
                for x in j.lines
            ],
        )
        for j in journals.list_journals(ctx, company_id, start, end)
    ]


@router.post("", operation_id="addJournal", status_code=201)
def post_journal(ctx: Ctx, company_id: Id, body: JournalIn) -> JournalMade:
    """A general journal entry; refused unless it balances."""
    return JournalMade(id=journals.add_journal(ctx, company_id, body.date, body.memo, body.parts()))


@router.put("/{journal_id}", operation_id="changeJournal", status_code=204)
def put_journal(ctx: Ctx, company_id: Id, journal_id: Id, body: JournalIn) -> None:
    """Give a general journal entry new values."""
    journals.change_journal(ctx, company_id, journal_id, body.date, body.memo, body.parts())


@router.delete("/{journal_id}", operation_id="removeJournal", status_code=204)
def delete_journal(ctx: Ctx, company_id: Id, journal_id: Id) -> None:
    """Delete a general journal entry; it stays in the audit trail."""
    journals.remove_journal(ctx, company_id, journal_id)


@router.post("/{journal_id}/reverse", operation_id="reverseJournal", status_code=201)
def post_reverse(ctx: Ctx, company_id: Id, journal_id: Id, body: ReversalIn) -> JournalMade:
    """Post the opposite on a later day."""
    return JournalMade(id=journals.reverse_journal(ctx, company_id, journal_id, body.date, body.reason))
