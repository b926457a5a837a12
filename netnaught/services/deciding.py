"""Decisions: matching by hand and by passes, washing, ticking, and withdrawing."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from netnaught.core.alignment import open_items
from netnaught.core.matching import Outcome, PassName, Wash, run_passes
from netnaught.core.reconciliation import DecisionKind, DecisionRefused, check_decision
from netnaught.core.wording import count
from netnaught.services import steps
from netnaught.services.access import Context, Desk, Right, open_desk, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound, Refused
from netnaught.services.passes import passes_of
from netnaught.services.teaching import taught_of
from netnaught.services.workbench import Bench, load_bench
from netnaught.services.writing import wording
from netnaught.store import bank_book, reconciliations, statements
from netnaught.store.database import atomic
from netnaught.store.reconciliations import NewDecision, StoredDecision


@dataclass(frozen=True, slots=True)
class DryRun:
    """What the passes would do now."""

    outcome: Outcome
    bench: Bench


@dataclass(frozen=True, slots=True)
class _Undecided:
    """Amounts of what may still be decided in a reconciliation, by id; minor units."""

    lines: dict[int, int]
    entries: dict[int, int]


def _undecided(ctx: Context, desk: Desk) -> _Undecided:
    company, at = desk.company.id, desk.reconciliation
    made = [found.decision for found in reconciliations.decisions(ctx.db, company, at.id)]
    lines = {item for decision in made for item in decision.lines}
    entries = {item for decision in made for item in decision.entries}
    mine = bank_book.open_entries(ctx.db, company, desk.account.id, at.closing_date)
    return _Undecided(
        {x.id: x.line.amount for x in statements.lines_of(ctx.db, company, at.id) if x.id not in lines},
        {int(e.id): e.amount for e, later in mine if not later and e.id not in entries},
    )


def _require_line(ctx: Context, desk: Desk, undecided: _Undecided, item: int) -> int:
    """The amount of a line of this reconciliation that is not decided yet."""
    if item not in undecided.lines:
        _refuse_decided(ctx, desk, reconciliations.decision_on(ctx.db, desk.company.id, line=item))
        raise NotFound(f"Statement line {item} does not belong to this reconciliation. Nothing was changed.")
    return undecided.lines[item]


def _require_entry(ctx: Context, desk: Desk, undecided: _Undecided, item: int) -> int:
    """The amount of an entry of this bank account that is not cleared yet."""
    if item not in undecided.entries:
        stored = bank_book.stored_entry(ctx.db, desk.company.id, item)
        if stored and stored.bank_account_id == desk.account.id:
            _refuse_decided(ctx, desk, reconciliations.decision_on(ctx.db, desk.company.id, entry=item))
        raise NotFound(f"Entry {item} does not belong to {desk.account.name}. Nothing was changed.")
    return undecided.entries[item]


def _refuse_decided(ctx: Context, desk: Desk, decided: StoredDecision | None) -> None:
    if decided is None:
        return
    at = reconciliations.reconciliation(ctx.db, desk.company.id, decided.reconciliation_id)
    say = wording(desk.account.currency, desk.company.locale)
    where = f" in the reconciliation to {say.day(at.closing_date)}" if at and at.id != desk.reconciliation.id else ""
    done = {"match": "matched", "wash": "washed", "tick": "ticked"}.get(decided.decision.kind, "resolved")
    raise Conflict(f"{decided.made_by} has already {done} this item{where} ({decided.why}). Nothing was changed.")


def require_undecided(ctx: Context, desk: Desk, lines: Sequence[int], entries: Sequence[int]) -> None:
    """Conflict when one of these has been decided by now, saying by whom."""
    undecided = _undecided(ctx, desk)
    for item in lines:
        _require_line(ctx, desk, undecided, item)
    for item in entries:
        _require_entry(ctx, desk, undecided, item)


def check_and_add(ctx: Context, desk: Desk, new: Sequence[NewDecision]) -> list[int]:
    """Check decisions against the rules and store them, inside a transaction."""
    undecided = _undecided(ctx, desk)
    for item in new:
        if len(set(item.lines)) != len(item.lines) or len(set(item.entries)) != len(item.entries):
            raise BadInput("An item is named twice. Nothing was changed.", field="lines")
        lines = [_require_line(ctx, desk, undecided, line) for line in item.lines]
        entries = [_require_entry(ctx, desk, undecided, entry) for entry in item.entries]
        try:
            check_decision(item.kind, lines, entries)
        except DecisionRefused as error:
            message = str(error)
            raise Refused(f"{message[0].upper()}{message[1:]}. Nothing was changed.") from None
    try:
        return reconciliations.add_decisions(
            ctx.db, desk.company.id, desk.reconciliation.id, new, ctx.user.id, ctx.stamp
        )
    except sqlite3.IntegrityError:
        raise Conflict("One of these items has just been decided by somebody else. Nothing was changed.") from None


def match(
    ctx: Context, company_id: int, reconciliation_id: int, lines: Sequence[int], entries: Sequence[int], why: str = ""
) -> int:
    """Match lines with entries, or wash items of one side; allowed only when it comes to zero."""
    kind = DecisionKind.MATCH if lines and entries else DecisionKind.WASH
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        new = NewDecision(kind, tuple(lines), tuple(entries), why or "matched by hand")
        ids = check_and_add(ctx, desk, [new])
        steps.note(ctx, desk, kind.value, [steps.decided(ids)])
        _mark_sealed(ctx, desk, "entry cleared late", entries)
        record_event(
            ctx,
            company_id,
            f"{kind.value} made",
            "decision",
            ids[0],
            after={"lines": list(lines), "entries": list(entries)},
        )
    return ids[0]


def match_pairs(ctx: Context, company_id: int, reconciliation_id: int, pairs: Sequence[tuple[int, int]]) -> list[int]:
    """Match lines and entries of equal amount pair by pair, as one step: the answer to a question."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        why = "equal amounts, paired in date order by hand"
        new = [NewDecision(DecisionKind.MATCH, (line,), (entry,), why) for line, entry in pairs]
        ids = check_and_add(ctx, desk, new)
        steps.note(ctx, desk, f"pair {count(len(ids), 'line')}", [steps.decided(ids)])
        record_event(
            ctx,
            company_id,
            "pairs matched",
            "reconciliation",
            reconciliation_id,
            after={"pairs": [list(p) for p in pairs]},
        )
    return ids


