"""From the Spine into the books: recording what they lack, correcting what they have wrong."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.coding import Posting
from netnaught.core.matching import PassName
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.statement import StatementLine
from netnaught.core.wording import count
from netnaught.services import deciding, entries, steps
from netnaught.services.access import Context, Desk, open_desk, record_event
from netnaught.services.coding import PartGiven, parts_of, postings_of, suggestions
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, NotFound
from netnaught.services.writing import wording
from netnaught.store import coding, statements
from netnaught.store.database import atomic
from netnaught.store.reconciliations import NewDecision
from netnaught.store.statements import StoredLine


def _lines(ctx: Context, desk: Desk, line_ids: Sequence[int]) -> list[StatementLine]:
    """Lines of this reconciliation, in the order asked for."""
    mine = {found.id: found.line for found in statements.lines_of(ctx.db, desk.company.id, desk.reconciliation.id)}
    if not set(line_ids) <= set(mine):
        raise NotFound("A statement line does not belong to this reconciliation. Nothing was changed.")
    return [mine[line_id] for line_id in line_ids]


def _require_line(ctx: Context, desk: Desk, line_id: int) -> StoredLine:
    mine = statements.lines_of(ctx.db, desk.company.id, desk.reconciliation.id)
    found = next((line for line in mine if line.id == line_id), None)
    if found is None:
        raise NotFound("This statement line does not belong to this reconciliation. Nothing was changed.")
    return found


@dataclass(frozen=True, slots=True)
class Recording:
    """How lines are to be recorded: the parts of each line's amount, the payee, the memo, the rule that said so."""

    parts: tuple[PartGiven, ...]
    payee: str = ""
    memo: str = ""
    rule_id: int | None = None


def preview(
    ctx: Context, company_id: int, reconciliation_id: int, line_id: int, parts: Sequence[PartGiven]
) -> tuple[Posting, ...]:
    """The postings that recording a line would make beside the control account's; nothing is changed."""
    desk = open_desk(ctx, company_id, reconciliation_id)
    line = _require_line(ctx, desk, line_id).line
    return postings_of(ctx, company_id, line.amount, parts, desk.account.currency)


