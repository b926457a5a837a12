"""Coding statement lines: rules, how the same text was coded before, and what goes with a party."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from netnaught.core.coding import (
    Coding,
    Part,
    Posting,
    Rule,
    RuleRefused,
    SplitRefused,
    TaxCode,
    TextMatch,
    WayOfMoney,
    code,
    post,
)
from netnaught.core.coding.rules import Share
from netnaught.core.matching.traits import words_of
from netnaught.core.money import currency, plain
from netnaught.core.statement import LineKind, StatementLine
from netnaught.services.access import Context, Desk, Right, company_for, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound
from netnaught.store import coding, ledger, reconciliations, recorded
from netnaught.store.coding import Department, Party
from netnaught.store.database import Connection, atomic
from netnaught.store.statements import StoredLine


@dataclass(frozen=True, slots=True)
class Suggestion:
    """How a line would be coded, and why: by a rule, as the same text was before, or as its party usually is.

    `times`: how often the same text was recorded so before; `conflict`: rules that say otherwise.
    """

    shares: tuple[Share, ...]
    account_name: str
    payee: str
    memo: str
    times: int
    why: str
    rule_id: int | None = None
    conflict: tuple[str, ...] = ()
    at_once: bool = False

    @property
    def account_id(self) -> int:
        """The account of the first share."""
        return self.shares[0].gl_account_id


@dataclass(frozen=True, slots=True)
class Lists:
    """What a line can be coded with."""

    departments: list[Department]
    taxes: list[TaxCode]
    parties: list[Party]


@dataclass(frozen=True, slots=True)
class KnownRule:
    """A rule in its place, how often it was used, and who made it."""

    rule: Rule
    uses: int
    made_by: str


@dataclass(frozen=True, slots=True)
class Tried:
    """A past line that a rule would have coded. `was`: the account it was recorded to, "" where it was not."""

    line: StatementLine
    was: str
    agrees: bool


def lists(ctx: Context, company_id: int) -> Lists:
    """Departments, taxes and parties of a company."""
    company_for(ctx, company_id)
    db = ctx.db
    return Lists(coding.departments(db, company_id), coding.tax_codes(db, company_id), coding.parties(db, company_id))


def add_department(ctx: Context, company_id: int, name: str) -> int:
    """A new department."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        try:
            made = coding.add_department(ctx.db, company_id, name)
        except sqlite3.IntegrityError:
            raise Conflict(f"There is a department {name} already. Nothing was changed.") from None
        record_event(ctx, company_id, "department added", "department", made, after={"name": name})
        return made


def add_tax_code(ctx: Context, company_id: int, name: str, rate: int, gl_account_id: int) -> int:
    """A new tax: its rate in millionths, and the account it is posted to."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.MANAGE)
        _require_account(ctx, company_id, gl_account_id)
        try:
            made = coding.add_tax_code(ctx.db, company_id, name, rate, gl_account_id)
        except sqlite3.IntegrityError:
            raise Conflict(f"There is a tax {name} already. Nothing was changed.") from None
        record_event(ctx, company_id, "tax added", "tax_code", made, after={"code": name, "rate": rate})
        return made


def write_party(ctx: Context, company_id: int, party: Party) -> None:
    """What usually goes with a party."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        if party.gl_account_id is not None:
            _require_account(ctx, company_id, party.gl_account_id)
        known = lists(ctx, company_id)
        if party.tax_code_id not in (None, *(tax.id for tax in known.taxes)):
            raise BadInput("There is no such tax in this company. Nothing was changed.", field="tax_code_id")
        if party.department_id not in (None, *(department.id for department in known.departments)):
            raise BadInput("There is no such department in this company. Nothing was changed.", field="department_id")
        coding.write_party(ctx.db, company_id, party)
        record_event(ctx, company_id, "party written", "company", company_id, after=asdict(party))


def _require_account(ctx: Context, company_id: int, gl_account_id: int) -> None:
    if ledger.gl_account(ctx.db, company_id, gl_account_id) is None:
        raise BadInput("There is no such ledger account in this company. Nothing was changed.", field="gl_account_id")


# posting ------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class PartGiven:
    """A part as a person enters it: account, an amount or a share, tax by its id, department, tags."""

    gl_account_id: int
    amount: int | None = None
    share: int | None = None
    tax_code_id: int | None = None
    on_top: bool = False
    department_id: int | None = None
    tags: tuple[str, ...] = ()
    memo: str = ""


