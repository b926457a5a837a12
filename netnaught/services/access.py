"""Who is at work, what they may do, and the way into a company's books.

Every use case enters through `company_for`, `account_for` or `reconciliation_for`: nothing
is reached without a membership and a right.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum

from netnaught.services.errors import Conflict, Forbidden, NotFound
from netnaught.store import audit, bank_accounts, companies, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company, Membership
from netnaught.store.database import Connection
from netnaught.store.reconciliations import Reconciliation
from netnaught.store.users import User


@dataclass(frozen=True, slots=True)
class Context:
    """One request: the database, the person, the time; the reason given for altering something sealed or locked.

    `address`: from where the request came, for the audit trail.
    """

    db: Connection
    user: User
    now: datetime
    reason: str = ""
    address: str = ""

    @property
    def stamp(self) -> str:
        """The time as it is stored: UTC, to the second."""
        return self.now.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")


class Right(StrEnum):
    """What a role may allow."""

    READ = "read"
    PREPARE = "prepare"
    TICK = "tick"
    SEAL = "seal"
    APPROVE = "approve"
    BREAK = "break"
    ALTER = "alter"
    MANAGE = "manage"


class Role(StrEnum):
    """Roles of a user in a company."""

    OWNER = "owner"
    PREPARER = "preparer"
    REVIEWER = "reviewer"
    VIEWER = "viewer"


RIGHTS: dict[Role, frozenset[Right]] = {
    Role.OWNER: frozenset(Right),
    Role.PREPARER: frozenset({Right.READ, Right.PREPARE, Right.TICK, Right.SEAL}),
    Role.REVIEWER: frozenset({Right.READ, Right.SEAL, Right.APPROVE, Right.BREAK}),
    Role.VIEWER: frozenset({Right.READ}),
}
_DOING = {
    Right.READ: "read this company's books",
    Right.PREPARE: "work on this company's books",
    Right.TICK: "tick entries",
    Right.SEAL: "seal a reconciliation",
    Right.APPROVE: "approve a reconciliation",
    Right.BREAK: "break a seal",
    Right.ALTER: "alter what is sealed or locked",
    Right.MANAGE: "change the setup",
}


@dataclass(frozen=True, slots=True)
class Desk:
    """A reconciliation with its account and company: where the work is done."""

    company: Company
    account: BankAccount
    reconciliation: Reconciliation


def company_for(ctx: Context, company_id: int, right: Right = Right.READ) -> Company:
    """The company, if the user may; NotFound for strangers, Forbidden for members without the right."""
    member = companies.membership(ctx.db, company_id, ctx.user.id)
    if member is None:
        raise NotFound("There is no such company among yours.")
    refuse_without(member, right)
    return member.company


def rights_of(member: Membership) -> frozenset[Right]:
    """What a member may do: what the role allows, with what is switched on or off for the person."""
    on = {Right(name) for name, allowed in member.switched.items() if allowed}
    off = {Right(name) for name, allowed in member.switched.items() if not allowed}
    return (RIGHTS[Role(member.role)] | on) - off


def refuse_without(member: Membership, right: Right) -> None:
    """Forbidden, naming the role, when a member has not this right."""
    if right not in rights_of(member):
        switched = " (switched off for you)" if right in RIGHTS[Role(member.role)] else ""
        raise Forbidden(f"A {member.role} may not {_DOING[right]}{switched}. Nothing was changed.")


def account_for(
    ctx: Context, company_id: int, account_id: int, right: Right = Right.READ
) -> tuple[Company, BankAccount]:
    """The bank account and its company."""
    company = company_for(ctx, company_id, right)
    account = bank_accounts.bank_account(ctx.db, company_id, account_id)
    if account is None:
        raise NotFound(f"{company.name} has no such bank account.")
    return company, account


def require_account(ctx: Context, company_id: int, account_id: int) -> BankAccount:
    """A bank account of a company one has come into already."""
    account = bank_accounts.bank_account(ctx.db, company_id, account_id)
    if account is None:
        raise NotFound("There is no such bank account in this company.")
    return account


def require_reconciliation(ctx: Context, company_id: int, reconciliation_id: int) -> Reconciliation:
    """A reconciliation of a company one has come into already."""
    found = reconciliations.reconciliation(ctx.db, company_id, reconciliation_id)
    if found is None:
        raise NotFound("There is no such reconciliation in this company.")
    return found


def reconciliation_for(ctx: Context, company_id: int, reconciliation_id: int, right: Right = Right.READ) -> Desk:
    """The reconciliation with its account and company."""
    company = company_for(ctx, company_id, right)
    found = reconciliations.reconciliation(ctx.db, company_id, reconciliation_id)
    if found is None:
        raise NotFound(f"{company.name} has no such reconciliation.")
    return Desk(company, require_account(ctx, company_id, found.bank_account_id), found)


def open_desk(ctx: Context, company_id: int, reconciliation_id: int, right: Right = Right.PREPARE) -> Desk:
    """The same, only where it may still be worked on; Conflict when it is sealed or in review.

    What is sealed may be altered by who has that right and gave a reason.
    """
    desk = reconciliation_for(ctx, company_id, reconciliation_id, right)
    if desk.reconciliation.sealed:
        if not ctx.reason.strip():
            raise Conflict("This reconciliation is sealed; nothing was changed.")
        company_for(ctx, company_id, Right.ALTER)
    if desk.reconciliation.stage == "in review":
        raise Conflict(
            "This reconciliation is in review and frozen until it is approved or returned. Nothing was changed."
        )
    return desk


def record_event(
    ctx: Context,
    company_id: int | None,
    what: str,
    entity: str,
    entity_id: int | None = None,
    *,
    before: audit.Values | None = None,
    after: audit.Values | None = None,
) -> None:
    """Write one event of this request into the audit trail, with the reason given for altering what stands."""
    if ctx.reason:
        after = {**(after or {}), "reason": ctx.reason}
    if ctx.address:
        after = {**(after or {}), "from": ctx.address}
    audit.append(
        ctx.db,
        company_id=company_id,
        user_id=ctx.user.id,
        at=ctx.stamp,
        what=what,
        entity=entity,
        entity_id=entity_id,
        before=before,
        after=after,
    )
