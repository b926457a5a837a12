"""The people of a company and what each may do."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Id
from netnaught.core.outstanding import StaleRules
from netnaught.services import setup
from netnaught.services.access import RIGHTS, Right, Role, company_for

router = APIRouter(prefix="/api/companies/{company_id}", tags=["setup"])


class PersonOut(BaseModel):
    """A person: role, what it allows of the rights that can be switched, and what is switched against it."""

    user_id: int
    name: str
    email: str
    role: Role
    by_role: list[Right]
    switched: dict[str, bool]


class PeopleOut(BaseModel):
    """The people, the rights that can be switched, and whether reconciliations are reviewed."""

    people: list[PersonOut]
    rights: list[Right]
    review: bool


class StaleRulesBody(BaseModel):
    """When an outstanding entry is stale: a check after months, others after days; null: never."""

    check_months: int = Field(ge=1, le=setup.MOST_MONTHS)
    deposit_days: int | None = Field(ge=1, le=setup.MOST_DAYS)
    payment_days: int | None = Field(ge=1, le=setup.MOST_DAYS)


class SwitchIn(BaseModel):
    """A right on or off for one person; null: as the role says."""

    right: Right
    allowed: bool | None


class ClosedIn(BaseModel):
    """Whether an account takes no more postings."""

    closed: bool


@router.get("/people", operation_id="people")
def get_people(ctx: Ctx, company_id: Id) -> PeopleOut:
    """Who works in this company, and what they may do."""
    found = setup.people(ctx, company_id)
    people = [
        PersonOut(
            user_id=person.user_id,
            name=person.name,
            email=person.email,
            role=Role(person.role),
            by_role=[right for right in setup.SWITCHABLE if right in RIGHTS[Role(person.role)]],
            switched=dict(person.switched),
        )
        for person in found
    ]
    return PeopleOut(people=people, rights=list(setup.SWITCHABLE), review=company_for(ctx, company_id).review)


@router.get("/stale-rules", operation_id="staleRules")
def get_stale_rules(ctx: Ctx, company_id: Id) -> StaleRulesBody:
    """When an outstanding entry is stale in this company."""
    return StaleRulesBody.model_validate(company_for(ctx, company_id).stale, from_attributes=True)


@router.put("/stale-rules", operation_id="setStaleRules", status_code=204)
def put_stale_rules(ctx: Ctx, company_id: Id, body: StaleRulesBody) -> None:
    """Say when an outstanding entry is stale."""
    rules = StaleRules(body.check_months, body.deposit_days, body.payment_days)
    setup.set_stale_rules(ctx, company_id, rules)


@router.put("/people/{user_id}/rights", operation_id="switchRight", status_code=204)
def put_right(ctx: Ctx, company_id: Id, user_id: Id, body: SwitchIn) -> None:
    """Switch one right of one person."""
    setup.switch_right(ctx, company_id, user_id, body.right, body.allowed)


@router.put("/gl-accounts/{account_id}/closed", operation_id="closeAccount", status_code=204)
def put_closed(ctx: Ctx, company_id: Id, account_id: Id, body: ClosedIn) -> None:
    """Close a ledger account for further postings, or open it again."""
    setup.set_account_closed(ctx, company_id, account_id, body.closed)