def postings_of(
    ctx: Context, company_id: int, total: int, parts: Sequence[PartGiven], code_of: str
) -> tuple[Posting, ...]:
    """The postings that parts make of an amount; BadInput says by how much they fail, or what they name wrongly."""
    known = {tax.id: tax for tax in coding.tax_codes(ctx.db, company_id)}
    departments = {department.id for department in coding.departments(ctx.db, company_id)}
    made: list[Part] = []
    for part in parts:
        _require_account(ctx, company_id, part.gl_account_id)
        if part.tax_code_id not in (None, *known):
            raise BadInput("There is no such tax in this company. Nothing was changed.", field="parts")
        if part.department_id not in (None, *departments):
            raise BadInput("There is no such department in this company. Nothing was changed.", field="parts")
        tax = known[part.tax_code_id] if part.tax_code_id is not None else None
        made.append(
            Part(
                part.gl_account_id, part.amount, part.share, tax, part.on_top, part.department_id, part.tags, part.memo
            )
        )
    try:
        return post(total, made)
    except SplitRefused as error:
        said, of = str(error), currency(code_of)
        if error.short:
            said = f"{plain(error.short, of)} of {plain(total, of)} is not placed"
        raise BadInput(f"{said[0].upper()}{said[1:]}. Nothing was changed.", field="parts") from None


def parts_of(shares: Sequence[Share]) -> list[PartGiven]:
    """The parts of a rule's or a suggestion's shares; one share takes all that is there."""
    if len(shares) == 1:
        only = shares[0]
        return [PartGiven(only.gl_account_id, None, None, only.tax_code_id, False, only.department_id, only.tags)]
    return [PartGiven(s.gl_account_id, None, s.share, s.tax_code_id, False, s.department_id, s.tags) for s in shares]


# rules --------------------------------------------------------------------------------------------


def _rule_of(stored: coding.StoredRule) -> Rule:
    return replace(rule_of(stored.values), id=stored.id, active=stored.active)


def rule_of(values: dict[str, Any]) -> Rule:
    """A rule from its values; BadInput names what is wrong."""
    try:
        shares = tuple(Share(**{**share, "tags": tuple(share.get("tags", ()))}) for share in values["shares"])
        made = Rule(
            0,
            str(values["name"]),
            str(values.get("text", "")),
            TextMatch(values.get("how", TextMatch.CONTAINS)),
            Coding(shares, str(values.get("payee", "")), str(values.get("memo", ""))),
            WayOfMoney(values.get("way", WayOfMoney.ANY)),
            values.get("low"),
            values.get("high"),
            LineKind(values["kind"]) if values.get("kind") else None,
            values.get("bank_account_id"),
            bool(values.get("at_once", False)),
        )
        made.check()
    except RuleRefused as error:
        said = str(error)
        raise BadInput(f"{said[0].upper()}{said[1:]}. Nothing was changed.", field="rule") from None
    except (KeyError, TypeError, ValueError) as error:
        raise BadInput(f"The rule is not complete: {error}. Nothing was changed.", field="rule") from None
    return made


def rules_of(db: Connection, company_id: int) -> list[Rule]:
    """The rules of a company in their order."""
    return [_rule_of(stored) for stored in coding.rules(db, company_id)]


def list_rules(ctx: Context, company_id: int) -> list[KnownRule]:
    """The rules with how often each was used."""
    company_for(ctx, company_id)
    return [KnownRule(_rule_of(s), s.uses, s.created_by) for s in coding.rules(ctx.db, company_id)]


def _checked(ctx: Context, company_id: int, values: dict[str, Any]) -> Rule:
    rule = rule_of(values)
    for share in rule.coding.shares:
        part = PartGiven(share.gl_account_id, None, None, share.tax_code_id, False, share.department_id)
        postings_of(ctx, company_id, 100, [part], "USD")
    return rule


def add_rule(ctx: Context, company_id: int, values: dict[str, Any]) -> int:
    """Keep a rule; it acts at once on the lines still open and leaves the decided ones."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        _checked(ctx, company_id, values)
        made = coding.add_rule(ctx.db, company_id, values, ctx.user.id, ctx.stamp)
        _changed(ctx, company_id)
        record_event(ctx, company_id, "coding rule added", "coding_rule", made, after=values)
        return made


def write_rule(ctx: Context, company_id: int, rule_id: int, values: dict[str, Any], active: bool) -> None:
    """Change a rule, or switch it off."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        if rule_id not in {stored.id for stored in coding.rules(ctx.db, company_id)}:
            raise NotFound("There is no such rule. Nothing was changed.")
        _checked(ctx, company_id, values)
        coding.write_rule(ctx.db, company_id, rule_id, values, active)
        _changed(ctx, company_id)
        record_event(ctx, company_id, "coding rule changed", "coding_rule", rule_id, after={**values, "active": active})


