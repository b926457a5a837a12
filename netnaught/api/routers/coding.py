"""Departments, taxes, parties and coding rules."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text
from netnaught.core.coding import Rule, TextMatch, WayOfMoney
from netnaught.core.statement import LineKind
from netnaught.services import coding
from netnaught.store.coding import Party

router = APIRouter(prefix="/api/companies/{company_id}", tags=["coding"])

Name = Annotated[Text, Field(min_length=1, max_length=80)]
Positive = Annotated[int, Field(ge=0, le=10**13)]


class DepartmentOut(BaseModel):
    """A department."""

    id: int
    name: str


class TaxOut(BaseModel):
    """A tax. `rate`: millionths."""

    id: int
    code: str
    rate: int
    gl_account_id: int


class PartyBody(BaseModel):
    """A party with its usual account, tax and department."""

    name: Name
    gl_account_id: ItemId | None = None
    tax_code_id: ItemId | None = None
    department_id: ItemId | None = None


class ListsOut(BaseModel):
    """What a line can be coded with."""

    departments: list[DepartmentOut]
    taxes: list[TaxOut]
    parties: list[PartyBody]


class DepartmentIn(BaseModel):
    """A department's name."""

    name: Name


class TaxIn(BaseModel):
    """A tax: its rate in millionths, and the account it is posted to."""

    code: Annotated[Text, Field(min_length=1, max_length=20)]
    rate: Annotated[int, Field(ge=0, le=1_000_000)]
    gl_account_id: ItemId


class Made(BaseModel):
    """The id of what was made."""

    id: int


class ShareIn(BaseModel):
    """A part of a rule's coding: an account and its share in hundredths of a percent."""

    gl_account_id: ItemId
    share: Annotated[int, Field(ge=1, le=10_000)] = 10_000
    tax_code_id: ItemId | None = None
    department_id: ItemId | None = None
    tags: Annotated[list[Text], Field(max_length=10)] = []


class RuleBody(BaseModel):
    """A coding rule. `low`, `high`: the amount without its sign, minor units."""

    name: Name
    text: Annotated[Text, Field(max_length=200)] = ""
    how: TextMatch = TextMatch.CONTAINS
    way: WayOfMoney = WayOfMoney.ANY
    low: Positive | None = None
    high: Positive | None = None
    kind: LineKind | None = None
    bank_account_id: ItemId | None = None
    at_once: bool = False
    payee: Text = ""
    memo: Text = ""
    shares: Annotated[list[ShareIn], Field(min_length=1, max_length=20)]

    def values(self) -> dict[str, Any]:
        return self.model_dump(mode="json")


class RuleChange(RuleBody):
    """New values of a rule, switched on or off."""

    active: bool


class RuleOut(RuleBody):
    """A rule in its place, how often it was used, who made it."""

    id: int
    active: bool
    uses: int
    made_by: str


class OrderIn(BaseModel):
    """Every rule's id, in the order in which they are tried."""

    ids: Annotated[list[ItemId], Field(max_length=500)]


class TriedLine(BaseModel):
    """A past line that the rule would have coded, and whether that agrees with what was done."""

    date: Day
    description: str
    amount: Amount
    was: str
    agrees: bool


class TriedOut(BaseModel):
    """What a rule would have coded: how many lines, how many otherwise than was done, the newest of them."""

    lines: int
    differs: int
    samples: list[TriedLine]


def _rule(known: coding.KnownRule) -> RuleOut:
    rule: Rule = known.rule
    return RuleOut(
        id=rule.id,
        active=rule.active,
        uses=known.uses,
        made_by=known.made_by,
        name=rule.name,
        text=rule.text,
        how=rule.how,
        way=rule.way,
        low=rule.low,
        high=rule.high,
        kind=rule.kind,
        bank_account_id=rule.bank_account_id,
        at_once=rule.at_once,
        payee=rule.coding.payee,
        memo=rule.coding.memo,
        shares=[
            ShareIn(
                gl_account_id=s.gl_account_id,
                share=s.share,
                tax_code_id=s.tax_code_id,
                department_id=s.department_id,
                tags=list(s.tags),
            )
            for s in rule.coding.shares
        ],
    )


@router.get("/coding", operation_id="codingLists")
def get_lists(ctx: Ctx, company_id: Id) -> ListsOut:
    """Departments, taxes and parties."""
    found = coding.lists(ctx, company_id)
    return ListsOut(
        departments=[DepartmentOut.model_validate(d, from_attributes=True) for d in found.departments],
        taxes=[TaxOut.model_validate(t, from_attributes=True) for t in found.taxes],
        parties=[PartyBody.model_validate(p, from_attributes=True) for p in found.parties],
    )


@router.post("/departments", operation_id="addDepartment", status_code=201)
def post_department(ctx: Ctx, company_id: Id, body: DepartmentIn) -> Made:
    """Add a department."""
    return Made(id=coding.add_department(ctx, company_id, body.name))


@router.post("/taxes", operation_id="addTax", status_code=201)
def post_tax(ctx: Ctx, company_id: Id, body: TaxIn) -> Made:
    """Add a tax."""
    return Made(id=coding.add_tax_code(ctx, company_id, body.code, body.rate, body.gl_account_id))


@router.put("/parties", operation_id="writeParty", status_code=204)
def put_party(ctx: Ctx, company_id: Id, body: PartyBody) -> None:
    """Say what usually goes with a party."""
    coding.write_party(ctx, company_id, Party(0, **body.model_dump()))


@router.get("/rules", operation_id="codingRules")
def get_rules(ctx: Ctx, company_id: Id) -> list[RuleOut]:
    """The coding rules in their order."""
    return [_rule(known) for known in coding.list_rules(ctx, company_id)]


@router.post("/rules", operation_id="addRule", status_code=201)
def post_rule(ctx: Ctx, company_id: Id, body: RuleBody) -> Made:
    """Keep a rule; it acts at once on the lines still open."""
    return Made(id=coding.add_rule(ctx, company_id, body.values()))


@router.post("/rules/try", operation_id="tryRule")
def post_try(ctx: Ctx, company_id: Id, body: RuleBody) -> TriedOut:
    """What a rule would have coded of all past lines; nothing is kept."""
    found = coding.try_rule(ctx, company_id, body.values())
    ordered = sorted(found, key=lambda tried: tried.agrees)
    return TriedOut(
        lines=len(found),
        differs=sum(not tried.agrees for tried in found),
        samples=[
            TriedLine(
                date=tried.line.date,
                description=tried.line.description,
                amount=tried.line.amount,
                was=tried.was,
                agrees=tried.agrees,
            )
            for tried in ordered[:8]
        ],
    )


@router.put("/rules/order", operation_id="orderRules", status_code=204)
def put_order(ctx: Ctx, company_id: Id, body: OrderIn) -> None:
    """Put the rules in an order: the first that applies codes a line."""
    coding.order_rules(ctx, company_id, body.ids)


@router.put("/rules/{rule_id}", operation_id="writeRule", status_code=204)
def put_rule(ctx: Ctx, company_id: Id, rule_id: Id, body: RuleChange) -> None:
    """Change a rule, or switch it off."""
    values = body.values()
    values.pop("active")
    coding.write_rule(ctx, company_id, rule_id, values, body.active)


@router.delete("/rules/{rule_id}", operation_id="removeRule", status_code=204)
def delete_rule(ctx: Ctx, company_id: Id, rule_id: Id) -> None:
    """Take a rule away; what it has coded stays."""
    coding.remove_rule(ctx, company_id, rule_id)
