"""Which passes run for an account, in which order, each with its window, on or off."""

from __future__ import annotations

from collections.abc import Sequence

from netnaught.core.matching import DEFAULT_PASSES, Pass, Window, window_of, with_window
from netnaught.services.access import Context, Right, account_for, record_event
from netnaught.services.errors import BadInput
from netnaught.store import passes, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection, atomic
from netnaught.store.passes import PassSetting

_USUAL: dict[str, Pass] = {step.name: step for step in DEFAULT_PASSES}
FURTHEST = 3660


def usual_settings() -> list[PassSetting]:
    """The passes as they are where nobody has changed them."""
    found: list[PassSetting] = []
    for step in DEFAULT_PASSES:
        window = window_of(step)
        found.append(PassSetting(step.name, True, window.before if window else None, window.after if window else None))
    return found


def settings_of(ctx: Context, company_id: int, account_id: int) -> list[PassSetting]:
    """The passes of an account, in their order."""
    account_for(ctx, company_id, account_id)
    return passes.pass_settings(ctx.db, company_id, account_id) or usual_settings()


def passes_of(db: Connection, account: BankAccount) -> tuple[Pass, ...]:
    """The passes that run for an account."""
    stored = passes.pass_settings(db, account.company_id, account.id)
    if not stored:
        return DEFAULT_PASSES
    return tuple(
        _USUAL[s.name]
        if s.before is None or s.after is None
        else with_window(_USUAL[s.name], Window(s.before, s.after))
        for s in stored
        if s.active
    )


def write_settings(ctx: Context, company_id: int, account_id: int, settings: Sequence[PassSetting]) -> None:
    """Set the passes of an account: every one named once, each window a number of days."""
    _, account = account_for(ctx, company_id, account_id, Right.MANAGE)
    if sorted(s.name for s in settings) != sorted(_USUAL):
        raise BadInput("Every pass is named exactly once. Nothing was changed.", field="passes")
    for setting in settings:
        needs = window_of(_USUAL[setting.name]) is not None
        days = (setting.before, setting.after)
        if needs != all(day is not None for day in days) or any(
            day is not None and not 0 <= day <= FURTHEST for day in days
        ):
            raise BadInput(f"The window of “{setting.name}” is no number of days. Nothing was changed.", field="passes")
    with atomic(ctx.db):
        before = [s.name.value for s in settings_of(ctx, company_id, account_id) if s.active]
        passes.write_pass_settings(ctx.db, company_id, account_id, settings)
        reconciliations.note_change(ctx.db, company_id, account.id)
        after = [s.name.value for s in settings if s.active]
        record_event(
            ctx, company_id, "passes set", "bank_account", account_id, before={"on": before}, after={"on": after}
        )
