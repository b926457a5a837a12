"""Undo and redo: each thing a person did in a reconciliation, taken back and done again.

A step is a list of operations. Undoing runs their inverses from the last to the first; a
step that no longer fits what others did since is refused whole.
"""

from __future__ import annotations

import sqlite3
from typing import cast

from netnaught.services import entries, entry_state
from netnaught.services.access import Context, Desk, open_desk, record_event
from netnaught.services.entries import EntryValues
from netnaught.services.errors import Conflict
from netnaught.store import disturbances, reconciliations
from netnaught.store.database import atomic

Operation = dict[str, object]


def decided(ids: list[int]) -> Operation:
    """Decisions were made."""
    return {"op": "decided", "ids": ids}


def withdrawn(ids: list[int]) -> Operation:
    """Decisions were withdrawn."""
    return {"op": "withdrawn", "ids": ids}


def created(entry_id: int) -> Operation:
    """An entry was created."""
    return {"op": "created", "entry": entry_id}


def removed(entry_id: int) -> Operation:
    """An entry was deleted."""
    return {"op": "removed", "entry": entry_id}


def rewritten(entry_id: int, before: EntryValues, after: EntryValues) -> Operation:
    """An entry was given other values."""
    return {"op": "rewritten", "entry": entry_id, "before": before.stored(), "after": after.stored()}


def note(ctx: Context, desk: Desk, label: str, operations: list[Operation]) -> None:
    """Remember a step, and let others see that something was done."""
    at = desk.reconciliation
    reconciliations.add_step(ctx.db, at.company_id, at.id, ctx.user.id, label, operations, ctx.stamp)
    reconciliations.note_change(ctx.db, at.company_id, at.bank_account_id)


def apply_operation(ctx: Context, desk: Desk, operation: Operation, forward: bool) -> None:
    """Do one operation of a step again, or take it back."""
    name = operation["op"]
    if name == "state":
        entry_state.replay(ctx, desk.company, operation, forward)
        return
    if name in ("accepted", "unaccepted"):
        stands = (name == "accepted") == forward
        at = None if stands else ctx.stamp
        disturbances.set_withdrawn(ctx.db, desk.company.id, cast(int, operation["id"]), at)
        return
    if name in ("decided", "withdrawn"):
        active = (name == "decided") == forward
        ids = cast(list[int], operation["ids"])
        reconciliations.set_active(ctx.db, desk.company.id, ids, active, ctx.user.id, ctx.stamp)
        return
    entry_id = cast(int, operation["entry"])
    if name in ("created", "removed"):
        deleted = (name == "removed") == forward
        entries.set_deleted(ctx, desk.company, desk.account, entry_id, deleted)
        return
    was, will = ("before", "after") if forward else ("after", "before")
    stored = entries.require_entry(ctx, desk.company, desk.account, entry_id)
    if entries.values_of(ctx, stored, desk.company.id).stored() != operation[was]:
        raise Conflict("The entry has been changed again since; nothing was undone.")
    values = EntryValues.from_stored(cast(dict[str, object], operation[will]))
    entries.rewrite(ctx, desk.company, desk.account, entry_id, values)


def _run(ctx: Context, company_id: int, reconciliation_id: int, forward: bool) -> str:
    desk = open_desk(ctx, company_id, reconciliation_id)
    try:
        with atomic(ctx.db):
            state = "undone" if forward else "done"
            step = reconciliations.next_step(ctx.db, company_id, reconciliation_id, ctx.user.id, state)
            if step is None:
                raise Conflict(f"There is nothing to {'redo' if forward else 'undo'}.")
            for operation in step.operations if forward else reversed(step.operations):
                apply_operation(ctx, desk, operation, forward)
            reconciliations.set_step_state(ctx.db, step.id, "done" if forward else "undone")
            reconciliations.note_change(ctx.db, company_id, desk.account.id)
            what = "redone" if forward else "undone"
            record_event(ctx, company_id, what, "reconciliation", reconciliation_id, after={"step": step.label})
            return step.label
    except sqlite3.IntegrityError:
        raise Conflict("One of these items has been decided otherwise since; nothing was changed.") from None


def undo(ctx: Context, company_id: int, reconciliation_id: int) -> str:
    """Take back this person's last step; returns what it was."""
    return _run(ctx, company_id, reconciliation_id, forward=False)


def redo(ctx: Context, company_id: int, reconciliation_id: int) -> str:
    """Do again what was last undone; returns what it was."""
    return _run(ctx, company_id, reconciliation_id, forward=True)
