"""An entry as it stands, whole, so that it can be put back: values, account, deleted or not, what clears it."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace
from typing import Any, cast

from netnaught.services import entries, transfers
from netnaught.services.access import Context, record_event
from netnaught.services.entries import EntryValues
from netnaught.services.errors import Conflict, NotFound
from netnaught.store import bank_book, ledger, reconciliations
from netnaught.store.bank_book import StoredEntry
from netnaught.store.companies import Company


@dataclass(frozen=True, slots=True)
class EntryState:
    """`clears`: the decisions that ever took the entry, and whether they clear it."""

    values: EntryValues
    account_id: int
    deleted: bool
    clears: dict[int, bool]

    def stored(self) -> dict[str, object]:
        """As kept in steps."""
        clears = {str(decision): active for decision, active in self.clears.items()}
        return {"values": self.values.stored(), "account": self.account_id, "deleted": self.deleted, "clears": clears}

    @classmethod
    def from_stored(cls, stored: dict[str, Any]) -> EntryState:
        """The inverse of `stored`."""
        clears = {int(decision): bool(active) for decision, active in stored["clears"].items()}
        return cls(EntryValues.from_stored(stored["values"]), stored["account"], stored["deleted"], clears)


def require(ctx: Context, company: Company, entry_id: int) -> StoredEntry:
    """An entry, deleted or not, on whichever account."""
    stored = bank_book.stored_entry(ctx.db, company.id, entry_id)
    if stored is None:
        raise NotFound("There is no such entry. Nothing was changed.")
    return stored


def state_of(ctx: Context, company: Company, entry_id: int) -> EntryState:
    """How an entry stands."""
    stored = require(ctx, company, entry_id)
    clears = {
        found.decision_id: found.active and found.row_active
        for found in reconciliations.decisions_of_entry(ctx.db, company.id, entry_id)
    }
    values = entries.values_of(ctx, stored, company.id)
    return EntryState(values, stored.bank_account_id, bool(stored.deleted_at), clears)


def put(ctx: Context, company: Company, entry_id: int, state: EntryState, what: str) -> None:
    """Let an entry stand as given, its journal and the other side of a transfer following; `what`: for the audit trail.

    Asks no guard; Conflict when something has been decided otherwise that cannot be undone along.
    """
    before = state_of(ctx, company, entry_id)
    stored = require(ctx, company, entry_id)
    if before.deleted and not state.deleted:
        for entry in (stored, *(side for side in transfers.sides_of(ctx, company.id, stored) if side.deleted_at)):
            entries.put_away(ctx, company, entry, False)
    if before.account_id != state.account_id:
        move(ctx, company, stored, state.account_id)
    if before.values != state.values:
        stored = require(ctx, company, entry_id)
        account = transfers.account_of(ctx, company, stored)
        entries.restate_either(ctx, company, account, stored, state.values)
    if state.deleted and not before.deleted:
        stored = require(ctx, company, entry_id)
        for entry in (stored, *(side for side in transfers.sides_of(ctx, company.id, stored) if not side.deleted_at)):
            entries.put_away(ctx, company, entry, True)
    _let_clear(ctx, company, entry_id, before.clears, state.clears)
    record_event(
        ctx, company.id, what, "book_entry", entry_id, before=before.values.stored(), after=state.values.stored()
    )


def _let_clear(ctx: Context, company: Company, entry_id: int, before: dict[int, bool], wanted: dict[int, bool]) -> None:
    try:
        for active in (False, True):
            for decision, clears in wanted.items():
                if clears is active and before.get(decision) is not clears:
                    found = reconciliations.decision(ctx.db, company.id, decision)
                    if clears and found and not found.active:
                        reconciliations.set_active(ctx.db, company.id, [decision], True, ctx.user.id, ctx.stamp)
                    reconciliations.set_clears(ctx.db, company.id, decision, entry_id, clears)
    except sqlite3.IntegrityError:
        raise Conflict("One of these items has been decided otherwise since; nothing was changed.") from None


def move(ctx: Context, company: Company, stored: StoredEntry, account_id: int) -> None:
    """Put an entry on another bank account: its line of the journal goes to that control account.

    What cleared it on the old account clears it no longer.
    """
    for found in reconciliations.decisions_of_entry(ctx.db, company.id, stored.id):
        if found.active and found.row_active:
            reconciliations.set_clears(ctx.db, company.id, found.decision_id, stored.id, False)
    old = transfers.account_of(ctx, company, stored)
    try:
        bank_book.set_account(ctx.db, company.id, stored.id, old.id, account_id)
    except sqlite3.IntegrityError:
        raise Conflict("The other account has an entry of this id already; nothing was changed.") from None
    new = transfers.account_of(ctx, company, require(ctx, company, stored.id))
    if stored.journal_line_id is not None:
        journal = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
        ledger.move_line(ctx.db, company.id, stored.journal_line_id, journal, new.gl_account_id)


def operation(entry_id: int, before: EntryState, after: EntryState) -> dict[str, object]:
    """As a step remembers it."""
    return {"op": "state", "entry": entry_id, "before": before.stored(), "after": after.stored()}


def replay(ctx: Context, company: Company, step: dict[str, object], forward: bool) -> None:
    """Take such an operation back, or do it again; Conflict when the entry has been changed since."""
    entry_id = cast(int, step["entry"])
    was, will = ("before", "after") if forward else ("after", "before")
    if state_of(ctx, company, entry_id).stored() != step[was]:
        raise Conflict("The entry has been changed again since; nothing was undone.")
    what = "put back" if forward else "repair undone"
    if not forward:  # the other side of a transfer may go back to what its own seal does not say
        ctx = replace(ctx, reason=what)
    put(ctx, company, entry_id, EntryState.from_stored(cast(dict[str, Any], step[will])), what)