def order_rules(ctx: Context, company_id: int, ids: Sequence[int]) -> None:
    """Put the rules in an order; every one is named once."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        known = [stored.id for stored in coding.rules(ctx.db, company_id)]
        if sorted(ids) != sorted(known):
            raise BadInput("Every rule is named exactly once. Nothing was changed.", field="ids")
        coding.order_rules(ctx.db, company_id, ids)
        _changed(ctx, company_id)
        record_event(ctx, company_id, "coding rules ordered", "company", company_id, after={"ids": list(ids)})


def remove_rule(ctx: Context, company_id: int, rule_id: int) -> None:
    """Take a rule away; what it has coded stays."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.PREPARE)
        if not coding.remove_rule(ctx.db, company_id, rule_id, ctx.stamp):
            raise NotFound("There is no such rule. Nothing was changed.")
        _changed(ctx, company_id)
        record_event(ctx, company_id, "coding rule removed", "coding_rule", rule_id)


def _changed(ctx: Context, company_id: int) -> None:
    """Open Spines of the company ask anew."""
    reconciliations.note_company_change(ctx.db, company_id)


def try_rule(ctx: Context, company_id: int, values: dict[str, Any]) -> list[Tried]:
    """Every past line that a rule would have coded, newest first, and what was done with it."""
    company_for(ctx, company_id, Right.PREPARE)
    rule = _checked(ctx, company_id, values)
    wanted = rule.coding.shares[0].gl_account_id
    found: list[Tried] = []
    for past in recorded.lines_with_accounts(ctx.db, company_id):
        if rule.applies(past.line, past.bank_account_id):
            found.append(Tried(past.line, past.account_name, past.account_id in (None, wanted)))
    return found


# suggestions --------------------------------------------------------------------------------------


def text_key(description: str) -> str:
    """A description without its digits and marks: what makes two lines the same text."""
    return re.sub(r"[^a-z]+", " ", description.lower()).strip()


def suggestions(ctx: Context, desk: Desk, lines: Sequence[StoredLine]) -> dict[int, Suggestion]:
    """For each line how it would be coded: a rule outranks how the same text was coded before, that the party."""
    company = desk.company.id
    rules = rules_of(ctx.db, company)
    names = {account.id: account.name for account in ledger.gl_accounts(ctx.db, company)}
    past: dict[str, list[recorded.Recorded]] = {}
    for item in recorded.recorded_lines(ctx.db, company, desk.account.id):
        past.setdefault(text_key(item.description), []).append(item)
    parties = [party for party in coding.parties(ctx.db, company) if party.gl_account_id is not None]
    found: dict[int, Suggestion] = {}
    for stored in lines:
        made = (
            _by_rule(stored.line, desk, rules, names)
            or _as_before(past.get(text_key(stored.line.description), []))
            or _by_party(stored.line, parties, names)
        )
        if made is not None:
            found[stored.id] = made
    return found


def _by_rule(line: StatementLine, desk: Desk, rules: Sequence[Rule], names: dict[int, str]) -> Suggestion | None:
    coded = code(line, desk.account.id, rules)
    if coded is None:
        return None
    rule = coded.rule
    return Suggestion(
        rule.coding.shares,
        _named(rule.coding.shares, names),
        rule.coding.payee,
        rule.coding.memo,
        0,
        f"rule “{rule.name}”",
        rule.id,
        tuple(other.name for other in coded.others),
        rule.at_once,
    )


def _named(shares: Sequence[Share], names: dict[int, str]) -> str:
    more = f" and {len(shares) - 1} more" if len(shares) > 1 else ""
    return names.get(shares[0].gl_account_id, "") + more


def _as_before(alike: Sequence[recorded.Recorded]) -> Suggestion | None:
    if not alike or not text_key(alike[0].description):
        return None
    newest = alike[0]
    times = sum(1 for item in alike if item.account_id == newest.account_id)
    last = "as the last time" if times == 1 else f"as the last {times} times"
    return Suggestion((Share(newest.account_id),), newest.account_name, newest.payee, "", times, last)


def _by_party(line: StatementLine, parties: Sequence[Party], names: dict[int, str]) -> Suggestion | None:
    """The one party whose every telling word stands in the line's text."""
    words = words_of(line.description)
    named = [party for party in parties if (own := words_of(party.name)) and own <= words]
    if len(named) != 1:
        return None
    (party,) = named
    share = Share(party.gl_account_id or 0, 10_000, party.tax_code_id, party.department_id)
    return Suggestion(
        (share,), names.get(share.gl_account_id, ""), party.name, "", 0, f"what usually goes with {party.name}"
    )
