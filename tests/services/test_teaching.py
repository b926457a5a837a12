"""Teaching an account: a reader acts at once on what is open, names follow from people's own matches."""

from __future__ import annotations

import pytest

from netnaught.core.alignment import RowKind
from netnaught.core.matching import Example, Reader, Side, TextOf
from netnaught.services import deciding, teaching
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, Conflict, Forbidden, NotFound
from tests.world import World


def test_a_reader_acts_at_once_and_is_taken_away_again(world: World) -> None:
    for n in range(6):
        world.entry(-5000, f"2026-10-{20 - n:02d}", str(4100 + n))
    at = world.read(*[world.line(-5000, f"2026-10-{21 + n}", "", f"PAPER ITEM 7{4100 + n}55") for n in range(6)])
    args = (world.ctx, world.company.id, world.account.id)
    assert not deciding.dry_run(world.ctx, world.company.id, at).outcome.matches
    found = teaching.lessons(*args)
    (offered,) = found.suggestions
    assert offered.yields.gain == 6
    assert found.bank_texts[0][1].startswith("PAPER ITEM")
    text = "PAPER ITEM 7410055"
    rule, yields = teaching.try_out(*args, [Example(text, 12, 16)], Side.BANK, TextOf.TEXT, None)
    assert (yields.reads, yields.agree, yields.samples[0]) == (6, 6, (text, "4100"))
    kept = teaching.keep_reader(*args, rule)
    with pytest.raises(Conflict, match="has this reader already"):
        teaching.keep_reader(*args, rule)
    assert len(deciding.dry_run(world.ctx, world.company.id, at).outcome.matches) == 6
    assert deciding.apply_passes(world.ctx, world.company.id, at, frozenset()) == 6
    teaching.forget_reader(*args, kept)
    assert [row.kind for row in world.view(at).rows] == [RowKind.MATCHED] * 6  # what is decided stays
    with pytest.raises(NotFound):
        teaching.forget_reader(*args, kept)
    with pytest.raises(BadInput, match="Mark the reference"):
        teaching.try_out(*args, [Example(text, 0, 0)], Side.BANK, TextOf.TEXT, None)
    viewer = world.as_user("vera", Role.VIEWER)
    with pytest.raises(Forbidden):
        teaching.keep_reader(viewer, *args[1:], Reader(Side.BANK, TextOf.TEXT))


def test_a_name_is_learned_from_a_person_s_match_and_forgotten_with_it(world: World) -> None:
    args = (world.ctx, world.company.id, world.account.id)
    mine = world.entry(-300, payee="Skerry Fuel Dock")
    world.entry(-900, "2026-10-01", payee="Skerry Fuel Dock")
    world.entry(-900, "2026-10-02", payee="Another Yard")
    at = world.read(
        world.line(-300, text="ACH QX HOLDINGS 11"), world.line(-900, "2026-10-28", text="ACH QX HOLDINGS 12")
    )
    line = world.line_ids(at)["F1"]
    assert not any(m.lines == (world.line_ids(at)["F2"],) for m in deciding.dry_run(*args[:2], at).outcome.matches)
    decided = deciding.match(*args[:2], at, [line], [mine])
    (name,) = teaching.lessons(*args).names
    assert (name.payee, name.sample, name.times) == ("Skerry Fuel Dock", "ACH QX HOLDINGS 11", 1)
    (made,) = deciding.dry_run(*args[:2], at).outcome.matches
    assert "this text has been Skerry Fuel Dock before" in made.why
    deciding.withdraw(*args[:2], at, [decided])
    assert teaching.lessons(*args).names == []
    deciding.match(*args[:2], at, [line], [mine])
    teaching.forget_name(*args, name.key)
    assert teaching.lessons(*args).names == []
    assert not deciding.dry_run(*args[:2], at).outcome.matches
    with pytest.raises(NotFound):
        teaching.forget_name(*args, name.key)


def test_an_account_s_own_words_of_reversal_make_a_wash(world: World) -> None:
    args = (world.ctx, world.company.id, world.account.id)
    at = world.read(
        world.line(-4400, "2026-10-06", text="ITEM 55 HARBOR"),
        world.line(4400, "2026-10-27", text="RTN ITEM 55 HARBOR"),
    )
    assert not deciding.dry_run(*args[:2], at).outcome.washes
    with pytest.raises(BadInput, match="two to forty letters"):
        teaching.write_reversals(*args, [(Side.BANK, " r ")])
    teaching.write_reversals(*args, [(Side.BOOKS, "rtn")])
    assert not deciding.dry_run(*args[:2], at).outcome.washes
    teaching.write_reversals(*args, [(Side.BANK, "rtn"), (Side.BOOKS, "mistake")])
    assert len(deciding.dry_run(*args[:2], at).outcome.washes) == 1
    assert teaching.lessons(*args).reversals == [("bank", "rtn"), ("books", "mistake")]
