"""Repairs of disturbances: put back, clear again, release, accept with an entry, note; previewed together, undone.

Each brings the finding's shift to zero exactly, or is refused with what to do instead.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from netnaught.core.reconciliation import DecisionKind
from netnaught.core.seal import DisturbanceKind, Finding, Item, Repair, SealedEntry
from netnaught.services import entries, entry_state, steps, transfers
from netnaught.services.access import (
    Context,
    Desk,
    Right,
    account_for,
    company_for,
    record_event,
    require_account,
    require_reconciliation,
)
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, Conflict, NotFound, Refused
from netnaught.services.guards import refuse_locked
from netnaught.services.tracing import Comparing, Trace, load_trace, period_of
from netnaught.services.writing import wording
from netnaught.store import audit, bank_book, disturbances, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import StoredEntry
from netnaught.store.companies import Company
from netnaught.store.database import atomic
from netnaught.store.disturbances import NewAcceptance
from netnaught.store.reconciliations import NewDecision

LABEL = "repair"


@dataclass(frozen=True, slots=True)
class Wanted:
    """One repair of one finding. `other_account_id`: for an accepting entry; None where the ledger is elsewhere."""

    reconciliation_id: int
    item: Item
    repair: Repair
    other_account_id: int | None = None
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Effect:
    """What a repair does, in a sentence."""

    wanted: Wanted
    text: str


@dataclass(frozen=True, slots=True)
class Preview:
    """What repairs would do together: each in a sentence, and the books gap before and after, minor units."""

    effects: tuple[Effect, ...]
    gap_before: int
    gap_after: int


class _Seen(Exception):
    """Ends a preview: everything it did is rolled back."""


def preview(ctx: Context, company_id: int, account_id: int, wanted: Sequence[Wanted]) -> Preview:
    """What these repairs would do; they are tried on the books and taken back, so the figures are exact."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    found: list[Preview] = []
    try:
        with atomic(ctx.db):
            before = load_trace(ctx, company, account).stairs.gap
            effects, _ = _do(ctx, company, account, wanted)
            found.append(Preview(tuple(effects), before, load_trace(ctx, company, account).stairs.gap))
            raise _Seen
    except _Seen:
        return found[0]


def repair(ctx: Context, company_id: int, account_id: int, wanted: Sequence[Wanted]) -> list[Effect]:
    """Mend findings, all or none, as one step that can be undone."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    with atomic(ctx.db):
        effects, operations = _do(ctx, company, account, wanted)
        first = require_reconciliation(ctx, company_id, wanted[0].reconciliation_id)
        names = ", ".join(sorted({w.repair.value for w in wanted}))
        steps.note(ctx, Desk(company, account, first), f"{LABEL}: {names}", operations)
        reconciliations.note_company_change(ctx.db, company_id)
        return effects


def undo(ctx: Context, company_id: int, account_id: int) -> str:
    """Take back this person's last repair of the account; returns what it was."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    with atomic(ctx.db):
        found = reconciliations.last_step_like(ctx.db, company_id, account_id, ctx.user.id, LABEL)
        if found is None:
            raise Conflict("There is no repair of yours to take back. Nothing was changed.")
        step_id, at, step = found
        desk = Desk(company, account, require_reconciliation(ctx, company_id, at))
        for operation in reversed(step.operations):
            steps.apply_operation(ctx, desk, operation, forward=False)
        reconciliations.set_step_state(ctx.db, step_id, "undone")
        reconciliations.note_company_change(ctx.db, company_id)
        record_event(ctx, company_id, "undone", "reconciliation", at, after={"step": step.label})
        return step.label


def _do(
    ctx: Context, company: Company, account: BankAccount, wanted: Sequence[Wanted]
) -> tuple[list[Effect], list[steps.Operation]]:
    if not wanted:
        raise BadInput("Choose what to repair. Nothing was changed.", field="repairs")
    effects: list[Effect] = []
    operations: list[steps.Operation] = []
    trace = load_trace(ctx, company, account)
    for item in wanted:
        finding = _finding(ctx, trace, item)
        if finding is None:
            continue  # an earlier repair of the same step has mended it along
        work = _Work(ctx, trace, finding, item)
        effects.append(Effect(item, work.run()))
        operations += work.operations
    if not effects:
        raise Conflict("Nothing of this is disturbed any more; look at the trace again. Nothing was changed.")
    return effects, operations


def _finding(ctx: Context, trace: Trace, item: Wanted) -> Finding | None:
    """What is still open of an item, as it stands now: only it and its period are compared again."""
    seal = trace.seals.get(item.reconciliation_id)
    if seal is None:
        return None
    accepted = disturbances.acceptances(ctx.db, trace.company.id, item.reconciliation_id)
    among = {item.item} | {Item(False, entry) for entry in accepted}
    found = Comparing(ctx.db, trace.account, among).with_seal(seal)
    return next((finding for finding in found if finding.item == item.item and not finding.mended), None)