def bank_error(ctx: Context, company_id: int, reconciliation_id: int, line: int, note: str) -> int:
    """Accept a line as the bank's error: a reconciling item until the bank's correcting line comes."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        why = f"bank error: {note}" if note else "bank error, open until the bank corrects it"
        ids = check_and_add(ctx, desk, [NewDecision(DecisionKind.BANK_ERROR, (line,), (), why)])
        steps.note(ctx, desk, "bank error", [steps.decided(ids)])
        record_event(ctx, company_id, "bank error accepted", "decision", ids[0], after={"line": line, "note": note})
    return ids[0]


def bank_correction(ctx: Context, company_id: int, reconciliation_id: int, line: int) -> int:
    """Resolve a line as the bank's correction of an error accepted before; the two cancel, whatever lies between.

    Refused where no open bank error of the opposite amount came before it.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        at = desk.reconciliation
        mine = {x.id: x.line for x in statements.lines_of(ctx.db, company_id, at.id)}
        _require_line(ctx, desk, _undecided(ctx, desk), line)
        errors = reconciliations.open_errors(ctx.db, company_id, desk.account.id, at.closing_date)
        own = mine[line]
        error = next((e for e in errors if e.line.amount == -own.amount and e.line.date <= own.date), None)
        if error is None:
            raise Refused("No open bank error is the opposite of this line. Nothing was changed.")
        say = wording(desk.account.currency, desk.company.locale)
        why = f"corrects the bank error of {say.day(error.line.date)}, {say.amount(error.line.amount)}"
        new = NewDecision(DecisionKind.BANK_CORRECTION, (line,), (), why, settles=error.decision_id)
        ids = check_and_add(ctx, desk, [new])
        steps.note(ctx, desk, "bank correction", [steps.decided(ids)])
        record_event(
            ctx,
            company_id,
            "bank error corrected",
            "decision",
            ids[0],
            after={"line": line, "error": error.decision_id},
        )
    return ids[0]


