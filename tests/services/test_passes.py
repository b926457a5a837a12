"""The passes of an account: set once, they act at once on what is open and leave what is decided."""

from __future__ import annotations

from dataclasses import replace

import pytest

from netnaught.core.alignment import RowKind
from netnaught.core.matching import PassName
from netnaught.services import deciding, passes
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, Forbidden
from tests.world import World


def write(world: World, *changes: tuple[PassName, bool, int]) -> None:
    settings = {s.name: s for s in passes.usual_settings()}
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
    usual = passes.usual_settings()
    with pytest.raises(BadInput, match="exactly once"):
        passes.write_settings(world.ctx, world.company.id, world.account.id, usual[1:])
    with pytest.raises(BadInput, match="no number of days"):
        write(world, (PassName.GROUPS, True, 9999))
    with pytest.raises(Forbidden):
        passes.write_settings(world.as_user("tam", Role.PREPARER), world.company.id, world.account.id, usual)
    assert passes.settings_of(world.ctx, world.company.id, world.account.id) == usual
