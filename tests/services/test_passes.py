"""The passes of an account: set once, they act at once on what is open and leave what is decided."""

from __future__ import annotations

from dataclasses import replace

import pytest

from netnaught.core.alignment import RowKind
from netnaught.core.matching import PassName
from netnaught.services import deciding, passes, sealing
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, Forbidden
from netnaught.store.passes import PassSetting
from netnaught.store.taught import StoredComposed
from tests.world import World


def usual(world: World) -> list[PassSetting]:
    passes.write_settings(world.ctx, world.company.id, world.account.id, [])
    return passes.settings_of(world.ctx, world.company.id, world.account.id).fixed


def write(world: World, *changes: tuple[PassName, bool, int]) -> None:
    settings = {s.name: s for s in usual(world)}
    for name, active, before in changes:
        settings[name] = replace(settings[name], active=active, before=before)
    passes.write_settings(world.ctx, world.company.id, world.account.id, list(settings.values()))


def test_a_narrower_window_leaves_open_what_lies_outside(world: World) -> None:
    world.entry(-700, "2026-10-01", "17")
    at = world.read(world.line(-700, "2026-10-09", "17"))
    assert [row.kind for row in world.view(at).rows] == [RowKind.PROPOSAL]
    write(
        world,
        (PassName.REFERENCE_AND_AMOUNT, True, 3),
        (PassName.AMOUNT_AND_DATE, False, 3),
        (PassName.AMOUNT_AND_TEXT, False, 3),
    )
    assert deciding.apply_passes(world.ctx, world.company.id, at, frozenset()) == 0
    write(world, (PassName.REFERENCE_AND_AMOUNT, True, 30))
    assert deciding.apply_passes(world.ctx, world.company.id, at, frozenset()) == 1
    write(world, (PassName.REFERENCE_AND_AMOUNT, False, 30))
    assert [row.kind for row in world.view(at).rows] == [RowKind.MATCHED]


def test_settings_name_every_pass_once_and_are_the_owner_s(world: World) -> None:
    settings = usual(world)
    with pytest.raises(BadInput, match="exactly once"):
        passes.write_settings(world.ctx, world.company.id, world.account.id, settings[1:])
    with pytest.raises(BadInput, match="no number of days"):
        write(world, (PassName.GROUPS, True, 9999))
    with pytest.raises(Forbidden):
        passes.write_settings(world.as_user("tam", Role.PREPARER), world.company.id, world.account.id, settings)
    assert passes.settings_of(world.ctx, world.company.id, world.account.id).fixed == settings


def test_a_composed_pass_runs_after_the_fixed_ones_and_asks_for_more_than_an_amount(world: World) -> None:
    world.entry(500, "2026-10-05", "8801234")
    at = world.read(world.line(500, "2026-10-25", "1234"))
    args = (world.ctx, world.company.id, world.account.id)
    with pytest.raises(BadInput, match="amount alone only proposes"):
        passes.write_settings(*args, [], [StoredComposed(True, {"title": "Amount"})])
    ending = {"title": "Slip ends in ours", "reference": "one ends in the other", "sign": "in", "before": 30}
    with pytest.raises(BadInput, match="Two composed passes have one title"):
        passes.write_settings(*args, [], [StoredComposed(True, ending)] * 2)
    passes.write_settings(*args, [], [StoredComposed(False, ending)])
    assert not deciding.dry_run(world.ctx, world.company.id, at).outcome.matches
    passes.write_settings(*args, [], [StoredComposed(True, ending)])
    (made,) = deciding.dry_run(world.ctx, world.company.id, at).outcome.matches
    assert made.by is PassName.COMPOSED
    assert "“Slip ends in ours”" in made.why
    assert deciding.apply_passes(world.ctx, world.company.id, at, frozenset()) == 1


def test_windows_follow_from_the_lags_of_sealed_periods_unless_a_person_set_them(world: World) -> None:
    """Thirty payments that took one day: what is dated ten days apart is asked about from then on."""
    lines = []
    for n in range(30):
        day = 1 + n % 27
        world.entry(-100 - n, f"2026-10-{day:02d}", f"W{n}")
        lines.append(world.line(-100 - n, f"2026-10-{day + 1:02d}", f"W{n}"))
    at = world.read(*lines)
    assert passes.settings_of(world.ctx, world.company.id, world.account.id).lags == 0
    deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
    sealing.seal(world.ctx, world.company.id, at)
    found = passes.settings_of(world.ctx, world.company.id, world.account.id)
    assert (found.usual, found.lags) == (True, 30)
    assert {s.name: (s.before, s.after) for s in found.fixed}[PassName.AMOUNT_AND_DATE] == (4, 3)
    world.entry(-9900, "2026-11-01")
    november = world.read(
        world.line(-9900, "2026-11-10"), opening=100_000 + sum(x.amount for x in lines), first="2026-11-01"
    )
    assert not deciding.dry_run(world.ctx, world.company.id, november).outcome.matches
    write(world, (PassName.AMOUNT_AND_DATE, True, 10))
    assert deciding.dry_run(world.ctx, world.company.id, november).outcome.matches