def tick(ctx: Context, company_id: int, reconciliation_id: int, entries: Sequence[int]) -> list[int]:
    """Tick entries, one by one or many at once, where the statement has no lines."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id, Right.TICK)
        if not desk.reconciliation.sealed and statements.lines_of(ctx.db, company_id, reconciliation_id):
            raise Refused("This statement has lines: entries are matched with them, not ticked. Nothing was changed.")
        new = [NewDecision(DecisionKind.TICK, (), (entry,), "ticked on the statement") for entry in entries]
        ids = check_and_add(ctx, desk, new)
        steps.note(ctx, desk, f"tick {count(len(ids), 'entry', 'entries')}", [steps.decided(ids)])
        record_event(ctx, company_id, "ticked", "reconciliation", reconciliation_id, after={"entries": list(entries)})
        _mark_sealed(ctx, desk, "entry cleared late", entries)
    return ids


def withdraw(ctx: Context, company_id: int, reconciliation_id: int, decision_ids: Iterable[int]) -> None:
    """Unmatch, unwash or untick: the items are open again."""
    ids = list(decision_ids)
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        for decision_id in ids:
            found = reconciliations.decision(ctx.db, company_id, decision_id)
            if found is None or found.reconciliation_id != reconciliation_id:
                raise NotFound(f"Decision {decision_id} does not belong to this reconciliation. Nothing was changed.")
            if not found.active:
                raise Conflict("This has already been withdrawn. Nothing was changed.")
        if reconciliations.settled_by(ctx.db, set(ids)) not in (None, *ids):
            raise Conflict("The bank's correction rests on this error. Withdraw it first; nothing was changed.")
        made = [found for i in ids if (found := reconciliations.decision(ctx.db, company_id, i))]
        reconciliations.set_active(ctx.db, company_id, ids, False, ctx.user.id, ctx.stamp)
        _mark_sealed(ctx, desk, "entry unticked", [int(e) for found in made for e in found.decision.entries])
        steps.note(ctx, desk, "unmatch", [steps.withdrawn(ids)])
        record_event(
            ctx, company_id, "decisions withdrawn", "reconciliation", reconciliation_id, before={"decisions": ids}
        )


def _mark_sealed(ctx: Context, desk: Desk, what: str, entry_ids: Iterable[int]) -> None:
    """What is done to entries inside a sealed period stands in the history of each."""
    for entry_id in entry_ids if desk.reconciliation.sealed else ():
        record_event(ctx, desk.company.id, what, "book_entry", entry_id)


def dry_run(ctx: Context, company_id: int, reconciliation_id: int) -> DryRun:
    """Run the passes and show what would be matched, by pass and why; nothing is changed."""
    bench = load_bench(ctx, open_desk(ctx, company_id, reconciliation_id))
    return DryRun(_run(ctx, bench), bench)


def _run(ctx: Context, bench: Bench) -> Outcome:
    account = bench.desk.account
    return run_passes(open_items(bench.work, taught_of(ctx.db, account)), passes_of(ctx.db, account))


def _washed(made: Wash) -> NewDecision:
    ids = tuple(int(item) for item in made.ids)
    lines, entries = (ids, ()) if made.on_bank else ((), ids)
    return NewDecision(DecisionKind.WASH, lines, entries, made.why, PassName.WASHES, made.confidence)


def apply_passes(ctx: Context, company_id: int, reconciliation_id: int, only: frozenset[PassName]) -> int:
    """Run the passes and store their matches, as one step; returns how many.

    `only`: the passes whose matches are wanted; empty means all.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        outcome = _run(ctx, load_bench(ctx, desk))
        found = [made for made in outcome.matches if not only or made.by in only]
        washes = [made for made in outcome.washes if not only or PassName.WASHES in only]
        new = [_washed(made) for made in washes] + [
            NewDecision(
                DecisionKind.MATCH,
                tuple(int(item) for item in made.lines),
                tuple(int(item) for item in made.entries),
                made.why,
                made.by,
                made.confidence,
            )
            for made in found
        ]
        if not new:
            return 0
        ids = reconciliations.add_decisions(ctx.db, company_id, reconciliation_id, new, ctx.user.id, ctx.stamp)
        steps.note(ctx, desk, f"run passes: {count(len(ids), 'match', 'matches')}", [steps.decided(ids)])
        record_event(ctx, company_id, "passes run", "reconciliation", reconciliation_id, after={"matches": len(ids)})
    return len(new)
