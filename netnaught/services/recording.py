"""From the Spine into the books: recording what they lack, correcting what they have wrong."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.reconciliation import DecisionKind
from netnaught.services import deciding, entries, steps
from netnaught.services.access import Context, Desk, open_desk, record_event
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, NotFound
from netnaught.services.writing import wording
from netnaught.store import recorded, statements
from netnaught.store.database import atomic
from netnaught.store.reconciliations import NewDecision
from netnaught.store.statements import StoredLine


@dataclass(frozen=True, slots=True)
class Suggestion:
    """How lines of the same text were recorded before: the account, the payee, how often."""

    account_id: int
    account_name: str
    payee: str
    times: int


def _require_line(ctx: Context, desk: Desk, line_id: int) -> StoredLine:
    mine = statements.lines_of(ctx.db, desk.company.id, desk.reconciliation.id)
    found = next((line for line in mine if line.id == line_id), None)
    if found is None:
        raise NotFound("This statement line does not belong to this reconciliation. Nothing was changed.")
    return found


def record_line(
    ctx: Context,
    company_id: int,
    reconciliation_id: int,
    line_id: int,
    *,
    other_account_id: int,
    payee: str,
    memo: str,
) -> int:
    """Record a statement line the books lack: entry, balanced journal entry and match in one step."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        line = _require_line(ctx, desk, line_id).line
        values = EntryValues(line.date, line.amount, line.reference, payee, memo, other_account_id)
        entry_id = entries.create(ctx, desk.company, desk.account, values, origin="recorded")
        new = NewDecision(DecisionKind.MATCH, (line_id,), (entry_id,), "recorded from this statement line")
        ids = deciding.check_and_add(ctx, desk, [new])
        steps.note(ctx, desk, "record in books", [steps.created(entry_id), steps.decided(ids)])
    return entry_id


def correct_to_line(ctx: Context, company_id: int, reconciliation_id: int, line_id: int, entry_id: int) -> int:
    """Correct an entry's amount to what the bank took, its journal following, and match the two."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        deciding.require_undecided(ctx, desk, [line_id], [entry_id])
        line = _require_line(ctx, desk, line_id).line
        stored = entries.require_entry(ctx, desk.company, desk.account, entry_id)
        before = entries.values_of(ctx, stored, company_id)
        if before.amount == line.amount:
            raise BadInput("The entry already has the bank's amount; match the two.", field="entry")
        after = replace(before, amount=line.amount)
        entries.rewrite(ctx, desk.company, desk.account, entry_id, after)
        say = wording(desk.account.currency, desk.company.locale)
        why = f"entry corrected from {say.amount(before.amount)} to {say.amount(line.amount)}"
        ids = deciding.check_and_add(ctx, desk, [NewDecision(DecisionKind.MATCH, (line_id,), (entry_id,), why)])
        steps.note(ctx, desk, "correct entry", [steps.rewritten(entry_id, before, after), steps.decided(ids)])
        record_event(
            ctx, company_id, "match made", "decision", ids[0], after={"lines": [line_id], "entries": [entry_id]}
        )
    return ids[0]


def correct_date(ctx: Context, company_id: int, reconciliation_id: int, entry_id: int, day: date) -> None:
    """Give an entry of the open period another date, its journal following; what it is matched with stays matched."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        stored = entries.require_entry(ctx, desk.company, desk.account, entry_id)
        before = entries.values_of(ctx, stored, company_id)
        if before.date == day:
            raise BadInput("The entry has this date already. Nothing was changed.", field="date", value=day.isoformat())
        after = replace(before, date=day)
        entries.rewrite(ctx, desk.company, desk.account, entry_id, after)
        steps.note(ctx, desk, "correct the date", [steps.rewritten(entry_id, before, after)])


def post_adjustment(
    ctx: Context,
    company_id: int,
    reconciliation_id: int,
    lines: tuple[int, ...],
    entries_given: tuple[int, ...],
    *,
    other_account_id: int,
    payee: str,
    memo: str,
) -> int:
    """Post the difference between lines and entries as an entry with its journal, and match all of it, in one step.

    The adjusting entry is dated as the last of the lines. BadInput when there is nothing to adjust.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        if not lines or not entries_given:
            raise BadInput("An adjustment stands between lines and entries. Nothing was changed.", field="lines")
        deciding.require_undecided(ctx, desk, lines, entries_given)
        bank = [_require_line(ctx, desk, line).line for line in lines]
        books = [entries.require_entry(ctx, desk.company, desk.account, entry).entry for entry in entries_given]
        off = sum(x.amount for x in bank) - sum(e.amount for e in books)
        if off == 0:
            raise BadInput("The two sides are equal: match them. Nothing was changed.", field="lines")
        values = EntryValues(max(x.date for x in bank), off, books[0].reference, payee, memo, other_account_id)
        entry_id = entries.create(ctx, desk.company, desk.account, values, origin="recorded")
        say = wording(desk.account.currency, desk.company.locale)
        why = f"matched with an adjusting entry of {say.amount(off)}"
        new = NewDecision(DecisionKind.MATCH, lines, (*entries_given, entry_id), why)
        ids = deciding.check_and_add(ctx, desk, [new])
        steps.note(ctx, desk, "post adjustment", [steps.created(entry_id), steps.decided(ids)])
        record_event(ctx, company_id, "adjustment posted", "decision", ids[0], after={"amount": off, "entry": entry_id})
    return entry_id


def text_key(description: str) -> str:
    """A description without its digits and marks: what makes two lines the same text."""
    return re.sub(r"[^a-z]+", " ", description.lower()).strip()


def suggestions(ctx: Context, desk: Desk, lines: tuple[StoredLine, ...]) -> dict[int, Suggestion]:
    """For each line, how its text was recorded before in this account, newest choice first."""
    past: dict[str, list[recorded.Recorded]] = {}
    for item in recorded.recorded_lines(ctx.db, desk.company.id, desk.account.id):
        past.setdefault(text_key(item.description), []).append(item)
    found: dict[int, Suggestion] = {}
    for line in lines:
        alike = past.get(text_key(line.line.description), [])
        if alike and text_key(line.line.description):
            newest = alike[0]
            times = sum(1 for item in alike if item.account_id == newest.account_id)
            found[line.id] = Suggestion(newest.account_id, newest.account_name, newest.payee, times)
    return found
