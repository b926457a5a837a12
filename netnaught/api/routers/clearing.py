"""Clearing accounts: settled groups, and the two remainders."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Day, Id
from netnaught.core.clearing import Group, SettledBy
from netnaught.services import clearing

router = APIRouter(prefix="/api/companies/{company_id}", tags=["books"])


class PostingOut(BaseModel):
    """A line of the account. Minor units."""

    id: int
    date: Day
    amount: int
    party: str
    reference: str


class GroupOut(BaseModel):
    """Postings of one reference or party; a settled group comes to zero."""

    by: SettledBy
    name: str
    remainder: int
    postings: list[PostingOut]


class ClearedOut(BaseModel):
    """A ledger account up to a day. `balance` is the sum of the two remainders."""

    number: str
    name: str
    balance: int
    total_owed: int
    total_without_cause: int
    settled: list[GroupOut]
    owed: list[GroupOut]
    without_cause: list[GroupOut]


def _groups(found: tuple[Group, ...]) -> list[GroupOut]:
    return [
        GroupOut(
            by=group.by,
            name=group.name,
            remainder=group.remainder,
            postings=[PostingOut.model_validate(p, from_attributes=True) for p in group.postings],
        )
        for group in found
    ]


@router.get("/gl-accounts/{account_id}/cleared", operation_id="clearedAccount")
def get_cleared(ctx: Ctx, company_id: Id, account_id: Id, on: Day) -> ClearedOut:
    """What nets to zero inside a ledger account, and what does not."""
    account, found = clearing.cleared(ctx, company_id, account_id, on)
    return ClearedOut(
        number=account.number,
        name=account.name,
        balance=found.balance,
        total_owed=found.total_owed,
        total_without_cause=found.total_without_cause,
        settled=_groups(found.settled),
        owed=_groups(found.owed),
        without_cause=_groups(found.without_cause),
    )
