"""The Board and the accounts of a company."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text
from netnaught.core.ledger import AccountKind, BankAccountKind
from netnaught.core.ring import Ring, RingState
from netnaught.services import board, setup
from netnaught.services.board import TodoKind
from netnaught.store.bank_accounts import BankAccount

router = APIRouter(prefix="/api", tags=["board"])


class RingOut(BaseModel):
    """A ring: its form and the arc drawn, `done` of `of`."""

    state: RingState
    done: int
    of: int

    @classmethod
    def of_ring(cls, ring: Ring) -> RingOut:
        return cls(state=ring.state, done=ring.done, of=ring.of)


class AccountOut(BaseModel):
    """A bank, card or cash account."""

    id: int
    name: str
    bank: str
    number: str
    kind: BankAccountKind
    currency: str
    gl_number: str
    starting_date: Day
    starting_balance: int

    @classmethod
    def of_account(cls, account: BankAccount) -> AccountOut:
        names = (
            *("id", "name", "bank", "number", "kind"),
            *("currency", "gl_number", "starting_date", "starting_balance"),
        )
        return cls(**{name: getattr(account, name) for name in names})


class CellOut(BaseModel):
    """One ring on the Board."""

    month: str
    ring: RingOut
    reconciliation_id: int | None
    closing_date: Day | None
    difference: int | None


class AccountRowOut(BaseModel):
    """An account and its rings."""

    account: AccountOut
    cells: list[CellOut]


class CompanyBoardOut(BaseModel):
    """A company on the Board."""

    id: int
    name: str
    role: str
    accounts: list[AccountRowOut]


class TodoOut(BaseModel):
    """One thing to do."""

    kind: TodoKind
    company_id: int
    account_id: int
    reconciliation_id: int | None
    title: str
    text: str
    action: str
    ring: RingOut


class BoardOut(BaseModel):
    """Companies, accounts by months, and what is next to do."""

    months: list[str]
    companies: list[CompanyBoardOut]
    todo: list[TodoOut]


class GlAccountOut(BaseModel):
    """A ledger account."""

    id: int
    number: str
    name: str
    kind: AccountKind
    closed: bool


class GlAccountIn(BaseModel):
    """A new ledger account."""

    number: Text
    name: Text
    kind: AccountKind


class BankAccountIn(BaseModel):
    """A new bank, card or cash account. `starting_balance`: the statement's, minor units."""

    gl_account_id: ItemId
    name: Text
    bank: Text
    number: Text
    kind: BankAccountKind
    currency: Text
    starting_date: Day
    starting_balance: Amount


@router.get("/board", operation_id="board")
def get_board(ctx: Ctx) -> BoardOut:
    """The Board over all companies of the person signed in."""
    found = board.board(ctx)
    companies = [
        CompanyBoardOut(
            id=c.company.id,
            name=c.company.name,
            role=c.role,
            accounts=[
                AccountRowOut(
                    account=AccountOut.of_account(row.account),
                    cells=[
                        CellOut(
                            month=cell.month,
                            ring=RingOut.of_ring(cell.ring),
                            reconciliation_id=cell.reconciliation_id,
                            closing_date=cell.closing_date,
                            difference=cell.difference,
                        )
                        for cell in row.cells
                    ],
                )
                for row in c.accounts
            ],
        )
        for c in found.companies
    ]
    todo = [
        TodoOut(
            kind=t.kind,
            company_id=t.company_id,
            account_id=t.account_id,
            reconciliation_id=t.reconciliation_id,
            title=t.title,
            text=t.text,
            action=t.action,
            ring=RingOut.of_ring(t.ring),
        )
        for t in found.todo
    ]
    return BoardOut(months=list(found.months), companies=companies, todo=todo)


class ReconciliationOut(BaseModel):
    """A reconciliation of an account, by its closing date."""

    id: int
    closing_date: Day
    sealed: bool
    stage: str


@router.get("/companies/{company_id}/accounts/{account_id}/reconciliations", operation_id="reconciliations")
def get_reconciliations(ctx: Ctx, company_id: Id, account_id: Id) -> list[ReconciliationOut]:
    """All reconciliations of an account, oldest first."""
    return [
        ReconciliationOut(id=r.id, closing_date=r.closing_date, sealed=r.sealed, stage=r.stage)
        for r in board.reconciliations_of(ctx, company_id, account_id)
    ]


@router.get("/companies/{company_id}/gl-accounts", operation_id="glAccounts")
def get_gl_accounts(ctx: Ctx, company_id: Id) -> list[GlAccountOut]:
    """The chart of accounts."""
    return [
        GlAccountOut(id=a.id, number=a.number, name=a.name, kind=a.kind, closed=a.closed)
        for a in setup.chart_of_accounts(ctx, company_id)
    ]


@router.post("/companies/{company_id}/gl-accounts", operation_id="addGlAccount", status_code=201)
def post_gl_account(ctx: Ctx, company_id: Id, body: GlAccountIn) -> GlAccountOut:
    """A new ledger account."""
    a = setup.add_gl_account(ctx, company_id, body.number, body.name, body.kind)
    return GlAccountOut(id=a.id, number=a.number, name=a.name, kind=a.kind, closed=a.closed)


@router.post("/companies/{company_id}/bank-accounts", operation_id="addBankAccount", status_code=201)
def post_bank_account(ctx: Ctx, company_id: Id, body: BankAccountIn) -> AccountOut:
    """A new bank, card or cash account on its control account."""
    account = setup.open_bank_account(
        ctx,
        company_id,
        gl_account_id=body.gl_account_id,
        name=body.name,
        bank=body.bank,
        number=body.number,
        kind=body.kind,
        code=body.currency,
        starting_date=body.starting_date,
        starting_balance=body.starting_balance,
    )
    return AccountOut.of_account(account)
