"""Setting up: companies, people, accounts."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict
from datetime import date

from netnaught.core.ledger import AccountKind, BankAccountKind
from netnaught.core.money import MoneyError, currency
from netnaught.core.outstanding import StaleRules
from netnaught.services.access import Context, Right, Role, company_for, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound, Refused
from netnaught.services.sign_in import hash_password
from netnaught.store import bank_accounts, companies, ledger, users
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company, Member, Membership
from netnaught.store.database import Connection, atomic
from netnaught.store.ledger import GlAccount
from netnaught.store.users import User

# The longest a stale rule may wait.
MOST_MONTHS = 60
MOST_DAYS = 3650


def add_user(db: Connection, email: str, name: str, password: str, now: str) -> User:
    """A new person; Conflict when the address is taken."""
    if "@" not in email or not name.strip():
        raise BadInput("A person needs a name and an e-mail address.", field="email", value=email)
    try:
        with atomic(db):
            return users.add_user(db, email.strip(), name.strip(), hash_password(password), now)
    except sqlite3.IntegrityError:
        raise Conflict(f"{email} is already a user.") from None


def found_company(db: Connection, name: str, code: str, locale: str, now: str) -> Company:
    """A new company; BadInput when its currency is none."""
    try:
        currency(code)
    except MoneyError as error:
        raise BadInput(str(error), field="currency", value=code) from None
    with atomic(db):
        return companies.add_company(db, name, code, locale, now)


def give_role(db: Connection, company_name: str, user: User, role: Role) -> None:
    """Make a person a member of the company of that name."""
    company = companies.company_named(db, company_name)
    if company is None:
        raise NotFound(f"There is no company named {company_name!r}.")
    with atomic(db):
        companies.set_role(db, company.id, user.id, role)


def my_companies(ctx: Context) -> list[Membership]:
    """The companies of the person at work."""
    return companies.memberships(ctx.db, ctx.user.id)


def chart_of_accounts(ctx: Context, company_id: int) -> list[GlAccount]:
    """The company's ledger accounts, by number."""
    company_for(ctx, company_id)
    return ledger.gl_accounts(ctx.db, company_id)


def set_lock_date(ctx: Context, company_id: int, day: date | None) -> None:
    """Lock the books up to a day, or (None) open them."""
    with atomic(ctx.db):
        company = company_for(ctx, company_id, Right.MANAGE)
        companies.set_lock_date(ctx.db, company_id, day)
        before, after = company.lock_date, day
        record_event(
            ctx,
            company_id,
            "lock date set",
            "company",
            company_id,
            before={"lock_date": before.isoformat() if before else None},
            after={"lock_date": after.isoformat() if after else None},
        )


def set_stale_rules(ctx: Context, company_id: int, rules: StaleRules) -> None:
    """Say when an outstanding entry is stale; BadInput when a limit is none."""
    with atomic(ctx.db):
        company = company_for(ctx, company_id, Right.MANAGE)
        if not 1 <= rules.check_months <= MOST_MONTHS:
            raise BadInput(
                f"must be from 1 to {MOST_MONTHS} months", field="check_months", value=str(rules.check_months)
            )
        for name, days in (("deposit_days", rules.deposit_days), ("payment_days", rules.payment_days)):
            if days is not None and not 1 <= days <= MOST_DAYS:
                raise BadInput(f"must be from 1 to {MOST_DAYS:,} days, or none", field=name, value=str(days))
        companies.set_stale_rules(ctx.db, company_id, rules)
        before, after = asdict(company.stale), asdict(rules)
        record_event(ctx, company_id, "stale rules set", "company", company_id, before=before, after=after)


def add_gl_account(ctx: Context, company_id: int, number: str, name: str, kind: AccountKind) -> GlAccount:
    """A new ledger account; Conflict when its number is taken."""
    company_for(ctx, company_id, Right.MANAGE)
    try:
        with atomic(ctx.db):
            account = ledger.add_gl_account(ctx.db, company_id, number, name, kind)
            record_event(ctx, company_id, "ledger account added", "gl_account", account.id, after={"number": number})
            return account
    except sqlite3.IntegrityError:
        raise Conflict(f"Account {number} already exists.") from None


def open_bank_account(
    ctx: Context,
    company_id: int,
    *,
    gl_account_id: int,
    name: str,
    bank: str,
    number: str,
    kind: BankAccountKind,
    code: str,
    starting_date: date,
    starting_balance: int,
) -> BankAccount:
    """A bank, card or cash account on its control account.

    `starting_balance`: the statement's at the starting date, minor units.
    """
    company_for(ctx, company_id, Right.MANAGE)
    if ledger.gl_account(ctx.db, company_id, gl_account_id) is None:
        raise NotFound("There is no such ledger account in this company.")
    try:
        currency(code)
    except MoneyError as error:
        raise BadInput(str(error), field="currency", value=code) from None
    try:
        with atomic(ctx.db):
            account = bank_accounts.add_bank_account(
                ctx.db,
                company_id,
                gl_account_id=gl_account_id,
                name=name,
                bank=bank,
                number=number,
                kind=kind,
                currency=code,
                starting_date=starting_date,
                starting_balance=starting_balance,
            )
            record_event(ctx, company_id, "bank account opened", "bank_account", account.id, after={"name": name})
            return account
    except sqlite3.IntegrityError:
        raise Conflict("Another bank account already has this control account.") from None


def set_account_closed(ctx: Context, company_id: int, account_id: int, closed: bool) -> None:
    """Close a ledger account for further postings, or open it again."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.MANAGE)
        if ledger.gl_account(ctx.db, company_id, account_id) is None:
            raise NotFound("There is no such ledger account in this company. Nothing was changed.")
        ledger.set_closed(ctx.db, company_id, account_id, closed)
        what = "ledger account closed" if closed else "ledger account opened"
        record_event(ctx, company_id, what, "gl_account", account_id)


def people(ctx: Context, company_id: int) -> list[Member]:
    """The people of a company, with their roles and what is switched for them."""
    company_for(ctx, company_id)
    return companies.members(ctx.db, company_id)


SWITCHABLE = (Right.SEAL, Right.APPROVE, Right.BREAK, Right.ALTER, Right.TICK, Right.MANAGE)


def switch_right(ctx: Context, company_id: int, user_id: int, right: Right, allowed: bool | None) -> None:
    """Switch a right on or off for one person; None: as the role says. Nobody takes the setup from themselves."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.MANAGE)
        if companies.membership(ctx.db, company_id, user_id) is None:
            raise NotFound("There is no such person in this company. Nothing was changed.")
        if right not in SWITCHABLE:
            raise BadInput("This right comes with the role. Nothing was changed.", field="right", value=right.value)
        if user_id == ctx.user.id and right is Right.MANAGE and allowed is False:
            raise Refused("You would lock yourself out of the setup. Nothing was changed: let another owner do it.")
        companies.switch_right(ctx.db, company_id, user_id, right.value, allowed)
        after: dict[str, object] = {"right": right.value, "allowed": allowed}
        record_event(ctx, company_id, "right switched", "user", user_id, after=after)
