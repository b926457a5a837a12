"""Outstanding items with age and rule, rolled forward from the last seal."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Day, Id
from netnaught.api.routers.spine import SideOut
from netnaught.core.outstanding import OutstandingKind
from netnaught.services import lingering

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}", tags=["outstanding"])


class OutstandingOut(BaseModel):
    """An item not at the bank. `stale`: what it is past, "" while it is not; `listed_since`: the first seal listing it."""

    id: int
    date: Day
    amount: int
    reference: str
    payee: str
    memo: str
    kind: OutstandingKind
    days: int
    stale: str
    listed_since: Day | None
    notes: list[str]
    reversed: bool


class RollOut(BaseModel):
    """start + booked + backdated + changed − cleared = end; `late` stands apart. Minor units."""

    start: int
    booked: int
    backdated: int
    changed: int
    cleared: int
    late: int
    end: int


class DoubledCheck(BaseModel):
    """A check number that stands twice."""

    number: int
    entries: list[int]


class AgeStepOut(BaseModel):
    """What is outstanding between two ages in days; `until` is null for the last. Minor units."""

    since: int
    until: int | None
    came_in: SideOut
    went_out: SideOut


class CheckGap(BaseModel):
    """A run of check numbers that were never written."""

    first: int
    last: int


class LingeringOut(BaseModel):
    """The outstanding list of an account at a closing date."""

    reconciliation_id: int
    closing_date: Day
    since: Day
    sealed: bool
    items: list[OutstandingOut]
    roll: RollOut
    ageing: list[AgeStepOut]
    gaps: list[CheckGap]
    doubles: list[DoubledCheck]


@router.get("/outstanding", operation_id="outstanding")
def get_outstanding(
    ctx: Ctx, company_id: Id, account_id: Id, reconciliation: Annotated[int | None, Query(ge=1, le=2**53)] = None
) -> LingeringOut | None:
    """Everything not at the bank at the end of a reconciliation, the newest open one unless given."""
    found = lingering.lingering(ctx, company_id, account_id, reconciliation)
    if found is None:
        return None
    return LingeringOut(
        reconciliation_id=found.reconciliation.id,
        closing_date=found.reconciliation.closing_date,
        since=found.since,
        sealed=found.sealed,
        items=[
            OutstandingOut(
                id=int(x.entry.id),
                date=x.entry.date,
                amount=x.entry.amount,
                reference=x.entry.reference,
                payee=x.entry.payee,
                memo=x.entry.memo,
                kind=x.age.kind,
                days=x.age.days,
                stale=x.age.stale,
                listed_since=x.listed_since,
                notes=list(x.notes),
                reversed=x.reversed,
            )
            for x in found.items
        ],
        roll=RollOut.model_validate(found.roll, from_attributes=True),
        ageing=[
            AgeStepOut(
                since=step.since,
                until=step.until,
                came_in=SideOut.of_side(step.came_in),
                went_out=SideOut.of_side(step.went_out),
            )
            for step in found.ageing
        ],
        gaps=[CheckGap(first=a, last=b) for a, b in found.checks.gaps],
        doubles=[DoubledCheck(number=n, entries=[int(i) for i in ids]) for n, ids in found.checks.doubles],
    )
