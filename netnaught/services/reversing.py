"""Reversing an entry, and voiding and reissuing one: proper entries with links, never a rewriting of what was."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.reconciliation import DecisionKind
from netnaught.services import deciding, entries, steps
from netnaught.services.access import Context, Desk, open_desk
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, Conflict
from netnaught.store import bank_book
from netnaught.store.database import atomic
from netnaught.store.reconciliations import NewDecision


@dataclass(frozen=True, slots=True)
class Replacement:
    """The entry that stands in another's place: its date and its reference, as a new check's number."""

    day: date
    reference: str


def reverse(
    ctx: Context,
    company_id: int,
    reconciliation_id: int,
    entry_id: int,
    day: date,
    reason: str,
    instead: Replacement | None = None,
    against: int | None = None,
) -> list[int]:
    """Take an entry that is not at the bank back with one of the opposite amount, and wash the two, in one step.

    The entry itself stays as it was, also where it stands in a sealed list. `instead`: an entry of the
    same amount and postings is written in its place. `against`: another account takes it than the one it
    was posted to, as when a stale check is written off. Returns the new entries, the reversal first.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        stored = entries.require_entry(ctx, desk.company, desk.account, entry_id)
        deciding.require_undecided(ctx, desk, [], [entry_id])
        if not reason.strip():
            raise BadInput("Say why it is reversed: the reversal carries it. Nothing was changed.", field="reason")
        if bank_book.links_of(ctx.db, company_id, entry_id):
            raise Conflict("This entry has been reversed already. Nothing was changed.")
        if day < stored.entry.date:
            raise BadInput(
                "A reversal is dated on the day of its entry or later. Nothing was changed.",
                field="date",
                value=day.isoformat(),
            )
        values = entries.values_of(ctx, stored, company_id)
        opposite = _opposite(values, day, reason)
        if against is not None:
            opposite = replace(opposite, other_account_id=against, postings=())
        back = _write(ctx, desk, entry_id, opposite, "reverses", reason)
        made = [back]
        operations = [steps.created(back)]
        if instead is not None:
            if not instead.reference.strip():
                raise BadInput("The new check needs its number. Nothing was changed.", field="reference")
            anew = replace(values, date=instead.day, reference=instead.reference.strip())
            made.append(_write(ctx, desk, entry_id, anew, "replaces", reason))
            operations.append(steps.created(made[-1]))
        if day <= desk.reconciliation.closing_date:
            wash = NewDecision(DecisionKind.WASH, (), (entry_id, back), f"reversed: {reason.strip()}")
            operations.append(steps.decided(deciding.check_and_add(ctx, desk, [wash])))
        label = "write off" if against is not None else "reverse entry" if instead is None else "void and reissue"
        steps.note(ctx, desk, label, operations)
        return made


def _opposite(values: EntryValues, day: date, reason: str) -> EntryValues:
    turned = tuple(replace(posting, amount=-posting.amount) for posting in values.postings)
    return replace(values, date=day, amount=-values.amount, memo=f"Reversal: {reason.strip()}", postings=turned)


def _write(ctx: Context, desk: Desk, of: int, values: EntryValues, kind: str, reason: str) -> int:
    made = entries.create(ctx, desk.company, desk.account, values, origin="typed")
    bank_book.link(ctx.db, desk.company.id, made, of, kind, reason.strip())
    return made