def record_lines(
    ctx: Context, company_id: int, reconciliation_id: int, line_ids: Sequence[int], how: Recording
) -> list[int]:
    """Record statement lines the books lack: entry, balanced journal and match for each, all in one step.

    Several lines are recorded alike: shares and what is left follow each line's amount, fixed amounts must fit all.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        if not line_ids:
            raise BadInput("No line is named. Nothing was changed.", field="lines")
        lines = _lines(ctx, desk, line_ids)
        entry_ids = [_write(ctx, desk, line, how) for line in lines]
        why = "recorded from this statement line"
        operations = _match(ctx, desk, [(line, entry, why) for line, entry in zip(line_ids, entry_ids, strict=True)])
        if how.rule_id is not None:
            coding.count_use(ctx.db, company_id, how.rule_id, len(line_ids))
        label = "record in books" if len(line_ids) == 1 else f"record {len(line_ids)} lines in books"
        steps.note(ctx, desk, label, operations)
    return entry_ids


def _write(ctx: Context, desk: Desk, line: StatementLine, how: Recording) -> int:
    """The entry of one line, with its journal."""
    postings = postings_of(ctx, desk.company.id, line.amount, how.parts, desk.account.currency)
    values = EntryValues(
        line.date, line.amount, line.reference, how.payee, how.memo, postings[0].gl_account_id, _plainly(postings)
    )
    return entries.create(ctx, desk.company, desk.account, values, origin="recorded")


def _match(ctx: Context, desk: Desk, made: Sequence[tuple[int, int, str]]) -> list[steps.Operation]:
    """Match lines with the entries recorded from them, each with its reason; what was done, for undo."""
    new = [NewDecision(DecisionKind.MATCH, (line,), (entry,), why) for line, entry, why in made]
    decided = steps.decided(deciding.check_and_add(ctx, desk, new))
    return [*(steps.created(entry) for _, entry, _ in made), decided]


def _plainly(postings: tuple[Posting, ...]) -> tuple[Posting, ...]:
    """Postings that say more than one account and its whole amount; else none are kept beside the account."""
    only = postings[0]
    simple = len(postings) == 1 and not (only.tax_code_id or only.department_id or only.tags or only.memo)
    return () if simple else postings


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
    """Record one line against one account."""
    how = Recording((PartGiven(other_account_id),), payee, memo)
    return record_lines(ctx, company_id, reconciliation_id, [line_id], how)[0]


def run_passes(ctx: Context, company_id: int, reconciliation_id: int, only: frozenset[PassName]) -> tuple[int, int]:
    """Run the passes, then the rules that record at once on what is left: (matches made, lines recorded).

    A line that something was offered for, or that another rule codes otherwise, is left to the person.
    """
    with atomic(ctx.db):
        made = deciding.apply_passes(ctx, company_id, reconciliation_id, only)
        run = deciding.dry_run(ctx, company_id, reconciliation_id)
        offered = {item for proposal in run.outcome.proposals for item in proposal.lines}
        free = {int(line.id) for line in run.outcome.left.lines if line.id not in offered}
        desk = run.bench.desk
        number, operations = _record_by_rules(ctx, desk, [line for line in run.bench.lines if line.id in free])
        if number:
            steps.note(ctx, desk, f"record {count(number, 'line')} by rule", operations)
            record_event(
                ctx, company_id, "recorded by rule", "reconciliation", reconciliation_id, after={"lines": number}
            )
        return made, number


def _record_by_rules(ctx: Context, desk: Desk, lines: Sequence[StoredLine]) -> tuple[int, list[steps.Operation]]:
    """How many lines were recorded, and what was done."""
    own = {stored.id: stored.line for stored in lines}
    made: list[tuple[int, int, str]] = []
    for line_id, found in suggestions(ctx, desk, lines).items():
        if found.at_once and found.rule_id is not None and not found.conflict:
            memo = found.memo or own[line_id].description
            how = Recording(tuple(parts_of(found.shares)), found.payee, memo, found.rule_id)
            made.append((line_id, _write(ctx, desk, own[line_id], how), f"recorded at once by {found.why}"))
            coding.count_use(ctx.db, desk.company.id, found.rule_id)
    return len(made), _match(ctx, desk, made) if made else []


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
        after = before.with_amount(line.amount)
        entries.rewrite(ctx, desk.company, desk.account, entry_id, after)
        say = wording(desk.account.currency, desk.company.locale)
        why = f"entry corrected from {say.amount(before.amount)} to {say.amount(line.amount)}"
        ids = deciding.check_and_add(ctx, desk, [NewDecision(DecisionKind.MATCH, (line_id,), (entry_id,), why)])
        steps.note(ctx, desk, "correct entry", [steps.rewritten(entry_id, before, after), steps.decided(ids)])
        record_event(
            ctx, company_id, "match made", "decision", ids[0], after={"lines": [line_id], "entries": [entry_id]}
        )
    return ids[0]


def correct_in_group(
    ctx: Context,
    company_id: int,
    reconciliation_id: int,
    lines: tuple[int, ...],
    entries_given: tuple[int, ...],
    entry_id: int,
) -> int:
    """Correct one entry of a near group by what the group is off, its journal following, and match all of it.

    BadInput when the group is equal already, when the entry is not of it, or would turn from in to out or to nothing.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        if entry_id not in entries_given or not lines:
            raise BadInput("The entry to correct is one of the group's. Nothing was changed.", field="entry")
        deciding.require_undecided(ctx, desk, lines, entries_given)
        bank = [_require_line(ctx, desk, line).line for line in lines]
        books = [entries.require_entry(ctx, desk.company, desk.account, entry).entry for entry in entries_given]
        off = sum(x.amount for x in bank) - sum(e.amount for e in books)
        if off == 0:
            raise BadInput("The two sides are equal: match them. Nothing was changed.", field="lines")
        before = entries.values_of(ctx, entries.require_entry(ctx, desk.company, desk.account, entry_id), company_id)
        amount = before.amount + off
        if amount == 0 or (amount < 0) != (before.amount < 0):
            raise BadInput(
                "Corrected by that, the entry would turn into its opposite. Nothing was changed.", field="entry"
            )
        after = before.with_amount(amount)
        entries.rewrite(ctx, desk.company, desk.account, entry_id, after)
        say = wording(desk.account.currency, desk.company.locale)
        why = f"one entry corrected from {say.amount(before.amount)} to {say.amount(amount)}"
        ids = deciding.check_and_add(ctx, desk, [NewDecision(DecisionKind.MATCH, lines, entries_given, why)])
        steps.note(ctx, desk, "correct entry", [steps.rewritten(entry_id, before, after), steps.decided(ids)])
        made: dict[str, object] = {"lines": list(lines), "entries": list(entries_given)}
        record_event(ctx, company_id, "match made", "decision", ids[0], after=made)
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
