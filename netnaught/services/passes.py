"""Which passes run for an account, in which order, each with its window, on or off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from netnaught.core.matching import (
    DEFAULT_PASSES,
    Composed,
    Lag,
    Pass,
    SameReference,
    SameText,
    Sign,
    Window,
    check_days_from,
    fitted,
    window_from,
    window_of,
    with_window,
)
from netnaught.core.matching import usual_passes as core_passes
from netnaught.core.statement import LineKind
from netnaught.services.access import Context, Right, account_for, record_event
from netnaught.services.errors import BadInput
from netnaught.store import passes, reconciliations, taught
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection, atomic
from netnaught.store.passes import PassSetting
from netnaught.store.taught import StoredComposed

_USUAL: dict[str, Pass] = {step.name: step for step in DEFAULT_PASSES}
FURTHEST = 3660


@dataclass(frozen=True, slots=True)
class Passes:
    """The passes of an account. `lags`: how many sealed matches the usual windows follow from; 0: none do."""

    fixed: list[PassSetting]
    composed: list[StoredComposed]
    usual: bool
    lags: int


def usual_passes(db: Connection, account: BankAccount) -> tuple[Pass, ...]:
    """The fixed passes where nobody has set them: windows follow from the account's own lags."""
    return fitted(core_passes(account.kind), _lags(db, account))


def _lags(db: Connection, account: BankAccount) -> list[Lag]:
    return [Lag(days, check) for days, check in taught.sealed_lags(db, account.company_id, account.id)]


def settings_of(ctx: Context, company_id: int, account_id: int) -> Passes:
    """The passes of an account, in their order."""
    _, account = account_for(ctx, company_id, account_id)
    stored = passes.pass_settings(ctx.db, company_id, account_id)
    lags = _lags(ctx.db, account)
    follows = window_from(lags) is not None or check_days_from(lags) is not None
    composed = taught.composed_passes(ctx.db, company_id, account_id)
    return Passes(
        stored or _as_settings(fitted(core_passes(account.kind), lags)),
        composed,
        not stored,
        len(lags) if follows else 0,
    )


def _as_settings(steps: Sequence[Pass]) -> list[PassSetting]:
    windows = [(step.name, window_of(step)) for step in steps]
    return [PassSetting(name, True, w.before if w else None, w.after if w else None) for name, w in windows]


def passes_of(db: Connection, account: BankAccount) -> tuple[Pass, ...]:
    """The passes that run for an account: the fixed ones first, then the composed."""
    stored = passes.pass_settings(db, account.company_id, account.id)
    fixed = usual_passes(db, account)
    if stored:
        known = {step.name: step for step in fixed}
        fixed = tuple(
            known[s.name]
            if s.before is None or s.after is None
            else with_window(known[s.name], Window(s.before, s.after))
            for s in stored
            if s.active
        )
    composed = taught.composed_passes(db, account.company_id, account.id)
    return (*fixed, *(composed_of(item.values) for item in composed if item.active))


def composed_of(values: dict[str, Any]) -> Composed:
    """A composed pass from its values (title, reference, text, before, after, sign, kind); BadInput names what is wrong."""
    unknown = set(values) - {"title", "reference", "text", "before", "after", "sign", "kind"}
    if unknown:
        raise BadInput(
            f"{sorted(unknown)[0]!r} is no setting of a composed pass. Nothing was changed.", field="composed"
        )
    days = (values.get("before", 30), values.get("after", 10))
    if any(not isinstance(n, int) or isinstance(n, bool) or not 0 <= n <= FURTHEST for n in days):
        raise BadInput("The window of a composed pass is no number of days. Nothing was changed.", field="composed")
    try:
        made = Composed(
            str(values.get("title", "")),
            SameReference(values.get("reference", SameReference.NO_MATTER)),
            SameText(values.get("text", SameText.NO_MATTER)),
            Window(*days),
            Sign(values.get("sign", Sign.ANY)),
            LineKind(values["kind"]) if values.get("kind") else None,
        )
        made.check()
    except ValueError as error:
        raise BadInput(f"A composed pass cannot be used: {error}. Nothing was changed.", field="composed") from None
    return made


def write_settings(
    ctx: Context,
    company_id: int,
    account_id: int,
    settings: Sequence[PassSetting],
    composed: Sequence[StoredComposed] = (),
) -> None:
    """Set the passes of an account: every fixed one named once, each window a number of days; no settings: the usual."""
    _, account = account_for(ctx, company_id, account_id, Right.MANAGE)
    if settings and sorted(s.name for s in settings) != sorted(_USUAL):
        raise BadInput("Every pass is named exactly once. Nothing was changed.", field="passes")
    for setting in settings:
        needs = window_of(_USUAL[setting.name]) is not None
        days = (setting.before, setting.after)
        if needs != all(day is not None for day in days) or any(
            day is not None and not 0 <= day <= FURTHEST for day in days
        ):
            raise BadInput(f"The window of “{setting.name}” is no number of days. Nothing was changed.", field="passes")
    made = [composed_of(item.values) for item in composed]
    if len({step.title.strip().casefold() for step in made}) < len(made):
        raise BadInput("Two composed passes have one title. Nothing was changed.", field="composed")
    with atomic(ctx.db):
        before = [s.name.value for s in settings_of(ctx, company_id, account_id).fixed if s.active]
        passes.write_pass_settings(ctx.db, company_id, account_id, settings)
        taught.write_composed(ctx.db, company_id, account_id, composed)
        reconciliations.note_change(ctx.db, company_id, account.id)
        after = [s.name.value for s in settings if s.active] + [step.sentence() for step in made]
        record_event(
            ctx, company_id, "passes set", "bank_account", account_id, before={"on": before}, after={"on": after}
        )