class _Work:
    """One repair while it is done."""

    def __init__(self, ctx: Context, trace: Trace, finding: Finding, wanted: Wanted) -> None:
        self.ctx, self.trace, self.finding, self.wanted = ctx, trace, finding, wanted
        self.company, self.account = trace.company, trace.account
        self.say = wording(self.account.currency, self.company.locale)
        self.operations: list[steps.Operation] = []

    def run(self) -> str:
        """Do it; what was done in a sentence."""
        kinds = self.finding.repairs
        if self.wanted.repair not in kinds:
            fits = " or ".join(kind.value for kind in kinds)
            raise Refused(f"What is {self.finding.kind} is mended by {fits}. Nothing was changed.")
        match self.wanted.repair:
            case Repair.PUT_BACK:
                return self._put_back()
            case Repair.CLEAR_AGAIN:
                return self._clear_again()
            case Repair.RELEASE:
                return self._release()
            case Repair.ACCEPT:
                return self._accept()
            case Repair.NOTE:
                return self._note()

    def _was(self) -> SealedEntry:
        """The sealed values; what slipped in has none, and is released."""
        if self.finding.was is None:
            raise Refused("The seal does not hold this entry: release it. Nothing was changed.")
        return self.finding.was

    def _put_back(self) -> str:
        was, entry_id = self._was(), self.finding.item.id
        stored = entry_state.require(self.ctx, self.company, entry_id)
        self._refuse_elsewhere(was, stored.external_id is not None and stored.journal_line_id is None)
        self._take_acceptance_back()
        counted = self._counted()
        if counted or stored.bank_account_id != self.account.id:
            self._refuse_held(entry_id, was)
        before = entry_state.state_of(self.ctx, self.company, entry_id)
        days = (date.fromisoformat(was.date), before.values.date)
        refuse_locked(replace(self.ctx, reason="put back as sealed"), self.company, self.account.currency, *days)
        values = self._as_sealed(before.values, was)
        clears = dict(before.clears)
        decision = self._sealed_decision(entry_id) if counted else None
        if decision is not None:
            clears = {found: found == decision for found in clears}
        after = entry_state.EntryState(values, self.account.id, False, clears)
        for side in transfers.sides_of(self.ctx, self.company.id, stored):
            self._refuse_other_side(side, values, was)
        entry_state.put(self.ctx, self.company, entry_id, after, "put back")
        now = entry_state.state_of(self.ctx, self.company, entry_id)
        self.operations.append(entry_state.operation(entry_id, before, now))
        journal = ", its journal following" if stored.journal_line_id is not None else ""
        match self.finding.kind:
            case DisturbanceKind.REMOVED:
                return f"Brings back {self._named(was)} as it was{journal}, cleared where it was."
            case DisturbanceKind.MOVED:
                return f"Moves {self._named(was)} back to {self.account.name}{journal}, cleared where it was."
            case DisturbanceKind.AMENDED:
                return f"Restores {self.say.amount(was.amount)} on {self._named(was)}{journal}."
            case _:
                return f"Restores {', '.join(self.finding.fields) or 'everything'} of {self._named(was)}{journal}."

    def _take_acceptance_back(self) -> None:
        """What is put back, or accepted anew, needs the earlier acceptance no more: its entry goes with it."""
        accepted = self.finding.acceptance
        if accepted is None:
            return
        disturbances.set_withdrawn(self.ctx.db, self.company.id, accepted.id, self.ctx.stamp)
        self.operations.append({"op": "unaccepted", "id": accepted.id})
        if accepted.by_entry is None:
            return
        decided = reconciliations.decision_on(self.ctx.db, self.company.id, entry=accepted.by_entry)
        if decided is not None and decided.reconciliation_id == self.finding.reconciliation_id:
            self._set_active(decided.id, False)
            before = entry_state.state_of(self.ctx, self.company, accepted.by_entry)
            entries.set_deleted(self.ctx, self.company, self.account, accepted.by_entry, True)
            after = entry_state.state_of(self.ctx, self.company, accepted.by_entry)
            self.operations.append(entry_state.operation(accepted.by_entry, before, after))

    def _counted(self) -> bool:
        """Whether the seal counts the item, and does not merely list it as outstanding."""
        return self.finding.item in period_of(self.trace.seals[self.finding.reconciliation_id]).counted

    def _as_sealed(self, now: EntryValues, was: SealedEntry) -> EntryValues:
        """The sealed values with the accounts they were posted to then, as the audit trail has them."""
        sealed = replace(
            now.with_amount(was.amount),
            date=date.fromisoformat(was.date),
            reference=was.reference,
            payee=was.payee,
            memo=was.memo,
        )
        for event in reversed(audit.events_of(self.ctx.db, self.company.id, "book_entry", self.finding.item.id)):
            for kept in (event.before, event.after):
                if kept and "other_account_id" in kept:
                    then = EntryValues.from_stored({k: v for k, v in kept.items() if k != "reason"})
                    if then.entry(0) == sealed.entry(0):
                        return then
        return sealed

    def _sealed_decision(self, entry_id: int) -> int | None:
        """The decision that cleared an entry in the sealed period: the first one made there."""
        at = self.finding.reconciliation_id
        made = reconciliations.decisions_of_entry(self.ctx.db, self.company.id, entry_id)
        return next((found.decision_id for found in made if found.reconciliation_id == at), None)

    def _named(self, was: SealedEntry) -> str:
        name = was.payee or was.memo or "the entry"
        return f"{was.reference} {name}".strip()

    def _refuse_elsewhere(self, was: SealedEntry, owned_elsewhere: bool) -> None:
        if owned_elsewhere:
            raise Refused(
                f"The books of {self.account.name} are kept elsewhere: put it right there. {self._to_post(was)} "
                "The next import that brings it mends this by itself. Nothing was changed here."
            )

    def _to_post(self, was: SealedEntry) -> str:
        day = self.say.day(date.fromisoformat(was.date))
        parts = [day, self.say.amount(was.amount), was.reference, was.payee, was.memo]
        return f"It must read: {', '.join(part for part in parts if part)}."

    def _refuse_held(self, entry_id: int, was: SealedEntry) -> None:
        """What has been cleared elsewhere since must be let go there first."""
        decided = reconciliations.decision_on(self.ctx.db, self.company.id, entry=entry_id)
        if decided is None or decided.reconciliation_id == self.finding.reconciliation_id:
            return
        at = require_reconciliation(self.ctx, self.company.id, decided.reconciliation_id)
        there = require_account(self.ctx, self.company.id, at.bank_account_id)
        until = self.say.day(at.closing_date)
        if at.sealed and there.id != self.account.id:
            raise Refused(
                f"It is cleared in the sealed reconciliation of {there.name} to {until}: this cannot be put back exactly "
                f"without breaking that. Nothing was changed. Accept it with an entry, or post here: {self._to_post(was)}"
            )
        if at.sealed:
            raise Refused(
                f"It is cleared in the sealed reconciliation to {until} now, where it has slipped in: release it there "
                "first. Nothing was changed."
            )
        reconciliations.set_active(self.ctx.db, self.company.id, [decided.id], False, self.ctx.user.id, self.ctx.stamp)
        self.operations.append(steps.withdrawn([decided.id]))

    def _refuse_other_side(self, side: StoredEntry, values: EntryValues, was: SealedEntry) -> None:
        """The other side of a transfer follows, unless that would alter what is sealed on its account."""
        decided = reconciliations.decision_on(self.ctx.db, self.company.id, entry=side.id)
        at = require_reconciliation(self.ctx, self.company.id, decided.reconciliation_id) if decided else None
        there = require_account(self.ctx, self.company.id, side.bank_account_id)
        part = next((p for p in values.goes_to() if p.gl_account_id == there.gl_account_id), None)
        amount = -part.amount if part else 0
        if not at or not at.sealed or (side.entry.date, side.entry.amount) == (values.date, amount):
            return
        if not transfers.as_sealed(self.ctx, self.company, side, values.date, amount):
            raise Refused(
                f"The other side of this transfer is sealed on {there.name}, otherwise than here: it cannot move there. "
                f"Nothing was changed. Accept it with an entry, or post here: {self._to_post(was)}"
            )

    def _clear_again(self) -> str:
        item, at = self.finding.item, self.finding.reconciliation_id
        if item.is_line:
            made = [
                d
                for d, where, _ in reconciliations.decisions_of_line(self.ctx.db, self.company.id, item.id)
                if where == at
            ]
            decision = made[0] if made else None
        else:
            self._refuse_held(item.id, self._was())
            decision = self._sealed_decision(item.id)
        found = reconciliations.decision(self.ctx.db, self.company.id, decision or 0)
        if found is None or decision is None:
            raise NotFound("What cleared it then is not known any more. Nothing was changed.")
        if item.is_line or not found.active:
            self._set_active(decision, True)
        if not item.is_line:
            before = entry_state.state_of(self.ctx, self.company, item.id)
            if not before.clears.get(decision):
                after = replace(before, clears={**before.clears, decision: True})
                entry_state.put(self.ctx, self.company, item.id, after, "cleared again")
                self.operations.append(entry_state.operation(item.id, before, after))
            else:
                record_event(self.ctx, self.company.id, "cleared again", "book_entry", item.id)
        until = self.say.day(self.trace.closings[at])
        return f"Clears it again in the reconciliation to {until}: {found.why}."

    def _set_active(self, decision: int, active: bool) -> None:
        try:
            reconciliations.set_active(
                self.ctx.db, self.company.id, [decision], active, self.ctx.user.id, self.ctx.stamp
            )
        except sqlite3.IntegrityError:
            raise Conflict(
                "Something that was cleared with it is decided otherwise by now: unmatch that first. Nothing was changed."
            ) from None
        self.operations.append(steps.decided([decision]) if active else steps.withdrawn([decision]))

    def _release(self) -> str:
        item, at = self.finding.item, self.finding.reconciliation_id
        if item.is_line:
            decided = reconciliations.decision_on(self.ctx.db, self.company.id, line=item.id)
        else:
            decided = reconciliations.decision_on(self.ctx.db, self.company.id, entry=item.id)
        if decided is None or decided.reconciliation_id != at:
            raise Conflict("It is not cleared there any more. Nothing was changed.")
        self._set_active(decided.id, False)
        if not item.is_line:
            after: dict[str, object] = {"reconciliation": at}
            record_event(self.ctx, self.company.id, "released", "book_entry", item.id, after=after)
        until = self.say.day(self.trace.closings[at])
        where = "open for the current period"
        return f"Takes it out of the sealed reconciliation to {until}; it is {where} again."

    def _require_reason(self) -> str:
        company_for(self.ctx, self.company.id, Right.ALTER)
        reason = self.wanted.reason.strip()
        if not reason:
            raise BadInput("Say why it is accepted: your name stands beside it. Nothing was changed.", field="reason")
        return reason

    def _accept(self) -> str:
        reason = self._require_reason()
        finding, at = self.finding, self.finding.reconciliation_id
        last = max(closing for r, closing in self.trace.closings.items() if r in self.trace.seals)
        today = self.ctx.now.date()
        day = max(today, last + timedelta(days=1))
        if self.trace.open_reconciliation:
            day = max(min(today, self.trace.open_reconciliation.closing_date), last + timedelta(days=1))
        was = finding.was or (finding.now.values if finding.now else None)
        name = self._named(was) if was else "a sealed entry"
        memo = f"Accepted: {name} {finding.kind}. {reason}"
        if self.wanted.other_account_id is None and self._has_ledger():
            raise BadInput("Choose the account the entry goes against. Nothing was changed.", field="other_account_id")
        self._take_acceptance_back()  # what was accepted before and changed since: one entry for all of it
        values = EntryValues(
            day,
            -finding.shift,
            was.reference if was else "",
            was.payee if was else "",
            memo,
            self.wanted.other_account_id,
        )
        by = entries.create(self.ctx, self.company, self.account, values, origin="recorded")
        self.operations.append(steps.created(by))
        new = NewDecision(
            DecisionKind.TICK, (), (by,), f"takes back the shift of {name}, accepted by {self.ctx.user.name}"
        )
        (decision,) = reconciliations.add_decisions(
            self.ctx.db, self.company.id, at, [new], self.ctx.user.id, self.ctx.stamp
        )
        self.operations.append(steps.decided([decision]))
        self._keep(by, decision, reason)
        return (
            f"Keeps it as it is; an entry of {self.say.amount(values.amount)} dated {self.say.day(day)} takes the shift back "
            f"and counts in the reconciliation to {self.say.day(self.trace.closings[at])}."
        )

    def _has_ledger(self) -> bool:
        stored = bank_book.stored_entry(self.ctx.db, self.company.id, self.finding.item.id)
        return stored is not None and stored.journal_line_id is not None

    def _note(self) -> str:
        reason = self._require_reason()
        self._take_acceptance_back()
        self._keep(None, None, reason)
        return "Keeps it as it is, with your note: nothing moves."

    def _keep(self, by: int | None, decision: int | None, reason: str) -> None:
        finding = self.finding
        now = None if finding.now is None or finding.now.deleted else finding.now.values
        new = NewAcceptance(finding.reconciliation_id, finding.item.id, by, decision, now, reason)
        made = disturbances.add_acceptance(self.ctx.db, self.company.id, new, self.ctx.user.id, self.ctx.stamp)
        self.operations.append({"op": "accepted", "id": made})
        record_event(
            self.ctx, self.company.id, "accepted", "book_entry", finding.item.id, after={"by": by, "reason": reason}
        )
